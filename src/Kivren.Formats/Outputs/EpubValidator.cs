using System.ComponentModel;
using System.Diagnostics;
using System.Text.Json;

namespace Kivren.Formats.Outputs;

/// <summary>The format's own validator (EPUBCheck, a package of its own) reads an EPUB; what it finds is said in the report.</summary>
internal static class EpubValidator
{
    private const string Jar = "/usr/share/java/epubcheck.jar";
    private const int MostFindings = 30;
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(3);

    private static readonly IReadOnlyList<string> NotThere =
    [
        "The validator of EPUB is not on this machine (packages epubcheck and default-jre-headless); the file is not checked.",
    ];

    /// <param name="epub">path of the file</param>
    /// <returns>what it found, in sentences; one sentence where it found nothing or is not there</returns>
    public static IReadOnlyList<string> Read(string epub, CancellationToken cancel)
    {
        if (!File.Exists(Jar))
            return NotThere;
        var said = epub + ".json";
        try
        {
            var start = new ProcessStartInfo("java", ["-jar", Jar, "--quiet", "--json", said, epub])
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            };
            using var process = Process.Start(start)!;
            using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancel);
            limit.CancelAfter(Longest);
            try
            {
                Task.WhenAll(
                        process.StandardOutput.ReadToEndAsync(limit.Token),
                        process.StandardError.ReadToEndAsync(limit.Token),
                        process.WaitForExitAsync(limit.Token)
                    )
                    .GetAwaiter()
                    .GetResult();
            }
            catch (OperationCanceledException)
            {
                process.Kill(entireProcessTree: true);
                cancel.ThrowIfCancellationRequested();
                return [$"The validator of EPUB did not come to an end within {Longest.TotalMinutes:0} minutes; the file is not checked."];
            }
            return File.Exists(said) ? Findings(File.ReadAllText(said)) : ["The validator of EPUB said nothing; the file is not checked."];
        }
        catch (Win32Exception)
        {
            return NotThere;
        }
        finally
        {
            File.Delete(said);
        }
    }

    private static List<string> Findings(string json)
    {
        using var document = JsonDocument.Parse(json);
        var all = document
            .RootElement.GetProperty("messages")
            .EnumerateArray()
            .Where(m => m.GetProperty("severity").GetString() is "FATAL" or "ERROR" or "WARNING")
            .Select(m =>
            {
                var gravity = m.GetProperty("severity").GetString()!.ToLowerInvariant();
                return $"EPUBCheck, {gravity}: {m.GetProperty("message").GetString()} ({Where(m)})";
            })
            .ToList();
        return all.Count == 0 ? ["EPUBCheck read it and found nothing."]
            : all.Count <= MostFindings ? all
            : [.. all.Take(MostFindings), $"… and {all.Count - MostFindings} more."];
    }

    private static string Where(JsonElement message)
    {
        if (
            !message.TryGetProperty("locations", out var places)
            || places.EnumerateArray().FirstOrDefault() is not { ValueKind: JsonValueKind.Object } place
        )
            return message.GetProperty("ID").GetString()!;
        var (id, path) = (message.GetProperty("ID").GetString(), place.GetProperty("path").GetString());
        return $"{id}, {path}, line {place.GetProperty("line").GetInt32()}";
    }
}
