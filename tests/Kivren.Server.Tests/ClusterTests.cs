using static Kivren.Server.Tests.Desks;

namespace Kivren.Server.Tests;

/// <summary>Several processes on the same data.</summary>
public class ClusterTests
{
    private sealed record Two(RedisProcess Redis, ServerProcess One, ServerProcess Other) : IAsyncDisposable
    {
        public static async Task<Two> Start()
        {
            var redis = new RedisProcess();
            var one = await ServerProcess.Start(redis.Address);
            return new Two(redis, one, await one.Join());
        }

        public async ValueTask DisposeAsync()
        {
            await Other.DisposeAsync();
            await One.DisposeAsync();
            Redis.Dispose();
        }
    }

    /// <summary>Writes paragraphs until told to stop or its process is dead; the ids that were acknowledged.</summary>
    private static async Task<List<string>> Type(ServerProcess server, string manual, string division, string writer, int count)
    {
        var acknowledged = new List<string>();
        for (var n = 0; n < count; n++)
        {
            var id = Fresh();
            try
            {
                await server.Send(manual, writer, Put(division, id, 0, Paragraph(id, $"{writer} {n}"), ""));
                acknowledged.Add(id);
            }
            catch (Exception e) when (e is HttpRequestException or TaskCanceledException or IOException)
            {
                break;
            }
        }
        return acknowledged;
    }

    [Fact]
    public async Task A_writer_on_each_of_two_processes_and_one_is_killed_the_other_goes_on_with_all()
    {
        await using var two = await Two.Start();
        var manuals = new List<(string Manual, string Division, List<string> Kept)>();
        // Which process opens a manual is the cluster's choice: of several, some are held by the one that dies.
        for (var n = 0; n < 6; n++)
        {
            var manual = await two.One.NewManual($"Manual {n}");
            manuals.Add((manual, await two.One.Chapter(manual), []));
        }
        foreach (var (manual, division, kept) in manuals)
        {
            var both = await Task.WhenAll(Type(two.One, manual, division, "first", 10), Type(two.Other, manual, division, "second", 10));
            kept.AddRange(both.SelectMany(ids => ids));
            Assert.Equal(20, kept.Count);
            Assert.Equal(
                (await two.One.Blocks(manual, division)).Select(b => b.Id).ToList(),
                (await two.Other.Blocks(manual, division)).Select(b => b.Id).ToList()
            );
        }

        var dying = manuals.Select(m => Type(two.One, m.Manual, m.Division, "third", 10_000)).ToList();
        await Until(
            () => two.Other.Blocks(manuals[0].Manual, manuals[0].Division),
            blocks => blocks.Count > 25,
            "The third writer's words in the other process"
        );
        await two.One.Kill();
        for (var n = 0; n < manuals.Count; n++)
            manuals[n].Kept.AddRange(await dying[n]);

        foreach (var (manual, division, kept) in manuals)
        {
            // While a dead process is not yet known to be dead, an answer says so at once or comes late; it is asked again.
            var more = await Until(
                () => TrySend(two.Other, manual, division),
                id => id is not null,
                $"A save in {manual} after the other process died"
            );
            var there = (await two.Other.Blocks(manual, division)).Select(b => b.Id).ToList();
            Assert.Equal(there.Count, there.Distinct().Count());
            Assert.All(kept.Append(more!), id => Assert.Contains(id, there));
        }
    }

    private static async Task<string?> TrySend(ServerProcess server, string manual, string division)
    {
        var id = Fresh();
        var (status, _) = await server.Post(
            $"/manuals/{manual}/batches",
            new
            {
                id = Fresh(),
                writer = "second",
                label = "Typing",
                blocks = new[] { Put(division, id, 0, Paragraph(id, "after"), "") },
                divisions = (object?)null,
                joined = (object?)null,
            }
        );
        return status == 200 ? id : null;
    }

    [Fact]
    public async Task Redis_gone_nothing_is_lost_and_the_process_says_so_until_it_is_back()
    {
        await using var two = await Two.Start();
        var manual = await two.One.NewManual();
        var division = await two.One.Chapter(manual);
        var kept = await Type(two.One, manual, division, "first", 5);
        two.Redis.Kill();
        kept.AddRange(await Type(two.One, manual, division, "first", 5));
        kept.AddRange(await Type(two.Other, manual, division, "second", 5));
        Assert.Equal(15, kept.Count);
        foreach (var server in new[] { two.One, two.Other })
        {
            var ready = await server.Http.GetAsync("/api/ready");
            Assert.Equal(503, (int)ready.StatusCode);
            Assert.Contains("Redis", await ready.Content.ReadAsStringAsync());
        }
        two.Redis.Run();
        foreach (var server in new[] { two.One, two.Other })
            await Until(
                async () => (int)(await server.Http.GetAsync("/api/ready")).StatusCode,
                status => status == 200,
                "A process that reaches Redis again"
            );
        foreach (var server in new[] { two.One, two.Other })
        {
            var there = (await server.Blocks(manual, division)).Select(b => b.Id).ToList();
            Assert.All(kept, id => Assert.Contains(id, there));
            Assert.Equal(there.Count, there.Distinct().Count());
        }
    }
}
