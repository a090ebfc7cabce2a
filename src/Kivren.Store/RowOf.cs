using System.Text.Json;
using Kivren.Core.Content;
using Kivren.Desk;
using Kivren.Formats.Package;

namespace Kivren.Store;

/// <summary>Model to row and back: the one place where a row of a manual, division, block or picture is made.</summary>
public static class RowOf
{
    public static ManualRow Manual(Manual manual, DateTimeOffset now) =>
        new()
        {
            Id = manual.Id.Value,
            Title = manual.Title,
            Language = manual.Language,
            Look = manual.Look,
            LookFile = manual.LookFile,
            Variables = RowForm.Variables(manual.Variables),
            Conditions = RowForm.Conditions(manual.Conditions),
            Editions = EditionForm.ToJson(manual.Editions),
            Aliases = Aliases(manual.Aliases),
            Roles = OwnRoleForm.ToJson(manual.Roles),
            HyphenationExceptions = [.. manual.HyphenationExceptions],
            AcceptedWords = [.. manual.AcceptedWords],
            PassedOver = OwnListForm.ToJson(manual.PassedOver),
            PutAside = OwnListForm.ToJson(manual.PutAside),
            Lists = OwnListForm.ToJson(manual.Lists),
            TermsLead = JsonSerializer.Serialize(manual.TermsLead),
            ChapterContents = JsonSerializer.Serialize(manual.ChapterContents ?? ""),
            IndexDress = manual.IndexDress is { } dress ? OwnListForm.ToJson(dress) : "{}",
            WorkedOn = now,
        };

    public static DivisionRow Division(string manual, PlacedDivision placed, bool deleted = false)
    {
        var header = DivisionHeader.Of(placed, deleted);
        return new DivisionRow
        {
            Id = placed.Id,
            ManualId = manual,
            OrderKey = header.OrderKey,
            Kind = header.Kind,
            Title = header.Title,
            ShortTitle = header.ShortTitle,
            Language = header.Language,
            AppliesTo = header.AppliesTo,
            Begins = header.Begins,
            State = header.State,
            Version = header.Version,
            Deleted = deleted,
        };
    }

    public static BlockRow Block(string manual, string division, PlacedBlock placed, bool deleted = false) =>
        new()
        {
            Id = placed.Id,
            ManualId = manual,
            DivisionId = division,
            OrderKey = placed.OrderKey,
            Kind = placed.Block.GetType().Name,
            Body = BlockWriter.ToJson(placed.Block),
            Version = placed.Version,
            Deleted = deleted,
        };

    public static AssetRow Asset(string manual, Asset asset) =>
        new()
        {
            ManualId = manual,
            Name = asset.Name,
            MediaType = asset.MediaType,
            Width = asset.Width,
            Height = asset.Height,
            Hash = asset.Hash,
        };

    public static string Aliases(IReadOnlyDictionary<Id, Id> aliases) =>
        JsonSerializer.Serialize(aliases.ToDictionary(a => a.Key.Value, a => a.Value.Value));

    // ---- and back ----

    public static Manual ToManual(ManualRow row, IEnumerable<AssetRow> assets) =>
        new(new Id(row.Id), row.Title, [])
        {
            Language = row.Language,
            Look = row.Look,
            LookFile = row.LookFile,
            Variables = RowForm.Variables(row.Variables),
            Conditions = RowForm.Conditions(row.Conditions),
            Editions = EditionForm.ParseEditions(row.Editions),
            Roles = OwnRoleForm.Parse(row.Roles),
            HyphenationExceptions = row.HyphenationExceptions,
            AcceptedWords = row.AcceptedWords,
            PassedOver = OwnListForm.Parse<PassedOver[]>(row.PassedOver),
            PutAside = OwnListForm.Parse<PutAside[]>(row.PutAside),
            Lists = OwnListForm.Parse<OwnList[]>(row.Lists),
            TermsLead = JsonSerializer.Deserialize<bool>(row.TermsLead),
            ChapterContents = JsonSerializer.Deserialize<string>(row.ChapterContents) is { Length: > 0 } name ? name : null,
            IndexDress = row.IndexDress == "{}" ? null : OwnListForm.Parse<OwnIndexDress>(row.IndexDress),
            Assets = [.. assets.Select(a => new Asset(a.Name, a.MediaType, a.Width, a.Height, a.Hash))],
            Aliases = JsonSerializer
                .Deserialize<Dictionary<string, string>>(row.Aliases)!
                .ToDictionary(a => new Id(a.Key), a => new Id(a.Value)),
        };

    public static DivisionHeader ToHeader(DivisionRow row) =>
        new(
            row.OrderKey,
            row.Version,
            row.Deleted,
            row.Kind,
            row.Title,
            row.ShortTitle,
            row.Language,
            row.AppliesTo,
            row.Begins,
            row.State
        );

    public static PlacedBlock ToPlaced(BlockRow row) => new(ToBlock(row), row.OrderKey, row.Version);

    /// <summary>A body that this version cannot read stands as a paragraph that says so; its row stays as it is.</summary>
    private static Block ToBlock(BlockRow row)
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
}
