using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;
using Kivren.Formats.Package;

namespace Kivren.Formats.Outputs;

/// <summary>A loose end of an output, with where it is mended.</summary>
/// <param name="Gravity">wrong, unsightly, doubtful</param>
public sealed record OutputWarning(string Gravity, string Name, string Message, string Words, string Division, string Block, string Folio);

/// <summary>A picture that is printed with fewer pixels than print wants.</summary>
public sealed record CoarsePicture(string Name, int PerInch);

/// <summary>A division as it was produced, by which the next output knows what changed.</summary>
/// <param name="Text">hash of its text</param>
/// <param name="Numbers">hash of all numbers in it</param>
public sealed record OutputPart(string Id, string Title, string Text, string Numbers, int Pages);

/// <summary>What is said of an output when it is made.</summary>
/// <param name="Pages">0 where text flows</param>
public sealed record OutputReport(
    int Pages,
    int Passes,
    IReadOnlyList<string> Faces,
    IReadOnlyList<CoarsePicture> Coarse,
    int Pictures,
    IReadOnlyList<OutputWarning> Warnings,
    int MoreWarnings,
    IReadOnlyList<OutputPart> Parts
)
{
    /// <summary>What could not be made as it was asked for.</summary>
    public IReadOnlyList<string> Notes { get; init; } = [];

    private const int MostWarnings = 300;

    /// <summary>Fewer pixels to the inch are seen in print.</summary>
    private const int LeastPerInch = 200;

    public int Wrong => Warnings.Count(w => w.Gravity == "wrong");

    public static OutputReport Of(ComposedManual composed, OutputKind kind, IReadOnlyList<string> faces)
    {
        var flows = kind is OutputKind.WordDocument || kind.Medium() == Medium.Flowing;
        var blocks = composed.Text.Divisions.SelectMany(d => d.Blocks).SelectMany(b => b.WithInner()).ToList();
        var used = blocks
            .OfType<Figure>()
            .Select(f => f.Asset)
            .Concat(blocks.SelectMany(b => b.OwnSpans()).SelectMany(Walk.Flat).OfType<InlinePicture>().Select(p => p.Asset));
        return new OutputReport(
            flows ? 0 : composed.Pages.Count,
            composed.Passes,
            faces,
            kind is OutputKind.PrintPdf or OutputKind.CoverPdf ? [.. Coarsest(composed, blocks)] : [],
            used.Distinct(StringComparer.Ordinal).Count(),
            [.. composed.LooseEnds.OrderBy(l => l.Kind.Sort().Gravity).Take(MostWarnings).Select(l => Warning(l, composed))],
            Math.Max(0, composed.LooseEnds.Count - MostWarnings),
            [.. composed.Divisions.Select(d => Part(d, composed))]
        );
    }

    private static IEnumerable<CoarsePicture> Coarsest(ComposedManual composed, List<Block> blocks)
    {
        var inches = composed.Look.Master.Measure.InPoints / 72;
        return blocks
            .OfType<Figure>()
            .Select(f => (Figure: f, Asset: composed.Text.Manual.Assets.FirstOrDefault(a => a.Name == f.Asset)))
            .Where(f => f.Asset is { MediaType: not "image/svg+xml" } && f.Figure.Width > 0)
            .Select(f => new CoarsePicture(f.Asset!.Name, (int)(f.Asset.Width / (inches * Math.Min(100, f.Figure.Width) / 100))))
            .Where(c => c.PerInch < LeastPerInch)
            .GroupBy(c => c.Name, StringComparer.Ordinal)
            .Select(g => g.MinBy(c => c.PerInch)!);
    }

    private static OutputWarning Warning(LooseEnd end, ComposedManual composed) =>
        new(
            end.Kind.Sort().Gravity.ToString().ToLowerInvariant(),
            end.Kind.Sort().Name,
            end.Message,
            end.Words,
            end.Division.Value,
            Plain(end.Block).Value,
            composed.Find(end.Block) is { } at && at.Sheet < composed.Pages.Count ? composed.Pages[at.Sheet].Folio : ""
        );

    /// <summary>The block of a passage is mended in the passage.</summary>
    private static Id Plain(Id id) => new(id.Value[(id.Value.LastIndexOf('/') + 1)..]);

    private static OutputPart Part(DivisionPages pages, ComposedManual composed)
    {
        var division = composed.Text.Divisions.First(d => d.Id == pages.Numbers.Division.Id);
        var text = new StringBuilder();
        foreach (var block in division.Blocks)
            text.Append(BlockWriter.ToJson(block)).Append('\n');
        var numbers = string.Join('\n', pages.Numbers.Targets.Select(t => t.Id.Value + "\t" + t.Number));
        return new OutputPart(
            division.Id.Value,
            $"{pages.Numbers.Number} {division.Title}".Trim(),
            Hash(division.Title + "\n" + text),
            Hash(numbers),
            Math.Max(1, pages.EndSheet - pages.FirstSheet)
        );
    }

    private static string Hash(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)))[..16];

    /// <summary>What changed since an output before, in sentences; none where nothing did.</summary>
    public IReadOnlyList<string> Since(OutputReport before)
    {
        var said = new List<string>();
        var was = before.Parts.DistinctBy(p => p.Id).ToDictionary(p => p.Id, StringComparer.Ordinal);
        var now = Parts.DistinctBy(p => p.Id).ToDictionary(p => p.Id, StringComparer.Ordinal);
        if (Pages != before.Pages)
            said.Add($"{Pages} pages, {Math.Abs(Pages - before.Pages)} {(Pages > before.Pages ? "more" : "fewer")} than before.");
        Say("New", now.Values.Where(p => !was.ContainsKey(p.Id)));
        Say("No longer there", was.Values.Where(p => !now.ContainsKey(p.Id)));
        var both = now.Values.Where(p => was.ContainsKey(p.Id)).ToList();
        Say("Text changed", both.Where(p => was[p.Id].Text != p.Text));
        Say("Numbers changed alone", both.Where(p => was[p.Id].Text == p.Text && was[p.Id].Numbers != p.Numbers));
        if (!both.Select(p => p.Id).SequenceEqual(before.Parts.Select(p => p.Id).Where(now.ContainsKey)))
            said.Add("Divisions stand in another order.");
        return said;
        void Say(string what, IEnumerable<OutputPart> parts)
        {
            const int most = 6;
            var titles = parts.Select(p => $"“{p.Title}”").ToList();
            if (titles.Count > 0)
                said.Add(
                    $"{what}: {string.Join(", ", titles.Take(most))}{(titles.Count > most ? $" and {titles.Count - most} more" : "")}."
                );
        }
    }

    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web);

    public string ToJson() => JsonSerializer.Serialize(this, Options);

    public static OutputReport? Parse(string? json) => json is null ? null : JsonSerializer.Deserialize<OutputReport>(json, Options);
}
