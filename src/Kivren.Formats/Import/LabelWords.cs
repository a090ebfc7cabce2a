using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Formats.Import;

/// <summary>What documents call their divisions and their numbered things: in every language that there are words for
/// (<see cref="LanguageWords"/>), and as old files call them besides.</summary>
internal static class LabelWords
{
    public const string Part = "part",
        Chapter = "chapter",
        Appendix = "appendix",
        Annex = "annex",
        Section = "section",
        Figure = "figure",
        Table = "table",
        Listing = "listing",
        Example = "example",
        Contents = "contents",
        Preface = "preface",
        Glossary = "glossary",
        Introduction = "introduction";

    /// <summary>The number of a division: 4, 4.1, A, A.2, IV, 三.</summary>
    public const string OfDivision =
        @"(?<n>\d{1,3}(?:[.\-]\d{1,3})*|(?-i:\p{Lu})(?:[.\-]\d{1,3})*|[IVXL]{1,6}|[一二三四五六七八九十百]{1,4})";

    /// <summary>The number of a figure, table, listing: 4, 4.2, 4-2, A-1.</summary>
    public const string OfThing = @"(?<n>(?:(?-i:\p{Lu})[.\-–])?\d{1,3}(?:[.\-–]\d{1,3})*)";

    /// <summary>Names besides those that a manual prints itself.</summary>
    private static readonly Dictionary<string, string[]> Others = new(StringComparer.Ordinal)
    {
        [Part] = ["Pars", "Deel", "Phần", "Partea", "Časť", "Del", "Dio", "Dalis", "Osa"],
        [Chapter] = ["Clause", "Cap.", "Capítol", "Capitolul", "Poglavje", "Poglavlje", "Skyrius", "Peatükk", "Chương", "{n}章", "{n}장"],
        [Appendix] =
        [
            "Appendices",
            "Anhänge",
            "Annexes",
            "Apéndices",
            "Anexo",
            "Allegato",
            "Załącznik",
            "Phụ lục",
            "Anexa",
            "Apèndix",
            "Príloha",
            "Dodatak",
            "Dodatek",
            "Priedas",
            "Lisa",
            "附録{n}",
            "부록{n}",
        ],
        [Section] = ["Secțiunea", "Secció", "Phần", "Sección", "Secção", "Seção", "Sekcja", "Sekce", "Секция", "第{n}节", "{n}节", "{n}절"],
        [Figure] =
        [
            "Fig.",
            "Illustration",
            "Picture",
            "Abb.",
            "Bild",
            "Rys.",
            "Obr.",
            "Рис.",
            "Hình",
            "Obrázok",
            "Slika",
            "Ілюстрація",
            "Εικόνα",
            "Зображення",
            "그림{n}",
            "図表{n}",
            "图表{n}",
        ],
        [Table] = ["Tab.", "Bảng", "Tabelul", "Taula", "Tabuľka", "Tablica", "Табл.", "Tabella", "Tabula", "표{n}"],
        [Contents] =
        [
            "Table of contents",
            "Inhaltsverzeichnis",
            "Sommaire",
            "Sommario",
            "Índice",
            "Índice de contenidos",
            "Оглавление",
            "もくじ",
            "목차",
        ],
        [Preface] = ["Foreword", "Avant-propos", "Prólogo", "Geleitwort", "はじめに", "序文", "序言", "서문"],
        [Glossary] = ["Terms", "Lexikon", "Lexique"],
        [Introduction] =
        [
            "Introduction",
            "Overview",
            "Welcome",
            "Home",
            "Start",
            "Einleitung",
            "Einführung",
            "Übersicht",
            "Introducción",
            "Introduzione",
            "Introdução",
            "Inleiding",
            "Introduktion",
            "Wprowadzenie",
            "Úvod",
            "Введение",
            "Вступ",
            "Εισαγωγή",
            "Giriş",
            "Bevezetés",
            "Johdanto",
            "概述",
            "简介",
            "介绍",
            "概要",
            "はじめに",
            "소개",
            "مقدمة",
        ],
    };

    private static IEnumerable<string> Named(string name, IEnumerable<LanguageWords> languages) =>
        (name == Introduction ? [] : languages.Select(l => l[name]))
            .Concat(Others.GetValueOrDefault(name) ?? [])
            .Distinct(StringComparer.OrdinalIgnoreCase);

    /// <summary>A pattern of a name with its number in the group n, in every language.</summary>
    /// <param name="number">a pattern of the number</param>
    /// <param name="names">what is named</param>
    public static string Labels(string number, params ReadOnlySpan<string> names) => Alternatives(names, LanguageWords.All, number, false);

    /// <summary>The same in one language and in English.</summary>
    /// <param name="bends">as grammar bends them</param>
    public static string LabelsIn(string language, string number, bool bends, params ReadOnlySpan<string> names) =>
        Alternatives(names, [LanguageWords.Of(language), LanguageWords.English], number, bends && Bent.Contains(Primary(language)));

    /// <summary>What is in every label of a language, whatever its number: where none of it stands, no label does.</summary>
    public static IEnumerable<string> Signs(string language, params ReadOnlySpan<string> names)
    {
        var bends = Bent.Contains(Primary(language));
        var signs = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (var name in names)
        foreach (var template in Named(name, [LanguageWords.Of(language), LanguageWords.English]))
        {
            var (before, behind) = LanguageWords.Around(template, "");
            var word = before.Trim() is { Length: > 0 } first ? first : behind.Trim();
            signs.Add((bends && word.Length > 3 ? Stem(word) : word).Split(' ')[0]);
        }
        return signs;
    }

    private static string Alternatives(ReadOnlySpan<string> names, IEnumerable<LanguageWords> languages, string number, bool bends)
    {
        var templates = new SortedSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (var name in names)
            templates.UnionWith(Named(name, languages));
        return string.Join('|', templates.OrderByDescending(t => t.Length).Select(t => Template(t, number, bends)));
    }

    /// <summary>Languages whose nouns change their endings.</summary>
    private static readonly HashSet<string> Bent = ["ru", "uk", "pl", "cs", "fi", "hu", "el", "tr"];

    private static string Primary(string language) => language.Split('-', '_')[0].ToLowerInvariant();

    private static string Template(string template, string number, bool bends)
    {
        if (template.Contains("{n}", StringComparison.Ordinal))
        {
            var (before, behind) = LanguageWords.Around(template);
            // A single character may be the end of another word.
            var alone = before.Trim().Length == 1 ? @"(?<![\u4E00-\u9FFF-[如见見参照和与與及在由據据從从按考下上]])" : "";
            return alone
                + (before.Length > 0 ? Spaced(before) + @"\s*" : "")
                + number
                + (behind.Length > 0 ? @"\s*" + Spaced(behind) : "(?![A-Za-z0-9])");
        }
        var gap =
            template[^1] >= '\u0E00' ? @"\s*"
            : template[^1] == '.' ? @"\s*"
            : @"\s+";
        var word = bends && template.Length > 3 && template[^1] != '.' ? Regex.Escape(Stem(template)) + @"\p{L}{0,5}" : Spaced(template);
        return (char.IsLetter(template[0]) && template[0] < '\u0E00' ? @"\b" : "") + word + gap + number + @"(?![\p{L}\p{N}])";
    }

    private static string Spaced(string words) => Regex.Escape(words.Trim()).Replace(@"\ ", @"\s+", StringComparison.Ordinal);

    /// <summary>A noun without what grammar changes at its end.</summary>
    private static string Stem(string word) => word[..(word.Length - (word.Length > 6 ? 2 : 1))];

    /// <summary>Whether a title begins with what is so called.</summary>
    public static bool Begins(string title, string name) => Beginnings[name].IsMatch(title);

    /// <summary>Whether a title says this and nothing else.</summary>
    public static bool Is(string title, string name) => Wholes[name].IsMatch(title);

    private const RegexOptions Free = RegexOptions.IgnoreCase | RegexOptions.CultureInvariant;

    private static readonly string[] Titles = [Part, Appendix, Annex, Contents, Preface, Glossary, Introduction];

    private static readonly Dictionary<string, Regex> Beginnings = Titles.ToDictionary(
            name => name,
            name => new Regex(
                @"^\W*(?:"
                    + string.Join(
                        '|',
                        Named(name, LanguageWords.All)
                            .Select(t =>
                                t.Contains("{n}", StringComparison.Ordinal) ? Template(t, OfDivision, false)
                                : t[0] >= '\u0E00' ? Spaced(t)
                                : Spaced(t) + @"\b"
                            )
                    )
                    + ")",
                Free
            )
        ),
        Wholes = Titles.ToDictionary(
            name => name,
            name => new Regex(
                @"^\W*(?:" + string.Join('|', Named(name, LanguageWords.All).Select(t => Spaced(LanguageWords.Numbered(t, "")))) + @")\W*$",
                Free
            )
        );

    /// <summary>A number in one form, however a source writes it: digits of any script, Chinese numerals, capitals.</summary>
    public static string Plain(string number)
    {
        var plain = new StringBuilder(number.Length);
        foreach (var c in number.Trim().TrimEnd('.'))
            if (c is '-' or '–')
                plain.Append('.');
            else if (char.IsDigit(c))
                plain.Append(CharUnicodeInfo.GetDecimalDigitValue(c).ToString(CultureInfo.InvariantCulture));
            else
                plain.Append(char.ToUpperInvariant(c));
        return Han(plain.ToString()) is > 0 and var value ? value.ToString(CultureInfo.InvariantCulture) : plain.ToString();
    }

    /// <summary>The value of a Chinese numeral below 1,000; 0 where it is none.</summary>
    private static int Han(string number)
    {
        const string digits = "一二三四五六七八九";
        int value = 0,
            digit = 0;
        foreach (var c in number)
            if (digits.IndexOf(c, StringComparison.Ordinal) is >= 0 and var d)
                digit = d + 1;
            else if (c is '十' or '百')
                (value, digit) = (value + Math.Max(1, digit) * (c == '十' ? 10 : 100), 0);
            else
                return 0;
        return value + digit;
    }
}
