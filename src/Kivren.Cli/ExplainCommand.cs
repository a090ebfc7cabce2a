using System.Text.Json.Nodes;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Looks;
using Kivren.Core.Mathematics;

namespace Kivren.Cli;

/// <summary>kivren explain: why a page ends where it ends, why the index names a page, why a block looks as it does.</summary>
internal static class ExplainCommand
{
    public static Report Run(Arguments arguments)
    {
        var lines = new List<string>();
        var package = Inputs.Package(arguments.File(0, "a package"), lines);
        var edition = Inputs.Edition(package.Manual, arguments);
        var look = Inputs.Look(package.Manual, edition, arguments.Option("--look"));
        var composed = Composer.Compose(package.Manual, edition, look);
        if (arguments.Option("--locator") is { } heading)
            return Locators(composed, heading, lines);
        if (arguments.Option("--block") is { } block)
            return BlockOf(composed, new Id(block), lines);
        var folio = arguments.Required("--page");
        var page = composed.Pages.FirstOrDefault(p => p.Folio == folio) ?? throw new UsageException($"There is no page {folio}.");
        lines.Add($"Page {folio}: {page.Reason}");
        return new Report(true, lines, new JsonObject { ["folio"] = folio, ["reason"] = page.Reason });
    }

    private static Report Locators(ComposedManual composed, string asked, List<string> lines)
    {
        var path = asked.Split('›').Select(p => p.Trim()).ToArray();
        var heading = (IReadOnlyList<IndexHeading>)composed.Index.Headings;
        IndexHeading? found = null;
        foreach (var part in path)
        {
            found = heading.FirstOrDefault(h => h.Text == part) ?? throw new UsageException($"The index has no heading “{part}”.");
            heading = found.Under;
        }
        var list = new JsonArray();
        foreach (var place in found!.Places)
        {
            var entry = composed.Index.ByEntry[place.Start];
            var from = FolioOf(composed, place.Division, place.Start);
            var to = place.IsRange ? FolioOf(composed, place.EndDivision, IndexTree.EndOf(place.Start)) : from;
            var words = Around(composed, entry);
            lines.Add($"{(from == to ? $"Page {from}" : $"Pages {from}–{to}")}: {words}");
            list.Add(
                new JsonObject
                {
                    ["from"] = from,
                    ["to"] = to,
                    ["block"] = entry.Block.Value,
                    ["words"] = words,
                }
            );
        }
        if (list.Count == 0)
            lines.Add("No page of its own.");
        return new Report(true, lines, new JsonObject { ["heading"] = asked, ["locators"] = list });
    }

    private static string FolioOf(ComposedManual composed, Id division, Id atom) =>
        composed.FindIn(division, atom) is { } at ? composed.Pages[at.Sheet].Folio : "?";

    /// <summary>The words that carry an entry, marked where its heading stands in them.</summary>
    private static string Around(ComposedManual composed, GatheredEntry entry)
    {
        var words = EntryWords.Of(composed, entry);
        return words.Before + "◆" + words.Match + words.After;
    }

    /// <summary>The equation for a web page; what is wrong with it where it cannot be read.</summary>
    private static string MathMlOf(Equation equation, List<string> lines)
    {
        string mathMl;
        try
        {
            mathMl = MathMl
                .Of(equation.Source, equation.Alternative, display: true)
                .ToString(System.Xml.Linq.SaveOptions.DisableFormatting);
        }
        catch (NotationException e)
        {
            mathMl = "";
            lines.Add($"no equation: {e.Message}");
        }
        if (mathMl.Length > 0)
            lines.Add("as MathML: " + mathMl);
        return mathMl;
    }

    private static Report BlockOf(ComposedManual composed, Id id, List<string> lines)
    {
        foreach (var division in composed.Text.Divisions)
        foreach (var block in division.Blocks.SelectMany(b => b.WithInner()))
        {
            if (block.Id != id)
                continue;
            var role = block is Paragraph p ? p.Role : block.GetType().Name.ToLowerInvariant();
            var rule = composed.Look.RuleFor(role, new Standing(division.Kind)).ToString();
            var folio = composed.Find(id) is { } at ? composed.Pages[at.Sheet].Folio : FolioOf(composed, division.Id, id);
            lines.Add($"{role}, page {folio}, dressed as: {rule}");
            var report = new JsonObject
            {
                ["role"] = role,
                ["folio"] = folio,
                ["rule"] = rule,
            };
            if (block is Equation equation)
                report["mathml"] = MathMlOf(equation, lines);
            return new Report(true, lines, report);
        }
        throw new UsageException($"There is no block {id} in this edition.");
    }
}
