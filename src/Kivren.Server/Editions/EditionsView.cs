using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;
using Kivren.Core.Selection;
using Kivren.Formats.Docx.Writing;
using Kivren.Formats.Pdf;
using Kivren.Server.Manuals;
using Kivren.Server.Pointing;

namespace Kivren.Server.Editions;

/// <summary>A division, or a section of it, as an edition can take it.</summary>
/// <param name="Depth">0 for a division, else the level of its head</param>
/// <param name="Number">in the whole manual</param>
[GenerateSerializer, Immutable]
public sealed record OutlineRow(string Id, string Division, int Depth, string Kind, string Number, string Title);

[GenerateSerializer, Immutable]
public sealed record OfferedCondition(string Axis, string[] Values);

[GenerateSerializer, Immutable]
public sealed record OfferedVariable(string Name, string Text);

/// <summary>The editions of a manual, and all that one can be chosen from.</summary>
/// <param name="Proofed">the edition that pages are proofed in</param>
/// <param name="Templates">of word-processing files</param>
/// <param name="Profiles">of printers</param>
/// <param name="Lists">contents lists that stand in the text, and index</param>
[GenerateSerializer, Immutable]
public sealed record EditionsView(
    int Composition,
    string Proofed,
    SaidEdition[] Editions,
    OutlineRow[] Outline,
    OfferedCondition[] Conditions,
    OfferedVariable[] Variables,
    string Look,
    string Language,
    string[] Lists,
    string[] Templates,
    string[] Profiles
)
{
    /// <param name="manual">as it is stored; its pages may still be on their way</param>
    public static EditionsView Of(NumberedComposition settled, Manual manual)
    {
        var whole = Selector.Select(manual, Edition.Whole);
        var numbers = ManualNumbers.Of(whole, WornLook.Of(manual), cache: null);
        var blocks = manual.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()).ToList();
        return new EditionsView(
            settled.Number,
            settled.Composed.Text.Edition.Name,
            [.. manual.Editions.Select(SaidEdition.Of)],
            [.. whole.Divisions.SelectMany((d, i) => Rows(d, numbers.Divisions[i]))],
            [.. manual.Conditions.Select(c => new OfferedCondition(c.Axis, [.. c.Values]))],
            [.. manual.Variables.Select(v => new OfferedVariable(v.Name, v.Text))],
            manual.Look,
            manual.Language,
            [
                .. blocks.OfType<ContentsList>().Select(l => l.List).Distinct(StringComparer.Ordinal),
                .. blocks.Exists(b => b is IndexList) ? [Edition.Index] : Array.Empty<string>(),
            ],
            [.. manual.Assets.Where(a => a.MediaType == WordTemplate.MediaType).Select(a => a.Name)],
            [.. manual.Assets.Where(a => a.MediaType == ColourProfile.MediaType).Select(a => a.Name)]
        );
    }

    private static IEnumerable<OutlineRow> Rows(Division division, DivisionNumbers numbers) =>
        division
            .Blocks.OfType<Head>()
            .Select(h => new OutlineRow(
                Places.Kept(h.Id).Value,
                division.Id.Value,
                (int)h.Level,
                "",
                numbers.ById.GetValueOrDefault(h.Id)?.Number ?? "",
                h.Content.PlainText()
            ))
            .Prepend(
                new OutlineRow(division.Id.Value, division.Id.Value, 0, SaidOutput.Camel(division.Kind), numbers.Number, division.Title)
            );
}

/// <summary>Where a division or a section stands in an edition.</summary>
/// <param name="Number">in the edition</param>
/// <param name="Pages">in tenths, from where it begins to where the next of its level does</param>
[GenerateSerializer, Immutable]
public sealed record SeenRow(string Id, string Number, string Folio, int Pages);

/// <summary>What comes out of an edition.</summary>
/// <param name="Problem">why nothing does, or null</param>
[GenerateSerializer, Immutable]
public sealed record SeenEdition(string Name, int Pages, int Words, int LooseEnds, int Wrong, SeenRow[] Rows, string? Problem)
{
    public static SeenEdition Of(string name, ComposedManual composed)
    {
        var rows = new List<SeenRow>();
        foreach (var division in composed.Divisions)
        {
            var id = division.Numbers.Division.Id;
            rows.Add(
                new SeenRow(
                    id.Value,
                    division.Numbers.Number,
                    division.FirstSheet < composed.Pages.Count ? composed.Pages[division.FirstSheet].Folio : "",
                    Math.Max(1, division.EndSheet - division.FirstSheet) * 10
                )
            );
            var heads = division
                .Numbers.Division.Blocks.OfType<Head>()
                .Select(h => (Head: h, At: Tenths(composed, h.Id)))
                .Where(h => h.At is not null)
                .ToList();
            for (var h = 0; h < heads.Count; h++)
            {
                var end = heads.Skip(h + 1).FirstOrDefault(n => n.Head.Level <= heads[h].Head.Level).At ?? division.EndSheet * 10;
                rows.Add(
                    new SeenRow(
                        Places.Kept(heads[h].Head.Id).Value,
                        division.Numbers.ById.GetValueOrDefault(heads[h].Head.Id)?.Number ?? "",
                        composed.Pages[heads[h].At!.Value / 10].Folio,
                        Math.Max(1, end - heads[h].At!.Value)
                    )
                );
            }
        }
        return new SeenEdition(
            name,
            composed.Pages.Count,
            composed.Text.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()).Sum(WordCount),
            composed.LooseEnds.Count,
            composed.LooseEnds.Count(l => l.Kind.Sort().Gravity == Gravity.Wrong),
            [.. rows],
            composed.Pages.Count == 0 ? "It takes nothing of the manual." : null
        );
    }

    private static int? Tenths(ComposedManual composed, Id head) =>
        composed.Find(head) is not { } found || found.Sheet >= composed.Pages.Count
            ? null
            : found.Sheet * 10 + Math.Clamp(found.Y * 10 / Math.Max(1, composed.Pages[found.Sheet].Master.Depth.Millipoints), 0, 9);

    private static int WordCount(Block block) =>
        block.OwnSpans().Sum(s => s.PlainText().Split([' ', '\u00A0', '\n'], StringSplitOptions.RemoveEmptyEntries).Length);
}
