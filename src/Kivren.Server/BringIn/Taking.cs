using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Kivren.Core.Content;
using Kivren.Desk;
using Kivren.Formats.Import;
using Kivren.Formats.Package;
using Kivren.Server.Manuals;
using Kivren.Store;

namespace Kivren.Server.BringIn;

/// <summary>What documents become when they are taken in, as one act: a new manual, divisions of one that is there, or the
/// differences of a newer version. Pure: nothing is written here.</summary>
internal static class Taking
{
    /// <summary>A block as it came in, as the database keeps it.</summary>
    public sealed record TakenBlock(string Division, string Body);

    public static Manual NewManual(Incoming incoming, Shaped shaped)
    {
        var fresh = 0;
        // Ids are the same when the act is repeated.
        string Id() => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes($"{incoming.Delivery.Seed} {++fresh}")))[..32];
        return shaped.ToManual(() => new Id(Id()), incoming.Delivery.Look);
    }

    /// <param name="divisions">the divisions as they came in, in the order of <see cref="Shaped.Divisions"/></param>
    public static KeptSource[] SourcesOf(Incoming incoming, Standing now, Shaped shaped, IReadOnlyList<Division> divisions) =>
        [
            .. now.Ordered.Select(
                (d, i) =>
                {
                    var file = incoming.Delivery.Files[d.File];
                    // A division may hold the text of several files.
                    var own = divisions.SelectMany(
                        (division, n) =>
                            BroughtInBlock
                                .Of(division)
                                .Where(b => (shaped.Origins.TryGetValue(b.Block.Id, out var origin) ? origin.File : shaped.FileOf[n]) == i)
                    );
                    return Kept(
                        incoming,
                        now,
                        shaped,
                        d.File,
                        $"{incoming.Delivery.Seed}-s{i}",
                        own,
                        shaped.Report.Where(r => r.Where.StartsWith(file.Name, StringComparison.Ordinal))
                    );
                }
            ),
        ];

    private static KeptSource Kept(
        Incoming incoming,
        Standing now,
        Shaped shaped,
        int file,
        string id,
        IEnumerable<BroughtInBlock> taken,
        IEnumerable<ReportLine> report
    )
    {
        var source = incoming.Delivery.Files[file];
        var mapping = now.Mapping(now.Chosen.MappingName) with { Roles = shaped.Lines.ToDictionary(l => l.Key, l => l.Role) };
        var lines = report.Select(r => new
        {
            kind = r.Kind.ToString(),
            where = r.Where,
            what = r.What,
            words = r.Words,
        });
        return new KeptSource(
            id,
            incoming.Delivery.Id,
            file,
            source.Name,
            Incoming.HashOf(source.Bytes),
            mapping.ToJson(),
            JsonSerializer.Serialize(taken.Select(b => new TakenBlock(b.Division.Value, BlockWriter.ToJson(b.Block)))),
            JsonSerializer.Serialize(lines.ToArray())
        );
    }

    /// <summary>All of it, into a manual that has these pictures.</summary>
    public static (ComingIn Act, IReadOnlyList<Division> Divisions, PictureNames Names) Into(
        Incoming incoming,
        Standing now,
        Shaped shaped,
        string writer,
        IReadOnlyList<Asset> there
    )
    {
        var names = PictureNames.Of(shaped, there);
        var sources = SourcesOf(incoming, now, shaped, names.Divisions);
        var act = new ComingIn(
            incoming.Delivery.Id,
            writer,
            "",
            DivisionForm.ToJson(names.Divisions),
            incoming.Delivery.After,
            [],
            [.. names.New],
            sources
        );
        return (act, names.Divisions, names);
    }

    /// <summary>The chosen differences of a newer version, on the blocks as they stand.</summary>
    public static (ComingIn Act, int Count, Id? Division, PictureNames Names) Differences(
        Incoming incoming,
        Standing now,
        Shaped shaped,
        string writer,
        IReadOnlySet<string> chosen,
        Manual stands,
        Func<string, int> versionOf
    )
    {
        var comparison = now.Comparison!;
        var names = PictureNames.Of(shaped, stands.Assets);
        var picked = comparison.Chosen(chosen, stands.Divisions.SelectMany(d => d.Blocks).Select(b => b.Id));
        var changes = picked.Select(p => new BlockChange(
            p.Difference.Id.Value,
            p.Difference.Division.Value,
            versionOf(p.Difference.Id.Value),
            p.Difference.Becomes is { } becomes ? BlockWriter.ToJson(becomes) : null,
            p.Difference.Kind == DifferenceKind.Added ? p.After.Value : null,
            p.Difference.Kind == DifferenceKind.TakenOut
        ));
        var source = Kept(
            incoming,
            now,
            shaped,
            now.Ordered.First().File,
            incoming.Delivery.Earlier!.Source,
            comparison.AsNow,
            shaped.Report
        );
        // Only pictures that a taken difference shows come in.
        var shown = picked
            .Where(p => p.Difference.Becomes is not null)
            .SelectMany(p => PicturesOf(p.Difference.Becomes!))
            .ToHashSet(StringComparer.Ordinal);
        var label = picked.Count == 1 ? "Taking a difference" : $"Taking {picked.Count} differences";
        var act = new ComingIn(
            incoming.Delivery.Id,
            writer,
            label,
            null,
            "",
            [.. changes],
            [.. names.New.Where(a => shown.Contains(a.Name))],
            [source]
        );
        return (act, picked.Count, picked.Count > 0 ? picked[0].Difference.Division : null, names);
    }

    private static IEnumerable<string> PicturesOf(Block block) =>
        block.WithInner().OfType<Figure>().Select(f => f.Asset).Concat(block.Inlines().OfType<InlinePicture>().Select(p => p.Asset));
}
