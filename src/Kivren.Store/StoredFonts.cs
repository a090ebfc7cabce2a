using System.Text.RegularExpressions;
using Kivren.Core.Looks;
using Kivren.Core.Type;
using Kivren.Formats.Fonts;
using Microsoft.EntityFrameworkCore;

namespace Kivren.Store;

/// <summary>Font files of houses, each kept once for all looks that name it. They stay when no look names them: an earlier look of a
/// manual may be put on again at any time.</summary>
public static partial class StoredFonts
{
    /// <summary>As many files as one shelf keeps.</summary>
    public const int MostFiles = 400;

    /// <summary>The font files that a look's text names and that are not in this process yet.</summary>
    public static IReadOnlyList<string> Missing(string? look) =>
        look is null
            ? []
            :
            [
                .. Hashes()
                    .Matches(look)
                    .Select(m => m.Groups["hash"].Value)
                    .Distinct()
                    .Where(h => FaceFiles.Find(h) is null)
                    .Take(MostFiles),
            ];

    /// <summary>Reads the font files that a look's text names; what is not kept here is not there afterwards either.</summary>
    public static Task Read(ShelfContext db, string? look, CancellationToken cancel = default) => Read(db, Missing(look), cancel);

    public static async Task Read(ShelfContext db, IReadOnlyList<string> missing, CancellationToken cancel = default)
    {
        if (missing.Count == 0)
            return;
        foreach (var row in await db.FontFiles.AsNoTracking().Where(f => missing.Contains(f.Hash)).ToListAsync(cancel))
            try
            {
                FontReader.Read(row.Called, row.Bytes);
            }
            catch (FontFormatException)
            {
                // Kept by an earlier version that could use it: its stand-in is set, and that is told.
            }
    }

    /// <summary>Keeps font files that are in this process.</summary>
    /// <returns>false where the shelf has no more room</returns>
    public static async Task<bool> Keep(
        ShelfContext db,
        IEnumerable<FontFile> files,
        DateTimeOffset now,
        CancellationToken cancel = default
    )
    {
        foreach (var file in files.DistinctBy(f => f.Hash))
            if (FaceFiles.Find(file.Hash) is { } face && !await db.FontFiles.AnyAsync(f => f.Hash == file.Hash, cancel))
            {
                if (await db.FontFiles.CountAsync(cancel) >= MostFiles)
                    return false;
                // Two who bring the same file at once do no harm.
                await db.Database.ExecuteSqlAsync(
                    $"""
                    INSERT INTO font_files (hash, called, bytes, kept_at)
                    VALUES ({file.Hash}, {file.Called}, {face.Bytes}, {now}) ON CONFLICT DO NOTHING
                    """,
                    cancel
                );
            }
        return true;
    }

    [GeneratedRegex("\"hash\"\\s*:\\s*\"(?<hash>[0-9a-f]{64})\"")]
    private static partial Regex Hashes();
}
