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
        foreach (var locator in Locators) key.Append('\u001f').Append(locator.Text).Append(locator.Principal ? '*' : locator.Illustration ? '/' : ' ').Append(locator.Target.Value);
        return key.ToString();
    }

    /// <summary>All lines in order, for the places that entries came to stand at.</summary>
    public static List<IndexLine> Of(IndexTree tree, IndexDefinition definition, Func<Id, Id, LocatedPage> locate)
    {
        var lines = new List<IndexLine>();
        var group = "";
        foreach (var heading in tree.Headings)
        {
            var own = heading.Group;
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
        lines.Add(new IndexLine(depth, heading.Text, LocatorsOf(heading, definition, locate), heading.See.Count > 0 ? string.Join("; ", heading.See) : null, heading.SeeAlso.Count > 0 ? string.Join("; ", heading.SeeAlso) : null));
        foreach (var under in heading.Under) Add(under, depth + 1, definition, lines, locate);
    }

    private static PrintedLocator[] LocatorsOf(IndexHeading heading, IndexDefinition definition, Func<Id, Id, LocatedPage> locate)
    {
        Locator Of(IndexPlace place)
        {
            var from = locate(place.Division, place.Start);
            var to = place.IsRange ? locate(place.EndDivision, IndexTree.EndOf(place.Start)) : from;
            return new Locator(from, to.Sheet < from.Sheet ? from : to, place.Principal, place.Illustration);
        }
        // Most headings stand on one page.
        if (heading.Places.Count == 0) return [];
        if (heading.Places.Count == 1) return [Printed(Of(heading.Places[0]), heading.Places[0].Start, definition)];
        var found = new List<Locator>(heading.Places.Count);
        var atoms = new Dictionary<int, Id>(heading.Places.Count);
        foreach (var place in heading.Places)
        {
            var locator = Of(place);
            found.Add(locator);
            atoms.TryAdd(locator.From.Sheet, place.Start);
        }
        return [.. Locator.Merge(found, definition.Joins).Select(l => Printed(l, atoms[l.From.Sheet], definition))];
    }

    private static PrintedLocator Printed(in Locator l, Id atom, IndexDefinition definition) => new(l.Text(definition.Elision), atom, l.Principal, l.Illustration);
}
