namespace Kivren.Core.Content;

/// <summary>What every manual keeps, whatever was done to it: identities are unique at every depth, nesting is bounded, spans of
/// cells are positive, aliases lead somewhere. Tests ask it after each act.</summary>
public static class ManualCheck
{
    private const int MostDepth = 24;

    /// <returns>what is wrong, in words; empty when all is right</returns>
    public static IReadOnlyList<string> Problems(Manual manual)
    {
        var problems = new List<string>();
        var seen = new HashSet<string>(StringComparer.Ordinal);
        void Own(Id id, string what)
        {
            if (id.IsNone)
                problems.Add($"A {what} has no identity.");
            else if (!seen.Add(id.Value))
                problems.Add($"{id} names two things; the second is a {what}.");
        }
        foreach (var division in manual.Kept())
        {
            Own(division.Id, "division");
            foreach (var block in division.Blocks)
                Check(block, 0, Own, problems);
        }
        foreach (var (from, to) in manual.Aliases)
            if (from == to)
                problems.Add($"{from} is an alias of itself.");
        return problems;
    }

    private static void Check(Block block, int depth, Action<Id, string> own, List<string> problems)
    {
        own(block.Id, block.GetType().Name);
        if (depth > MostDepth)
            problems.Add($"{block.Id} is nested more than {MostDepth} deep.");
        foreach (var id in Parts(block))
            own(id, "part of " + block.GetType().Name);
        if (block is Table table && table.Rows.SelectMany(r => r.Cells).Any(c => c.ColumnSpan < 1 || c.RowSpan < 1))
            problems.Add($"A cell of {table.Id} spans nothing.");
        foreach (var spans in block.OwnSpans())
            Check(spans, own);
        foreach (var inner in block.InnerBlocks())
            Check(inner, depth + 1, own, problems);
    }

    private static IEnumerable<Id> Parts(Block block) =>
        block switch
        {
            ItemList list => list.Items.Select(i => i.Id),
            Steps steps => steps.Items.Select(i => i.Id),
            DefinitionList list => list.Definitions.Select(d => d.Id),
            ReferenceList list => list.Documents.Select(d => d.Id),
            Table table => table.Rows.Select(r => r.Id).Concat(table.Rows.SelectMany(r => r.Cells).Select(c => c.Id)),
            _ => [],
        };

    private static void Check(IReadOnlyList<Inline> spans, Action<Id, string> own)
    {
        foreach (var inline in Walk.Flat(spans))
            // Both ends of a range carry one identity.
            if (inline is not (TextRun or VariableUse or LineBreak or IndexEntry { Kind: EntryKind.RangeEnd }))
                own(Walk.IdOf(inline), inline.GetType().Name);
    }
}
