using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;

namespace Kivren.Formats.Markdown;

/// <summary>What the usual dialect of Markdown has beyond what the parser reads, written so that it reads it: tables drawn by dashes alone,
/// and examples numbered through the whole text. Lines stay where they are, so that a place told is the place in the file.</summary>
internal static partial class MarkdownDialect
{
    [GeneratedRegex(@"^ {0,3}-[- ]*$", RegexOptions.CultureInvariant)]
    private static partial Regex Dashes();

    [GeneratedRegex(@"-+", RegexOptions.CultureInvariant)]
    private static partial Regex Dash();

    [GeneratedRegex(@"^( {0,3})\(@([\w-]*)\)(\s+)", RegexOptions.CultureInvariant)]
    private static partial Regex Example();

    [GeneratedRegex(@"\(@([\w-]+)\)", RegexOptions.CultureInvariant)]
    private static partial Regex ExampleNamed();

    [GeneratedRegex(@"^ {0,3}(`{3,}|~{3,})", RegexOptions.CultureInvariant)]
    private static partial Regex Fence();

    public static string Plain(string text)
    {
        if (!text.Contains("--", StringComparison.Ordinal) && !text.Contains("(@", StringComparison.Ordinal))
            return text;
        var lines = text.ReplaceLineEndings("\n").Split('\n');
        var code = InCode(lines);
        Examples(lines, code);
        for (var at = 0; at < lines.Length; at++)
            if (!code[at] && IsRow(lines[at], least: 2))
                at = Table(lines, code, at);
        Captions(lines, code);
        return string.Join('\n', lines);
    }

    /// <summary>Lines between fences, the fences too, and the file's own record at its head.</summary>
    internal static bool[] InCode(string[] lines)
    {
        var code = new bool[lines.Length];
        string? open = null;
        var record = lines.Length > 0 && lines[0].TrimEnd() == "---";
        for (var at = 0; at < lines.Length; at++)
        {
            if (record)
            {
                code[at] = true;
                record = at == 0 || lines[at].TrimEnd() is not ("---" or "...");
                continue;
            }
            var fence = Fence().Match(lines[at]);
            code[at] = open is not null || fence.Success;
            if (!fence.Success)
                continue;
            var sign = fence.Groups[1].Value;
            if (open is null)
                open = sign;
            else if (sign[0] == open[0] && sign.Length >= open.Length)
                open = null;
        }
        return code;
    }

    private static void Examples(string[] lines, bool[] code)
    {
        var named = new Dictionary<string, int>(StringComparer.Ordinal);
        var count = 0;
        for (var at = 0; at < lines.Length; at++)
            if (!code[at] && Example().Match(lines[at]) is { Success: true } example)
            {
                count++;
                if (example.Groups[2].Length > 0)
                    named.TryAdd(example.Groups[2].Value, count);
                lines[at] =
                    example.Groups[1].Value
                    + count.ToString(CultureInfo.InvariantCulture)
                    + "."
                    + example.Groups[3].Value
                    + lines[at][example.Length..];
            }
        if (named.Count > 0)
            for (var at = 0; at < lines.Length; at++)
                if (!code[at])
                    lines[at] = ExampleNamed()
                        .Replace(lines[at], m =>
                            named.TryGetValue(m.Groups[1].Value, out var number)
                                ? $"({number.ToString(CultureInfo.InvariantCulture)})"
                                : m.Value
                        );
    }

    [GeneratedRegex(@"^ {0,3}:[ \t]+", RegexOptions.CultureInvariant)]
    private static partial Regex Colon();

    /// <summary>A colon before or behind a table begins its caption, and defines no term.</summary>
    private static void Captions(string[] lines, bool[] code)
    {
        static bool Draws(string? line) => line is not null && line.TrimStart() is ['|' or '+', ..];
        for (var at = 0; at < lines.Length; at++)
            if (!code[at] && Colon().Match(lines[at]) is { Success: true } colon)
            {
                var before = lines[..at].LastOrDefault(l => !IsBlank(l));
                var behind = lines[(at + 1)..].FirstOrDefault(l => !IsBlank(l));
                if ((at == 0 || IsBlank(lines[at - 1])) && (Draws(before) || Draws(behind)))
                    lines[at] = "Table: " + lines[at][colon.Length..];
            }
    }

    /// <summary>Runs of dashes, at least so many, parted by spaces.</summary>
    private static bool IsRow(string line, int least) =>
        line.Length > 0 && Dashes().IsMatch(line) && Dash().Count(line) >= least && line.Count(c => c == '-') >= least * 2;

    private static bool IsBlank(string line) => string.IsNullOrWhiteSpace(line);

    /// <summary>A table at the dashes of line <paramref name="at"/>: its head may stand above, in one line or, under a line of dashes, in
    /// several; its rows are lines, or stand apart by blank lines where a line of dashes ends it.</summary>
    /// <returns>its last line, or <paramref name="at"/> where none is there</returns>
    private static int Table(string[] lines, bool[] code, int at)
    {
        var columns = Dash().Matches(lines[at]).Select(m => m.Index).ToArray();
        var indent = columns[0];
        var top = at;
        while (top > 0 && !IsBlank(lines[top - 1]) && !code[top - 1] && at - top < 12)
            top--;
        var framed = top < at && IsRow(lines[top], least: 1);
        // A head of several lines stands only under a line of dashes.
        var head =
            framed ? lines[(top + 1)..at]
            : at - top == 1 ? [lines[top]]
            : [];
        if (head.Length == 0)
            top = at;
        int end = at + 1,
            last = -1;
        var spread = framed;
        for (; end < lines.Length && !code[end]; end++)
        {
            if (IsRow(lines[end], least: 1) && !IsBlank(lines[end - 1]) | framed)
            {
                last = end;
                break;
            }
            if (IsBlank(lines[end]))
            {
                if (!framed || end + 1 >= lines.Length || (IsBlank(lines[end + 1]) && IsBlank(lines[end])))
                    break;
            }
            else if (lines[end].Length > indent && !char.IsWhiteSpace(lines[end][..indent].LastOrDefault(' ')))
                return at;
        }
        // Without a head, and where blank lines part the rows, a last line of dashes tells that it is a table.
        if (last < 0 && (head.Length == 0 || framed))
            return at;
        var body = lines[(at + 1)..(last < 0 ? end : last)];
        if (body.All(IsBlank))
            return at;
        spread &= body.Any(IsBlank);
        var written = new List<string>
        {
            Row(head.Length > 0 ? head : [""], columns),
            "|" + string.Concat(columns.Select((_, n) => Sided(head, lines[at], columns, n))),
        };
        var row = new List<string>();
        foreach (var line in body.Append(""))
        {
            if (!IsBlank(line))
                row.Add(line);
            if (row.Count > 0 && (!spread || IsBlank(line)))
            {
                written.Add(Row(row, columns));
                row.Clear();
            }
        }
        var stop = last < 0 ? end : last + 1;
        if (written.Count > stop - top)
            return at;
        for (var n = top; n < stop; n++)
            lines[n] = n - top < written.Count ? written[n - top] : "";
        return stop - 1;
    }

    /// <summary>Text flush with the dashes' right end stands at the right, with both ends in the middle's place at the left.</summary>
    private static string Sided(IReadOnlyList<string> head, string dashes, int[] columns, int n)
    {
        if (head.Count == 0)
            return "---|";
        var from = columns[n];
        var to = from;
        while (to < dashes.Length && dashes[to] == '-')
            to++;
        var line = head[^1].PadRight(to);
        var right = !char.IsWhiteSpace(line[to - 1]) && (to == line.Length || char.IsWhiteSpace(line[to]));
        var left = !char.IsWhiteSpace(line[from]);
        return right && !left ? "--:|"
            : !right && !left && !IsBlank(line[from..to]) ? ":-:|"
            : "---|";
    }

    private static string Row(IReadOnlyList<string> lines, int[] columns)
    {
        var row = new StringBuilder("|");
        for (var n = 0; n < columns.Length; n++)
        {
            var from = n == 0 ? 0 : columns[n];
            var to = n + 1 < columns.Length ? columns[n + 1] : int.MaxValue;
            var cell = lines.Select(l => l.Length <= from ? "" : l[from..Math.Min(l.Length, to)].Trim()).Where(c => c.Length > 0);
            row.Append(' ').Append(string.Join(' ', cell).Replace("|", "\\|", StringComparison.Ordinal)).Append(" |");
        }
        return row.ToString();
    }
}
