using System.Text.Json.Nodes;
using Kivren.Core.Content;

namespace Kivren.Formats.Package;

/// <summary>Gives a copy of a manual ids of its own; references inside the copy follow it.</summary>
public static class IdRenewal
{
    public static Manual Renew(Manual manual, Func<string> fresh)
    {
        var renewed = new Dictionary<string, string>(StringComparer.Ordinal);
        string New(string id) => renewed.TryGetValue(id, out var known) ? known : renewed[id] = fresh();
        foreach (var division in manual.Kept())
        {
            New(division.Id.Value);
            foreach (var block in division.Blocks)
                Collect(JsonNode.Parse(BlockWriter.ToJson(block))!, New);
        }
        Division Renewed(Division d) =>
            d with
            {
                Id = new Id(New(d.Id.Value)),
                Blocks = d
                    .Blocks.Select(b =>
                    {
                        var node = JsonNode.Parse(BlockWriter.ToJson(b))!;
                        Replace(node, renewed);
                        return BlockReader.Parse(node.ToJsonString());
                    })
                    .ToList(),
            };
        return manual.WithKept([.. manual.Kept().Select(Renewed)]) with
        {
            Id = new Id(fresh()),
            Aliases = manual.Aliases.ToDictionary(a => new Id(New(a.Key.Value)), a => new Id(New(a.Value.Value))),
            Editions = [.. manual.Editions.Select(OfEdition)],
            PassedOver = [.. manual.PassedOver.Select(p => p with { Inner = Known(p.Inner) })],
            PutAside = [.. manual.PutAside.Select(p => p with { Block = Known(p.Block) })],
        };
        Id Known(Id id) => renewed.TryGetValue(id.Value, out var known) ? new Id(known) : id;
        Edition OfEdition(Edition e) =>
            e with
            {
                LeavesOut = [.. e.LeavesOut.Select(Known)],
                Takes = [.. e.Takes.Select(t => new TakenDivision(Known(t.Division), [.. t.Sections.Select(Known)]))],
            };
    }

    private static void Collect(JsonNode? node, Func<string, string> renew)
    {
        if (node is JsonArray list)
            foreach (var item in list)
                Collect(item, renew);
        if (node is not JsonObject o)
            return;
        if (o["attrs"] is JsonObject attrs && attrs["id"] is JsonValue id)
            renew(id.GetValue<string>());
        Collect(o["content"], renew);
    }

    private static void Replace(JsonNode? node, Dictionary<string, string> renewed)
    {
        if (node is JsonArray list)
            foreach (var item in list)
                Replace(item, renewed);
        if (node is not JsonObject o)
            return;
        if (o["attrs"] is JsonObject attrs)
            foreach (var name in (ReadOnlySpan<string>)["id", "target"])
                if (attrs[name] is JsonValue id && renewed.TryGetValue(id.GetValue<string>(), out var fresh))
                    attrs[name] = fresh;
        Replace(o["content"], renewed);
    }
}
