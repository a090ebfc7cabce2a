using System.Text.Json;
using System.Text.Json.Nodes;
using CsCheck;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

public class LookFileTests
{
    private static JsonNode Shipped(int look = 0) => JsonNode.Parse(LookFile.Write(ShippedLooks.All[look]))!;

    private static IReadOnlyList<LookFault> Faults(string text)
    {
        var look = LookFile.Read(text, out var faults);
        Assert.Equal(look is null, faults.Count > 0);
        return faults;
    }

    /// <summary>The shipped look with one place changed; the place as a fault would name it.</summary>
    private static JsonNode With(string place, string json)
    {
        var root = Shipped();
        var steps = place.Replace("[", ".", StringComparison.Ordinal).Replace("]", "", StringComparison.Ordinal).Split('.');
        var at = root;
        foreach (var step in steps[..^1])
            at = (int.TryParse(step, out var index) ? at[index] : at[step])!;
        var value = JsonNode.Parse(json);
        if (at is JsonArray list)
            list[int.Parse(steps[^1])] = value;
        else
            at[steps[^1]] = value;
        return root;
    }

    [Fact]
    public void What_is_written_is_read_as_the_same_look()
    {
        foreach (var look in ShippedLooks.All)
        {
            var text = LookFile.Write(look);
            var read = LookFile.Read(text, out var faults);
            Assert.Empty(faults);
            Assert.Equal(text, LookFile.Write(read!));
            var manual = Manual(Chapter("a", "Winch", Head("h", HeadLevel.A, "The band"), Words("p", 900), Figure("f"), Words("q", 300)));
            Assert.Equal(Compose(manual, look).Pages.Select(p => p.Key), Compose(manual, read!).Pages.Select(p => p.Key));
        }
    }

    [Fact]
    public void Every_setting_has_words_and_there_are_no_words_without_a_setting()
    {
        // The schema is made of the records that hold a look: a setting without words cannot be written.
        var schema = JsonNode.Parse(LookSchema.Write())!;
        var settings = schema["$defs"]!
            .AsObject()
            .Where(d => d.Key != "roleDress")
            .Append(KeyValuePair.Create("look", (JsonNode?)schema))
            .SelectMany(d => d.Value!["properties"]!.AsObject().Select(p => $"{DressAnywhere(d.Key)}.{p.Key}"))
            .Where(s => s is not ("look.kivrenLook" or "look.faceFiles"))
            .Distinct();
        Assert.Equal(
            settings.Order(),
            LookSettings.All.Keys.Select(k => $"{char.ToLowerInvariant(k.Part.Name[0])}{k.Part.Name[1..]}.{k.Name}").Order()
        );
        Assert.All(LookSettings.All.Values, s => Assert.NotEmpty(s.Words));
    }

    /// <summary>What is dressed has more settings the more the page can do with it; each is told once.</summary>
    internal static string DressAnywhere(string part) => part is "titleDress" or "blockDress" ? "dress" : part;

    [Theory]
    [InlineData("masters[0].width", "\"wide\"", "pt, mm, cm or in")]
    [InlineData("masters[0].width", "\"148\"", "pt, mm, cm or in")]
    [InlineData("masters[0].width", "10", "from 72 to 3,400 points")]
    [InlineData("masters[0].mirrored", "\"yes\"", "true or false")]
    [InlineData("masters[0].gutters", "3", "no such setting")]
    [InlineData("masters[0].Width", "400", "Is “width” meant?")]
    [InlineData("masters[0].columns", "40", "from 1 to 4")]
    [InlineData("sequences.chapters", "{}", "no such kind of division")]
    [InlineData("sequences.chapter.begins", "\"left\"", "\"recto\"")]
    [InlineData("heads[0].size", "0", "from 4 to 144 points")]
    [InlineData("heads[0].size", "400", "from 4 to 144 points")]
    [InlineData("heads[1].face", "\"comic\"", "no face “comic”. There are serif, ")]
    [InlineData("heads[1].colour", "\"sea\"", "no colour “sea”. The look has none yet")]
    [InlineData("caption.keepsNext", "true", "no such setting here")]
    [InlineData("sequences.chapter.contents", "\"mine\"", "no contents list “mine”")]
    [InlineData("spans", "[{ \"role\": \"code\" }, { \"role\": \"code\" }]", "twice")]
    [InlineData("heads[2]", "null", "a dress with its settings")]
    [InlineData("dresses[1].role", "7", "a text in quotation marks")]
    [InlineData("dresses[1].dress.left", "-4", "from 0 to 600 points")]
    [InlineData("masters[0].fields[0].pattern", "\"{chaptr}\"", "There is no source {chaptr}")]
    [InlineData("masters[0].fields[0].place", "0", "\"inner\"")]
    [InlineData("bullets", "\"–\"", "a list in brackets")]
    [InlineData("lists[0].lines[0].level", "\"E\"", "\"a\"")]
    [InlineData("index.columns", "2.5", "a whole number")]
    [InlineData("table.outer", "1e300", "pt, mm, cm or in")]
    [InlineData("name", "\"\\u0007\"", "no signs that steer a machine")]
    public void A_value_that_cannot_be_is_told_with_its_place(string place, string json, string says)
    {
        var fault = Assert.Single(Faults(With(place, json).ToJsonString()));
        Assert.Equal(place, fault.Place);
        Assert.Contains(says, fault.Says, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("masters[0].inner", "390", "masters[0]", "points are left for a line")]
    [InlineData("masters[0].top", "560", "masters[0]", "of its lines take 52")]
    [InlineData("masters[0].columns", "4", "masters[0].columns", "each under 40 points")]
    [InlineData("masters[1].basedOn", "\"Left\"", "masters[1].basedOn", "based on itself")]
    [InlineData("masters[1].basedOn", "\"Opening\"", "masters[1].basedOn", "stands before this one")]
    [InlineData("masters[1].name", "\"Opening\"", "masters", "stands here twice")]
    [InlineData("masters", "[]", "masters", "at least one page layout")]
    [InlineData("masters[2].inner", "90", "pages.opening", "one width and depth")]
    [InlineData("pages.verso", "\"Lefft\"", "pages.verso", "There is no page layout “Lefft”")]
    [InlineData("sequences.chapter.pages", "{\"recto\": \"Wide\"}", "sequences.chapter.pages.recto", "There is no page layout")]
    [InlineData("heads", "[]", "heads", "four levels")]
    [InlineData("heads[0].leading", "4", "heads[0]", "cannot hold letters")]
    [InlineData("index.gutter", "90", "index.columns", "")]
    [InlineData("lists[1].name", "\"contents\"", "lists", "twice")]
    [InlineData("referenceForms", "[]", "referenceForms", "at least one")]
    [InlineData("dresses[0].role", "\"lead\"", "dresses[2].dress.size", "This is missing.")]
    public void Values_that_cannot_be_together_are_told(string place, string json, string at, string says)
    {
        var look = With(place, json);
        if (place == "index.gutter")
            look["index"]!["columns"] = 4;
        if (place == "masters[0].columns")
            look["masters"]![0]!["gutter"] = 60;
        Assert.Contains(Faults(look.ToJsonString()), f => f.Place == at && f.Says.Contains(says, StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("", "cannot be read from line 1")]
    [InlineData("{\n  \"kivrenLook\": 1,\n  oops", "cannot be read from line 3")]
    [InlineData("[]", "This is no look")]
    [InlineData("{\"name\": \"x\"}", "This is no look")]
    [InlineData("{\"kivrenLook\": 2}", "of version 1")]
    [InlineData("{\"kivrenLook\": 1, \"\\ud800\": 1}", "half a character")]
    [InlineData("{\"kivrenLook\": 1, \"name\": \"x\", \"name\": \"y\"}", "This stands here twice.")]
    public void What_is_no_look_is_told(string text, string says) =>
        Assert.Contains(Faults(text), f => f.ToString().Contains(says, StringComparison.Ordinal));

    [Fact]
    public void A_zone_of_ten_thousand_letters_and_a_file_of_a_million_are_refused()
    {
        Assert.Equal(
            "masters[2].fields[0].pattern",
            Assert.Single(Faults(With("masters[2].fields[0].pattern", $"\"{new string('x', 10_000)}\"").ToJsonString())).Place
        );
        Assert.NotEmpty(Faults(LookFile.Write(ShippedLooks.Workshop) + new string(' ', 1_000_000)));
        Assert.NotEmpty(Faults(string.Concat(Enumerable.Repeat("{\"a\":", 5_000))));
    }

    [Fact]
    public void All_that_is_wrong_is_told_at_once()
    {
        var look = Shipped();
        look["masters"]![0]!["width"] = "wide";
        look["heads"]![0]!["size"] = 0;
        look["index"]!["columns"] = true;
        look["colour"] = "red";
        Assert.Equal(["masters[0].width", "heads[0].size", "index.columns", "colour"], Faults(look.ToJsonString()).Select(f => f.Place));
    }

    [Fact]
    public void What_a_role_does_not_say_it_has_of_its_role_anywhere_else_of_the_text()
    {
        var look = Shipped();
        look["dresses"] = JsonNode.Parse(
            """
            [
              { "role": "body", "dress": { "face": "serif", "size": 10, "leading": 13, "hyphenates": true } },
              { "role": "bullet", "dress": { "left": 9 } },
              { "role": "bullet", "within": "list", "dress": { "size": "3 mm" } }
            ]
            """
        );
        var read = LookFile.Read(look.ToJsonString(), out var faults)!;
        Assert.Empty(faults);
        var dress = read.DressOf("bullet", new Standing(DivisionKind.Chapter, "list"));
        Assert.Equal(
            (Length.Millimetres(3), Length.Points(13), Length.Points(9), true),
            (dress.Size, dress.Leading, dress.Left, dress.Hyphenates)
        );
        Assert.Equal(Length.Points(10), read.DressOf("bullet", new Standing(DivisionKind.Chapter)).Size);
    }

    /// <summary>Every place in a look where one value stands.</summary>
    private static IEnumerable<(JsonNode Parent, string Key, string Place)> Leaves(JsonNode node, string place)
    {
        if (node is JsonObject part)
            foreach (var (name, value) in part.ToList())
            {
                var at = place.Length == 0 ? name : $"{place}.{name}";
                if (value is null or JsonValue)
                    yield return (part, name, at);
                else
                    foreach (var leaf in Leaves(value, at))
                        yield return leaf;
            }
        else if (node is JsonArray list)
            for (var i = 0; i < list.Count; i++)
                if (list[i] is { } item and not JsonValue)
                    foreach (var leaf in Leaves(item, $"{place}[{i}]"))
                        yield return leaf;
    }

    [Fact]
    public void A_wrong_value_anywhere_is_told_at_its_place() =>
        Gen.Select(Gen.Int[0, 2], Gen.Int[0, 100_000], Gen.Int[0, 3])
            .Sample(
                (look, at, kind) =>
                {
                    var root = Shipped(look);
                    var leaves = Leaves(root, "").Where(l => l.Key != "kivrenLook").ToList();
                    var (parent, key, place) = leaves[at % leaves.Count];
                    parent[key] = kind switch
                    {
                        0 => JsonNode.Parse("[[]]"),
                        1 => JsonNode.Parse("{\"a\": {}}"),
                        2 => JsonNode.Parse("\"@\""),
                        _ => JsonNode.Parse("1e400"),
                    };
                    var text = root.ToJsonString().Replace("\"@\"", "\"\\ud800\"", StringComparison.Ordinal);
                    Assert.Contains(Faults(text), f => f.Place.StartsWith(place, StringComparison.Ordinal));
                },
                iter: 400,
                threads: 2
            );

    [Fact]
    public void Any_measures_make_a_look_that_composes_or_are_refused() =>
        Gen.Select(Gen.Int[0, 2], Gen.Select(Gen.Int[0, 100_000], Gen.Double[0, 1]).List[1, 8], Rich.Manuals)
            .Sample(
                (look, changes, seeds) =>
                {
                    var root = Shipped(look);
                    var numbers = Leaves(root, "")
                        .Where(l => l.Key != "kivrenLook" && l.Parent[l.Key]?.GetValueKind() == JsonValueKind.Number)
                        .ToList();
                    foreach (var (at, share) in changes)
                    {
                        var (parent, key, _) = numbers[at % numbers.Count];
                        var setting = LookSettings.All.First(s => s.Key.Name == key).Value;
                        parent[key] = Math.Round(
                            setting.Least + share * share * (setting.Most - setting.Least),
                            key is "columns" or "grey" ? 0 : 2
                        );
                    }
                    if (LookFile.Read(root.ToJsonString(), out _) is { } worn)
                        Assert.NotEmpty(Compose(Rich.Make(seeds), worn).Pages);
                },
                iter: 60,
                threads: 2
            );

    [Fact]
    public void The_schema_in_the_documents_is_that_of_the_program()
    {
        var file = Path.Combine(Root(), "docs", "look.schema.json");
        if (Environment.GetEnvironmentVariable("KIVREN_WRITE_SCHEMA") == "1")
            File.WriteAllText(file, LookSchema.Write());
        Assert.Equal(LookSchema.Write(), File.ReadAllText(file));
    }

    private static string Root()
    {
        var at = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(at, "Kivren.slnx")))
            at = Path.GetDirectoryName(at)!;
        return at;
    }
}
