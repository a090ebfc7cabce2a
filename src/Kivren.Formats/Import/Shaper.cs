using System.Text.RegularExpressions;
using Kivren.Core.Content;
using Kivren.Formats.Import.Sites;

namespace Kivren.Formats.Import;

/// <summary>What is asked of one shaping.</summary>
/// <param name="Seed">begins every id; no two imports share one</param>
public sealed record ShapeRequest(IReadOnlyList<SourceDocument> Documents, ImportMapping Mapping, string Seed)
{
    /// <summary>Roles of single paragraphs, by file number (from 0) and place.</summary>
    public IReadOnlyDictionary<(int File, int Place), string> Exceptions { get; init; } = new Dictionary<(int, int), string>();

    /// <summary>The places of the files in one book, as the writer has it; null for what the files say of it.</summary>
    public SiteTree? Tree { get; init; }

    /// <summary>What each file becomes; where it is not given, what the mapping says.</summary>
    public IReadOnlyList<string?> Becomes { get; init; } = [];
}

/// <summary>Where a block of the manual comes from.</summary>
public readonly record struct Origin(int File, int Place, string Line);

/// <summary>Source documents as parts of a manual, with all that a writer wants to see of how they became so.</summary>
public sealed record Shaped(IReadOnlyList<Division> Divisions, string Title)
{
    public required IReadOnlyList<MappingLine> Lines { get; init; }
    public required IReadOnlyList<ReportLine> Report { get; init; }
    public required IReadOnlyDictionary<Cleaning, int> Cleaned { get; init; }

    /// <summary>What stands right below the title, for the title page.</summary>
    public IReadOnlyList<string> Subtitles { get; init; } = [];

    /// <summary>The places of the files, where they are one book; null where each stands for itself.</summary>
    public SiteTree? Tree { get; init; }

    /// <summary>The file of each division, by its number.</summary>
    public required IReadOnlyList<int> FileOf { get; init; }

    /// <summary>Source of each block, at every depth.</summary>
    public required IReadOnlyDictionary<Id, Origin> Origins { get; init; }
    public required IReadOnlyList<Asset> Assets { get; init; }
    public required IReadOnlyDictionary<string, byte[]> Pictures { get; init; }

    /// <summary>The divisions as a manual of their own, with title page and contents list.</summary>
    public Manual ToManual(Func<Id> fresh, string look)
    {
        var words = LanguageWords.Of(Language);
        var front = new List<Division>();
        if (Divisions.All(d => d.Kind != DivisionKind.TitlePage))
            front.Add(
                new Division(
                    fresh(),
                    DivisionKind.TitlePage,
                    words["titlePage"],
                    [
                        new Paragraph(fresh(), "title", Title.Length > 0 ? [new TextRun(Title)] : []),
                        .. Subtitles.Select(s => new Paragraph(fresh(), "subtitle", [new TextRun(s)])),
                    ]
                )
                {
                    Language = Language,
                }
            );
        front.Add(new Division(fresh(), DivisionKind.Contents, words["contents"], [new ContentsList(fresh())]) { Language = Language });
        // Front matter of the files stands before the body, as a book has it.
        var divisions = front
            .Concat(Divisions.Where(d => d.Matter == Matter.Front))
            .Concat(Divisions.Where(d => d.Matter == Matter.Body))
            .Concat(Divisions.Where(d => d.Matter == Matter.Back))
            .ToList();
        if (Divisions.Any(d => d.Blocks.Any(b => b.Inlines().Any(i => i is IndexEntry))))
            divisions.Add(new Division(fresh(), DivisionKind.Index, words["index"], [new IndexList(fresh())]) { Language = Language });
        return new Manual(fresh(), Title.Length > 0 ? Title : Divisions.FirstOrDefault()?.Title ?? "Untitled", divisions)
        {
            Language = Language,
            Look = look,
            Assets = Assets,
        };
    }

    /// <summary>The language that most of the text is in.</summary>
    public string Language =>
        Divisions
            .GroupBy(d => d.Language)
            .OrderByDescending(g => g.Sum(d => d.Blocks.Count + 1))
            .Select(g => g.Key)
            .FirstOrDefault("en-GB");
}

/// <summary>Makes divisions and blocks out of source documents: roles by the mapping, lists and tables put together,
/// what was made by hand cleaned away, everything left out or changed reported.</summary>
public sealed partial class Shaper
{
    /// <summary>A manual nests no deeper; what does is kept as text.</summary>
    private const int MostDepth = 12;

    private readonly IReadOnlyList<SourceDocument> _documents;
    private readonly SiteFurniture.Found _furniture;
    private readonly SiteTree? _tree;
    private readonly ImportMapping _mapping;
    private readonly RolePlan _plan;
    private readonly ShapeWork _work;
    private readonly SpanShaper _spans;
    private readonly ShapeRequest _request;
    private readonly Dictionary<Id, Origin> _origins = [];
    private readonly List<(Division Division, int File)> _divisions = [];
    private string _title = "";
    private readonly List<string> _subtitles = [];

    private Shaper(ShapeRequest request)
    {
        _request = request;
        _furniture = request.Mapping.Off.Contains(Cleaning.Furniture)
            ? new SiteFurniture.Found(request.Documents, [])
            : SiteFurniture.LeaveOut(request.Documents);
        _documents = [.. IndexPages.TakenIn(_furniture.Documents).Select(LocalContents.LeftOut)];
        _tree = request.Tree is { } chosen ? chosen.Completed(_documents) : SiteTree.Propose(_documents);
        if (_tree is not null)
            _documents = SiteHeads.Ranked(_documents, _tree);
        _mapping = request.Mapping;
        _plan = new RolePlan(_documents, request.Mapping, request.Exceptions);
        _work = new ShapeWork(_documents, request.Seed);
        _spans = new SpanShaper(_plan, request.Mapping, _work);
    }

    /// <exception cref="OperationCanceledException">when <paramref name="cancel"/> was asked for</exception>
    public static Shaped Shape(ShapeRequest request, CancellationToken cancel = default) => new Shaper(request).All(cancel);

    private bool Cleans(Cleaning cleaning) => !_mapping.Off.Contains(cleaning);

    private Shaped All(CancellationToken cancel)
    {
        foreach (var (pages, words) in _furniture.LeftOut)
        {
            _work.Count(Cleaning.Furniture, pages);
            _work.Report(ReportKind.LeftOut, $"{pages} pages", "What recurs at the head or foot of the pages was left out.", words);
        }
        if (_tree is null)
            for (var d = 0; d < _documents.Count; d++)
                File(d, cancel);
        else
            Book(_tree, cancel);
        var titles = Titles();
        _work.Keep([
            .. _divisions.Select(d => d.Division.Id),
            .. _divisions
                .SelectMany(d => d.Division.Blocks)
                .SelectMany(b => b.WithInner())
                .SelectMany(b => b.Inlines().OfType<Anchor>().Select(a => a.Id).Prepend(b.Id)),
        ]);
        var resolved = _divisions
            .Select(d =>
                d.Division with
                {
                    Blocks = d
                        .Division.Blocks.Select(b =>
                        {
                            var paged = new HashSet<Id>();
                            return b.WithSpans(s => _work.Resolved(s, titles, new Place(d.File, PlaceOf(b)), paged));
                        })
                        .ToArray(),
                }
            )
            .ToArray();
        if (_title.Length == 0)
            _title = _documents.Select(d => d.Title).FirstOrDefault(t => t.Length > 0)
                ?? (_documents is [{ Site.WindowTitle: { Length: > 0 } shown }] ? shown : null)
                ?? (_divisions.Count == 1 ? _divisions[0].Division.Title : "");
        if (_title.Length == 0 && _documents.Count > 0)
            _title = NameOf(_documents[0]);
        return new Shaped(resolved, _title)
        {
            Subtitles = _subtitles,
            Tree = _tree,
            Lines = _plan.Lines,
            Report = [.. _documents.SelectMany(d => d.Met), .. _work.Lines],
            Cleaned = Enum.GetValues<Cleaning>().ToDictionary(c => c, _work.Counted),
            FileOf = _divisions.Select(d => d.File).ToArray(),
            Origins = _origins,
            Assets = _work.Assets,
            Pictures = _work.Pictures,
        };
    }

    /// <summary>A list's place is that of its first item.</summary>
    private int PlaceOf(Block block) =>
        block.WithInner().Select(b => _origins.TryGetValue(b.Id, out var origin) ? origin.Place : 0).FirstOrDefault(p => p > 0);

    private Dictionary<Id, (string, char)> Titles()
    {
        var titles = new Dictionary<Id, (string, char)>();
        foreach (var (division, _) in _divisions)
        {
            titles[division.Id] = (division.Title, 'h');
            foreach (var block in division.Blocks.SelectMany(b => b.WithInner()))
                switch (block)
                {
                    case Head h:
                        titles[h.Id] = (h.Content.PlainText(), 'h');
                        break;
                    case Figure { IsCaptioned: true } f:
                        titles[f.Id] = (f.Caption.PlainText(), 'f');
                        break;
                    case Table { Caption.Count: > 0 } t:
                        titles[t.Id] = (t.Caption.PlainText(), 't');
                        break;
                }
        }
        return titles;
    }

    // ---- divisions ----

    /// <summary>The files as one book, in the order of its places.</summary>
    private void Book(SiteTree tree, CancellationToken cancel)
    {
        _title = tree.Title;
        foreach (var (place, next) in tree.Places.Zip(tree.Places.Skip(1).Append(null)))
            if (place.Kind == TreePlace.LeftOut)
                _work.Report(
                    ReportKind.LeftOut,
                    _documents[place.File].File,
                    place.Why.Length > 0
                        ? place.Why
                        : "The page was left out of the book: it is no text, or a contents list that the manual makes itself.",
                    _documents[place.File].Blocks.Where(b => b is not SourceGenerated).Words()
                );
            else if (place.File < 0)
                _divisions.Add(
                    (
                        new Division(_work.Fresh(new Place(0, 0)), DivisionKind.Part, place.Title, [])
                        {
                            Language = next is { File: >= 0 } ? _documents[next.File].Language : _documents[0].Language,
                        },
                        0
                    )
                );
            else
                File(
                    place.File,
                    cancel,
                    continues: place.Kind == TreePlace.Section && _divisions.Count > 0,
                    holds: next is not null && next.Depth > place.Depth
                );
    }

    /// <param name="continues">it stands in the division before it</param>
    /// <param name="holds">other files stand below it</param>
    private void File(int file, CancellationToken cancel, bool continues = false, bool holds = false)
    {
        var document = _documents[file];
        var becomes = ImportRole.DivisionOf(_request.Becomes.ElementAtOrDefault(file) ?? _mapping.Becomes) ?? DivisionKind.Chapter;
        var (kind, title, id, from) = (becomes, "", _work.Fresh(new Place(file, 0)), 0);
        var first = true;
        var blocks = document.Blocks;
        void Close(int to)
        {
            cancel.ThrowIfCancellationRequested();
            var own = blocks.Skip(from).Take(to - from).ToArray();
            var shaped = Blocks(own, file, 0);
            // A title over a list that the manual makes itself goes with it.
            if (shaped.Count == 0 && (title.Length == 0 || (own.Any(b => b is SourceGenerated) && !holds)))
                return;
            if (continues && title.Length == 0)
            {
                var (last, of) = _divisions[^1];
                _divisions[^1] = (last with { Blocks = [.. last.Blocks, .. shaped] }, of);
                _work.NamedFile(file, shaped.OfType<Head>().FirstOrDefault()?.Id ?? last.Id);
                first = false;
                return;
            }
            // What stands before the first division of a file that has some: its preface, when it is text at all.
            if (title.Length == 0)
                (kind, title) =
                    _divisions.Any(d => d.File == file) || to == blocks.Count
                        ? Named(becomes, NameOf(document))
                        : (DivisionKind.Preface, LanguageWords.Of(document.Language)["preface"]);
            if (first)
                _work.NamedFile(file, id);
            first = false;
            _divisions.Add((new Division(id, kind, title, shaped) { Language = document.Language }, file));
        }
        for (var i = 0; i < blocks.Count; i++)
        {
            if (blocks[i] is not SourceParagraph p || string.IsNullOrWhiteSpace(p.Spans.Words()))
                continue;
            var planned = _plan.Of(p);
            if (planned.Role == ImportRole.Title && _title.Length == 0 && _divisions.All(d => d.File != file))
            {
                _title = TextOf(p, file).PlainText();
                foreach (var bookmark in p.Spans.OfType<SourceBookmark>())
                    _work.Named(file, bookmark.Name, id);
                _taken.Add(p);
                continue;
            }
            if (planned.Role == "subtitle" && IsBelowTitle(blocks, i))
            {
                _subtitles.Add(TextOf(p, file).PlainText());
                foreach (var bookmark in p.Spans.OfType<SourceBookmark>())
                    _work.Named(file, bookmark.Name, id);
                _taken.Add(p);
                _work.Report(
                    ReportKind.Changed,
                    new Place(file, p.Place),
                    "It stands below the title, on the title page.",
                    p.Spans.Words()
                );
                continue;
            }
            // A second title, of what stands before the first chapter.
            var begins =
                planned.Role == ImportRole.Title && document.Styles.GetValueOrDefault(p.Style)?.Level is not null
                    ? DivisionKind.Preface
                    : ImportRole.DivisionOf(planned.Role);
            if (begins is null)
                continue;
            Close(i);
            var at = new Place(file, p.Place);
            if (begins == DivisionKind.Chapter && IsAppendix(p))
                begins = DivisionKind.Appendix;
            // A level of heads that begins divisions becomes what the file becomes; a role named outright stands.
            (kind, id, from) = (
                begins == DivisionKind.Chapter ? (becomes == DivisionKind.Preface ? DivisionKind.Chapter : becomes) : begins.Value,
                _work.Fresh(at),
                i + 1
            );
            _origins[id] = new Origin(file, p.Place, planned.Key);
            title = _spans.Shape(p.Spans, at, HeadSkip(p, planned, at, id, kind), id, flat: true).PlainText().Trim();
            if (title.Length == 0)
                title = "Untitled";
        }
        Close(blocks.Count);
    }

    /// <summary>Nothing but titles that were taken stands before it.</summary>
    private bool IsBelowTitle(IReadOnlyList<SourceBlock> blocks, int at) =>
        blocks.Take(at).Any(_taken.Contains)
        && blocks.Take(at).All(b => _taken.Contains(b) || (b is SourceParagraph p && string.IsNullOrWhiteSpace(p.Spans.Words())));

    /// <summary>A division that is called as its file is: an appendix where the name says so, without what was typed for the
    /// number.</summary>
    private static (DivisionKind Kind, string Title) Named(DivisionKind becomes, string name) =>
        becomes == DivisionKind.Chapter && TypedAppendix.Match(name) is { Success: true } typed && typed.Length < name.Length
            ? (DivisionKind.Appendix, name[typed.Length..].TrimStart(' ', '.', ':', '–', '—'))
            : (becomes, name);

    /// <summary>What its markup, or the words that its title begins with, call an appendix.</summary>
    private static bool IsAppendix(SourceParagraph head) =>
        CalledAppendix().IsMatch(head.Style) || TypedAppendix.IsMatch(head.Spans.Words());

    [GeneratedRegex(@"(^|[._ -])(appendix|anhang|annexe)$", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex CalledAppendix();

    private static readonly Regex TypedAppendix = new(
        @"^\W*(?:" + LabelWords.Labels(LabelWords.OfDivision, LabelWords.Appendix, LabelWords.Annex) + ")",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    );

    private readonly HashSet<SourceBlock> _taken = new(ReferenceEqualityComparer.Instance);

    private static string NameOf(SourceDocument document) =>
        document.Title.Length > 0 ? document.Title : Path.GetFileNameWithoutExtension(document.File).Replace('-', ' ').Replace('_', ' ');

    // ---- blocks ----

    private List<Block> Blocks(IReadOnlyList<SourceBlock> blocks, int file, int depth)
    {
        var into = new BlockRun(this, file, depth);
        for (var i = 0; i < blocks.Count; i++)
        {
            if (_taken.Contains(blocks[i]))
                continue;
            if (Cleans(Cleaning.TabTables) && TabTable.At(blocks, i, b => _plan.Of(b).Role == ImportRole.Body) is { } table)
            {
                _work.Count(Cleaning.TabTables);
                _work.Report(
                    ReportKind.Changed,
                    new Place(file, blocks[i].Place),
                    $"{table.Lines} lines held apart by tabs or spaces became a table."
                );
                into.Add(table.Table);
                i += table.Lines - 1;
                continue;
            }
            into.Add(blocks[i]);
        }
        return into.Done();
    }

    private List<Inline> TextOf(SourceParagraph p, int file, bool flat = false, int skip = 0) =>
        _spans.Shape(p.Spans, new Place(file, p.Place), skip, flat: flat);

    /// <summary>Numbers typed before the last head of each style.</summary>
    private readonly Dictionary<string, string> _numberBefore = new(StringComparer.Ordinal);

    /// <param name="begins">the kind of the division that it begins; null for a head within one</param>
    private int HeadSkip(SourceParagraph p, RolePlan.Planned planned, Place at, Id id, DivisionKind? begins = null)
    {
        var skip =
            planned.Looks is { Typed: > 0 } looks && looks.Key.StartsWith("look:number", StringComparison.Ordinal)
                ? looks.Typed
                : LookAlike.TypedHeadNumber(p.Spans.Words());
        // A number that follows on the one typed before the head before counts nothing, whatever word stands behind it.
        if (skip == 0 && _numberBefore.TryGetValue(p.Style, out var before))
            skip = LookAlike.NumberAfter(before, p.Spans.Words());
        if (skip == 0 && begins == DivisionKind.Appendix)
            skip = LookAlike.AppendixLetter(p.Spans.Words(), _tree?.HasBareLetters == true);
        if (skip == 0)
        {
            _numberBefore.Remove(p.Style);
            return 0;
        }
        _numberBefore[p.Style] = p.Spans.Words()[..skip];
        _work.Count(Cleaning.TypedNumbers);
        if (!Cleans(Cleaning.TypedNumbers))
            return 0;
        _work.Report(
            ReportKind.Changed,
            at,
            "A number typed in front of a head was taken out: the manual numbers its heads.",
            p.Spans.Words()[..skip].Trim()
        );
        _work.Numbers.Add(Numbered.Head, p.Spans.Words()[..skip], id);
        return skip;
    }

    /// <summary>Blocks as they come to stand one after another in a division, an item, a group.</summary>
    private sealed class BlockRun(Shaper shaper, int file, int depth)
    {
        private readonly List<Block> _blocks = [];
        private readonly ListRun _list = new();
        private List<Inline>? _caption;
        private (bool Table, Place At, string Words) _captionOf;
        private AdmonitionKind? _waiting;
        private Place _waitingAt;
        private string? _admonitionKey;
        private (List<string> Lines, Place At, Id Id)? _listing;

        private Place At(SourceBlock block) => new(file, block.Place);

        public List<Block> Done()
        {
            CloseList();
            CloseListing();
            CloseCaption();
            if (_waiting is { } kind)
                _blocks.Add(
                    new Admonition(shaper._work.Fresh(_waitingAt), kind, [new Paragraph(shaper._work.Fresh(_waitingAt), "body", [])])
                );
            _waiting = null;
            return _blocks;
        }

        private void Put(Block block, SourceBlock source, string line)
        {
            shaper._origins[block.Id] = new Origin(file, source.Place, line);
            CloseCaption();
            CloseListing();
            if (_waiting is { } kind && block is Paragraph)
            {
                // A signal word alone on its line: what follows is its text.
                _waiting = null;
                Put(new Admonition(shaper._work.Fresh(_waitingAt), kind, [block]), source, line);
                return;
            }
            CloseList();
            _admonitionKey = null;
            _blocks.Add(block);
        }

        public void Add(SourceBlock block)
        {
            switch (block)
            {
                case SourceParagraph p:
                    Paragraph(p);
                    break;
                case SourceBreak:
                    shaper._work.Count(Cleaning.PageBreaks);
                    if (!shaper.Cleans(Cleaning.PageBreaks))
                        Put(new PageBreak(shaper._work.Fresh(At(block))), block, "");
                    break;
                case SourceGenerated generated:
                    Generated(generated);
                    break;
                case SourceList list:
                    Put(ListOf(list), list, shaper._plan.Of(list).Key);
                    break;
                case SourceDefinitions definitions:
                    Put(DefinitionsOf(definitions), definitions, "");
                    break;
                case SourceTable table:
                    Table(table);
                    break;
                case SourcePicture picture:
                    Picture(picture);
                    break;
                case SourceListing listing:
                    var listingId = shaper._work.Fresh(At(listing));
                    var captioned =
                        listing.Caption.Count > 0
                            ? shaper._spans.Shape(
                                listing.Caption,
                                At(listing),
                                Label(listing.Caption, At(listing), listingId),
                                listingId,
                                flat: true
                            )
                            : Waiting(listingId, table: false);
                    Put(new Listing(listingId, listing.Language, Printable(listing.Text), captioned), listing, "");
                    break;
                case SourceEquation equation:
                    Put(
                        new Equation(shaper._work.Fresh(At(equation)), equation.Source, equation.Alternative) { Numbered = false },
                        equation,
                        ""
                    );
                    break;
                case SourceGroup group:
                    Group(group);
                    break;
            }
        }

        private static string Printable(string text) =>
            string.Concat(text.Replace("\r\n", "\n", StringComparison.Ordinal).Where(c => c is '\n' or '\t' || !char.IsControl(c)))
                .TrimEnd('\n');

        private void Generated(SourceGenerated generated)
        {
            shaper._work.Count(Cleaning.GeneratedLists);
            var name = generated.Kind switch
            {
                Import.Generated.Contents => "contents list",
                Import.Generated.Index => "index",
                _ => "list of figures or tables",
            };
            if (shaper.Cleans(Cleaning.GeneratedLists))
                shaper._work.Report(
                    ReportKind.LeftOut,
                    At(generated),
                    $"The {name} of the source was left out: the manual makes its own.",
                    generated.Words
                );
            else if (generated.Words.Length > 0)
                Put(new Paragraph(shaper._work.Fresh(At(generated)), "body", [new TextRun(generated.Words)]), generated, "");
        }

        // ---- paragraphs ----

        private void Paragraph(SourceParagraph p)
        {
            var at = At(p);
            if (p.BreakBefore)
            {
                shaper._work.Count(Cleaning.PageBreaks);
                if (!shaper.Cleans(Cleaning.PageBreaks))
                    Put(new PageBreak(shaper._work.Fresh(at)), p, "");
            }
            if (IsEmpty(p))
            {
                if (p.Spans.Any(s => s is SourceBookmark or SourceComment or SourceAtom { Inline: IndexEntry }))
                {
                    // Nothing to print, but named places, comments and entries belong to what follows.
                    _carried.AddRange(p.Spans.Where(s => s is SourceBookmark or SourceComment or SourceAtom { Inline: IndexEntry }));
                }
                shaper._work.Count(Cleaning.EmptyParagraphs);
                if (!shaper.Cleans(Cleaning.EmptyParagraphs))
                    Put(new Paragraph(shaper._work.Fresh(at), "body", []), p, "");
                return;
            }
            if (_carried.Count > 0)
            {
                var planned0 = shaper._plan.Of(p);
                var carrying = p with { Spans = [.. _carried, .. p.Spans] };
                _carried.Clear();
                Planned(carrying, planned0);
                return;
            }
            Planned(p, shaper._plan.Of(p));
        }

        private readonly List<SourceSpan> _carried = [];

        private static bool IsEmpty(SourceParagraph p) =>
            string.IsNullOrWhiteSpace(p.Spans.Words())
            && p.Spans.All(s =>
                s is SourceRun or SourceTab or SourceBookmark or SourceComment or SourceAtom { Inline: LineBreak or IndexEntry }
            );

        private void Planned(SourceParagraph p, RolePlan.Planned planned)
        {
            var at = At(p);
            var role = planned.Role;
            var words = p.Spans.Words();
            Id Id() => shaper._work.Fresh(at);
            if (_list.IsOpen && role == ImportRole.Body && p.Indent > 0 && planned.Looks is null && p.List is null)
            {
                // Set in under an item: it carries the item on.
                var more = new Paragraph(Id(), "body", shaper.TextOf(p, file));
                shaper._origins[more.Id] = new Origin(file, p.Place, planned.Key);
                _list.CarryOn(more);
                return;
            }
            if (role != ImportRole.Listing)
                CloseListing();
            if (role == ImportRole.LeftOut)
            {
                shaper._work.Report(
                    ReportKind.LeftOut,
                    at,
                    $"A paragraph in “{(p.Style.Length > 0 ? p.Style : "Plain")}” was left out, as the mapping says.",
                    words
                );
                return;
            }
            if (ImportRole.HeadOf(role) is { } level)
            {
                var id = Id();
                var text = shaper._spans.Shape(p.Spans, at, shaper.HeadSkip(p, planned, at, id), id, flat: true);
                if (text.Count > 0)
                    Put(new Head(id, (HeadLevel)level, text), p, planned.Key);
            }
            else if (ImportRole.DivisionOf(role) is not null)
            {
                var id = Id();
                Put(
                    new Head(id, HeadLevel.A, shaper._spans.Shape(p.Spans, at, shaper.HeadSkip(p, planned, at, id), id, flat: true)),
                    p,
                    planned.Key
                );
            }
            else if (ImportRole.IsList(role))
                Item(p, planned);
            else if (ImportRole.AdmonitionOf(role) is { } kind)
                Admonition(p, planned, kind);
            else if (role == ImportRole.Caption)
                Caption(p, planned);
            else if (role == ImportRole.Listing)
            {
                if (_listing is null)
                {
                    CloseList();
                    _listing = ([], at, Id());
                    shaper._origins[_listing.Value.Id] = new Origin(file, p.Place, planned.Key);
                }
                _listing.Value.Lines.AddRange(Printable(ListingText(p.Spans)).Split('\n'));
            }
            else if (role is ImportRole.DefinedTerm or ImportRole.Definition)
                Defined(p, planned);
            else if (role is ImportRole.Aside or ImportRole.Example)
            {
                var text = new Paragraph(Id(), "body", shaper.TextOf(p, file));
                shaper._origins[text.Id] = new Origin(file, p.Place, planned.Key);
                if (_admonitionKey == planned.Key && _blocks[^1] is Aside or Example)
                    Join(text);
                else
                {
                    Put(role == ImportRole.Aside ? new Aside(Id(), [], [text]) : new Example(Id(), [], [text]), p, planned.Key);
                    _admonitionKey = planned.Key;
                }
            }
            else
                Put(new Paragraph(Id(), role, shaper.TextOf(p, file)), p, planned.Key);
        }

        /// <summary>Terms and what they mean, one after another, are one list.</summary>
        private void Defined(SourceParagraph p, RolePlan.Planned planned)
        {
            var at = At(p);
            CloseList();
            var list = _blocks.Count > 0 ? _blocks[^1] as DefinitionList : null;
            if (planned.Role == ImportRole.DefinedTerm || list is null)
            {
                var entry = new Definition(
                    shaper._work.Fresh(at),
                    planned.Role == ImportRole.DefinedTerm ? shaper.TextOf(p, file, flat: true) : [],
                    planned.Role == ImportRole.DefinedTerm ? [] : [Text()]
                );
                if (list is null)
                    Put(new DefinitionList(shaper._work.Fresh(at), [entry]), p, planned.Key);
                else
                    _blocks[^1] = list with { Definitions = [.. list.Definitions, entry] };
                return;
            }
            var last = list.Definitions[^1];
            _blocks[^1] = list with
            {
                Definitions = [.. list.Definitions.Take(list.Definitions.Count - 1), last with { Blocks = [.. last.Blocks, Text()] }],
            };

            Paragraph Text()
            {
                var text = new Paragraph(shaper._work.Fresh(at), "body", shaper.TextOf(p, file));
                shaper._origins[text.Id] = new Origin(file, p.Place, planned.Key);
                return text;
            }
        }

        private static string ListingText(IReadOnlyList<SourceSpan> spans) =>
            string.Concat(
                spans.Select(s =>
                    s switch
                    {
                        SourceRun { Tracked: not Tracked.Deleted } r => r.Text,
                        SourceTab => "\t",
                        SourceAtom { Inline: LineBreak } => "\n",
                        SourceReference r => r.Words,
                        _ => "",
                    }
                )
            );

        private void Join(Block text)
        {
            _blocks[^1] = _blocks[^1] switch
            {
                Admonition a => a with { Blocks = [.. a.Blocks, text] },
                Aside a => a with { Blocks = [.. a.Blocks, text] },
                Example e => e with { Blocks = [.. e.Blocks, text] },
                var other => other,
            };
        }

        private void Admonition(SourceParagraph p, RolePlan.Planned planned, AdmonitionKind kind)
        {
            var at = At(p);
            var words = p.Spans.Words();
            var skip = LookAlike.TypedSignal(words);
            if (skip > 0)
                shaper._work.Report(
                    ReportKind.Changed,
                    at,
                    "A signal word typed in front was taken out: the look prints it.",
                    words[..skip].Trim().TrimEnd(':', '!', '–', '—', '-').Trim()
                );
            if (skip >= words.Trim().Length)
            {
                CloseList();
                (_waiting, _waitingAt) = (kind, at);
                return;
            }
            var text = new Paragraph(shaper._work.Fresh(at), "body", shaper.TextOf(p, file, skip: skip));
            shaper._origins[text.Id] = new Origin(file, p.Place, planned.Key);
            // A style's paragraphs one after another are one admonition; a new signal word begins a new one.
            if (skip == 0 && _admonitionKey == planned.Key && _blocks.Count > 0 && _blocks[^1] is Admonition last && last.Kind == kind)
            {
                Join(text);
                return;
            }
            Put(new Admonition(shaper._work.Fresh(at), kind, [text]), p, planned.Key);
            _admonitionKey = planned.Key;
        }

        // ---- captions ----

        private void Caption(SourceParagraph p, RolePlan.Planned planned)
        {
            var at = At(p);
            CloseCaption();
            CloseList();
            var words = p.Spans.Words();
            var skip = Label(p.Spans, at);
            var table = LookAlike.IsTableLabel(words);
            // The caption under a figure is its own; one above a table waits for it.
            if (!table && _blocks.Count > 0 && _blocks[^1] is Figure { Caption.Count: 0 } figure)
            {
                _blocks[^1] = figure with { Caption = Own(figure.Id) };
                return;
            }
            (_caption, _captionOf, _captionSource, _captionSkip) = ([], (table, at, words), p, skip);

            List<Inline> Own(Id owner) => shaper._spans.Shape(p.Spans, at, skip, owner, flat: false);
        }

        /// <summary>Characters of the label typed in front of a caption, which is told of.</summary>
        private int Label(IReadOnlyList<SourceSpan> caption, Place at, Id? owner = null)
        {
            var words = caption.Words();
            var skip = LookAlike.TypedLabel(words);
            if (owner is { } known && skip > 0)
                shaper._work.Numbers.Add(LookAlike.IsTableLabel(words) ? Numbered.Table : Numbered.Figure, words[..skip], known);
            if (skip > 0 && words[..skip].Trim().Length > 0)
                shaper._work.Report(
                    ReportKind.Changed,
                    at,
                    "A label typed in front of a caption was taken out: the look numbers it.",
                    words[..skip].Trim()
                );
            return skip;
        }

        private SourceParagraph? _captionSource;
        private int _captionSkip;

        /// <summary>The caption that waits for what comes now; empty when none does.</summary>
        private IReadOnlyList<Inline> Waiting(Id owner, bool table)
        {
            if (_caption is null || _captionSource is null || (_captionOf.Table && !table))
                return [];
            _caption = null;
            if (_captionSkip > 0)
                shaper._work.Numbers.Add(_captionOf.Table ? Numbered.Table : Numbered.Figure, _captionOf.Words[.._captionSkip], owner);
            return shaper._spans.Shape(_captionSource.Spans, _captionOf.At, _captionSkip, owner);
        }

        /// <summary>A caption that nothing followed belongs to the table before it, or to nothing.</summary>
        private void CloseCaption()
        {
            if (_caption is null || _captionSource is null)
                return;
            _caption = null;
            if (_blocks.Count > 0 && _blocks[^1] is Table { Caption.Count: 0 } table)
            {
                _blocks[^1] = table with { Caption = shaper._spans.Shape(_captionSource.Spans, _captionOf.At, _captionSkip, table.Id) };
                return;
            }
            if (_blocks.Count > 0 && _blocks[^1] is Listing { Caption.Count: 0 } listing)
            {
                _blocks[^1] = listing with { Caption = shaper._spans.Shape(_captionSource.Spans, _captionOf.At, _captionSkip, listing.Id) };
                return;
            }
            var id = shaper._work.Fresh(_captionOf.At);
            shaper._work.Report(ReportKind.Look, _captionOf.At, "A caption stands by no figure or table; it came in as body text.");
            shaper._origins[id] = new Origin(file, _captionOf.At.At, shaper._plan.Of(_captionSource).Key);
            _blocks.Add(new Paragraph(id, "body", shaper._spans.Shape(_captionSource.Spans, _captionOf.At, _captionSkip)));
        }

        // ---- tables, figures, groups ----

        private void Table(SourceTable source)
        {
            var at = At(source);
            var id = shaper._work.Fresh(at);
            var caption =
                source.Caption.Count > 0
                    ? shaper._spans.Shape(source.Caption, at, Label(source.Caption, at, id), id)
                    : Waiting(id, table: true);
            // A cell's own place numbers its ids, so that a changed row renames no other.
            var rows = source
                .Rows.Select(
                    (row, r) =>
                        new Row(
                            shaper._work.Fresh(at),
                            row.Cells.Select(c => new Cell(shaper._work.Fresh(at), shaper._spans.Cell(c.Blocks, at, r < source.HeaderRows))
                                {
                                    ColumnSpan = Math.Clamp(c.ColumnSpan, 1, 1000),
                                    RowSpan = Math.Clamp(c.RowSpan, 1, 100_000),
                                    Alignment = c.Alignment,
                                })
                                .ToArray()
                        )
                )
                .ToArray();
            if (rows.Length == 0)
                return;
            var columns =
                source.Columns.Count > 0
                    ? source.Columns
                    : Enumerable.Repeat(CellAlignment.Left, Math.Min(200, rows.Max(r => r.Cells.Sum(c => c.ColumnSpan)))).ToArray();
            Put(new Table(id, Math.Min(source.HeaderRows, rows.Length), columns, caption, rows), source, "");
        }

        private void Picture(SourcePicture picture)
        {
            var at = At(picture);
            var id = shaper._work.Fresh(at);
            var caption =
                picture.Caption.Count > 0
                    ? shaper._spans.Shape(picture.Caption, at, Label(picture.Caption, at, id), id)
                    : Waiting(id, table: false);
            if (picture.Alternative.Length == 0)
                shaper._work.Report(ReportKind.Look, at, "A picture has no alternative text. Say in words what it shows.");
            Put(
                new Figure(id, shaper._work.Picture(at, picture.Asset)?.Name ?? picture.Asset, caption, picture.Alternative)
                {
                    Width = Math.Clamp(picture.Width, 5, 100),
                },
                picture,
                ""
            );
        }

        private void Group(SourceGroup group)
        {
            var at = At(group);
            var planned = shaper._plan.Of(group);
            if (depth >= MostDepth)
            {
                shaper._work.Report(
                    ReportKind.Changed,
                    at,
                    $"“{group.Style}” is nested more than {MostDepth} deep; its words stand as a paragraph."
                );
                Put(new Paragraph(shaper._work.Fresh(at), "body", [new TextRun(new SourceBlock[] { group }.Words())]), group, planned.Key);
                return;
            }
            var id = shaper._work.Fresh(at);
            var label = planned.Role == ImportRole.Example ? Label(group.Title, at, id) : 0;
            var title = shaper._spans.Shape(group.Title, at, label, id, flat: true);
            if (planned.Role == ImportRole.LeftOut)
            {
                shaper._work.Report(
                    ReportKind.LeftOut,
                    at,
                    $"“{group.Style}” was left out, as the mapping says.",
                    new SourceBlock[] { group }.Words()
                );
                return;
            }
            var inner = shaper.Blocks(group.Blocks, file, depth + 1);
            // Heads belong to the outline, not into a box: there they stand as strong lines.
            if (planned.Role is not ImportRole.Body)
                inner = inner
                    .Select(b =>
                        b is Head h
                            ? new Paragraph(
                                h.Id,
                                "body",
                                h.Content.Select(s => s is TextRun r ? r with { Roles = r.Roles | SpanRoles.Strong } : s).ToArray()
                            )
                            : b
                    )
                    .ToList();
            if (inner.Count == 0 && title.Count == 0)
                return;
            if (inner.Count == 0 && planned.Role is ImportRole.Aside or ImportRole.Example)
                inner.Add(new Paragraph(shaper._work.Fresh(at), "body", []));
            Block? made =
                ImportRole.AdmonitionOf(planned.Role) is { } kind ? new Admonition(id, kind, Headed(title, inner, at))
                : planned.Role == ImportRole.Aside ? new Aside(id, title, inner)
                : planned.Role == ImportRole.Example ? new Example(id, title, inner)
                : null;
            if (made is not null)
            {
                Put(made, group, planned.Key);
                return;
            }
            foreach (var block in Headed(title, inner, at))
                Put(
                    planned.Role == ImportRole.Quotation && block is Paragraph p ? p with { Role = ImportRole.Quotation } : block,
                    group,
                    shaper._origins.TryGetValue(block.Id, out var own) ? own.Line : planned.Key
                );
        }

        /// <summary>A title where the block has none of its own stands as a strong line before the text.</summary>
        private List<Block> Headed(List<Inline> title, List<Block> inner, Place at) =>
            title.Count == 0
                ? inner
                :
                [
                    new Paragraph(
                        shaper._work.Fresh(at),
                        "body",
                        title.Select(s => s is TextRun r ? r with { Roles = r.Roles | SpanRoles.Strong } : s).ToArray()
                    ),
                    .. inner,
                ];

        // ---- lists ----

        private void Item(SourceParagraph p, RolePlan.Planned planned)
        {
            CloseCaption();
            CloseListing();
            _admonitionKey = null;
            var at = At(p);
            var words = p.Spans.Words();
            var (typed, number) = p.List is null ? (planned.Looks?.Typed ?? 0, planned.Looks?.Number ?? 0) : (0, p.List.Value.Number);
            if (p.List is null && planned.Looks is null)
                (typed, number) = LookAlike.TypedItem(words);
            if (typed > 0)
                shaper._work.Report(
                    ReportKind.Changed,
                    at,
                    "A sign or number typed in front of an item was taken out: the list makes it.",
                    words[..typed].Trim()
                );
            var text = new Paragraph(shaper._work.Fresh(at), "body", shaper.TextOf(p, file, skip: typed));
            shaper._origins[text.Id] = new Origin(file, p.Place, planned.Key);
            var kind = planned.Role switch
            {
                ImportRole.Bullets => ListKind.Unordered,
                ImportRole.Letters => ListKind.Alpha,
                _ => p.List is { Kind: not ListKind.Unordered } own ? own.Kind : ListKind.Decimal,
            };
            // Letters under numbers are steps within a step.
            var level = p.List?.Level
                ?? (planned.Role == ImportRole.Letters && _list.IsNumbered ? 1 : null as int?)
                ?? (typed > 0 || planned.Looks is not null ? 0 : Math.Min(3, p.Indent / 36));
            if (
                _list.Add(
                    new ListRun.Entry(
                        p.List?.Key ?? planned.Key,
                        level,
                        kind,
                        planned.Role == ImportRole.Steps,
                        number,
                        new Item(shaper._work.Fresh(at), [text])
                    ),
                    () => shaper._work.Fresh(at)
                )
            )
                return;
            CloseList();
            _list.Add(
                new ListRun.Entry(
                    p.List?.Key ?? planned.Key,
                    level,
                    kind,
                    planned.Role == ImportRole.Steps,
                    number,
                    new Item(shaper._work.Fresh(at), [text])
                ),
                () => shaper._work.Fresh(at)
            );
        }

        private void CloseList()
        {
            if (_list.Close() is { } list)
                _blocks.Add(list);
        }

        private void CloseListing()
        {
            if (_listing is not { } listing)
                return;
            _listing = null;
            _admonitionKey = null;
            _blocks.Add(new Listing(listing.Id, "", string.Join('\n', listing.Lines), []));
        }

        private Block ListOf(SourceList list)
        {
            var at = At(list);
            var role = shaper._plan.Of(list).Role;
            if (depth >= MostDepth)
            {
                shaper._work.Report(
                    ReportKind.Changed,
                    at,
                    $"A list is nested more than {MostDepth} deep; its words stand as a paragraph."
                );
                return new Paragraph(shaper._work.Fresh(at), "body", [new TextRun(new SourceBlock[] { list }.Words())]);
            }
            var id = shaper._work.Fresh(at);
            var items = list
                .Items.Select(i =>
                {
                    var own = shaper.Blocks(i.Blocks, file, depth + 1);
                    // A head in an item would tear the list out of its section.
                    // An item begins with a paragraph: there its number stands.
                    if (own.Count > 0 && own[0] is not (Core.Content.Paragraph or Head))
                        own.Insert(0, new Paragraph(shaper._work.Fresh(at), "body", []));
                    return new Item(
                        shaper._work.Fresh(i.Blocks.Count > 0 ? At(i.Blocks[0]) : at),
                        own.Select(b =>
                                b is Head h
                                    ? new Paragraph(
                                        h.Id,
                                        "body",
                                        h.Content.Select(s => s is TextRun r ? r with { Roles = r.Roles | SpanRoles.Strong } : s).ToArray()
                                    )
                                    : b
                            )
                            .ToArray()
                    );
                })
                .Where(i => i.Blocks.Count > 0)
                .ToArray();
            if (role == ImportRole.Steps)
                return new Steps(id, list.Continues, items);
            var kind = role switch
            {
                ImportRole.Bullets => ListKind.Unordered,
                ImportRole.Letters => ListKind.Alpha,
                ImportRole.Numbers when list.Kind == ListKind.Unordered => ListKind.Decimal,
                _ => list.Kind,
            };
            return new ItemList(id, kind, Math.Clamp(list.Start, 0, 100_000), items) { Continues = list.Continues };
        }

        private DefinitionList DefinitionsOf(SourceDefinitions source)
        {
            var definitions = source
                .Definitions.Select(d =>
                {
                    var at = new Place(file, d.Place);
                    return new Definition(
                        shaper._work.Fresh(at),
                        shaper._spans.Shape(d.Term, at, flat: true),
                        shaper.Blocks(d.Blocks, file, depth + 1)
                    );
                })
                .ToArray();
            return new DefinitionList(shaper._work.Fresh(At(source)), definitions);
        }
    }
}
