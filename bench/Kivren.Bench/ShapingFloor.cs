using HarfBuzzSharp;
using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Bench;

/// <summary>What nobody can go below who shapes words at all: HarfBuzz shaping every word of the text once, one after the
/// other, without a cache.</summary>
internal static class ShapingFloor
{
    public static string[] Words(Manual manual) =>
        manual
            .Divisions.SelectMany(d => d.Blocks)
            .SelectMany(b => b.Inlines())
            .OfType<TextRun>()
            .SelectMany(r => r.Text.Split(' ', StringSplitOptions.RemoveEmptyEntries))
            .ToArray();

    public static int Shape(string[] words)
    {
        var face = FaceLibrary.Serif;
        using var font = new Font(face.HarfBuzzFace);
        font.SetScale(face.UnitsPerEm, face.UnitsPerEm);
        font.SetFunctionsOpenType();
        using var buffer = new HarfBuzzSharp.Buffer();
        var width = 0;
        foreach (var word in words)
        {
            buffer.ClearContents();
            buffer.AddUtf16(word);
            buffer.GuessSegmentProperties();
            font.Shape(buffer);
            foreach (var position in buffer.GetGlyphPositionSpan())
                width += position.XAdvance;
        }
        return width;
    }
}
