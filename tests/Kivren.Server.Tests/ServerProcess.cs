using System.Diagnostics;
using System.Net.Http.Json;
using System.Text.Json;
using System.Text.Json.Nodes;
using Npgsql;

namespace Kivren.Server.Tests;

/// <summary>The real server as a process of its own, on a database of its own in the PostgreSQL that ./test started.</summary>
public sealed class ServerProcess : IAsyncDisposable
{
    private readonly string _database;
    private readonly Queue<string> _log = new();
    private Process? _process;

    /// <summary>What the server said last, to be shown with a failure.</summary>
    public string Log
    {
        get
        {
            lock (_log)
                return string.Join('\n', _log.TakeLast(60));
        }
    }

    public HttpClient Http { get; private set; } = new();
    public string Connection { get; }
    public static string Root { get; } = FindRoot();

    private ServerProcess(string connection, string database)
    {
        Connection = connection;
        _database = database;
    }

    private static string FindRoot()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder.FullName, "Kivren.slnx")))
            folder = folder.Parent!;
        return folder.FullName;
    }

    /// <summary>The exchange through which this process knows of others on the same data, or null.</summary>
    private string? _redis;

    /// <summary>Another process on the same data.</summary>
    public async Task<ServerProcess> Join()
    {
        var other = new ServerProcess(Connection, "") { _redis = _redis };
        await other.Run();
        return other;
    }

    /// <summary>On a database that belongs to the test.</summary>
    public static async Task<ServerProcess> On(string connection)
    {
        var server = new ServerProcess(connection, "");
        await server.Run();
        return server;
    }

    public static async Task<ServerProcess> Start(string? redis = null)
    {
        var admin = Environment.GetEnvironmentVariable("KIVREN_TEST_DATABASE")
            ?? throw new InvalidOperationException("KIVREN_TEST_DATABASE is not set; ./test sets it.");
        var database = "t" + Guid.NewGuid().ToString("N");
        await using (var connection = new NpgsqlConnection(admin))
        {
            await connection.OpenAsync();
            await using var create = new NpgsqlCommand($"CREATE DATABASE {database}", connection);
            await create.ExecuteNonQueryAsync();
        }
        var server = new ServerProcess(
            new NpgsqlConnectionStringBuilder(admin) { Database = database, MaxPoolSize = 30 }.ToString(),
            database
        )
        {
            _redis = redis,
        };
        await server.Run();
        return server;
    }

    public async Task Run()
    {
        var start = new ProcessStartInfo("dotnet", [Path.Combine(Root, "src/Kivren.Server/bin/Release/net10.0/Kivren.Server.dll")])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["KIVREN_DATABASE"] = Connection;
        start.Environment["KIVREN_ROOT"] = Root;
        if (_redis is not null)
            start.Environment["KIVREN_REDIS"] = _redis;
        start.Environment["ASPNETCORE_URLS"] = "http://127.0.0.1:0";
        _process = Process.Start(start)!;
        _process.ErrorDataReceived += (_, line) =>
        {
            lock (_log)
                if (line.Data is { } said)
                    _log.Enqueue(said);
        };
        _process.BeginErrorReadLine();
        var address = new TaskCompletionSource<string>(TaskCreationOptions.RunContinuationsAsynchronously);
        var seen = new List<string>();
        _process.OutputDataReceived += (_, line) =>
        {
            if (line.Data is null)
                address.TrySetException(new InvalidOperationException("The server did not start:\n" + string.Join('\n', seen)));
            else if (line.Data.StartsWith("Kivren serves at ", StringComparison.Ordinal))
                address.TrySetResult(line.Data["Kivren serves at ".Length..]);
            else
            {
                seen.Add(line.Data);
                lock (_log)
                    _log.Enqueue(line.Data);
            }
        };
        _process.BeginOutputReadLine();
        Http = new HttpClient { BaseAddress = new Uri(await address.Task), Timeout = TimeSpan.FromSeconds(60) };
        // Every change names the token of the site, as the application's own pages do.
        Http.DefaultRequestHeaders.Add("X-Kivren-Site", (await Get("/site"))["token"]!.GetValue<string>());
    }

    /// <summary>Kill -9: no chance to finish anything.</summary>
    public async Task Kill()
    {
        _process!.Kill(entireProcessTree: true);
        await _process.WaitForExitAsync();
    }

    public async Task<JsonNode> Get(string path) => JsonNode.Parse(await Http.GetStringAsync("/api" + path))!;

    public async Task<(int Status, JsonNode? Body)> Post(string path, object? body = null)
    {
        using var response = body is byte[] bytes
            ? await Http.PostAsync("/api" + path, new ByteArrayContent(bytes))
            : await Http.PostAsJsonAsync("/api" + path, body ?? new { }, JsonSerializerOptions.Web);
        var text = await response.Content.ReadAsStringAsync();
        return ((int)response.StatusCode, text.Length > 0 ? JsonNode.Parse(text) : null);
    }

    public async ValueTask DisposeAsync()
    {
        if (_process is { HasExited: false })
            await Kill();
        if (_database.Length == 0)
            return;
        NpgsqlConnection.ClearAllPools();
        await using var connection = new NpgsqlConnection(Environment.GetEnvironmentVariable("KIVREN_TEST_DATABASE"));
        await connection.OpenAsync();
        await using var drop = new NpgsqlCommand($"DROP DATABASE IF EXISTS {_database} WITH (FORCE)", connection);
        await drop.ExecuteNonQueryAsync();
    }
}

/// <summary>One server for all tests of a class that do not stop it.</summary>
public sealed class SharedServer : IAsyncLifetime
{
    public ServerProcess Server { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Server = await ServerProcess.Start();

    public ValueTask DisposeAsync() => Server.DisposeAsync();
}
