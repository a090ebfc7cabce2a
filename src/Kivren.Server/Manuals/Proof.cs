using System.Diagnostics;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.References;
using Kivren.Server.Pointing;

namespace Kivren.Server.Manuals;

/// <summary>A composition with its number, and what it changed against the one before.</summary>
public sealed record NumberedComposition(int Number, ComposedManual Composed, ProofMessage Message)
{
    /// <summary>Of all pages.</summary>
    internal Lazy<HashSet<string>> Keys { get; } = new(() => Composed.Pages.Select(ProofMessage.KeyOf).ToHashSet(StringComparer.Ordinal));
}

/// <summary>This text cannot be composed: why, in words for the writer.</summary>
public sealed class CannotComposeException(string message, Exception cause) : Exception(message, cause);

/// <summary>Composes one manual beside its desk, always the latest text. A composition under way is never given up for a newer text:
/// pages come however fast writers type, and at most one composition late. Nothing here can lose text; it was safe before. The last
/// good pages stay when a text cannot be composed.</summary>
public sealed partial class Proof(
    string manualId,
    CompositionGate gate,
    Func<ProofMessage, Task> tell,
    Action<ComposedManual> settled,
    ILogger log
)
{
    /// <summary>While changes come faster than they are composed, this manual rests: for each act that came meanwhile a quarter of what
    /// the composition took, at most twice that, and never longer than this. Under many writers the saves come first, and so do other
    /// manuals; few see their pages at once.</summary>
    private static readonly TimeSpan LongestRest = TimeSpan.FromMilliseconds(400);

    private static TimeSpan RestAfter(TimeSpan composing, int acts)
    {
        var rest = composing * Math.Min(2, acts / 4.0);
        return rest < LongestRest ? rest : LongestRest;
    }

    private readonly CompositionCaches _caches = new();
    private readonly Lock _lock = new();
    private readonly CancellationTokenSource _stopped = new();
    private (Manual Manual, long Act)? _wanted;

    /// <summary>Acts that came since the composition under way began.</summary>
    private int _came;
    private bool _working;
    private int _number;
    private TaskCompletionSource<NumberedComposition> _first = NewFirst();
    private volatile NumberedComposition? _current,
        _before;

    private static TaskCompletionSource<NumberedComposition> NewFirst() => new(TaskCreationOptions.RunContinuationsAsynchronously);

    /// <summary>The last settled composition; the first one is waited for.</summary>
    /// <exception cref="CannotComposeException">there is none, and the text cannot be composed</exception>
    public Task<NumberedComposition> Settled()
    {
        if (_current is { } current)
            return Task.FromResult(current);
        lock (_lock)
            return _first.Task;
    }

    /// <summary>The page drawn under this key in the current composition or the one before it, which a browser may still be asking
    /// for.</summary>
    public (ComposedManual Composed, ComposedPage Page)? Page(string key)
    {
        foreach (var composition in new[] { _current, _before })
            if (composition?.Composed.Pages.FirstOrDefault(p => ProofMessage.KeyOf(p) == key) is { } page)
                return (composition.Composed, page);
        return null;
    }

    /// <summary>Whether the composition before did not have this page.</summary>
    public bool IsNew(string key) => _before is not { } before || !before.Keys.Value.Contains(key);

    /// <summary>Composes this text next; <paramref name="act"/> is the last act in it, which the proof message names.</summary>
    public void Submit(Manual manual, long act)
    {
        lock (_lock)
        {
            if (_stopped.IsCancellationRequested)
                return;
            _wanted = (manual, act);
            _came++;
            // Who asks from now on waits for this text, not for the one that failed.
            if (_first.Task.IsFaulted)
                _first = NewFirst();
            if (_working)
                return;
            _working = true;
        }
        _ = Task.Run(Work);
    }

    /// <summary>Ends what is under way; who waits is told.</summary>
    public void Stop()
    {
        lock (_lock)
        {
            _wanted = null;
            _stopped.Cancel();
            _first.TrySetException(new CannotComposeException("The manual was closed.", new OperationCanceledException()));
        }
    }

    private async Task Work()
    {
        while (true)
        {
            Manual manual;
            long act;
            lock (_lock)
            {
                if (_wanted is not { } wanted)
                {
                    _working = false;
                    return;
                }
                (manual, act) = wanted;
                (_wanted, _came) = (null, 0);
            }
            var clock = Stopwatch.StartNew();
            if (await Compose(manual, act) is { } message)
                await tell(message);
            int came;
            lock (_lock)
                came = _came;
            if (came == 0)
                continue;
            await Task.Delay(RestAfter(clock.Elapsed, came), _stopped.Token).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }

    /// <returns>what browsers are told; null when the manual was closed meanwhile</returns>
    private async Task<ProofMessage?> Compose(Manual manual, long act)
    {
        try
        {
            var before = _current;
            var done = await gate.Run(
                () =>
                {
                    var clock = Stopwatch.StartNew();
                    var composed = Composed(manual);
                    var message = ProofMessage.Of(before, composed, ++_number, act, clock);
                    return new NumberedComposition(_number, composed, message);
                },
                _stopped.Token
            );
            RememberLost(before?.Composed, done.Composed);
            (_before, _current) = (_current, done);
            lock (_lock)
                _first.TrySetResult(done);
            settled(done.Composed);
            return done.Message.After(before?.Message);
        }
        catch (OperationCanceledException) when (_stopped.IsCancellationRequested)
        {
            return null;
        }
        catch (Exception e)
        {
            LogFailed(log, e, manualId, act);
            var problem = $"These pages cannot be composed: {e.Message}";
            lock (_lock)
                _first.TrySetException(new CannotComposeException(problem, e));
            // Unobserved, it would be reported a second time by the runtime.
            _ = _first.Task.Exception;
            return ProofMessage.Failure(_number, act, problem);
        }
    }

    private readonly Lock _composing = new();

    /// <summary>The name of the edition that is proofed; null for the manual's first. One that is no longer there is the first.</summary>
    public string? Edition { get; set; }

    /// <summary>The caches serve one composition at a time.</summary>
    private ComposedManual Composed(Manual manual)
    {
        var edition = manual.Editions.FirstOrDefault(e => e.Name == Edition) ?? manual.EditionNamed(null);
        lock (_composing)
            return Composer.Compose(manual, edition.Proofed, WornLook.Of(manual, edition), _caches, cancel: _stopped.Token);
    }

    /// <summary>The pages of a text that nobody stored, for who asks what an act would come to.</summary>
    public async Task<ComposedManual> Foresee(Manual manual)
    {
        try
        {
            return await gate.Run(() => Composed(manual), _stopped.Token);
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            throw new CannotComposeException($"These pages cannot be composed: {e.Message}", e);
        }
    }

    /// <summary>What references that point at nothing printed when they pointed at something last.</summary>
    public IReadOnlyDictionary<Id, LostTarget> Lost => _lost;
    private volatile Dictionary<Id, LostTarget> _lost = [];

    private void RememberLost(ComposedManual? before, ComposedManual now)
    {
        if (before is null || now.LooseEnds.All(l => l.Kind != LooseEndKind.ReferenceToNothing))
            return;
        Dictionary<Id, LostTarget>? lost = null;
        foreach (var division in now.Text.Divisions)
        foreach (var reference in ProofMessage.ReferencesIn(division))
            if (
                reference.Other is null
                && now.Numbers.Find(reference.Target) is null
                && before.Numbers.Find(reference.Target) is { Target: var was }
            )
                (lost ??= new(_lost))[Places.Kept(reference.Id)] = new LostTarget(was.Name, was.Number, was.Title, before.Print(reference));
        if (lost is not null)
            _lost = lost;
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "The manual {Manual} cannot be composed as of act {Act}")]
    private static partial void LogFailed(ILogger log, Exception cause, string manual, long act);
}
