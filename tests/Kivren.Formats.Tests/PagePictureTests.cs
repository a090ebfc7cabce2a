using System.Buffers.Binary;
using System.Text;
using Kivren.Core.Content;
using Kivren.Formats.Html;
using Kivren.Formats.Import;
using Kivren.Formats.Pictures;

namespace Kivren.Formats.Tests;

/// <summary>Pictures of a page in every way in which pages show them.</summary>
public class PagePictureTests
{
    private static byte[] Svg(int width) =>
        Encoding.UTF8.GetBytes($"<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 {width} 80'><rect width='9' height='9'/></svg>");

    private static Shaped Shape(string body, params (string Name, byte[] Bytes)[] beside) =>
        Shaper.Shape(
            new ShapeRequest(
                [
                    HtmlReader.Read(
                        "page.html",
                        Encoding.UTF8.GetBytes($"<html><body><h1>Winch</h1><p>Words before it.</p>{body}</body></html>"),
                        beside.ToDictionary(b => b.Name, b => b.Bytes)
                    ),
                ],
                ImportMapping.None,
                "s"
            )
        );

    private static byte[] Png(int width, int height)
    {
        using var bitmap = new SkiaSharp.SKBitmap(width, height);
        using var data = bitmap.Encode(SkiaSharp.SKEncodedImageFormat.Png, 90);
        return data.ToArray();
    }

    [Theory]
    [InlineData("", 24, 5)]
    [InlineData("", 320, 50)]
    [InlineData("", 2_000, 100)]
    [InlineData("width='160'", 2_000, 25)]
    [InlineData("width='60%'", 24, 60)]
    [InlineData("width='0'", 320, 50)]
    [InlineData("width='wide'", 320, 50)]
    [InlineData("style='border: 0; width: 5in'", 24, 75)]
    [InlineData("style='max-width: 5in'", 320, 50)]
    public void A_picture_is_as_wide_as_it_is_said_to_be_else_as_its_own_pixels_and_no_wider_than_the_text(
        string said,
        int pixels,
        int width
    ) => Assert.Equal(width, Only(Shape($"<p><img src='drum.png' alt='drum' {said}></p>", ("drum.png", Png(pixels, 40)))).Width);

    [Fact]
    public void A_drawing_without_a_width_fills_the_measure() =>
        Assert.Equal(100, Only(Shape("<p><img src='drum.svg' alt='drum'></p>", ("drum.svg", Svg(24)))).Width);

    [Theory]
    [InlineData("width=\"50%\"", 50)]
    [InlineData("width=\"50%\" contentwidth=\"2.5in\"", 38)]
    [InlineData("contentdepth=\"3cm\"", 50)]
    public void A_picture_of_DocBook_is_as_wide_as_its_data_says(string said, int width)
    {
        var document = DocBook.DocBookReader.Read(
            "book.xml",
            Encoding.UTF8.GetBytes(
                "<chapter xmlns=\"http://docbook.org/ns/docbook\"><title>Winch</title><mediaobject><imageobject>"
                    + $"<imagedata fileref=\"drum.png\" {said}/></imageobject></mediaobject></chapter>"
            ),
            new Dictionary<string, byte[]> { ["drum.png"] = Png(320, 40) }
        );
        Assert.Equal(width, Only(Shaper.Shape(new ShapeRequest([document], ImportMapping.None, "s"))).Width);
    }

    private static Figure Only(Shaped shaped) => Assert.Single(shaped.Divisions.SelectMany(d => d.Blocks).OfType<Figure>());

    [Theory]
    [InlineData("<object data='drum.svg' type='image/svg+xml'><img src='drum.png' alt='The drum'>Your browser is old.</object>")]
    [InlineData("<p><object data='drum.svg' type='image/svg+xml' title='The drum'></object></p>")]
    [InlineData("<embed src='drum.svg' title='The drum'>")]
    [InlineData("<figure><object data='drum.svg'><p>The drum</p></object></figure>")]
    [InlineData("<p><a href='drum.svg'><img src='drum.svg' alt='The drum'></a></p>")]
    [InlineData("<div><picture><source srcset='drum.svg'><img src='small.png' alt='The drum'></picture></div>")]
    [InlineData("<img src='wait.gif' srcset='drum-small.svg 300w, drum.svg 1200w' alt='The drum'>")]
    public void A_drawing_in_an_object_a_set_or_a_link_is_a_figure(string body)
    {
        var shaped = Shape(body, ("drum.svg", Svg(100)), ("drum-small.svg", Svg(99)));
        var figure = Only(shaped);
        Assert.Equal(("drum.svg", "The drum"), (figure.Asset, figure.Alternative));
        Assert.DoesNotContain(
            "browser",
            string.Join(' ', shaped.Divisions[0].Blocks.SelectMany(b => b.Inlines())),
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData("<figure id='f'><img src='img/drum.png' alt='A drum'><figcaption>Figure 2: The drum</figcaption></figure>", true)]
    [InlineData("<div class='figure' id='f'><img src='img/drum.png' alt='A drum'><p class='caption'>Figure 2: The drum</p></div>", true)]
    [InlineData("<p id='f'><img src='drum.png' alt='A drum'></p><p class='caption'>Figure 2: The drum</p>", true)]
    [InlineData("<p id='f'><img src='https://tarn.example/drum.png' alt='A drum'></p>", false)]
    [InlineData("<p id='f'><a href='page.html#x'><img src='drum.png' alt='A drum'></a></p>", false)]
    [InlineData("<p id='f'>Press <img src='drum.png' alt='A drum'> there.</p>", false)]
    [InlineData("<p id='f'><img src='drum.png' alt=''></p>", false)]
    public void A_figure_whose_picture_is_not_there_waits_for_it_with_its_caption(string body, bool waits)
    {
        var shaped = Shape(body + "<p id='x'>As <a href='#f'>Figure 2</a> shows.</p>");
        Assert.Single(shaped.Report, r => r.Words.EndsWith("drum.png", StringComparison.Ordinal));
        var blocks = shaped.Divisions.SelectMany(d => d.Blocks).ToArray();
        Assert.Equal(waits ? 1 : 0, blocks.OfType<Figure>().Count());
        if (!waits)
            return;
        var figure = Only(shaped);
        Assert.Equal(("drum.png", "A drum", "The drum"), (figure.Asset, figure.Alternative, figure.Caption.PlainText()));
        Assert.Contains(blocks.SelectMany(b => b.Inlines()), i => i is CrossReference r && r.Target == figure.Id);
        // Once its file is there, it is shown: nothing but that is missing.
        Assert.DoesNotContain("drum.png", shaped.Pictures.Keys);
    }

    [Fact]
    public void Another_size_of_a_picture_stands_for_the_one_that_is_named_and_is_told()
    {
        var shaped = Shape(
            "<img src='img/drum-300x200.png' alt='The drum'>",
            ("img/drum-1024x683.svg", Svg(100)),
            ("img/rum.svg", Svg(90))
        );
        Assert.Equal("drum-1024x683.svg", Only(shaped).Asset);
        Assert.Contains(shaped.Report, r => r.What.Contains("another size of it", StringComparison.Ordinal) && r.Place > 0);
    }

    [Fact]
    public void A_drawing_within_the_page_is_a_figure_and_a_small_sign_is_none()
    {
        var shaped = Shape(
            "<p>Press <svg width='16' height='16'><path d='M0 0h9'/></svg> twice.</p>"
                + "<svg viewBox='0 0 200 80' aria-label='The drum'><rect width='100' height='40' fill='#ccc'/></svg>"
        );
        var figure = Only(shaped);
        Assert.Equal("The drum", figure.Alternative);
        Assert.Equal(200, shaped.Assets.Single(a => a.Name == figure.Asset).Width);
        Assert.Contains(shaped.Report, r => r.What.Contains("<svg>", StringComparison.Ordinal));
    }

    [Fact]
    public void A_metafile_is_a_frame_of_its_size_with_its_name()
    {
        var emf = new byte[108];
        BinaryPrimitives.WriteInt32LittleEndian(emf, 1);
        // 100 × 50 mm, in hundredths of a millimetre.
        BinaryPrimitives.WriteInt32LittleEndian(emf.AsSpan(32), 10_000);
        BinaryPrimitives.WriteInt32LittleEndian(emf.AsSpan(36), 5_000);
        " EMF"u8.CopyTo(emf.AsSpan(40));
        var shaped = Shape("<img src='drum.emf' alt='The drum'>", ("drum.emf", emf));
        var figure = Only(shaped);
        Assert.Equal("drum.emf.svg", figure.Asset);
        var asset = shaped.Assets.Single();
        Assert.InRange(asset.Width / (double)asset.Height, 1.99, 2.01);
        Assert.Contains("drum.emf", Encoding.UTF8.GetString(shaped.Pictures["drum.emf.svg"]), StringComparison.Ordinal);
        Assert.Contains(shaped.Report, r => r.What.Contains("metafile", StringComparison.Ordinal));
    }

    [Fact]
    public void Sizes_of_metafiles_are_bounded_and_other_files_are_none()
    {
        var wmf = new byte[40];
        BinaryPrimitives.WriteUInt32LittleEndian(wmf, 0x9AC6CDD7);
        BinaryPrimitives.WriteInt16LittleEndian(wmf.AsSpan(10), 1440);
        BinaryPrimitives.WriteInt16LittleEndian(wmf.AsSpan(12), 720);
        BinaryPrimitives.WriteInt16LittleEndian(wmf.AsSpan(14), 1440);
        Assert.Equal((72, 36), Metafile.SizeOf(wmf));
        // It says no inch at all.
        BinaryPrimitives.WriteInt16LittleEndian(wmf.AsSpan(14), 0);
        Assert.Equal(2_000, Metafile.SizeOf(wmf)!.Value.Width);
        Assert.Null(Metafile.SizeOf(Svg(9)));
        Assert.Null(Metafile.SizeOf([]));
        Assert.Null(Metafile.SizeOf(wmf.AsSpan(0, 10)));
        PictureReader.Describe("f.svg", Metafile.Frame("a <long> & strange name.emf", 24, 24));
    }
}
