using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using static Kivren.Server.Tests.Desks;

namespace Kivren.Server.Tests;

/// <summary>What whoever runs Kivren does: backup and restore while it serves, and starting it twice.</summary>
public class OperatingTests
{
    private static (int Code, string Said) Command(string program, params string[] arguments)
    {
        using var process = Process.Start(
            new ProcessStartInfo(Path.Combine(ServerProcess.Root, program), arguments)
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
                RedirectStandardInput = true,
            }
        )!;
        process.StandardInput.Close();
        var errors = process.StandardError.ReadToEndAsync();
        var said = process.StandardOutput.ReadToEnd() + errors.GetAwaiter().GetResult();
        process.WaitForExit();
        return (process.ExitCode, said);
    }

    [Fact]
    public async Task A_backup_made_while_it_serves_brings_back_all_that_the_shelf_knew_and_a_damaged_one_changes_nothing()
    {
        using var database = new OwnDatabase();
        database.Run();
        await using var server = await ServerProcess.On(database.Connection);
        var demo = (await server.Post("/manuals/sample")).Body!["id"]!.GetValue<string>();
        var manual = await server.NewManual();
        var division = await server.Chapter(manual);
        var block = Fresh();
        await server.Send(manual, "w", Put(division, block, 0, Paragraph(block, "before the backup"), ""));
        var printed = await server.Produced(manual);
        var output = (await server.Get($"/manuals/{manual}/outputs"))[0]!["id"]!.GetValue<string>();
        var package = await server.Http.GetByteArrayAsync($"/api/manuals/{demo}/package");

        var file = Path.Combine(database.Folder, "shelf.backup");
        var (code, said) = Command("kivren", "backup", file, "--data", database.Folder);
        Assert.True(code == 0, said);
        await server.Send(manual, "w", Put(division, block, 1, Paragraph(block, "after it"), null));
        await server.Http.DeleteAsync($"/api/manuals/{demo}");

        // What is no backup, or is cut short, leaves the shelf as it is.
        var damaged = Path.Combine(database.Folder, "damaged.backup");
        var bytes = await File.ReadAllBytesAsync(file);
        foreach (var length in new[] { 0, 100, bytes.Length / 2 })
        {
            await File.WriteAllBytesAsync(damaged, bytes[..length]);
            Assert.Equal(1, Command("kivren", "restore", damaged, "--data", database.Folder).Code);
            Assert.Equal("after it", (await server.Blocks(manual, division)).Single(b => b.Id == block).Text);
        }

        (code, said) = Command("kivren", "restore", file, "--data", database.Folder);
        Assert.True(code == 0, said);
        // ./start starts its server anew after a restore; this one is started here.
        await server.Kill();
        await server.Run();
        Assert.Equal("before the backup", (await server.Blocks(manual, division)).Single(b => b.Id == block).Text);
        Assert.Equal(printed, await server.Http.GetByteArrayAsync($"/api/manuals/{manual}/outputs/{output}/file"));
        Assert.Equal(package, await server.Http.GetByteArrayAsync($"/api/manuals/{demo}/package"));
        // The journal too: what was done before the backup can be taken back.
        await server.Post($"/manuals/{manual}/take-back?writer=w&again=false", new { });
        Assert.DoesNotContain(await server.Blocks(manual, division), b => b.Id == block);
    }

    [Fact]
    public void Started_twice_on_the_same_data_or_port_it_says_so_and_leaves_the_first_alone()
    {
        var folder = Directory.CreateDirectory($"/var/tmp/kivren-start-{Guid.NewGuid():N}").FullName;
        try
        {
            using var listener = new TcpListener(IPAddress.Loopback, 0);
            listener.Start();
            var port = ((IPEndPoint)listener.LocalEndpoint).Port.ToString(System.Globalization.CultureInfo.InvariantCulture);
            var (code, said) = Command("start", "--data", folder, "--port", port);
            Assert.Equal(1, code);
            Assert.Contains($"Port {port} is in use", said, StringComparison.Ordinal);

            File.WriteAllText(Path.Combine(folder, "address"), "http://127.0.0.1:5999\n");
            using var first = Process.Start(
                new ProcessStartInfo("bash", ["-c", $"exec 9>>'{folder}/lock'; flock -n 9; echo held; read"])
                {
                    RedirectStandardInput = true,
                    RedirectStandardOutput = true,
                }
            )!;
            Assert.Equal("held", first.StandardOutput.ReadLine());
            (code, said) = Command("start", "--data", folder, "--port", port);
            Assert.Equal(1, code);
            Assert.Contains("already runs on this data, at http://127.0.0.1:5999", said, StringComparison.Ordinal);
            Assert.False(first.HasExited);
            first.StandardInput.Close();
            first.WaitForExit();
            Assert.Equal(["address", "lock"], Directory.GetFileSystemEntries(folder).Select(f => Path.GetFileName(f)!).Order());

            Assert.Equal(2, Command("start", "--port", "many").Code);
            Assert.Equal(2, Command("start", "--loud").Code);
            Assert.Equal(1, Command("start", "--join", "--data", folder).Code);
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }
}
