using System.Diagnostics;
using System.Security.Cryptography;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Formats.Import;

namespace Kivren.Server.BringIn;

public enum BringInState { Reading, Ready, Failed, Cancelled, Taken }

/// <summary>What the writer chose for documents that are coming in. Null leaves a part as it is.</summary>
/// <param name="Roles">roles by mapping line; an empty role goes back to what is proposed</param>
/// <param name="Exceptions">roles of single paragraphs; an empty role takes the exception back</param>
/// <param name="Off">kinds of cleaning that are switched off</param>
/// <param name="Order">the files in their new order, by their numbers</param>
/// <param name="Mapping">a mapping of the shelf to apply; "" for none</param>
public sealed record Choices(Dictionary<string, string>? Roles, ExceptionChoice[]? Exceptions, string[]? Off, string[]? Becomes, int[]? Order, string? Mapping);

public sealed record ExceptionChoice(int File, int Place, string Role);

/// <summary>A source that a newer version of is coming in.</summary>
public sealed record EarlierVersion(string Source, IReadOnlyList<BroughtInBlock> Blocks);

/// <summary>Documents on their way in: read beside the writer's work, shaped anew with every choice, composed as they would
/// print. Nothing is in a manual before it is taken.</summary>
public sealed class BringInRoom
{
    private readonly CancellationTokenSource _cancel = new();
    private readonly SemaphoreSlim _gate = new(1, 1);
    private readonly CompositionCaches _caches = new();
    private readonly List<SourceFile> _files;
    private readonly string _seed = Guid.CreateVersion7().ToString("N");
    private List<SourceDocument> _documents = [];
    private List<int> _fileOf = [];
    private Dictionary<string, string> _roles = new(StringComparer.Ordinal);
    private Dictionary<(int, int), string> _exceptions = [];
    private HashSet<Cleaning> _off = [];
    private List<string?> _becomes = [];

    public BringInRoom(string id, IReadOnlyList<SourceFile> files, string? manual, string after, string look)
    {
        Id = id;
        _files = [.. files];
        Manual = manual;
        After = after;
        Look = look;
    }

    public string Id { get; }

    /// <summary>The manual that they come into, and the row after which; null for a new manual.</summary>
    public string? Manual { get; }
    public string After { get; }
    public string Look { get; }
    public string ManualTitle { get; init; } = "";
    public EarlierVersion? Earlier { get; init; }
    public BringInState State { get; private set; } = BringInState.Reading;
    public double Progress { get; private set; }
    public string Doing { get; private set; } = "";
    public string? Problem { get; private set; }
    public double Milliseconds { get; private set; }
    public string MappingName { get; private set; } = "";
    public int Version { get; private set; }
    public Shaped? Shaped { get; private set; }
    public ComposedManual? Composed { get; private set; }
    public Comparison? Comparison { get; private set; }
    public DateTimeOffset Touched { get; set; }

    /// <summary>What kept a file from being read, by its name.</summary>
    public Dictionary<string, string> Unread { get; } = new(StringComparer.Ordinal);
    public IReadOnlyList<SourceDocument> Documents => _documents;
    public IReadOnlySet<Cleaning> Off => _off;
    public IReadOnlyList<string?> Becomes => _becomes;

    public SourceFile FileOf(int document) => _files[_fileOf[document]];

    public ImportMapping Mapping(string name) => new(name) { Roles = _roles, Off = _off, Becomes = _becomes.FirstOrDefault() ?? "chapter" };

    public void Cancel()
    {
        _cancel.Cancel();
        if (State is BringInState.Reading) State = BringInState.Cancelled;
    }

    public void Took() => State = BringInState.Taken;

    /// <summary>Reads all files, then shapes and composes them with the mapping that fits best.</summary>
    /// <param name="mappings">mappings that may be proposed</param>
    /// <param name="given">a mapping that is to be used whatever fits</param>
    public async Task Read(IReadOnlyList<ImportMapping> mappings, ImportMapping? given, Func<Task<Manual?>> manual)
    {
        var clock = Stopwatch.StartNew();
        try
        {
            await Task.Run(() =>
            {
                var documents = _files.Select((f, i) => (File: f, At: i)).Where(f => DocumentReader.IsDocument(f.File.Name) || !DocumentReader.IsBeside(f.File.Name)).ToList();
                // A file that is a part of another among these is not read by itself.
                var done = 0;
                foreach (var (file, at) in documents)
                {
                    _cancel.Token.ThrowIfCancellationRequested();
                    Doing = $"Reading {file.Name}";
                    try
                    {
                        var document = DocumentReader.Read(file, _files.Where(f => !ReferenceEquals(f, file)).ToArray(), part => Progress = (done + part) / documents.Count, _cancel.Token);
                        _documents.Add(document);
                        _fileOf.Add(at);
                    }
                    catch (SourceFormatException e)
                    {
                        Unread[file.Name] = e.Message;
                    }
                    Progress = (double)++done / documents.Count;
                }
            });
            Milliseconds = clock.Elapsed.TotalMilliseconds;
            if (_documents.Count == 0)
            {
                Problem = Unread.Count > 0 ? string.Join(" ", Unread.Values) : "None of these files is a document that is read: .docx, .md, .html or DocBook.";
                State = BringInState.Failed;
                return;
            }
            _becomes = [.. _documents.Select(_ => (string?)null)];
            var lines = Shaper.Shape(new ShapeRequest(_documents, ImportMapping.None, _seed), _cancel.Token).Lines;
            var best = given ?? mappings.Select(m => (Mapping: m, Fits: m.Fits(lines))).Where(m => m.Fits >= 3 && m.Fits * 10 >= lines.Count * 6).OrderByDescending(m => m.Fits).Select(m => m.Mapping).FirstOrDefault();
            if (best is not null) Apply(best);
            Doing = "Composing";
            await Shape(manual);
            State = BringInState.Ready;
        }
        catch (OperationCanceledException)
        {
            State = BringInState.Cancelled;
        }
        catch (Exception e)
        {
            // Whatever a file does to the reader, the writer hears of it and nothing else stops.
            Problem = $"These files cannot be read: {e.Message}";
            State = BringInState.Failed;
        }
    }

    private void Apply(ImportMapping mapping)
    {
        MappingName = mapping.Name;
        _roles = new Dictionary<string, string>(mapping.Roles, StringComparer.Ordinal);
        _off = [.. mapping.Off];
        _becomes = [.. _documents.Select(_ => mapping.Becomes == "chapter" ? null : mapping.Becomes)];
    }

    public async Task Choose(Choices choices, Func<string, Task<ImportMapping?>> kept, Func<Task<Manual?>> manual)
    {
        await _gate.WaitAsync(_cancel.Token);
        try
        {
            if (choices.Mapping is { Length: > 0 } name && await kept(name) is { } mapping) Apply(mapping);
            else if (choices.Mapping is "") Apply(ImportMapping.None);
            foreach (var (key, role) in choices.Roles ?? [])
                if (role.Length == 0) _roles.Remove(key);
                else if (ImportRole.Exists(role)) _roles[key] = role;
            foreach (var exception in choices.Exceptions ?? [])
                if (exception.Role.Length == 0) _exceptions.Remove((exception.File, exception.Place));
                else if (ImportRole.Exists(exception.Role)) _exceptions[(exception.File, exception.Place)] = exception.Role;
            if (choices.Off is { } off) _off = off.Select(o => Enum.TryParse<Cleaning>(o, true, out var c) ? c : (Cleaning?)null).OfType<Cleaning>().ToHashSet();
            if (choices.Becomes is { } becomes) _becomes = [.. _documents.Select((_, i) => i < becomes.Length && ImportRole.DivisionOf(becomes[i]) is not null ? becomes[i] : null)];
            if (choices.Order is { } order && order.Order().SequenceEqual(Enumerable.Range(0, _documents.Count)))
            {
                _documents = [.. order.Select(i => _documents[i])];
                _fileOf = [.. order.Select(i => _fileOf[i])];
                _becomes = [.. order.Select(i => _becomes[i])];
                _exceptions = _exceptions.ToDictionary(e => (Array.IndexOf(order, e.Key.Item1), e.Key.Item2), e => e.Value);
            }
            await Shape(manual);
        }
        finally
        {
            _gate.Release();
        }
    }

    private async Task Shape(Func<Task<Manual?>> manual)
    {
        var shaped = await Task.Run(() => Shaper.Shape(new ShapeRequest(_documents, Mapping(MappingName), _seed) { Exceptions = _exceptions, Becomes = _becomes }, _cancel.Token));
        var own = new Manual(new Id(_seed), shaped.Title, shaped.Divisions) { Look = Look, Assets = shaped.Assets };
        var composed = await Task.Run(() => Composer.Compose(own, Edition.Whole, ShippedLooks.Named(Look), _caches, cancel: _cancel.Token));
        if (Earlier is not null && await manual() is { } stands) Comparison = NewerVersion.Compare(Earlier.Blocks, shaped.Divisions, stands);
        (Shaped, Composed) = (shaped, composed);
        Version++;
    }

    public static string HashOf(byte[] bytes) => Convert.ToHexStringLower(SHA256.HashData(bytes));
}
