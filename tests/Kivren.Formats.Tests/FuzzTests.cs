using System.Diagnostics;
using System.IO.Compression;
using System.Text;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Formats.Generator;
using Kivren.Formats.Import;
using Kivren.Formats.Package;
using Kivren.Formats.Pictures;

namespace Kivren.Formats.Tests;

/// <summary>Every reader is given files that were damaged at random: it reads what can be read or says what is wrong; never
/// another error, never more than its share of time and memory; and what was read is composed. KIVREN_FUZZ_SECONDS says for how
/// long each goes on.</summary>
public class FuzzTests
{
    private static readonly TimeSpan Long = TimeSpan.FromSeconds(
        int.Parse(Environment.GetEnvironmentVariable("KIVREN_FUZZ_SECONDS") ?? "4", System.Globalization.CultureInfo.InvariantCulture)
    );
    private static readonly TimeSpan Share = TimeSpan.FromSeconds(20);
    private const long MostMemory = 2L << 30;

    private static readonly string[] Tokens =
    [
        "<",
        ">",
        "&",
        "\"",
        "'",
        "<table>",
        "</table>",
        "<tr>",
        "<td>",
        "<td colspan='99999'>",
        "<ul><li>",
        "</li>",
        "<p>",
        "</p>",
        "<para>",
        "</para>",
        "<footnote>",
        "<xref linkend='x'/>",
        "<w:p>",
        "</w:p>",
        "<w:tbl>",
        "<w:tr>",
        "<w:tc>",
        "<w:r><w:t>x</w:t></w:r>",
        "<w:gridSpan w:val='99999'/>",
        "<w:ilvl w:val='99'/>",
        "\0",
        "\uFFFE",
        "\u202E",
        "\u0301\u0301\u0301",
        "𝒳",
        "\n\n",
        "    ",
        "```",
        "|---|",
        "* ",
        "> > > ",
        "[x](y)",
        "<!--",
        "]]>",
        "[",
        "]",
        "{",
        "}",
        "null",
        "-1",
        "1e999",
        "99999999999999999999",
        "\"type\":",
        "\"content\":[",
        "\"id\":\"a\"",
        "true",
    ];

    private static string Root()
    {
        var at = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(at, "Kivren.slnx")))
            at = Path.GetDirectoryName(at)!;
        return at;
    }

    /// <summary>One to six wounds: bytes changed, cut out, doubled, moved, or a token put in.</summary>
    private static byte[] Wounded(byte[] sound, Random random)
    {
        var bytes = sound.ToList();
        for (var wounds = random.Next(1, 7); wounds > 0 && bytes.Count > 0; wounds--)
        {
            var at = random.Next(bytes.Count);
            var length = Math.Min(bytes.Count - at, 1 + random.Next(random.Next(2) == 0 ? 4 : 400));
            switch (random.Next(6))
            {
                case 0:
                    bytes[at] = (byte)random.Next(256);
                    break;
                case 1:
                    bytes.RemoveRange(at, length);
                    break;
                case 2:
                    bytes.InsertRange(at, bytes.GetRange(at, length));
                    break;
                case 3:
                    bytes.InsertRange(random.Next(bytes.Count), bytes.GetRange(at, length));
                    break;
                case 4:
                    bytes.InsertRange(
                        at,
                        Encoding.UTF8.GetBytes(
                            string.Concat(Enumerable.Repeat(Tokens[random.Next(Tokens.Length)], random.Next(8) == 0 ? 3000 : 1))
                        )
                    );
                    break;
                default:
                    bytes.InsertRange(at, Encoding.UTF8.GetBytes(Tokens[random.Next(Tokens.Length)]));
                    break;
            }
        }
        return [.. bytes];
    }

    /// <summary>An archive with one of its parts wounded, or, seldom, the archive itself.</summary>
    private static byte[] WoundedArchive(byte[] sound, Random random)
    {
        if (random.Next(10) == 0)
            return Wounded(sound, random);
        using var from = new ZipArchive(new MemoryStream(sound));
        var parts = from.Entries.Where(e => e.Length > 0).ToList();
        var wounded = parts[random.Next(parts.Count)];
        using var to = new MemoryStream();
        using (var zip = new ZipArchive(to, ZipArchiveMode.Create, leaveOpen: true))
            foreach (var part in parts)
            {
                using var read = part.Open();
                using var whole = new MemoryStream();
                read.CopyTo(whole);
                using var write = zip.CreateEntry(part.FullName).Open();
                write.Write(part == wounded ? Wounded(whole.ToArray(), random) : whole.ToArray());
            }
        return to.ToArray();
    }

    private static void Fuzz(string what, IReadOnlyList<(string Name, byte[] Bytes)> sound, Action<string, byte[]> read)
    {
        Assert.NotEmpty(sound);
        var clock = Stopwatch.StartNew();
        var seed = 0;
        for (; clock.Elapsed < Long; seed++)
        {
            var random = new Random(seed);
            var (name, bytes) = sound[seed % sound.Count];
            var wounded = Path.GetExtension(name) is ".docx" or ".kivren" ? WoundedArchive(bytes, random) : Wounded(bytes, random);
            var began = clock.Elapsed;
            var before = GC.GetAllocatedBytesForCurrentThread();
            try
            {
                read(name, wounded);
            }
            catch (Exception e)
            {
                Assert.Fail($"{what}, {name}, seed {seed}: {e}");
            }
            Assert.True(clock.Elapsed - began < Share, $"{what}, {name}, seed {seed} takes {clock.Elapsed - began}.");
            var allocated = GC.GetAllocatedBytesForCurrentThread() - before;
            Assert.True(allocated < MostMemory, $"{what}, {name}, seed {seed} takes {allocated >> 20} MB.");
        }
        Assert.True(seed > 0);
    }

    private static List<(string, byte[])> Samples(params string[] endings) =>
        [
            .. new[] { Path.Combine(Root(), "demo", "import"), Environment.GetEnvironmentVariable("KIVREN_SAMPLES") }
                .Where(f => f is not null && Directory.Exists(f))
                .SelectMany(f => Directory.EnumerateFiles(f!, "*", SearchOption.AllDirectories))
                .Where(f => endings.Contains(Path.GetExtension(f)) && new FileInfo(f).Length < 200_000)
                .Order(StringComparer.Ordinal)
                .Select(f => (Path.GetFileName(f), File.ReadAllBytes(f))),
        ];

    private static void Import(string name, byte[] bytes)
    {
        SourceDocument document;
        try
        {
            document = DocumentReader.Read(new SourceFile(name, bytes), []);
        }
        catch (SourceFormatException)
        {
            return;
        }
        var count = 0;
        Composed(Shaper.Shape(new ShapeRequest([document], ImportMapping.None, "s")).ToManual(() => new Id($"m{++count}"), "Workshop, A5"));
    }

    private static void Composed(Manual manual)
    {
        Assert.Empty(ManualCheck.Problems(manual));
        Composer.Compose(manual, manual.EditionNamed(null), ShippedLooks.Named(manual.Look));
    }

    [Fact]
    public void Word_documents() => Fuzz("Word", Samples(".docx"), Import);

    [Fact]
    public void Markdown() => Fuzz("Markdown", Samples(".md"), Import);

    [Fact]
    public void Html() => Fuzz("HTML", Samples(".html"), Import);

    private const string Article =
        "<?xml version='1.0'?><article><title>Winch</title><section id='x'><title>Oil</title><para>See <xref linkend='x'/>"
        + ".<footnote><para>Cold.</para></footnote></para><itemizedlist><listitem><para>One</para></listitem></itemizedlist><table>"
        + "<title>T</title><tgroup cols='2'><tbody><row><entry>a</entry><entry>b</entry></row></tbody></tgroup></table><warning>"
        + "<para>Hot</para></warning><programlisting>x = 1</programlisting></section></article>";

    [Fact]
    public void Doc_book() => Fuzz("DocBook", [("article.xml", Encoding.UTF8.GetBytes(Article)), .. Samples(".docbook", ".dbk")], Import);

    [Fact]
    public void Packages()
    {
        using var made = new MemoryStream();
        PackageWriter.Write(ManualGenerator.Make(6, 1), made);
        Fuzz(
            "Package",
            [("made.kivren", made.ToArray()), ("cf2.kivren", File.ReadAllBytes(Path.Combine(Root(), "demo", "cf2.kivren")))],
            (_, bytes) =>
            {
                Package.Package package;
                try
                {
                    package = PackageReader.Read(new MemoryStream(bytes), []);
                }
                catch (PackageFormatException)
                {
                    return;
                }
                Composed(package.Manual);
            }
        );
    }

    [Fact]
    public void Drawings() =>
        Fuzz(
            "SVG",
            [
                (
                    "p.svg",
                    Encoding.UTF8.GetBytes(
                        "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 100 50'><g transform='rotate(30)'><rect x='10' y='5' "
                            + "width='30' height='20' fill='#123'/><path d='M0 0C1 2 3 4 5 6A5 5 0 0 1 9 9Z'/><text x='1' y='2'>"
                            + "Oil</text><use href='#a'/></g><symbol id='a'><circle r='4'/></symbol></svg>"
                    )
                ),
            ],
            (name, bytes) =>
            {
                try
                {
                    if (PictureReader.Describe(name, bytes).MediaType == "image/svg+xml")
                        SvgDrawing.Read(name, bytes);
                }
                catch (PictureFormatException)
                {
                    // Refused with its cause.
                }
            }
        );
}
