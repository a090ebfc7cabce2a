using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.LooseEnds;
using Kivren.Server.Manuals;

namespace Kivren.Server.Pointing;

/// <summary>A heading of the index as its list shows it; what it stands under comes before it.</summary>
/// <param name="Line">which line of the printed index it is; −1 for none</param>
/// <param name="Locators">as printed</param>
/// <param name="Count">entries of its own that have a place</param>
/// <param name="Files">what it is sorted by, where that is not its own words</param>
[GenerateSerializer, Immutable]
public sealed record IndexRow(
    int Depth,
    string Text,
    string Group,
    int Line,
    string Locators,
    int Count,
    string? Files,
    string? See,
    string? SeeAlso,
    IndexLoose[] Loose
);

[GenerateSerializer, Immutable]
public sealed record IndexLoose(string Kind, string Message, string Block, string Words, string Subject);

/// <summary>A page of the printed index, with the first and the last of its lines.</summary>
[GenerateSerializer, Immutable]
public sealed record IndexPage(int Sheet, int First, int Last);

/// <summary>The index of one composition.</summary>
/// <param name="Block">the block that prints it; empty where the manual prints none</param>
[GenerateSerializer, Immutable]
public sealed record IndexView(int Composition, string Block, int Entries, IndexRow[] Rows, IndexPage[] Pages)
{
    public static IndexView Of(NumberedComposition settled)
    {
        var composed = settled.Composed;
        var loose = composed
            .LooseEnds.Where(l => l.Kind.Sort().Group == LooseEndGroup.Index)
            .ToLookup(
                l => l.Words,
                l => new IndexLoose(l.Kind.ToString(), l.Message, l.Block.Value, l.Words, Places.Kept(l.Subject).Value ?? ""),
                StringComparer.Ordinal
            );
        var rows = new List<IndexRow>();
        var lines = composed.IndexLines;
        var line = 0;
        void Add(IndexHeading heading, IReadOnlyList<string> above)
        {
            while (line < lines.Count && lines[line].Depth < 0)
                line++;
            string[] path = [.. above, heading.Text];
            rows.Add(
                new IndexRow(
                    above.Count,
                    heading.Text,
                    heading.Group,
                    line,
                    string.Join(", ", lines[line].Locators.Select(l => l.Text)),
                    heading.Places.Count,
                    heading.Files == heading.Text ? null : heading.Files,
                    lines[line].See,
                    lines[line].SeeAlso,
                    [.. loose[HeadingWords.Typed(path)]]
                )
            );
            line++;
            foreach (var under in heading.Under)
                Add(under, path);
        }
        foreach (var heading in composed.Index.Headings)
            Add(heading, []);
        var block = composed.Text.Divisions.SelectMany(d => d.Blocks).FirstOrDefault(b => b is IndexList);
        return new IndexView(
            settled.Number,
            block?.Id.Value ?? "",
            composed.Index.Entries.Count,
            [.. rows],
            block is null ? [] : [.. PagesOf(composed, block.Id)]
        );
    }

    private static IEnumerable<IndexPage> PagesOf(Core.Composition.ComposedManual composed, Id block)
    {
        foreach (var pages in composed.Divisions.Where(d => d.Numbers.Division.Blocks.Any(b => b.Id == block)))
            for (var p = pages.First; p < pages.End; p++)
            {
                var lines = pages
                    .Cut.Pages[p]
                    .Pieces.SelectMany(x => pages.Cut.Galley.Pieces[x.Piece].Drawn ?? [])
                    .OfType<Core.Type.DrawnLine>()
                    .Select(l => LineOf(l.Block, block))
                    .Where(l => l >= 0)
                    .ToList();
                if (lines.Count > 0)
                    yield return new IndexPage(pages.StretchSheet + p, lines.Min(), lines.Max());
            }
    }

    /// <summary>Which line of the index a drawn line is of; −1 for none.</summary>
    private static int LineOf(Id drawn, Id block) =>
        drawn.Value is { } value
        && value.Length > block.Value.Length + 2
        && value.StartsWith(block.Value, StringComparison.Ordinal)
        && value[block.Value.Length] == '⟨'
        && int.TryParse(value.AsSpan()[(block.Value.Length + 1)..^1], out var line)
            ? line
            : -1;
}

/// <summary>A locator with the words that carry it: why the index names that page.</summary>
/// <param name="Heading">of its own heading, beneath the one asked for</param>
/// <param name="To">the folio where a range ends; the same for a point</param>
/// <param name="In">text, head, illustration, listing</param>
[GenerateSerializer, Immutable]
public sealed record LocatorWhy(
    string Entry,
    string[] Heading,
    string Division,
    string Block,
    int Sheet,
    string Folio,
    string To,
    string Kind,
    bool Principal,
    string In,
    string Before,
    string Match,
    string After,
    string? See,
    string? SeeAlso
)
{
    /// <summary>More than anybody looks through at once.</summary>
    public const int Most = 1_000;

    /// <summary>All entries of a heading and of what stands beneath it, in the order of the index.</summary>
    public static LocatorWhy[] Of(NumberedComposition settled, string[] heading)
    {
        var composed = settled.Composed;
        var places = new Places(composed);
        var ends = composed
            .Index.Entries.Where(e => e.Entry.Kind == EntryKind.RangeEnd)
            .GroupBy(e => e.Entry.Id)
            .ToDictionary(g => g.Key, g => g.First());
        return
        [
            .. composed
                .Index.Entries.Where(e =>
                    e.Entry.Kind != EntryKind.RangeEnd
                    && e.Entry.Headings.Count >= heading.Length
                    && e.Entry.Headings.Take(heading.Length).SequenceEqual(heading, StringComparer.Ordinal)
                )
                .Select((e, i) => (e, i))
                .OrderBy(x => x.e.Entry.Headings.Count)
                .ThenBy(x => HeadingWords.Typed(x.e.Entry.Headings), StringComparer.OrdinalIgnoreCase)
                .ThenBy(x => x.i)
                .Select(x => x.e)
                .Take(Most)
                .Select(e =>
                {
                    var sheet = places.SheetIn(e.Division, e.Entry.Id);
                    var to =
                        e.Entry.Kind == EntryKind.RangeStart && ends.TryGetValue(e.Entry.Id, out var end)
                            ? places.SheetIn(end.Division, IndexTree.EndOf(e.Entry.Id))
                            : sheet;
                    var words = EntryWords.Of(composed, e);
                    return new LocatorWhy(
                        Places.Kept(e.Entry.Id).Value,
                        [.. e.Entry.Headings],
                        e.Division.Value,
                        Places.Kept(e.Block).Value,
                        sheet,
                        places.Folio(sheet),
                        places.Folio(to),
                        e.Entry.Kind.ToString(),
                        e.Entry.Principal,
                        e.In.ToString(),
                        words.Before,
                        words.Match,
                        words.After,
                        e.Entry.See,
                        e.Entry.SeeAlso
                    );
                }),
        ];
    }
}

/// <summary>A proposal for the index, with its reason.</summary>
[GenerateSerializer, Immutable]
public sealed record ProposedForIndex(
    string Kind,
    string[] Heading,
    string[] Other,
    string Why,
    string Division,
    string Block,
    string Folio
)
{
    private const int Most = 500;

    public static ProposedForIndex[] Of(NumberedComposition settled)
    {
        var places = new Places(settled.Composed);
        return
        [
            .. IndexProposals
                .Of(settled.Composed)
                .Take(Most)
                .Select(p => new ProposedForIndex(
                    p.Kind.ToString(),
                    [.. p.Heading],
                    [.. p.Other],
                    p.Why,
                    p.Division.Value ?? "",
                    Places.Kept(p.Block).Value ?? "",
                    p.Block.IsNone ? "" : places.Folio(places.SheetOf(p.Block))
                )),
        ];
    }
}

/// <summary>What an act on the index would come to: its lines that go and that come, and the pages.</summary>
/// <param name="IndexPages">pages that the index fills then</param>
[GenerateSerializer, Immutable]
public sealed record IndexForeseen(
    string Words,
    string? Refused,
    string[] Gone,
    string[] New,
    int Pages,
    int PagesNow,
    int IndexPages,
    int IndexPagesNow
)
{
    private const int MostLines = 60;

    public static IndexForeseen No(string why) => new("", why, [], [], 0, 0, 0, 0);

    public static IndexForeseen Of(string words, Core.Composition.ComposedManual now, Core.Composition.ComposedManual then)
    {
        var (was, becomes) = (Lines(now), Lines(then));
        return new IndexForeseen(
            words,
            null,
            [.. Without(was, becomes).Take(MostLines)],
            [.. Without(becomes, was).Take(MostLines)],
            then.Pages.Count,
            now.Pages.Count,
            PagesOf(then),
            PagesOf(now)
        );
    }

    private static List<string> Without(List<string> lines, List<string> others)
    {
        var left = others.GroupBy(l => l, StringComparer.Ordinal).ToDictionary(g => g.Key, g => g.Count(), StringComparer.Ordinal);
        var rest = new List<string>();
        foreach (var line in lines)
            if (left.TryGetValue(line, out var count) && count > 0)
                left[line] = count - 1;
            else
                rest.Add(line);
        return rest;
    }

    /// <summary>As they are read: subheadings with the heading they stand under.</summary>
    private static List<string> Lines(Core.Composition.ComposedManual composed)
    {
        var said = new List<string>();
        var path = new List<string>();
        foreach (var line in composed.IndexLines.Where(l => l.Depth >= 0))
        {
            path.RemoveRange(line.Depth, path.Count - line.Depth);
            path.Add(line.Text);
            var text = string.Join(" › ", path);
            if (line.Locators.Count > 0)
                text += ", " + string.Join(", ", line.Locators.Select(l => l.Text));
            if (line.See is { } see)
                text += $" see {see}";
            if (line.SeeAlso is { } also)
                text += $" see also {also}";
            said.Add(text);
        }
        return said;
    }

    private static int PagesOf(Core.Composition.ComposedManual composed) =>
        composed.Divisions.Where(d => d.Numbers.Division.Blocks.Any(b => b is IndexList)).Sum(d => d.End - d.First);
}
