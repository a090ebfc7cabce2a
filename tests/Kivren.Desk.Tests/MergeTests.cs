using System.Text.Json;
using System.Text.Json.Nodes;
using CsCheck;

namespace Kivren.Desk.Tests;

public class MergeTests
{
    public sealed record Case(string What, string Based, string Mine, string Theirs, string Is, bool Both = false)
    {
        public override string ToString() => What;
    }

    public static TheoryData<Case> Cases =>
        [
            .. JsonSerializer.Deserialize<Case[]>(
                File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "merges.json")),
                JsonSerializerOptions.Web
            )!,
        ];

    private static string Paragraph(string text)
    {
        var node = new JsonObject
        {
            ["type"] = "paragraph",
            ["attrs"] = new JsonObject { ["id"] = "p" },
        };
        if (text.Length > 0)
            node["content"] = new JsonArray(new JsonObject { ["type"] = "text", ["text"] = text });
        return node.ToJsonString();
    }

    private static string TextOf(JsonNode? node) =>
        (node?["text"]?.GetValue<string>() ?? "") + string.Concat((node?["content"] as JsonArray ?? []).Select(TextOf));

    [Theory, MemberData(nameof(Cases))]
    public void The_cases_that_the_browser_answers_too(Case c)
    {
        var merged = BlockMerge.Merge(Paragraph(c.Based), Paragraph(c.Mine), Paragraph(c.Theirs))!;
        Assert.Equal(c.Is, TextOf(JsonNode.Parse(merged.Body)));
        Assert.Equal(c.Both, merged.Both);
    }

    private static string Typed(string text, IEnumerable<(int At, char Letter)> letters)
    {
        foreach (var (at, letter) in letters)
            text = text.Insert(at % (text.Length + 1), letter.ToString());
        return text;
    }

    [Fact]
    public void Every_letter_that_either_typed_is_in_the_text_as_often_as_it_was_typed()
    {
        var based = Gen.String[Gen.Char["abc  "], 0, 30];
        var mine = Gen.Select(Gen.Int[0, 99], Gen.Char["XYZ "]).List[0, 9];
        var theirs = Gen.Select(Gen.Int[0, 99], Gen.Char["123 "]).List[0, 9];
        Gen.Select(based, mine, theirs)
            .Sample(
                (b, m, t) =>
                {
                    var text = TextOf(JsonNode.Parse(BlockMerge.Merge(Paragraph(b), Paragraph(Typed(b, m)), Paragraph(Typed(b, t)))!.Body));
                    foreach (var letter in "XYZ")
                        Assert.Equal(m.Count(x => x.Item2 == letter), text.Count(c => c == letter));
                    foreach (var letter in "123")
                        Assert.Equal(t.Count(x => x.Item2 == letter), text.Count(c => c == letter));
                    Assert.Equal(b.Replace(" ", "", StringComparison.Ordinal), new string([.. text.Where(c => c is >= 'a' and <= 'c')]));
                },
                iter: 20_000
            );
    }

    [Fact]
    public void Notes_and_entries_of_both_stay_and_a_note_that_both_wrote_in_is_merged()
    {
        static string Block(string before, string? entry, string note) =>
            new JsonObject
            {
                ["type"] = "paragraph",
                ["attrs"] = new JsonObject { ["id"] = "p" },
                ["content"] = new JsonArray([
                    new JsonObject { ["type"] = "text", ["text"] = before },
                    .. entry is null
                        ? Array.Empty<JsonNode>()
                        :
                        [
                            new JsonObject
                            {
                                ["type"] = "indexEntry",
                                ["attrs"] = new JsonObject { ["id"] = entry, ["headings"] = new JsonArray("h") },
                            },
                        ],
                    new JsonObject
                    {
                        ["type"] = "footnote",
                        ["attrs"] = new JsonObject { ["id"] = "n" },
                        ["content"] = new JsonArray(new JsonObject { ["type"] = "text", ["text"] = note }),
                    },
                ]),
            }.ToJsonString();
        var merged = BlockMerge.Merge(
            Block("the drum", null, "see the note"),
            Block("the drum turns", "e1", "see the note below"),
            Block("Here the drum", "e2", "Always see the note")
        )!;
        var node = JsonNode.Parse(merged.Body)!;
        Assert.Equal("Here the drum turnsAlways see the note below", TextOf(node));
        Assert.Equal(
            ["e2", "e1"],
            node["content"]!
                .AsArray()
                .Where(c => c!["type"]!.GetValue<string>() == "indexEntry")
                .Select(c => c!["attrs"]!["id"]!.GetValue<string>())
        );
    }

    [Theory]
    [InlineData("pageBreak"), InlineData("equation"), InlineData("figure"), InlineData("listing")]
    public void A_kind_that_would_not_hold_the_words_is_not_merged(string kind)
    {
        var theirs = new JsonObject
        {
            ["type"] = kind,
            ["attrs"] = new JsonObject { ["id"] = "p" },
        }.ToJsonString();
        Assert.Null(BlockMerge.Merge(Paragraph(""), Paragraph("words"), theirs));
    }
}
