using System.Text;
using System.Xml.Linq;
using Kivren.Formats.DocBook;
using Kivren.Formats.Import;

namespace Kivren.Formats.Tests;

/// <summary>Every element of DocBook, wherever it stands: nothing within it is dropped without a word.</summary>
public class DocBookElementTests
{
    private const string Schema = "/usr/share/xml/docbook/schema/rng/5.0/docbook.rng";

    /// <summary>Of DocBook 4.5 and 5.1, and not in the schema.</summary>
    private static readonly string[] Others =
    [
        "ackno",
        "action",
        "articleinfo",
        "authorblurb",
        "beginpage",
        "blockinfo",
        "bookinfo",
        "chapterinfo",
        "collabname",
        "comment",
        "contractnum",
        "contractsponsor",
        "corpauthor",
        "corpcredit",
        "corpname",
        "glosslist",
        "graphic",
        "graphicco",
        "highlights",
        "inlinegraphic",
        "interface",
        "invpartnumber",
        "isbn",
        "issn",
        "jobtitle",
        "lot",
        "lotentry",
        "medialabel",
        "mediaobjectco",
        "modespec",
        "otheraddr",
        "partinfo",
        "prefaceinfo",
        "programlistingco",
        "pubdate",
        "screenco",
        "screeninfo",
        "screenshot",
        "sectioninfo",
        "sgmltag",
        "shortaffil",
        "sidebarinfo",
        "structfield",
        "structname",
        "street",
        "tocback",
        "tocchap",
        "tocentry",
        "tocfront",
        "toclevel1",
        "ulink",
        "assembly",
        "topic",
        "module",
        "transforms",
        "givenname",
        "meta",
        "buildtarget",
        "revnumber",
        "unknown-of-tomorrow",
    ];

    private static List<string> Names()
    {
        XNamespace relax = "http://relaxng.org/ns/structure/1.0";
        return
        [
            .. XDocument
                .Load(Schema)
                .Descendants(relax + "element")
                .Select(e => (string?)e.Attribute("name"))
                .OfType<string>()
                .Concat(Others)
                .Distinct()
                .Order(StringComparer.Ordinal),
        ];
    }

    private static readonly (string Where, string Before, string After)[] Places =
    [
        ("in a chapter", "<para>Before.</para><E>", "</E><para>After.</para>"),
        ("in a chapter, with a paragraph", "<para>Before.</para><E><para>", "</para></E><para>After.</para>"),
        ("in a section", "<section><title>Brake</title><para>Before.</para><E>", "</E></section>"),
        ("in a paragraph", "<para>Before <E>", "</E> after.</para>"),
        ("in an item", "<itemizedlist><listitem><para>Before.</para><E>", "</E></listitem></itemizedlist>"),
        ("in a figure", "<figure><title>Drum</title><E>", "</E></figure>"),
        ("in a cell", "<informaltable><tgroup cols='1'><tbody><row><entry><E>", "</E></entry></row></tbody></tgroup></informaltable>"),
    ];

    [Fact]
    public void No_word_in_any_element_is_lost_in_silence()
    {
        var lost = new List<string>();
        foreach (var name in Names())
        foreach (var (where, before, after) in Places)
        {
            var text =
                "<book xmlns=\"http://docbook.org/ns/docbook\" version=\"5.0\"><chapter><title>Winch</title>"
                + before.Replace("<E>", $"<{name}>", StringComparison.Ordinal)
                + "oakwheel"
                + after.Replace("</E>", $"</{name}>", StringComparison.Ordinal)
                + "</chapter></book>";
            var bytes = Encoding.UTF8.GetBytes(text);
            try
            {
                var shaped = Shaper.Shape(
                    new ShapeRequest([DocBookReader.Read("b.xml", bytes, new Dictionary<string, byte[]>())], ImportMapping.None, "s")
                );
                if (SourceWords.Missing("b.xml", bytes, shaped).Contains("oakwheel"))
                    lost.Add($"{name} {where}");
            }
            catch (SourceFormatException e)
            {
                lost.Add($"{name} {where}: {e.Message}");
            }
        }
        Assert.True(lost.Count == 0, $"{lost.Count}: {string.Join("; ", lost.Take(400))}");
    }
}
