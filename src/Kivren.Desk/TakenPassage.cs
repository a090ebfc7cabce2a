using Kivren.Core.Content;
using Kivren.Core.Reuse;

namespace Kivren.Desk;

/// <summary>A passage as the shelf keeps it, on its way into a manual.</summary>
/// <param name="New">identities that are new are made from it</param>
/// <param name="Assets">the pictures that stand in it</param>
public sealed record TakenPassage(Id New, string Name, IReadOnlyList<Block> Blocks, IReadOnlyList<Asset> Assets)
{
    /// <summary>The manual with it: a new passage, or the one of that name saying what the shelf says. What is alike keeps its
    /// identity, and so do the references that point at it.</summary>
    /// <returns>the manual, or why not</returns>
    internal (Manual? Manual, string? Why) In(Manual manual)
    {
        var known = manual.Passages.FirstOrDefault(p => p.Name == Name);
        if (known is null && manual.Passages.Count >= Reusing.MostNames)
            return (null, $"A manual has up to {Reusing.MostNames} passages.");
        var missing = Blocks
            .SelectMany(b => b.WithInner())
            .OfType<PassageUse>()
            .FirstOrDefault(u => u.Passage == Name || manual.Passages.All(p => p.Name != u.Passage));
        if (missing is not null)
            return (null, $"“{Name}” uses the passage “{missing.Passage}”, which this manual does not have.");
        var other = Assets.FirstOrDefault(a => manual.Assets.Any(x => x.Name == a.Name && x.Hash != a.Hash));
        if (other is not null)
            return (null, $"“{Name}” shows a picture named “{other.Name}”, which is another picture in this manual.");
        IReadOnlyList<Block> blocks = Reusing.Copies(Blocks, New);
        if (known is not null)
        {
            var identities = new Identities();
            identities.Pair(new Aside(Id.None, [], known.Blocks), new Aside(Id.None, [], blocks));
            blocks = [.. blocks.Select(b => b.Renamed(identities.Of, identities.Of))];
        }
        var passages = manual.Kept().TakeWhile(d => d.Kind == DivisionKind.Passage);
        Division[] kept = known is null
            ? [.. passages, new Division(New, DivisionKind.Passage, Name, blocks)]
            : [.. passages.Select(d => d.Id == known.Id ? d with { Blocks = blocks } : d)];
        var added = Assets.Where(a => manual.Assets.All(x => x.Name != a.Name));
        return (manual.WithKept([.. kept, .. manual.Divisions]) with { Assets = [.. manual.Assets, .. added] }, null);
    }
}
