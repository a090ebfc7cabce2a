using Kivren.Core.Looks;
using Kivren.Core.Numbering;

namespace Kivren.Core.Composition;

/// <summary>What is printed as page number, division by division, as the look's sequences count (composition.md 5).</summary>
internal sealed class FolioScheme
{
    /// <summary>The folio of a division's sheet is the sheet less the offset, in its format after the prefix.</summary>
    public readonly record struct Numbering(FolioFormat Format, string Prefix, int Offset);

    public required Numbering[] Divisions { get; init; }

    public string Folio(int division, int sheet)
    {
        var (format, prefix, offset) = Divisions[division];
        var n = sheet - offset;
        return prefix
            + format switch
            {
                FolioFormat.Roman => NumberFormat.Roman(n),
                FolioFormat.Alpha => NumberFormat.Alpha(n).ToLowerInvariant(),
                _ => NumberFormat.Decimal(n),
            };
    }

    public bool Same(FolioScheme other) => Divisions.AsSpan().SequenceEqual(other.Divisions);

    public static FolioScheme Of(IReadOnlyList<DivisionPages> divisions, Look look)
    {
        var numbered = new Numbering[divisions.Count];
        var offsets = new Dictionary<string, (int Offset, int Last)>(StringComparer.Ordinal);
        var running = -1;
        var begun = "";
        // A blank page before the next division counts with the one that it follows.
        int Last(int d) =>
            (d + 1 < divisions.Count ? Math.Max(divisions[d].EndSheet, divisions[d + 1].FirstSheet) : divisions[d].EndSheet) - 1;
        for (var d = 0; d < divisions.Count; d++)
        {
            var sequence = look.SequenceOf(divisions[d].Numbers.Division.Kind);
            var first = divisions[d].FirstSheet;
            // A page has one folio: what runs on counts with what it runs on from.
            if (d > 0 && ReferenceEquals(divisions[d].Cut, divisions[d - 1].Cut))
            {
                numbered[d] = numbered[d - 1];
                // A sequence that runs on from another has not begun to count: its first page of its own does.
                if (sequence.Name == begun || offsets.ContainsKey(sequence.Name))
                    offsets[sequence.Name] = (running, Last(d));
                continue;
            }
            var known = offsets.TryGetValue(sequence.Name, out var of);
            var offset = sequence.Count switch
            {
                FolioCount.Continues => running,
                FolioCount.EachDivision => first - 1,
                FolioCount.Through => known ? of.Offset : first - 1,
                // Resumed after another sequence it goes on from its own last number.
                _ => !known ? first - 1
                : of.Last + 1 == first || d == 0 || look.SequenceOf(divisions[d - 1].Numbers.Division.Kind).Name == sequence.Name
                    ? of.Offset
                : first - (of.Last - of.Offset) - 1,
            };
            running = offset;
            begun = sequence.Name;
            offsets[sequence.Name] = (offset, Last(d));
            numbered[d] = new Numbering(
                sequence.Format,
                sequence.Format == FolioFormat.ByDivision && divisions[d].Numbers.Number is { Length: > 0 } number ? number + "-" : "",
                offset
            );
        }
        return new FolioScheme { Divisions = numbered };
    }
}
