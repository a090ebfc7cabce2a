using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Numbering;
using Kivren.Core.References;
using static Kivren.Formats.Docx.Writing.Ooxml;

namespace Kivren.Formats.Docx.Writing;

/// <summary>Words and the atoms between them as runs. References, index entries and notes are fields that hold what they come to, and
/// that a word processor can compute anew.</summary>
internal sealed partial class WordSpans(ComposedManual composed, WordPackage package)
{
    private int _bookmarks;

    /// <summary>Where a field points: of the number of a target, and of its title.</summary>
    public static string NumberMark(Id target) => Name('n', target);

    public static string TitleMark(Id target) => Name('t', target);

    /// <summary>A name of a bookmark: a letter, then letters, digits and underscores, forty in all.</summary>
    private static string Name(char kind, Id id)
    {
        var plain = string.Concat(id.Value.Select(c => char.IsAsciiLetterOrDigit(c) ? c : '_'));
        const int longest = 36;
        return plain.Length <= longest && plain.All(c => c != '_')
            ? $"{kind}_{plain}"
            : $"{kind}_{Convert.ToHexStringLower(SHA1.HashData(Encoding.UTF8.GetBytes(id.Value)))[..30]}";
    }

    /// <summary>Elements within a bookmark.</summary>
    public IEnumerable<XElement> Marked(string name, IEnumerable<XElement> inner)
    {
        var id = N(++_bookmarks);
        yield return El("bookmarkStart", At("id", id), At("name", name));
        foreach (var element in inner)
            yield return element;
        yield return El("bookmarkEnd", At("id", id));
    }

    /// <param name="properties">of every run</param>
    public IEnumerable<XElement> Of(IReadOnlyList<Inline> spans, params XElement[] properties) => spans.SelectMany(i => Of(i, properties));

    private IEnumerable<XElement> Of(Inline inline, XElement[] properties)
    {
        switch (inline)
        {
            case TextRun { Text.Length: > 0 } run:
                return Words(run, properties);
            case CrossReference reference:
                return Reference(reference, properties);
            case VariableUse variable:
                return [Run(composed.Text.Variable(variable.Name) ?? $"[no variable {variable.Name}]", Copies(properties))];
            case Footnote note:
                return
                [
                    El(
                        "r",
                        El("rPr", Val("rStyle", WordStyleSheet.NoteCall.Id)),
                        El("footnoteReference", At("id", N(package.Note(Of(note.Content)))))
                    ),
                ];
            case IndexEntry entry:
                return Entry(entry);
            case Anchor anchor:
                return Marked(TitleMark(anchor.Id), []);
            case InlineEquation equation:
                return [WordEquation.Of(equation.Source) ?? Run(equation.Source, Copies(properties))];
            case InlinePicture picture:
                return
                    package.Picture(
                        picture.Asset,
                        picture.Alternative,
                        composed.Look.Body.Size.InPoints * 6,
                        composed.Look.Body.Size.InPoints
                    )
                        is { } drawn
                    ? [drawn]
                    : [];
            case LineBreak:
                return [El("r", El("br"))];
            default:
                return [];
        }
    }

    private static object?[] Copies(XElement[] properties) => [.. properties.Select(p => new XElement(p))];

    private static readonly SpanRoles[] Styled =
    [
        SpanRoles.Code,
        SpanRoles.PartNumber,
        SpanRoles.Control,
        SpanRoles.Key,
        SpanRoles.Term,
        SpanRoles.Product,
        SpanRoles.Foreign,
        SpanRoles.Strong,
        SpanRoles.Emphasis,
    ];

    /// <summary>A run has one style: its strongest role's; emphasis beside it is said by itself.</summary>
    private IEnumerable<XElement> Words(TextRun run, XElement[] properties)
    {
        var role = Styled.FirstOrDefault(r => run.Roles.HasFlag(r));
        var style = run.OwnRole is { } own ? WordStyleSheet.OwnStyle(own) : WordStyleSheet.Of(role);
        bool Also(SpanRoles r) => run.Roles.HasFlag(r) && (role != r || run.OwnRole is not null);
        object?[] says =
        [
            style is null ? null : Val("rStyle", style.Id),
            .. Copies(properties),
            Also(SpanRoles.Strong) && properties.All(p => p.Name.LocalName != "b") ? El("b") : null,
            Also(SpanRoles.Emphasis) ? El("i") : null,
            run.Roles.HasFlag(SpanRoles.SmallCaps) ? El("smallCaps") : null,
            run.Roles.HasFlag(SpanRoles.Sub) ? Val("vertAlign", "subscript")
            : run.Roles.HasFlag(SpanRoles.Sup) ? Val("vertAlign", "superscript")
            : null,
        ];
        var text = run.Roles.HasFlag(SpanRoles.NoBreak) ? run.Text.Replace(' ', '\u00A0') : run.Text;
        var made = Run(text, says);
        return run.Web is { } web && WebAddress.Leads(web) && package.Link(web) is { } link
            ? [El("hyperlink", new XAttribute(R + "id", link), made)]
            : [made];
    }

    [GeneratedRegex(@"\{[^{}]*\}", RegexOptions.CultureInvariant)]
    private static partial Regex Source();

    /// <summary>The pattern of its form, with a field for each source that the target has.</summary>
    private IEnumerable<XElement> Reference(CrossReference reference, XElement[] properties)
    {
        XElement Words(string text) => Run(text, Copies(properties));
        if (reference is not { Other: null, Instead: null } || composed.Numbers.Find(reference.Target) is not { Target: var target })
            return [Words(composed.Print(reference))];
        var form = composed.Look.Form(reference.Form);
        var pattern = ReferenceText.PatternFor(target, form, composed.Words);
        if (composed.Look.PageAfterReferences && !form.NamesPage)
            pattern += $" ({composed.Words["page"]}\u00A0{{folio}})";
        var runs = new List<XElement>();
        var at = 0;
        foreach (Match source in Source().Matches(pattern))
        {
            if (source.Index > at)
                runs.Add(Words(pattern[at..source.Index]));
            at = source.Index + source.Length;
            // A target that has no words of its own to be pointed at is named in plain text.
            runs.AddRange(
                source.Value switch
                {
                    "{number}" when package.IsMarked(NumberMark(target.Id)) => Field(
                        $"REF {NumberMark(target.Id)} \\h",
                        [Words(target.Number.Replace(' ', '\u00A0'))]
                    ),
                    "{title}" or "{caption}" when package.IsMarked(TitleMark(target.Id)) => Field(
                        $"REF {TitleMark(target.Id)} \\h",
                        [Words(target.Title)]
                    ),
                    "{folio}" when package.IsMarked(TitleMark(target.Id)) => Field(
                        $"PAGEREF {TitleMark(target.Id)} \\h",
                        [Words(composed.Places.Folio(target.Id))]
                    ),
                    "{number}" => [Words(target.Number)],
                    "{title}" or "{caption}" => [Words(target.Title)],
                    "{folio}" => [Words(composed.Places.Folio(target.Id))],
                    "{name}" => [Words(target.Name)],
                    "{page-phrase}" => [Words(composed.Places.Phrase(reference.Id, target.Id))],
                    "{direction}" =>
                    [
                        Words(composed.Places.IsAbove(reference.Id, target.Id) ? composed.Words["above"] : composed.Words["below"]),
                    ],
                    _ => Array.Empty<XElement>(),
                }
            );
        }
        if (at < pattern.Length)
            runs.Add(Words(pattern[at..]));
        return runs;
    }

    /// <summary>An entry; a range is a bookmark from its start to its end, which the entry names.</summary>
    private IEnumerable<XElement> Entry(IndexEntry entry)
    {
        var mark = Name('x', entry.Id);
        if (entry.Kind == EntryKind.RangeEnd)
            return package.EndRange(mark) is { } id ? [El("bookmarkEnd", At("id", id))] : [];
        static string Quoted(string text) =>
            text.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal);
        var said = new StringBuilder(
            $"XE \"{Quoted(string.Join(':', entry.Headings.Select(h => h.Replace(":", "\\:", StringComparison.Ordinal))))}\""
        );
        if (entry.See is { Length: > 0 } see)
            said.Append(CultureInfo.InvariantCulture, $" \\t \"{composed.Words["see"]} {Quoted(see)}\"");
        else if (entry.SeeAlso is { Length: > 0 } also)
            said.Append(CultureInfo.InvariantCulture, $" \\t \"{composed.Words["seeAlso"]} {Quoted(also)}\"");
        if (entry.Principal)
            said.Append(" \\b");
        var isRange = entry.Kind == EntryKind.RangeStart && package.HasRangeEnd(entry.Id);
        if (isRange)
            said.Append(CultureInfo.InvariantCulture, $" \\r {mark}");
        XElement[] field =
        [
            El("r", El("fldChar", At("fldCharType", "begin"))),
            El("r", El("instrText", new XAttribute(XNamespace.Xml + "space", "preserve"), $" {Flowing.Xhtml.Clean(said.ToString())} ")),
            El("r", El("fldChar", At("fldCharType", "end"))),
        ];
        if (!isRange)
            return field;
        var start = N(++_bookmarks);
        package.BeginRange(mark, start);
        return [El("bookmarkStart", At("id", start), At("name", mark)), .. field];
    }
}
