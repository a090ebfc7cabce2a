using System.Text.Json.Nodes;
using Kivren.Core.Composition;
using Kivren.Core.Looks;

namespace Kivren.Cli;

/// <summary>kivren explain: why a page ends where it ends.</summary>
internal static class ExplainCommand
{
    public static Report Run(Arguments arguments)
    {
        var lines = new List<string>();
        var package = Inputs.Package(arguments.File(0, "a package"), lines);
        var composed = Composer.Compose(package.Manual, Inputs.Edition(package.Manual, arguments.Option("--edition")), ShippedLooks.Named(package.Manual.Look));
        var folio = arguments.Required("--page");
        var page = composed.Pages.FirstOrDefault(p => p.Folio == folio) ?? throw new UsageException($"There is no page {folio}.");
        lines.Add($"Page {folio}: {page.Reason}");
        return new Report(true, lines, new JsonObject { ["folio"] = folio, ["reason"] = page.Reason });
    }
}
