using System.IO.Hashing;
using System.Runtime.InteropServices;

namespace Kivren.Formats.Import.Sites;

/// <summary>What the pages of a book say, paragraph by paragraph: a page that holds the book once more, or that is another under a
/// second name, is known by it.</summary>
internal sealed class SaidBefore
{
    /// <summary>A shorter paragraph may well stand in two places.</summary>
    private const int LeastLetters = 24;

    /// <summary>Of this share of its paragraphs, in hundredths.</summary>
    private const int Share = 97;

    private const int FewestParagraphs = 3;
    private readonly HashSet<ulong> _said = [],
        _pages = [];

    public void Add(IReadOnlyList<SourceBlock> blocks)
    {
        _said.UnionWith(Prints(blocks));
        if (PageOf(blocks) is { } page)
            _pages.Add(page);
    }

    /// <summary>Whether the page was there as it is, or nearly all that it says was said.</summary>
    public bool Has(IReadOnlyList<SourceBlock> blocks)
    {
        if (PageOf(blocks) is { } page && _pages.Contains(page))
            return true;
        var prints = Prints(blocks).Distinct().ToList();
        return prints.Count >= FewestParagraphs && prints.Count(_said.Contains) * 100 >= Share * prints.Count;
    }

    private static ulong? PageOf(IReadOnlyList<SourceBlock> blocks) =>
        Letters(blocks.Where(b => b is not SourceGenerated)) is { Length: >= LeastLetters } all ? Print(all) : null;

    private static IEnumerable<ulong> Prints(IEnumerable<SourceBlock> blocks) =>
        blocks.Select(b => Letters([b])).Where(w => w.Length >= LeastLetters).Select(Print);

    private static string Letters(IEnumerable<SourceBlock> blocks) => string.Concat(blocks.Words().Where(char.IsLetterOrDigit));

    private static ulong Print(string letters) => XxHash3.HashToUInt64(MemoryMarshal.AsBytes(letters.AsSpan()));
}
