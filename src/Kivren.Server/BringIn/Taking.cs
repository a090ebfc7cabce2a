using System.Text.Json;
using Kivren.Core.Content;
using Kivren.Formats.Import;
using Kivren.Formats.Package;
using Kivren.Server.Desk;
using Kivren.Server.Shelf;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;
using SourceRow = Kivren.Store.SourceRow;

namespace Kivren.Server.BringIn;

/// <summary>Takes what came in: as a new manual, into one that is there, or the differences of a newer version. One act
/// each, so that one undo takes it back.</summary>
internal static class Taking
{
    public readonly record struct Outcome(Taken? Done, string? Refused);

    public static async Task<Outcome> All(BringInRoom room, Shaped shaped, string writer, ShelfContext db, IGrainFactory grains, DateTimeOffset now)
    {
        var blocks = shaped.Divisions.Sum(d => d.Blocks.Count);
        if (room.Manual is not { } manual)
        {
            var made = shaped.ToManual(() => new Id(Guid.CreateVersion7().ToString("N")), room.Look);
            var id = await ManualSaver.Save(db, new Package(made, shaped.Pictures), now);
            await KeepSources(room, shaped, shaped.Divisions, id, db, now);
            return new Outcome(new Taken(id, shaped.Divisions.FirstOrDefault()?.Id.Value, 0, blocks), null);
        }
        var taken = await db.Assets.AsNoTracking().Where(a => a.ManualId == manual).ToDictionaryAsync(a => a.Name, a => a.Hash);
        // A picture of the same name and other bytes gets a name of its own.
        var names = shaped.Assets.ToDictionary(a => a.Name, a => taken.TryGetValue(a.Name, out var hash) && hash != a.Hash ? Free(a.Name, taken.Keys) : a.Name);
        var assets = shaped.Assets.Where(a => !taken.TryGetValue(names[a.Name], out _)).Select(a => a with { Name = names[a.Name] }).ToArray();
        var divisions = shaped.Divisions.Select(d => d with { Blocks = d.Blocks.Select(b => Renamed(b, names)).ToArray() }).ToArray();
        await ManualSaver.AddPictures(db, manual, assets, shaped.Pictures.ToDictionary(p => names[p.Key], p => p.Value));
        await db.SaveChangesAsync();
        var done = await grains.GetGrain<IDesk>(manual).PutIn(Guid.CreateVersion7().ToString("N"), writer, DivisionForm.ToJson(divisions), room.After, JsonSerializer.Serialize(assets));
        if (done.Refused is { } why) return new Outcome(null, why);
        await KeepSources(room, shaped, divisions, manual, db, now);
        return new Outcome(new Taken(manual, divisions.FirstOrDefault()?.Id.Value, done.Act, blocks), null);
    }

    private static string Free(string name, ICollection<string> taken)
    {
        for (var n = 2; ; n++)
            if ($"{Path.GetFileNameWithoutExtension(name)}-{n}{Path.GetExtension(name)}" is var free && !taken.Contains(free)) return free;
    }

    private static Block Renamed(Block block, Dictionary<string, string> names)
    {
        if (names.All(n => n.Key == n.Value)) return block;
        string Name(string name) => names.GetValueOrDefault(name, name);
        Block Own(Block b) => b switch
        {
            Figure f => f with { Asset = Name(f.Asset) },
            ItemList l => l with { Items = l.Items.Select(i => i with { Blocks = i.Blocks.Select(Own).ToArray() }).ToArray() },
            Steps s => s with { Items = s.Items.Select(i => i with { Blocks = i.Blocks.Select(Own).ToArray() }).ToArray() },
            Admonition a => a with { Blocks = a.Blocks.Select(Own).ToArray() },
            Aside a => a with { Blocks = a.Blocks.Select(Own).ToArray() },
            Example e => e with { Blocks = e.Blocks.Select(Own).ToArray() },
            DefinitionList d => d with { Definitions = d.Definitions.Select(x => x with { Blocks = x.Blocks.Select(Own).ToArray() }).ToArray() },
            _ => b,
        };
        return Own(block).WithSpans(spans => spans.Select(s => s is InlinePicture p ? p with { Asset = Name(p.Asset) } : s).ToArray());
    }

    private static async Task KeepSources(BringInRoom room, Shaped shaped, IReadOnlyList<Division> divisions, string manual, ShelfContext db, DateTimeOffset now)
    {
        for (var d = 0; d < room.Documents.Count; d++)
        {
            var file = room.FileOf(d);
            var own = divisions.Where((_, i) => shaped.FileOf[i] == d).SelectMany(x => x.Blocks.Select(b => new KeptBlock(x.Id.Value, BlockWriter.ToJson(b)))).ToArray();
            db.Sources.Add(new SourceRow
            {
                Id = Guid.CreateVersion7().ToString("N"),
                ManualId = manual,
                Name = file.Name,
                Hash = BringInRoom.HashOf(file.Bytes),
                Bytes = file.Bytes,
                Mapping = (room.Mapping(room.MappingName) with { Roles = shaped.Lines.ToDictionary(l => l.Key, l => l.Role) }).ToJson(),
                Taken = JsonSerializer.Serialize(own),
                Report = JsonSerializer.Serialize(shaped.Report.Where(r => r.Where.StartsWith(file.Name, StringComparison.Ordinal)).Select(r => new { kind = r.Kind.ToString(), where = r.Where, what = r.What, words = r.Words })),
                BroughtInAt = now,
            });
        }
        await db.SaveChangesAsync();
    }

    public static async Task<Outcome> Differences(BringInRoom room, Take take, ShelfContext db, IGrainFactory grains, DateTimeOffset now)
    {
        var (manual, comparison) = (room.Manual!, room.Comparison!);
        var chosen = (take.Differences ?? []).ToHashSet(StringComparer.Ordinal);
        var picked = comparison.Differences.Where(d => chosen.Contains(d.Id.Value)).ToList();
        var desk = grains.GetGrain<IDesk>(manual);
        long act = 0;
        if (picked.Count > 0)
        {
            var versions = new Dictionary<string, int>(StringComparer.Ordinal);
            foreach (var division in picked.Select(p => p.Division.Value).Distinct())
                foreach (var block in (await desk.Division(division))?.Blocks ?? []) versions[block.Id] = block.Version;
            var there = versions.Keys.ToHashSet(StringComparer.Ordinal);
            var changes = new List<BlockChange>();
            foreach (var d in picked)
            {
                // What it would stand after may have been left: then the nearest before that is there.
                var after = d.After.Value;
                while (d.Kind == DifferenceKind.Added && after.Length > 0 && !there.Contains(after)) after = comparison.Differences.FirstOrDefault(x => x.Id.Value == after)?.After.Value ?? "";
                changes.Add(new BlockChange(d.Id.Value, d.Division.Value, versions.GetValueOrDefault(d.Id.Value), d.Becomes is null ? null : BlockWriter.ToJson(d.Becomes), d.Kind == DifferenceKind.Added ? after : null, d.Kind == DifferenceKind.TakenOut));
                if (d.Kind == DifferenceKind.Added) there.Add(d.Id.Value);
            }
            var known = await db.Assets.AsNoTracking().Where(a => a.ManualId == manual).Select(a => a.Name).ToListAsync();
            var assets = room.Shaped!.Assets.Where(a => !known.Contains(a.Name)).ToArray();
            if (assets.Length > 0)
            {
                await ManualSaver.AddPictures(db, manual, assets, room.Shaped.Pictures);
                await db.SaveChangesAsync();
                await desk.PutIn(Guid.CreateVersion7().ToString("N"), take.Writer, "[]", "", JsonSerializer.Serialize(assets));
            }
            var answer = await desk.Apply(new Batch(Guid.CreateVersion7().ToString("N"), take.Writer, picked.Count == 1 ? "Taking a difference" : $"Taking {picked.Count} differences", [.. changes], null, null));
            if (answer.Refused.FirstOrDefault() is { } refused) return new Outcome(null, refused.Why);
            act = answer.Act;
        }
        var file = room.FileOf(0);
        var source = await db.Sources.FirstAsync(s => s.Id == room.Earlier!.Source);
        source.Name = file.Name;
        source.Bytes = file.Bytes;
        source.Hash = BringInRoom.HashOf(file.Bytes);
        source.Taken = JsonSerializer.Serialize(comparison.AsNow.Select(b => new KeptBlock(b.Division.Value, BlockWriter.ToJson(b.Block))));
        source.BroughtInAt = now;
        await db.SaveChangesAsync();
        return new Outcome(new Taken(manual, picked.FirstOrDefault()?.Division.Value, act, picked.Count), null);
    }
}
