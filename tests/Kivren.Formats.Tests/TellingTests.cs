using System.Text;
using Kivren.Formats.Generator;
using Kivren.Formats.Import;

namespace Kivren.Formats.Tests;

/// <summary>What a file does not say of itself: its language, its encoding.</summary>
public class TellingTests
{
    private const string German =
        "Die Fähre wird an einem Seil geführt, das von der einen Seite des Sundes zu der anderen reicht. Die Winde zieht das Seil, "
        + "und der Fährmann hält die Bremse. Bei starkem Wind wird nicht gefahren. Das Seil ist jeden Morgen mit der Hand zu prüfen.";

    private static SourceDocument Read(string name, byte[] bytes) => DocumentReader.Read(new SourceFile(name, bytes), []);

    private static string Page(string text, string head = "") =>
        $"<html><head><title>T</title>{head}</head><body><h1>T</h1><p>{text}</p></body></html>";

    [Theory]
    [InlineData("de", German)]
    [InlineData(
        "fr",
        "Le bac est conduit par un câble qui va de l'une des rives à l'autre. Le treuil tire le câble et le passeur tient le frein. "
            + "Par grand vent on ne passe pas. Le câble est à regarder à la main tous les matins avant le premier "
            + "passage, et par les deux côtés."
    )]
    [InlineData(
        "sv",
        "Färjan går längs en vajer som är dragen från den ena sidan till den andra. Vinschen drar vajern och färjkarlen håller i "
            + "bromsen. När det är hård vind får man inte köra. Vajern ska varje morgon ses över för hand av den "
            + "som kör, och det är inte svårt."
    )]
    [InlineData(
        "ru",
        "Паром идёт вдоль троса, который натянут от одного берега до другого. Лебёдка тянет трос, а паромщик держит тормоз. При "
            + "сильном ветре не ходят. Трос осматривают каждое утро рукой и глазом, до первого рейса, и обо всём "
            + "пишут в журнал парома и пристани."
    )]
    [InlineData(
        "el",
        "Το πορθμείο κινείται κατά μήκος ενός συρματόσχοινου που είναι τεντωμένο από τη μία όχθη στην άλλη. Το βαρούλκο τραβά το "
            + "συρματόσχοινο και ο πορθμέας κρατά το φρένο. Με δυνατό άνεμο δεν γίνονται δρομολόγια, και όλα γράφονται στο ημερολόγιο."
    )]
    [InlineData(
        "ja",
        "渡し船は、岸から岸へ張られたロープに沿って動きます。ウインチがロープを引き、渡し守がブレーキを握ります。風が強いときは運航しません。ロープは毎朝、最初の便の前に手と目で点検します。"
            + "点検の結果は日誌に書きます。ロープに傷があるときは、船を出してはいけません。修理が終わるまで、乗客に知らせてください。渡し守は二人で作業します。荷物は中央に置いてください。動物は綱"
            + "でつないでください。子どもは手すりから離れて立たせてください。夜は灯りをともします。霧のときは鐘を鳴らします。"
    )]
    public void The_language_of_a_file_that_says_none_is_told_from_its_letters_and_words(string language, string text)
    {
        var document = Read("a.html", Encoding.UTF8.GetBytes(Page(text)));
        Assert.Equal(language, document.Language);
        Assert.Equal(language, Assert.Single(document.Met, m => m.What.Contains("language", StringComparison.Ordinal)).Words);
    }

    /// <summary>A long text says what it is in, whatever the program that wrote it says; a short one, and kindred languages, do
    /// not.</summary>
    [Theory]
    [InlineData("fr", 10, "de")]
    [InlineData("ja", 10, "de")]
    [InlineData("fr", 2, "fr")]
    [InlineData("de-CH", 10, "de-CH")]
    [InlineData("eu", 10, "eu")]
    public void A_long_text_in_another_language_than_its_file_says_is_in_that(string said, int times, string language)
    {
        var text = string.Join(' ', Enumerable.Repeat(German, times));
        var document = Read("a.html", Encoding.UTF8.GetBytes($"<html lang='{said}'><body><h1>T</h1><p>{text}</p></body></html>"));
        Assert.Equal(language, document.Language);
        Assert.Equal(said != language, document.Met.Any(m => m.What.Contains("another language", StringComparison.Ordinal)));
    }

    [Fact]
    public void Kindred_languages_and_a_Latin_mark_over_another_script()
    {
        var danish = string.Join(
            ' ',
            Enumerable.Repeat("Færgen er ved det store hus og den har en god bremse til at holde båden fast.", 40)
        );
        Assert.Equal("nb", Read("a.html", Encoding.UTF8.GetBytes($"<html lang='nb'><body><p>{danish}</p></body></html>")).Language);
        var greek = string.Join(' ', Enumerable.Repeat("Το πορθμείο κινείται κατά μήκος ενός συρματόσχοινου.", 5));
        Assert.Equal("el", Read("a.html", Encoding.UTF8.GetBytes($"<html lang='en'><body><p>{greek}</p></body></html>")).Language);
        Assert.Equal("bg", Read("a.html", Encoding.UTF8.GetBytes($"<html lang='bg'><body><p>{Cyrillic}</p></body></html>")).Language);
    }

    private static readonly string Cyrillic = string.Join(' ', Enumerable.Repeat("Фериботът се движи по въже между двата бряга.", 10));

    [Fact]
    public void A_document_is_in_the_language_of_most_of_its_words()
    {
        var file = new WordFile();
        file.Xml($"<w:p>{WordFile.Run("La drague", "<w:lang w:val=\"fr-FR\"/>")}{WordFile.Run("Words of the usual language")}</w:p>");
        Assert.Equal("en-GB", Read("a.docx", file.ToBytes()).Language);
        file.Xml($"<w:p>{WordFile.Run("Le câble est à regarder à la main tous les matins", "<w:lang w:val=\"fr-FR\"/>")}</w:p>");
        Assert.Equal("fr-FR", Read("a.docx", file.ToBytes()).Language);
    }

    [Theory]
    [InlineData("<html lang='nl'>", "nl")]
    [InlineData("<html lang='de_AT'>", "de-AT")]
    [InlineData("<html lang='[language]'>", "de")]
    [InlineData("<html>", "de")]
    public void What_a_file_says_goes_before_what_its_words_tell_unless_it_is_no_language(string html, string language) =>
        Assert.Equal(language, Read("a.html", Encoding.UTF8.GetBytes(html + $"<body><h1>T</h1><p>{German}</p></body></html>")).Language);

    [Theory]
    [InlineData("Oil.")]
    [InlineData(
        "foo bar baz qux quux corge grault garply waldo fred plugh xyzzy thud foo bar baz qux quux corge grault garply waldo fred "
            + "plugh xyzzy thud foo bar baz qux quux corge grault garply waldo fred plugh xyzzy thud foo bar baz "
            + "qux quux corge grault garply"
    )]
    public void A_short_text_and_words_of_no_language_stay_as_usual(string text)
    {
        var document = Read("a.html", Encoding.UTF8.GetBytes(Page(text)));
        Assert.Equal("en-GB", document.Language);
        Assert.DoesNotContain(document.Met, m => m.What.Contains("language", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("windows-1252", "a.html", true)]
    [InlineData("windows-1252", "a.md", true)]
    [InlineData("utf-8", "a.html", false)]
    [InlineData("utf-8", "a.md", false)]
    [InlineData("utf-16", "a.md", false)]
    [InlineData("utf-16BE", "a.html", false)]
    public void Letters_are_right_whether_a_file_says_its_encoding_or_not(string encoding, string name, bool told)
    {
        var of = encoding.StartsWith("utf", StringComparison.Ordinal)
            ? Encoding.GetEncoding(encoding)
            : CodePagesEncodingProvider.Instance.GetEncoding(encoding)!;
        var text = name.EndsWith("md", StringComparison.Ordinal) ? "# T\n\n" + German : Page(German);
        var document = Read(name, [.. of.GetPreamble(), .. of.GetBytes(text)]);
        Assert.Contains("Die Fähre wird an einem Seil geführt", document.Blocks.Words(), StringComparison.Ordinal);
        Assert.Equal(told, document.Met.Any(m => m.What.Contains("encoding", StringComparison.Ordinal)));
    }

    [Theory]
    [InlineData("shift_jis")]
    [InlineData("windows-1251")]
    public void An_encoding_that_is_declared_is_taken_and_one_that_is_not_is_guessed(string encoding)
    {
        var of = CodePagesEncodingProvider.Instance.GetEncoding(encoding)!;
        var words =
            encoding == "shift_jis"
                ? "渡し船は、岸から岸へ張られたロープに沿って動きます。ウインチがロープを引きます。"
                : "Паром идёт вдоль троса, который натянут от берега до берега.";
        var text = string.Concat(Enumerable.Repeat(words, 8));
        Assert.Contains(
            words,
            Read("a.html", of.GetBytes(Page(text, $"<meta charset='{encoding}'>"))).Blocks.Words(),
            StringComparison.Ordinal
        );
        var guessed = Read("a.html", of.GetBytes(Page(text)));
        Assert.Contains(words, guessed.Blocks.Words(), StringComparison.Ordinal);
        Assert.Contains(guessed.Met, m => m.What.Contains("encoding", StringComparison.Ordinal));
    }
}
