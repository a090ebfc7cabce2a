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
    /// <summary>Passes before blocks that do not come to rest are held, and the pass after which they are left as they stand.</summary>
    private const int FreePasses = 8,
        MostPasses = 200;

    private readonly SelectedText _text;
    private readonly Look _look;
    private readonly ManualNumbers _numbers;
    private readonly IndexTree _index;
    private readonly CompositionCaches _caches;
    private readonly Dictionary<int, Holds> _holds = [];
    private readonly Action<string>? _step;
    private readonly IReadOnlyDictionary<Id, int> _referenceIn;

    /// <summary>Divisions that are cut together: from one that begins a page up to the next.</summary>
    private readonly List<(int From, int End)> _stretches = [];

    /// <param name="now">the text as it is composed now: what of it the look leaves as it is need not be found again</param>
    private Composer(Manual manual, Edition edition, Look look, CompositionCaches caches, Action<string>? step, ComposedManual? now = null)
    {
        _caches = caches;
        _step = step;
        look = look.In(edition.Language ?? manual.Language);
        _look = look;
        var sameText = now is not null && look.ReadsAs(now.Look);
        _text = sameText ? now!.Text : Selector.Select(manual, edition, caches.Selection, look.TextRules);
        _step?.Invoke("select");
        _numbers = sameText && look.CountsAs(now!.Look) ? now.Numbers : ManualNumbers.Of(_text, look, caches.Numbering);
        _step?.Invoke("number");
        _index =
            sameText && look.Index.LetterByLetter == now!.Look.Index.LetterByLetter
                ? now.Index
                : caches.Index.Tree(_text, look.Index.LetterByLetter);
        _step?.Invoke("index");
        _referenceIn = caches.ReferenceIn(_numbers);
        for (var d = 0; d < _numbers.Divisions.Count; d++)
            if (d > 0 && RunsOn(d))
                _stretches[^1] = (_stretches[^1].From, d + 1);
            else
                _stretches.Add((d, d + 1));
    }

    /// <summary>Whether a division goes on where the one before it ends. A page has one layout: text never shares the bare page of a
    /// title or a legal notice.</summary>
    private bool RunsOn(int d) =>
        _look.BeginsOf(_numbers.Divisions[d].Division) == Begins.RunsOn
        && PageOf(d) is var page
        && PageOf(d - 1) is var before
        && page.Name == before.Name
        && page.Columns == before.Columns;

    /// <summary>The layout that a division is set for.</summary>
    private PageMaster PageOf(int d)
    {
        var division = _numbers.Divisions[d].Division;
        return _caches.Reads(division).HasIndex ? _look.IndexPage(division.Kind) : _look.MasterOf(division.Kind);
    }

    /// <summary>The settled composition.</summary>
    /// <param name="caches">of earlier compositions, or null for a composition from nothing; the result is the same</param>
    /// <param name="step">told when each step is done, for measuring</param>
    public static ComposedManual Compose(
        Manual manual,
        Edition edition,
        Look look,
        CompositionCaches? caches = null,
        Action<string>? step = null,
        CancellationToken cancel = default
    )
    {
        caches ??= new CompositionCaches();
        var worn = caches.Worn(look.For(edition.Medium), manual);
        caches.NextGeneration(worn, manual);
        return new Composer(manual, edition, worn, caches, step).Settle(cancel);
    }

    /// <summary>The pages about one division as they come out in another look, seen before anything else is made in it: numbers,
    /// references and what stands before it are as in <paramref name="now"/>.</summary>
    /// <param name="division">index in the selected text</param>
    /// <param name="page">of the division, counted from its first, that is in sight: pages well behind it are not made</param>
    /// <param name="caches">of earlier glimpses</param>
    public static IReadOnlyList<ComposedPage> Glimpse(
        ComposedManual now,
        Look look,
        int division,
        int page,
        CompositionCaches caches,
        CancellationToken cancel = default
    )
    {
        var manual = now.Text.Manual;
        var worn = caches.Worn(look.For(now.Text.Edition.Medium), manual);
        caches.NextGeneration(worn, manual);
        return new Composer(manual, now.Text.Edition, worn, caches, null, now).Glimpse(now, division, page, cancel);
    }

    /// <summary>Pages behind the one in sight that are made all the same: what stands on them may draw text back or push it on.</summary>
    private const int PagesBehind = 4;

    private ComposedPage[] Glimpse(ComposedManual now, int division, int page, CancellationToken cancel)
    {
        var s = _stretches.FindIndex(stretch => division < stretch.End);
        var (from, end) = _stretches[s];
        var scheme = FolioScheme.Of(now.Divisions, _look);
        var answers = new PassAnswers(_text, _numbers, _caches.Stamps.Of(_numbers, now.Divisions, scheme));
        var layout = PageOf(from);
        var enough = end - from > 1 ? long.MaxValue : (Math.Max(0L, page) + PagesBehind) * layout.Depth.Millipoints * layout.Columns;
        var galley = GalleyOf(s, Table(now.Divisions, scheme), answers, enough);
        cancel.ThrowIfCancellationRequested();
        var sheet = Sided(now.Divisions[from].FirstSheet, BeginningOf(s));
        var divisions = now.Divisions.ToArray();
        Place(_caches.Cut(galley, _look, sheet % 2 == 0), from, end, sheet, divisions);
        scheme = FolioScheme.Of(divisions, _look);
        var read = StretchPages.Read.By(_text, divisions, scheme, from, end, now.Pages.Count);
        return PagesOf(read, end, divisions, scheme, now.Pages.Count).Pages;
    }

    private ComposedManual Settle(CancellationToken cancel)
    {
        FolioScheme? scheme = null;
        IReadOnlyList<DivisionPages>? previous = null;
        Galley[]? previousGalleys = null;
        for (var pass = 1; ; pass++)
        {
            var table = Table(previous, scheme);
            var answers = new PassAnswers(_text, _numbers, _caches.Stamps.Of(_numbers, previous, scheme));
            var galleys = Galleys(table, answers, cancel);
            if (pass > FreePasses && previousGalleys is not null && HoldWhatMoves(previousGalleys, galleys))
                galleys = Galleys(table, answers, cancel);
            _step?.Invoke("set");
            var divisions = Assemble(galleys, cancel);
            var found = FolioScheme.Of(divisions, _look);
            _step?.Invoke("cut");
            if (
                previous is not null
                && scheme!.Same(found)
                && PageTable.Same(previous, divisions, _caches.SamePlaces)
                && NotesAgree(previous, divisions)
            )
                return Finish(divisions, found, pass, cancel);
            // What moves even so is held as it is now, and told: pages that are nearly right beat none.
            if (pass == MostPasses)
                return Finish(divisions, found, pass, cancel, settled: false);
            previous = divisions;
            previousGalleys = galleys;
            scheme = found;
        }
    }

    private PageTable Table(IReadOnlyList<DivisionPages>? divisions, FolioScheme? scheme) =>
        new(_numbers, divisions, scheme, _look, _referenceIn);

    /// <summary>Notes counted by page stand in the same table: they agree when every page calls the same notes.</summary>
    private bool NotesAgree(IReadOnlyList<DivisionPages> a, IReadOnlyList<DivisionPages> b)
    {
        if (_look.Numbering.NotesBy != CountScope.Page)
            return true;
        static IEnumerable<Id> Notes(DivisionPages d) =>
            d.Cut.Pages.SelectMany(p => p.Notes.Where(n => n.From == 0).Select(n => n.Note.Id).Prepend(Id.None));
        for (var d = 0; d < a.Count; d++)
            if (!ReferenceEquals(a[d].Cut, b[d].Cut) && !Notes(a[d]).SequenceEqual(Notes(b[d])))
                return false;
        return true;
    }

    // ---- galleys ----

    private Galley[] Galleys(PageTable table, PassAnswers answers, CancellationToken cancel)
    {
        var galleys = new Galley[_stretches.Count];
        Parallel.For(0, galleys.Length, new ParallelOptions { CancellationToken = cancel }, s => galleys[s] = GalleyOf(s, table, answers));
        return galleys;
    }

    private SettingContext Context(PageTable table, DivisionNumbers numbers) =>
        new(_text, _numbers, _look, table, id => table.NoteNumber(numbers, id), _caches.Hyphenator);

    /// <param name="enough">height after which no more of it is set</param>
    private Galley GalleyOf(int s, PageTable table, PassAnswers answers, long enough = long.MaxValue)
    {
        var (from, end) = _stretches[s];
        var numbers = new DivisionNumbers[end - from];
        var contexts = new SettingContext[end - from];
        for (var d = from; d < end; d++)
            (numbers[d - from], contexts[d - from]) = (_numbers.Divisions[d], Context(table, _numbers.Divisions[d]));
        var lists = new List<int>();
        var generated = new Generated[end - from];
        for (var d = from; d < end; d++)
            generated[d - from] = ListsOf(d, table, answers, lists);
        _holds.TryGetValue(s, out var holds);
        var stacking = new Stacking(_look, _caches, numbers, contexts, generated, PageOf(from), holds);
        return holds is not null || enough < long.MaxValue
            ? stacking.Stack(enough)
            : _caches.Galley(numbers, contexts, [.. lists], answers, from, () => stacking.Stack());
    }

    /// <summary>What a division's lists say in this pass; each list that says something else has another serial.</summary>
    private Generated ListsOf(int d, PageTable table, PassAnswers answers, List<int> serials)
    {
        Dictionary<Id, List<ContentsEntry>>? contents = null;
        List<IndexLine>? lines = null;
        foreach (var block in _caches.Reads(_numbers.Divisions[d].Division).Lists)
            if (block is ContentsList list)
            {
                contents ??= [];
                contents[block.Id] = [];
                if (_look.List(list.List) is not { } definition)
                    continue;
                var entries = _caches.Contents.Of(block.Id, definition, _numbers, d, table.Folio, answers.Stamps);
                contents[block.Id] = entries.Entries;
                serials.Add(entries.Serial);
            }
            else
            {
                var index = _caches.Index.Lines(_index, _look.Index, table.Locate, _numbers, answers.Stamps);
                lines = index.Lines;
                serials.Add(index.Serial);
            }
        return new Generated(contents, lines);
    }

    private bool HoldWhatMoves(Galley[] before, Galley[] now)
    {
        var any = false;
        for (var s = 0; s < now.Length; s++)
        {
            if (ReferenceEquals(before[s], now[s]))
                continue;
            for (var b = 0; b < Math.Min(before[s].Blocks.Count, now[s].Blocks.Count); b++)
            {
                if (ReferenceEquals(before[s].Blocks[b], now[s].Blocks[b]))
                    continue;
                if (!_holds.TryGetValue(s, out var holds))
                    _holds.Add(s, holds = new Holds());
                holds.Hold(b, before[s].Blocks[b].Pieces);
                any = true;
            }
        }
        return any;
    }

    // ---- assembly ----

    /// <summary>Whether pages come out otherwise on the other side: then a stretch waits for the one before it.</summary>
    private bool MindsSide(Galley galley)
    {
        if (_look.LevelFacing && galley.Page.Mirrored && galley.Columns == 1)
            return true;
        foreach (ref readonly var piece in galley.Pieces.AsSpan())
            if (piece.Forced is BreakTo.Recto or BreakTo.Verso)
                return true;
        return false;
    }

    private DivisionPages[] Assemble(Galley[] galleys, CancellationToken cancel)
    {
        var cuts = new Cut?[galleys.Length];
        var begins = Enumerable.Range(0, galleys.Length).Select(BeginningOf).ToArray();
        Parallel.For(0, galleys.Length, new ParallelOptions { CancellationToken = cancel }, s =>
        {
            if (begins[s] is Begins.Recto or Begins.Verso || s == 0 || !MindsSide(galleys[s]))
                cuts[s] = _caches.Cut(galleys[s], _look, begins[s] != Begins.Verso);
        });
        var divisions = new DivisionPages[_numbers.Divisions.Count];
        var sheet = 0;
        for (var s = 0; s < galleys.Length; s++)
        {
            sheet = Sided(sheet, begins[s]);
            var cut = cuts[s] ?? _caches.Cut(galleys[s], _look, sheet % 2 == 0);
            Place(cut, _stretches[s].From, _stretches[s].End, sheet, divisions);
            sheet += cut.Pages.Length;
        }
        return divisions;
    }

    private Begins BeginningOf(int stretch) => _look.BeginsOf(_numbers.Divisions[_stretches[stretch].From].Division);

    /// <summary>The sheet, or the next where what begins on a side would begin on the other.</summary>
    private static int Sided(int sheet, Begins begins) =>
        (begins == Begins.Recto && sheet % 2 == 1) || (begins == Begins.Verso && sheet % 2 == 0) ? sheet + 1 : sheet;

    /// <summary>The divisions of a stretch on its pages.</summary>
    private void Place(Cut cut, int from, int end, int sheet, DivisionPages[] divisions)
    {
        var pageOf = cut.PageOf;
        for (var d = from; d < end; d++)
        {
            var opening = cut.Galley.Openings[d - from];
            var first =
                d == from ? 0
                : opening < pageOf.Length ? pageOf[opening]
                : Math.Max(0, cut.Pages.Length - 1);
            var last = cut.Pages.Length;
            if (d + 1 < end && cut.Galley.Openings[d + 1 - from] is var next && next < pageOf.Length)
                // The next division may begin on this one's last page, or at the head of its own.
                last = next > 0 && pageOf[next - 1] == pageOf[next] ? pageOf[next] + 1 : Math.Max(first + 1, pageOf[next]);
            divisions[d] = new DivisionPages(_numbers.Divisions[d], cut, sheet, first, last);
        }
    }

    private ComposedManual Finish(
        IReadOnlyList<DivisionPages> divisions,
        FolioScheme scheme,
        int passes,
        CancellationToken cancel,
        bool settled = true
    )
    {
        var pages = new List<ComposedPage>();
        var loose = new List<LooseEnd>();
        var total = divisions.Count == 0 ? 0 : divisions[^1].StretchSheet + divisions[^1].Cut.Pages.Length;
        var named = _look.NamesTotal ? total : 0;
        var made = new StretchPages[_stretches.Count];
        Parallel.For(0, made.Length, new ParallelOptions { CancellationToken = cancel }, s =>
        {
            var (from, end) = _stretches[s];
            var read = StretchPages.Read.By(_text, divisions, scheme, from, end, named);
            made[s] = _caches.Pages(divisions[from].Cut, read, r => PagesOf(r, end, divisions, scheme, total));
        });
        for (var s = 0; s < made.Length; s++)
        {
            var first = divisions[_stretches[s].From];
            while (pages.Count < first.StretchSheet)
                pages.Add(Blank(pages.Count, Math.Max(0, _stretches[s].From - 1), scheme));
            loose.AddRange(first.Cut.Galley.LooseEnds);
            pages.AddRange(made[s].Pages);
            loose.AddRange(made[s].LooseEnds);
        }
        // What a page layout does wrong is told once, not by every division that takes it.
        var told = new HashSet<string>(StringComparer.Ordinal);
        loose.RemoveAll(l => l.Kind == LooseEndKind.RunningHeadsMeet && !told.Add(l.Words));
        if (!settled && divisions.Count > 0)
            loose.Add(
                new LooseEnd(
                    LooseEndKind.NotSettled,
                    divisions[0].Numbers.Division.Id,
                    divisions[0].Numbers.Division.Id,
                    "",
                    "Some numbers and the pages they name chase each other without end; they are printed as they stood last. "
                        + "Reword a line near one of them."
                )
            );
        foreach (var own in divisions)
        foreach (var list in _caches.Reads(own.Numbers.Division).Lists.OfType<ContentsList>())
            if (_look.List(list.List) is { MostPages: > 0 } definition && own.End - own.First > definition.MostPages)
                loose.Add(
                    new LooseEnd(
                        LooseEndKind.ListTooLong,
                        own.Numbers.Division.Id,
                        list.Id,
                        own.Numbers.Division.Title,
                        $"This list fills {own.End - own.First} pages; {definition.MostPages} were allowed. Take a level out of "
                            + $"it, or set it smaller."
                    )
                );
        TextualLooseEnds.Find(_text, _numbers, _index, _look, _caches, loose);
        var places = Table(divisions, scheme);
        MissingCharacters.Gather(loose, places.Folio);
        var aside = _text.Manual.PutAside.ToLookup(p => (p.Kind, p.Block, p.Words), p => p.Reason);
        LooseEnd[] letBe =
            aside.Count == 0
                ? []
                :
                [
                    .. loose
                        .Select(l => l with { Aside = aside[(l.Kind.ToString(), l.Block, l.KnownBy)].FirstOrDefault() })
                        .Where(l => l.Aside is not null),
                ];
        if (letBe.Length > 0)
            loose.RemoveAll(l => aside.Contains((l.Kind.ToString(), l.Block, l.KnownBy)));
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
            LetBe = letBe,
            Passes = passes,
            Held = _holds.Values.Sum(h => h.Count),
            Places = places,
        };
    }

    /// <summary>The pages of a stretch with folios and running heads.</summary>
    private StretchPages PagesOf(StretchPages.Read read, int end, IReadOnlyList<DivisionPages> divisions, FolioScheme scheme, int total)
    {
        var from = read.From;
        var cut = divisions[from].Cut;
        var loose = new List<LooseEnd>();
        var running = new RunningMatter(_look, _text, divisions, from, total, loose);
        var pages = new ComposedPage[cut.Pages.Length];
        var division = from;
        for (var p = 0; p < pages.Length; p++)
        {
            var body = cut.Pages[p];
            var sheet = read.Sheet + p;
            while (
                division + 1 < end
                && (
                    divisions[division + 1].First < p
                    || (divisions[division + 1].First == p && BeginsPage(cut, body, cut.Galley.Openings[division + 1 - from]))
                )
            )
                division++;
            var folio = scheme.Folio(division, sheet);
            if (body.IsBlank)
            {
                pages[p] = Blank(sheet, division, scheme) with { Reason = body.Reason };
                continue;
            }
            var own = divisions[division];
            var place = new PagePlace(
                sheet % 2 == 0,
                Opens: own.First == p && body.Pieces.Length > 0,
                Ends: own.End == p + 1,
                Turned: body.IsTurned
            );
            var master = _look.MasterOf(own.Numbers.Division.Kind, place);
            var furniture = running.Of(body, cut, p, division, master, sheet % 2 == 0, folio);
            foreach (var gaveUp in body.GaveUp)
                loose.Add(
                    new LooseEnd(
                        gaveUp.IsFigure ? LooseEndKind.FigurePastSection : LooseEndKind.KeepGivenUp,
                        divisions[division].Numbers.Division.Id,
                        gaveUp.Block,
                        gaveUp.Words,
                        gaveUp.IsFigure
                            ? $"On page {folio}, {gaveUp.Words}: it found no room earlier. Move it up, or make it smaller."
                            : $"At the foot of page {folio}, {gaveUp.Words}. Reword or move something nearby."
                    )
                );
            pages[p] = new ComposedPage
            {
                Sheet = sheet,
                Folio = folio,
                FolioFormat = scheme.Divisions[division].Format,
                Division = division,
                Body = body,
                Cut = cut,
                Furniture = furniture,
                Reason = body.Reason,
                Master = master,
                Key = KeyOf(body.BodyKey, furniture, master, sheet),
            };
        }
        return new StretchPages(read, pages, [.. loose]);
    }

    private static bool BeginsPage(Cut cut, CutPage body, int opening) =>
        body.Pieces.Length > 0 && body.Pieces.Min(p => cut.Galley.Pieces[p.Piece].Floats ? int.MaxValue : p.Piece) == opening;

    private ComposedPage Blank(int sheet, int division, FolioScheme scheme) =>
        new()
        {
            Sheet = sheet,
            Folio = scheme.Folio(division, sheet),
            FolioFormat = scheme.Divisions[division].Format,
            Division = division,
            Body = null,
            Cut = null,
            Furniture = null,
            Master = _look.MasterOf(_numbers.Divisions[division].Division.Kind, new PagePlace(sheet % 2 == 0)),
            Blank = _look.Blank,
            Reason = "Blank: the next division starts on a recto.",
            Key = "blank" + LookStamp.Of(_look) + _numbers.Divisions[division].Division.Kind,
        };

    private string KeyOf(ulong body, Furniture? furniture, PageMaster master, int sheet)
    {
        var hash = new XxHash128();
        ReadOnlySpan<ulong> numbers = [body, (ulong)(sheet % 2)];
        hash.Append(MemoryMarshal.AsBytes(numbers));
        hash.Append(MemoryMarshal.AsBytes(LookStamp.Of(_look).AsSpan()));
        hash.Append(MemoryMarshal.AsBytes(master.Name.AsSpan()));
        foreach (var piece in master.Artwork)
            hash.Append(MemoryMarshal.AsBytes((_text.Manual.Assets.FirstOrDefault(a => a.Name == piece.Picture)?.Hash ?? "").AsSpan()));
        foreach (var field in furniture?.Fields ?? [])
        {
            hash.Append(MemoryMarshal.AsBytes((field.Picture?.Hash ?? field.Text).AsSpan()));
            ReadOnlySpan<int> place = [(int)field.Edge, (int)field.Place];
            hash.Append(MemoryMarshal.AsBytes(place));
        }
        return hash.GetCurrentHashAsUInt128().ToString("x32", CultureInfo.InvariantCulture);
    }
}
