using System.Diagnostics;

namespace Kivren.Server.Tests;

/// <summary>A PostgreSQL of this test's own, which it may kill.</summary>
internal sealed class OwnDatabase : IDisposable
{
    private readonly string _folder = Directory.CreateDirectory($"/var/tmp/kivren-soak-{Guid.NewGuid():N}").FullName;

    public string Connection { get; private set; } = "";

    /// <summary>The folder of the shelf, as ./start has one.</summary>
    public string Folder => _folder;

    private string Bash(string command)
    {
        using var bash = Process.Start(
            new ProcessStartInfo("bash", ["-c", $"source '{ServerProcess.Root}/scripts/machine.sh'; {command}"])
            {
                RedirectStandardOutput = true,
            }
        )!;
        var said = bash.StandardOutput.ReadToEnd();
        bash.WaitForExit();
        Assert.Equal(0, bash.ExitCode);
        return said.Trim();
    }

    public void Run() => Connection = Bash($"pg_start '{_folder}' >/dev/null; pg_connection '{_folder}'");

    public void Kill() => Bash($"kill -9 $(head -1 '{_folder}/pg/postmaster.pid'); while pg_runs '{_folder}'; do sleep 0.05; done");

    public void Dispose()
    {
        Bash($"pg_stop '{_folder}'");
        Directory.Delete(_folder, recursive: true);
    }
}
