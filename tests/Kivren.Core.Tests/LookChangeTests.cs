using System.Text.Json.Nodes;
using CsCheck;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>A look that is changed: what is said of it, what is seen of it at once, and what all comes to.</summary>
public class LookChangeTests
{
    private static JsonNode Shipped(int look) => JsonNode.Parse(LookFile.Write(ShippedLooks.All[look]))!;

    private static Look Read(JsonNode look)
    {
        var read = LookFile.Read(look.ToJsonString(), out var faults);
        Assert.Empty(faults);
        return read!;
    }

    private static readonly Manual Small = Manual(
        Chapter(
            "a",
            "Winch",
            Words("p1", 60),
            Head("h1", HeadLevel.A, "The band"),
            Words("p2", 240),
            Head("h2", HeadLevel.B, "Lining"),
            Text("p3", new TextRun("See "), To("r1", "h4", "title-page"), new TextRun(".")),
            new ItemList(
                new Id("l"),
                ListKind.Unordered,
                1,
                [new Item(new Id("i1"), [Words("p4", 30)]), new Item(new Id("i2"), [Words("p5", 8)])]
            ),
            Figure("f"),
            new Admonition(new Id("w"), AdmonitionKind.Warning, [Words("p6", 20)])
        ),
        Chapter("b", "Pontoon", Head("h3", HeadLevel.A, "Planks"), Words("p7", 700), Head("h4", HeadLevel.A, "Rail"), Words("p8", 300))
    ) with
    {
        Assets = [Picture],
    };

    /// <summary>Numbers of a look that can be turned, each with a new value near its own.</summary>
    private static readonly Gen<Action<JsonNode>> Turn = Gen.Select(Gen.Int[0, 11], Gen.Int[-6, 6], (what, by) => (Action<JsonNode>)(
            look =>
            {
                void Add(JsonNode part, string name, double step, double usual)
                {
                    var was = part[name] is JsonValue value && value.TryGetValue(out double number) ? number : usual;
                    part[name] = Math.Round(was + by * step, 3);
                }
                switch (what)
                {
                    case 0:
                        Add(look["masters"]![0]!, "inner", 2, 60);
                        break;
                    case 1:
                        Add(look["masters"]![0]!, "foot", 3, 60);
                        break;
                    case 2:
                        Add(look["heads"]![0]!, "before", 1.5, 13);
                        break;
                    case 3:
                        Add(look["heads"]![1]!, "after", .7, 8);
                        break;
                    case 4:
                        Add(look["dresses"]![0]!["dress"]!, "size", .1, 10);
                        break;
                    case 5:
                        Add(look["dresses"]![0]!["dress"]!, "leading", .2, 13);
                        break;
                    case 6:
                        look["masters"]![0]!["columns"] = 1 + Math.Abs(by) % 2;
                        break;
                    case 7:
                        look["sequences"]!["chapter"]!["begins"] = by % 2 == 0 ? "newPage" : "runsOn";
                        break;
                    case 8:
                        look["levelFacing"] = by > 0;
                        break;
                    case 9:
                        Add(look["masters"]![0]!, "headTop", 1, 30);
                        break;
                    case 10:
                        look["heads"]![0]!["face"] = by > 0 ? "serif" : "sansBold";
                        break;
                    default:
                        look["masters"]![0]!["fields"] = new JsonArray(
                            new JsonObject
                            {
                                ["edge"] = by > 0 ? "head" : "foot",
                                ["place"] = "outer",
                                ["pattern"] = "{section} {folio}/{total}",
                                ["dress"] = new JsonObject
                                {
                                    ["face"] = "sans",
                                    ["size"] = 8,
                                    ["leading"] = 10,
                                },
                            }
                        );
                        break;
                }
            }
        ));

    [Fact]
    public void After_each_of_many_changes_the_pages_are_those_of_a_composition_from_nothing() =>
        Gen.Select(Gen.Int[0, 2], Turn.Array[1, 10])
            .Sample(
                (shipped, turns) =>
                {
                    var json = Shipped(shipped);
                    var caches = new CompositionCaches();
                    foreach (var turn in turns)
                    {
                        turn(json);
                        if (LookFile.Read(json.ToJsonString(), out _) is not { } look)
                            continue;
                        var kept = Composer.Compose(Small, Edition.Whole, look, caches);
                        var fresh = Composer.Compose(Small, Edition.Whole, look);
                        Assert.Equal(fresh.Pages.Select(p => p.Key), kept.Pages.Select(p => p.Key));
                        Assert.Equal(fresh.LooseEnds.Select(l => l.Message), kept.LooseEnds.Select(l => l.Message));
                        // No text is touched by a look: every word is printed in each.
                        Assert.Contains("Planks", kept.Words(), StringComparison.Ordinal);
                    }
                },
                iter: 60,
                threads: 2
            );

    [Fact]
    public void What_is_seen_at_once_is_what_it_settles_to_where_nothing_before_it_moves()
    {
        var json = Shipped(0);
        var now = Composer.Compose(Small, Edition.Whole, ShippedLooks.Workshop);
        var caches = new CompositionCaches();
        for (var turn = 0; turn < 4; turn++)
        {
            json["heads"]![0]!["before"] = 20 + turn;
            var look = Read(json);
            var seen = Composer.Glimpse(now, look, 1, int.MaxValue, caches);
            var settled = Composer.Compose(Small, Edition.Whole, look);
            var own = settled.Pages.Where(p => p.Division == 1 && !p.IsBlank).ToList();
            Assert.Equal(own.Select(p => p.Folio), seen.Select(p => p.Folio));
            Assert.Equal(own.Select(p => p.BodyKey), seen.Select(p => p.BodyKey));
        }
    }

    [Fact]
    public void A_glimpse_of_a_page_far_before_the_last_is_what_all_of_the_chapter_gives()
    {
        Block[] Section(int n) => [Build.Head($"h{n}", HeadLevel.B, "Band"), Build.Words($"p{n}", 90)];
        var manual = Build.Manual(Build.Chapter("a", "Winch", [.. Enumerable.Range(0, 90).SelectMany(Section)]));
        var json = Shipped(0);
        json["heads"]![1]!["before"] = 23;
        var now = Composer.Compose(manual, Edition.Whole, ShippedLooks.Workshop);
        var whole = Composer.Glimpse(now, Read(json), 0, int.MaxValue, new CompositionCaches());
        var caches = new CompositionCaches();
        foreach (var page in new[] { 0, 3, 9 })
        {
            var seen = Composer.Glimpse(now, Read(json), 0, page, caches);
            Assert.InRange(seen.Count, page + 2, whole.Count - 1);
            Assert.Equal(whole.Take(page + 2).Select(p => p.BodyKey), seen.Take(page + 2).Select(p => p.BodyKey));
        }
    }

    [Fact]
    public void A_glimpse_of_a_look_in_which_divisions_run_on_shows_them_all()
    {
        var json = Shipped(0);
        json["sequences"]!["chapter"]!["begins"] = "runsOn";
        var now = Composer.Compose(Small, Edition.Whole, ShippedLooks.Workshop);
        var seen = Composer.Glimpse(now, Read(json), 1, 0, new CompositionCaches());
        Assert.Equal([0, 1], seen.Select(p => p.Division).Distinct());
    }

    [Theory]
    [InlineData("masters[0].inner", "70", "Right: inner margin 64 pt → 70 pt")]
    [InlineData("masters[0].inner", "\"21.4 mm\"", "Right: inner margin 22.6 mm → 21.4 mm")]
    [InlineData("heads[1].size", "12", "B head: size 10.6 pt → 12 pt")]
    [InlineData("dresses[1].dress.after", "9", "lead: space below 6.5 pt → 9 pt")]
    [InlineData("sequences.chapter.begins", "\"newPage\"", "chapter: where it starts recto → newPage")]
    [InlineData("bullets", "[\"•\"]", "bullets by depth")]
    [InlineData("name", "\"Ours\"", "name of the look Workshop, A5 → Ours")]
    public void A_change_is_said_as_a_designer_would(string place, string value, string words)
    {
        var json = Shipped(0);
        var steps = place.Replace("[", ".", StringComparison.Ordinal).Replace("]", "", StringComparison.Ordinal).Split('.');
        var at = json;
        foreach (var step in steps[..^1])
            at = (int.TryParse(step, out var index) ? at[index] : at[step])!;
        at[steps[^1]] = JsonNode.Parse(value);
        var difference = Assert.Single(LookDifference.Between(ShippedLooks.Workshop, Read(json)));
        Assert.Equal(place, difference.Place);
        Assert.Equal(words, LookDifference.Say([difference]));
    }

    [Fact]
    public void Layouts_that_come_and_go_are_said_and_several_changes_are_counted()
    {
        var json = Shipped(0);
        json["masters"]!.AsArray().Add(new JsonObject { ["name"] = "Wide", ["basedOn"] = "Right" });
        Assert.Equal("page layouts: Wide is new", LookDifference.Say(LookDifference.Between(ShippedLooks.Workshop, Read(json))));
        json["heads"]![0]!["before"] = 30;
        json["heads"]![1]!["before"] = 30;
        Assert.StartsWith(
            "3 settings, ",
            LookDifference.Say(LookDifference.Between(ShippedLooks.Workshop, Read(json))),
            StringComparison.Ordinal
        );
        Assert.Empty(LookDifference.Between(ShippedLooks.Workshop, Read(Shipped(0))));
    }

    [Fact]
    public void Each_stretch_of_a_page_names_what_of_the_look_made_it()
    {
        foreach (var look in ShippedLooks.All)
        {
            var composed = Composer.Compose(Small, Edition.Whole, look);
            var places = new HashSet<string>();
            foreach (var page in composed.Pages)
            foreach (var part in PagePart.Of(page, look, composed.Text.Divisions[page.Division]))
            {
                places.Add(part.Place);
                Assert.InRange(part.X, 0, page.Master.Width.Millipoints);
                Assert.InRange(part.Y, 0, page.Master.Height.Millipoints);
                Assert.True(part is { Width: > 0, Height: > 0 });
            }
            Assert.Superset(
                new HashSet<string> { "divisionTitle", "heads[0]", "heads[1]", "dresses[0]", "listText", "caption", "admonitionText" },
                places
            );
            Assert.Contains(places, p => p.StartsWith("masters[", StringComparison.Ordinal));
        }
    }

    [Fact]
    public void All_that_a_file_can_say_can_be_set()
    {
        Assert.Equal(
            LookSettings.All.Keys.Select(k => $"{char.ToLowerInvariant(k.Part.Name[0])}{k.Part.Name[1..]}.{k.Name}").Order(),
            LookForm.Parts.SelectMany(p => p.Value.Select(s => $"{LookFileTests.DressAnywhere(p.Key)}.{s.Name}")).Distinct().Order()
        );
        Assert.All(LookForm.Parts.SelectMany(p => p.Value).Where(s => s.Kind == "choice"), s => Assert.NotEmpty(s.Choices));
        Assert.All(LookForm.Parts.SelectMany(p => p.Value).Where(s => s.Of is not ("" or "text" or "choice")), s =>
            Assert.Contains(s.Of, LookForm.Parts)
        );
    }

    [Fact]
    public void Each_place_of_a_division_takes_the_layout_that_its_kind_names()
    {
        var json = Shipped(0);
        json["masters"]!
            .AsArray()
            .Add(
                new JsonObject
                {
                    ["name"] = "End",
                    ["basedOn"] = "Right",
                    ["fields"] = new JsonArray(),
                }
            );
        json["sequences"]!["chapter"]!["pages"] = new JsonObject
        {
            ["recto"] = "Right",
            ["verso"] = "Left",
            ["opening"] = "Opening",
            ["last"] = "End",
        };
        var composed = Composer.Compose(Small, Edition.Whole, Read(json));
        var second = composed.Pages.Where(p => p.Division == 1 && !p.IsBlank).Select(p => p.Master.Name).ToList();
        Assert.Equal("Opening", second[0]);
        Assert.Equal("End", second[^1]);
        Assert.All(second.Skip(1).SkipLast(1), n => Assert.Contains(n, new[] { "Left", "Right" }));
        Assert.Null(composed.Pages.Last(p => p.Division == 1).Furniture);
    }

    public static TheoryData<string, string, string, string> Doubts() =>
        new()
        {
            { "masters[0].outer", "230", "masters[0]", "letters; between 35 and 90" },
            { "dresses[0].dress.leading", "9", "dresses[0].dress.leading", "closer than their letters are high" },
            { "heads[0].leading", "12", "heads[0].leading", "A heads stand closer" },
            { "dresses[1].role", "\"nobody’s\"", "dresses[1]", "No paragraph of this manual" },
            { "masters[1].fields[0].pattern", "\"{variable:none}\"", "masters[1].fields[0].pattern", "no variable “none”" },
            { "blocks", "{\"boxTint\": 20}", "blocks.boxTint", "hard to read" },
        };

    [Theory]
    [MemberData(nameof(Doubts))]
    public void What_can_be_worn_and_comes_out_badly_is_told_with_its_place(string place, string value, string at, string says)
    {
        var json = Shipped(0);
        var steps = place.Replace("[", ".", StringComparison.Ordinal).Replace("]", "", StringComparison.Ordinal).Split('.');
        var part = json;
        foreach (var step in steps[..^1])
            part = (int.TryParse(step, out var index) ? part[index] : part[step])!;
        part[steps[^1]] = JsonNode.Parse(value);
        Assert.Contains(LookDoubts.Of(Composer.Compose(Small, Edition.Whole, Read(json))), d =>
            d.Place == at && d.Says.Contains(says, StringComparison.Ordinal)
        );
    }

    [Fact]
    public void Nothing_is_doubted_of_the_looks_that_ship() =>
        Assert.All(ShippedLooks.All, look =>
            Assert.DoesNotContain(LookDoubts.Of(Composer.Compose(Small, Edition.Whole, look)), d =>
                !d.Says.Contains("variable", StringComparison.Ordinal)
            )
        );
}
