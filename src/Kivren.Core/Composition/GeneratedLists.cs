using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Lists;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>A line of the index before it is set: heading or subheading with its locators.</summary>
/// <param name="Depth">0 heading, 1 and 2 subheadings, -1 a group head</param>
public sealed record IndexLine(int Depth, string Text, IReadOnlyList<(string Text, Id Target, bool Principal)> Locators, string? See, string? SeeAlso)
{
    public bool Same(IndexLine other) => Depth == other.Depth && Text == other.Text && See == other.See && SeeAlso == other.SeeAlso && Locators.SequenceEqual(other.Locators);
}

/// <summary>Sets what is generated, never typed: contents lists and the index.</summary>
internal static class GeneratedLists
{
    public static SetBlock Contents(Id block, IReadOnlyList<ContentsEntry> entries, Look look)
    {
        var stack = new PieceStack(block);
        stack.Mark(block);
        var measure = look.Master.Measure.Millipoints;
        const int folioColumn = 30_000;
        var first = true;
        foreach (var entry in entries)
        {
            var dress = entry.Level switch { ContentsLevel.Part => look.ContentsPart, ContentsLevel.Division => look.ContentsDivision, _ => look.ContentsHead };
            // Numbers hang: parts and divisions in one column, heads in their own.
            var indent = entry.Level == ContentsLevel.Head ? 18_000 : 0;
            var hang = entry.Level switch { ContentsLevel.Part => entry.Number.Length > 0 ? 24_000 : 0, ContentsLevel.Division => entry.Number.Length > 0 ? 18_000 : 0, _ => entry.Number.Length > 0 ? 24_000 : 0 };
            if (!first) stack.Space(dress.Before.Millipoints);
            first = false;
            var from = stack.Count;
            var styled = new StyledText();
            styled.Add(entry.Title, dress.Plain, false, entry.Target);
            var lines = LineSetter.OfThread.Set(styled, new Shape(new Length(measure - indent - hang - folioColumn), default, Alignment.Ragged), null);
            var number = Label(entry.Number, dress.Plain, entry.Target);
            var folio = Label(entry.Folio, entry.Level == ContentsLevel.Head ? look.ContentsHead.Plain : dress.Plain, entry.Target);
            for (var i = 0; i < lines.Count; i++)
            {
                var drawn = new List<Drawn>();
                if (i == 0 && entry.Number.Length > 0) drawn.Add(new DrawnLine(number, indent, dress.Baseline.Millipoints, block));
                drawn.Add(new DrawnLine(lines[i], indent + hang, dress.Baseline.Millipoints, block));
                if (i == lines.Count - 1)
                {
                    if (entry.Level != ContentsLevel.Part)
                        drawn.Add(new DrawnLeader(indent + hang + lines[i].Width + 4_000, measure - folio.Width - 4_000, dress.Baseline.Millipoints, look.ContentsHead.Plain));
                    drawn.Add(new DrawnLine(folio, measure - folio.Width, dress.Baseline.Millipoints, block));
                }
                if (i > 0) stack.KeepNext(Keep.Whole);
                stack.Add(dress.Leading.Millipoints, drawn);
            }
            // A part keeps with its first chapter; a chapter with its first head.
            if (entry.Level != ContentsLevel.Head) stack.KeepNext(entry.Level == ContentsLevel.Part ? Keep.Head : Keep.Orphan);
        }
        return Finish(stack, "the contents list", string.Join('\n', entries.Select(e => $"{e.Number}\t{e.Title}\t{e.Folio}")));
    }

    private static TextLine Label(string text, TextStyle style, Id target)
    {
        var styled = new StyledText();
        styled.Add(text, style, false, target);
        return LineSetter.OfThread.Set(styled, new Shape(Length.Points(2000), default, Alignment.Ragged), null)[0];
    }

    public static List<IndexLine> IndexLines(IndexTree tree, Func<Id, Id, LocatedPage> locate)
    {
        var lines = new List<IndexLine>();
        var group = "";
        foreach (var heading in tree.Headings)
        {
            var own = Collation.Group(heading.Files);
            if (own != group)
            {
                group = own;
                lines.Add(new IndexLine(-1, own, [], null, null));
            }
            Add(heading, 0, lines, locate);
        }
        return lines;
    }

    private static void Add(IndexHeading heading, int depth, List<IndexLine> lines, Func<Id, Id, LocatedPage> locate)
    {
        var found = new List<Locator>(heading.Places.Count);
        var atoms = new Dictionary<int, Id>();
        foreach (var place in heading.Places)
        {
            var from = locate(place.Division, place.Start);
            var to = place.IsRange ? locate(place.EndDivision, IndexTree.EndOf(place.Start)) : from;
            if (to.Sheet < from.Sheet) to = from;
            found.Add(new Locator(from, to, place.Principal));
            atoms.TryAdd(from.Sheet, place.Start);
        }
        var locators = Locator.Merge(found).Select(l => (l.Text, atoms[l.From.Sheet], l.Principal)).ToArray();
        lines.Add(new IndexLine(depth, heading.Text, locators, heading.See.Count > 0 ? string.Join("; ", heading.See) : null, heading.SeeAlso.Count > 0 ? string.Join("; ", heading.SeeAlso) : null));
        foreach (var under in heading.Under) Add(under, depth + 1, lines, locate);
    }

    public static SetBlock Index(Id block, IReadOnlyList<IndexLine> lines, Look look)
    {
        var stack = new PieceStack(block);
        stack.Mark(block);
        var width = (look.Master.Measure - look.IndexGutter).Millipoints / 2;
        var dress = look.IndexText;
        var emphasis = dress.Style(SpanRoles.Emphasis);
        var strong = dress.Style(SpanRoles.Strong);
        var indent = look.IndexIndent.Millipoints;
        for (var n = 0; n < lines.Count; n++)
        {
            var line = lines[n];
            if (line.Depth < 0)
            {
                stack.Space(look.IndexGroup.Before.Millipoints);
                stack.Add(look.IndexGroup.Leading.Millipoints, [new DrawnLine(Label(line.Text, look.IndexGroup.Plain, Id.None), 0, look.IndexGroup.Baseline.Millipoints, block)]);
                stack.KeepNext(Keep.Head);
                continue;
            }
            var styled = new StyledText();
            styled.Add(line.Text, dress.Plain, true);
            if (line.Locators.Count > 0)
            {
                for (var l = 0; l < line.Locators.Count; l++)
                {
                    styled.Add(", ", dress.Plain, false);
                    styled.Add(line.Locators[l].Text, line.Locators[l].Principal ? strong : dress.Plain, false, line.Locators[l].Target);
                }
            }
            if (line.See is not null)
            {
                styled.Add(line.Locators.Count > 0 ? ". " : ", ", dress.Plain, false);
                styled.Add("see ", emphasis, false);
                styled.Add(line.See, dress.Plain, true);
            }
            if (line.SeeAlso is not null)
            {
                styled.Add(line.Locators.Count > 0 || line.See is not null ? ". " : ", ", dress.Plain, false);
                styled.Add("see also ", emphasis, false);
                styled.Add(line.SeeAlso, dress.Plain, true);
            }
            var left = line.Depth * indent;
            var set = LineSetter.OfThread.Set(styled, new Shape(new Length(width - left - indent * 2), new Length(-indent * 2), Alignment.Ragged), Hyphenator.For("en-GB"));
            for (var i = 0; i < set.Count; i++)
            {
                if (i > 0) stack.KeepNext(Keep.Together);
                // The first line hangs out: turnovers stand two steps in, deeper than any subheading.
                var shifted = i == 0 ? Shifted(set[0], indent * 2) : set[i];
                stack.Add(dress.Leading.Millipoints, [new DrawnLine(shifted, left + (i == 0 ? 0 : indent * 2), dress.Baseline.Millipoints, block)]);
            }
            // A heading is not left alone above its subheadings.
            if (n + 1 < lines.Count && lines[n + 1].Depth > line.Depth) stack.KeepNext(Keep.Orphan);
        }
        return Finish(stack, "the index", string.Join('\n', lines.Select(l => l.Text + string.Join(',', l.Locators.Select(x => x.Text)))));
    }

    /// <summary>A line whose first-line box was negative starts left of its measure: brought back to its own left.</summary>
    private static TextLine Shifted(TextLine line, int by)
    {
        var words = new LineWord[line.Words.Length];
        for (var i = 0; i < words.Length; i++) words[i] = line.Words[i] with { X = line.Words[i].X + by };
        return line with { Words = words };
    }

    private static SetBlock Finish(PieceStack stack, string called, string content) => new()
    {
        Pieces = stack.ToArray(),
        Marks = [.. stack.Marks],
        Headers = [],
        LooseEnds = [],
        Before = 0,
        After = 0,
        Called = called,
        ContentHash = System.IO.Hashing.XxHash64.HashToUInt64(System.Runtime.InteropServices.MemoryMarshal.AsBytes(content.AsSpan())),
    };
}
