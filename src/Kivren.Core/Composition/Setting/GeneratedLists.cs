using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Lists;
using Kivren.Core.Looks;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Sets what is generated, never typed: contents lists and the index (composition.md 7, 8).</summary>
internal static class GeneratedLists
{
    // ---- contents lists ----

    /// <param name="known">lines set before, by what they say: most entries stay as they were</param>
    public static SetBlock Contents(
        ContentsList block,
        ContentsDefinition? definition,
        IReadOnlyList<ContentsEntry> entries,
        Look look,
        int width,
        Func<string, Func<List<TextLine>>, List<TextLine>> known
    )
    {
        var stack = new PieceStack(block.Id);
        stack.Mark(block.Id);
        for (var e = 0; definition is not null && e < entries.Count; e++)
        {
            var line = definition.Lines[entries[e].Line];
            if (e > 0)
                stack.Space(line.Dress.Before.Millipoints);
            if (line.RunIn)
            {
                var last = e;
                while (last + 1 < entries.Count && entries[last + 1].Line == entries[e].Line)
                    last++;
                RunIn(stack, Part(block.Id, e), line, entries.Skip(e).Take(last - e + 1), width);
                e = last;
            }
            else
                Entry(
                    stack,
                    Part(block.Id, e),
                    definition,
                    line,
                    entries[e],
                    width,
                    $"\u001d{definition.Name}\u001f{entries[e].Line}\u001f{width}\u001f{entries[e].Target.Value}\u001f",
                    known
                );
            // A part keeps with its first chapter, a chapter with its first head.
            if (line.LeadsOn)
                stack.KeepNext(line.Leader ? Keep.Orphan : Keep.Head);
        }
        return Finish(
            stack,
            "the contents list",
            string.Join('\n', entries.Select(e => $"{e.Number}\t{e.Title}\t{e.Folio}")) + look.Name + definition?.Key,
            look.Body.Leading.Millipoints
        );
    }

    /// <summary>Each entry of a list is told apart by the number after the list's id.</summary>
    private static Id Part(Id list, int entry) =>
        new(list.Value + "⟨" + entry.ToString(System.Globalization.CultureInfo.InvariantCulture) + "⟩");

    /// <param name="where">what its lines depend on beside their words</param>
    private static void Entry(
        PieceStack stack,
        Id block,
        ContentsDefinition definition,
        ContentsLine line,
        ContentsEntry entry,
        int width,
        string where,
        Func<string, Func<List<TextLine>>, List<TextLine>> known
    )
    {
        var dress = line.Dress;
        var baseline = dress.Baseline.Millipoints;
        var name =
            !line.Numbered ? ""
            : line.Named && entry.Name.Length > 0 ? LanguageWords.Numbered(entry.Name, entry.Number)
            : entry.Number;
        var left = line.Indent.Millipoints;
        var (title, target) = (entry.Title, entry.Target);
        TextLine Said(string text) => known(where + text, () => [Label(text, dress.Plain, target)])[0];
        var folio = Said(entry.Folio);
        var before = line.Folio == FolioPlace.Before ? definition.FolioColumn.Millipoints : 0;
        if (line.NameAbove && name.Length > 0)
        {
            stack.Add(dress.Leading.Millipoints, [new DrawnLine(Said(name), left + before, baseline, block)]);
            stack.KeepNext(Keep.Whole);
            name = "";
        }
        // A number wider than its column pushes its title on: it never stands over it.
        var hang =
            name.Length > 0 && line.NumberColumn.Millipoints > 0
                ? Math.Max(line.NumberColumn.Millipoints, Said(name).Width + dress.Size.Millipoints / 6)
                : 0;
        // With a separator the folio runs on behind the title.
        var runsOn = line is { Folio: FolioPlace.After, Leader: false, Separator.Length: > 0 };
        var after = line.Folio == FolioPlace.After && !runsOn ? definition.FolioColumn.Millipoints : 0;
        var behind = runsOn ? line.Separator + entry.Folio : "";
        var lead = name.Length > 0 && hang == 0 ? name.Replace(' ', '\u00A0') + "\u2002" : "";
        var lines = known($"{where}{hang}\u001f{lead}\u001f{title}\u001f{behind}", () =>
        {
            var styled = new StyledText();
            if (lead.Length > 0)
                styled.Add(lead, dress.Plain, false, target);
            styled.Add(title, dress.Plain, false, target);
            styled.Add(behind, dress.Plain, false, target);
            return LineSetter.OfThread.Set(
                styled,
                new Shape(new Length(Math.Max(20_000, width - left - before - hang - after)), default, Alignment.Ragged),
                null
            );
        });
        for (var i = 0; i < lines.Count; i++)
        {
            var drawn = new List<Drawn>();
            if (i == 0 && before > 0)
                drawn.Add(new DrawnLine(folio, left, baseline, block));
            if (i == 0 && hang > 0)
                drawn.Add(new DrawnLine(Said(name), left + before, baseline, block));
            drawn.Add(new DrawnLine(lines[i], left + before + hang, baseline, block));
            if (i == lines.Count - 1 && after > 0)
            {
                if (line.Leader)
                    drawn.Add(new DrawnLeader(left + hang + lines[i].Width + 4_000, width - folio.Width - 4_000, baseline, dress.Plain));
                drawn.Add(new DrawnLine(folio, width - folio.Width, baseline, block));
            }
            if (i > 0)
                stack.KeepNext(Keep.Whole);
            stack.Add(dress.Leading.Millipoints, drawn);
        }
    }

    /// <summary>Entries of one level in one paragraph, parted by dashes.</summary>
    private static void RunIn(PieceStack stack, Id block, ContentsLine line, IEnumerable<ContentsEntry> entries, int width)
    {
        var styled = new StyledText();
        foreach (var entry in entries)
        {
            if (styled.Length > 0)
                styled.Add(" – ", line.Dress.Plain, false);
            if (line.Numbered && entry.Number.Length > 0)
                styled.Add(entry.Number + "\u00A0", line.Dress.Plain, false, entry.Target);
            styled.Add(entry.Title, line.Dress.Plain, false, entry.Target);
            if (entry.Folio.Length > 0)
                styled.Add((line.Separator.Length > 0 ? line.Separator : "\u00A0") + entry.Folio, line.Dress.Plain, false, entry.Target);
        }
        var lines = LineSetter.OfThread.Set(
            styled,
            new Shape(new Length(width - line.Indent.Millipoints), default, Alignment.Ragged),
            null
        );
        for (var i = 0; i < lines.Count; i++)
        {
            if (i == 1)
                stack.KeepNext(Keep.Orphan);
            if (i > 0 && i == lines.Count - 1)
                stack.KeepNext(Keep.Widow);
            stack.Add(
                line.Dress.Leading.Millipoints,
                [new DrawnLine(lines[i], line.Indent.Millipoints, line.Dress.Baseline.Millipoints, block)]
            );
        }
    }

    private static TextLine Label(string text, TextStyle style, Id target)
    {
        var styled = new StyledText();
        styled.Add(text.Replace(' ', '\u00A0'), style, false, target);
        return LineSetter.OfThread.Set(styled, Shape.OneLine, null)[0];
    }

    // ---- the index ----

    /// <param name="known">lines set before, by what they say: most of an index stays as it was</param>
    public static SetBlock Index(
        Id block,
        IReadOnlyList<IndexLine> lines,
        Look look,
        int width,
        Func<string, Func<List<TextLine>>, List<TextLine>> known
    )
    {
        var stack = new PieceStack(block);
        stack.Mark(block);
        var definition = look.Index;
        var dress = definition.Text;
        var indent = definition.Indent.Millipoints;
        int heading = 0,
            headerIndex = -1;
        for (var n = 0; n < lines.Count; n++)
        {
            var line = lines[n];
            var own = Part(block, n);
            if (line.Depth < 0)
            {
                if (!definition.GroupHeads)
                    continue;
                stack.Space(definition.Group.Before.Millipoints);
                stack.Add(
                    definition.Group.Leading.Millipoints,
                    [new DrawnLine(Label(line.Text, definition.Group.Plain, Id.None), 0, definition.Group.Baseline.Millipoints, own)]
                );
                stack.KeepNext(Keep.Head);
                continue;
            }
            var from = n;
            // Subheadings that run on belong to their heading's paragraph.
            if (definition.RunIn && line.Depth == 0)
                while (n + 1 < lines.Count && lines[n + 1].Depth > 0)
                    n++;
            var left = line.Depth * indent;
            var (first, last) = (from, n);
            var set = known(string.Join('\u001d', lines.Skip(first).Take(last - first + 1).Select(l => l.Key)), () =>
            {
                var styled = new StyledText { HoldsNames = true };
                for (var k = first; k <= last; k++)
                {
                    if (k > first)
                        styled.Add(k == first + 1 ? ": " : "; ", dress.Plain, false);
                    Words(styled, lines[k], definition);
                }
                return LineSetter.OfThread.Set(
                    styled,
                    new Shape(new Length(width - left - indent * 2), new Length(-indent * 2), Alignment.Ragged),
                    Hyphenator.For(look.Language)
                );
            });
            // Where its subheadings cross to a new page, the heading is said again.
            if (line.Depth == 0)
                (heading, headerIndex) = (n, -1);
            else if (headerIndex < 0)
            {
                headerIndex = stack.Headers.Count;
                stack.Headers.Add(Continued(lines[heading].Text, definition, width, known));
            }
            for (var i = 0; i < set.Count; i++)
            {
                if (i > 0)
                    stack.KeepNext(Keep.Together);
                // The first line hangs out: turnovers stand two steps in, deeper than any subheading.
                var shifted = i == 0 ? Shifted(set[0], indent * 2) : set[i];
                stack.Add(
                    dress.Leading.Millipoints,
                    [new DrawnLine(shifted, left + (i == 0 ? 0 : indent * 2), dress.Baseline.Millipoints, own)],
                    header: line.Depth > 0 ? headerIndex : -1
                );
            }
            // A heading is not left alone above its subheadings.
            if (n + 1 < lines.Count && lines[n + 1].Depth > line.Depth)
                stack.KeepNext(Keep.Orphan);
        }
        var content = string.Join('\n', lines.Select(l => l.Key));
        return Finish(stack, "the index", content + look.Name + definition.Key);
    }

    private static void Words(StyledText styled, IndexLine line, IndexDefinition definition)
    {
        var dress = definition.Text;
        var emphasis = dress.Style(SpanRoles.Emphasis);
        var strong = dress.Style(SpanRoles.Strong);
        styled.Add(line.Text, dress.Plain, true);
        foreach (var locator in line.Locators)
        {
            styled.Add(", ", dress.Plain, false);
            styled.Add(
                locator.Text,
                locator.Principal && definition.PrincipalBold ? strong
                    : locator.Illustration ? emphasis
                    : dress.Plain,
                false,
                locator.Target
            );
        }
        // Behind a bare heading it goes on after a comma; behind anything else it is a sentence of its own.
        void Sends(string how, string where, bool bare)
        {
            styled.Add(bare ? ", " : ". ", dress.Plain, false);
            styled.Add((bare ? how : HeadingWords.Capital(how)) + " ", emphasis, false);
            styled.Add(where, dress.Plain, true);
        }
        if (line.See is { } see)
            Sends(definition.Words["see"], see, line.Locators.Count == 0);
        if (line.SeeAlso is { } also)
            Sends(definition.Words["seeAlso"], also, line.Locators.Count == 0 && line.See is null);
    }

    private static HeaderRows Continued(
        string heading,
        IndexDefinition definition,
        int width,
        Func<string, Func<List<TextLine>>, List<TextLine>> known
    )
    {
        var indent = definition.Indent.Millipoints * 2;
        var set = known("\u001e" + heading, () =>
        {
            var styled = new StyledText { HoldsNames = true };
            styled.Add(heading + " ", definition.Text.Plain, false);
            styled.Add($"({definition.Continued})", definition.Text.Style(SpanRoles.Emphasis), false);
            return LineSetter.OfThread.Set(styled, new Shape(new Length(width - indent), new Length(-indent), Alignment.Ragged), null);
        });
        var leading = definition.Text.Leading.Millipoints;
        return new HeaderRows(
            leading * set.Count,
            [
                .. set.Select(
                    (line, i) =>
                        new DrawnLine(
                            i == 0 ? Shifted(line, indent) : line,
                            i == 0 ? 0 : indent,
                            definition.Text.Baseline.Millipoints + i * leading,
                            Id.None
                        )
                ),
            ]
        );
    }

    /// <summary>A line whose first-line box was negative starts left of its measure: brought back to its own left.</summary>
    private static TextLine Shifted(TextLine line, int by)
    {
        var words = new LineWord[line.Words.Length];
        // Read from the right, it starts right of it.
        if (words.Length > 0 && line.Words[0].Style.Writing.RightToLeft)
            by = -by;
        for (var i = 0; i < words.Length; i++)
            words[i] = line.Words[i] with { X = line.Words[i].X + by };
        return line with { Words = words };
    }

    private static SetBlock Finish(PieceStack stack, string called, string content, int after = 0) =>
        new()
        {
            Pieces = stack.ToArray(),
            Marks = [.. stack.Marks],
            Headers = [.. stack.Headers],
            LooseEnds = [],
            Before = 0,
            After = after,
            Called = called,
            ContentHash = System.IO.Hashing.XxHash64.HashToUInt64(System.Runtime.InteropServices.MemoryMarshal.AsBytes(content.AsSpan())),
        };
}
