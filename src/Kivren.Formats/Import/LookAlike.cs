using System.Globalization;
using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Formats.Import;

/// <summary>A paragraph that looks like something its style does not say.</summary>
/// <param name="Key">the key of its mapping line</param>
/// <param name="Label">as shown</param>
/// <param name="Proposed">the role proposed; "" where it goes by the heads around it</param>
/// <param name="Why">why, in a few words</param>
/// <param name="Typed">characters at its beginning that the role makes itself: a bullet, a number, a signal word</param>
/// <param name="Number">the typed number of an item; 0 for none</param>
public sealed partial record LookAlike(string Key, string Label, string Proposed, string Why, int Typed = 0, int Number = 0)
{
    /// <summary>A head is rarely longer than a line of a page.</summary>
    private const int LongestHead = 72;

    private static readonly Regex Signal = new(
        $@"^\s*({SignalWords.Pattern})\s*(?:[:：!！]+[\s]*|[–—-]\s+|$)",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    );
    private static readonly Regex Figure = Labelling(LabelWords.Figure, LabelWords.Example, LabelWords.Listing);
    private static readonly Regex Table = Labelling(LabelWords.Table);

    private static Regex Labelling(params ReadOnlySpan<string> names) =>
        new(
            @"^\s*(?:" + LabelWords.Labels(LabelWords.OfThing, names) + @")\s*[:：.–—-]?\s*",
            RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
        );

    private static readonly Regex NumberedHead = new(@"^\s*(\d{1,3}(?:\.\d{1,3})+)\.?\s+(?=\p{L})", RegexOptions.CultureInvariant);
    private static readonly Regex Bullet = new(@"^\s*(?:[•·▪■●○◦‣∙–—*\-\uF0B7\uF0A7]\s+|o\t\s*)", RegexOptions.CultureInvariant);
    private static readonly Regex Step = new(@"^\s*\(?(\d{1,3})(?:[.)]|\t)\s*(?=\S)", RegexOptions.CultureInvariant);
    private static readonly Regex Letter = new(@"^\s*\(?([a-z])[.)]\s+(?=\S)", RegexOptions.CultureInvariant);
    private static readonly Regex HeadNumber = new(
        @"^\s*(?:(?:"
            + LabelWords.Labels(
                LabelWords.OfDivision,
                LabelWords.Part,
                LabelWords.Chapter,
                LabelWords.Appendix,
                LabelWords.Annex,
                LabelWords.Section
            )
            // Chinese and Japanese heads need no space behind the number.
            + @")(?:[.:：、\s–—-]|(?=[\u3040-\u9FFF]))"
            // A lone number before a small letter counts something: 3 ways to moor.
            + @"|\d{1,3}(?:\.\d{1,3})+\.?\s|\d{1,3}(?:[.．、]\s?|\s+(?=(?-i:\P{Ll})))(?!\d)"
            + @"|\d{1,3}(?:\.\d{1,3})+(?=[\u3040-\u9FFF])(?![倍個版回年月日時分秒人台枚件度])"
            + @"|[A-Z](?:\.\d{1,3})+\.?\s|[IVX]{1,5}\.\s|[一二三四五六七八九十]{1,3}、"
            + @")[.:：–—\s-]*(?=[\p{L}“”‘’「『《（(])",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    );

    /// <summary>What the paragraph looks like, or null.</summary>
    public static LookAlike? Of(SourceParagraph paragraph)
    {
        var text = paragraph.Spans.Words();
        var bare = text.Trim();
        if (bare.Length == 0)
            return null;
        if (Signal.Match(text) is { Success: true } signal && IsSignal(signal.Groups[1].Value, signal.Length, text))
        {
            var kind = SignalWords.KindOf(signal.Groups[1].Value).ToString()!.ToLowerInvariant();
            return new LookAlike(
                $"look:{kind}",
                $"“{signal.Groups[1].Value.ToUpperInvariant()}:” in front",
                kind,
                "signal word",
                signal.Length
            );
        }
        if (
            Figure.Match(text) is { Success: true } figure
            && bare.Length > figure.Value.Trim().Length
            && bare.Length < 200
            && Labelled(figure.Value)
        )
            return new LookAlike("look:figure", "typed “Figure 4:”", ImportRole.Caption, "typed label", figure.Length);
        if (
            Table.Match(text) is { Success: true } table
            && bare.Length > table.Value.Trim().Length
            && bare.Length < 200
            && Labelled(table.Value)
        )
            return new LookAlike("look:table", "typed “Table 2:”", ImportRole.Caption, "typed label", table.Length);
        var shortLine =
            bare.Length <= LongestHead
            && bare[^1] is not ('.' or ',' or ';' or ':' or '?' or '!')
            && bare.Any(char.IsLetter)
            && !paragraph.Spans.Any(s => s is SourceTab);
        if (shortLine && NumberedHead.Match(text) is { Success: true } numbered)
        {
            var depth = numbered.Groups[1].Value.Count(c => c == '.') + 1;
            return new LookAlike(
                $"look:number-{depth}",
                $"typed “{string.Join('.', Enumerable.Range(1, depth))}”",
                ImportRole.Head(depth - 1),
                "typed numbers",
                numbered.Length
            );
        }
        var strong = shortLine && AllStrong(paragraph.Spans);
        if (Bullet.Match(text) is { Success: true } bullet)
            return new LookAlike("look:bullet", "typed bullet", ImportRole.Bullets, "typed sign", bullet.Length);
        if (!strong && Step.Match(text) is { Success: true } step && !char.IsDigit(text[step.Length]))
            return new LookAlike(
                "look:step",
                "typed “1.” “2.” …",
                ImportRole.Steps,
                "typed numbers",
                step.Length,
                int.Parse(step.Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture)
            );
        if (!strong && Letter.Match(text) is { Success: true } letter)
            return new LookAlike(
                "look:letter",
                "typed “a)” “b)” …",
                ImportRole.Letters,
                "typed letters",
                letter.Length,
                letter.Groups[1].Value[0] - 'a' + 1
            );
        if (strong)
            return new LookAlike("look:bold", "a short bold line, alone", "", "looks like a head");
        if (shortLine && bare.Count(char.IsLetter) >= 4 && bare.Where(char.IsLetter).All(char.IsUpper))
            return new LookAlike("look:capitals", "a line in capitals", "", "looks like a head");
        return null;
    }

    /// <summary>A label typed with a mark after its number, or followed by a capital: "Figure 3 shows" is a sentence.</summary>
    private static bool Labelled(string label) =>
        label.TrimEnd()[^1] is ':' or '：' or '.' or '-' or '–' or '—'
        || label.EndsWith('\t')
        || label.EndsWith("  ", StringComparison.Ordinal);

    private static bool IsSignal(string word, int length, string text) =>
        text[..length].IndexOfAny([':', '：', '!', '！', '–', '—', '-']) >= 0
        || (length >= text.Length && word.Any(char.IsUpper) && word.Equals(word.ToUpperInvariant(), StringComparison.Ordinal));

    private static bool AllStrong(IReadOnlyList<SourceSpan> spans)
    {
        var any = false;
        foreach (var span in spans)
            switch (span)
            {
                case SourceRun run when string.IsNullOrWhiteSpace(run.Text) || run.Tracked == Tracked.Deleted:
                    break;
                case SourceRun run:
                    if ((run.Roles & SpanRoles.Strong) == 0)
                        return false;
                    any = true;
                    break;
                case SourceBookmark or SourceComment:
                    break;
                case SourceAtom { Inline: IndexEntry or LineBreak }:
                    break;
                default:
                    return false;
            }
        return any;
    }

    /// <summary>Characters of a number typed in front of a head, which the manual numbers itself.</summary>
    public static int TypedHeadNumber(string text) =>
        HeadNumber.Match(text) is { Success: true } number && number.Length < text.Length ? number.Length : 0;

    /// <summary>Characters of a number in front of a head that is the next after that of another head; 0 for none.</summary>
    /// <param name="before">what was typed in front of the other</param>
    public static int NumberAfter(string before, string text)
    {
        var (last, own) = (LoneNumber().Match(before), LoneNumber().Match(text));
        return
            last.Success
            && own.Success
            && own.Length < text.Length
            && int.Parse(own.Groups[1].Value, CultureInfo.InvariantCulture)
                == int.Parse(last.Groups[1].Value, CultureInfo.InvariantCulture) + 1
            ? own.Length
            : 0;
    }

    /// <summary>Characters of a letter typed in front of the title of an appendix: “B. Spares”.</summary>
    /// <param name="isBare">no sign stands behind the letters</param>
    public static int AppendixLetter(string title, bool isBare) =>
        LoneLetter().Match(title) is { Success: true } letter ? letter.Length
        : isBare && BareLetter().Match(title) is { Success: true } bare ? bare.Length
        : 0;

    [GeneratedRegex(@"^\s*[A-Z]\s+(?=\S)", RegexOptions.CultureInvariant)]
    private static partial Regex BareLetter();

    [GeneratedRegex(@"^\s*[A-Z][.:]\s+(?=\S)", RegexOptions.CultureInvariant)]
    private static partial Regex LoneLetter();

    [GeneratedRegex(@"^\s*(\d{1,3})[.\s]\s*", RegexOptions.CultureInvariant)]
    private static partial Regex LoneNumber();

    /// <summary>Characters of a label or number typed in front of a caption.</summary>
    public static int TypedLabel(string text) =>
        Figure.Match(text) is { Success: true } figure ? figure.Length
        : Table.Match(text) is { Success: true } table ? table.Length
        : 0;

    public static bool IsTableLabel(string text) => Table.IsMatch(text);

    /// <summary>Characters of the signal word typed in front of an admonition's text.</summary>
    public static int TypedSignal(string text) =>
        Signal.Match(text) is { Success: true } signal && IsSignal(signal.Groups[1].Value, signal.Length, text) ? signal.Length : 0;

    /// <summary>Characters of a bullet or number typed in front of an item, and the number.</summary>
    public static (int Typed, int Number) TypedItem(string text) =>
        Bullet.Match(text) is { Success: true } bullet ? (bullet.Length, 0)
        : Step.Match(text) is { Success: true } step
            ? (step.Length, int.Parse(step.Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture))
        : Letter.Match(text) is { Success: true } letter ? (letter.Length, letter.Groups[1].Value[0] - 'a' + 1)
        : (0, 0);
}
