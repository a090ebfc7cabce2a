using System.Collections.Concurrent;

namespace Kivren.Core.Type;

/// <summary>Faces of a house's own, by the hash of their files: each is read once in a process, whoever names it. The hash tells all of a
/// face, so what is found by it is the same everywhere; whether it is found depends on who brought the file in before.</summary>
public static class FaceFiles
{
    /// <summary>More than this many files, or this many bytes of them, are not held.</summary>
    private const int MostFiles = 1_000;
    private const long MostBytes = 512L << 20;

    private static readonly ConcurrentDictionary<string, Face> Known = new(StringComparer.Ordinal);
    private static long s_bytes;

    /// <summary>What a face is called by whose file has this hash.</summary>
    public const string NameBefore = "house-";

    public static Face? Find(string hash) => Known.GetValueOrDefault(hash);

    /// <returns>whether it is held</returns>
    public static bool Add(string hash, Face face)
    {
        if (Known.ContainsKey(hash))
            return true;
        if (Known.Count >= MostFiles || Interlocked.Read(ref s_bytes) + face.Bytes.Length > MostBytes || !Known.TryAdd(hash, face))
            return Known.ContainsKey(hash);
        Interlocked.Add(ref s_bytes, face.Bytes.Length);
        return true;
    }
}
