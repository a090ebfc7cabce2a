using System.Diagnostics;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;

namespace Kivren.Server.Proof;

/// <summary>A composition with its number, and what it changed against the one before.</summary>
public sealed record NumberedComposition(int Number, ComposedManual Composed, double Milliseconds, ProofMessage Message);

/// <summary>Composes one manual beside its desk, always the latest text: a newer change cancels a composition that is
/// under way (architecture.md, Flow 3). Nothing here can lose text; it was safe before.</summary>
public sealed class ProofRoom(string manualId, Func<ProofMessage, Task> tell, Action<ComposedManual> settled)
{
    private readonly CompositionCaches _caches = new();
    private readonly Lock _gate = new();
    private (Manual Manual, long Act)? _wanted;
    private CancellationTokenSource? _running;
    private bool _working;
    private TaskCompletionSource<NumberedComposition> _next = new(TaskCreationOptions.RunContinuationsAsynchronously);
    private volatile NumberedComposition? _current, _before;
    private int _number;

    public string ManualId => manualId;

    /// <summary>The last settled composition, or null before the first.</summary>
    public NumberedComposition? Current => _current;

    /// <summary>The current composition, waiting for the first if there is none yet.</summary>
    public Task<NumberedComposition> First() => _current is { } c ? Task.FromResult(c) : _next.Task;

    /// <summary>The page drawn under this key in the current composition or the one before it, which a browser may still be asking for.</summary>
    public (ComposedManual Composed, ComposedPage Page)? Page(string key)
    {
        foreach (var composition in new[] { _current, _before })
            if (composition?.Composed.Pages.FirstOrDefault(p => p.Key == key) is { } page) return (composition.Composed, page);
        return null;
    }

    /// <summary>Composes this text next; <paramref name="act"/> is the last act in it, which the proof message names.</summary>
    public void Submit(Manual manual, long act)
    {
        lock (_gate)
        {
            _wanted = (manual, act);
            _running?.Cancel();
            if (_working) return;
            _working = true;
            _ = Task.Run(Work);
        }
    }

    private async Task Work()
    {
        while (true)
        {
            Manual manual;
            long act;
            CancellationTokenSource cancel;
            lock (_gate)
            {
                if (_wanted is not { } wanted)
                {
                    _working = false;
                    return;
                }
                (manual, act) = wanted;
                _wanted = null;
                cancel = _running = new CancellationTokenSource();
            }
            try
            {
                var clock = Stopwatch.StartNew();
                var composed = Composer.Compose(manual, manual.EditionNamed(null), ShippedLooks.Named(manual.Look), _caches, cancel: cancel.Token);
                var took = clock.Elapsed.TotalMilliseconds;
                var message = ProofMessage.Of(_current?.Composed, composed, ++_number, act, took);
                var done = new NumberedComposition(_number, composed, took, message);
                (_before, _current) = (_current, done);
                _next.TrySetResult(done);
                settled(composed);
                await tell(message);
            }
            catch (OperationCanceledException) when (cancel.IsCancellationRequested)
            {
                // A newer text waits already.
            }
            catch (Exception e)
            {
                await tell(ProofMessage.Failure(_number, act, e.Message));
                _next.TrySetException(e);
                _next = new(TaskCreationOptions.RunContinuationsAsynchronously);
            }
            finally
            {
                lock (_gate) _running = null;
                cancel.Dispose();
            }
        }
    }
}
