using static Kivren.Server.Tests.Desks;

namespace Kivren.Server.Tests;

public class DurabilityTests
{
    [Fact]
    public async Task A_server_killed_in_the_middle_of_saves_loses_nothing_it_acknowledged()
    {
        await using var server = await ServerProcess.Start();
        var manual = await server.NewManual();
        var division = await server.Chapter(manual);
        var acknowledged = new List<string>();
        var enough = new TaskCompletionSource();
        async Task Type()
        {
            try
            {
                for (var n = 0; n < 10_000; n++)
                {
                    var id = Fresh();
                    await server.Send(manual, "w", Put(division, id, 0, Paragraph(id, "word " + id), ""));
                    acknowledged.Add(id);
                    if (acknowledged.Count == 40)
                        enough.TrySetResult();
                }
            }
            catch (Exception e) when (e is HttpRequestException or TaskCanceledException or IOException)
            {
                // The server died under this save: it was not acknowledged.
            }
        }
        var typing = Type();
        // Whatever ends the typing before enough was acknowledged is told here, not waited for.
        await await Task.WhenAny(enough.Task, typing);
        await enough.Task.WaitAsync(TimeSpan.FromSeconds(5));
        await server.Kill();
        await typing;
        await server.Run();
        var kept = (await server.Blocks(manual, division)).Select(b => b.Id).ToHashSet();
        Assert.All(acknowledged, id => Assert.Contains(id, kept));
    }

    [Fact]
    public async Task A_batch_that_was_not_answered_is_sent_again_after_a_restart_and_done_once()
    {
        await using var server = await ServerProcess.Start();
        var manual = await server.NewManual();
        var division = await server.Chapter(manual);
        var (batch, id) = (Fresh(), Fresh());
        await server.SendAs(manual, batch, "w", Put(division, id, 0, Paragraph(id, "typed"), ""));
        await server.Kill();
        await server.Run();
        var again = await server.SendAs(manual, batch, "w", Put(division, id, 0, Paragraph(id, "typed"), ""));
        Assert.Empty(again["refused"]!.AsArray());
        Assert.Single(await server.Blocks(manual, division), b => b.Id == id);
    }

    [Fact]
    public async Task An_output_under_way_when_its_server_dies_is_made_after_it_is_back()
    {
        await using var server = await ServerProcess.Start();
        var demo = (await server.Post("/manuals/sample")).Body!["id"]!.GetValue<string>();
        var asked = new List<string>();
        for (var n = 0; n < 4; n++)
            asked.Add((await server.Post($"/manuals/{demo}/outputs")).Body![0]!["id"]!.GetValue<string>());
        await server.Kill();
        await server.Run();
        // One stands as taken by a process that is gone until its heartbeat has been silent long enough; it can be cancelled at once too.
        foreach (var output in asked)
            Assert.Equal("Done", (await server.Ended(demo, output))["state"]!.GetValue<string>());
    }

    [Fact]
    public async Task An_output_under_way_when_the_database_dies_is_made_after_it_is_back()
    {
        using var database = new OwnDatabase();
        database.Run();
        await using var server = await ServerProcess.On(database.Connection);
        var demo = (await server.Post("/manuals/sample")).Body!["id"]!.GetValue<string>();
        var asked = new List<string>();
        for (var n = 0; n < 3; n++)
            asked.Add((await server.Post($"/manuals/{demo}/outputs")).Body![0]!["id"]!.GetValue<string>());
        await Until(
            () => server.Get($"/manuals/{demo}/outputs/{asked[0]}"),
            o => o["state"]!.GetValue<string>() != "Waiting",
            "The beginning of an output"
        );
        database.Kill();
        database.Run();
        await Until(async () => (int)(await server.Http.GetAsync("/api/ready")).StatusCode, status => status == 200, "The database");
        foreach (var output in asked)
            Assert.Equal("Done", (await server.Ended(demo, output))["state"]!.GetValue<string>());
    }

    [Fact]
    public async Task Documents_on_their_way_in_survive_a_restart_with_what_was_chosen_and_are_taken_once()
    {
        await using var server = await ServerProcess.Start();
        using var form = new MultipartFormDataContent
        {
            { new ByteArrayContent("# Oil\n\nThe case holds oil.\n\n## Draining\n\nOpen the tap.\n"u8.ToArray()), "files", "oil.md" },
        };
        var started = System.Text.Json.Nodes.JsonNode.Parse(
            await (await server.Http.PostAsync("/api/bring-in", form)).Content.ReadAsStringAsync()
        )!["id"]!.GetValue<string>();
        Task<System.Text.Json.Nodes.JsonNode> Ready() =>
            Until(() => server.Get($"/bring-in/{started}"), v => v["state"]!.GetValue<string>() != "Reading", "The end of reading");
        var view = await Ready();
        var line = view["lines"]!.AsArray().First(l => l!["role"]!.GetValue<string>() == "body")!["key"]!.GetValue<string>();
        await server.Http.PutAsync(
            $"/api/bring-in/{started}/choices",
            System.Net.Http.Json.JsonContent.Create(new { roles = new Dictionary<string, string> { [line] = "lead" } })
        );
        await server.Kill();
        await server.Run();
        view = await Ready();
        Assert.Equal("lead", view["lines"]!.AsArray().Single(l => l!["key"]!.GetValue<string>() == line)!["role"]!.GetValue<string>());
        var first = await server.Post($"/bring-in/{started}/take", new { writer = "w" });
        await server.Kill();
        await server.Run();
        var second = await server.Post($"/bring-in/{started}/take", new { writer = "w" });
        Assert.Equal(first.Body!["manual"]!.GetValue<string>(), second.Body!["manual"]!.GetValue<string>());
        Assert.Single((await server.Get("/manuals")).AsArray());
        Assert.Single((await server.Get($"/manuals/{first.Body["manual"]!.GetValue<string>()}/sources")).AsArray());
    }
}
