using System.Text.Json.Nodes;
using static Kivren.Server.Tests.Desks;

namespace Kivren.Server.Tests;

/// <summary>What is asked of the shelf and of whole manuals over HTTP: words in all of them, first pages, long pastes.</summary>
public class ShelfWideTests(SharedServer shared) : IClassFixture<SharedServer>
{
    private ServerProcess Server => shared.Server;

    private static object Looking(string words, string? where = null) =>
        new
        {
            words,
            wholeWords = false,
            sameCase = false,
            pattern = false,
            division = (string?)null,
            where,
        };

    private async Task<string> Holding(string words)
    {
        var manual = await Server.NewManual("Holds words");
        var (division, id) = (await Server.Chapter(manual), Fresh());
        await Server.Send(manual, "w", Put(division, id, 0, Paragraph(id, words), ""));
        return manual;
    }

    [Fact]
    public async Task Words_are_found_in_every_manual_and_not_in_one_that_was_taken_off_the_shelf()
    {
        var word = "w" + Fresh()[..10];
        var (one, two, gone) = (await Holding($"The {word} here"), await Holding($"{word} and {word}"), await Holding(word));
        await Server.Http.DeleteAsync($"/api/manuals/{gone}");
        var (status, found) = await Server.Post("/find", Looking(word));
        Assert.Equal(200, status);
        var totals = found!["manuals"]!
            .AsArray()
            .ToDictionary(m => m!["id"]!.GetValue<string>(), m => m!["found"]!["total"]!.GetValue<int>());
        Assert.Equal(1, totals[one]);
        Assert.Equal(2, totals[two]);
        Assert.Equal(2, totals.Count);
        Assert.Equal(0, found["unseen"]!.GetValue<int>());
        // Only in footnotes: nowhere.
        Assert.Empty((await Server.Post("/find", Looking(word, "note"))).Body!["manuals"]!.AsArray());
    }

    [Theory, InlineData("(", true, null), InlineData("x", false, "nowhere"), InlineData("", false, null)]
    public async Task What_cannot_be_looked_for_is_refused_in_words(string words, bool pattern, string? where)
    {
        var (status, answer) = await Server.Post(
            "/find",
            new
            {
                words,
                wholeWords = false,
                sameCase = false,
                pattern,
                division = (string?)null,
                where,
            }
        );
        var why = status == 400 ? answer!["what"] : answer!["refused"];
        Assert.False(string.IsNullOrEmpty(why?.GetValue<string>()));
    }

    [Fact]
    public async Task A_first_page_is_drawn_for_the_shelf_and_nothing_for_no_manual()
    {
        var manual = await Server.NewManual("Seen from the front");
        var svg = await Server.Http.GetStringAsync($"/api/manuals/{manual}/first-page.svg");
        Assert.Contains(">Seen<", svg, StringComparison.Ordinal);
        Assert.Equal(System.Net.HttpStatusCode.NotFound, (await Server.Http.GetAsync("/api/manuals/none/first-page.svg")).StatusCode);
    }

    [Fact]
    public async Task A_paste_of_thousands_lets_another_writer_in_between_and_one_undo_takes_it_back()
    {
        var manual = await Server.NewManual("Pasted");
        var (division, own) = (await Server.Chapter(manual), Fresh());
        await Server.Send(manual, "other", Put(division, own, 0, Paragraph(own, "Before"), ""));
        var ids = Enumerable.Range(0, 2_400).Select(_ => Fresh()).ToArray();
        var paste = Server.Send(
            manual,
            "w",
            [.. ids.Select((id, n) => Put(division, id, 0, Paragraph(id, $"P{n}"), n == 0 ? own : ids[n - 1]))]
        );
        var meanwhile = await Server.Send(manual, "other", Put(division, own, 1, Paragraph(own, "Meanwhile")));
        Assert.Empty(meanwhile["refused"]!.AsArray());
        var pasted = await paste;
        Assert.Empty(pasted["refused"]!.AsArray());
        Assert.Equal(ids.Length, pasted["accepted"]!.AsArray().Count);
        await Server.Settled(manual, pasted["act"]!.GetValue<long>());
        var blocks = await Server.Blocks(manual, division);
        Assert.Equal(ids, blocks.Select(b => b.Id).Where(ids.Contains));
        var back = (await Server.Post($"/manuals/{manual}/take-back?writer=w&again=false")).Body!;
        Assert.Empty(back["refused"]!.AsArray());
        Assert.Equal(["Meanwhile"], (await Server.Blocks(manual, division)).Where(b => b.Text.Length > 0).Select(b => b.Text));
    }
}
