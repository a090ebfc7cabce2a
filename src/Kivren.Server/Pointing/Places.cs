using Kivren.Core.Composition;
using Kivren.Core.Content;

namespace Kivren.Server.Pointing;

/// <summary>On which page something stands, whether it is named as it is composed or as it is kept: a block of a passage is composed
/// once for each use, under the path of the use.</summary>
internal sealed class Places(ComposedManual composed)
{
    private const char Path = '/';
    private Dictionary<Id, Id>? _uses;

    /// <summary>The identity under which something is kept.</summary>
    public static Id Kept(Id id) => id.Value?.LastIndexOf(Path) is { } at and >= 0 ? new Id(id.Value[(at + 1)..]) : id;

    /// <summary>The sheet, or −1 where it is in no page of this edition.</summary>
    public int SheetOf(Id id)
    {
        if (composed.Find(id) is { } at)
            return at.Sheet;
        _uses ??= Uses();
        return _uses.TryGetValue(id, out var use) && composed.Find(use) is { } used ? used.Sheet : -1;
    }

    public int SheetIn(Id division, Id atom) => composed.FindIn(division, atom)?.Sheet ?? -1;

    public string Folio(int sheet) => sheet >= 0 && sheet < composed.Pages.Count ? composed.Pages[sheet].Folio : "";

    private Dictionary<Id, Id> Uses()
    {
        var uses = new Dictionary<Id, Id>();
        foreach (var division in composed.Numbers.Divisions)
        foreach (var id in division.ById.Keys)
            if (id.Value.Contains(Path, StringComparison.Ordinal))
                uses.TryAdd(Kept(id), id);
        return uses;
    }
}
