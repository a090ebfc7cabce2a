using System.Text;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.DocBook;

// Words in a line: names, emphasis, references, notes, index terms, code.
public sealed partial class DocBookReader
{
    private List<SourceSpan> SpansOf(XElement element)
    {
        var spans = new List<SourceSpan>();
        foreach (var node in element.Nodes())
            Spans(node, spans, SpanRoles.None, null, null);
        return spans;
    }

    [GeneratedRegex("[ \t\r\n]+")]
    private static partial Regex Space();

    private void Spans(XNode node, List<SourceSpan> spans, SpanRoles roles, string? style, string? web)
    {
        if (node is XText text)
        {
            if (text.Value.Length > 0)
                spans.Add(new SourceRun(Space().Replace(text.Value, " "), roles, style, web));
            return;
        }
        if (node is not XElement element)
            return;
        void Inner(string? own, string? address = null)
        {
            foreach (var child in element.Nodes())
                Spans(child, spans, roles, own ?? style, address ?? web);
        }
        var name = element.Name.LocalName;
        if (IdOf(element) is { } id && name is not "footnote")
            spans.Add(new SourceBookmark(id));
        switch (name)
        {
            case "anchor":
                break;
            case "emphasis":
                Emphasis(element, spans, roles, web);
                break;
            case "quote":
                spans.Add(new SourceRun("“", roles, style, web));
                Inner(null);
                spans.Add(new SourceRun("”", roles, style, web));
                break;
            case "footnote" or "footnoteref" when _inNote:
                // A manual's notes hold no notes, and one that calls itself would never end.
                spans.Add(new SourceRun(name == "footnote" ? " (" + element.Value.Trim() + ")" : "*", roles, style, web));
                Tell(ReportKind.Look, "A note stands in a note; its words stand in brackets.");
                break;
            case "footnote":
                _inNote = true;
                var blocks = new List<SourceBlock>();
                var carried = _carried.ToList();
                _carried.Clear();
                Children(element, blocks, 0, 1);
                _carried.Clear();
                _carried.AddRange(carried);
                _inNote = false;
                if (IdOf(element) is { } note)
                    _notes[note] = blocks;
                spans.Add(new SourceNote(blocks));
                break;
            case "footnoteref":
                FootnoteAgain(element, spans);
                break;
            case "xref":
                var end = element.Attribute("linkend")?.Value ?? "";
                spans.Add(new SourceReference(end, "", _titles.GetValueOrDefault(end, "")));
                break;
            case "link" when element.Attribute("linkend")?.Value is { } to:
                spans.Add(
                    new SourceReference(
                        to,
                        "",
                        element.Nodes().Any() ? Space().Replace(element.Value, " ") : _titles.GetValueOrDefault(to, ""),
                        roles
                    )
                );
                break;
            case "link" or "ulink":
                var address = element.Attribute("url")?.Value
                    ?? element.Attributes().FirstOrDefault(a => a.Name.LocalName == "href")?.Value
                    ?? "";
                if (element.Nodes().Any())
                    Inner(null, Uri.TryCreate(address, UriKind.Absolute, out _) ? address : null);
                else if (address.Length > 0)
                    spans.Add(new SourceRun(address, roles, style, Uri.TryCreate(address, UriKind.Absolute, out _) ? address : null));
                break;
            case "indexterm":
                IndexTerm(element, spans);
                break;
            case "menuchoice" or "keycombo":
                // Bare words between the elements are parts as well: a key that is not marked up is still pressed.
                var parts = element
                    .Nodes()
                    .Where(n => n is XElement { Name.LocalName: not "shortcut" } || (n is XText t && !string.IsNullOrWhiteSpace(t.Value)))
                    .ToList();
                for (var i = 0; i < parts.Count; i++)
                {
                    if (i > 0)
                        spans.Add(new SourceRun(name == "keycombo" ? "+" : " › "));
                    if (parts[i] is XElement part)
                        Spans(part, spans, roles, style, web);
                    else
                        spans.Add(
                            new SourceRun(
                                ((XText)parts[i]).Value.Trim().TrimStart('+').TrimEnd('+').Trim(),
                                roles | (name == "keycombo" ? SpanRoles.Key : SpanRoles.Control)
                            )
                        );
                }
                if (Child(element, "shortcut") is { } shortcut && Words(shortcut).Length > 0)
                {
                    spans.Add(new SourceRun(" ("));
                    foreach (var child in shortcut.Elements())
                        Spans(child, spans, roles, style, web);
                    spans.Add(new SourceRun(")"));
                }
                break;
            case "inlinemediaobject":
                var alternative = element.Elements().Where(e => e.Name.LocalName == "textobject").Select(Words).FirstOrDefault() ?? "";
                if (Asset(element, out var named) is { } asset)
                    spans.Add(new SourceAtom(new InlinePicture(Id.None, asset, alternative)));
                else
                {
                    if (named.Length > 0)
                        Tell(ReportKind.LeftOut, "A picture was not found beside the text. Bring it in together with the text.", named);
                    if (alternative.Length > 0)
                        spans.Add(new SourceRun(alternative, roles, style, web));
                }
                break;
            case "inlineequation":
                if (element.Descendants().FirstOrDefault(e => e.Name.LocalName == "math") is { } math)
                    spans.Add(new SourceAtom(new InlineEquation(Id.None, LinearEquation.From(math), "")));
                else
                    Inner(null);
                break;
            case "sbr":
                spans.Add(new SourceAtom(LineBreak.Instance));
                break;
            case "optional":
                spans.Add(new SourceRun("[", roles, style, web));
                Inner(null);
                spans.Add(new SourceRun("]", roles, style, web));
                break;
            case "remark":
                spans.Add(new SourceComment(element.Attribute("role")?.Value ?? "", Words(element)));
                break;
            case "citerefentry":
                Inner(null);
                break;
            case "manvolnum":
                spans.Add(new SourceRun("(" + element.Value.Trim() + ")", roles, style, web));
                break;
            default:
                Inner(InlineNames.Roles.ContainsKey(name) ? name : null);
                break;
        }
    }

    private readonly Dictionary<string, XElement> _noteElements = new(StringComparer.Ordinal);
    private readonly Dictionary<string, List<SourceBlock>> _notes = new(StringComparer.Ordinal);

    private bool _inNote;

    private void FootnoteAgain(XElement element, List<SourceSpan> spans)
    {
        if (element.Attribute("linkend")?.Value is not { } to)
            return;
        if (!_notes.TryGetValue(to, out var blocks) && _noteElements.TryGetValue(to, out var later) && to.Length > 0)
        {
            blocks = [];
            _inNote = true;
            Children(later, blocks, 0, 1);
            _inNote = false;
            _carried.Clear();
        }
        if (blocks is not null)
        {
            spans.Add(new SourceNote(blocks));
            Tell(ReportKind.Changed, "A note that is called twice came in twice.");
        }
        else
            Tell(ReportKind.Look, $"A call leads to the note “{to}”, which is not in the text.");
    }

    private void Emphasis(XElement element, List<SourceSpan> spans, SpanRoles roles, string? web)
    {
        var strong = element.Attribute("role")?.Value is "strong" or "bold";
        foreach (var child in element.Nodes())
            Spans(child, spans, roles | (strong ? SpanRoles.Strong : SpanRoles.Emphasis), null, web);
    }

    private void IndexTerm(XElement element, List<SourceSpan> spans)
    {
        var kind = element.Attribute("class")?.Value;
        if (kind == "endofrange")
        {
            if (element.Attribute("startref")?.Value is { } start)
                spans.Add(new SourceAtom(new IndexEntry(new Id(start), [], EntryKind.RangeEnd)));
            return;
        }
        var headings = new[] { "primary", "secondary", "tertiary" }
            .Select(n => Child(element, n))
            .OfType<XElement>()
            .Select(Words)
            .Where(w => w.Length > 0)
            .ToArray();
        if (headings.Length == 0)
            return;
        var entry = new IndexEntry(Id.None, headings)
        {
            See = Child(element, "see") is { } see ? Words(see) : null,
            SeeAlso = Child(element, "seealso") is { } also ? Words(also) : null,
            FilesUnder = Child(element, "primary")?.Attribute("sortas")?.Value,
            Principal = element.Attribute("significance")?.Value == "preferred",
        };
        if (kind == "startofrange" && IdOf(element) is { } range)
        {
            if (_ends.Contains(range))
                entry = entry with { Id = new Id(range), Kind = EntryKind.RangeStart };
            else
                Tell(ReportKind.Look, $"The index range “{headings[0]}” never ends; it came in as one place.");
        }
        spans.Add(new SourceAtom(entry));
    }

    private string Verbatim(XElement element)
    {
        var text = new StringBuilder();
        void Walk(XNode node)
        {
            if (node is XText t)
                text.Append(t.Value);
            else if (node is XElement { Name.LocalName: "inlinemediaobject" or "mediaobject" } media)
                text.Append(string.Join(' ', media.Elements().Where(e => e.Name.LocalName == "textobject").Select(Words)));
            else if (node is XElement { Name.LocalName: "footnote" } note)
            {
                Tell(ReportKind.Changed, "A note in a listing stands in brackets now.");
                text.Append(" (").Append(Words(note)).Append(')');
            }
            else if (node is XElement { Name.LocalName: "sbr" })
                text.Append('\n');
            else if (node is XElement { Name.LocalName: "optional" } optional)
            {
                text.Append('[');
                foreach (var child in optional.Nodes())
                    Walk(child);
                text.Append(']');
            }
            else if (node is XElement e)
                foreach (var child in e.Nodes())
                    Walk(child);
        }
        foreach (var node in element.Nodes())
            Walk(node);
        return text.ToString().Trim('\n', '\r');
    }

    private static string Synopsis(XElement element)
    {
        var text = new StringBuilder();
        void Walk(XElement parent)
        {
            foreach (var node in parent.Nodes())
                if (node is XText t)
                    text.Append(string.IsNullOrWhiteSpace(t.Value) ? "" : Space().Replace(t.Value, " "));
                else if (node is XElement e)
                    switch (e.Name.LocalName)
                    {
                        case "arg" or "group":
                            var choice = e.Attribute("choice")?.Value ?? "opt";
                            var (open, close) = choice switch
                            {
                                "req" => ("{", "}"),
                                "plain" => ("", ""),
                                _ => ("[", "]"),
                            };
                            if (text.Length > 0 && text[^1] is not (' ' or '\n' or '[' or '{' or '|'))
                                text.Append(' ');
                            text.Append(open);
                            if (e.Name.LocalName == "group")
                            {
                                var first = true;
                                foreach (var arg in e.Elements())
                                {
                                    if (!first)
                                        text.Append(" | ");
                                    first = false;
                                    Walk(new XElement("one", arg.Nodes()));
                                }
                            }
                            else
                                Walk(e);
                            text.Append(close);
                            if (e.Attribute("rep")?.Value == "repeat")
                                text.Append('…');
                            break;
                        case "sbr":
                            text.Append('\n');
                            break;
                        default:
                            if (text.Length > 0 && text[^1] is not (' ' or '\n' or '[' or '{' or '|'))
                                text.Append(e.Name.LocalName == "command" ? " " : "");
                            Walk(e);
                            break;
                    }
        }
        Walk(element);
        return text.ToString().Trim();
    }
}
