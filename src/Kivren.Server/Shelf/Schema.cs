using Kivren.Formats.Package;
using Kivren.Store;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Storage;

namespace Kivren.Server.Shelf;

/// <summary>The database's own form: brought up to this program before anything is read.</summary>
public static class Schema
{
    /// <summary>Two processes that start at once on one database wait for each other.</summary>
    private const long MigrationLock = 0x6B697672;

    /// <returns>why this program cannot work on this database, or null</returns>
    public static async Task<string?> Prepare(IServiceProvider services)
    {
        var factory = services.GetRequiredService<IDbContextFactory<ShelfContext>>();
        await using var db = await factory.CreateDbContextAsync();
        var creator = db.GetService<IRelationalDatabaseCreator>();
        if (!await creator.ExistsAsync())
            await creator.CreateAsync();
        await db.Database.OpenConnectionAsync();
        await db.Database.ExecuteSqlAsync($"SELECT pg_advisory_lock({MigrationLock})");
        try
        {
            var there = await db
                .Database.SqlQuery<bool>($"SELECT to_regclass('\"__EFMigrationsHistory\"') IS NOT NULL AS \"Value\"")
                .SingleAsync();
            var known = db.Database.GetMigrations().ToHashSet(StringComparer.Ordinal);
            var newer = there ? (await db.Database.GetAppliedMigrationsAsync()).Where(m => !known.Contains(m)).ToList() : [];
            if (newer.Count > 0)
                return $"This shelf was written by a newer Kivren (its form is “{newer[^1]}”). Start that one, or restore a backup made "
                    + $"before it.";
            await db.Database.MigrateAsync();
            return null;
        }
        finally
        {
            await db.Database.ExecuteSqlAsync($"SELECT pg_advisory_unlock({MigrationLock})");
        }
    }

    /// <summary>Puts the sample manuals on an empty shelf.</summary>
    /// <returns>their ids; none when the shelf holds something already</returns>
    public static async Task<IReadOnlyList<string>> LoadDemo(IServiceProvider services)
    {
        var folder = Path.GetDirectoryName(services.GetRequiredService<ShelfSettings>().Demo);
        await using var db = await services.GetRequiredService<IDbContextFactory<ShelfContext>>().CreateDbContextAsync();
        if (!Directory.Exists(folder) || await db.Manuals.AnyAsync())
            return [];
        var clock = services.GetRequiredService<TimeProvider>();
        var loaded = new List<string>();
        foreach (var package in Directory.EnumerateFiles(folder, "*.kivren").Order(StringComparer.Ordinal))
        {
            await using var file = File.OpenRead(package);
            loaded.Add(await ManualSaver.Save(db, PackageReader.Read(file, []), clock.GetUtcNow()));
            db.ChangeTracker.Clear();
        }
        return loaded;
    }
}
