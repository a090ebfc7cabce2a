using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Wordprocessing;
using Kivren.Core.Content;
using Kivren.Formats.Docx;
using Kivren.Formats.Docx.Writing;
using Kivren.Formats.Import;
using Kivren.Formats.Outputs;
using Kivren.Formats.Package;

namespace Kivren.Formats.Tests;

/// <summary>Editions in a firm's own template: its styles, paper and running heads, sound to the validator, whole when brought in again.
/// </summary>
public class WordTemplateTests
{
    private const string Name = "fjord.dotx";

    private const string StylesOfFirm = """
        <w:styles xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main">
          <w:style w:type="paragraph" w:default="1" w:styleId="Standard"><w:name w:val="Normal"/></w:style>
          <w:style w:type="paragraph" w:styleId="berschrift1"><w:name w:val="heading 1"/><w:basedOn w:val="Standard"/></w:style>
          <w:style w:type="paragraph" w:customStyle="1" w:styleId="FjordMain"><w:name w:val="Fjord main words"/></w:style>
          <w:style w:type="paragraph" w:customStyle="1" w:styleId="FjordSection"><w:name w:val="Fjord Heading 2"/></w:style>
          <w:style w:type="paragraph" w:customStyle="1" w:styleId="Caption"><w:name w:val="Fjord under pictures"/></w:style>
          <w:style w:type="paragraph" w:customStyle="1" w:styleId="FjordWarn"><w:name w:val="Fjord Warning"/></w:style>
          <w:style w:type="paragraph" w:customStyle="1" w:styleId="FjordSteps"><w:name w:val="Fjord Steps"/>
            <w:pPr><w:numPr><w:numId w:val="3"/></w:numPr></w:pPr></w:style>
          <w:style w:type="character" w:customStyle="1" w:styleId="FjordPanel"><w:name w:val="Fjord Panel"/></w:style>
        </w:styles>
        """;

    private static byte[] Template(string? styles = null)
    {
        using var stream = new MemoryStream();
        using (var document = WordprocessingDocument.Create(stream, WordprocessingDocumentType.Template))
        {
            var main = document.AddMainDocumentPart();
            main.AddNewPart<StyleDefinitionsPart>("rId1").Styles = new Styles(styles ?? StylesOfFirm);
            main.AddNewPart<NumberingDefinitionsPart>("rId2").Numbering = new Numbering(
                """
                <w:numbering xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main">
                  <w:abstractNum w:abstractNumId="4"><w:multiLevelType w:val="singleLevel"/>
                    <w:lvl w:ilvl="0"><w:start w:val="1"/></w:lvl></w:abstractNum>
                  <w:num w:numId="3"><w:abstractNumId w:val="4"/></w:num>
                </w:numbering>
                """
            );
            main.AddNewPart<DocumentSettingsPart>("rId3").Settings = new Settings(
                """
                <w:settings xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main">
                  <w:documentProtection w:edit="readOnly" w:enforcement="1"/><w:defaultTabStop w:val="720"/></w:settings>
                """
            );
            var header = main.AddNewPart<HeaderPart>("rId7");
            var mark = header.AddImagePart(ImagePartType.Png, "rIdMark");
            mark.FeedData(new MemoryStream(Convert.FromBase64String(Dot)));
            header.Header = new Header(
                """
                <w:hdr xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main">
                  <w:p><w:r><w:t>Fjord Ferries</w:t></w:r></w:p></w:hdr>
                """
            );
            main.Document = new Document(
                """
                <w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"
                            xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><w:body>
                  <w:p><w:r><w:t>Type here.</w:t></w:r></w:p>
                  <w:sectPr><w:headerReference w:type="default" r:id="rId7"/><w:pgSz w:w="9978" w:h="14173"/>
                    <w:pgMar w:top="1000" w:right="900" w:bottom="1100" w:left="1200" w:header="500" w:footer="500" w:gutter="0"/>
                    <w:titlePg/></w:sectPr>
                </w:body></w:document>
                """
            );
        }
        return stream.ToArray();
    }

    private const string Dot = "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==";

    private static readonly RoleStyle[] Roles =
    [
        new("body", "Fjord main words"),
        new("headA", "Fjord Heading 2"),
        new("warning", "Fjord Warning"),
        new("steps", "Fjord Steps"),
        new("control", "Fjord Panel"),
    ];

    private static (byte[] File, IReadOnlyList<string> Notes) Made(
        Package.Package package,
        byte[] template,
        IReadOnlyList<RoleStyle> roles,
        Edition? edition = null
    )
    {
        using var file = new MemoryStream();
        var (_, report) = OutputMaker.Make(
            package.Manual,
            edition ?? Edition.Whole,
            new OutputChoice(OutputKind.WordDocument) { Template = Name, RoleStyles = roles },
            name => name == Name ? template : package.Picture(name),
            OutputMaker.NoMoment,
            file
        );
        return (file.ToArray(), report.Notes);
    }

    [Theory]
    [InlineData("tarn6")]
    [InlineData("cf2")]
    public void In_a_template_text_has_its_styles_and_pages_its_paper_and_heads(string demo)
    {
        var package = WordWriterTests.Demo(demo);
        var (file, notes) = Made(package, Template(), Roles);
        WordWriterTests.IsSound(file);
        Assert.Equal(file, Made(package, Template(), Roles).File);
        Assert.Empty(notes);
        using var document = WordprocessingDocument.Open(new MemoryStream(file), false);
        var main = document.MainDocumentPart!;
        var used = main.Document!.Descendants<ParagraphStyleId>().Select(s => s.Val!.Value!).ToHashSet();
        Assert.Superset(new HashSet<string> { "FjordMain", "FjordSection", "berschrift1" }, used);
        Assert.Equal(package.Manual.Divisions.SelectMany(d => d.Blocks).Any(b => b is Steps), used.Contains("FjordSteps"));
        Assert.DoesNotContain("Heading2", used);
        // Every style that is used is there; the firm's own of the same id is left what it was.
        var there = main.StyleDefinitionsPart!.Styles!.Elements<Style>()
            .ToDictionary(s => s.StyleId!.Value!, s => s.StyleName!.Val!.Value!);
        Assert.Superset(used, there.Keys.ToHashSet());
        Assert.Equal("Fjord under pictures", there["Caption"]);
        Assert.Equal("caption", there["CaptionOfManual"]);
        Assert.Contains("CaptionOfManual", used);
        var last = main.Document.Descendants<SectionProperties>().Last();
        Assert.Equal(9978u, last.GetFirstChild<PageSize>()!.Width!.Value);
        var head = (HeaderPart)main.GetPartById(last.GetFirstChild<HeaderReference>()!.Id!.Value!);
        Assert.Equal("Fjord Ferries", head.Header!.InnerText);
        Assert.Single(head.ImageParts);
        Assert.Empty(main.DocumentSettingsPart!.Settings!.Elements<DocumentProtection>());
        // Lists of the text are others than those of the template.
        var lists = main.NumberingDefinitionsPart!.Numbering!.Elements<NumberingInstance>().Select(n => n.NumberID!.Value).ToList();
        Assert.Equal(lists.Distinct(), lists);
        Assert.DoesNotContain(3, main.Document.Descendants<NumberingId>().Select(n => n.Val!.Value));
        Assert.DoesNotContain("Type here", main.Document.InnerText, StringComparison.Ordinal);
    }

    [Fact]
    public void What_the_template_lacks_is_told_and_dressed_as_in_the_look()
    {
        var package = WordWriterTests.Demo("cf2");
        var (file, notes) = Made(
            package,
            Template(),
            [new("body", "Gone Body"), new("headA", "Fjord Panel"), new("nobody", "Fjord Steps")]
        );
        WordWriterTests.IsSound(file);
        Assert.Equal(3, notes.Count);
        Assert.Contains(notes, n => n.Contains("“Gone Body”", StringComparison.Ordinal));
        using var document = WordprocessingDocument.Open(new MemoryStream(file), false);
        Assert.Contains(document.MainDocumentPart!.Document!.Descendants<ParagraphStyleId>(), s => s.Val == "Heading2");
    }

    [Fact]
    public void Brought_in_again_by_the_mapping_the_same_roles_come_back()
    {
        var package = WordWriterTests.Demo("tarn6");
        var edition = package.Manual.EditionNamed(null).For(Medium.Paper);
        var text = Core.Selection.Selector.Select(package.Manual, edition);
        var written = package.Manual with { Divisions = [.. text.Divisions.Where(d => d.Kind != DivisionKind.Index)] };
        var mapping = new ImportMapping("Fjord")
        {
            Roles = Roles.ToDictionary(r => (r.Role == "control" ? "c:" : "p:") + r.Style, r => r.Role),
        };
        var file = Made(package, Template(), Roles, edition).File;
        var shaped = Shaper.Shape(new ShapeRequest([WordReader.Read("again.docx", file)], mapping, "s"));
        var again = written with { Divisions = shaped.Divisions };
        Assert.Equal(WordWriterTests.Counts(written), WordWriterTests.Counts(again));
    }

    [Fact]
    public void A_mapping_that_was_kept_says_the_styles_of_roles_and_names_say_the_rest()
    {
        var mapping = new ImportMapping("Fjord") { Roles = new Dictionary<string, string> { ["p:Fjord main words"] = "body" } };
        var proposed = WordTemplate.Read(Name, Template()).Proposed(mapping).ToDictionary(r => r.Role, r => r.Style);
        Assert.Equal("Fjord main words", proposed["body"]);
        Assert.Equal(("Fjord Heading 2", "Fjord Warning", "Fjord Steps"), (proposed["headA"], proposed["warning"], proposed["steps"]));
        Assert.Equal(("heading 1", "Fjord Panel"), (proposed["chapter"], proposed["control"]));
    }

    [Theory]
    [InlineData("D0CF11E0", "protected")]
    [InlineData("00010203", "")]
    [InlineData("", "")]
    public void What_is_no_template_is_told(string bytes, string says)
    {
        var e = Assert.Throws<SourceFormatException>(() => WordTemplate.Read("x.dotx", Convert.FromHexString(bytes)));
        Assert.Contains(says, e.Message, StringComparison.Ordinal);
        var package = WordWriterTests.Demo("cf2");
        Assert.Throws<OutputException>(() => Made(package, Convert.FromHexString(bytes), Roles));
    }

    [Fact]
    public void A_template_goes_along_in_the_package()
    {
        var package = WordWriterTests.Demo("cf2");
        var template = Template();
        var choice = new OutputChoice(OutputKind.WordDocument) { Template = Name, RoleStyles = Roles };
        var with = package with
        {
            Manual = package.Manual with
            {
                Assets = [.. package.Manual.Assets, WordTemplate.Describe(Name, template)],
                Editions = [new Edition("For Fjord") { GoesOutAs = [choice] }],
            },
            Pictures = new Dictionary<string, byte[]>(package.Pictures) { [Name] = template },
        };
        using var output = new MemoryStream();
        PackageWriter.Write(with, output);
        output.Position = 0;
        var problems = new List<ReadProblem>();
        var again = PackageReader.Read(output, problems);
        Assert.Empty(problems);
        Assert.Equal(choice, again.Manual.Editions[0].GoesOutAs[0]);
        Assert.Equal(template, again.Picture(Name));
    }
}
