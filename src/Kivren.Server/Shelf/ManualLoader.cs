using System.Text.Json;
using Kivren.Core.Content;
using Kivren.Formats.Package;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Server.Shelf;

/// <summary>A block as it stands in the database and in the model.</summary>
public sealed record LoadedBlock(string Id, string OrderKey, int Version, Block Block);

public sealed record LoadedDivision(DivisionRow Row, List<LoadedBlock> Blocks);

public sealed record LoadedManual(ManualRow Row, List<LoadedDivision> Divisions, List<Asset> Assets)
{
    public Manual ToManual() => new(new Id(Row.Id), Row.Title, Divisions.Select(d => ManualLoader.ToDivision(d)).ToList())
    {
        Language = Row.Language,
        Look = Row.Look,
        Variables = ManualLoader.Variables(Row.Variables),
        Editions = EditionForm.ParseEditions(Row.Editions),
        Roles = OwnRoleForm.Parse(Row.Roles),
        Passages = PassageForm.Parse(Row.Passages),
        HyphenationExceptions = Row.HyphenationExceptions,
        Assets = Assets,
        Aliases = ManualLoader.Aliases(Row.Aliases),
    };
}

/// <summary>Reads a manual from the database into the model.</summary>
public static class ManualLoader
{
    public static async Task<LoadedManual?> Load(ShelfContext db, string id, CancellationToken cancel = default)
    {
        var row = await db.Manuals.AsNoTracking().FirstOrDefaultAsync(m => m.Id == id && m.DeletedAt == null, cancel);
        if (row is null) return null;
        var divisions = await db.Divisions.AsNoTracking().Where(d => d.ManualId == id && !d.Deleted).OrderBy(d => d.OrderKey).ToListAsync(cancel);
        var blocks = (await db.Blocks.AsNoTracking().Where(b => b.ManualId == id && !b.Deleted).OrderBy(b => b.OrderKey).ToListAsync(cancel)).ToLookup(b => b.DivisionId);
        var assets = await db.Assets.AsNoTracking().Where(a => a.ManualId == id).OrderBy(a => a.Name).ToListAsync(cancel);
        return new LoadedManual(row,
            divisions.Select(d => new LoadedDivision(d, blocks[d.Id].Select(b => new LoadedBlock(b.Id, b.OrderKey, b.Version, Read(b))).ToList())).ToList(),
            assets.Select(a => new Asset(a.Name, a.MediaType, a.Width, a.Height, a.Hash)).ToList());
    }

    /// <summary>A body that this version cannot read stands as a paragraph that says so; its row stays as it is.</summary>
    private static Block Read(BlockRow row)
    {
        try
        {
            return BlockReader.Parse(row.Body);
        }
        catch (BlockFormatException e)
        {
            return new Paragraph(new Id(row.Id), "body", [new TextRun($"[This block cannot be read: {e.Message}]")]);
        }
    }

    public static Division ToDivision(LoadedDivision d) =>
        new(new Id(d.Row.Id), Enum.Parse<DivisionKind>(d.Row.Kind), d.Row.Title, d.Blocks.Select(b => b.Block).ToList())
        {
            ShortTitle = d.Row.ShortTitle,
            Language = d.Row.Language,
            Begins = Enum.Parse<Begins>(d.Row.Begins),
            State = Enum.Parse<WorkState>(d.Row.State),
            AppliesTo = EditionForm.ParseAppliesTo(d.Row.AppliesTo),
        };

    public static NamedText[] Variables(string json) => JsonSerializer.Deserialize<Dictionary<string, string>>(json)!.Select(v => new NamedText(v.Key, v.Value)).ToArray();

    public static Dictionary<Id, Id> Aliases(string json) => JsonSerializer.Deserialize<Dictionary<string, string>>(json)!.ToDictionary(a => new Id(a.Key), a => new Id(a.Value));
}
