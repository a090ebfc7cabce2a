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
    /// <summary>All lines in order, for the places that entries came to stand at.</summary>
    public static List<IndexLine> Of(IndexTree tree, IndexDefinition definition, Func<Id, Id, LocatedPage> locate)
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
            Add(heading, 0, definition, lines, locate);
        }
        return lines;
    }

    private static void Add(IndexHeading heading, int depth, IndexDefinition definition, List<IndexLine> lines, Func<Id, Id, LocatedPage> locate)
    {
        var found = new List<Locator>(heading.Places.Count);
        var atoms = new Dictionary<int, Id>();
        foreach (var place in heading.Places)
        {
            var from = locate(place.Division, place.Start);
            var to = place.IsRange ? locate(place.EndDivision, IndexTree.EndOf(place.Start)) : from;
            if (to.Sheet < from.Sheet) to = from;
            found.Add(new Locator(from, to, place.Principal, place.Illustration));
            atoms.TryAdd(from.Sheet, place.Start);
        }
        var locators = Locator.Merge(found, definition.Joins).Select(l => new PrintedLocator(l.Text(definition.Elision), atoms[l.From.Sheet], l.Principal, l.Illustration)).ToArray();
        lines.Add(new IndexLine(depth, heading.Text, locators, heading.See.Count > 0 ? string.Join("; ", heading.See) : null, heading.SeeAlso.Count > 0 ? string.Join("; ", heading.SeeAlso) : null));
        foreach (var under in heading.Under) Add(under, depth + 1, definition, lines, locate);
    }
}
