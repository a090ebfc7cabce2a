using System.Globalization;
using System.Xml.Linq;
using DocumentFormat.OpenXml.Packaging;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Docx;

// Words in a line: runs, links, signs, notes, fields.
public sealed partial class WordReader
{
    /// <summary>A paragraph's spans as they come, and what stands in it but is a block of its own.</summary>
    private sealed class SpanRun
    {
        public List<SourceSpan> Spans { get; } = [];
        public List<SourceBlock> Before { get; } = [];
        public List<SourceBlock> After { get; } = [];
        public List<SourceBlock> Generated { get; } = [];
        public List<(SourcePicture Picture, bool Small)> Pictures { get; } = [];
    }

    private WordField? Swallowing => _fields.FirstOrDefault(f => f.InResult && f.Generates is not null);

    /// <summary>Adds a span where the innermost open field wants it.</summary>
    private void Add(SpanRun into, SourceSpan span)
    {
        if (Swallowing is { } list)
        {
            if (span is SourceRun run)
                list.Swallowed.Append(run.Text);
            else if (span is SourceTab)
                list.Swallowed.Append(' ');
            return;
        }
        if (_fields.Count > 0)
        {
            var field = _fields[^1];
            if (field.InResult)
                field.Result.Add(span);
            else if (span is SourceBookmark or SourceComment)
                into.Spans.Add(span);
            else if (span is SourceRun run)
                field.Instruction.Append(run.Text);
            return;
        }
        into.Spans.Add(span);
    }

    private void Inlines(XElement container, SpanRun into, string? web = null)
    {
        foreach (var element in container.Elements())
            switch (element.Name.LocalName)
            {
                case "r":
                    Run(element, into, web);
                    break;
                case "hyperlink":
                    Hyperlink(element, into);
                    break;
                case "ins" or "moveTo" or "del" or "moveFrom":
                    var before = _tracked;
                    _tracked = element.Name.LocalName is "ins" or "moveTo" ? Tracked.Inserted : Tracked.Deleted;
                    Inlines(element, into, web);
                    _tracked = before;
                    break;
                case "fldSimple":
                    _fields.Add(new WordField());
                    _fields[^1].Instruction.Append(element.Get("instr"));
                    _fields[^1].InResult = true;
                    Inlines(element, into, web);
                    EndField(into);
                    break;
                case "bookmarkStart" when element.Get("name") is { } name && Visible(name):
                    _bookmarks[element.Get("id") ?? ""] = name;
                    Add(into, new SourceBookmark(name));
                    break;
                case "bookmarkEnd" when _bookmarks.TryGetValue(element.Get("id") ?? "", out var ended):
                    Add(into, new WordRanges.End(ended));
                    break;
                case "sdt":
                    Inlines(element.One("sdtContent") ?? element, into, web);
                    break;
                case "smartTag" or "customXml" or "dir" or "bdo":
                    Inlines(element, into, web);
                    break;
                case "oMath":
                    Add(into, new SourceAtom(new InlineEquation(Id.None, LinearEquation.From(element), "")));
                    break;
                case "oMathPara":
                    into.After.Add(new SourceEquation(_place, LinearEquation.From(element), ""));
                    break;
                case "AlternateContent":
                    if ((element.One("Choice") ?? element.One("Fallback")) is { } choice)
                        Inlines(choice, into, web);
                    break;
            }
    }

    private readonly Dictionary<string, string> _bookmarks = new(StringComparer.Ordinal);

    private void Hyperlink(XElement element, SpanRun into)
    {
        if (element.Get("anchor") is { } anchor && element.Get("id") is null)
        {
            var inner = new SpanRun();
            Inlines(element, inner);
            into.Pictures.AddRange(inner.Pictures);
            if (Swallowing is not null)
                return;
            Add(into, new SourceReference(anchor, "", inner.Spans.Words()));
            return;
        }
        string? address = null;
        if (element.Get("id") is { } id)
            try
            {
                address = _part!.HyperlinkRelationships.FirstOrDefault(h => h.Id == id)?.Uri.OriginalString;
            }
            catch (Exception e) when (e is UriFormatException or OpenXmlPackageException or InvalidOperationException)
            {
                TellOnce(ReportKind.Changed, "A link leads to an address that cannot be read; its words were kept.");
            }
        Inlines(element, into, address is not null && Uri.TryCreate(address, UriKind.Absolute, out _) ? address : null);
    }

    private SpanRoles Roles(XElement? properties)
    {
        var roles = SpanRoles.None;
        if (properties is null)
            return roles;
        if (properties.On("b"))
            roles |= SpanRoles.Strong;
        if (properties.On("i"))
            roles |= SpanRoles.Emphasis;
        if (properties.On("u"))
            roles |= SpanRoles.Emphasis;
        if (properties.On("smallCaps"))
            roles |= SpanRoles.SmallCaps;
        if (properties.Val("vertAlign") is { } vertical)
            roles |= vertical switch
            {
                "superscript" => SpanRoles.Sup,
                "subscript" => SpanRoles.Sub,
                _ => SpanRoles.None,
            };
        if (WordStyles.IsMono(properties.One("rFonts")))
            roles |= SpanRoles.Code;
        if (properties.On("strike") || properties.On("dstrike"))
            TellOnce(ReportKind.Changed, "Struck-through words came in as plain words.");
        return roles;
    }

    private void Run(XElement r, SpanRun into, string? web)
    {
        var properties = r.One("rPr");
        var roles = Roles(properties);
        var style =
            properties.Val("rStyle") is { } id
            && _styles.NameOf(id) is { Length: > 0 } name
            && name
                is not (
                    "Default Paragraph Font"
                    or "Hyperlink"
                    or "FollowedHyperlink"
                    or "footnote reference"
                    or "endnote reference"
                    or "annotation reference"
                )
                ? name
                : null;
        var hidden = properties.On("vanish");
        foreach (var element in r.Elements())
            switch (element.Name.LocalName)
            {
                case "t" when hidden && Swallowing is null && _fields.Count == 0:
                    Tell(ReportKind.LeftOut, "Hidden words were left out.", element.Value);
                    break;
                case "t":
                    Add(into, new SourceRun(element.Value, roles, style, web) { Tracked = _tracked });
                    break;
                case "delText":
                    Add(into, new SourceRun(element.Value, roles, style, web) { Tracked = Tracked.Deleted });
                    break;
                case "instrText" or "delInstrText":
                    if (_fields.Count > 0 && !_fields[^1].InResult)
                        _fields[^1].Instruction.Append(element.Value);
                    break;
                case "fldChar":
                    FieldCharacter(element.Get("fldCharType"), into);
                    break;
                case "tab" or "ptab":
                    Add(into, SourceTab.Instance);
                    break;
                case "br" when element.Get("type") is "page":
                    (into.Spans.Words().Trim().Length == 0 ? into.Before : into.After).Add(new SourceBreak(_place));
                    break;
                case "br" when element.Get("type") is "column":
                    break;
                case "br" or "cr":
                    Add(into, new SourceAtom(LineBreak.Instance));
                    break;
                case "noBreakHyphen":
                    Add(into, new SourceRun("\u2011", roles, style, web) { Tracked = _tracked });
                    break;
                case "softHyphen":
                    Add(into, new SourceRun("\u00AD", roles, style, web) { Tracked = _tracked });
                    break;
                case "sym":
                    Symbol(element, roles, into);
                    break;
                case "footnoteReference":
                    Note(element, _footnotes, _footnotesPart, into);
                    break;
                case "endnoteReference":
                    TellOnce(ReportKind.Changed, "Endnotes came in as notes: the look says whether notes stand at the foot or at the end.");
                    Note(element, _endnotes, _endnotesPart, into);
                    break;
                case "commentReference" when _comments.TryGetValue(element.Get("id") ?? "", out var comment):
                    Add(into, new SourceComment(comment.By, comment.Text));
                    break;
                case "drawing":
                    Drawing(element, into);
                    break;
                case "pict" or "object":
                    OldPicture(element, into);
                    break;
                case "AlternateContent":
                    if ((element.One("Choice") ?? element.One("Fallback")) is { } choice)
                        Run(new XElement(r.Name, properties, choice.Elements()), into, web);
                    break;
                case "ruby":
                    TellOnce(ReportKind.Changed, "Readings set above words came in behind them, in brackets.");
                    foreach (var part in element.One("rubyBase").Many("r"))
                        Run(part, into, web);
                    if (
                        string.Concat(element.One("rt")?.Descendants().Where(t => t.Name.LocalName == "t").Select(t => t.Value) ?? []) is
                        { Length: > 0 } reading
                    )
                        Add(into, new SourceRun($" ({reading})", roles, style, web) { Tracked = _tracked });
                    break;
            }
    }

    private void Symbol(XElement element, SpanRoles roles, SpanRun into)
    {
        if (!int.TryParse(element.Get("char"), NumberStyles.HexNumber, CultureInfo.InvariantCulture, out var code))
            return;
        if (code is < 0x20 or > 0xFFFF or (>= 0xD800 and <= 0xDFFF))
            return;
        var text = SignFaces.Of(element.Get("font") ?? "", code) ?? (code is >= 0xF000 and <= 0xF0FF ? "\uFFFD" : ((char)code).ToString());
        if (text == "\uFFFD")
            Tell(
                ReportKind.Look,
                $"A sign of the face “{element.Get("font")}” (number {element.Get("char")}) is not known; it stands as �."
            );
        Add(into, new SourceRun(text, roles) { Tracked = _tracked });
    }

    private void Note(XElement reference, Dictionary<string, XElement> notes, OpenXmlPart? part, SpanRun into)
    {
        if (reference.Get("id") is not { } id || !notes.TryGetValue(id, out var note))
            return;
        // A note's own fields must not run into the text's.
        var fields = _fields.ToArray();
        _fields.Clear();
        var place = _place;
        var joined = _joined;
        _joined = [];
        // Links of a note are told in the notes' own part.
        var text = _part;
        _part = part ?? text;
        var blocks = Blocks(note).Where(b => new[] { b }.Words().Trim().Length > 0 || b is SourcePicture).ToList();
        _part = text;
        _joined = joined;
        _place = place;
        _fields.Clear();
        _fields.AddRange(fields);
        Add(into, new SourceNote(blocks));
    }

    private void FieldCharacter(string? kind, SpanRun into)
    {
        if (kind == "begin")
            _fields.Add(new WordField());
        else if (kind == "separate" && _fields.Count > 0)
            _fields[^1].InResult = true;
        else if (kind == "end" && _fields.Count > 0)
            EndField(into);
    }

    private void EndField(SpanRun into)
    {
        var field = _fields[^1];
        var swallowed = Swallowing;
        _fields.RemoveAt(_fields.Count - 1);
        if (field.Generates is { } kind)
        {
            if (swallowed is null || ReferenceEquals(swallowed, field))
                into.Generated.Add(new SourceGenerated(_place, kind, field.Swallowed.ToString().Trim()));
            return;
        }
        if (Swallowing is not null)
            return;
        if (field.Entry is { } found)
        {
            if (found.Range is { } bookmark)
            {
                _ranges.Add((bookmark, found.Entry));
                return;
            }
            Add(into, new SourceAtom(found.Entry));
        }
        else if (field.Reference is { } reference)
        {
            foreach (var other in field.Result.Where(s => s is SourceBookmark or SourceComment))
                Add(into, other);
            var roles = field.Result.OfType<SourceRun>().Select(r => r.Roles & ~(SpanRoles.Sup | SpanRoles.Sub)).FirstOrDefault();
            Add(into, new SourceReference(reference.Target, reference.Form, field.Result.Words(), roles));
        }
        else
            foreach (var span in field.Result)
                Add(into, span is SourceRun run && field.Web is { } address ? run with { Web = address } : span);
    }
}
