using System.Text.RegularExpressions;
using Kivren.Core.Content;
using Kivren.Core.Finding;

namespace Kivren.Core.Indexing;

/// <summary>In what a place of a sweep stands.</summary>
public enum SweptIn
{
    Text,
    Head,
    Caption,
    Table,
    Note,

    /// <summary>The lines of a listing, which hold no entries.</summary>
    Listing,
}

/// <summary>A place where a phrase of a sweep stands.</summary>
/// <param name="Ordinal">which of the sweep's places in its block of the division</param>
/// <param name="Indexed">the heading has a locator in the same paragraph, or a range over it</param>
/// <param name="Left">it was left by an earlier sweep</param>
public sealed record SweptPlace(
    Id Division,
    Id Block,
    Id Inner,
    int Ordinal,
    SweptIn In,
    string Before,
    string Match,
    string After,
    bool Indexed,
    bool Left
)
{
    /// <summary>What it is known by, once it was left.</summary>
    public string Words => Before[Math.Max(0, Before.Length - 16)..] + Match + After[..Math.Min(16, After.Length)];
}

/// <summary>A form in which a phrase may stand.</summary>
/// <param name="Why">what makes it one</param>
/// <param name="Likely">it means the same nearly always</param>
public sealed record SweepForm(string Text, string Why, int Count, bool Likely);

/// <summary>Finds every place of a phrase and its forms in a manual, with what the index has of it.</summary>
public sealed record Sweep(string Phrase, IReadOnlyList<string> Forms)
{
    public const int MostForms = 24,
        LongestForm = 120;

    /// <summary>Why there is nothing to look for; null when there is.</summary>
    public string? Fault =>
        Forms.Count is 0 or > MostForms || Forms.Any(f => f.Trim().Length is 0 or > LongestForm)
            ? $"Say a phrase of up to {LongestForm} letters."
            : null;

    internal Search Search => Finding.Search.ForPhrases([.. Forms.Select(f => f.Trim())]);

    /// <summary>In the order of the text.</summary>
    /// <param name="heading">the heading that places are wanted for</param>
    public List<SweptPlace> In(Manual manual, IReadOnlyList<string> heading)
    {
        var search = Search;
        var left = manual
            .PassedOver.Where(p => p.Phrase.Equals(Phrase, StringComparison.OrdinalIgnoreCase))
            .Select(p => (p.Inner, p.Words))
            .ToHashSet();
        var open = new HashSet<Id>();
        var found = new List<SweptPlace>();
        bool IsOf(IndexEntry e) => e.Headings.Count > 0 && heading.Count > 0 && e.Headings[0] == heading[0];
        foreach (var division in manual.Kept())
        foreach (var block in division.Blocks)
        {
            var places = search.In(block).Where(p => p.In is FoundIn.Text or FoundIn.Note or FoundIn.Listing).ToList();
            var entries = block.Inlines().OfType<IndexEntry>().ToList();
            if (places.Count > 0)
            {
                var (kinds, indexed) = Standing(block, IsOf);
                var over = open.Count > 0;
                foreach (var place in places)
                {
                    var swept = new SweptPlace(
                        division.Id,
                        block.Id,
                        place.Inner,
                        place.Ordinal,
                        place.In switch
                        {
                            FoundIn.Note => SweptIn.Note,
                            FoundIn.Listing => SweptIn.Listing,
                            _ => kinds.GetValueOrDefault(place.Inner),
                        },
                        place.Before,
                        place.Match,
                        place.After,
                        over || indexed.Contains(place.Inner),
                        false
                    );
                    found.Add(swept with { Left = left.Contains((swept.Inner, swept.Words)) });
                }
            }
            foreach (var entry in entries)
                if (entry.Kind == EntryKind.RangeStart && IsOf(entry))
                    open.Add(entry.Id);
                else if (entry.Kind == EntryKind.RangeEnd)
                    open.Remove(entry.Id);
        }
        return found;
    }

    /// <summary>What each text of a block stands in, and which of them have an entry that is asked for.</summary>
    private static (Dictionary<Id, SweptIn> Kinds, HashSet<Id> Indexed) Standing(Block top, Func<IndexEntry, bool> isOf)
    {
        var kinds = new Dictionary<Id, SweptIn>();
        var indexed = new HashSet<Id>();
        void Text(Id id, SweptIn kind, IReadOnlyList<Inline> spans)
        {
            kinds[id] = kind;
            if (Walk.Flat(spans).OfType<IndexEntry>().Any(isOf))
                indexed.Add(id);
        }
        foreach (var block in top.WithInner())
            switch (block)
            {
                case Table table:
                    Text(table.Id, SweptIn.Caption, table.Caption);
                    foreach (var cell in table.Rows.SelectMany(r => r.Cells))
                        Text(cell.Id, SweptIn.Table, cell.Content);
                    break;
                case DefinitionList list:
                    foreach (var definition in list.Definitions)
                        Text(definition.Id, SweptIn.Text, definition.Term);
                    break;
                case ReferenceList list:
                    foreach (var document in list.Documents)
                        Text(document.Id, SweptIn.Text, document.Title);
                    break;
                default:
                    var kind = block switch
                    {
                        Head => SweptIn.Head,
                        Figure or Listing => SweptIn.Caption,
                        _ => SweptIn.Text,
                    };
                    foreach (var spans in block.OwnSpans())
                        Text(block.Id, kind, spans);
                    break;
            }
        return (kinds, indexed);
    }

    // ---- forms ----

    /// <summary>The forms in which a phrase stands in a manual: the very words, another number, other hyphens, other order,
    /// abbreviations, and its last word alone. Only those that stand somewhere, but the phrase itself always.</summary>
    public static List<SweepForm> FormsOf(Manual manual, string phrase)
    {
        var said = phrase.Trim();
        var wanted = new List<(string Text, string Why, bool Likely)> { (said, "as typed", true) };
        void Add(string? text, string why, bool likely = true)
        {
            if (text is { Length: > 1 } && wanted.All(w => !w.Text.Equals(text, StringComparison.OrdinalIgnoreCase)))
                wanted.Add((text, why, likely));
        }
        Add(HeadingWords.Plural(said, manual.Language), "plural");
        Add(HeadingWords.Singular(said, manual.Language), "singular");
        foreach (var known in wanted.ToList())
        {
            if (known.Text.Contains(' ', StringComparison.Ordinal))
            {
                Add(known.Text.Replace(' ', '-'), "with hyphens");
                Add(known.Text.Replace(" ", "", StringComparison.Ordinal), "as one word");
            }
            if (known.Text.Contains('-', StringComparison.Ordinal))
            {
                Add(known.Text.Replace('-', ' '), "without hyphens");
                Add(known.Text.Replace("-", "", StringComparison.Ordinal), "as one word");
            }
        }
        var words = said.Split([' ', '-', ','], StringSplitOptions.RemoveEmptyEntries);
        if (words.Length > 1)
        {
            if (words.Length == 2)
                Add($"{words[1]} {words[0]}", "the other way round");
            if (words.All(w => char.IsLetter(w[0])))
                Add(string.Concat(words.Select(w => char.ToUpperInvariant(w[0]))), "abbreviation");
            if (words[^1].Length > 3)
            {
                Add(words[^1], "its last word", likely: false);
                Add(HeadingWords.Plural(words[^1], manual.Language), "its last word", likely: false);
            }
        }
        else if (said.Length is > 1 and < 7 && said.All(char.IsUpper))
            foreach (var full in InFull(manual, said))
                Add(full, "in full");
        // Each place counts once, for the longest form that stands there.
        var search = Finding.Search.ForPhrases([.. wanted.Select(w => w.Text)]);
        var counts = manual
            .Kept()
            .SelectMany(d => d.Blocks)
            .SelectMany(b => search.In(b))
            .Where(p => p.In is FoundIn.Text or FoundIn.Note or FoundIn.Listing)
            .GroupBy(p => p.Match.Replace('\u00A0', ' '), StringComparer.OrdinalIgnoreCase)
            .ToDictionary(g => g.Key, g => g.Count(), StringComparer.OrdinalIgnoreCase);
        return
        [
            .. wanted
                .Select(w => new SweepForm(w.Text, w.Why, counts.GetValueOrDefault(w.Text), w.Likely))
                .Where((f, i) => i == 0 || f.Count > 0)
                .Take(MostForms),
        ];
    }

    /// <summary>Words whose first letters an abbreviation has, where it stands behind them in brackets.</summary>
    private static IEnumerable<string> InFull(Manual manual, string letters)
    {
        var words = string.Join(@"[ -]", letters.Select(l => $@"{Regex.Escape(l.ToString())}\w+"));
        var expression = new Regex($@"\b({words}) \({Regex.Escape(letters)}\)", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant);
        return manual
            .Kept()
            .SelectMany(d => d.Blocks)
            .SelectMany(b => b.WithInner())
            .SelectMany(b => b.OwnSpans())
            .Select(s => s.PlainText())
            .Where(t => t.Contains(letters, StringComparison.Ordinal))
            .SelectMany(t => expression.Matches(t))
            .Select(m => m.Groups[1].Value.ToLowerInvariant())
            .Distinct(StringComparer.Ordinal);
    }
}
