using System.Text;
using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Tests;

/// <summary>Labels and numbers that were typed, in every language that a manual can print them in.</summary>
public class LabelTests
{
    public static TheoryData<string> Languages =>
        [
            .. typeof(LanguageWords)
                .Assembly.GetManifestResourceNames()
                .Where(n => n.StartsWith("words:", StringComparison.Ordinal))
                .Select(n => n["words:".Length..])
                .Order(StringComparer.Ordinal),
        ];

    [Theory]
    [MemberData(nameof(Languages))]
    public void A_typed_label_before_a_head_is_taken_out_and_what_stands_behind_it_stays(string language)
    {
        var words = LanguageWords.Of(language);
        var title = words["index"];
        foreach (var (name, number) in new[] { ("chapter", "12"), ("appendix", "B"), ("section", "4.1"), ("part", "II") })
        {
            var typed = LanguageWords.Numbered(words[name], number) + ". ";
            Assert.Equal(typed.Length, LookAlike.TypedHeadNumber(typed + title));
        }
    }

    [Theory]
    [MemberData(nameof(Languages))]
    public void A_typed_label_before_a_caption_is_taken_out(string language)
    {
        var words = LanguageWords.Of(language);
        foreach (var name in new[] { "figure", "table" })
        {
            var typed = LanguageWords.Numbered(words[name], "3.2") + ": ";
            Assert.Equal(typed.Length, LookAlike.TypedLabel(typed + words["index"]));
            Assert.Equal(name == "table", LookAlike.IsTableLabel(typed));
        }
    }

    [Theory]
    [MemberData(nameof(Languages))]
    public void A_number_typed_in_running_text_becomes_a_reference(string language)
    {
        var words = LanguageWords.Of(language);
        var (first, second) = (LanguageWords.Numbered(words["chapter"], "1"), LanguageWords.Numbered(words["chapter"], "2"));
        var body = $"<h1>{first}. {words["glossary"]}</h1><p>({second})</p>" + $"<h1>{second}. {words["index"]}</h1><p>{words["note"]}</p>";
        var document = DocumentReader.Read(
            new SourceFile("a.html", Encoding.UTF8.GetBytes($"<html lang='{language}'><body>{body}</body></html>")),
            []
        );
        var shaped = Shaper.Shape(new ShapeRequest([document], ImportMapping.None, "s"));
        Assert.Equal([words["glossary"], words["index"]], shaped.Divisions.Select(d => d.Title));
        var reference = Assert.Single(shaped.Divisions[0].Blocks.SelectMany(b => b.Inlines()).OfType<CrossReference>());
        Assert.Equal(shaped.Divisions[1].Id, reference.Target);
    }

    [Theory]
    [InlineData("ro", "Bacul nu pleacă dacă vântul este prea tare și nu se poate vedea malul. Cablul este verificat în fiecare dimineață.")]
    [InlineData("ca", "El transbordador no surt quan el vent és massa fort i no es pot veure la riba. Els cables són revisats cada matí.")]
    [InlineData("es", "El transbordador no sale cuando el viento es demasiado fuerte y no se puede ver la orilla. Los cables se revisan.")]
    [InlineData(
        "sk",
        "Prievoz neodchádza, ak je vietor príliš silný a keď nie je vidieť breh. Lano sa kontroluje pre každú plavbu od rána."
    )]
    [InlineData(
        "vi",
        "Phà không rời bến khi gió quá mạnh và không thể nhìn thấy bờ. Dây cáp được kiểm tra một lần trước các chuyến trong ngày."
    )]
    [InlineData(
        "hr",
        "Trajekt ne kreće ako je vjetar prejak i ako se obala ne može vidjeti. Uže se provjerava svako jutro, kao što je rečeno za sve."
    )]
    public void A_language_is_told_by_its_commonest_words(string language, string text) =>
        Assert.Equal(language, DocumentReader.Read(new SourceFile("a.md", Encoding.UTF8.GetBytes(text + " " + text)), []).Language);

    [Theory]
    [InlineData("Chương 1. Chào mừng", 10)]
    [InlineData("Cap. 5. Pornirea", 8)]
    [InlineData("Capítol 5. Arrencada", 11)]
    [InlineData("第１章　はじめに", 4)]
    [InlineData("第1章はじめに", 3)]
    [InlineData("第 3 章 选择一个版本", 6)]
    [InlineData("第三章 选择", 4)]
    [InlineData("一、概述", 2)]
    [InlineData("1장. 시작하기", 4)]
    [InlineData("2.1 概要", 4)]
    [InlineData("Chapter 44 - Access lists", 13)]
    [InlineData("Appendix A: Spares", 12)]
    // What counts or measures is no number of a head.
    [InlineData("3つの方法", 0)]
    [InlineData("2.5倍の速度", 0)]
    [InlineData("3 ways to moor", 0)]
    [InlineData("Part numbers", 0)]
    [InlineData("Section leaders", 0)]
    public void Numbers_of_heads(string head, int typed) => Assert.Equal(typed, LookAlike.TypedHeadNumber(head));

    [Theory]
    // The words stay as grammar bends them; the number alone becomes the reference.
    [InlineData("ru", "Глава 2. Канат", "Об этом в главе 2.", "Об этом в главе ", "number")]
    [InlineData("pl", "Rozdział 2. Lina", "O tym w rozdziale 2.", "O tym w rozdziale ", "number")]
    [InlineData("en", "Chapter 2. The cable", "See chapter 2.", "See ", "name-number")]
    [InlineData("es", "Capítulo 2. El cable", "Más del 2 por ciento.", null, null)]
    public void Bent_words_stay(string language, string head, string text, string? before, string? form)
    {
        var document = DocumentReader.Read(
            new SourceFile("a.html", Encoding.UTF8.GetBytes($"<html lang='{language}'><body><h1>{head}</h1><p>{text}</p></body></html>")),
            []
        );
        var shaped = Shaper.Shape(new ShapeRequest([document], ImportMapping.None, "s"));
        var content = shaped.Divisions[0].Blocks.OfType<Paragraph>().Single().Content;
        var reference = content.OfType<CrossReference>().SingleOrDefault();
        Assert.Equal(form, reference?.Form);
        if (before is not null)
            Assert.Equal(before, Assert.IsType<TextRun>(content[0]).Text);
    }
}
