using System.Collections.Concurrent;

namespace Kivren.Server.Manuals;

/// <summary>Where this process composes: so many compositions at once, in the order in which they came, so that one manual typed in
/// fast does not keep the others waiting; and on threads of their own, so that a save that waits for the database never stands in
/// line behind pages.</summary>
public sealed class CompositionGate : IDisposable
{
    private readonly SemaphoreSlim _free = new(Most);
    private readonly OwnThreads _threads = new(Most);

    private static int Most => Math.Max(2, Environment.ProcessorCount);

    /// <summary>Does the work when it is its turn.</summary>
    public async Task<T> Run<T>(Func<T> work, CancellationToken cancel)
    {
        await _free.WaitAsync(cancel);
        try
        {
            return await Task.Factory.StartNew(work, cancel, TaskCreationOptions.None, _threads);
        }
        finally
        {
            _free.Release();
        }
    }

    public void Dispose()
    {
        _threads.Dispose();
        _free.Dispose();
    }

    /// <summary>Runs tasks, and the loops inside them, on a fixed number of threads beside the pool.</summary>
    private sealed class OwnThreads : TaskScheduler, IDisposable
    {
        private readonly BlockingCollection<Task> _tasks = [];

        public OwnThreads(int count)
        {
            for (var n = 0; n < count; n++)
                new Thread(Run) { IsBackground = true, Name = "Composing " + n }.Start();
        }

        private void Run()
        {
            foreach (var task in _tasks.GetConsumingEnumerable())
                TryExecuteTask(task);
        }

        protected override void QueueTask(Task task) => _tasks.Add(task);

        protected override bool TryExecuteTaskInline(Task task, bool taskWasPreviouslyQueued) => Current == this && TryExecuteTask(task);

        protected override IEnumerable<Task> GetScheduledTasks() => _tasks;

        public void Dispose() => _tasks.CompleteAdding();
    }
}
