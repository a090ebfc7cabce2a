using System.Text;
using Kivren.Core.Type;
using Kivren.Formats.Pictures;

namespace Kivren.Formats.Tests;

/// <summary>What is drawn of an SVG file: by hand-made examples, one for each thing a line drawing is made of.</summary>
public class DrawingTests
{
    private static Drawing Read(string inner, string attributes = "viewBox='0 0 100 50'") =>
        SvgDrawing.Read(
            "p.svg",
            Encoding.UTF8.GetBytes(
                $"<svg xmlns='http://www.w3.org/2000/svg' xmlns:xlink='http://www.w3.org/1999/xlink' {attributes}>{inner}</svg>"
            )
        );

    private static OutlineItem One(string inner) => Assert.IsType<OutlineItem>(Assert.Single(Read(inner).Items));

    /// <summary>Left, top, right and lower edge of the ends of an outline's segments.</summary>
    private static (double, double, double, double) Box(OutlineItem outline)
    {
        var ends = outline.Segments.Where(s => s.Kind != 'Z').Select(s => s.Kind == 'C' ? (s.X3, s.Y3) : (s.X1, s.Y1)).ToList();
        return (Near(ends.Min(e => e.Item1)), Near(ends.Min(e => e.Item2)), Near(ends.Max(e => e.Item1)), Near(ends.Max(e => e.Item2)));
    }

    private static double Near(double value) => Math.Round(value, 3);

    [Theory]
    [InlineData("<rect x='10' y='5' width='30' height='20'/>", 10, 5, 40, 25)]
    [InlineData("<circle cx='20' cy='20' r='10'/>", 10, 10, 30, 30)]
    [InlineData("<ellipse cx='20' cy='20' rx='10' ry='5'/>", 10, 15, 30, 25)]
    [InlineData("<line x1='1' y1='2' x2='30' y2='40' stroke='#000'/>", 1, 2, 30, 40)]
    [InlineData("<polyline points='1,2 10,20 30,5' fill='none' stroke='#000'/>", 1, 2, 30, 20)]
    [InlineData("<polygon points='1,2 10,20 30,5'/>", 1, 2, 30, 20)]
    [InlineData("<path d='M5 5 h20 v10 q-5 5 -10 0 t-10 0 z'/>", 5, 5, 25, 15)]
    [InlineData("<rect x='10' y='5' width='30' height='20' rx='4'/>", 10, 5, 40, 25)]
    public void Each_shape_stands_where_the_file_puts_it(string svg, double left, double top, double right, double foot) =>
        Assert.Equal((left, top, right, foot), Box(One(svg)));

    [Theory]
    [InlineData("translate(10 5)", 12, 9)]
    [InlineData("scale(2)", 4, 8)]
    [InlineData("rotate(90)", -4, 2)]
    [InlineData("rotate(180 10 10)", 18, 16)]
    [InlineData("matrix(1 0 0 1 3 4)", 5, 8)]
    [InlineData("translate(10 5) scale(2)", 14, 13)]
    public void Transforms_apply_from_the_outside_in(string transform, double x, double y)
    {
        var line = One($"<g transform='{transform}'><line x1='2' y1='4' x2='50' y2='40' stroke='#000'/></g>");
        Assert.Equal((x, y), (Near(line.Segments[0].X1), Near(line.Segments[0].Y1)));
    }

    [Fact]
    public void A_view_box_that_begins_elsewhere_moves_everything()
    {
        var drawing = Read("<rect x='10' y='10' width='5' height='5'/>", "viewBox='10 10 40 20'");
        Assert.Equal((40, 20), (drawing.Width, drawing.Height));
        Assert.Equal((0, 0, 5, 5), Box((OutlineItem)drawing.Items[0]));
    }

    [Fact]
    public void Inks_strokes_and_dashes_are_taken_with_what_covers_them()
    {
        var outline = One(
            "<g opacity='.5'><rect width='9' height='9' fill='#cc2200' fill-opacity='.5' stroke='black' stroke-width='2' "
                + "stroke-dasharray='3 1' stroke-linecap='round' fill-rule='evenodd'/></g>"
        );
        Assert.Equal(
            (0.8, 0.133, 0.0, 0.25),
            (Near(outline.Fill!.Value.R), Near(outline.Fill.Value.G), Near(outline.Fill.Value.B), Near(outline.Fill.Value.Cover))
        );
        Assert.Equal(.5, Near(outline.Stroke!.Value.Cover));
        Assert.Equal([3, 1], outline.Dashes);
        Assert.Equal(2, outline.StrokeWidth);
        Assert.True(outline.EvenOdd);
    }

    [Theory]
    [InlineData("<rect width='9' height='9' fill='none'/>")]
    [InlineData("<rect width='9' height='9' display='none'/>")]
    [InlineData("<rect width='9' height='9' visibility='hidden'/>")]
    [InlineData("<defs><rect width='9' height='9'/></defs>")]
    [InlineData("<clipPath id='c'><rect width='9' height='9'/></clipPath>")]
    public void What_cannot_be_seen_is_not_drawn(string svg) => Assert.Empty(Read(svg).Items);

    [Fact]
    public void What_is_used_again_is_drawn_at_its_place()
    {
        var drawing = Read(
            "<defs><g id='bolt'><rect width='2' height='2'/></g><symbol id='nut'><rect width='4' height='4'/></symbol></defs><use "
                + "href='#bolt' x='10' y='5'/><use xlink:href='#nut' x='20' y='5'/>"
        );
        Assert.Equal([(10.0, 5.0, 12.0, 7.0), (20.0, 5.0, 24.0, 9.0)], drawing.Items.Cast<OutlineItem>().Select(Box));
    }

    [Theory]
    [InlineData("", 50.0)]
    [InlineData("text-anchor='end'", null)]
    [InlineData("text-anchor='middle'", null)]
    public void Words_are_set_in_our_faces_from_their_anchor(string anchor, double? start)
    {
        var words = Assert.IsType<WordsItem>(Assert.Single(Read($"<text x='50' y='20' font-size='8' {anchor}>load  mark</text>").Items));
        Assert.Same(FaceLibrary.Sans, words.Face);
        Assert.Equal(["load", "mark"], words.Words.Select(w => w.Word.Text));
        var width = words.Words[1].X + words.Words[1].Word.Width * 8.0 / words.Face.UnitsPerEm;
        Assert.Equal(Near(start ?? (anchor.Contains("end", StringComparison.Ordinal) ? 50 - width : 50 - width / 2)), Near(words.Place.E));
        Assert.Equal(20, words.Place.F);
    }

    [Fact]
    public void Lines_of_a_text_stand_under_each_other()
    {
        var items = Read(
            "<text x='5' y='10' font-weight='bold' font-family='Source Serif'><tspan x='5'>upper</tspan><tspan x='5' dy='9'>"
                + "lower</tspan></text>"
        )
            .Items.Cast<WordsItem>()
            .ToList();
        Assert.Equal([10, 19], items.Select(i => i.Place.F));
        Assert.All(items, i => Assert.Equal(FaceLibrary.SerifStrong.Name, i.Face.Name));
    }

    [Fact]
    public void Damaged_drawings_are_drawn_or_refused_in_words_but_break_nothing()
    {
        var whole =
            "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 90 50'><g transform='rotate(3)'><path d='M1 1 C 2 2 3 3 4 4 A 5 "
            + "5 0 0 1 9 9 Z' stroke='#123' stroke-dasharray='2 1'/><text x='1' y='9'>words <tspan dy='3'>below</tspan></text><use "
            + "href='#a'/><rect id='a' width='3' height='4'/></g></svg>";
        var random = new Random(7);
        for (var n = 0; n < 400; n++)
        {
            var bytes = Encoding.UTF8.GetBytes(whole);
            for (var k = random.Next(1, 5); k > 0; k--)
                bytes[random.Next(bytes.Length)] = (byte)"<>/'=#0 9azMZ-.,(&;"[random.Next(19)];
            try
            {
                PictureReader.Describe("p.svg", bytes);
                SvgDrawing.Read("p.svg", bytes);
            }
            catch (PictureFormatException e)
            {
                Assert.Contains("p.svg", e.Message, StringComparison.Ordinal);
            }
        }
    }
}
