using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Type;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>Titles break at sense and never run off the page.</summary>
public class TitleTests
{
    private static List<string> Set(string title, int ems, Writing? writing = null, Hyphenator? hyphenator = null)
    {
        var style = ShippedLooks.Workshop.Heads[0].Plain;
        var styled = new StyledText();
        styled.Add(title, style, false);
        return
        [
            .. LineSetter
                .OfThread.Set(
                    styled,
                    new Shape(new Length(style.Size.Millipoints * ems), default, Alignment.Ragged, AtSense: true, WideOnly: true),
                    hyphenator,
                    writing: writing
                )
                .Select(l => title[l.Start..l.End].Trim()),
        ];
    }

    [Fact]
    public void No_line_ends_after_an_article_or_a_preposition()
    {
        Assert.Equal(["Choice of the ropes", "and of the brakes"], Set("Choice of the ropes and of the brakes", 12));
        Assert.Equal(["Der Wechsel", "der Seile im Winter"], Set("Der Wechsel der Seile im Winter", 9));
    }

    [Fact]
    public void A_title_in_two_lines_breaks_after_its_colon() =>
        Assert.Equal(["The winch:", "how it is greased in spring"], Set("The winch: how it is greased in spring", 15));

    [Fact]
    public void No_single_word_is_left_for_the_last_line()
    {
        var lines = Set("Greasing every bearing between the landings twice", 19);
        Assert.Equal(2, lines.Count);
        Assert.True(lines[1].Split(' ').Length > 1, lines[1]);
    }

    [Fact]
    public void Japanese_titles_break_where_a_phrase_ends() =>
        Assert.Equal(["渡し舟の", "整備と点検"], Set("渡し舟の整備と点検", 7, Writing.Of("ja")));

    [Fact]
    public void A_word_wider_than_the_page_is_hyphenated_in_a_title_too()
    {
        var lines = Set("Donaudampfschifffahrtsgesellschaft", 9, hyphenator: Hyphenator.For("de"));
        Assert.True(lines.Count > 1);
        var composed = Compose(Manual(Chapter("c", new string('W', 200), Words("p", 20))));
        Assert.All(Display.DisplayList.Of(composed.Pages[0], composed.Look).Items.OfType<Display.WordItem>(), w =>
            Assert.True(w.X + w.Word.Width <= composed.Pages[0].Master.Width.Millipoints)
        );
        Assert.Contains(composed.LooseEnds, l => l.Kind == LooseEndKind.OverfullLine);
    }
}
