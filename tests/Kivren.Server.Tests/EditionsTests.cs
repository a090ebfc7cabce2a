using System.IO.Compression;
using System.Text;
using System.Text.Json.Nodes;
using Kivren.Formats.Pdf;
using static Kivren.Server.Tests.Desks;

namespace Kivren.Server.Tests;

/// <summary>Editions and their outputs over HTTP, on a real database.</summary>
public sealed class EditionsTests(SharedServer shared) : IClassFixture<SharedServer>
{
    private ServerProcess Server => shared.Server;

    private async Task<string> Sample() => (await Server.Post("/manuals/sample", new { })).Body!["id"]!.GetValue<string>();

    private Task<JsonNode> Editions(string manual) => Server.Get($"/manuals/{manual}/editions");

    private static JsonObject Edition(JsonNode view, string name) =>
        view["editions"]!.AsArray().First(e => e!["name"]!.GetValue<string>() == name)!.DeepClone().AsObject();

    private static JsonObject New(string name) =>
        new()
        {
            ["name"] = name,
            ["chosen"] = new JsonObject(),
            ["leavesOut"] = new JsonArray(),
            ["takes"] = new JsonArray(),
            ["variables"] = new JsonObject(),
            ["look"] = null,
            ["lookFile"] = null,
            ["language"] = null,
            ["without"] = new JsonArray(),
            ["leftOut"] = "words",
            ["goesOutAs"] = new JsonArray(),
            ["filesCalled"] = "",
        };

    private static JsonObject Output(string kind) =>
        new()
        {
            ["kind"] = kind,
            ["multiple"] = 1,
            ["marks"] = true,
            ["outlineDepth"] = 6,
            ["withoutBlanks"] = false,
            ["facing"] = false,
            ["splits"] = "division",
            ["ownStyle"] = "",
            ["template"] = "",
            ["roleStyles"] = new JsonArray(),
            ["profile"] = "",
            ["leaf"] = 100,
            ["front"] = "",
            ["back"] = "",
            ["checked"] = false,
        };

    private Task<(int Status, JsonNode? Body)> Act(string manual, object act) => Server.Post($"/manuals/{manual}/editions/acts", act);

    private Task<(int Status, JsonNode? Body)> Put(string manual, JsonNode edition, string? name = null, JsonNode? was = null) =>
        Act(
            manual,
            new
            {
                id = Guid.NewGuid().ToString("N"),
                writer = "w1",
                @do = "put",
                name,
                edition,
                was,
            }
        );

    [Fact]
    public async Task An_edition_is_added_changed_taken_back_and_taken_out()
    {
        var manual = await Sample();
        var (status, done) = await Put(manual, New("Rope work"));
        Assert.Equal((200, null), (status, done!["refused"]?.GetValue<string>()));
        var view = await Editions(manual);
        var divisions = view["outline"]!.AsArray().Where(r => r!["depth"]!.GetValue<int>() == 0);
        var cable = divisions.First(r => r!["title"]!.GetValue<string>() == "Cable and sheaves")!["id"]!.GetValue<string>();
        var was = Edition(view, "Rope work");
        var next = was.DeepClone().AsObject();
        next["takes"] = new JsonArray(new JsonObject { ["division"] = cable, ["sections"] = new JsonArray() });
        Assert.Null((await Put(manual, next, "Rope work", was)).Body!["refused"]);
        var seen = await Server.Get($"/manuals/{manual}/editions/seen?name=Rope%20work");
        Assert.InRange(seen["pages"]!.GetValue<int>(), 2, 12);
        Assert.Equal(cable, seen["rows"]![0]!["id"]!.GetValue<string>());
        Assert.Equal("1", seen["rows"]![0]!["number"]!.GetValue<string>());
        // Another who still sees it as it was does not overwrite it.
        var refused = (await Put(manual, New("Rope work"), "Rope work", was)).Body!["refused"]!.GetValue<string>();
        Assert.Contains("Another writer changed", refused, StringComparison.Ordinal);
        Assert.Equal(200, (await Server.Post($"/manuals/{manual}/take-back?writer=w1&again=false")).Status);
        Assert.Empty(Edition(await Editions(manual), "Rope work")["takes"]!.AsArray());
        await Act(
            manual,
            new
            {
                id = Guid.NewGuid().ToString("N"),
                writer = "w1",
                @do = "takeOut",
                name = "Rope work",
            }
        );
        Assert.DoesNotContain((await Editions(manual))["editions"]!.AsArray(), e => e!["name"]!.GetValue<string>() == "Rope work");
    }

    [Theory]
    [InlineData("""{ "name": "" }""", "name")]
    [InlineData("""{ "takes": [{ "division": "a", "sections": [] }, { "division": "a", "sections": [] }] }""", "twice")]
    [InlineData("""{ "chosen": { "model": [] } }""", "Choose a value")]
    [InlineData("""{ "chosen": { "weather": ["wet"] } }""", "no condition")]
    [InlineData("""{ "look": "Gone" }""", "no look")]
    [InlineData("""{ "look": "Mine", "lookFile": "{ no look" }""", "cannot be worn")]
    [InlineData("""{ "language": "<b>" }""", "no language")]
    [InlineData("""{ "leftOut": "shouting" }""", "cannot read")]
    [InlineData("""{ "goesOutAs": [{ "kind": "scroll", "multiple": 1, "splits": "division", "ownStyle": "" }] }""", "no such output")]
    [InlineData("""{ "goesOutAs": [{ "kind": "printPdf", "multiple": 900, "splits": "division", "ownStyle": "" }] }""", "multiple of")]
    [InlineData("""{ "name": "Tarn 6, print" }""", "already")]
    public async Task What_no_edition_can_be_is_refused_with_why(string wrong, string why)
    {
        var manual = await Sample();
        var edition = New("Fine");
        foreach (var (name, value) in JsonNode.Parse(wrong)!.AsObject())
            edition[name] = value?.DeepClone();
        foreach (var output in edition["goesOutAs"]!.AsArray())
        foreach (var (name, value) in Output("epub"))
            if (output![name] is null)
                output[name] = value?.DeepClone();
        var before = (await Editions(manual))["editions"]!.ToJsonString();
        var (status, body) = await Put(manual, edition);
        Assert.Contains(why, body!.ToJsonString(), StringComparison.Ordinal);
        Assert.True(status is 400 || body["refused"] is not null, body.ToJsonString());
        Assert.Equal(before, (await Editions(manual))["editions"]!.ToJsonString());
    }

    [Fact]
    public async Task Pages_are_proofed_in_the_edition_that_is_chosen_and_the_choice_goes_with_its_name()
    {
        var manual = await Sample();
        var whole = await Server.Get($"/manuals/{manual}/proof");
        Assert.Equal("Both models, print", whole["edition"]!.GetValue<string>());
        Assert.Equal(404, (await Server.Post($"/manuals/{manual}/editions/proofed", new { name = "Gone" })).Status);
        await Server.Post($"/manuals/{manual}/editions/proofed", new { name = "Deckhand’s pocket book" });
        var small = await Until(
            () => Server.Get($"/manuals/{manual}/proof"),
            p => p["edition"]!.GetValue<string>() == "Deckhand’s pocket book",
            "The pocket book"
        );
        Assert.True(small["pageCount"]!.GetValue<int>() < whole["pageCount"]!.GetValue<int>() / 2);
        var edition = Edition(await Editions(manual), "Deckhand’s pocket book");
        var renamed = edition.DeepClone().AsObject();
        renamed["name"] = "Pocket book";
        await Put(manual, renamed, "Deckhand’s pocket book", edition);
        await Until(() => Server.Get($"/manuals/{manual}/proof"), p => p["edition"]!.GetValue<string>() == "Pocket book", "The new name");
        // One that is taken out is no longer proofed.
        await Act(
            manual,
            new
            {
                id = Guid.NewGuid().ToString("N"),
                writer = "w1",
                @do = "takeOut",
                name = "Pocket book",
            }
        );
        await Until(
            () => Server.Get($"/manuals/{manual}/proof"),
            p => p["edition"]!.GetValue<string>() == "Both models, print",
            "The first edition"
        );
    }

    [Fact]
    public async Task A_look_put_on_while_an_edition_with_its_own_is_proofed_is_that_editions()
    {
        var manual = await Sample();
        await Server.Post($"/manuals/{manual}/editions/proofed", new { name = "Deckhand’s pocket book" });
        var (_, put) = await Server.Post(
            $"/manuals/{manual}/look",
            new
            {
                id = Guid.NewGuid().ToString("N"),
                writer = "w1",
                name = "Reader, 6 × 9 in",
                file = (string?)null,
                from = (string?)null,
            }
        );
        Assert.Null(put!["refused"]);
        var view = await Editions(manual);
        Assert.Equal("Reader, 6 × 9 in", Edition(view, "Deckhand’s pocket book")["look"]!.GetValue<string>());
        Assert.Equal("Workshop, A5", view["look"]!.GetValue<string>());
    }

    // ---- outputs ----

    private async Task<JsonNode[]> Produced(string manual, object asked)
    {
        var (status, body) = await Server.Post($"/manuals/{manual}/outputs", asked);
        Assert.True(status == 200, body?.ToJsonString());
        var made = new List<JsonNode>();
        foreach (var output in body!.AsArray())
            made.Add(await Server.Ended(manual, output!["id"]!.GetValue<string>()));
        return [.. made];
    }

    [Fact]
    public async Task All_editions_are_produced_each_in_every_way_that_it_goes_out()
    {
        var manual = await Sample();
        var made = await Produced(manual, new { all = true });
        Assert.Equal(
            ["printPdf", "printPdf", "screenPdf", "epub", "printPdf", "epub", "site"],
            made.Select(m => m["kind"]!.GetValue<string>())
        );
        Assert.All(made, m => Assert.Equal("Done", m["state"]!.GetValue<string>()));
        Assert.Equal(made.Length, made.Select(m => m["fileName"]!.GetValue<string>()).Distinct().Count());
        foreach (var output in made)
        {
            var answer = await Server.Http.GetAsync($"/api/manuals/{manual}/outputs/{output["id"]}/file");
            var file = await answer.Content.ReadAsByteArrayAsync();
            Assert.Equal(output["bytes"]!.GetValue<long>(), file.LongLength);
            switch (output["kind"]!.GetValue<string>())
            {
                case "epub":
                    Assert.Equal("application/epub+zip", answer.Content.Headers.ContentType!.MediaType);
                    using (var zip = new ZipArchive(new MemoryStream(file)))
                        Assert.Equal("mimetype", zip.Entries[0].FullName);
                    break;
                case "site":
                    using (var zip = new ZipArchive(new MemoryStream(file)))
                        Assert.NotNull(zip.GetEntry("index.html"));
                    break;
                default:
                    Assert.StartsWith("%PDF", Encoding.Latin1.GetString(file, 0, 8), StringComparison.Ordinal);
                    break;
            }
        }
    }

    [Fact]
    public async Task A_report_says_what_is_wrong_and_what_changed_since_the_output_before()
    {
        var manual = await Sample();
        var asked = new { edition = "Inspector’s web pages", kind = "site" };
        var first = (await Produced(manual, asked))[0];
        var report = await Server.Get($"/manuals/{manual}/outputs/{first["id"]}/report");
        Assert.Null(report["since"]);
        Assert.NotEmpty(report["warnings"]!.AsArray());
        Assert.NotEmpty(report["faces"]!.AsArray());
        Assert.Equal(404, (int)(await Server.Http.GetAsync($"/api/manuals/{manual}/outputs/none/report")).StatusCode);
        var again = (await Produced(manual, asked))[0];
        Assert.Empty(again["since"]!.AsArray());
        // The edition leaves something out; then the text moves on.
        var edition = Edition(await Editions(manual), "Inspector’s web pages");
        var less = edition.DeepClone().AsObject();
        less["takes"]!.AsArray().RemoveAt(3);
        await Put(manual, less, "Inspector’s web pages", edition);
        var third = (await Produced(manual, asked))[0];
        Assert.Contains(third["since"]!.AsArray(), s => s!.GetValue<string>().StartsWith("No longer there: “", StringComparison.Ordinal));
        Assert.True(third["act"]!.GetValue<long>() > again["act"]!.GetValue<long>());
    }

    [Fact]
    public async Task What_cannot_be_produced_says_why_and_offers_nothing()
    {
        var manual = await Sample();
        Assert.Equal(404, (await Server.Post($"/manuals/{manual}/outputs", new { edition = "Gone" })).Status);
        Assert.Equal(400, (await Server.Post($"/manuals/{manual}/outputs", new { kind = "scroll" })).Status);
        var empty = New("Nothing at all");
        empty["takes"] = new JsonArray(new JsonObject { ["division"] = "gone", ["sections"] = new JsonArray() });
        await Put(manual, empty);
        var failed = (await Produced(manual, new { edition = "Nothing at all", kind = "epub" }))[0];
        Assert.Equal("Failed", failed["state"]!.GetValue<string>());
        Assert.Contains("takes nothing", failed["problem"]!.GetValue<string>(), StringComparison.Ordinal);
        Assert.Equal(404, (int)(await Server.Http.GetAsync($"/api/manuals/{manual}/outputs/{failed["id"]}/file")).StatusCode);
    }

    [Fact]
    public async Task Only_the_newest_files_are_kept_and_all_reports()
    {
        var manual = await Sample();
        var asked = new { edition = "Deckhand’s pocket book", kind = "printPdf" };
        var made = new List<JsonNode>();
        for (var i = 0; i < 5; i++)
            made.AddRange(await Produced(manual, asked));
        var listed = (await Server.Get($"/manuals/{manual}/outputs")).AsArray();
        Assert.Equal(5, listed.Count);
        Assert.Equal(3, listed.Count(o => o!["bytes"]!.GetValue<long>() > 0));
        Assert.Equal(404, (int)(await Server.Http.GetAsync($"/api/manuals/{manual}/outputs/{made[0]["id"]}/file")).StatusCode);
        Assert.NotNull(await Server.Get($"/manuals/{manual}/outputs/{made[0]["id"]}/report"));
    }

    [Fact]
    public async Task A_printers_profile_is_given_to_the_manual_and_a_file_that_is_none_is_refused_with_why()
    {
        var manual = await Sample();
        async Task<(int Status, string Body)> Give(byte[] bytes, string name)
        {
            using var body = new ByteArrayContent(bytes);
            body.Headers.ContentType = new("application/octet-stream");
            var answer = await Server.Http.PostAsync($"/api/manuals/{manual}/profiles?file={name}&writer=w1", body);
            return ((int)answer.StatusCode, await answer.Content.ReadAsStringAsync());
        }
        var refused = await Give([1, 2, 3], "own.icc");
        Assert.Equal(400, refused.Status);
        Assert.Contains("no colour profile", refused.Body, StringComparison.Ordinal);
        var given = await Give(ColourProfile.Coated.Bytes, "own.icc");
        Assert.True(given.Status == 200, given.Body);
        Assert.Contains("Kivren coated offset", given.Body, StringComparison.Ordinal);
        // Given again it is the same file.
        Assert.Equal(200, (await Give(ColourProfile.Coated.Bytes, "own.icc")).Status);
        Assert.Equal(["own.icc"], (await Editions(manual))["profiles"]!.AsArray().Select(p => p!.GetValue<string>()));
        var edition = New("By the printer");
        edition["filesCalled"] = "TW {output}";
        var (print, cover) = (Output("printPdf"), Output("coverPdf"));
        print["profile"] = "own.icc";
        cover["profile"] = "own.icc";
        edition["goesOutAs"] = new JsonArray(print, cover);
        await Put(manual, edition);
        var made = await Produced(manual, new { edition = "By the printer" });
        Assert.All(made, m => Assert.Equal("Done", m["state"]!.GetValue<string>()));
        Assert.Equal(["TW print.pdf", "TW cover.pdf"], made.Select(m => m["fileName"]!.GetValue<string>()));
    }
}
