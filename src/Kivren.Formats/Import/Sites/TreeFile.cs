using System.Text;

namespace Kivren.Formats.Import.Sites;

/// <summary>The places of files in a book as lines of text that a writer reads and changes: a file a line, two spaces deeper for what
/// stands in it, its kind in brackets where it is not the usual, a minus in front of what is left out. A part without a file has its
/// title in quotation marks.</summary>
public static class TreeFile
{
    private const int MostDepth = 12;
    private static readonly string[] Kinds = ["part", "chapter", "appendix", "preface", "glossary", TreePlace.Section, TreePlace.LeftOut];

    public static string Write(SiteTree tree, IReadOnlyList<SourceDocument> documents)
    {
        var text = new StringBuilder();
        for (var i = 0; i < tree.Places.Count; i++)
        {
            var place = tree.Places[i];
            text.Append(' ', 2 * place.Depth);
            if (place.Kind == TreePlace.LeftOut)
                text.Append("- ");
            else if (place.Kind != Usual(tree.Places, i))
                text.Append('[').Append(place.Kind).Append("] ");
            text.Append(place.File < 0 ? $"“{place.Title}”" : documents[place.File].File).Append('\n');
        }
        return text.ToString();
    }

    /// <summary>What a place is where nothing else is said: a part's are chapters, a chapter's are sections.</summary>
    private static string Usual(IReadOnlyList<TreePlace> places, int at)
    {
        for (var i = at - 1; i >= 0; i--)
            if (places[i].Depth < places[at].Depth && places[i].Kind != TreePlace.LeftOut)
                return places[i].Kind == TreePlace.Part ? TreePlace.Chapter : TreePlace.Section;
        return places[at].File < 0 ? TreePlace.Part : TreePlace.Chapter;
    }

    /// <param name="file">its name, for messages</param>
    /// <exception cref="SourceFormatException">a line that says nothing: which, and why</exception>
    public static SiteTree Read(string file, string text, IReadOnlyList<SourceDocument> documents)
    {
        var byName = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        for (var d = 0; d < documents.Count; d++)
            byName.TryAdd(documents[d].File, d);
        var places = new List<TreePlace>();
        var number = 0;
        foreach (var line in text.ReplaceLineEndings("\n").Split('\n'))
        {
            number++;
            SourceFormatException Wrong(string why) => new($"{file}, line {number}: {why}");
            var bare = line.Trim();
            if (bare.Length == 0)
                continue;
            var depth = (line.Length - line.TrimStart(' ').Length) / 2;
            if (depth > MostDepth || depth > (places.Count == 0 ? 0 : places[^1].Depth + 1))
                throw Wrong("it is set in deeper than one step below the line above it.");
            var kind = "";
            if (bare.StartsWith("- ", StringComparison.Ordinal))
                (kind, bare) = (TreePlace.LeftOut, bare[2..].Trim());
            else if (bare[0] == '[' && bare.IndexOf(']', StringComparison.Ordinal) is var end and > 0)
            {
                (kind, bare) = (bare[1..end].Trim(), bare[(end + 1)..].Trim());
                if (!Kinds.Contains(kind))
                    throw Wrong($"there is no kind “{kind}”; there are {string.Join(", ", Kinds)}.");
            }
            var isPart = bare.Length > 2 && bare[0] is '“' or '"';
            var at = -1;
            if (!isPart && !byName.TryGetValue(bare, out at))
                throw Wrong($"there is no file “{bare}” among those brought in.");
            if (at >= 0 && places.Any(p => p.File == at))
                throw Wrong($"“{bare}” stands in it twice.");
            places.Add(new TreePlace(at, depth, "", isPart ? bare.Trim('“', '”', '"') : ""));
            places[^1] = places[^1] with { Kind = kind.Length > 0 ? kind : Usual(places, places.Count - 1) };
        }
        return new SiteTree(places, "", file);
    }
}
