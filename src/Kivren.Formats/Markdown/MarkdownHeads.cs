using System.Text;
using System.Text.RegularExpressions;
using Markdig.Renderers.Html;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;

namespace Kivren.Formats.Markdown;

/// <summary>Heads of a text as they are pointed at: by the name that stands in braces behind them, by one made of their words, by their
/// words in brackets.</summary>
internal sealed partial class MarkdownHeads
{
    [GeneratedRegex(
        @"\s*\{\s*(?<all>(?:[#.][^\s}]+|-|[\w:-]+=(?:""[^""]*""|[^\s}]*))(?:\s+(?:[#.][^\s}]+|[\w:-]+=(?:""[^""]*""|[^\s}]*)))*)\s*\}\s*$",
        RegexOptions.CultureInvariant
    )]
    private static partial Regex Braces();

    [GeneratedRegex(@"#(?<name>[^\s}]+)", RegexOptions.CultureInvariant)]
    private static partial Regex Named();

    private readonly Dictionary<string, string> _byName = new(StringComparer.Ordinal);

    /// <summary>Words of each head with the name that leads to it; of two alike the first.</summary>
    private readonly Dictionary<string, string> _byWords = new(StringComparer.OrdinalIgnoreCase);

    public MarkdownHeads(MarkdownDocument document)
    {
        foreach (var head in document.Descendants<HeadingBlock>())
        {
            var name = TakeBraces(head) ?? head.TryGetAttributes()?.Id;
            if (name is null)
                continue;
            head.GetAttributes().Id = name;
            _byName.TryAdd(Bare(name), name);
            var words = MarkdownWords.Plain(head.Inline);
            if (words.Length > 0)
                _byWords.TryAdd(words, name);
        }
    }

    /// <summary>The name of the head that a reference names, however its signs are written; the reference itself where none
    /// has it.</summary>
    public string Of(string reference)
    {
        string name;
        try
        {
            name = Uri.UnescapeDataString(reference);
        }
        catch (UriFormatException)
        {
            name = reference;
        }
        return _byName.GetValueOrDefault(Bare(name), name);
    }

    /// <summary>The text with a definition for every head that stands in brackets somewhere; null where none does.</summary>
    public string? Defined(string text)
    {
        var definitions = new StringBuilder();
        foreach (var (words, name) in _byWords)
            if (!words.Contains(']', StringComparison.Ordinal) && text.Contains($"[{words}]", StringComparison.OrdinalIgnoreCase))
                definitions.Append("\n[").Append(words).Append("]: <#").Append(name).Append('>');
        return definitions.Length == 0 ? null : text + "\n" + definitions;
    }

    /// <summary>Names are made of letters and figures, with marks or without.</summary>
    private static string Bare(string name) => string.Concat(name.Where(char.IsLetterOrDigit)).ToLowerInvariant();

    /// <summary>Takes away what stands in braces behind a head.</summary>
    /// <returns>the name that it gives, or null</returns>
    private static string? TakeBraces(HeadingBlock head)
    {
        if (head.Inline?.LastChild is not LiteralInline last || Braces().Match(last.Content.ToString()) is not { Success: true } braces)
            return null;
        var text = last.Content.ToString();
        last.Content = new Markdig.Helpers.StringSlice(text[..braces.Index]);
        return Named().Match(braces.Groups["all"].Value) is { Success: true } name ? name.Groups["name"].Value : null;
    }
}
