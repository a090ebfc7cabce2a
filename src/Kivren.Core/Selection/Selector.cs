using System.Runtime.CompilerServices;
using Kivren.Core.Content;

namespace Kivren.Core.Selection;

/// <summary>What an edition takes of a manual: the text that is composed.</summary>
public sealed record SelectedText(Manual Manual, Edition Edition, IReadOnlyList<Division> Divisions)
{
    /// <summary>The divisions as they are numbered, set and cut: the same, or of a composition before where they print the same
    /// (<see cref="PrintedText"/>).</summary>
    internal IReadOnlyList<Division> Printed { get; init; } = Divisions;

    /// <summary>References to a block of a passage that two uses stand equally near to.</summary>
    public IReadOnlyList<AmbiguousReference> Ambiguous { get; init; } = [];

    /// <summary>The divisions are the manual's own, unchanged: nothing is left out, and nothing put in.</summary>
    public bool IsManual => Divisions.SequenceEqual(Manual.Divisions, ReferenceEqualityComparer.Instance);

    /// <summary>The text of a variable in this edition, or null if there is none of that name.</summary>
    public string? Variable(string name) =>
        (Edition.Variables.FirstOrDefault(v => v.Name == name) ?? Manual.Variables.FirstOrDefault(v => v.Name == name))?.Text;
}

/// <summary>Selection: a pure function of manual and edition. A division that nothing is left out of stays the same
/// object, so that what was computed of it stays valid.</summary>
public static class Selector
{
    /// <param name="rules">of the look. A manual that has a contents list of its own for its chapters has that one.</param>
    public static SelectedText Select(Manual manual, Edition edition, SelectionCache? cache = null, TextRules? rules = null)
    {
        rules ??= TextRules.None;
        var addresses = edition.Medium is null or Medium.Paper ? rules.Addresses : PrintedAddresses.Nothing;
        var repeated = new Dictionary<Id, Id>();
        var taken = new List<Division>(manual.Divisions.Count);
        foreach (var division in InOrder(manual, edition))
        {
            if (!division.AppliesTo.Admits(edition.Chosen) || edition.LeavesOut.Contains(division.Id) || IsWithout(division, edition))
                continue;
            var own = cache?.Get(division, edition, manual.Passages) ?? Take(division, edition, manual.Passages);
            if (rules.LeavesOutRepeatedTitles)
            {
                var titles = RepeatedTitles.Of(own);
                own = titles.Division;
                foreach (var (head, title) in titles.LeftOut)
                    repeated[head] = title;
            }
            if (addresses != PrintedAddresses.Nothing)
                own = AddressesInPrint.Of(own, addresses);
            var opens = IsChapter(own) && manual.ChapterContents is { } chosen ? chosen : rules.OpensWith?.Invoke(own.Kind);
            if (opens is not null && edition.Without.Contains(opens))
                opens = null;
            taken.Add(opens is { } list ? cache?.Opened(own, list, () => Opened(own, list)) ?? Opened(own, list) : own);
        }
        if (repeated.Count > 0)
            manual = manual with { Aliases = With(manual.Aliases, repeated) };
        if (manual.TermsLead)
            taken = cache is null ? Led(taken, manual.Language) : cache.Led(taken, manual.Language);
        IReadOnlyList<Division> divisions = taken;
        IReadOnlyList<AmbiguousReference> ambiguous = [];
        if (manual.Passages.Count > 0)
            (divisions, ambiguous) = PassageUses.Aim(taken, (division, aims, make) => cache?.Aimed(division, aims, make) ?? make());
        if (LeavesOutSome(manual, divisions))
            divisions = LeftOutReferences.Say(manual, edition, [.. divisions], (division, says, make) =>
                cache?.Aimed(division, says, make) ?? make()
            );
        if (edition.Language is { } language && language != manual.Language)
        {
            // What is in the manual's language follows; a division in another keeps its own.
            divisions =
            [
                .. divisions.Select(d =>
                    d.Language != manual.Language ? d
                    : cache is null ? d with { Language = language }
                    : cache.Spoken(d, language)
                ),
            ];
            manual = manual with { Language = language };
        }
        return new SelectedText(manual, edition, divisions) { Printed = cache?.Printed.Of(divisions) ?? divisions, Ambiguous = ambiguous };
    }

    private static Dictionary<Id, Id> With(IReadOnlyDictionary<Id, Id> aliases, Dictionary<Id, Id> more)
    {
        var all = new Dictionary<Id, Id>(aliases);
        foreach (var (head, title) in more)
            all[head] = title;
        return all;
    }

    /// <summary>Something of the manual is not here.</summary>
    private static bool LeavesOutSome(Manual manual, IReadOnlyList<Division> taken)
    {
        if (taken.Count < manual.Divisions.Count)
            return true;
        for (var d = 0; d < taken.Count; d++)
            if (taken[d].Id != manual.Divisions[d].Id || taken[d].Blocks.Count < manual.Divisions[d].Blocks.Count)
                return true;
        return taken.Zip(manual.Divisions).Any(p => !ReferenceEquals(p.First.Blocks, p.Second.Blocks));
    }

    /// <summary>The divisions in the edition's order; those of the manual that it does not name are left out, those that it names and
    /// the manual has no longer are not there.</summary>
    private static IEnumerable<Division> InOrder(Manual manual, Edition edition)
    {
        if (edition.Takes.Count == 0)
            return manual.Divisions;
        var byId = manual.Divisions.ToDictionary(d => d.Id);
        return edition.Takes.DistinctBy(t => t.Division).Select(t => byId.GetValueOrDefault(t.Division)).OfType<Division>();
    }

    /// <summary>A division that is there only for a list that the edition goes out without.</summary>
    private static bool IsWithout(Division division, Edition edition) =>
        edition.Without.Count > 0
        && division.Blocks.Any(b => b is ContentsList or IndexList)
        && division.Blocks.All(b =>
            b is ContentsList list ? edition.Without.Contains(list.List) : b is IndexList && edition.Without.Contains(Edition.Index)
        );

    private static List<Division> Led(List<Division> divisions, string language)
    {
        TermLinks? none = null;
        return TermLinks.Lead(divisions, language, ref none);
    }

    private static bool IsChapter(Division division) => division.Kind is DivisionKind.Chapter or DivisionKind.Appendix;

    /// <summary>A division with its own contents before its text, where it has heads that a list could take.</summary>
    private static Division Opened(Division division, string list) =>
        division.Blocks.Count(b => b is Head { Printed: true }) > 1
            ? division with
            {
                Blocks = [new ContentsList(new Id(division.Id.Value + "~contents"), list), .. division.Blocks],
            }
            : division;

    internal static Division Take(Division division, Edition edition, IReadOnlyList<Passage> passages)
    {
        var sections = edition.Takes.FirstOrDefault(t => t.Division == division.Id)?.Sections ?? [];
        var own = SectionsTaken.Of(division, sections, edition.LeavesOut);
        var expanded = PassageUses.Expand(own, passages);
        var blocks = TakeBlocks(expanded, edition);
        if (ReferenceEquals(blocks, division.Blocks))
            return division;
        return division with
        {
            Blocks =
                ReferenceEquals(own, division.Blocks) && ReferenceEquals(blocks, expanded)
                    ? blocks
                    : IndexRanges.Close(ReferenceEquals(own, division.Blocks) ? expanded : division.Blocks, blocks),
        };
    }

    /// <summary>A head left out takes its whole section with it. The list itself when all of it
    /// is taken.</summary>
    private static IReadOnlyList<Block> TakeBlocks(IReadOnlyList<Block> blocks, Edition edition)
    {
        if (!blocks.Any(Names))
            return blocks;
        var taken = new List<Block>(blocks.Count);
        HeadLevel? leavingSection = null;
        foreach (var block in blocks)
        {
            if (block is Head head)
            {
                if (leavingSection is { } left && head.Level <= left)
                    leavingSection = null;
                if (leavingSection is null && !head.AppliesTo.Admits(edition.Chosen))
                    leavingSection = head.Level;
            }
            if (leavingSection is not null || !block.AppliesTo.Admits(edition.Chosen))
                continue;
            taken.Add(Names(block) ? Within(block, edition) : block);
        }
        return taken;
    }

    /// <summary>Whether the block or anything in it applies only sometimes, or is only for text that flows.</summary>
    private static bool Names(Block block) =>
        !block.AppliesTo.IsAlways
        || block is Aside { Folds: Folding.Title, Blocks.Count: > 0 }
        || block switch
        {
            ItemList l => l.Items.Any(i => !i.AppliesTo.IsAlways),
            Steps s => s.Items.Any(i => !i.AppliesTo.IsAlways),
            DefinitionList d => d.Definitions.Any(x => !x.AppliesTo.IsAlways),
            ReferenceList r => r.Documents.Any(x => !x.AppliesTo.IsAlways),
            Table t => t.Rows.Any(r => !r.AppliesTo.IsAlways),
            _ => false,
        }
        || block.OwnSpans().Any(Names)
        || block.InnerBlocks().Any(Names);

    private static bool Names(IReadOnlyList<Inline> spans)
    {
        foreach (var inline in spans)
            if (
                inline is TextRun { AppliesTo.IsAlways: false } or Footnote { Shown: NoteShown.PopUpOnly }
                || (inline is Holding holding && Names(holding.Content))
            )
                return true;
        return false;
    }

    private static Block Within(Block block, Edition edition)
    {
        IReadOnlyList<Inline> Spans(IReadOnlyList<Inline> spans) => Names(spans) ? TakeSpans(spans, edition) : spans;
        IReadOnlyList<Block> Blocks(IReadOnlyList<Block> blocks) => TakeBlocks(blocks, edition);
        return block switch
        {
            Paragraph p => p with { Content = Spans(p.Content) },
            Head h => h with { Content = Spans(h.Content) },
            Figure f => f with { Caption = Spans(f.Caption) },
            Listing l => l with { Caption = Spans(l.Caption) },
            ItemList l => l with { Items = TakeItems(l.Items, edition) },
            Steps s => s with { Items = TakeItems(s.Items, edition) },
            Admonition a => a with { Blocks = Blocks(a.Blocks) },
            Aside a => a with
            {
                Title = Spans(a.Title),
                Blocks = a.Folds == Folding.Title && edition.Medium != Medium.Flowing ? [] : Blocks(a.Blocks),
            },
            Example e => e with { Title = Spans(e.Title), Blocks = Blocks(e.Blocks) },
            DefinitionList d => d with
            {
                Definitions = d
                    .Definitions.Where(x => x.AppliesTo.Admits(edition.Chosen))
                    .Select(x => x with { Term = Spans(x.Term), Blocks = Blocks(x.Blocks) })
                    .ToList(),
            },
            ReferenceList r => r with
            {
                Documents = r
                    .Documents.Where(x => x.AppliesTo.Admits(edition.Chosen))
                    .Select(x => x with { Title = Spans(x.Title) })
                    .ToList(),
            },
            Table t => TakeRows(t, edition),
            _ => block,
        };
    }

    /// <summary>What stands between characters goes with those around it: it is left out where the runs before and after it are.</summary>
    private static List<Inline> TakeSpans(IReadOnlyList<Inline> spans, Edition edition)
    {
        var admitted = spans.Select(i => i is TextRun run ? run.AppliesTo.Admits(edition.Chosen) : (bool?)null).ToArray();
        var after = new bool?[spans.Count];
        bool? next = null;
        for (var i = spans.Count - 1; i >= 0; i--)
            after[i] = next = admitted[i] ?? next;
        var taken = new List<Inline>(spans.Count);
        bool? before = null;
        for (var i = 0; i < spans.Count; i++)
        {
            before = admitted[i] ?? before;
            if ((before ?? after[i]) is false && (admitted[i] ?? after[i] ?? before) is false)
                continue;
            if (spans[i] is Footnote { Shown: NoteShown.PopUpOnly } && edition.Medium != Medium.Flowing)
                continue;
            taken.Add(spans[i] is Holding holding ? holding with { Content = TakeSpans(holding.Content, edition) } : spans[i]);
        }
        return taken;
    }

    private static List<Item> TakeItems(IReadOnlyList<Item> items, Edition edition) =>
        items
            .Where(i => i.AppliesTo.Admits(edition.Chosen))
            .Select(i => (Item: i, Taken: TakeBlocks(i.Blocks, edition)))
            .Where(i => i.Taken.Count > 0 || i.Item.Blocks.Count == 0)
            .Select(i => ReferenceEquals(i.Taken, i.Item.Blocks) ? i.Item : i.Item with { Blocks = i.Taken })
            .ToList();

    /// <summary>A row left out shortens the spans that reach over it; a cell that began in it moves to the next row that
    /// it reaches.</summary>
    private static Table TakeRows(Table table, Edition edition)
    {
        var (cells, _) = TableGrid.Of(table);
        var stays = table.Rows.Select(r => r.AppliesTo.Admits(edition.Chosen)).ToArray();
        var rows = new List<Row>();
        var headers = 0;
        for (var r = 0; r < table.Rows.Count; r++)
        {
            if (!stays[r])
                continue;
            if (r < table.HeaderRows)
                headers++;
            var own = cells
                .Where(c => c.Row <= r && r < c.Row + c.Rows && Enumerable.Range(c.Row, r - c.Row).All(before => !stays[before]))
                .OrderBy(c => c.Column)
                .Select(c =>
                    c.Cell with
                    {
                        RowSpan = Enumerable.Range(r, c.Row + c.Rows - r).Count(row => stays[row]),
                        Content = Names(c.Cell.Content) ? TakeSpans(c.Cell.Content, edition) : c.Cell.Content,
                    }
                );
            rows.Add(table.Rows[r] with { Cells = own.ToList() });
        }
        return table with
        {
            Rows = rows,
            HeaderRows = headers,
            Caption = Names(table.Caption) ? TakeSpans(table.Caption, edition) : table.Caption,
        };
    }
}

/// <summary>Keeps what was taken of each division, by identity of division, edition and the passages it uses.</summary>
public sealed class SelectionCache
{
    internal PrintedText Printed { get; } = new();

    private readonly ConditionalWeakTable<Division, Tuple<Edition, List<Passage>, Division>> _taken = [];

    private readonly ConditionalWeakTable<Division, Tuple<string, Division>> _aimed = [];

    /// <summary>The division with its references into passages aimed; the same object while they lead to the same uses.</summary>
    internal Division Aimed(Division division, string aims, Func<Division> make)
    {
        if (_aimed.TryGetValue(division, out var kept) && kept.Item1 == aims)
            return kept.Item2;
        var aimed = make();
        _aimed.AddOrUpdate(division, Tuple.Create(aims, aimed));
        return aimed;
    }

    private readonly ConditionalWeakTable<Division, Tuple<string, Division>> _spoken = [];

    /// <summary>The division in another language; the same object each time.</summary>
    internal Division Spoken(Division division, string language)
    {
        if (_spoken.TryGetValue(division, out var kept) && kept.Item1 == language)
            return kept.Item2;
        var spoken = division with { Language = language };
        _spoken.AddOrUpdate(division, Tuple.Create(language, spoken));
        return spoken;
    }

    private TermLinks? _terms;

    internal List<Division> Led(List<Division> divisions, string language) => TermLinks.Lead(divisions, language, ref _terms);

    private readonly ConditionalWeakTable<Division, Tuple<string, Division>> _opened = [];

    /// <summary>The division with its own contents at its head; the same object while the list has the same name.</summary>
    internal Division Opened(Division division, string list, Func<Division> make)
    {
        if (_opened.TryGetValue(division, out var kept) && kept.Item1 == list)
            return kept.Item2;
        var opened = make();
        _opened.AddOrUpdate(division, Tuple.Create(list, opened));
        return opened;
    }

    internal Division Get(Division division, Edition edition, IReadOnlyList<Passage> passages)
    {
        var used = PassageUses.UsedBy(division, passages);
        if (
            _taken.TryGetValue(division, out var kept)
            && ReferenceEquals(kept.Item1, edition)
            && kept.Item2.Count == used.Count
            && kept.Item2.Zip(used).All(p => ReferenceEquals(p.First, p.Second))
        )
            return kept.Item3;
        var taken = Selector.Take(division, edition, passages);
        _taken.AddOrUpdate(division, Tuple.Create(edition, used, taken));
        return taken;
    }
}
