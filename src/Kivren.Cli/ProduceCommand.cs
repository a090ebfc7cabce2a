using System.Diagnostics;
using System.Globalization;
using System.Text.Json.Nodes;
using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using Kivren.Formats.Outputs;

namespace Kivren.Cli;

/// <summary>kivren produce: every output of an edition, or of all, into a folder.</summary>
internal static class ProduceCommand
{
    private static readonly Dictionary<string, OutputKind> Kinds = new(StringComparer.Ordinal)
    {
        ["print"] = OutputKind.PrintPdf,
        ["cover"] = OutputKind.CoverPdf,
        ["screen"] = OutputKind.ScreenPdf,
        ["epub"] = OutputKind.Epub,
        ["site"] = OutputKind.Site,
        ["docx"] = OutputKind.WordDocument,
        ["docbook"] = OutputKind.DocBook,
        ["markdown"] = OutputKind.Markdown,
    };

    public static Report Run(Arguments arguments)
    {
        var lines = new List<string>();
        var package = Inputs.Package(arguments.File(0, "a package to produce"), lines);
        var manual = package.Manual;
        var folder = arguments.Required("--out");
        OutputKind? only =
            arguments.Option("--only") is not { } asked ? null
            : Kinds.TryGetValue(asked, out var kind) ? kind
            : throw new UsageException($"There is no output “{asked}”; there are {string.Join(", ", Kinds.Keys)}.");
        var editions =
            arguments.Option("--edition") is { } name ? [Inputs.Named(manual, name)]
            : manual.Editions.Count > 0 ? manual.Editions
            : [Edition.Whole];
        var profile = arguments.Option("--profile") is { } path ? File.ReadAllBytes(path) : null;
        var moment = Moment(arguments);
        Directory.CreateDirectory(folder);
        var made = new JsonArray();
        var right = true;
        foreach (var edition in editions)
        foreach (var choice in ChoicesOf(edition, only))
        {
            var clock = Stopwatch.StartNew();
            var target = Path.Combine(folder, OutputName.Of(manual, edition, choice.Kind, moment));
            try
            {
                var (composed, report) = Written(target, file =>
                    OutputMaker.Make(manual, edition, choice, package.Picture, moment, file, profile: profile)
                );
                var wrong = composed.LooseEnds.Count(l => l.Kind.Sort().Gravity == Gravity.Wrong);
                right &= wrong == 0;
                var (size, took) = (new FileInfo(target).Length / 1024, clock.Elapsed.TotalMilliseconds);
                lines.Add(
                    $"{target}: {composed.Pages.Count} pages, {composed.LooseEnds.Count} loose ends, {wrong} of them wrong, {size} kB, "
                        + $"{took.ToString("0", CultureInfo.InvariantCulture)} ms"
                );
                lines.AddRange(
                    composed.LooseEnds.Where(l => l.Kind.Sort().Gravity == Gravity.Wrong).Select(l => "  " + CheckCommand.Line(l, composed))
                );
                lines.AddRange(report.Notes.Select(n => "  " + n));
                made.Add(
                    new JsonObject
                    {
                        ["edition"] = edition.Name,
                        ["output"] = Kinds.First(k => k.Value == choice.Kind).Key,
                        ["file"] = target,
                        ["pages"] = composed.Pages.Count,
                        ["passes"] = composed.Passes,
                        ["faces"] = new JsonArray([.. report.Faces.Select(f => (JsonNode)f)]),
                        ["coarsePictures"] = new JsonArray([.. report.Coarse.Select(c => (JsonNode)c.Name)]),
                        ["notes"] = new JsonArray([.. report.Notes.Select(n => (JsonNode)n)]),
                        ["looseEnds"] = composed.LooseEnds.Count,
                        ["wrong"] = wrong,
                        ["bytes"] = new FileInfo(target).Length,
                        ["milliseconds"] = Math.Round(clock.Elapsed.TotalMilliseconds, 1),
                    }
                );
            }
            catch (OutputException e)
            {
                right = false;
                lines.Add($"{edition.Name}: {e.Message}");
                made.Add(new JsonObject { ["edition"] = edition.Name, ["problem"] = e.Message });
            }
        }
        if (made.Count == 0)
            throw new UsageException("No edition goes out so: choose its outputs in the manual, or name one with --only.");
        return new Report(right, lines, new JsonObject { ["right"] = right, ["outputs"] = made });
    }

    /// <summary>The day that files say they were made on: --date, else the moment that builds agree on (SOURCE_DATE_EPOCH, seconds since
    /// 1970), else none, so that the same package gives the same bytes.</summary>
    private static DateTimeOffset Moment(Arguments arguments)
    {
        const string agreed = "SOURCE_DATE_EPOCH";
        if (arguments.Option("--date") is { } day)
            return DateTimeOffset.TryParseExact(
                day,
                "yyyy-MM-dd",
                CultureInfo.InvariantCulture,
                DateTimeStyles.AssumeUniversal,
                out var said
            )
                ? said
                : throw new UsageException($"“{day}” is no day: write it as 2026-03-31.");
        return Environment.GetEnvironmentVariable(agreed) is not { Length: > 0 } text ? OutputMaker.NoMoment
            : long.TryParse(text, CultureInfo.InvariantCulture, out var seconds) && seconds is >= 0 and < 253_402_300_800
                ? DateTimeOffset.FromUnixTimeSeconds(seconds)
            : throw new UsageException($"{agreed} is no number of seconds: “{text}”.");
    }

    /// <summary>What the edition goes out as; one that chose nothing is a PDF for screens.</summary>
    private static IEnumerable<OutputChoice> ChoicesOf(Edition edition, OutputKind? only) =>
        only is { } kind ? [edition.GoesOutAs.FirstOrDefault(o => o.Kind == kind) ?? new OutputChoice(kind)]
        : edition.GoesOutAs.Count > 0 ? edition.GoesOutAs
        : [new OutputChoice(OutputKind.ScreenPdf)];

    /// <summary>A file is whole or not there: it is written beside its place and takes it when it is done.</summary>
    private static T Written<T>(string target, Func<Stream, T> write)
    {
        var beside = target + ".part";
        try
        {
            T made;
            using (var file = File.Create(beside))
                made = write(file);
            File.Move(beside, target, overwrite: true);
            return made;
        }
        finally
        {
            File.Delete(beside);
        }
    }
}
