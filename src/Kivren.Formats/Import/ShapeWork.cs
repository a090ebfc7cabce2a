using Kivren.Core.Content;
using Kivren.Formats.Pictures;

namespace Kivren.Formats.Import;

/// <summary>A place in one of the files.</summary>
internal readonly record struct Place(int File, int At);

/// <summary>What one shaping gathers on its way: ids, counts, the report, named places, pictures.</summary>
internal sealed class ShapeWork(IReadOnlyList<SourceDocument> documents, string seed)
{
    private readonly Dictionary<Place, int> _given = [];
    private readonly Dictionary<(int, string), Id> _named = [];
    private readonly Dictionary<string, Id> _byFile = new(StringComparer.OrdinalIgnoreCase);
    private readonly HashSet<string> _wanted = Wanted(documents);
    private readonly Dictionary<Id, (string Target, string Form, string Words, SpanRoles Roles, Place At)> _references = [];
    private readonly Dictionary<(int, string), Id> _ranges = [];
    private readonly List<ReportLine> _report = [];
    private readonly Dictionary<string, Asset?> _assets = new(StringComparer.Ordinal);
    private readonly Dictionary<string, byte[]> _pictures = new(StringComparer.Ordinal);
    private readonly int[] _counts = new int[Enum.GetValues<Cleaning>().Length];

    public IReadOnlyList<ReportLine> Lines => _report;
    public IReadOnlyDictionary<string, byte[]> Pictures => _pictures;
    public IReadOnlyList<Asset> Assets => _assets.Values.OfType<Asset>().ToArray();

    /// <summary>Numbers typed before heads and captions, which were taken out.</summary>
    public OldNumbers Numbers { get; } = new();

    public int Counted(Cleaning cleaning) => _counts[(int)cleaning];

    public void Count(Cleaning cleaning, int times = 1) => _counts[(int)cleaning] += times;

    /// <param name="where">what it is about, where that is no place in a file</param>
    public void Report(ReportKind kind, string where, string what, string words) => _report.Add(new ReportLine(kind, where, what, words));

    public void Report(ReportKind kind, Place at, string what, string words = "") =>
        _report.Add(ReportLine.At(kind, documents[at.File].File, documents[at.File].PlaceWord, at.At, what, words));

    /// <summary>An id that is the same each time the same files are shaped, whatever roles are given elsewhere.</summary>
    public Id Fresh(Place at)
    {
        var n = _given.GetValueOrDefault(at);
        _given[at] = n + 1;
        return new Id(n == 0 ? $"{seed}-{at.File}-{at.At}" : $"{seed}-{at.File}-{at.At}-{n}");
    }

    public Id Range(int file, Id source) =>
        _ranges.TryGetValue((file, source.Value), out var id)
            ? id
            : _ranges[(file, source.Value)] = new Id($"{seed}-{file}-r{_ranges.Count + 1}");

    // ---- named places and references ----

    private static HashSet<string> Wanted(IReadOnlyList<SourceDocument> documents)
    {
        var wanted = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (var document in documents)
        {
            wanted.UnionWith(SourceWalk.Spans(document.Blocks).OfType<SourceReference>().Select(r => document.Full(r.Target)));
            if (document.Site is { SendsTo: { Length: > 0 } place })
                wanted.Add(place);
        }
        return wanted;
    }

    public bool IsWanted(int file, string name) => _wanted.Contains(documents[file].Full(name));

    /// <summary>The name is that of a block with a title of its own.</summary>
    public void Named(int file, string name, Id block)
    {
        if (_named.TryAdd((file, name), block))
            _byFile.TryAdd(documents[file].Full(name), block);
    }

    /// <summary>An id for a named place in running text; null when the name is known already.</summary>
    public Id? Names(int file, string name, Place at)
    {
        if (_named.ContainsKey((file, name)))
            return null;
        var id = Fresh(at);
        Named(file, name, id);
        return id;
    }

    /// <summary>The whole file, as links name it that name no place in it.</summary>
    public void NamedFile(int file, Id division)
    {
        _byFile.TryAdd(documents[file].File + "#", division);
        _byFile.TryAdd(documents[file].File, division);
    }

    public CrossReference Reference(Place at, SourceReference reference)
    {
        var id = Fresh(at);
        _references.Add(id, (documents[at.File].Full(reference.Target), reference.Form, reference.Words, reference.Roles, at));
        return new CrossReference(id, Id.None, reference.Form);
    }

    /// <summary>Points every reference at the identity of its named place, now that all are known.</summary>
    /// <param name="titles">title and kind of everything that has one</param>
    /// <param name="block">that the spans stand in, for what is told</param>
    /// <param name="paged">what the block has named the page of already: once is enough</param>
    public IReadOnlyList<Inline> Resolved(
        IReadOnlyList<Inline> spans,
        IReadOnlyDictionary<Id, (string Title, char Kind)> titles,
        Place block,
        HashSet<Id> paged
    )
    {
        var language = documents[block.File].Language;
        if (!spans.Any(s => s is CrossReference or Footnote || (s is TextRun t && Numbers.In(t.Text, language).Any())))
            return spans;
        var resolved = new List<Inline>();
        void Text(string words, SpanRoles roles)
        {
            if (words.Length == 0)
                return;
            if (resolved.Count > 0 && resolved[^1] is TextRun last && last.Roles == roles && last.Web is null)
                resolved[^1] = last with { Text = last.Text + words };
            else
                resolved.Add(new TextRun(words, roles));
        }
        // Numbers typed in words become references.
        void Typed(TextRun run, int from)
        {
            foreach (var mention in (run.Roles & SpanRoles.Code) != 0 ? [] : Numbers.In(run.Text, language))
            {
                if (mention.From < from)
                    continue;
                var words = run.Text.Substring(mention.From, mention.Length);
                if (mention.Target is not { } named)
                {
                    Report(
                        ReportKind.Look,
                        block,
                        "A number typed in running text names nothing that came in; it stands as it was.",
                        words
                    );
                    continue;
                }
                Text(run.Text[from..mention.From], run.Roles);
                resolved.Add(new CrossReference(Fresh(block), named, mention.Form));
                Report(
                    ReportKind.Changed,
                    block,
                    "A number typed in running text became a reference: it prints the number that is.",
                    words
                );
                from = mention.From + mention.Length;
            }
            Text(run.Text[from..], run.Roles);
        }
        var taken = 0;
        for (var at = 0; at < spans.Count; at++)
            switch (spans[at])
            {
                case Footnote note:
                    resolved.Add(note with { Content = Resolved(note.Content, titles, block, paged) });
                    break;
                case TextRun { Web: null, OwnRole: null } run:
                    var from = taken;
                    taken = 0;
                    Typed(run, from);
                    break;
                case CrossReference reference when _references.TryGetValue(reference.Id, out var source):
                    if (TargetOf(source.Target) is not { } target)
                    {
                        // Its words may name the number that what it leads to had.
                        if (Numbers.In(source.Words, language).Any(m => m.Target is not null))
                        {
                            Typed(new TextRun(source.Words, source.Roles), 0);
                            break;
                        }
                        var named = source.Target.Split('#')[0];
                        if (named == documents[source.At.File].File || There(named) is not { } file)
                        {
                            Text(source.Words, source.Roles);
                            Report(
                                ReportKind.Look,
                                source.At,
                                "A reference leads to nothing that came in; its words were kept.",
                                source.Target.TrimEnd('#')
                            );
                            break;
                        }
                        Report(
                            ReportKind.Look,
                            source.At,
                            "A reference names a place that is not in its file; it leads to the beginning of that.",
                            source.Target
                        );
                        target = file;
                    }
                    // A name that stands before a figure or a table, not in it: the words of the link say which is meant.
                    if (
                        titles.GetValueOrDefault(target).Kind is not ('t' or 'f')
                        && OldNumbers.IsLabel(source.Words, language)
                        && Numbers.In(source.Words, language).Select(m => m.Target).FirstOrDefault() is { } meant
                        && titles.GetValueOrDefault(meant).Kind is 't' or 'f'
                    )
                        target = meant;
                    var (title, kind) = titles.GetValueOrDefault(target, ("", ' '));
                    var form = source.Form.Length > 0 ? source.Form : FormOf(source.Words, title, kind, language);
                    if (form.Length == 0)
                    {
                        // Words of the writer's own stay, with the rest of the word that they begin; the reference after them names the
                        // page.
                        Text(source.Words, source.Roles);
                        if (at + 1 < spans.Count && spans[at + 1] is TextRun { Web: null, OwnRole: null } behind)
                        {
                            taken = behind.Text.TakeWhile(EndsWord).Count();
                            Text(behind.Text[..taken], behind.Roles);
                        }
                        if (!paged.Add(target))
                        {
                            Report(
                                ReportKind.Changed,
                                source.At,
                                "A second reference to the same place in one paragraph or list kept its words alone.",
                                source.Words.Trim()
                            );
                            break;
                        }
                        Text(" (", source.Roles);
                        resolved.Add(reference with { Target = target, Form = "page" });
                        Text(")", SpanRoles.None);
                    }
                    else
                    {
                        if (source.Words.Trim().Length > 0)
                            Report(
                                ReportKind.Changed,
                                source.At,
                                "The words of a reference were taken out: it prints what its target is now.",
                                source.Words.Trim()
                            );
                        resolved.Add(
                            reference with
                            {
                                Target = target,
                                Form = kind == ' ' && form is not ("page" or "direction") ? "page" : form,
                            }
                        );
                    }
                    break;
                default:
                    resolved.Add(spans[at]);
                    break;
            }
        return resolved;
    }

    /// <summary>Letters of scripts that put spaces between words, and the sign that elides one.</summary>
    private static bool EndsWord(char c) => c is '’' or '\'' || (char.IsLetter(c) && c < FirstUnspaced);

    private const char FirstUnspaced = '\u0590';

    /// <summary>What a reference names, straight or through a page that only sends its reader there.</summary>
    private Id? TargetOf(string name)
    {
        var file = name.Split('#')[0];
        return There(name)
            ?? (_sends.GetValueOrDefault(file) is { } place ? There(place) ?? There(place.Split('#')[0]) : null)
            // What was named by something that went into its division.
            ?? (_byFile.ContainsKey(name) ? There(file) : null);
    }

    private Id? There(string place) => _byFile.TryGetValue(place, out var id) && _there.Contains(id) ? id : null;

    private readonly Dictionary<string, string> _sends = documents
        .Where(d => d.Site is { SendsTo.Length: > 0 })
        .DistinctBy(d => d.File)
        .ToDictionary(d => d.File, d => d.Site!.SendsTo);
    private HashSet<Id> _there = [];

    /// <summary>What came to stand in the manual: a reference can lead to nothing else.</summary>
    public void Keep(HashSet<Id> there) => _there = there;

    /// <summary>The form that reads like the words; "" when the words are the writer's own.</summary>
    private static string FormOf(string words, string title, char kind, string language)
    {
        var bare = words.Trim().TrimEnd('.', ':');
        if (title.Length > 0 && string.Equals(bare, title, StringComparison.OrdinalIgnoreCase))
            return "title";
        if (bare.Length > 0 && bare.All(c => char.IsDigit(c) || c == '.'))
            return kind == 'h' ? "number" : "page";
        if (kind == 'h' && OldNumbers.IsLabel(bare, language))
            return "name-number";
        if (kind is 'f' or 't' && LookAlike.TypedLabel(words + ":") > 0 && bare.Length < 16)
            return "name-number";
        return bare.Length == 0 ? (title.Length > 0 ? "title" : "page") : "";
    }

    // ---- pictures ----

    /// <summary>The picture as an asset of the manual, or null when it is none; told once.</summary>
    public Asset? Picture(Place at, string name)
    {
        var document = documents[at.File];
        var own =
            documents.Count > 1
            && documents
                .Take(at.File)
                .Any(d =>
                    d.Pictures.TryGetValue(name, out var other)
                    && document.Pictures.TryGetValue(name, out var mine)
                    && !other.AsSpan().SequenceEqual(mine)
                )
                ? $"{at.File + 1}-{name}"
                : name;
        if (_assets.TryGetValue(own, out var known))
            return known;
        try
        {
            if (!document.Pictures.TryGetValue(name, out var bytes))
            {
                Report(
                    ReportKind.LeftOut,
                    at,
                    "A picture was not found beside the text; an empty frame stands in its place. Bring it in together with the text.",
                    name
                );
                return _assets[own] = null;
            }
            var printed = own;
            if (Metafile.SizeOf(bytes) is var (width, height))
            {
                Report(
                    ReportKind.Look,
                    at,
                    $"The picture {name} is a metafile, which no printed file can hold; a frame of its size stands in its place. "
                        + "Export it as SVG or PNG and put that in."
                );
                (printed, bytes) = (own + ".svg", Metafile.Frame(name, width, height));
            }
            bytes = PictureReader.Printable(bytes);
            var asset = PictureReader.Describe(printed, bytes);
            _pictures[printed] = bytes;
            return _assets[own] = asset;
        }
        catch (PictureFormatException e)
        {
            Report(ReportKind.LeftOut, at, $"{e.Message} An empty frame stands in its place.");
            return _assets[own] = null;
        }
    }

    public InlinePicture SmallPicture(SourcePicture picture, Place at) =>
        new(Fresh(at), Picture(at, picture.Asset)?.Name ?? picture.Asset, picture.Alternative);
}
