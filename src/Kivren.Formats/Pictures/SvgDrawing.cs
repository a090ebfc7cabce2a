using Kivren.Core.Type;
using SkiaSharp;
using Svg;
using Svg.Model.Services;
using Svg.Transforms;

namespace Kivren.Formats.Pictures;

/// <summary>Reads an SVG file into a drawing. The file's own structure, styles and units are read by a library; what a
/// printed line drawing is made of is taken, and words are set in our faces.</summary>
public static class SvgDrawing
{
    /// <summary>More than this no drawing for a page has, used parts counted each time.</summary>
    internal const int MostElements = 100_000;

    public static Drawing Read(string name, byte[] bytes)
    {
        try
        {
            var document = SvgService.FromSvg(System.Text.Encoding.UTF8.GetString(bytes).TrimStart('\uFEFF'))
                ?? throw new PictureFormatException($"“{name}” is no picture.");
            var box = document.ViewBox;
            double width = box.Width > 0 ? box.Width : document.Width.Value,
                height = box.Height > 0 ? box.Height : document.Height.Value;
            var items = new List<DrawingItem>();
            // Painters write thousandths: a drawing in much smaller or larger units is taken in others.
            var scale = Math.Max(width, height) is var side and (< 10 or > 10_000) && side > 0 ? 1000 / side : 1;
            var own = new Matrix(scale, 0, 0, scale, -box.MinX * scale, -box.MinY * scale);
            new Reader(name, items).Element(document, own, 1, 0);
            return new Drawing(width * scale, height * scale, items);
        }
        // A damaged file makes the library throw whatever it comes to.
        catch (Exception e) when (e is not (PictureFormatException or OutOfMemoryException))
        {
            throw new PictureFormatException($"“{name}” cannot be drawn: {e.Message}");
        }
    }

    private sealed class Reader(string name, List<DrawingItem> items)
    {
        private int _met;

        public void Element(SvgElement element, Matrix outer, double opacity, int depth)
        {
            if (++_met > MostElements || depth > 64)
                throw new PictureFormatException($"“{name}” draws more than {MostElements:N0} shapes, or uses itself; make it simpler.");
            if (element.Display == "none" || element is SvgVisualElement { Visible: false })
                return;
            var here = element.Transforms is { } transforms ? transforms.Aggregate(outer, (m, t) => m.Over(Of(t))) : outer;
            opacity *= element.Opacity;
            switch (element)
            {
                case SvgDefinitionList or SvgSymbol or SvgPaintServer or SvgMarker or SvgClipPath or SvgMask:
                    return;
                case SvgUse use:
                    if (
                        use.ReferencedElement is { } address
                        && element.OwnerDocument.GetElementById(address.OriginalString.TrimStart('#')) is SvgElement used
                    )
                    {
                        var at = here.Over(new Matrix(1, 0, 0, 1, use.X.Value, use.Y.Value));
                        if (used is SvgSymbol)
                            foreach (var child in used.Children)
                                Element(child, at, opacity, depth + 1);
                        else
                            Element(used, at, opacity, depth + 1);
                    }
                    return;
                case SvgTextBase text:
                    Text(text, here, opacity);
                    return;
                case SvgPath path:
                    Outline(path, SKPath.ParseSvgPathData(path.PathData?.ToString() ?? ""), here, opacity);
                    return;
                case SvgRectangle r:
                {
                    var outline = new SKPathBuilder();
                    var rect = new SKRect(r.X.Value, r.Y.Value, r.X.Value + r.Width.Value, r.Y.Value + r.Height.Value);
                    if (r.CornerRadiusX.Value > 0 || r.CornerRadiusY.Value > 0)
                        outline.AddRoundRect(
                            new SKRoundRect(rect, Math.Max(r.CornerRadiusX.Value, 0.01f), Math.Max(r.CornerRadiusY.Value, 0.01f))
                        );
                    else
                        outline.AddRect(rect);
                    Outline(r, outline.Detach(), here, opacity);
                    return;
                }
                case SvgCircle c:
                    Oval(c, c.CenterX.Value, c.CenterY.Value, c.Radius.Value, c.Radius.Value, here, opacity);
                    return;
                case SvgEllipse e:
                    Oval(e, e.CenterX.Value, e.CenterY.Value, e.RadiusX.Value, e.RadiusY.Value, here, opacity);
                    return;
                case SvgLine l:
                    Points(l, [l.StartX.Value, l.StartY.Value, l.EndX.Value, l.EndY.Value], false, here, opacity);
                    return;
                case SvgPolygon p:
                    Points(p, [.. p.Points.Select(u => u.Value)], element is not SvgPolyline, here, opacity);
                    return;
            }
            foreach (var child in element.Children)
                Element(child, here, opacity, depth + 1);
        }

        private void Oval(SvgVisualElement element, float x, float y, float rx, float ry, Matrix here, double opacity)
        {
            var outline = new SKPathBuilder();
            outline.AddOval(new SKRect(x - rx, y - ry, x + rx, y + ry));
            Outline(element, outline.Detach(), here, opacity);
        }

        private void Points(SvgVisualElement element, float[] values, bool closed, Matrix here, double opacity)
        {
            if (values.Length < 4)
                return;
            var outline = new SKPathBuilder();
            outline.MoveTo(values[0], values[1]);
            for (var i = 2; i + 1 < values.Length; i += 2)
                outline.LineTo(values[i], values[i + 1]);
            if (closed)
                outline.Close();
            Outline(element, outline.Detach(), here, opacity);
        }

        private void Outline(SvgVisualElement element, SKPath? path, Matrix here, double opacity)
        {
            if (path is null)
                return;
            var fill = element is SvgLine ? null : InkOf(element.Fill, element.FillOpacity * opacity);
            var stroke = element.StrokeWidth.Value > 0 ? InkOf(element.Stroke, element.StrokeOpacity * opacity) : null;
            if (fill is null && stroke is null)
                return;
            var segments = new List<Segment>();
            using var verbs = path.CreateRawIterator();
            var p = new SKPoint[4];
            for (var verb = verbs.Next(p); verb != SKPathVerb.Done; verb = verbs.Next(p))
                switch (verb)
                {
                    case SKPathVerb.Move:
                        segments.Add(Seg('M', here, p[0]));
                        break;
                    case SKPathVerb.Line:
                        segments.Add(Seg('L', here, p[1]));
                        break;
                    case SKPathVerb.Quad:
                        Quad(segments, here, p[0], p[1], p[2]);
                        break;
                    case SKPathVerb.Conic:
                        var quads = SKPath.ConvertConicToQuads(p[0], p[1], p[2], verbs.ConicWeight(), 2);
                        for (var q = 0; q + 2 < quads.Length; q += 2)
                            Quad(segments, here, quads[q], quads[q + 1], quads[q + 2]);
                        break;
                    case SKPathVerb.Cubic:
                        segments.Add(Seg('C', here, p[1], p[2], p[3]));
                        break;
                    case SKPathVerb.Close:
                        segments.Add(new Segment('Z', 0, 0));
                        break;
                }
            var dashes = element.StrokeDashArray is { Count: > 0 } array ? array.Select(u => u.Value * here.Scale).ToArray() : [];
            items.Add(
                new OutlineItem(
                    segments,
                    fill,
                    stroke,
                    element.StrokeWidth.Value * here.Scale,
                    dashes,
                    element.FillRule == SvgFillRule.EvenOdd,
                    element.StrokeLineCap switch
                    {
                        SvgStrokeLineCap.Round => 1,
                        SvgStrokeLineCap.Square => 2,
                        _ => 0,
                    },
                    element.StrokeLineJoin switch
                    {
                        SvgStrokeLineJoin.Round => 1,
                        SvgStrokeLineJoin.Bevel => 2,
                        _ => 0,
                    }
                )
            );
            path.Dispose();
        }

        private static void Quad(List<Segment> segments, Matrix m, SKPoint a, SKPoint b, SKPoint c) =>
            segments.Add(
                Seg(
                    'C',
                    m,
                    new SKPoint(a.X + (b.X - a.X) * 2 / 3, a.Y + (b.Y - a.Y) * 2 / 3),
                    new SKPoint(c.X + (b.X - c.X) * 2 / 3, c.Y + (b.Y - c.Y) * 2 / 3),
                    c
                )
            );

        private static Segment Seg(char kind, Matrix m, SKPoint a, SKPoint b = default, SKPoint c = default)
        {
            var (x1, y1) = m.Map(a.X, a.Y);
            if (kind != 'C')
                return new Segment(kind, x1, y1);
            var (x2, y2) = m.Map(b.X, b.Y);
            var (x3, y3) = m.Map(c.X, c.Y);
            return new Segment(kind, x1, y1, x2, y2, x3, y3);
        }

        private void Text(SvgTextBase text, Matrix here, double opacity)
        {
            double x = text.X is { Count: > 0 } xs ? xs[0].Value : 0,
                y = text.Y is { Count: > 0 } ys ? ys[0].Value : 0;
            Run(text, Joined(text), x, y, here, opacity);
            foreach (var span in text.Children.OfType<SvgTextSpan>())
            {
                if (span.X is { Count: > 0 } sx)
                    x = sx[0].Value;
                if (span.Y is { Count: > 0 } sy)
                    y = sy[0].Value;
                if (span.Dy is { Count: > 0 } dy)
                    y += dy[0].Value;
                x = Run(span, Joined(span), x, y, here, opacity);
            }
        }

        private static string Joined(SvgTextBase text) =>
            string.Join(
                ' ',
                string.Concat(text.Nodes.OfType<SvgContentNode>().Select(n => n.Content))
                    .Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)
            );

        private double Run(SvgTextBase text, string words, double x, double y, Matrix here, double opacity)
        {
            if (words.Length == 0 || InkOf(text.Fill, text.FillOpacity * opacity) is not { } ink)
                return x;
            var family = text.FontFamily ?? "";
            var strong = text.FontWeight is SvgFontWeight.Bold or SvgFontWeight.W600 or SvgFontWeight.W700 or SvgFontWeight.W800;
            var face =
                family.Contains("Serif", StringComparison.OrdinalIgnoreCase) && !family.Contains("sans", StringComparison.OrdinalIgnoreCase)
                    ? (
                        strong ? FaceLibrary.SerifStrong
                        : text.FontStyle == SvgFontStyle.Italic ? FaceLibrary.SerifItalic
                        : FaceLibrary.Serif
                    )
                : family.Contains("Code", StringComparison.OrdinalIgnoreCase) || family.Contains("mono", StringComparison.OrdinalIgnoreCase)
                    ? FaceLibrary.Code
                : strong ? FaceLibrary.SansStrong
                : text.FontStyle == SvgFontStyle.Italic ? FaceLibrary.SansItalic
                : FaceLibrary.Sans;
            double size = text.FontSize.Value > 0 ? text.FontSize.Value : 12;
            var em = size / face.UnitsPerEm;
            var parts = new List<(ShapedWord, double)>();
            double at = 0;
            foreach (var word in words.Split(' '))
            {
                var shaped = face.Word(word);
                parts.Add((shaped, at));
                at += (shaped.Width + face.Space) * em;
            }
            var width = at - face.Space * em;
            var start = text.TextAnchor switch
            {
                SvgTextAnchor.Middle => x - width / 2,
                SvgTextAnchor.End => x - width,
                _ => x,
            };
            items.Add(new WordsItem(parts, face, size, here.Over(new Matrix(1, 0, 0, 1, start, y)), ink));
            return start + at;
        }

        private static Ink? InkOf(SvgPaintServer? server, double cover)
        {
            if (server is SvgDeferredPaintServer deferred)
                server = SvgDeferredPaintServer.TryGet<SvgPaintServer>(deferred, deferred);
            if (server is SvgGradientServer { Stops: [var stop, ..] })
                server = stop.StopColor;
            if (server is not SvgColourServer colour || ReferenceEquals(server, SvgPaintServer.None) || cover <= 0)
                return null;
            var c = colour.Colour;
            return new Ink(c.R / 255.0, c.G / 255.0, c.B / 255.0, cover * c.A / 255.0);
        }

        private static Matrix Of(SvgTransform transform) =>
            transform switch
            {
                SvgTranslate t => new Matrix(1, 0, 0, 1, t.X, t.Y),
                SvgScale s => new Matrix(s.X, 0, 0, s.Y, 0, 0),
                SvgRotate r => new Matrix(1, 0, 0, 1, r.CenterX, r.CenterY)
                    .Over(Turn(r.Angle))
                    .Over(new Matrix(1, 0, 0, 1, -r.CenterX, -r.CenterY)),
                SvgMatrix m when m.Points.Count == 6 => new Matrix(
                    m.Points[0],
                    m.Points[1],
                    m.Points[2],
                    m.Points[3],
                    m.Points[4],
                    m.Points[5]
                ),
                SvgSkew k => new Matrix(1, Math.Tan(k.AngleY * Math.PI / 180), Math.Tan(k.AngleX * Math.PI / 180), 1, 0, 0),
                _ => Matrix.Identity,
            };

        private static Matrix Turn(double degrees)
        {
            var (sin, cos) = Math.SinCos(degrees * Math.PI / 180);
            return new Matrix(cos, sin, -sin, cos, 0, 0);
        }
    }
}
