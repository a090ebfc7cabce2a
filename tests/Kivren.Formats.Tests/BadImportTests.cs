using System.IO.Compression;
using System.Text;
using CsCheck;
using Kivren.Core.Content;
using Kivren.Formats.Generator;
using Kivren.Formats.Import;

namespace Kivren.Formats.Tests;

/// <summary>Broken, hostile and huge documents: a clear message with the place, or all that can be read.</summary>
public class BadImportTests
{
    private static SourceDocument Read(string name, byte[] bytes) => DocumentReader.Read(new SourceFile(name, bytes), []);

    private static string Refused(string name, byte[] bytes) => Assert.Throws<SourceFormatException>(() => Read(name, bytes)).Message;

    private static Shaped Shape(string name, byte[] bytes) => Shaper.Shape(new ShapeRequest([Read(name, bytes)], ImportMapping.None, "s"));

    private static byte[] Good => new WordFile().P("The drum carries the cable.").P("Second.").ToBytes();

    [Fact]
    public void A_zip_bomb_is_refused_before_it_unpacks()
    {
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, true))
        {
            var block = new byte[1 << 20];
            using var entry = zip.CreateEntry("word/document.xml", CompressionLevel.SmallestSize).Open();
            for (var i = 0; i < 600; i++)
                entry.Write(block);
        }
        Assert.Contains("unpacks to more than", Refused("bomb.docx", stream.ToArray()), StringComparison.Ordinal);
    }

    [Fact]
    public void An_entity_bomb_is_refused_with_its_line()
    {
        var bomb = new StringBuilder("<!DOCTYPE article [<!ENTITY a 'aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa'>");
        for (var c = 'b'; c <= 'i'; c++)
            bomb.Append($"<!ENTITY {c} '{string.Concat(Enumerable.Repeat($"&{(char)(c - 1)};", 20))}'>");
        Assert.Contains(
            "bomb.xml, line",
            Refused("bomb.xml", Encoding.UTF8.GetBytes(bomb + "]><article><para>&i;</para></article>")),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_word_document_without_its_text_says_so()
    {
        var file = new WordFile().P("x");
        file.Without.Add("word/document.xml");
        Assert.Contains("word/document.xml", Refused("half.docx", file.ToBytes()), StringComparison.OrdinalIgnoreCase);
    }

    [Theory]
    [InlineData("word/styles.xml")]
    [InlineData("word/numbering.xml")]
    [InlineData("word/footnotes.xml")]
    [InlineData("word/comments.xml")]
    [InlineData("docProps/core.xml")]
    public void A_missing_part_leaves_the_rest(string part)
    {
        var file = new WordFile();
        file.P(WordFile.Run("The drum") + file.Note("of bronze") + WordFile.Run(" carries the cable."), "Leaflet text");
        file.Without.Add(part);
        Assert.Contains(
            "carries the cable.",
            Shape("half.docx", file.ToBytes()).Divisions.Single().Blocks[0].OwnSpans().Single().PlainText(),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_missing_picture_is_told_and_the_text_comes_in()
    {
        var file = new WordFile();
        file.P("Before.").P(file.Picture("gone.png", [1, 2, 3])).P("After.");
        file.Without.Add("word/media/gone.png");
        var shaped = Shape("half.docx", file.ToBytes());
        Assert.Contains(shaped.Report, r => r.What.Contains("picture", StringComparison.OrdinalIgnoreCase));
        Assert.Equal("After.", shaped.Divisions.Single().Blocks[^1].OwnSpans().Single().PlainText());
    }

    [Fact]
    public void A_truncated_file_is_refused_in_words() =>
        Assert.Contains("cut short", Refused("cut.docx", Good[..(Good.Length / 2)]), StringComparison.Ordinal);

    [Fact]
    public void A_protected_file_says_what_to_do() =>
        Assert.Contains(
            "take the password off",
            Refused("locked.docx", [0xD0, 0xCF, 0x11, 0xE0, 0xA1, 0xB1, 0x1A, 0xE1, 0, 0]),
            StringComparison.Ordinal
        );

    [Theory]
    [InlineData("notes.docx", "# Notes\n\nText.")]
    [InlineData("picture.md", "\u0089PNG\0\0")]
    [InlineData("paper.docx", "%PDF-1.7 …")]
    public void A_wrong_ending_is_seen_through_or_said(string name, string text) =>
        Assert.ThrowsAny<FormatException>(() => Read(name, Encoding.Latin1.GetBytes(text)));

    [Fact]
    public void A_document_under_another_ending_is_read_and_said()
    {
        var shaped = Shape("notes.md", Good);
        Assert.Equal(2, shaped.Divisions.Single().Blocks.Count);
        Assert.Contains(shaped.Report, r => r.What.Contains("ending", StringComparison.Ordinal));
    }

    [Fact]
    public void More_than_200_MB_is_refused() =>
        Assert.Contains("200 MB", Refused("long.md", new byte[(200 << 20) + 1]), StringComparison.Ordinal);

    [Fact]
    public void An_empty_file_is_refused() => Assert.Contains("is empty", Refused("empty.docx", []), StringComparison.Ordinal);

    [Fact]
    public void A_table_in_a_table_in_a_table_keeps_its_words()
    {
        string Nested(int depth) =>
            depth == 0
                ? $"<w:p>{WordFile.Run("innermost")}</w:p>"
                : $"<w:tbl><w:tr><w:tc><w:p>{WordFile.Run("left" + depth)}</w:p></w:tc><w:tc>{Nested(depth - 1)}<w:p/></w:tc>"
                    + $"</w:tr></w:tbl>";
        foreach (var depth in (int[])[3, 12, 200])
        {
            var shaped = Shape("deep.docx", new WordFile().Xml(Nested(depth)).ToBytes());
            Assert.Contains(
                "innermost",
                string.Concat(
                    shaped.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.Inlines()).OfType<TextRun>().Select(t => t.Text)
                ),
                StringComparison.Ordinal
            );
        }
    }

    [Fact]
    public void Deeply_nested_pages_come_in_flat()
    {
        var page =
            string.Concat(Enumerable.Repeat("<div><ul><li>", 400))
            + "innermost"
            + string.Concat(Enumerable.Repeat("</li></ul></div>", 400));
        Assert.Contains(
            "innermost",
            string.Concat(
                Shape("deep.html", Encoding.UTF8.GetBytes("<html><body>" + page))
                    .Divisions.SelectMany(d => d.Blocks)
                    .SelectMany(b => b.Inlines())
                    .OfType<TextRun>()
                    .Select(t => t.Text)
            ),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void Fifty_thousand_index_entries_come_in()
    {
        var runs = string.Concat(Enumerable.Range(0, 500).Select(i => WordFile.Field($"XE \"entry {i}\"", "")));
        var file = new WordFile();
        for (var p = 0; p < 100; p++)
            file.P(WordFile.Run($"Paragraph {p}.") + runs);
        Assert.Equal(
            50_000,
            Shape("index.docx", file.ToBytes())
                .Divisions.SelectMany(d => d.Blocks)
                .SelectMany(b => b.Inlines())
                .OfType<IndexEntry>()
                .Count()
        );
    }

    [Fact]
    public void Damaged_text_is_read_up_to_the_damage()
    {
        using var stream = new MemoryStream();
        stream.Write(Good);
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Update, true))
        {
            string text;
            using (var reader = new StreamReader(zip.GetEntry("word/document.xml")!.Open()))
                text = reader.ReadToEnd();
            zip.GetEntry("word/document.xml")!.Delete();
            using var entry = zip.CreateEntry("word/document.xml").Open();
            entry.Write(Encoding.UTF8.GetBytes(text.Replace("Second.", "Second.</w:wrong>", StringComparison.Ordinal)));
        }
        var shaped = Shape("damaged.docx", stream.ToArray());
        Assert.Equal("The drum carries the cable.", shaped.Divisions.Single().Blocks[0].OwnSpans().Single().PlainText());
        Assert.Contains(shaped.Report, r => r.Kind == ReportKind.Look && r.What.Contains("damaged", StringComparison.Ordinal));
    }

    [Fact]
    public void Reading_can_be_stopped()
    {
        using var cancel = new CancellationTokenSource();
        cancel.Cancel();
        Assert.Throws<OperationCanceledException>(() => DocumentReader.Read(new SourceFile("n.docx", Good), [], null, cancel.Token));
    }

    /// <summary>Any damage is read as far as it goes or refused in words; nothing else is thrown.</summary>
    [Theory]
    [InlineData("n.docx")]
    [InlineData("n.html")]
    [InlineData("n.xml")]
    [InlineData("n.md")]
    public void Random_damage_never_throws_anything_else(string name)
    {
        var whole = name switch
        {
            "n.docx" => WordFile.From(ManualGenerator.Make(2, 5)).ToBytes(),
            "n.html" => (
                "<html><body><h1>Oil</h1><table><tr><td colspan=2>a<tr><td>b</table><ul><li>c<ul><li>d</ul></ul><p>e <a "u8
                + "href='#x'>f</a><sup><a href='#x'>1</a></sup></p><p id=x>g</p></body></html>"u8
            ).ToArray(),
            "n.xml" => (
                "<!DOCTYPE book [<!ENTITY f 'Tarn'>]><book><title>T</title><chapter id='a'><title>Oil &f;</title><para>"u8
                + "b<footnote id='n'><para>c</para></footnote><xref linkend='a'/></para><table><tgroup cols='2'><tbody><row><entry>"u8
                + "d</entry></row></tbody></tgroup></table></chapter></book>"u8
            ).ToArray(),
            _ => "# Oil\n\n- a\n  1. b\n\n| q | w |\n|---|---|\n| 1 | 2 |\n\nText[^1]\n\n[^1]: n\n\n> [!NOTE]\n> x\n"u8.ToArray(),
        };
        Gen.Select(Gen.Int[0, whole.Length - 1].Array[1, 6], Gen.Byte.Array[6], Gen.Int[0, whole.Length])
            .Sample(
                (at, bytes, cut) =>
                {
                    var damaged = whole.ToArray();
                    for (var i = 0; i < at.Length; i++)
                        damaged[at[i]] = bytes[i];
                    if (cut % 3 == 0)
                        damaged = damaged[..cut];
                    try
                    {
                        Shape(name, damaged);
                    }
                    catch (SourceFormatException e)
                    {
                        Assert.NotEmpty(e.Message);
                    }
                },
                iter: name == "n.docx" ? 150 : 600
            );
    }
}
