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
        _plan = new RolePlan(_documents, request.Mapping, request.Exceptions, isBook: _tree is not null);
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
                        new Division(
                            _work.Fresh(new Place(0, 0)),
                            ImportRole.DivisionOf(place.Kind) ?? DivisionKind.Part,
                            place.Title[LookAlike.TypedHeadNumber(place.Title)..],
                            []
                        )
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
}
