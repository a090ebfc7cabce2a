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
                    if (acknowledged.Count == 40) enough.TrySetResult();
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
}
