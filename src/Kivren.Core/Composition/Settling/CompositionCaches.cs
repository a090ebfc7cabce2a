using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Lists;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;
using Kivren.Core.Selection;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Results of the steps, each under all that it read. There is no second algorithm for edits: a composition
/// with caches replays the same passes and finds nearly everything done. Content is immutable, so the identity of an
/// object stands for what it holds.</summary>
public sealed class CompositionCaches
{
    internal SelectionCache Selection { get; } = new();
    internal NumberingCache Numbering { get; } = new();
    internal IndexCache Index { get; } = new();
    internal ContentsCache Contents { get; } = new();
    internal DivisionStamps Stamps { get; } = new();

    private ConditionalWeakTable<Division, List<GalleyEntry>> _galleys = [];
    private readonly ConcurrentDictionary<Id, KeptBlocks> _blocks = new();
    private readonly ConditionalWeakTable<Galley, Cut?[]> _cuts = [];
    private KnownTurns _turns = new();
    private ConditionalWeakTable<DivisionNumbers, SetBlock> _openings = [];
    private readonly ConditionalWeakTable<Cut, StretchPages> _pages = [];
    private readonly ConditionalWeakTable<Cut, Tuple<Cut, bool>> _compared = [];
    private readonly ConditionalWeakTable<IndexTree, LooseEnd[]> _indexLooseEnds = [];
    private ConditionalWeakTable<DivisionNumbers, LooseEnd[]> _looseEnds = [];
    private readonly ConditionalWeakTable<Division, DivisionReads> _reads = [];
    private readonly ConcurrentDictionary<string, Hyphenator?> _hyphenators = new(StringComparer.Ordinal);
    private ConcurrentDictionary<string, LinesEntry> _lines = new(StringComparer.Ordinal);
    private int _generation;

    /// <summary>Lines of generated lists kept before those of long ago are dropped.</summary>
    private const int MostLines = 50_000;

    // What every galley and block reads besides itself; with another of these nothing kept is of use.
    private Look? _look;
    private IReadOnlyList<Asset> _assets = [];
    private IReadOnlyList<string> _exceptions = [];
    private IReadOnlyList<string> _passages = [];

    /// <param name="Lists">the lists that stand in it, as they were generated</param>
    private sealed record GalleyEntry(DivisionNumbers[] Numbers, int[] Lists, Galley Galley)
    {
        /// <summary>What answered its readings, in each pass that it was of: a galley that names no page is the same in all.</summary>
        public List<(AnsweredBy By, int Used)> Answered { get; } = [];
        public int Used { get; set; }

        /// <summary>Whether this pass answers it as one before did.</summary>
        public bool IsAnswered(PassAnswers answers, int generation)
        {
            var at = Answered.FindIndex(a => answers.AreThoseOf(a.By));
            if (at < 0)
                return false;
            Answered[at] = Answered[at] with { Used = generation };
            return true;
        }
    }

    private sealed record LinesEntry(List<TextLine> Lines)
    {
        public int Used { get; set; }
    }

    /// <summary>Lines of a generated list that say the same.</summary>
    internal List<TextLine> Lines(string key, Func<List<TextLine>> make)
    {
        var entry = _lines.GetOrAdd(key, static (_, make) => new LinesEntry(make()), make);
        entry.Used = _generation;
        return entry.Lines;
    }

    private (Look Look, IReadOnlyList<OwnList> Lists, OwnIndexDress? Index, Look Worn)? _worn;

    /// <summary>The look with the manual's own lists in it; the same object while neither changes.</summary>
    internal Look Worn(Look look, Manual manual)
    {
        if (
            _worn is not { } worn
            || !ReferenceEquals(worn.Look, look)
            || !ReferenceEquals(worn.Lists, manual.Lists)
            || !ReferenceEquals(worn.Index, manual.IndexDress)
        )
            _worn = worn = (look, manual.Lists, manual.IndexDress, look.WornBy(manual));
        return worn.Worn;
    }

    /// <summary>Called once a composition: what the last two did not use is dropped.</summary>
    internal void NextGeneration(Look look, Manual manual)
    {
        _generation++;
        Stamps.NextGeneration();
        if (_lines.Count > MostLines)
            foreach (var (key, entry) in _lines)
                if (entry.Used < _generation - 2)
                    _lines.TryRemove(key, out _);
        if (_blocks.Count > manual.Divisions.Count)
        {
            var there = manual.Divisions.Select(d => d.Id).ToHashSet();
            foreach (var id in _blocks.Keys)
                if (!there.Contains(id))
                    _blocks.TryRemove(id, out _);
        }
        if (!ReferenceEquals(_exceptions, manual.HyphenationExceptions))
            _hyphenators.Clear();
        if (
            ReferenceEquals(_look, look)
            && ReferenceEquals(_assets, manual.Assets)
            && ReferenceEquals(_exceptions, manual.HyphenationExceptions)
            && _passages.SequenceEqual(manual.Passages.Select(p => p.Name))
        )
            return;
        (_look, _assets, _exceptions, _passages) = (
            look,
            manual.Assets,
            manual.HyphenationExceptions,
            manual.Passages.Select(p => p.Name).ToArray()
        );
        _galleys = [];
        foreach (var blocks in _blocks.Values)
            blocks.Forget();
        _openings = [];
        _turns = new KnownTurns();
        _lines = new(StringComparer.Ordinal);
    }

    /// <summary>The patterns of a language with the manual's exceptions.</summary>
    internal Hyphenator? Hyphenator(string language) => _hyphenators.GetOrAdd(language, l => Type.Hyphenator.For(l) is { } patterns
                ? _exceptions.Count > 0
                    ? patterns.With(_exceptions)
                    : patterns
                : null);

    internal DivisionReads Reads(Division division) => _reads.GetValue(division, DivisionReads.Of);

    private (DivisionReads[] Of, Dictionary<Id, int> In) _references = ([], []);

    /// <summary>The division, by its index, that each cross-reference stands in; the first for one that stands in two.</summary>
    internal IReadOnlyDictionary<Id, int> ReferenceIn(ManualNumbers numbers)
    {
        var reads = new DivisionReads[numbers.Divisions.Count];
        for (var d = 0; d < reads.Length; d++)
            reads[d] = Reads(numbers.Divisions[d].Division);
        var was = _references.Of;
        var same = was.Length == reads.Length;
        for (var d = 0; same && d < reads.Length; d++)
            same =
                ReferenceEquals(was[d], reads[d])
                || was[d].References.Select(r => r.Id).SequenceEqual(reads[d].References.Select(r => r.Id));
        if (same)
            return (_references = (reads, _references.In)).In;
        var found = new Dictionary<Id, int>();
        for (var d = 0; d < reads.Length; d++)
            foreach (var reference in reads[d].References)
                found.TryAdd(reference.Id, d);
        return (_references = (reads, found)).In;
    }

    /// <summary>What of a division's own words would come out wrong.</summary>
    internal LooseEnd[] LooseEnds(DivisionNumbers numbers, Func<LooseEnd[]> find) => _looseEnds.GetValue(numbers, _ => find());

    internal LooseEnd[] LooseEnds(IndexTree tree, Func<LooseEnd[]> find) => _indexLooseEnds.GetValue(tree, _ => find());

    /// <summary>The pages of a stretch cut so, for what they read.</summary>
    internal StretchPages Pages(Cut cut, StretchPages.Read read, Func<StretchPages.Read, StretchPages> make)
    {
        if (_pages.TryGetValue(cut, out var kept) && kept.Of.Same(read))
            return kept;
        var pages = make(read);
        _pages.AddOrUpdate(cut, pages);
        return pages;
    }

    /// <summary>Whether two cuts of a stretch, in passes that follow, have everything on the same page.</summary>
    internal bool SamePlaces(Cut before, Cut now)
    {
        if (_compared.TryGetValue(now, out var known) && ReferenceEquals(known.Item1, before))
            return known.Item2;
        var same = now.SamePlaces(before);
        _compared.AddOrUpdate(now, Tuple.Create(before, same));
        return same;
    }

    /// <summary>The blocks of a division.</summary>
    internal KeptBlocks Blocks(Division division) => _blocks.GetOrAdd(division.Id, static _ => new KeptBlocks());

    internal int Generation => _generation;

    internal SetBlock Opening(SettingContext context, DivisionNumbers numbers) =>
        _openings.GetValue(numbers, n => BlockSetter.Opening(context, n));

    internal Cut Cut(Galley galley, Look look, bool onRecto)
    {
        var sides = _cuts.GetValue(galley, static _ => new Cut?[2]);
        return sides[onRecto ? 0 : 1] ??= PageCutter.Cut(galley, look, onRecto, _turns);
    }

    /// <summary>The galley of these divisions, as long as all that their blocks asked of other places is answered the same;
    /// <paramref name="make"/> when none is known.</summary>
    /// <param name="contexts">one for each division</param>
    /// <param name="answers">what can be asked in this pass</param>
    /// <param name="from">index of the first of these divisions</param>
    internal Galley Galley(
        DivisionNumbers[] numbers,
        SettingContext[] contexts,
        int[] lists,
        PassAnswers answers,
        int from,
        Func<Galley> make
    )
    {
        var entries = _galleys.GetOrCreateValue(numbers[0].Division);
        bool IsOfThese(GalleyEntry e) => e.Numbers.AsSpan().SequenceEqual(numbers) && e.Lists.AsSpan().SequenceEqual(lists);
        // What is known without asking comes first.
        var entry = entries.Find(e => IsOfThese(e) && e.IsAnswered(answers, _generation));
        if (entry is null)
        {
            entry = entries.Find(e => IsOfThese(e) && e.Answered.Exists(a => answers.Hold(e.Galley, a.By, from, contexts, numbers)));
            if (entry is null)
            {
                entries.RemoveAll(e => e.Used < _generation - 1);
                entries.Add(entry = new GalleyEntry(numbers, lists, make()));
            }
            entry.Answered.RemoveAll(a => a.Used < _generation - 1);
            entry.Answered.Add((answers.By(entry.Galley, from, numbers.Length), _generation));
        }
        entry.Used = _generation;
        return entry.Galley;
    }
}

/// <summary>What a division prints of other places and of pages: its cross-references, variables and notes, in order; notes
/// of tables stand under their table and are not among them. And which of its blocks are lists of what stands elsewhere.</summary>
internal sealed record DivisionReads(
    CrossReference[] References,
    string[] Variables,
    Footnote[] Notes,
    Block[] Lists,
    ReferenceList[] Documents,
    CrossReference[] Citations
)
{
    public bool HasIndex { get; } = Lists.Any(b => b is IndexList);

    public static DivisionReads Of(Division division)
    {
        var references = new List<CrossReference>();
        var variables = new List<string>();
        var notes = new List<Footnote>();
        foreach (var block in division.Blocks)
        foreach (var inner in block.WithInner())
        foreach (var span in inner.OwnSpans())
        foreach (var inline in Walk.Flat(span))
            if (inline is CrossReference reference)
                references.Add(reference);
            else if (inline is VariableUse variable)
                variables.Add(variable.Name);
            else if (inline is Footnote note && inner is not Table)
                notes.Add(note);
        return new DivisionReads(
            [.. references],
            [.. variables],
            [.. notes],
            [.. division.Blocks.Where(b => b is ContentsList or IndexList)],
            [.. division.Blocks.OfType<ReferenceList>()],
            IsNormative(division) ? [.. division.Blocks.SelectMany(Cited)] : []
        );
    }

    /// <summary>Terms and definitions bind as clauses do (ISO/IEC Directives, Part 2, 16); a preface and an informative annex do
    /// not.</summary>
    private static bool IsNormative(Division division) =>
        division.Kind != DivisionKind.Preface
        && !(division.Kind == DivisionKind.Appendix && division.Title.Contains("informative", StringComparison.OrdinalIgnoreCase));

    /// <summary>References in text that binds its reader: what notes, tips, examples and footnotes say does not.</summary>
    private static IEnumerable<CrossReference> Cited(Block block) =>
        block is Admonition { Kind: AdmonitionKind.Note or AdmonitionKind.Tip } or Example
            ? []
            : block.OwnSpans().SelectMany(s => s.OfType<CrossReference>()).Concat(block.InnerBlocks().SelectMany(Cited));
}
