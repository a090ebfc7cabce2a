using System.Collections.Concurrent;
using System.Diagnostics;
using System.Text.Json.Nodes;
using static Kivren.Server.Tests.Desks;

namespace Kivren.Server.Tests;

/// <summary>Server, database or both are killed with signal 9 in the middle of saves, moves, imports and production, round after
/// round: KIVREN_SOAK_ROUNDS says how many. Acknowledged words are there once, what was not acknowledged is done when it is sent
/// again and done once, and nothing stays stuck.</summary>
public class SoakTests
{
    private static readonly int Rounds = int.Parse(
        Environment.GetEnvironmentVariable("KIVREN_SOAK_ROUNDS") ?? "5",
        System.Globalization.CultureInfo.InvariantCulture
    );

    /// <summary>Something a writer asked for: sent again, with the same name, until it is answered.</summary>
    private sealed record Asked(string Path, object Body, Action<JsonNode> Done);

    private sealed class Writer(string name, string manual, string division)
    {
        private int _n;
        private Asked? _open;

        /// <summary>What was acknowledged: a block's id to its text, and its version.</summary>
        public Dictionary<string, (string Text, int Version)> Words { get; } = [];
        public List<string> Titles { get; } = [];
        public List<string> Taken { get; } = [];
        public List<string> Outputs { get; } = [];

        /// <summary>What was brought in and then put before or after the chapter that all write in: its title, and whether
        /// before.</summary>
        public Dictionary<string, bool> Moved { get; } = [];

        /// <summary>Asks until something ends it; what is then unanswered stays open.</summary>
        public async Task Work(ServerProcess server, CancellationToken end)
        {
            while (!end.IsCancellationRequested)
            {
                try
                {
                    _open ??= await Next(server, end);
                    if (_open is not null)
                        await Send(server, end);
                }
                catch (Exception e) when (e is HttpRequestException or OperationCanceledException or IOException)
                {
                    return;
                }
            }
        }

        private async Task Send(ServerProcess server, CancellationToken end)
        {
            using var answer = await server.Http.PostAsync(
                "/api" + _open!.Path,
                System.Net.Http.Json.JsonContent.Create(_open.Body, options: System.Text.Json.JsonSerializerOptions.Web),
                end
            );
            var text = await answer.Content.ReadAsStringAsync(end);
            // The database is away: the same is asked again.
            if ((int)answer.StatusCode >= 500)
                return;
            Assert.True(answer.IsSuccessStatusCode, $"{name}: {_open.Path} answers {(int)answer.StatusCode} {text}");
            _open.Done(JsonNode.Parse(text)!);
            _open = null;
        }

        /// <summary>What was open when all died is answered now.</summary>
        public async Task Settle(ServerProcess server)
        {
            var clock = Stopwatch.StartNew();
            while (_open is not null)
            {
                Assert.True(clock.Elapsed < TimeSpan.FromSeconds(60), $"{name}: {_open.Path} is stuck\n{server.Log}");
                await Send(server, CancellationToken.None);
            }
        }

        private async Task<Asked?> Next(ServerProcess server, CancellationToken end)
        {
            var n = ++_n;
            if (n % 13 == 0)
                return new($"/manuals/{manual}/outputs", new { }, answer => Outputs.Add(answer[0]!["id"]!.GetValue<string>()));
            if (n % 17 == 0 && Taken.Count > 0)
                return await Move(server, Taken[n % Taken.Count], end);
            if (n % 11 == 0)
                return await BringIn(server, $"{name} brings {n}", end);
            if (n % 7 == 0)
            {
                var title = $"{name} {n}";
                return new(
                    $"/manuals/{manual}/plan/acts",
                    new
                    {
                        id = Fresh(),
                        writer = name,
                        @do = "addHead",
                        rows = new[] { Fresh() },
                        by = division,
                        text = title,
                    },
                    answer =>
                    {
                        Assert.Null(answer["refused"]?.GetValue<string>());
                        Titles.Add(title);
                    }
                );
            }
            var old = n % 3 == 0 && Words.Count > 0 ? Words.Keys.ElementAt(n % Words.Count) : null;
            var id = old ?? Fresh();
            var text = old is null ? $"{name} {n}" : Words[old].Text + $" and {n}";
            var change = old is null
                ? Put(division, id, 0, Paragraph(id, text), "")
                : Put(division, id, Words[old].Version, Paragraph(id, text), null);
            return new(
                $"/manuals/{manual}/batches",
                new
                {
                    id = Fresh(),
                    writer = name,
                    label = "Typing",
                    blocks = new[] { change },
                    divisions = (object?)null,
                    joined = (object?)null,
                },
                answer =>
                {
                    Assert.Empty(answer["refused"]!.AsArray());
                    Words[id] = (
                        text,
                        answer["accepted"]!.AsArray().Single(a => a!["id"]!.GetValue<string>() == id)!["version"]!.GetValue<int>()
                    );
                }
            );
        }

        private async Task<Asked?> BringIn(ServerProcess server, string title, CancellationToken end)
        {
            using var form = new MultipartFormDataContent
            {
                { new ByteArrayContent(System.Text.Encoding.UTF8.GetBytes($"# {title}\n\nThe case holds oil.\n")), "files", "oil.md" },
                { new StringContent(manual), "manual" },
            };
            using var answer = await server.Http.PostAsync($"/api/bring-in?manual={manual}", form, end);
            if (!answer.IsSuccessStatusCode)
                return null;
            var started = JsonNode.Parse(await answer.Content.ReadAsStringAsync(end))!["id"]!.GetValue<string>();
            // The files are read while what comes next is done; a restart in between loses none.
            return new($"/bring-in/{started}/take", new { writer = name }, _ => Taken.Add(title));
        }

        private async Task<Asked?> Move(ServerProcess server, string title, CancellationToken end)
        {
            var divisions = JsonNode.Parse(await server.Http.GetStringAsync($"/api/manuals/{manual}", end))!["divisions"]!.AsArray();
            var row = divisions.Single(d => d!["title"]!.GetValue<string>() == title)!["id"]!.GetValue<string>();
            var before = !Moved.GetValueOrDefault(title);
            return new(
                $"/manuals/{manual}/plan/acts",
                new
                {
                    id = Fresh(),
                    writer = name,
                    @do = "move",
                    rows = new[] { row },
                    by = division,
                    at = before ? "before" : "after",
                },
                answer =>
                {
                    Assert.Null(answer["refused"]?.GetValue<string>());
                    Moved[title] = before;
                }
            );
        }
    }

    [Fact]
    public async Task Killed_again_and_again_nothing_acknowledged_is_lost_or_doubled_and_nothing_is_stuck()
    {
        using var database = new OwnDatabase();
        database.Run();
        await using var server = await ServerProcess.On(database.Connection);
        var manual = await server.NewManual();
        var division = await server.Chapter(manual);
        var writers = Enumerable.Range(0, 4).Select(n => new Writer("writer" + n, manual, division)).ToArray();
        var random = new Random(4711);
        int serverKilled = 0,
            databaseKilled = 0;
        for (var round = 0; round < Rounds; round++)
        {
            using var end = new CancellationTokenSource();
            var work = writers.Select(w => w.Work(server, end.Token)).ToArray();
            await Task.Delay(random.Next(50, 700));
            var what = random.Next(3);
            if (what != 0)
            {
                database.Kill();
                databaseKilled++;
            }
            if (what != 1)
            {
                await server.Kill();
                serverKilled++;
            }
            await end.CancelAsync();
            await Task.WhenAll(work);
            if (what != 0)
                database.Run();
            if (what != 1)
                await server.Run();
            foreach (var writer in writers)
                await writer.Settle(server);

            var there = await server.Blocks(manual, division);
            var texts = there.ToDictionary(b => b.Id, b => b.Text);
            foreach (var writer in writers)
            {
                foreach (var (id, (text, _)) in writer.Words)
                    Assert.Equal(text, texts.GetValueOrDefault(id, "(lost)"));
                foreach (var title in writer.Titles)
                    Assert.Single(there, b => b.Text == title);
            }
            Assert.Equal(there.Count, texts.Count);
            var chapters = (await server.Get($"/manuals/{manual}"))["divisions"]!.AsArray();
            var titles = chapters.Select(d => d!["title"]!.GetValue<string>()).ToList();
            var own = chapters.Select(d => d!["id"]!.GetValue<string>()).ToList().IndexOf(division);
            foreach (var writer in writers)
            {
                foreach (var taken in writer.Taken)
                    Assert.Single(titles, taken);
                foreach (var (title, before) in writer.Moved)
                    Assert.Equal(before, titles.IndexOf(title) < own);
            }
            if (round % 20 == 19)
                Report(round + 1);
        }
        // One that was killed in the middle three times is given up, and says so.
        foreach (var output in writers.SelectMany(w => w.Outputs))
        {
            var ended = await server.Ended(manual, output);
            Assert.True(
                ended["state"]!.GetValue<string>() == "Done"
                    || ended["problem"]!.GetValue<string>().Contains("three times", StringComparison.Ordinal),
                ended.ToJsonString()
            );
        }
        var last = Fresh();
        var act = (await server.Send(manual, "last", Put(division, last, 0, Paragraph(last, "last"), "")))["act"]!.GetValue<long>();
        await server.Settled(manual, act);
        Report(Rounds);

        void Report(int rounds) =>
            Console.Error.WriteLine(
                $"{rounds} rounds: server killed {serverKilled}, database {databaseKilled} times; acknowledged: "
                    + $"{writers.Sum(w => w.Words.Count)} blocks, {writers.Sum(w => w.Titles.Count)} heads, "
                    + $"{writers.Sum(w => w.Taken.Count)} imports, {writers.Sum(w => w.Moved.Count)} of them moved, "
                    + $"{writers.Sum(w => w.Outputs.Count)} outputs."
            );
    }
}
