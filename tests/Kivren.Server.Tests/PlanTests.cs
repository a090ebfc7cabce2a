using System.Text.Json.Nodes;
using Kivren.Core.Looks;

namespace Kivren.Server.Tests;

/// <summary>Acts on the plan, patterns and roles of a manual's own, over real HTTP into a real database.</summary>
public class PlanTests(SharedServer shared) : IClassFixture<SharedServer>
{
    private ServerProcess Server { get; } = shared.Server;

    private Task<JsonNode> Rows(string manual) => Server.Get($"/manuals/{manual}/plan");

    private static string[] Titles(JsonNode plan) => plan["rows"]!.AsArray().Select(r => r!["title"]!.GetValue<string>()).ToArray();

    private async Task<JsonNode> Act(
        string manual,
        string what,
        string[] rows,
        string? by = null,
        string? at = null,
        string? text = null,
        string? batch = null
    )
    {
        var (status, done) = await Server.Post(
            $"/manuals/{manual}/plan/acts",
            new
            {
                id = batch ?? Desks.Fresh(),
                writer = "w",
                @do = what,
                rows,
                by,
                at,
                text,
            }
        );
        Assert.Equal(200, status);
        return done!;
    }

    private static string? Refused(JsonNode done) => done["refused"]?.GetValue<string>();

    /// <summary>The plan when the pages with this act have settled.</summary>
    private async Task<JsonNode> Settled(string manual, JsonNode done)
    {
        var act = done["act"]!.GetValue<long>();
        while ((await Server.Get($"/manuals/{manual}/proof"))["act"]!.GetValue<long>() < act)
            await Task.Yield();
        return await Rows(manual);
    }

    private async Task<(string Manual, string Chapter)> Written(params string[] heads)
    {
        var manual = await Server.NewManual();
        var chapter = await Server.Chapter(manual);
        foreach (var head in heads)
        {
            var done = await Act(manual, "addHead", [head], by: chapter, text: head);
            Assert.Null(Refused(done));
            await Settled(manual, done);
        }
        return (manual, chapter);
    }

    private static string Own(string name) => name + "-" + Desks.Fresh();

    [Fact]
    public async Task A_lifted_section_is_numbered_and_one_undo_takes_it_back()
    {
        var (a, b) = (Own("Oil"), Own("Grease"));
        var (manual, chapter) = await Written(a, b);
        var plan = await Settled(manual, await Act(manual, "lift", [a]));
        Assert.Equal(["Title page", "Contents", "First chapter", b, a, "Index"], Titles(plan));
        Assert.Equal("2", plan["rows"]!.AsArray()[4]!["number"]!.GetValue<string>());
        await Server.Post($"/manuals/{manual}/take-back?writer=w&again=false", new { });
        Assert.Equal([a, b], (await Server.Blocks(manual, chapter)).Select(x => x.Text).Where(t => t == a || t == b));
    }

    [Fact]
    public async Task An_act_sent_twice_is_done_once_and_a_refused_one_changes_nothing()
    {
        var (a, b) = (Own("Oil"), Own("Grease"));
        var (manual, chapter) = await Written(a, b);
        var before = await Server.Blocks(manual, chapter);
        var batch = Desks.Fresh();
        Assert.Null(Refused(await Act(manual, "move", [b], by: a, at: "before", batch: batch)));
        Assert.Null(Refused(await Act(manual, "move", [b], by: a, at: "before", batch: batch)));
        Assert.Equal([b, a], (await Server.Blocks(manual, chapter)).Select(x => x.Text).Where(t => t == a || t == b));
        Assert.Equal("It stands there already.", Refused(await Act(manual, "move", [chapter], by: chapter, at: "after")));
        Assert.NotNull(Refused(await Act(manual, "deepen", [b])));
        Assert.Equal(before.Count, (await Server.Blocks(manual, chapter)).Count);
    }

    [Fact]
    public async Task What_a_move_would_do_is_told_before_it_is_done()
    {
        var (a, b, c) = (Own("Oil"), Own("Grease"), Own("Cable"));
        var (manual, _) = await Written(a, b, c);
        var (_, seen) = await Server.Post(
            $"/manuals/{manual}/plan/foresee",
            new
            {
                id = "",
                writer = "",
                @do = "move",
                rows = new[] { a },
                by = c,
                at = "after",
                text = (string?)null,
            }
        );
        Assert.Equal(("1.3", "1 First chapter"), (seen!["number"]!.GetValue<string>(), seen["under"]!.GetValue<string>()));
        Assert.Equal([a, b, c], Titles(await Rows(manual))[3..6]);
    }

    [Fact]
    public async Task A_long_plan_survives_a_restart_of_the_desk_in_its_order()
    {
        var names = Enumerable.Range(0, 30).Select(i => Own("Head" + i)).ToArray();
        var (manual, chapter) = await Written(names);
        var random = new Random(3);
        for (var i = 0; i < 25; i++)
            await Act(manual, "move", [names[random.Next(30)]], by: names[random.Next(30)], at: random.Next(2) == 0 ? "before" : "after");
        var order = (await Server.Blocks(manual, chapter)).Select(b => b.Id).ToArray();
        // Deleting and putting back closes the desk: the next reading comes from the database.
        await Server.Http.DeleteAsync($"/api/manuals/{manual}");
        await Server.Post($"/manuals/{manual}/restore", new { });
        Assert.Equal(order, (await Server.Blocks(manual, chapter)).Select(b => b.Id));
    }

    [Fact]
    public async Task States_are_kept()
    {
        var manual = await Server.NewManual();
        var chapter = await Server.Chapter(manual);
        var plan = await Settled(manual, await Act(manual, "state", [chapter], at: "Checked"));
        Assert.Equal("Checked", plan["rows"]!.AsArray().Single(r => r!["id"]!.GetValue<string>() == chapter)!["state"]!.GetValue<string>());
    }

    [Fact]
    public async Task Fixed_text_is_refused_at_the_desk()
    {
        var (_, made) = await Server.Post(
            "/manuals",
            new
            {
                title = "Stages",
                pattern = "Inspection code",
                variables = new Dictionary<string, string> { ["body"] = "The lake board" },
            }
        );
        var manual = made!["id"]!.GetValue<string>();
        var foreword = (await Server.Get($"/manuals/{manual}"))["divisions"]!
            .AsArray()
            .Single(d => d!["title"]!.GetValue<string>() == "Foreword")!["id"]!.GetValue<string>();
        var blocks = await Server.Blocks(manual, foreword);
        var answer = await Server.Send(
            manual,
            "w",
            Desks.Put(foreword, blocks[0].Id, blocks[0].Version, Desks.Paragraph(blocks[0].Id, "Mine now."))
        );
        Assert.Contains(
            "fixed by the pattern “Inspection code”",
            answer["refused"]![0]!["why"]!.GetValue<string>(),
            StringComparison.Ordinal
        );
        answer = await Server.Send(
            manual,
            "w",
            Desks.Put(foreword, blocks[2].Id, blocks[2].Version, Desks.Paragraph(blocks[2].Id, "This is the second edition."))
        );
        Assert.Empty(answer["refused"]!.AsArray());
    }

    [Fact]
    public async Task A_manual_kept_as_a_pattern_starts_others()
    {
        var manual = await Server.NewManual("House style");
        var name = Own("House");
        Assert.Equal(204, (await Server.Post($"/manuals/{manual}/keep-pattern", new { name, @fixed = true })).Status);
        Assert.Contains((await Server.Get("/patterns")).AsArray(), p => p!["name"]!.GetValue<string>() == name);
        var (_, made) = await Server.Post("/manuals", new { title = "Second", pattern = name });
        Assert.Equal(
            ["Title page", "Contents", "First chapter", "Index"],
            (await Server.Get($"/manuals/{made!["id"]}"))["divisions"]!.AsArray().Select(d => d!["title"]!.GetValue<string>())
        );
        Assert.Equal(400, (await Server.Post($"/manuals/{manual}/keep-pattern", new { name = "Pocket guide", @fixed = false })).Status);
    }

    [Fact]
    public async Task A_role_of_the_manuals_own_is_kept_and_goes_into_the_package()
    {
        var manual = await Server.NewManual();
        Assert.Equal(204, (await Server.Post($"/manuals/{manual}/roles", new { name = "Pilot’s remark", foundation = "body" })).Status);
        Assert.Equal(400, (await Server.Post($"/manuals/{manual}/roles", new { name = "pilot’s remark", foundation = "body" })).Status);
        using var stream = new MemoryStream(await Server.Http.GetByteArrayAsync($"/api/manuals/{manual}/package"));
        Assert.Equal("Pilot’s remark", Assert.Single(Formats.Package.PackageReader.Read(stream, []).Manual.Roles).Name);
    }

    [Fact]
    public async Task A_manual_kept_opened_and_kept_again_is_the_same_to_the_byte()
    {
        var demo = (await Server.Post("/manuals/sample")).Body!["id"]!.GetValue<string>();
        await Act(demo, "state", [await Server.Chapter(demo)], at: "Final");
        await Server.Post($"/manuals/{demo}/roles", new { name = "Pilot’s remark", foundation = "body" });
        var first = await Server.Http.GetByteArrayAsync($"/api/manuals/{demo}/package");
        // A shelf of its own has none of these ids, so they stay.
        await using var other = await ServerProcess.Start();
        var (_, opened) = await other.Post("/manuals/package", first);
        Assert.Equal(first, await other.Http.GetByteArrayAsync($"/api/manuals/{opened!["id"]}/package"));
    }

    [Fact]
    public async Task A_manual_that_carries_its_look_wears_it_on_the_shelf_and_takes_it_along()
    {
        var package = Formats.Generator.ManualGenerator.Make(6, 4);
        var text = LookFile.Write(ShippedLooks.Workshop).Replace("148 mm", "160 mm", StringComparison.Ordinal);
        using var bytes = new MemoryStream();
        Formats.Package.PackageWriter.Write(package with { Manual = package.Manual.Wearing(LookFile.Read(text, out _)!) }, bytes);
        var (status, opened) = await Server.Post("/manuals/package", bytes.ToArray());
        Assert.Equal(200, status);
        var id = opened!["id"]!.GetValue<string>();
        var proof = await Server.Get($"/manuals/{id}/proof");
        var key = proof["runs"]![0]!["inserted"]![0]!["key"]!.GetValue<string>();
        // 160 mm are 453.543 points.
        Assert.Contains(
            "viewBox=\"0 0 453.54",
            await Server.Http.GetStringAsync($"/api/manuals/{id}/pages/{key}.svg"),
            StringComparison.Ordinal
        );
        using var kept = new MemoryStream(await Server.Http.GetByteArrayAsync($"/api/manuals/{id}/package"));
        Assert.Equal(text, Formats.Package.PackageReader.Read(kept, []).Manual.LookFile);
        // Plan's acts foresee numbers in it, and the list panel knows its lists.
        await Act(id, "state", [await Server.Chapter(id)], at: "Final");
        Assert.NotEmpty((await Server.Get($"/manuals/{id}/lists"))["lists"]!.AsArray());
    }

    [Fact]
    public async Task A_look_is_put_on_taken_back_and_done_again_and_every_view_of_it_follows()
    {
        var id = (await Server.Post("/manuals/sample")).Body!["id"]!.GetValue<string>();
        async Task<string> Worn() =>
            (await Server.Get($"/manuals/{id}/look"))["looks"]!.AsArray().Single(l => l!["isWorn"]!.GetValue<bool>())![
                "name"
            ]!.GetValue<string>();
        async Task<(int Status, JsonNode? Body)> Put(string? name, string? file = null)
        {
            var answer = await Server.Post(
                $"/manuals/{id}/look",
                new
                {
                    id = Guid.NewGuid().ToString(),
                    writer = "one",
                    name,
                    file,
                }
            );
            if (answer.Body?["act"]?.GetValue<long>() is > 0 and var act)
                while ((await Server.Get($"/manuals/{id}/proof?short=1"))["act"]!.GetValue<long>() < act) { }
            return answer;
        }
        var pages = (await Server.Get($"/manuals/{id}/proof"))["runs"]!.ToJsonString();
        Assert.Equal("Workshop, A5", await Worn());
        Assert.Equal((200, "Pocket"), ((await Put("Pocket")).Status, await Worn()));
        Assert.NotEqual(pages, (await Server.Get($"/manuals/{id}/proof"))["runs"]!.ToJsonString());
        Assert.Contains("already", (await Put("Pocket")).Body!["refused"]!.GetValue<string>(), StringComparison.Ordinal);

        // From a file, which the manual carries from now on.
        var text = await Server.Http.GetStringAsync($"/api/manuals/{id}/look/file?name=Pocket");
        var own = text.Replace("\"Pocket\"", "\"Ours\"", StringComparison.Ordinal);
        var broken = await Put(null, own.Replace("105 mm", "wide", StringComparison.Ordinal));
        Assert.Equal("masters[0].width", Assert.Single(broken.Body!["faults"]!.AsArray())!["place"]!.GetValue<string>());
        Assert.Equal("Pocket", await Worn());
        await Put(null, own);
        Assert.Equal("Ours", await Worn());
        Assert.Equal(own, await Server.Http.GetStringAsync($"/api/manuals/{id}/look/file?name=Ours"));
        Assert.Equal(404, (int)(await Server.Http.GetAsync($"/api/manuals/{id}/look/file?name=Sunday")).StatusCode);

        foreach (var (again, name) in new[] { (false, "Pocket"), (false, "Workshop, A5"), (true, "Pocket"), (true, "Ours") })
        {
            await Server.Post($"/manuals/{id}/take-back?writer=one&again={again}");
            // The pages of it come a little later.
            var waited = System.Diagnostics.Stopwatch.StartNew();
            while (await Worn() != name && waited.Elapsed < TimeSpan.FromSeconds(60)) { }
            Assert.Equal(name, await Worn());
        }
        foreach (var (name, file) in new (string?, string?)[] { (null, null), ("Pocket", own), ("Sunday", null) })
            Assert.Equal(400, (await Put(name, file)).Status);
    }
}
