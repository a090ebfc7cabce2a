using System.Data.Common;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Npgsql;

namespace Kivren.Store.Tests;

/// <summary>A database of its own in the PostgreSQL that ./test started, with faults on demand.</summary>
public sealed class TestShelf : IAsyncLifetime, IDbContextFactory<ShelfContext>
{
    private string _connection = "",
        _name = "";
    public Faults Faults { get; } = new();

    public async ValueTask InitializeAsync()
    {
        var admin = Environment.GetEnvironmentVariable("KIVREN_TEST_DATABASE")
            ?? throw new InvalidOperationException("KIVREN_TEST_DATABASE is not set; ./test sets it.");
        _name = "s" + Guid.NewGuid().ToString("N");
        _connection = new NpgsqlConnectionStringBuilder(admin) { Database = _name, MaxPoolSize = 8 }.ToString();
        await using var db = CreateDbContext();
        await db.Database.MigrateAsync();
    }

    public ShelfContext CreateDbContext()
    {
        var options = new DbContextOptionsBuilder<ShelfContext>();
        ShelfContext.Configure(options, _connection);
        return new ShelfContext(options.AddInterceptors(Faults, Faults.OfTransactions).Options);
    }

    /// <summary>Ends every connection but the one that says so, as a restart of the database does.</summary>
    public async Task EndConnections()
    {
        await using var connection = new NpgsqlConnection(new NpgsqlConnectionStringBuilder(_connection) { Pooling = false }.ToString());
        await connection.OpenAsync();
        await using var end = new NpgsqlCommand(
            $"SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '{_name}' AND pid <> pg_backend_pid()",
            connection
        );
        await end.ExecuteNonQueryAsync();
    }

    public async ValueTask DisposeAsync()
    {
        NpgsqlConnection.ClearAllPools();
        await using var connection = new NpgsqlConnection(Environment.GetEnvironmentVariable("KIVREN_TEST_DATABASE"));
        await connection.OpenAsync();
        await using var drop = new NpgsqlCommand($"DROP DATABASE IF EXISTS {_name} WITH (FORCE)", connection);
        await drop.ExecuteNonQueryAsync();
    }
}

/// <summary>Makes the n-th call to the database fail, before or after it was done.</summary>
public sealed class Faults : DbCommandInterceptor
{
    public sealed class Fault() : TimeoutException("A fault was asked for.");

    private int _left = -1;

    public TransactionFaults OfTransactions { get; }

    public Faults() => OfTransactions = new TransactionFaults(this);

    /// <summary>Whether the fault that was asked for came.</summary>
    public bool Came { get; private set; }

    /// <param name="call">which call from now on fails, from 0; −1 for none</param>
    public void At(int call) => (_left, Came) = (call, false);

    internal void Call()
    {
        if (_left < 0 || _left-- > 0)
            return;
        Came = true;
        throw new Fault();
    }

    public override ValueTask<InterceptionResult<DbDataReader>> ReaderExecutingAsync(
        DbCommand command,
        CommandEventData eventData,
        InterceptionResult<DbDataReader> result,
        CancellationToken cancellationToken = default
    )
    {
        Call();
        return base.ReaderExecutingAsync(command, eventData, result, cancellationToken);
    }

    public override ValueTask<InterceptionResult<int>> NonQueryExecutingAsync(
        DbCommand command,
        CommandEventData eventData,
        InterceptionResult<int> result,
        CancellationToken cancellationToken = default
    )
    {
        Call();
        return base.NonQueryExecutingAsync(command, eventData, result, cancellationToken);
    }

    public sealed class TransactionFaults(Faults faults) : DbTransactionInterceptor
    {
        public override ValueTask<InterceptionResult<DbTransaction>> TransactionStartingAsync(
            DbConnection connection,
            TransactionStartingEventData eventData,
            InterceptionResult<DbTransaction> result,
            CancellationToken cancellationToken = default
        )
        {
            faults.Call();
            return base.TransactionStartingAsync(connection, eventData, result, cancellationToken);
        }

        public override ValueTask<InterceptionResult> TransactionCommittingAsync(
            DbTransaction transaction,
            TransactionEventData eventData,
            InterceptionResult result,
            CancellationToken cancellationToken = default
        )
        {
            faults.Call();
            return base.TransactionCommittingAsync(transaction, eventData, result, cancellationToken);
        }

        /// <summary>Committed, and the answer is lost on its way.</summary>
        public override Task TransactionCommittedAsync(
            DbTransaction transaction,
            TransactionEndEventData eventData,
            CancellationToken cancellationToken = default
        )
        {
            faults.Call();
            return base.TransactionCommittedAsync(transaction, eventData, cancellationToken);
        }
    }
}
