using System.IO.Compression;

namespace Kivren.Formats.Import;

/// <summary>Refuses an archive that would unpack beyond all bounds, before anything unpacks it.</summary>
internal static class ZipGuard
{
    private const long MostBytes = 1L << 30,
        MostEntry = 512L << 20;
    private const int MostEntries = 20_000;

    /// <exception cref="SourceFormatException">it is no archive, is cut short, or unpacks to too much</exception>
    public static void Check(string file, byte[] bytes)
    {
        try
        {
            using var zip = new ZipArchive(new MemoryStream(bytes), ZipArchiveMode.Read);
            long total = 0;
            if (zip.Entries.Count > MostEntries)
                throw new SourceFormatException(
                    $"{file} holds {zip.Entries.Count:N0} files, more than any document needs; it is not read."
                );
            foreach (var entry in zip.Entries)
            {
                total += entry.Length;
                if (entry.Length > MostEntry || total > MostBytes)
                    throw new SourceFormatException(
                        $"{file} unpacks to more than {MostBytes >> 20} MB ({entry.FullName}); it is not read."
                    );
            }
        }
        catch (InvalidDataException)
        {
            throw new SourceFormatException(
                $"{file} is cut short or damaged: it is no whole archive. Save it again in the program that made it, or send it again."
            );
        }
    }
}
