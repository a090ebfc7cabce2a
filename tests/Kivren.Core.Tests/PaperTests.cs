using System.Text.RegularExpressions;
using CsCheck;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Looks;
using Kivren.Core.Selection;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>Whatever a manual holds: each word is printed once, on the paper.</summary>
public partial class PaperTests
{
    [GeneratedRegex("q[0-9]+x")]
    private static partial Regex Word();

    private static readonly Look[] Looks = [.. ShippedLooks.All];

    /// <summary>All typed words, with the words of notes and captions.</summary>
    private static List<string> Typed(SelectedText text)
    {
        var words = new List<string>();
        foreach (var block in text.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()))
        {
            if (block is Listing listing)
                words.AddRange(Word().Matches(listing.Text).Select(m => m.Value));
            foreach (var inline in block.OwnSpans().SelectMany(Walk.Flat))
                if (inline is TextRun run)
                    words.AddRange(Word().Matches(run.Text).Select(m => m.Value));
        }
        return words;
    }

    /// <summary>What is painted of the text itself, block by block and cell by cell: a row that goes on overleaf is painted line by
    /// line, and a word may go on in the next line of its cell.</summary>
    private static void Paint(DisplayPage page, Dictionary<(Id, ReadingRole), System.Text.StringBuilder> painted)
    {
        foreach (var item in page.Items)
            if (item is WordItem { Role: not ReadingRole.Furniture } word)
            {
                if (!painted.TryGetValue((word.Block, word.Role), out var text))
                    painted.Add((word.Block, word.Role), text = new System.Text.StringBuilder());
                text.Append(word.Word.Word.Characters(word.Word.From, word.Word.To)).Append(word.Word.SpaceAfter ? " " : "");
            }
    }

    internal static void Holds(Manual manual, Look look)
    {
        var composing = Task.Run(() => Composer.Compose(manual, manual.EditionNamed(null), look));
        Assert.True(composing.Wait(TimeSpan.FromSeconds(20)), $"{look.Name}: this is not composed in twenty seconds");
        var composed = composing.Result;
        var painted = new Dictionary<(Id, ReadingRole), System.Text.StringBuilder>();
        var insets = new HashSet<Id>();
        foreach (var page in composed.Pages)
        {
            var display = DisplayList.Of(page, look);
            foreach (var item in display.Items)
            {
                if (item is WordItem { Within.Id: var equation })
                    insets.Add(equation);
                else if (item is PictureItem)
                    insets.Add(item.Block);
                var (right, bottom) = item switch
                {
                    WordItem w => (w.X + w.Word.Width, w.Y),
                    PictureItem p => (p.X + p.Width, p.Y + p.Height),
                    RuleItem r => (r.X + r.Width, r.Y + r.Height),
                    _ => (item.X, item.Y),
                };
                // Tints and artwork may bleed.
                var bleed = item.Role == ReadingRole.Furniture ? look.Master.Bleed.Millipoints : 0;
                if (item.X < -bleed || right > display.Width + bleed || item.Y < -bleed || bottom > display.Height + bleed)
                {
                    var where =
                        item is WordItem y && Word().Match(y.Word.Word.Text) is { Success: true } m
                            ? Where(composed.Text, m.Value)
                            : item.Block.Value;
                    Assert.Fail(
                        $"{look.Name}, page {page.Folio}: {(item is WordItem x ? x.Word.Word.Text : item.GetType().Name)} stands "
                            + $"at {item.X},{item.Y} to {right},{bottom} of {display.Width} × {display.Height}: {item.Role}, {where}"
                    );
                }
            }
            // The contents list and the index repeat words of heads: only words of blocks count.
            var kind = composed.Divisions[page.Division].Numbers.Division.Kind;
            if (kind is DivisionKind.Contents or DivisionKind.Index)
                continue;
            Paint(display, painted);
        }
        var printed = painted
            .Values.SelectMany(p => Word().Matches(p.ToString()))
            .GroupBy(m => m.Value)
            .ToDictionary(g => g.Key, g => g.Count());
        var giants = painted.Values.Sum(p => p.ToString().Count(c => c == 'W'));
        foreach (var block in composed.Text.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()))
        foreach (var inline in block.OwnSpans().SelectMany(Walk.Flat))
            Assert.True(
                inline is not (InlinePicture or InlineEquation { Source.Length: > 0 }) || insets.Contains(Walk.IdOf(inline)),
                $"{look.Name}: {inline} of {block} is printed nowhere"
            );
        var typed = Typed(composed.Text);
        foreach (var word in typed.Distinct())
        {
            // Repeated headers of tables say their words again.
            var times = printed.GetValueOrDefault(word);
            if (times != 1 && !(times > 1 && Repeats(composed.Text, word)))
                Assert.Fail($"{look.Name}: “{word}” is printed {times} times: {Where(composed.Text, word)}");
        }
        Assert.True(
            giants
                >= composed
                    .Text.Divisions.SelectMany(d => d.Blocks)
                    .SelectMany(b => b.Inlines())
                    .OfType<TextRun>()
                    .Sum(r => r.Text.Count(c => c == 'W')),
            "A letter of a long word is printed nowhere"
        );
    }

    /// <summary>The kinds of block that a word stands in, from the outermost, and whether in a note.</summary>
    private static string Where(SelectedText text, string word)
    {
        bool In(IReadOnlyList<Inline> spans) => spans.Any(i => i is TextRun r && Word().Matches(r.Text).Any(m => m.Value == word));
        bool Has(Block b) =>
            (b is Listing l && l.Text.Contains(word, StringComparison.Ordinal)) || b.OwnSpans().Any(s => In([.. Walk.Flat(s)]));
        string Path(Block b) =>
            b.GetType().Name
            + (
                b.InnerBlocks().FirstOrDefault(i => i.WithInner().Any(Has)) is { } inner ? " › " + Path(inner)
                : b.OwnSpans().Any(s => s.OfType<Footnote>().Any(n => In(n.Content))) ? " (note)"
                : ""
            );
        return string.Join(", ", text.Divisions.SelectMany(d => d.Blocks).Where(b => b.WithInner().Any(Has)).Select(Path));
    }

    /// <summary>A word of a table's header or caption stands again on the pages that the table reaches; one of a passage or a
    /// reference with its title where that prints.</summary>
    private static bool Repeats(SelectedText text, string word) =>
        text
            .Divisions.SelectMany(d => d.Blocks)
            .SelectMany(b => b.WithInner())
            .Any(b =>
                (
                    b is Table t
                    && t.Rows.Take(t.HeaderRows)
                        .SelectMany(r => r.Cells)
                        .Select(c => c.Content)
                        .Append(t.Caption)
                        .Any(c => c.OfType<TextRun>().Any(r => r.Text.Contains(word, StringComparison.Ordinal)))
                )
                || (b is Head h && h.Content.OfType<TextRun>().Any(r => r.Text.Contains(word, StringComparison.Ordinal)))
                || (
                    b is Content.Figure or Example
                    && b.OwnSpans().Any(s => s.OfType<TextRun>().Any(r => r.Text.Contains(word, StringComparison.Ordinal)))
                )
            );

    [Fact]
    public void Every_word_is_on_the_paper_whatever_the_blocks_are() =>
        Rich.Manuals.Sample(
            seeds =>
            {
                var manual = Rich.Make(seeds, hostile: true);
                foreach (var look in Looks)
                    Holds(manual, look);
            },
            iter: 150,
            threads: 2
        );

    /// <summary>In it a cell reaches over rows that had no room in the columns below a table across them.</summary>
    [Fact]
    public void Rows_that_a_cell_joins_stay_together_in_columns() =>
        Rich.Manuals.Sample(seeds => Holds(Rich.Make(seeds, hostile: true), ShippedLooks.Bench), seed: "000jfRQh5EH2", iter: 1, threads: 1);

    /// <summary>In it a box of tables in tables is thousands of pages deep; each of its parts asked every rule and tint of it.</summary>
    [Fact]
    public void A_box_of_thousands_of_pages_is_divided_in_time() =>
        Rich.Manuals.Sample(seeds => Holds(Rich.Make(seeds, hostile: true), Looks[0]), seed: "eGHjRkZzkEH2", iter: 1, threads: 1);

    /// <summary>In it a header's joined cell was torn to keep the header with its first row, and its text left the paper.</summary>
    [Fact]
    public void A_cell_over_two_rows_of_a_tall_header_is_not_torn_for_the_row_below() =>
        Rich.Manuals.Sample(seeds => Holds(Rich.Make(seeds, hostile: true), Looks[0]), seed: "4vgKwAPJ5JJ6", iter: 1, threads: 1);

    /// <summary>Rows that a cell joins fitted a page under their header, but not with what the admonitions round them added.</summary>
    [Fact]
    public void Joined_rows_in_a_box_are_divided_where_the_box_makes_them_too_tall() =>
        Holds(
            Rich.Make(
                [
                    new(9, 2, [new(8, 0, 0, [new(17, 241, 0, [])])]),
                    new(4, 0, [new(17, 94, 0, [])]),
                    new(2, 3, [new(7, 0, 0, [new(7, 0, 0, [new(12, 41, 16, [])])])]),
                ],
                hostile: true
            ),
            Looks[0]
        );

    [Fact]
    public void A_note_under_a_figure_is_as_narrow_as_what_the_figure_stands_in() =>
        Holds(Rich.Make([new(3, 2, [new(7, 0, 0, [new(17, 6, 0, [new(6, 0, 0, [new(14, 30, 0, [])])])])])], hostile: true), Looks[0]);
}
