using System.Text.Json.Nodes;
using Kivren.Audit;
using Kivren.Core.Looks;

namespace Kivren.Cli;

/// <summary>kivren audit: a finished file judged from outside.</summary>
internal static class AuditCommand
{
    public static Report Run(Arguments arguments)
    {
        var pdf = arguments.File(0, "the finished file");
        if (!File.Exists(pdf))
            throw new UsageException($"There is no file {pdf}.");
        var lines = new List<string>();
        var package = Inputs.Package(arguments.File(1, "the package it was made from"), lines);
        AuditReport report;
        var edition = Inputs.Edition(package.Manual, arguments);
        try
        {
            var look = Inputs.Look(package.Manual, edition, arguments.Option("--look"));
            if (Path.GetExtension(pdf) is ".epub" or ".zip" or ".docx")
            {
                using var file = File.OpenRead(pdf);
                var named = Inputs.Named(package.Manual, arguments.Option("--edition"));
                report =
                    Path.GetExtension(pdf) == ".docx"
                        ? WordAudit.Audit(file, package.Manual, named, LookFile.Write(look))
                        : FlowingAudit.Audit(file, package.Manual, named, LookFile.Write(look));
            }
            else
                report = Auditor.Audit(pdf, package.Manual, edition, LookFile.Write(look.For(edition.Medium)));
        }
        catch (Exception e)
            when (e
                    is UglyToad.PdfPig.Core.PdfDocumentFormatException
                        or InvalidOperationException
                        or FormatException
                        or InvalidDataException
            )
        {
            throw new UsageException($"{pdf} cannot be read: {e.Message}");
        }
        var json = new JsonArray();
        foreach (var (check, tried, failures) in report.Checks)
        {
            lines.Add($"{check}: {tried} tried, {failures.Count} failed");
            lines.AddRange(failures.Take(12).Select(f => "  " + f));
            if (failures.Count > 12)
                lines.Add($"  and {failures.Count - 12} more");
            json.Add(
                new JsonObject
                {
                    ["check"] = check,
                    ["tried"] = tried,
                    ["failed"] = failures.Count,
                    ["where"] = new JsonArray([.. failures.Select(f => (JsonNode)f)]),
                }
            );
        }
        return new Report(report.Right, lines, new JsonObject { ["right"] = report.Right, ["checks"] = json });
    }
}
