using System.Globalization;
using System.Net;
using System.Text;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Type;
using Kivren.Formats.Pictures;

namespace Kivren.Formats.Svg;

/// <summary>Paints a page as SVG to be put into a document, so that the page's faces reach it (composition.md 11): each
/// word at its own place, with the block it belongs to.</summary>
public static class SvgPainter
{
    /// <param name="picture">bytes and media type of a picture by asset name</param>
    public static string Paint(DisplayPage page, Func<string, (byte[] Bytes, string MediaType)?> picture)
    {
        var svg = new StringBuilder(16384);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {N(page.Width)} {N(page.Height)}\" class=\"page\" "
                + $"font-kerning=\"normal\">"
        );
        svg.Append("<rect class=\"paper\" width=\"100%\" height=\"100%\" fill=\"#fff\"/>");
        TextStyle? open = null;
        Id openBlock = Id.None;
        int openY = int.MinValue,
            tracking = 0;
        var inText = false;
        void Close()
        {
            if (inText)
                svg.Append("</text>");
            inText = false;
        }
        foreach (var item in page.Items)
            switch (item)
            {
                case WordItem { Word.Word.Built: true } built:
                    Close();
                    Glyphs(svg, built);
                    break;
                case WordItem { Turned: true } down:
                    Close();
                    Down(svg, down);
                    break;
                case WordItem word:
                    var style = word.Word.Style;
                    if (
                        !inText
                        || !ReferenceEquals(style, open)
                        || openBlock != word.Block
                        || openY != word.Y
                        || tracking != word.Word.Tracking
                    )
                    {
                        Close();
                        svg.Append(
                            CultureInfo.InvariantCulture,
                            $"<text font-family=\"{Family(style.Face)}\" font-size=\"{N(style.Size.Millipoints)}\""
                        );
                        tracking = word.Word.Tracking;
                        if (tracking != 0)
                            svg.Append(CultureInfo.InvariantCulture, $" letter-spacing=\"{N(tracking)}\"");
                        if (!word.Block.IsNone)
                            svg.Append(CultureInfo.InvariantCulture, $" data-block=\"{WebUtility.HtmlEncode(Whole(word.Block))}\"");
                        if (Part(word.Block) is { Length: > 0 } part)
                            svg.Append(CultureInfo.InvariantCulture, $" data-part=\"{WebUtility.HtmlEncode(part)}\"");
                        if (style.Ink != default)
                            svg.Append(CultureInfo.InvariantCulture, $" fill=\"{Colour(style.Ink)}\"");
                        if (style.Features != Features.None || tracking != 0)
                            svg.Append(CultureInfo.InvariantCulture, $" style=\"font-feature-settings:{FeatureTags(style.Features)}\"");
                        svg.Append(CultureInfo.InvariantCulture, $" y=\"{N(word.Y)}\">");
                        (open, openBlock, openY, inText) = (style, word.Block, word.Y, true);
                    }
                    svg.Append(
                        CultureInfo.InvariantCulture,
                        $"<tspan x=\"{N(word.X)}\">"
                            + $"{WebUtility.HtmlEncode(Shown(word.Word))}"
                            + $"{(word.Word.Hyphen ? "-" : "")}</tspan>"
                    );
                    break;
                case RuleItem rule:
                    Close();
                    svg.Append(
                        CultureInfo.InvariantCulture,
                        $"<rect x=\"{N(rule.X)}\" y=\"{N(rule.Y)}\" width=\"{N(rule.Width)}\" height=\"{N(rule.Height)}\" "
                            + $"fill=\"{Colour(rule.Tone)}\"/>"
                    );
                    break;
                case DotItem dot:
                    Close();
                    svg.Append(
                        CultureInfo.InvariantCulture,
                        $"<circle cx=\"{N(dot.X)}\" cy=\"{N(dot.Y)}\" r=\"{N(dot.Radius)}\" fill=\"{Colour(dot.Tone)}\"/>"
                    );
                    break;
                case LeaderItem leader:
                    Close();
                    var step = leader.Style.Size.Millipoints * 45 / 100;
                    var start = leader.To - (leader.To - leader.X) / step * step;
                    svg.Append(
                        CultureInfo.InvariantCulture,
                        $"<line x1=\"{N(start + 700)}\" x2=\"{N(leader.To)}\" y1=\"{N(leader.Y - 450)}\" "
                            + $"y2=\"{N(leader.Y - 450)}\" stroke=\"{Colour(leader.Style.Ink)}\" "
                            + $"stroke-width=\"1\" stroke-linecap=\"round\" "
                            + $"stroke-dasharray=\"0 {N(step)}\"/>"
                    );
                    break;
                case PictureItem item2:
                    Close();
                    if (item2.Turned)
                        svg.Append(CultureInfo.InvariantCulture, $"<g transform=\"rotate(90 {N(item2.X)} {N(item2.Y)})\">");
                    Picture(svg, item2, picture(item2.Asset));
                    if (item2.Turned)
                        svg.Append("</g>");
                    break;
            }
        Close();
        foreach (var link in page.Links)
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<rect class=\"link\" x=\"{N(link.X)}\" y=\"{N(link.Y)}\" width=\"{N(link.Width)}\" height=\"{N(link.Height)}\" "
                    + $"fill=\"transparent\" data-target=\"{WebUtility.HtmlEncode(link.Target.Value ?? "")}\"/>"
            );
        return svg.Append("</svg>").ToString();
    }

    /// <summary>The name the proof loads a face under: its file, so that no weight or style is ever made up.</summary>
    public static string Family(Face face) => FamilyOf(face.Name);

    public static string FamilyOf(string face) => "Kivren " + face;

    /// <summary>The block that a part of a generated list, or a listing's lines, belong to.</summary>
    private static string Whole(Id block) =>
        block.Value.IndexOf('⟨', StringComparison.Ordinal) is var cut and > 0 ? block.Value[..cut] : block.Value;

    /// <summary>Which part of a generated list.</summary>
    private static string Part(Id block) =>
        block.Value is { } value && value.IndexOf('⟨', StringComparison.Ordinal) is var cut and > 0 ? value[(cut + 1)..].TrimEnd('⟩') : "";

    /// <summary>Ligatures are asked for by name: a browser drops them where letters are spaced.</summary>
    private static string FeatureTags(Features features) =>
        "'liga','clig'"
        + string.Concat(
            new[]
            {
                (Features.SmallCaps, "'smcp'"),
                (Features.OldStyle, "'onum'"),
                (Features.Tabular, "'tnum','lnum'"),
                (Features.HalfWidth, "'halt'"),
            }
                .Where(f => features.HasFlag(f.Item1))
                .Select(f => "," + f.Item2)
        );

    /// <summary>Glyphs that no character asks for, as in mathematics, are drawn as outlines.</summary>
    private static void Glyphs(StringBuilder svg, WordItem item)
    {
        var (word, style) = (item.Word.Word, item.Word.Style);
        long x = item.X;
        foreach (var glyph in word.Glyphs)
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<path transform=\"translate({N((int)x)} {N(item.Y)})\" d=\"{GlyphOutlines.Of(style.Face, glyph, style.Size.InPoints)}\"/>"
            );
            x += style.Scale(word.WidthOf(0, word.Glyphs.Length));
        }
    }

    /// <summary>A word that runs down the page.</summary>
    private static void Down(StringBuilder svg, WordItem item)
    {
        var (word, style) = (item.Word, item.Word.Style);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<text font-family=\"{Family(style.Face)}\" font-size=\"{N(style.Size.Millipoints)}\" fill=\"{Colour(style.Ink)}\" "
                + $"transform=\"translate({N(item.X)} {N(item.Y)}) rotate(90)\""
        );
        if (word.Tracking != 0)
            svg.Append(CultureInfo.InvariantCulture, $" letter-spacing=\"{N(word.Tracking)}\"");
        svg.Append(
            CultureInfo.InvariantCulture,
            $" style=\"font-feature-settings:{FeatureTags(style.Features)}\">" + $"{WebUtility.HtmlEncode(Shown(word))}</text>"
        );
    }

    /// <summary>The characters of a word. One that is read from the right says so, or a browser would take a bracket alone for one that is
    /// read from the left.</summary>
    private static string Shown(in LineWord word)
    {
        var characters = word.Word.ShownCharacters(word.From, word.To).ToString();
        return word.Word.RightToLeft ? $"\u202E{characters}\u202C" : characters;
    }

    private static string Colour(Tone tone)
    {
        if (tone.Screen is { } rgb)
            return $"#{rgb:x6}";
        var level = 0x11 + (0xFF - 0x11) * tone.Grey / 100;
        return $"#{level:x2}{level:x2}{level:x2}";
    }

    private static string N(int millipoints) => (millipoints / 1000m).ToString("0.###", CultureInfo.InvariantCulture);

    private static string D(double value) => Math.Round(value, 3).ToString("0.###", CultureInfo.InvariantCulture);

    private static void Picture(StringBuilder svg, PictureItem item, (byte[] Bytes, string MediaType)? picture)
    {
        var box = string.Create(
            CultureInfo.InvariantCulture,
            $"x=\"{N(item.X)}\" y=\"{N(item.Y)}\" width=\"{N(item.Width)}\" height=\"{N(item.Height)}\""
        );
        var label =
            $"role=\"img\" aria-label=\"{WebUtility.HtmlEncode(item.Alternative)}\" "
            + $"data-block=\"{WebUtility.HtmlEncode(item.Block.Value)}\"";
        if (picture is not { } p)
        {
            svg.Append(CultureInfo.InvariantCulture, $"<rect {box} {label} fill=\"none\" stroke=\"#a2303a\" stroke-dasharray=\"3 3\"/>");
            return;
        }
        if (p.MediaType != "image/svg+xml")
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<image {box} {label} preserveAspectRatio=\"none\" href=\"data:{p.MediaType};base64,{Convert.ToBase64String(p.Bytes)}\"/>"
            );
            return;
        }
        Drawing drawing;
        try
        {
            drawing = SvgDrawing.Read(item.Asset, p.Bytes);
        }
        catch (PictureFormatException)
        {
            svg.Append(CultureInfo.InvariantCulture, $"<rect {box} {label} fill=\"none\" stroke=\"#a2303a\" stroke-dasharray=\"3 3\"/>");
            return;
        }
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg {box} {label} viewBox=\"0 0 {D(drawing.Width)} {D(drawing.Height)}\" preserveAspectRatio=\"none\">"
        );
        foreach (var part in drawing.Items)
            switch (part)
            {
                case OutlineItem o:
                    svg.Append("<path d=\"");
                    foreach (var s in o.Segments)
                        svg.Append(
                            s.Kind switch
                            {
                                'M' or 'L' => $"{s.Kind}{D(s.X1)} {D(s.Y1)}",
                                'C' => $"C{D(s.X1)} {D(s.Y1)} {D(s.X2)} {D(s.Y2)} {D(s.X3)} {D(s.Y3)}",
                                _ => "Z",
                            }
                        );
                    svg.Append(CultureInfo.InvariantCulture, $"\" fill=\"{Colour(o.Fill)}\"");
                    if (o.EvenOdd)
                        svg.Append(" fill-rule=\"evenodd\"");
                    if (o.Stroke is not null)
                    {
                        svg.Append(CultureInfo.InvariantCulture, $" stroke=\"{Colour(o.Stroke)}\" stroke-width=\"{D(o.StrokeWidth)}\"");
                        if (o.Cap > 0)
                            svg.Append(o.Cap == 1 ? " stroke-linecap=\"round\"" : " stroke-linecap=\"square\"");
                        if (o.Join > 0)
                            svg.Append(o.Join == 1 ? " stroke-linejoin=\"round\"" : " stroke-linejoin=\"bevel\"");
                        if (o.Dashes.Count > 0)
                            svg.Append(CultureInfo.InvariantCulture, $" stroke-dasharray=\"{string.Join(' ', o.Dashes.Select(D))}\"");
                    }
                    svg.Append("/>");
                    break;
                case WordsItem w:
                    svg.Append(
                        CultureInfo.InvariantCulture,
                        $"<text transform=\"matrix({D(w.Place.A)} {D(w.Place.B)} {D(w.Place.C)} {D(w.Place.D)} {D(w.Place.E)} "
                            + $"{D(w.Place.F)})\" font-family=\"{Family(w.Face)}\" font-size=\"{D(w.Size)}\" fill=\"{Colour(w.Fill)}\">"
                    );
                    foreach (var (word, x) in w.Words)
                        svg.Append(CultureInfo.InvariantCulture, $"<tspan x=\"{D(x)}\">{WebUtility.HtmlEncode(word.Text)}</tspan>");
                    svg.Append("</text>");
                    break;
            }
        svg.Append("</svg>");
    }

    private static string Colour(Ink? ink) =>
        ink is not { } i ? "none" : $"#{(int)(i.R * 255 + .5):x2}{(int)(i.G * 255 + .5):x2}{(int)(i.B * 255 + .5):x2}";
}
