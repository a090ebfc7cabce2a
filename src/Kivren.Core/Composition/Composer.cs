using System.Globalization;
using System.IO.Hashing;
using System.Runtime.InteropServices;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Lists;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;
using Kivren.Core.Selection;

namespace Kivren.Core.Composition;

/// <summary>Composes a manual: select, number, set, stack, cut, and again until every printed number agrees with the page
/// it names (composition.md 9). One algorithm; the caches only spare what was done before.</summary>
public sealed class Composer
{
    /// <summary>Passes before blocks that do not come to rest are held, and the pass at which something is wrong with
    /// the engine itself.</summary>
    private const int FreePasses = 8, MostPasses = 200;

    private readonly SelectedText _text;
    private readonly Look _look;
    private readonly ManualNumbers _numbers;
    private readonly IndexTree _index;
    private readonly CompositionCaches _caches;
    private readonly Dictionary<int, Holds> _holds = [];
    private readonly Action<string>? _step;

    private Composer(Manual manual, Edition edition, Look look, CompositionCaches caches, Action<string>? step)
    {
        _caches = caches;
        _step = step;
        _look = look;
        _text = Selector.Select(manual, edition, caches.Selection);
        _step?.Invoke("select");
        _numbers = ManualNumbers.Of(_text, look, caches.Numbering);
        _step?.Invoke("number");
        _index = IndexTree.Of(_text, caches.Entries);
        _step?.Invoke("index");
    }

    /// <summary>The settled composition.</summary>
    /// <param name="caches">of earlier compositions, or null for a composition from nothing; the result is the same</param>
    /// <param name="step">told when each step is done, for measuring</param>
    public static ComposedManual Compose(Manual manual, Edition edition, Look look, CompositionCaches? caches = null, Action<string>? step = null, CancellationToken cancel = default)
    {
        caches ??= new CompositionCaches();
        caches.NextGeneration();
        return new Composer(manual, edition, look, caches, step).Settle(cancel);
    }

    private ComposedManual Settle(CancellationToken cancel)
    {
        var scheme = new FolioScheme(0);
        IReadOnlyList<DivisionPages>? previous = null;
        Galley[]? previousGalleys = null;
        for (var pass = 1; ; pass++)
        {
            if (pass > MostPasses) throw new InvalidOperationException("The composition did not settle; this is a fault of the engine.");
            var table = new PageTable(_numbers, previous, scheme);
            var galleys = Galleys(table, cancel);
            if (pass > FreePasses && previousGalleys is not null && HoldWhatMoves(previousGalleys, galleys)) galleys = Galleys(table, cancel);
            _step?.Invoke("set");
            var cuts = new Cut[galleys.Length];
            Parallel.For(0, galleys.Length, new ParallelOptions { CancellationToken = cancel }, d => cuts[d] = _caches.Cut(galleys[d], _look));
            _step?.Invoke("cut");
            var (divisions, found) = Assemble(cuts);
            if (previous is not null && PageTable.Same(previous, divisions, scheme, found)) return Finish(divisions, found, pass);
            previous = divisions;
            previousGalleys = galleys;
            scheme = found;
        }
    }

    // ---- galleys ----

    private Galley[] Galleys(PageTable table, CancellationToken cancel)
    {
        var context = new SettingContext(_text, _numbers, _look, table.Folio);
        var galleys = new Galley[_numbers.Divisions.Count];
        Parallel.For(0, galleys.Length, new ParallelOptions { CancellationToken = cancel }, d => galleys[d] = GalleyOf(d, context, table));
        return galleys;
    }

    private Galley GalleyOf(int d, SettingContext context, PageTable table)
    {
        var numbers = _numbers.Divisions[d];
        var division = numbers.Division;
        var reads = _caches.Reads(division);
        var printed = new List<string>(reads.References.Length + reads.Variables.Length);
        foreach (var reference in reads.References) printed.Add(context.Print(reference) + "\u001e" + context.TargetOf(reference).Value);
        foreach (var variable in reads.Variables) printed.Add(context.Variable(variable) ?? "\u0000");
        List<ContentsEntry>? contents = null;
        List<IndexLine>? lines = null;
        foreach (var block in division.Blocks)
        {
            if (block is ContentsList)
            {
                contents = ContentsEntry.Of(_numbers, table.Folio);
                foreach (var e in contents) printed.Add(e.Number + "\u001f" + e.Title + "\u001f" + e.Folio + "\u001f" + e.Target.Value);
            }
            else if (block is IndexList)
            {
                lines = GeneratedLists.IndexLines(_index, table.Locate);
                foreach (var l in lines)
                {
                    var key = new System.Text.StringBuilder().Append(l.Depth).Append(l.Text).Append('\u001f').Append(l.See).Append('\u001f').Append(l.SeeAlso);
                    foreach (var (text, target, principal) in l.Locators) key.Append('\u001f').Append(text).Append(principal ? '*' : ' ').Append(target.Value);
                    printed.Add(key.ToString());
                }
            }
        }
        _holds.TryGetValue(d, out var holds);
        Galley Make() => Stack(numbers, context, contents, lines, holds);
        return holds is not null ? Make() : _caches.Galley(numbers, _look, _text.Manual.Assets, [.. printed], Make);
    }

    private Galley Stack(DivisionNumbers numbers, SettingContext context, List<ContentsEntry>? contents, List<IndexLine>? lines, Holds? holds)
    {
        var division = numbers.Division;
        var set = new List<SetBlock>(division.Blocks.Count + 1);
        var forced = new HashSet<int>();
        if (division.Kind is not (DivisionKind.TitlePage or DivisionKind.Legal)) set.Add(_caches.Opening(context, numbers));
        Block? before = null;
        Head? runIn = null;
        var force = false;
        foreach (var block in division.Blocks)
        {
            if (block is PageBreak)
            {
                force = true;
                continue;
            }
            if (block is Head head && head.Level == _look.RunIn)
            {
                if (runIn is not null) set.Add(SetOne(runIn, null, numbers, context, false));
                runIn = head;
                continue;
            }
            if (runIn is not null && block is not Paragraph)
            {
                set.Add(SetOne(runIn, null, numbers, context, false));
                before = runIn;
                runIn = null;
            }
            if (force) forced.Add(set.Count);
            force = false;
            set.Add(block switch
            {
                ContentsList => GeneratedLists.Contents(block.Id, contents!, _look),
                IndexList => GeneratedLists.Index(block.Id, lines!, _look),
                _ => SetOne(block, runIn, numbers, context, flush: before is not Paragraph),
            });
            runIn = null;
            before = block;
        }
        if (runIn is not null) set.Add(SetOne(runIn, null, numbers, context, false));
        var columns = division.Blocks.Any(b => b is IndexList) ? 2 : 1;
        return Galley.Stack(set, holds, id => numbers.ById.TryGetValue(id, out var target) ? target.Number : "", forced, columns);
    }

    private SetBlock SetOne(Block block, Head? runIn, DivisionNumbers numbers, SettingContext context, bool flush)
    {
        var key = _caches.Reads(block).Key(context, numbers);
        return _caches.Block(block, key, flush, runIn, _look, _text.Manual.Assets, () => BlockSetter.Set(context, numbers, block, flush, runIn, key));
    }

    private bool HoldWhatMoves(Galley[] before, Galley[] now)
    {
        var any = false;
        for (var d = 0; d < now.Length; d++)
        {
            if (ReferenceEquals(before[d], now[d])) continue;
            for (var b = 0; b < Math.Min(before[d].Blocks.Count, now[d].Blocks.Count); b++)
            {
                if (ReferenceEquals(before[d].Blocks[b], now[d].Blocks[b])) continue;
                if (!_holds.TryGetValue(d, out var holds)) _holds.Add(d, holds = new Holds());
                holds.Hold(b, before[d].Blocks[b].Pieces);
                any = true;
            }
        }
        return any;
    }

    // ---- assembly ----

    private (DivisionPages[] Divisions, FolioScheme Scheme) Assemble(Cut[] cuts)
    {
        var divisions = new DivisionPages[cuts.Length];
        var sheet = 0;
        var bodyStart = -1;
        for (var d = 0; d < cuts.Length; d++)
        {
            var division = _numbers.Divisions[d].Division;
            if (division.Kind != DivisionKind.Legal && sheet % 2 == 1) sheet++; // begins on a recto
            if (bodyStart < 0 && division.Matter != Matter.Front) bodyStart = sheet;
            divisions[d] = new DivisionPages(_numbers.Divisions[d], cuts[d], sheet);
            sheet += cuts[d].Pages.Length;
        }
        return (divisions, new FolioScheme(Math.Max(0, bodyStart)));
    }

    private ComposedManual Finish(IReadOnlyList<DivisionPages> divisions, FolioScheme scheme, int passes)
    {
        var pages = new List<ComposedPage>();
        var loose = new List<LooseEnd>();
        for (var d = 0; d < divisions.Count; d++)
        {
            var division = divisions[d];
            while (pages.Count < division.FirstSheet) pages.Add(Blank(pages.Count, Math.Max(0, d - 1), divisions, scheme));
            loose.AddRange(division.Cut.Galley.LooseEnds);
            GalleyHead? inForce = null;
            var saidNoHead = false;
            for (var p = 0; p < division.Cut.Pages.Length; p++)
            {
                var body = division.Cut.Pages[p];
                var sheet = division.FirstSheet + p;
                for (var h = body.FirstHead; h < body.FirstHead + body.HeadCount; h++)
                    if (division.Cut.Galley.Heads[h].Level == HeadLevel.A) inForce = division.Cut.Galley.Heads[h];
                var folio = scheme.Folio(division.Numbers, sheet, division.FirstSheet);
                var furniture = RunningHeads.Of(_look, division.Numbers, sheet, p, folio, inForce, loose, ref saidNoHead);
                if (body.GaveUp is { } gaveUp)
                    loose.Add(new LooseEnd(LooseEndKind.KeepGivenUp, division.Numbers.Division.Id, body.FirstBlock, gaveUp, $"At the foot of page {folio}, {gaveUp}. Reword or move something nearby."));
                pages.Add(new ComposedPage
                {
                    Sheet = sheet,
                    Folio = folio,
                    Division = d,
                    Body = body,
                    Cut = division.Cut,
                    Furniture = furniture,
                    Reason = p == division.Cut.Pages.Length - 1 && d + 1 < divisions.Count ? body.Reason : body.Reason,
                    Key = KeyOf(body.BodyKey, furniture, sheet),
                });
            }
        }
        TextualLooseEnds.Find(_text, _numbers, _index, loose);
        _step?.Invoke("furniture");
        return new ComposedManual
        {
            Text = _text,
            Look = _look,
            Numbers = _numbers,
            Index = _index,
            Pages = pages,
            Divisions = divisions,
            LooseEnds = loose,
            Passes = passes,
            Held = _holds.Values.Sum(h => h.Count),
        };
    }

    private static ComposedPage Blank(int sheet, int division, IReadOnlyList<DivisionPages> divisions, FolioScheme scheme) => new()
    {
        Sheet = sheet,
        Folio = scheme.Folio(divisions[division].Numbers, sheet, divisions[division].FirstSheet),
        Division = division,
        Body = null,
        Cut = null,
        Furniture = null,
        Reason = "Blank: the next division starts on a recto.",
        Key = "blank",
    };

    private string KeyOf(ulong body, Furniture? furniture, int sheet)
    {
        var hash = new XxHash128();
        ReadOnlySpan<ulong> numbers = [body, (ulong)(sheet % 2)];
        hash.Append(MemoryMarshal.AsBytes(numbers));
        hash.Append(MemoryMarshal.AsBytes($"{_look.Name}\u001f{furniture?.HeadLeft}\u001f{furniture?.HeadRight}\u001f{furniture?.Folio}\u001f{furniture?.FootFolio}".AsSpan()));
        return hash.GetCurrentHashAsUInt128().ToString("x32", CultureInfo.InvariantCulture);
    }
}
