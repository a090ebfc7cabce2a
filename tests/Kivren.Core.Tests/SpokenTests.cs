using Kivren.Core.Content;
using Kivren.Core.Planning;
using Kivren.Core.Selection;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>The language of a manual, of its divisions and of an edition.</summary>
public class SpokenTests
{
    private static Manual Two => Manual(Chapter("a", "Winch", Words("p", 5)), Chapter("b", "Spil", Words("q", 5)) with { Language = "da" });

    [Fact]
    public void The_manuals_language_takes_along_the_divisions_that_had_it()
    {
        var german = Planner.Apply(Two, new PlanAct.SetLanguage([], "de")).Manual!;
        Assert.Equal("de", german.Language);
        Assert.Equal(["de", "da"], german.Divisions.Select(d => d.Language));
        Assert.Contains("Kapitel", Compose(german).Words(), StringComparison.Ordinal);
    }

    [Fact]
    public void Divisions_have_their_own_and_what_is_no_language_is_refused()
    {
        var manual = Planner.Apply(Two, new PlanAct.SetLanguage([new Id("a")], "fr")).Manual!;
        Assert.Equal(("en-GB", "fr", "da"), (manual.Language, manual.Divisions[0].Language, manual.Divisions[1].Language));
        Assert.Contains("is no language", Planner.Apply(Two, new PlanAct.SetLanguage([], "loud speech")).Refused, StringComparison.Ordinal);
    }

    [Fact]
    public void An_edition_in_another_language_prints_the_manuals_own_divisions_in_it()
    {
        var edition = Edition.Whole with { Language = "fr" };
        var cache = new SelectionCache();
        var manual = Two;
        var text = Selector.Select(manual, edition, cache);
        Assert.Equal(["fr", "da"], text.Divisions.Select(d => d.Language));
        Assert.Same(text.Divisions[0], Selector.Select(manual, edition, cache).Divisions[0]);
    }
}
