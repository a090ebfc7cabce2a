using System.Text;

namespace Kivren.Formats.Import;

/// <summary>The language of a text that does not say it: by its letters, and where many languages share them by its commonest
/// words.</summary>
internal static class LanguageGuess
{
    /// <summary>Fewer letters tell nothing.</summary>
    private const int FewestLetters = 120;

    /// <summary>Letters of one script, in hundredths of all, that tell it.</summary>
    private const int LeastLetters = 30;

    /// <summary>Common words of a language, in hundredths of all words, that tell it.</summary>
    private const int LeastWords = 8;

    private const int FewestDifferent = 4;

    /// <summary>Letters that are looked at.</summary>
    private const int MostLetters = 200_000;

    private static readonly (string Language, HashSet<string> Words)[] Commonest = new (string, string)[]
    {
        ("en-GB", "the of and to in is that for it with as be are this by or from on an not can if when which"),
        ("de", "der die das und ist in den von zu mit sich des auf für nicht ein eine dem werden wird auch als oder bei wenn sie"),
        ("fr", "le la les de des et est un une du dans pour que qui sur pas par au avec sont ou vous ce plus ne"),
        ("es", "el la los las de que y en un una es se por para con no del al como su más o si este"),
        ("it", "il la di che e in un una per è del della con non si da le dei sono come nel alla più o questo gli"),
        ("nl", "de het een van en in is dat op te voor met zijn niet aan er om door als bij worden wordt of deze naar"),
        ("sv", "och att det som en på är av för med den till inte ett om har de kan eller från när du vid ska"),
        ("da", "og at det er en til på som af for med den ikke et de kan der har fra eller ved når du skal blive"),
        ("nb", "og å det er en til på som av for med den ikke et de kan har fra eller ved når du skal bli må"),
        ("fi", "ja on ei se että tai kun ovat oli myös sen joka voi niin kuin jos mutta sitä tämä ole"),
        ("pl", "i w na z do się nie jest że to jak od po przez dla oraz lub są przy może przed ten"),
        ("cs", "a v na se je že s z do pro jako od nebo by při po k jsou není která který lze"),
        ("pt", "o a os as de que e do da em um uma para com não no na é se por mais como ao ou dos"),
        ("hu", "a az és hogy nem is egy van meg ha vagy kell csak már lehet mint ez azt amely"),
        ("ro", "și în de la cu pe este nu se că un o din care pentru sau sunt mai acest poate dacă când fi prin ale"),
        ("ca", "el la els les de i que en un una és per amb no del al com si o més aquest aquesta són pot podeu quan"),
        ("sk", "a v na sa je že s z do pre ako od by po k sú nie ktorý ktorá alebo môže ak keď pri"),
        ("sl", "in v na se je da z za ki so ne od do ali pri lahko če kot ni po ter tudi"),
        ("hr", "i u na se je da za od koji su ne s ili kao što iz do može ako nije pri"),
        ("lt", "ir yra kad į su iš ar tai kaip nuo bei gali jei arba šis būti kai per"),
        ("et", "ja on ei et see kui ning ka või mis selle oma seda kuid võib saab peab"),
        ("vi", "và của là các được có cho không trong một này với để từ khi bạn như hoặc những trên phải sẽ"),
        ("tr", "ve bir bu için ile da de olarak olan veya çok daha gibi ne en kadar sonra değil her"),
    }
        .Select(l => (l.Item1, l.Item2.Split(' ').ToHashSet(StringComparer.Ordinal)))
        .ToArray();

    /// <returns>null where the text is too short or its words are of no language known here</returns>
    public static string? Of(string text)
    {
        var scripts = new Dictionary<string, int>(StringComparer.Ordinal);
        var letters = 0;
        foreach (var rune in text.EnumerateRunes())
        {
            if (!Rune.IsLetter(rune))
                continue;
            if (++letters > MostLetters)
                break;
            var script = ScriptOf(rune.Value);
            scripts[script] = scripts.GetValueOrDefault(script) + 1;
        }
        if (letters < FewestLetters)
            return null;
        bool Is(string script) => scripts.GetValueOrDefault(script) * 100 >= LeastLetters * letters;
        // Japanese writes Han letters among its own.
        if (scripts.GetValueOrDefault("ja") * 100 >= 10 * letters)
            return "ja";
        foreach (var language in (ReadOnlySpan<string>)["ko", "zh", "ar", "he", "hi", "th", "el", "ka", "hy"])
            if (Is(language))
                return language;
        if (Is("ru"))
            return text.AsSpan().ContainsAny("іїєґ") ? "uk"
                : text.AsSpan().ContainsAny("ъы") || !text.AsSpan().ContainsAny("ј") ? "ru"
                : "sr";
        return Is("Latin") ? ByWords(text.Length > MostLetters ? text[..MostLetters] : text) : null;
    }

    /// <summary>Words of a language that a file names wrongly, as programs that wrote it in another country leave it: what it is
    /// in.</summary>
    /// <returns>null where the text is too short to say it, or may be in the language that the file names</returns>
    public static string? Against(string said, string text)
    {
        const int fewestWords = 300,
            mostLetters = 30_000,
            surely = 20;
        var named = said.Split('-')[0];
        if (text.Length > mostLetters)
            text = text[..mostLetters];
        var words = Words(text);
        // Kindred languages share their commonest words.
        int Met(string language) => Commonest.Where(c => c.Language.Split('-')[0] == language).Sum(c => words.Count(c.Words.Contains));
        if (Met(named) * 100 >= surely * words.Count || Of(text) is not { } guess || guess.Split('-')[0] == named)
            return null;
        bool IsLatin(string language) => Commonest.Any(c => c.Language.Split('-')[0] == language);
        if (!IsLatin(guess.Split('-')[0]))
            return IsLatin(named) ? guess : null;
        if (words.Count < fewestWords)
            return null;
        return !IsLatin(named) ? (OfScripts.Contains(named) ? guess : null)
            : Met(named) * 3 <= Met(guess.Split('-')[0]) ? guess
            : null;
    }

    /// <summary>Languages that letters tell.</summary>
    private static readonly string[] OfScripts = ["ja", "ko", "zh", "ar", "he", "hi", "th", "el", "ka", "hy", "ru", "uk", "sr", "fa", "bg"];

    private static List<string> Words(string text) =>
        [
            .. text.Split([' ', '\n', '\t', '\u00A0', ',', ';', ':', '(', ')', '“', '”', '"'], StringSplitOptions.RemoveEmptyEntries)
                .Select(w => w.Trim('.').ToLowerInvariant())
                // Addresses and names of files are of no language.
                .Where(w => w.Length > 0 && w.AsSpan().IndexOfAny('.', '@', '/') < 0),
        ];

    private static string? ByWords(string text)
    {
        var words = Words(text);
        var counted = words.Count;
        if (counted == 0)
            return null;
        var best = Commonest
            .Select(l => (l.Language, Met: words.Where(l.Words.Contains).ToList()))
            .OrderByDescending(l => l.Met.Count)
            .First();
        // Letters that number things are words of some languages: a few different words must speak for one.
        return best.Met.Count * 100 >= LeastWords * counted && best.Met.Distinct().Count() >= FewestDifferent ? best.Language : null;
    }

    /// <summary>A script that one language writes, by that language; of scripts that many share their name.</summary>
    private static string ScriptOf(int letter) =>
        letter switch
        {
            < 0x0250 => "Latin",
            >= 0x0370 and < 0x0400 or >= 0x1F00 and < 0x2000 => "el",
            >= 0x0400 and < 0x0530 => "ru",
            >= 0x0530 and < 0x0590 => "hy",
            >= 0x0590 and < 0x0600 => "he",
            >= 0x0600 and < 0x0780 or >= 0xFB50 and < 0xFE00 or >= 0xFE70 and < 0xFF00 => "ar",
            >= 0x0900 and < 0x0980 => "hi",
            >= 0x0E00 and < 0x0E80 => "th",
            >= 0x10A0 and < 0x1100 => "ka",
            >= 0x1100 and < 0x1200 or >= 0xAC00 and < 0xD7B0 => "ko",
            >= 0x3040 and < 0x3100 => "ja",
            >= 0x3400 and < 0xA000 => "zh",
            _ => "",
        };
}
