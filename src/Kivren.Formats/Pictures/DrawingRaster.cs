using Kivren.Core.Type;
using SkiaSharp;

namespace Kivren.Formats.Pictures;

/// <summary>A drawing as pixels, for readers that know no drawings.</summary>
public static class DrawingRaster
{
    private const int MostPixels = 4_000;

    /// <param name="width">pixels across, on white</param>
    public static byte[] Png(Drawing drawing, int width)
    {
        var scale = Math.Min(width, MostPixels) / Math.Max(1, drawing.Width);
        scale = Math.Min(scale, MostPixels / Math.Max(1, drawing.Height));
        using var bitmap = new SKBitmap(
            Math.Max(1, (int)Math.Round(drawing.Width * scale)),
            Math.Max(1, (int)Math.Round(drawing.Height * scale))
        );
        using (var canvas = new SKCanvas(bitmap))
        {
            canvas.Clear(SKColors.White);
            canvas.Scale((float)scale);
            foreach (var item in drawing.Items)
                if (item is OutlineItem outline)
                    Paint(canvas, outline);
                else if (item is WordsItem words)
                    Paint(canvas, words);
        }
        using var data = bitmap.Encode(SKEncodedImageFormat.Png, 100);
        return data.ToArray();
    }

    private static SKColor Colour(Ink ink) =>
        new((byte)(ink.R * 255), (byte)(ink.G * 255), (byte)(ink.B * 255), (byte)(Math.Clamp(ink.Cover, 0, 1) * 255));

    private static void Paint(SKCanvas canvas, OutlineItem outline)
    {
        using var builder = new SKPathBuilder { FillType = outline.EvenOdd ? SKPathFillType.EvenOdd : SKPathFillType.Winding };
        foreach (var s in outline.Segments)
            switch (s.Kind)
            {
                case 'M':
                    builder.MoveTo((float)s.X1, (float)s.Y1);
                    break;
                case 'L':
                    builder.LineTo((float)s.X1, (float)s.Y1);
                    break;
                case 'C':
                    builder.CubicTo((float)s.X1, (float)s.Y1, (float)s.X2, (float)s.Y2, (float)s.X3, (float)s.Y3);
                    break;
                default:
                    builder.Close();
                    break;
            }
        using var path = builder.Detach();
        using var paint = new SKPaint { IsAntialias = true };
        if (outline.Fill is { } fill)
        {
            paint.Color = Colour(fill);
            canvas.DrawPath(path, paint);
        }
        if (outline.Stroke is not { } stroke)
            return;
        paint.Style = SKPaintStyle.Stroke;
        paint.Color = Colour(stroke);
        paint.StrokeWidth = (float)outline.StrokeWidth;
        (paint.StrokeCap, paint.StrokeJoin) = ((SKStrokeCap)outline.Cap, (SKStrokeJoin)outline.Join);
        // A dash pattern has an even count of parts.
        float[] dashes = [.. outline.Dashes.Concat(outline.Dashes.Count % 2 == 1 ? outline.Dashes : []).Select(d => (float)d)];
        using var effect = dashes.Length > 0 && dashes.Sum() > 0 ? SKPathEffect.CreateDash(dashes, 0) : null;
        paint.PathEffect = effect;
        canvas.DrawPath(path, paint);
    }

    private static void Paint(SKCanvas canvas, WordsItem words)
    {
        using var data = SKData.CreateCopy(words.Face.Bytes);
        using var typeface = SKTypeface.FromData(data);
        if (typeface is null)
            return;
        using var font = new SKFont(typeface, (float)words.Size) { Subpixel = true };
        using var paint = new SKPaint { IsAntialias = true, Color = Colour(words.Fill) };
        canvas.Save();
        var m = words.Place;
        canvas.Concat(new SKMatrix((float)m.A, (float)m.C, (float)m.E, (float)m.B, (float)m.D, (float)m.F, 0, 0, 1));
        foreach (var (word, x) in words.Words)
            Paint(canvas, word, words, x, font, paint);
        canvas.Restore();
    }

    private static void Paint(SKCanvas canvas, ShapedWord word, WordsItem words, double x, SKFont font, SKPaint paint)
    {
        var scale = words.Size / words.Face.UnitsPerEm;
        var ids = new ushort[word.Glyphs.Length];
        var places = new SKPoint[ids.Length];
        double at = x;
        for (var g = 0; g < ids.Length; g++)
        {
            ids[g] = word.Glyphs[g];
            places[g] = new SKPoint((float)(at + (word.OffsetsX?[g] ?? 0) * scale), (float)(-(word.OffsetsY?[g] ?? 0) * scale));
            at += word.Advances[g] * scale;
        }
        using var builder = new SKTextBlobBuilder();
        builder.AddPositionedRun(ids, font, places);
        using var blob = builder.Build();
        if (blob is not null)
            canvas.DrawText(blob, 0, 0, paint);
    }
}
