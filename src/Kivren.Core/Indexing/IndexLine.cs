using Kivren.Core.Content;
using Kivren.Core.Looks;

namespace Kivren.Core.Indexing;

/// <summary>A locator as printed.</summary>
/// <param name="Target">the atom it leads to</param>
/// <param name="Illustration">it names a figure or a table</param>
public readonly record struct PrintedLocator(string Text, Id Target, bool Principal, bool Illustration);

/// <summary>A line of the index before it is set: heading or subheading with its locators.</summary>
/// <param name="Depth">0 heading, 1 and 2 subheadings, -1 a group head</param>
public sealed record IndexLine(int Depth, string Text, IReadOnlyList<PrintedLocator> Locators, string? See, string? SeeAlso)
{
    private string? _key;

    /// <summary>All that it says and leads to, as one string.</summary>
    public string Key => _key ??= MakeKey();

    private string MakeKey()
    {
        var key = new System.Text.StringBuilder().Append(Depth).Append(Text).Append('\u001f').Append(See).Append('\u001f').Append(SeeAlso);
        foreach (var locator in Locators)
            key.Append('\u001f')
                .Append(locator.Text)
                .Append(
                    locator.Principal ? '*'
                    : locator.Illustration ? '/'
                    : ' '
                )
                .Append(locator.Target.Value);
        return key.ToString();
    }

    /// <summary>All lines in order, for the places that entries came to stand at.</summary>
    /// <param name="places">as <see cref="IndexTree.Places"/> gives them</param>
    /// <param name="before">places of the same tree for which <paramref name="linesBefore"/> were made: lines whose places
    /// are the same are taken from there</param>
    internal static List<IndexLine> Of(
        IndexTree tree,
        IndexDefinition definition,
        LocatedPage[] places,
        LocatedPage[]? before = null,
        List<IndexLine>? linesBefore = null
    )
    {
        var lines = new List<IndexLine>();
        var group = "";
        var at = 0;
        foreach (var heading in tree.Headings)
        {
            var own = heading.Group;
            if (own != group)
            {
                group = own;
                lines.Add(new IndexLine(-1, own, [], null, null));
            }
            Add(heading, 0);
        }
        return lines;

        void Add(IndexHeading heading, int depth)
        {
            var end = at;
            foreach (var place in heading.Places)
                end += place.IsRange ? 2 : 1;
            var own = places.AsSpan(at, end - at);
            lines.Add(
                before is not null && own.SequenceEqual(before.AsSpan(at, end - at))
                    ? linesBefore![lines.Count]
                    : new IndexLine(
                        depth,
                        heading.Text,
                        LocatorsOf(heading, definition, own),
                        heading.See.Count > 0 ? string.Join("; ", heading.See) : null,
                        heading.SeeAlso.Count > 0 ? string.Join("; ", heading.SeeAlso) : null
                    )
            );
            at = end;
            foreach (var under in heading.Under)
                Add(under, depth + 1);
        }
    }

    private static PrintedLocator[] LocatorsOf(IndexHeading heading, IndexDefinition definition, ReadOnlySpan<LocatedPage> places)
    {
        // Most headings stand on one page.
        if (heading.Places.Count == 0)
            return [];
        var found = new List<Locator>(heading.Places.Count);
        var atoms = new Dictionary<int, Id>(heading.Places.Count);
        var at = 0;
        foreach (var place in heading.Places)
        {
            var from = places[at++];
            var to = place.IsRange ? places[at++] : from;
            var locator = new Locator(from, to.Sheet < from.Sheet ? from : to, place.Principal, place.Illustration);
            if (heading.Places.Count == 1)
                return [Printed(locator, place.Start, definition)];
            found.Add(locator);
            atoms.TryAdd(locator.From.Sheet, place.Start);
        }
        return [.. Locator.Merge(found, definition.Joins).Select(l => Printed(l, atoms[l.From.Sheet], definition))];
    }

    private static PrintedLocator Printed(in Locator l, Id atom, IndexDefinition definition) =>
        new(l.Text(definition.Elision), atom, l.Principal, l.Illustration);
}
