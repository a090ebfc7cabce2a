using System.Diagnostics;

namespace Kivren.Server.Tests;

/// <summary>A Redis of a test's own, on a socket in a folder of its own.</summary>
public sealed class RedisProcess : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("kivren-redis-").FullName;
    private Process? _process;

    public string Address => "!" + Path.Combine(_folder, "redis");

    public RedisProcess() => Run();

    public void Run()
    {
        var socket = Path.Combine(_folder, "redis");
        File.Delete(socket);
        _process = Process.Start(
            new ProcessStartInfo("redis-server", ["--port", "0", "--unixsocket", socket, "--save", "", "--appendonly", "no"])
            {
                RedirectStandardOutput = true,
            }
        )!;
        // It says little: its pipe never fills.
        while (
            _process.StandardOutput.ReadLine() is { } line
            && !line.Contains("ready to accept connections", StringComparison.OrdinalIgnoreCase)
        ) { }
        Assert.True(File.Exists(socket), "Redis did not start.");
    }

    public void Kill()
    {
        _process!.Kill();
        _process.WaitForExit();
    }

    public void Dispose()
    {
        if (_process is { HasExited: false })
            Kill();
        _process?.Dispose();
        Directory.Delete(_folder, recursive: true);
    }
}
