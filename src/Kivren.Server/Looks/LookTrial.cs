using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Server.Manuals;

namespace Kivren.Server.Looks;

/// <summary>A manual seen in a look that it does not wear: what a designer turns values on. Nothing of it is kept; it knows the look
/// that was asked for last, and composes that one as a whole while the pages in sight are answered at once. What is under way for a look
/// that nobody wants any more is given up.</summary>
public sealed class LookTrial(CompositionGate gate) : IDisposable
{
    private readonly CompositionCaches _glimpses = new(),
        _wholes = new();
    private readonly Lock _lock = new(),
        _glimpsing = new(),
        _composing = new();
    private (ComposedManual Now, string File, Look Look, CancellationTokenSource Cancel, Task<ComposedManual>? Whole)? _tried;

    /// <summary>The look of a file; the same object as long as the same is asked for.</summary>
    private (ComposedManual Now, Look Look, CancellationTokenSource Cancel) Try(ComposedManual now, string file, Look look)
    {
        lock (_lock)
        {
            if (_tried is { } tried && tried.File == file && ReferenceEquals(tried.Now, now))
                return (now, tried.Look, tried.Cancel);
            _tried?.Cancel.Cancel();
            var cancel = new CancellationTokenSource();
            _tried = (now, file, look, cancel, null);
            return (now, look, cancel);
        }
    }

    /// <summary>The pages of a division up to the one in sight in this look, before all else is made in it.</summary>
    public Task<IReadOnlyList<ComposedPage>> Glimpse(ComposedManual now, string file, Look look, int division, int page)
    {
        var tried = Try(now, file, look);
        return gate.Run(
            () =>
            {
                lock (_glimpsing)
                    return Composer.Glimpse(now, tried.Look, division, page, _glimpses, tried.Cancel.Token);
            },
            tried.Cancel.Token
        );
    }

    /// <summary>The whole manual in this look.</summary>
    /// <exception cref="OperationCanceledException">another look was asked for meanwhile</exception>
    public Task<ComposedManual> Settled(ComposedManual now, string file, Look look)
    {
        var tried = Try(now, file, look);
        lock (_lock)
        {
            if (_tried is not { } current || current.File != file)
                return Task.FromCanceled<ComposedManual>(new CancellationToken(true));
            if (current.Whole is { } under)
                return under;
            var whole = gate.Run(
                () =>
                {
                    lock (_composing)
                        return Composer.Compose(now.Text.Manual, now.Text.Edition, tried.Look, _wholes, cancel: tried.Cancel.Token);
                },
                tried.Cancel.Token
            );
            _tried = current with { Whole = whole };
            return whole;
        }
    }

    public void Dispose()
    {
        lock (_lock)
            _tried?.Cancel.Cancel();
    }
}
