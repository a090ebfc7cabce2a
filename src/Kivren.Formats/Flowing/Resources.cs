using System.Collections.Concurrent;
using System.Reflection;
using System.Text;

namespace Kivren.Formats.Flowing;

/// <summary>Files that ship with the writers of flowing outputs.</summary>
internal static class Resources
{
    private static readonly ConcurrentDictionary<string, byte[]> Read = new(StringComparer.Ordinal);

    public static byte[] Bytes(string name) => Read.GetOrAdd(name, static n =>
        {
            using var stream = Assembly.GetExecutingAssembly().GetManifestResourceStream("flowing:" + n)!;
            var bytes = new byte[stream.Length];
            stream.ReadExactly(bytes);
            return bytes;
        });

    public static string Text(string name) => Encoding.UTF8.GetString(Bytes(name));
}
