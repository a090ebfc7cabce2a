using System.Text;
using Kivren.Core.Composition;
using Kivren.Core.Content;

namespace Kivren.Formats.Markdown.Writing;

/// <summary>Text with its roles as Markdown (CommonMark with footnotes): what words are is said by weight and slope, code by its own sign.
/// </summary>
/// <param name="pictures">the address of a picture from the text</param>
/// <param name="anchor">the anchor of what can be pointed at; null where it has none</param>
internal sealed class MarkdownSpans(ComposedManual composed, Func<string, string> pictures, Func<Id, string?> anchor)
{
    private readonly List<Footnote> _notes = [];
    private int _called;

    /// <summary>Notes called since they were taken last, with their marks.</summary>
    public IReadOnlyList<(string Mark, Footnote Note)> TakeNotes()
    {
        var notes = _notes.Select((n, i) => (MarkOf(_called - _notes.Count + i + 1), n)).ToList();
        _notes.Clear();
        return notes;
    }

    private static string MarkOf(int number) => "n" + number.ToString(System.Globalization.CultureInfo.InvariantCulture);

    public string Of(IEnumerable<Inline> spans)
    {
        var text = new StringBuilder();
        foreach (var inline in spans)
            text.Append(Of(inline));
        return text.ToString();
    }

    private string Of(Inline inline)
    {
        switch (inline)
        {
            case TextRun { Text.Length: > 0 } run:
                return Run(run);
            case CrossReference reference:
                var words = Escaped(composed.Print(reference));
                return reference is { Other: null, Instead: null } && anchor(reference.Target) is { } to ? $"[{words}](#{to})" : words;
            case VariableUse variable:
                return Escaped(composed.Text.Variable(variable.Name) ?? $"[no variable {variable.Name}]");
            case Footnote note:
                _notes.Add(note);
                return $"[^{MarkOf(++_called)}]";
            case InlineEquation equation:
                return Code(equation.Source);
            case InlinePicture picture:
                return $"![{Escaped(picture.Alternative)}]({pictures(picture.Asset)})";
            case LineBreak:
                return "<br>";
            default:
                return "";
        }
    }

    private string Run(TextRun run)
    {
        // Marks stand at the words: spaces about them stay outside.
        var words = run.Text.Trim(' ');
        if (words.Length == 0)
            return run.Text;
        var (before, after) = (run.Text[..run.Text.IndexOf(words[0], StringComparison.Ordinal)], "");
        after = run.Text[(before.Length + words.Length)..];
        bool Is(SpanRoles any) => (run.Roles & any) != 0;
        var marked = Is(SpanRoles.Code) ? Code(words) : Escaped(words);
        if (Is(SpanRoles.Sub))
            marked = $"<sub>{marked}</sub>";
        if (Is(SpanRoles.Sup))
            marked = $"<sup>{marked}</sup>";
        if (Is(SpanRoles.Emphasis | SpanRoles.Term | SpanRoles.Foreign))
            marked = $"*{marked}*";
        if (Is(SpanRoles.Strong | SpanRoles.Control | SpanRoles.Key))
            marked = $"**{marked}**";
        if (run.Web is { } web && WebAddress.Leads(web))
            marked = $"[{marked}](<{web.Replace("<", "%3C", StringComparison.Ordinal).Replace(">", "%3E", StringComparison.Ordinal)}>)";
        return before + marked + after;
    }

    /// <summary>Between as many signs as none of its own runs has.</summary>
    private static string Code(string words)
    {
        words = words.ReplaceLineEndings(" ");
        var (longest, run) = (0, 0);
        foreach (var c in words)
            longest = Math.Max(longest, run = c == '`' ? run + 1 : 0);
        var fence = new string('`', longest + 1);
        var room = words.StartsWith('`') || words.EndsWith('`') ? " " : "";
        return fence + room + words + room + fence;
    }

    /// <summary>Signs that would mean something stand as themselves.</summary>
    public static string Escaped(string words)
    {
        var text = new StringBuilder(words.Length + 8);
        foreach (var c in words.ReplaceLineEndings(" "))
        {
            if (c is '\\' or '`' or '*' or '_' or '[' or ']' or '<' or '>' or '#' or '|' or '~' or '$' or '&' or '^')
                text.Append('\\');
            text.Append(char.IsControl(c) && c != '\t' ? '\uFFFD' : c);
        }
        // What stands first in a line could begin a list, a rule or what a term means.
        if (text.Length > 0 && text[0] is '-' or '+' or ':' or '=')
            text.Insert(0, '\\');
        var digits = 0;
        while (digits < text.Length && char.IsAsciiDigit(text[digits]))
            digits++;
        if (digits > 0 && digits < text.Length && text[digits] is '.' or ')')
            text.Insert(digits, '\\');
        return text.ToString();
    }
}
