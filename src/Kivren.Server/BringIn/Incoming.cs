using System.Diagnostics;
using System.Security.Cryptography;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Editions;
using Kivren.Core.Looks;
using Kivren.Desk;
using Kivren.Formats.Import;
using Kivren.Formats.Import.Sites;

namespace Kivren.Server.BringIn;

public enum BringInState
{
    Reading,
    Ready,
    Failed,
    Cancelled,
    Taken,
}

/// <summary>What the writer chose for documents that are coming in, as the browser says it. Null leaves a part as it is.</summary>
/// <param name="Roles">roles by mapping line; an empty role goes back to what is proposed</param>
/// <param name="Exceptions">roles of single paragraphs; an empty role takes the exception back</param>
/// <param name="Off">kinds of cleaning that are switched off</param>
/// <param name="Order">the files in their new order, by their numbers</param>
/// <param name="Mapping">a mapping of the shelf to apply; "" for none</param>
/// <param name="Tree">the places of the files in one book; empty for each file by itself</param>
/// <param name="Language">of all the files; "" for what each says or is told from its words</param>
public sealed record Choices(
    Dictionary<string, string>? Roles,
    ExceptionChoice[]? Exceptions,
    string[]? Off,
    string[]? Becomes,
    int[]? Order,
    string? Mapping,
    TreeChoice[]? Tree,
    string? Language = null
)
{
    public const int MostPlaces = 10_000;
}

/// <summary>The place of a file in the book that the files are.</summary>
/// <param name="File">its number; -1 for a part that is only named</param>
/// <param name="Kind">part, chapter, appendix, preface, glossary, section, leftOut</param>
public sealed record TreeChoice(int File, int Depth, string Kind, string Title);

public sealed record ExceptionChoice(int File, int Place, string Role);

/// <summary>All that was chosen so far; kept in the database, so that it outlives the process. Files are named by their numbers
/// as they were brought in.</summary>
public sealed record Chosen(
    string MappingName,
    Dictionary<string, string> Roles,
    ExceptionChoice[] Exceptions,
    Cleaning[] Off,
    string?[] Becomes,
    int[] Order
)
{
    /// <summary>The places of the files in one book; null for what they say of it, empty for each by itself.</summary>
    public TreeChoice[]? Tree { get; init; }

    /// <summary>Of all the files; empty for that which each was read to have.</summary>
    public string Language { get; init; } = "";

    public static Chosen Nothing(int files) => new("", [], [], [], new string?[files], [.. Enumerable.Range(0, files)]);

    public Chosen With(ImportMapping mapping) =>
        this with
        {
            MappingName = mapping.Name,
            Roles = new Dictionary<string, string>(mapping.Roles, StringComparer.Ordinal),
            Off = [.. mapping.Off],
            Becomes = [.. Becomes.Select(_ => mapping.Becomes == "chapter" ? null : mapping.Becomes)],
        };

    public Chosen With(Choices choices)
    {
        var roles = new Dictionary<string, string>(Roles, StringComparer.Ordinal);
        foreach (var (key, role) in choices.Roles ?? [])
            if (string.IsNullOrEmpty(role))
                roles.Remove(key);
            else if (ImportRole.Exists(role))
                roles[key] = role;
        var exceptions = Exceptions.ToList();
        foreach (var exception in choices.Exceptions ?? [])
        {
            if (exception is null || exception.File < 0 || exception.File >= Order.Length)
                continue;
            // The browser names a file by where it stands now.
            var own = exception with { File = Order[exception.File] };
            exceptions.RemoveAll(e => e.File == own.File && e.Place == own.Place);
            if (!string.IsNullOrEmpty(own.Role) && ImportRole.Exists(own.Role))
                exceptions.Add(own);
        }
        var off = choices
            .Off?.Select(o => Enum.TryParse<Cleaning>(o, true, out var c) ? c : (Cleaning?)null)
            .OfType<Cleaning>()
            .Distinct()
            .ToArray()
            ?? Off;
        var becomes = choices.Becomes is { } wanted
            ? [.. Becomes.Select((_, i) => i < wanted.Length && ImportRole.DivisionOf(wanted[i]) is not null ? wanted[i] : null)]
            : Becomes;
        var order = Order;
        if (choices.Order is { } moved && moved.Order().SequenceEqual(Enumerable.Range(0, Order.Length)))
            (order, becomes) = ([.. moved.Select(i => Order[i])], [.. moved.Select(i => becomes[i])]);
        return new Chosen(MappingName, roles, [.. exceptions], off, becomes, order)
        {
            Tree = Placed(choices.Tree),
            Language = choices.Language is { } said && (said.Length == 0 || EditionEditing.IsLanguage(said)) ? said : Language,
        };
    }

    /// <summary>The tree as it is chosen now; one that names a file twice, or none that is there, is not taken.</summary>
    private TreeChoice[]? Placed(TreeChoice[]? wanted)
    {
        if (wanted is null)
            return Tree;
        if (wanted.Length == 0)
            return [];
        if (wanted.Length > Choices.MostPlaces || wanted.Any(p => p is null || p.File >= Order.Length || !SiteTree.IsKind(p.Kind)))
            return Tree;
        var own = wanted
            .Select(p => p with { File = p.File < 0 ? -1 : Order[p.File], Depth = Math.Clamp(p.Depth, 0, 12), Title = p.Title ?? "" })
            .ToArray();
        return own.Where(p => p.File >= 0).GroupBy(p => p.File).Any(g => g.Count() > 1) ? Tree : own;
    }
}

/// <summary>A source that a newer version of is coming in.</summary>
public sealed record EarlierVersion(string Source, IReadOnlyList<BroughtInBlock> Blocks);

/// <summary>What came to the shelf: the files and where they shall go.</summary>
/// <param name="Manual">the manual that they come into, and the row after which; null for a new manual</param>
/// <param name="Seed">from which ids are made, so that they are the same when the files are read again</param>
public sealed record Delivery(
    string Id,
    IReadOnlyList<SourceFile> Files,
    string? Manual,
    string After,
    string ManualTitle,
    string Look,
    string? LookFile,
    string Seed,
    EarlierVersion? Earlier
);

/// <summary>How documents on their way in stand: never changed, only replaced, so that a screen that asks sees one moment.</summary>
public sealed record Standing(BringInState State, Chosen Chosen)
{
    public double Progress { get; init; }
    public string Doing { get; init; } = "";
    public string? Problem { get; init; }
    public double Milliseconds { get; init; }
    public int Version { get; init; }

    /// <summary>What kept a file from being read, with its name.</summary>
    public IReadOnlyList<(string File, string Problem)> Unread { get; init; } = [];

    /// <summary>As read, in the order in which they came, with the numbers of their files.</summary>
    public IReadOnlyList<(SourceDocument Document, int File)> Read { get; init; } = [];
    public Shaped? Shaped { get; init; }
    public ComposedManual? Composed { get; init; }
    public Comparison? Comparison { get; init; }

    public IEnumerable<(SourceDocument Document, int File)> Ordered => Chosen.Order.Select(i => Read[i]);

    public ImportMapping Mapping(string name) =>
        new(name)
        {
            Roles = Chosen.Roles,
            Off = Chosen.Off.ToHashSet(),
            Becomes = Chosen.Becomes.FirstOrDefault() ?? "chapter",
        };
}

/// <summary>Reads, shapes and composes documents on their way in. Nothing here knows a database.</summary>
public sealed class Incoming(Delivery delivery)
{
    /// <summary>So long a set of files may be read: a hostile one is told instead of keeping a core for ever.</summary>
    private static readonly TimeSpan Longest = TimeSpan.FromMinutes(3);
    private readonly CompositionCaches _caches = new();

    public Delivery Delivery { get; } = delivery;

    /// <summary>Reads all files, one after another.</summary>
    /// <param name="tell">how far it is</param>
    public Standing Read(Action<Standing> tell, CancellationToken cancel)
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        limit.CancelAfter(Longest);
        var clock = Stopwatch.StartNew();
        var now = new Standing(BringInState.Reading, Chosen.Nothing(0));
        var files = Delivery.Files;
        var documents = files
            .Select((f, i) => (File: f, At: i))
            .Where(f => DocumentReader.IsDocument(f.File.Name) || !DocumentReader.IsBeside(f.File.Name))
            .ToList();
        var read = new List<(SourceDocument, int)>();
        var unread = new List<(string, string)>();
        var done = 0;
        foreach (var (file, at) in documents)
        {
            now = now with { Doing = $"Reading {file.Name}" };
            tell(now);
            try
            {
                limit.Token.ThrowIfCancellationRequested();
                var beside = files.Where(f => !ReferenceEquals(f, file)).ToArray();
                var from = done;
                read.Add(
                    (
                        DocumentReader.Read(
                            file,
                            beside,
                            part => tell(now with { Progress = (from + part) / documents.Count }),
                            limit.Token
                        ),
                        at
                    )
                );
            }
            catch (SourceFormatException e)
            {
                unread.Add((file.Name, e.Message));
            }
            catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
            {
                unread.Add((file.Name, $"{file.Name} takes more than {Longest.TotalMinutes:0} minutes to read; it is left out."));
            }
            now = now with { Progress = (double)++done / documents.Count, Unread = [.. unread] };
            tell(now);
        }
        var together = DocumentReader.Together([.. read.Select(r => r.Item1)]);
        read = [.. together.Select(d => (d, read.First(r => r.Item1.File == d.File).Item2))];
        now = now with { Milliseconds = clock.Elapsed.TotalMilliseconds, Read = read, Chosen = Chosen.Nothing(read.Count) };
        if (read.Count > 0)
            return now;
        var why =
            unread.Count > 0
                ? string.Join(" ", unread.Select(u => u.Item2))
                : "None of these files is a document that is read: .docx, .md, .html or DocBook.";
        return now with { State = BringInState.Failed, Problem = why };
    }

    /// <summary>The mapping that fits these documents best, if one fits well.</summary>
    public ImportMapping? Fitting(Standing read, IReadOnlyList<ImportMapping> mappings, CancellationToken cancel)
    {
        var request = new ShapeRequest([.. read.Ordered.Select(d => d.Document)], ImportMapping.None, Delivery.Seed);
        var lines = Shaper.Shape(request, cancel).Lines;
        return mappings
            .Select(m => (Mapping: m, Fits: m.Fits(lines)))
            .Where(m => m.Fits >= 3 && m.Fits * 10 >= lines.Count * 6)
            .OrderByDescending(m => m.Fits)
            .Select(m => m.Mapping)
            .FirstOrDefault();
    }

    /// <summary>Shapes and composes with what is chosen.</summary>
    /// <param name="stands">the manual a newer version is compared with; null for none</param>
    public Standing Shape(Standing now, Manual? stands, CancellationToken cancel)
    {
        var chosen = now.Chosen;
        var at = chosen.Order.Select((file, i) => (file, i)).ToDictionary(f => f.file, f => f.i);
        var documents = now.Ordered.Select(d => chosen.Language.Length == 0 ? d.Document : d.Document with { Language = chosen.Language });
        var request = new ShapeRequest([.. documents], now.Mapping(chosen.MappingName), Delivery.Seed)
        {
            Exceptions = chosen.Exceptions.ToDictionary(e => (at[e.File], e.Place), e => e.Role),
            Becomes = chosen.Becomes,
            Tree = chosen.Tree is { } tree
                ? new SiteTree(
                    [.. tree.Select(p => new TreePlace(p.File < 0 ? -1 : at[p.File], p.Depth, p.Kind, p.Title))],
                    "",
                    SiteTree.Chosen
                )
                : null,
        };
        var shaped = Shaper.Shape(request, cancel);
        var own = new Manual(new Id(Delivery.Seed), shaped.Title, shaped.Divisions)
        {
            Language = shaped.Language,
            Look = Delivery.Look,
            LookFile = Delivery.LookFile,
            Assets = shaped.Assets,
        };
        var composed = Composer.Compose(own, Edition.Whole, WornLook.Of(own), _caches, cancel: cancel);
        Comparison? comparison = null;
        if (Delivery.Earlier is { } earlier && stands is not null)
            comparison = NewerVersion.Compare(earlier.Blocks, PictureNames.Of(shaped, stands.Assets).Divisions, stands, cancel);
        return now with
        {
            State = BringInState.Ready,
            Doing = "",
            Shaped = shaped,
            Composed = composed,
            Comparison = comparison,
            Version = now.Version + 1,
        };
    }

    public static string HashOf(byte[] bytes) => Convert.ToHexStringLower(SHA256.HashData(bytes));
}
