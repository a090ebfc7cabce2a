using System.Text.RegularExpressions;
using Kivren.Formats.Import;

namespace Kivren.Formats.Markdown;

/// <summary>Boxes whose text is set in below a line of marks (`!!! note "Title"`), as fences with an end; names before a block, and lines
/// that only say how a page looks. Lines stay where they are but where a box has no blank line behind it.</summary>
internal static partial class MarkdownBoxes
{
    private const int MostLevels = 8,
        SetIn = 4;

    [GeneratedRegex(
        @"^(?<indent>[ \t]*)(?:(?:!!!|\?\?\?\+?)[ \t]+(?<kind>[A-Za-z][\w-]*)[\w \t-]*?(?:[ \t]+""(?<title>[^""]*)"")?"
            + @"|===[!+]?[ \t]+""(?<tab>[^""]+)"")[ \t]*$",
        RegexOptions.CultureInvariant
    )]
    private static partial Regex Opens();

    [GeneratedRegex(@"^\((?<name>[\w./:-]+)\)=[ \t]*$", RegexOptions.CultureInvariant)]
    private static partial Regex Names();

    [GeneratedRegex(@"^[ \t]*\{:[^{}]*\}[ \t]*$", RegexOptions.CultureInvariant)]
    private static partial Regex Looks();

    public static string Fenced(string text)
    {
        if (
            !text.Contains("!!!", StringComparison.Ordinal)
            && !text.Contains("???", StringComparison.Ordinal)
            && !text.Contains("=== ", StringComparison.Ordinal)
            && !text.Contains(")=", StringComparison.Ordinal)
            && !text.Contains("{:", StringComparison.Ordinal)
        )
            return text;
        return string.Join('\n', Fenced(text.ReplaceLineEndings("\n").Split('\n'), 0));
    }

    private static List<string> Fenced(string[] lines, int level)
    {
        var written = new List<string>(lines.Length);
        var code = MarkdownDialect.InCode(lines);
        for (var at = 0; at < lines.Length; at++)
        {
            if (code[at])
                written.Add(lines[at]);
            else if (
                level < MostLevels
                && Opens().Match(lines[at]) is { Success: true } opens
                && End(lines, at, opens) is var end
                && end > at
            )
            {
                var indent = opens.Groups["indent"].Value;
                var inner = Fenced([.. lines[(at + 1)..end].Select(l => indent + SetOut(l, Width(indent) + SetIn))], level + 1);
                if (opens.Groups["tab"] is { Success: true } tab)
                {
                    written.Add($"{indent}**{tab.Value}**");
                    written.AddRange(inner);
                }
                else
                {
                    var colons = new string(':', 3 + MostLevels - level);
                    written.Add($"{indent}{colons}{Said(opens)}");
                    written.AddRange(inner);
                    written.Add(indent + colons);
                    // In the place of the blank line behind it.
                    if (end < lines.Length && string.IsNullOrWhiteSpace(lines[end]))
                        end++;
                }
                at = end - 1;
            }
            else if (Names().Match(lines[at]) is { Success: true } name)
                written.Add($"<a id=\"{name.Groups["name"].Value}\"></a>");
            else if (Looks().IsMatch(lines[at]))
            {
                if (lines[at].Contains(":toc", StringComparison.Ordinal) && written.Count > 0)
                    written[^1] = "[TOC]";
                written.Add("");
            }
            else
                written.Add(lines[at]);
        }
        return written;
    }

    /// <summary>The line behind the last one that is set in below an opening line.</summary>
    private static int End(string[] lines, int open, Match opens)
    {
        var least = Width(opens.Groups["indent"].Value) + SetIn;
        var end = open;
        for (var at = open + 1; at < lines.Length; at++)
            if (string.IsNullOrWhiteSpace(lines[at]))
                continue;
            else if (Width(lines[at]) >= least)
                end = at;
            else
                break;
        return end == open ? open : end + 1;
    }

    /// <summary>Kinds that no admonition has are asides under their own name.</summary>
    private static string Said(Match opens)
    {
        var kind = opens.Groups["kind"].Value.ToLowerInvariant();
        var title = opens.Groups["title"].Value;
        return SignalWords.KindOf(kind) is not null
            ? (title.Length > 0 ? $"{kind} \"{title}\"" : kind)
            : $"aside \"{(title.Length > 0 ? title : char.ToUpperInvariant(kind[0]) + kind[1..])}\"";
    }

    /// <summary>How far a line is set in.</summary>
    private static int Width(string line)
    {
        var width = 0;
        foreach (var c in line)
            if (c == ' ')
                width++;
            else if (c == '\t')
                width += SetIn - width % SetIn;
            else
                break;
        return width;
    }

    private static string SetOut(string line, int by)
    {
        if (string.IsNullOrWhiteSpace(line))
            return "";
        var at = line.TakeWhile(c => c is ' ' or '\t').Count();
        return new string(' ', Math.Max(0, Width(line) - by)) + line[at..];
    }
}
