using System.IO.Compression;

namespace Kivren.Formats.Package;

/// <summary>Archives that are the same bytes whenever they are made of the same files.</summary>
internal static class SameZip
{
    /// <summary>Entries carry one fixed time, for no file may depend on the clock.</summary>
    private static readonly DateTimeOffset Stamp = new(2000, 1, 1, 0, 0, 0, TimeSpan.Zero);

    public static void Put(this ZipArchive zip, string path, byte[] bytes, CompressionLevel level = CompressionLevel.Optimal)
    {
        using var stream = zip.Begin(path, level);
        stream.Write(bytes);
    }

    public static Stream Begin(this ZipArchive zip, string path, CompressionLevel level = CompressionLevel.Optimal)
    {
        var entry = zip.CreateEntry(path, level);
        entry.LastWriteTime = Stamp;
        return entry.Open();
    }
}
