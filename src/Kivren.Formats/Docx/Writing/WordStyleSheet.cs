using System.Xml.Linq;
using Kivren.Core;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Type;
using static Kivren.Formats.Docx.Writing.Ooxml;

namespace Kivren.Formats.Docx.Writing;

/// <summary>A paragraph or character style of the file: its id and its name, by which it is known when the file is brought in.</summary>
internal sealed record WordStyle(string Id, string Name);

/// <summary>The styles of a word-processing file, dressed as the look dresses the roles.</summary>
internal sealed class WordStyleSheet
{
    public static readonly WordStyle Body = new("Normal", "Normal"),
        Part = new("PartTitle", "Part Title"),
        Division = new("Heading1", "heading 1"),
        Listing = new("Listing", "Listing"),
        Caption = new("Caption", "caption"),
        Title = new("Title", "Title"),
        Subtitle = new("Subtitle", "Subtitle"),
        Quotation = new("Quote", "Quote"),
        Aside = new("Sidebar", "Sidebar"),
        AsideTitle = new("SidebarTitle", "Sidebar Head"),
        Example = new("Example", "Example"),
        Term = new("DefinedTerm", "Defined Term"),
        Definition = new("Definition", "Definition"),
        Note = new("FootnoteText", "footnote text"),
        NoteCall = new("FootnoteReference", "footnote reference"),
        IndexLine = new("Index1", "index 1"),
        Header = new("Header", "header"),
        Cell = new("TableText", "Table Text"),
        CellHead = new("TableHead", "Table Head"),
        Link = new("Hyperlink", "Hyperlink");

    public static readonly WordStyle[] Items =
    [
        new("ListBullet", "List Bullet"),
        new("ListNumber", "List Number"),
        new("ListLetter", "List Letter"),
        new("Steps", "Steps"),
    ];

    public static WordStyle HeadOf(HeadLevel level) => new($"Heading{(int)level + 1}", $"heading {(int)level + 1}");

    public static WordStyle ContentsOf(int level) => new($"TOC{level}", $"toc {level}");

    public static WordStyle Of(AdmonitionKind kind) => new(kind.ToString(), kind.ToString());

    public static WordStyle? Of(SpanRoles role) =>
        role switch
        {
            SpanRoles.Emphasis => new("Emphasis", "Emphasis"),
            SpanRoles.Strong => new("Strong", "Strong"),
            SpanRoles.Control => new("ControlName", "Control"),
            SpanRoles.Code => new("CodeWords", "Code Words"),
            SpanRoles.Term => new("TermWord", "Term Word"),
            SpanRoles.Key => new("KeyName", "Key"),
            SpanRoles.PartNumber => new("PartNumber", "Part Number"),
            SpanRoles.Product => new("ProductName", "Product Name"),
            SpanRoles.Foreign => new("ForeignWords", "Foreign Words"),
            _ => null,
        };

    private readonly Look _look;
    private readonly XElement _styles;

    private readonly EmphasisDots _dots;

    /// <summary>Families for letters that the faces of the look lack; null where the language has none such.</summary>
    private readonly string? _fromRight,
        _squares;

    private WordStyleSheet(Look look, string language)
    {
        _look = look;
        var writing = Core.Type.Writing.Of(language);
        _dots = writing.Dots;
        var plain = look.Body.Plain;
        // Alef, in Hebrew and in Arabic.
        var letter = language.StartsWith("he", StringComparison.OrdinalIgnoreCase) ? '\u05D0' : '\u0627';
        _fromRight = writing.RightToLeft ? ScriptFaces.For(letter, plain, writing)?.Family : null;
        _squares = writing.IsSquare ? ScriptFaces.For('\u4E00', plain, writing)?.Family : null;
        _styles = El(
            "styles",
            new XAttribute(XNamespace.Xmlns + "w", W),
            El(
                "docDefaults",
                El(
                    "rPrDefault",
                    El(
                        "rPr",
                        Fonts(look.Body.Plain.Face),
                        Size(look.Body),
                        El(
                            "lang",
                            At("val", language),
                            _squares is null ? null : At("eastAsia", language),
                            _fromRight is null ? null : At("bidi", language)
                        )
                    )
                ),
                El("pPrDefault", El("pPr"))
            )
        );
    }

    public static XElement Of(Look look, Manual manual)
    {
        var sheet = new WordStyleSheet(look, manual.Language);
        sheet.Paragraph(Body, look.Body, isDefault: true);
        sheet.Paragraph(Part, look.DivisionTitle, outline: 0);
        sheet.Paragraph(Division, look.DivisionTitle, outline: 0);
        for (var level = HeadLevel.A; level <= HeadLevel.D; level++)
            sheet.Paragraph(HeadOf(level), look.HeadDress(level), outline: (int)level);
        foreach (var (style, role) in new[] { (Title, "title"), (Subtitle, "subtitle"), (Quotation, "quotation") })
            sheet.Paragraph(style, look.DressOf(role, default));
        foreach (var role in new[] { "lead", "imprint", "result" })
            sheet.Paragraph(RoleStyle(role), look.DressOf(role, default));
        foreach (var item in Items)
            sheet.Paragraph(item, look.ListText);
        foreach (var kind in Enum.GetValues<AdmonitionKind>())
            sheet.Paragraph(Of(kind), look.AdmonitionText);
        sheet.Paragraph(Listing, look.ListingText);
        sheet.Paragraph(Caption, look.Caption);
        sheet.Paragraph(Aside, look.AsideText);
        sheet.Paragraph(AsideTitle, look.AsideTitle);
        sheet.Paragraph(Example, look.AsideTitle);
        sheet.Paragraph(Term, look.Term);
        sheet.Paragraph(Definition, look.ListText);
        sheet.Paragraph(Note, look.NoteText);
        sheet.Paragraph(IndexLine, look.Index.Text);
        sheet.Paragraph(Header, look.Caption);
        sheet.Paragraph(Cell, look.Table.Text);
        sheet.Paragraph(CellHead, look.Table.Head);
        for (var level = 1; level <= 4; level++)
            sheet.Paragraph(ContentsOf(level), look.ListText);
        foreach (var role in Enum.GetValues<SpanRoles>())
            if (Of(role) is { } style)
                sheet.Words(style, look.Body.Style(role));
        sheet.Character(NoteCall, Val("vertAlign", "superscript"));
        sheet.Character(Link, null);
        foreach (var own in manual.Roles)
            sheet.Own(own);
        sheet._styles.Add(
            El(
                "style",
                At("type", "table"),
                At("styleId", "Ruled"),
                Val("name", "Ruled"),
                El(
                    "tblPr",
                    El("tblBorders", Border("top", 8), Border("bottom", 8), Border("insideH", 2)),
                    El("tblCellMar", Margin("left"), Margin("right"))
                )
            )
        );
        return sheet._styles;
    }

    public static WordStyle RoleStyle(string role) =>
        role switch
        {
            "lead" => new("Lead", "Lead"),
            "imprint" => new("Imprint", "Imprint"),
            "result" => new("Result", "Result"),
            "title" => Title,
            "subtitle" => Subtitle,
            "quotation" => Quotation,
            _ => Body,
        };

    /// <summary>A role of the manual's own is a style of its name, founded on that of its foundation.</summary>
    public static WordStyle OwnStyle(string role) =>
        new("Own" + string.Concat(role.Where(char.IsAsciiLetterOrDigit)) + N(Math.Abs(StableHash(role)) % 1000), role);

    private static int StableHash(string text) => text.Aggregate(17, (h, c) => unchecked(h * 31 + c)) & 0x7FFFFFFF;

    private static XElement Border(string side, int eighths) =>
        El(side, At("val", "single"), At("sz", N(eighths)), At("space", "0"), At("color", "auto"));

    private static XElement Margin(string side) => El(side, At("w", "80"), At("type", "dxa"));

    private void Paragraph(WordStyle style, Dress dress, int? outline = null, bool isDefault = false)
    {
        if (_styles.Elements().Any(s => s.Attribute(W + "styleId")?.Value == style.Id))
            return;
        _styles.Add(
            El(
                "style",
                At("type", "paragraph"),
                isDefault ? At("default", "1") : null,
                At("styleId", style.Id),
                Val("name", style.Name),
                isDefault ? null : Val("basedOn", Body.Id),
                Val("next", Body.Id),
                El("qFormat"),
                El(
                    "pPr",
                    outline is not null || dress.KeepsNext ? El("keepNext") : null,
                    dress.Together ? El("keepLines") : null,
                    El(
                        "spacing",
                        At("before", Twips(dress.Before)),
                        At("after", Twips(dress.After + (isDefault ? Length.Points(4) : default))),
                        At("line", Twips(dress.Leading)),
                        At("lineRule", "atLeast")
                    ),
                    El("ind", At("left", Twips(dress.Left)), At("firstLine", Twips(dress.FirstIndent))),
                    Val(
                        "jc",
                        dress.Alignment switch
                        {
                            Alignment.Justified => "both",
                            Alignment.Centred => "center",
                            _ => "left",
                        }
                    ),
                    outline is { } level ? Val("outlineLvl", N(level)) : null
                ),
                El("rPr", Letters(dress.Plain.Face), Capitals(dress.Plain), Colour(dress.Plain.Ink), Size(dress))
            )
        );
    }

    private void Own(OwnRole own)
    {
        var isWords = Enum.TryParse<SpanRoles>(own.Foundation, ignoreCase: true, out _);
        _styles.Add(
            El(
                "style",
                At("type", isWords ? "character" : "paragraph"),
                At("customStyle", "1"),
                At("styleId", OwnStyle(own.Name).Id),
                Val("name", own.Name),
                isWords ? null : Val("basedOn", Body.Id)
            )
        );
    }

    private void Words(WordStyle style, TextStyle text)
    {
        // Dots of emphasis take the place of the slope.
        var dots = text.Dotted ? _dots : EmphasisDots.None;
        Character(
            style,
            [
                .. dots == EmphasisDots.None ? Letters(text.Face) : [Fonts(text.Face)],
                Capitals(text),
                Colour(text.Ink),
                dots == EmphasisDots.None ? null : Val("em", dots == EmphasisDots.Above ? "dot" : "underDot"),
            ]
        );
    }

    private static XElement? Capitals(TextStyle text) =>
        text.Features.HasFlag(Features.Capitals) ? El("caps")
        : text.Features.HasFlag(Features.SmallCaps) ? El("smallCaps")
        : null;

    private void Character(WordStyle style, params object?[]? properties) =>
        _styles.Add(
            El(
                "style",
                At("type", "character"),
                At("styleId", style.Id),
                Val("name", style.Name),
                properties is { Length: > 0 } && properties.Any(p => p is not null) ? El("rPr", properties) : null
            )
        );

    private XElement Fonts(Face face) =>
        El(
            "rFonts",
            At("ascii", face.Family),
            At("hAnsi", face.Family),
            _squares is null ? null : At("eastAsia", _squares),
            At("cs", _fromRight ?? face.Family)
        );

    private object[] Letters(Face face) =>
        [
            Fonts(face),
            .. face.Weight >= 600 ? [El("b"), El("bCs")] : Array.Empty<object>(),
            .. face.Italic ? [El("i"), El("iCs")] : Array.Empty<object>(),
        ];

    private static XElement? Colour(Tone ink) =>
        ink.Screen is { } rgb ? Val("color", rgb.ToString("X6", System.Globalization.CultureInfo.InvariantCulture)) : null;

    /// <summary>In half points, for letters of all scripts.</summary>
    private static object[] Size(Dress dress)
    {
        var half = N((int)Math.Round(dress.Size.InPoints * 2, MidpointRounding.AwayFromZero));
        return [Val("sz", half), Val("szCs", half)];
    }
}
