using System.Text;
using System.Text.RegularExpressions;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Docx;

/// <summary>A field of a word-processor document: its instruction and what its result means.</summary>
internal sealed class WordField
{
    public StringBuilder Instruction { get; } = new();
    public bool InResult { get; set; }
    public List<SourceSpan> Result { get; } = [];
    public StringBuilder Swallowed { get; } = new();

    private static readonly Regex Parts = new("\"((?:[^\"\\\\]|\\\\.)*)\"|(\\\\\\S)|(\\S+)", RegexOptions.CultureInvariant);

    /// <summary>The words of the instruction: quoted ones whole, switches as they stand.</summary>
    public string[] Words =>
        Parts.Matches(Instruction.ToString()).Select(m => m.Groups[1].Success ? "\"" + m.Groups[1].Value : m.Value).ToArray();

    public string Name => Words.FirstOrDefault()?.ToUpperInvariant() ?? "";

    /// <summary>The list that this field generates, or null.</summary>
    public Generated? Generates =>
        Name switch
        {
            "TOC" => Words.Contains("\\c") ? Generated.ListOfFigures : Generated.Contents,
            "INDEX" => Generated.Index,
            "TOA" => Generated.ListOfFigures,
            _ => null,
        };

    private static string Bare(string word) => word.StartsWith('"') ? word[1..].Replace("\\\"", "\"", StringComparison.Ordinal) : word;

    private string? After(string name)
    {
        var words = Words;
        var at = Array.IndexOf(words, name);
        return at >= 0 && at + 1 < words.Length ? Bare(words[at + 1]) : null;
    }

    /// <summary>A reference to a bookmark, or null: its target and the form it reads like.</summary>
    public (string Target, string Form)? Reference
    {
        get
        {
            var words = Words;
            if (words.Length < 2)
                return null;
            return Name switch
            {
                "PAGEREF" => (Bare(words[1]), "page"),
                "REF" => (
                    Bare(words[1]),
                    words.Contains("\\p") && !words.Any(w => w is "\\n" or "\\r" or "\\w") ? "direction"
                    : words.Any(w => w is "\\n" or "\\r" or "\\w") ? "number"
                    : ""
                ),
                "NOTEREF" => (Bare(words[1]), ""),
                "HYPERLINK" when After("\\l") is { } local && !Bare(words[1]).Contains(':', StringComparison.Ordinal) => (local, ""),
                _ => null,
            };
        }
    }

    /// <summary>The address of a link, or null.</summary>
    public string? Web =>
        Name == "HYPERLINK" && Words is { Length: > 1 } words && Uri.TryCreate(Bare(words[1]), UriKind.Absolute, out _)
            ? Bare(words[1])
            : null;

    /// <summary>An index entry (with the bookmark that it ranges over, if any), or null.</summary>
    public (IndexEntry Entry, string? Range)? Entry
    {
        get
        {
            if (Name != "XE" || Words.Length < 2)
                return null;
            var headings = Headings(Bare(Words[1]));
            if (headings.Count == 0)
                return null;
            var entry = new IndexEntry(Id.None, headings) { Principal = Words.Contains("\\b") };
            if (After("\\t") is { Length: > 0 } text)
            {
                var also = Regex.Match(text, @"^\s*see\s+also\s+(.+)$", RegexOptions.IgnoreCase);
                var see = Regex.Match(text, @"^\s*see:?\s+(.+)$", RegexOptions.IgnoreCase);
                entry = also.Success
                    ? entry with
                    {
                        SeeAlso = also.Groups[1].Value.Trim(),
                    }
                    : entry with
                    {
                        See = see.Success ? see.Groups[1].Value.Trim() : text.Trim(),
                    };
            }
            return (entry, After("\\r"));
        }
    }

    /// <summary>Headings held apart by colons; a colon after a stroke is one of the heading.</summary>
    private static List<string> Headings(string text)
    {
        var headings = new List<string>();
        var heading = new StringBuilder();
        for (var i = 0; i < text.Length; i++)
        {
            if (text[i] == '\\' && i + 1 < text.Length)
                heading.Append(text[++i]);
            else if (text[i] == ':')
            {
                headings.Add(heading.ToString().Trim());
                heading.Clear();
            }
            else
                heading.Append(text[i]);
        }
        headings.Add(heading.ToString().Trim());
        headings.RemoveAll(h => h.Length == 0);
        // A manual's index has three levels; what is deeper is named with the third.
        return headings.Count <= 3 ? headings : [headings[0], headings[1], string.Join(", ", headings.Skip(2))];
    }
}
