using Microsoft.EntityFrameworkCore;

namespace Kivren.Store;

/// <summary>What the shelf keeps of a source document that came in.</summary>
/// <param name="Id">the source that a newer version takes the place of, or a new one</param>
/// <param name="Incoming">the documents on their way in, and <paramref name="File"/> the number of the file whose bytes are kept</param>
public sealed record KeptSource(
    string Id,
    string Incoming,
    int File,
    string Name,
    string Hash,
    string Mapping,
    string Taken,
    string Report
);

/// <summary>Source documents of a manual.</summary>
public static class Sources
{
    /// <summary>Keeps sources in the transaction of the context; their bytes are copied inside the database.</summary>
    public static async Task Keep(ShelfContext db, string manual, IReadOnlyList<KeptSource> sources, DateTimeOffset now)
    {
        foreach (var source in sources)
        {
            var size = await db
                .IncomingFiles.Where(f => f.IncomingId == source.Incoming && f.No == source.File)
                .Select(f => f.Bytes.Length)
                .FirstOrDefaultAsync();
            await db.Database.ExecuteSqlAsync(
                $"""
                INSERT INTO sources (id, manual_id, name, hash, size, mapping, taken, report, brought_in_at)
                VALUES ({source.Id}, {manual}, {source.Name}, {source.Hash}, {size},
                    {source.Mapping}::jsonb, {source.Taken}::jsonb, {source.Report}::jsonb, {now})
                ON CONFLICT (id) DO UPDATE SET name = excluded.name, hash = excluded.hash, size = excluded.size, mapping = excluded.mapping,
                    taken = excluded.taken, report = excluded.report, brought_in_at = excluded.brought_in_at
                """
            );
            await db.Database.ExecuteSqlAsync(
                $"""
                INSERT INTO source_files (source_id, bytes) SELECT {source.Id}, bytes FROM incoming_files
                    WHERE incoming_id = {source.Incoming} AND no = {source.File}
                ON CONFLICT (source_id) DO UPDATE SET bytes = excluded.bytes
                """
            );
        }
    }
}
