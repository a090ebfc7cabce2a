using System.Collections.Frozen;
using System.Reflection;

namespace Kivren.Formats.DocBook;

/// <summary>What names stand for that manuals in DocBook share and leave to a file of their own to declare (CommonEntities.txt): used
/// where that file is not there.</summary>
internal static class CommonEntities
{
    private static readonly Lazy<FrozenDictionary<string, string>> Known = new(() =>
    {
        using var reader = new StreamReader(Assembly.GetExecutingAssembly().GetManifestResourceStream("docbook:entities")!);
        var known = new Dictionary<string, string>(StringComparer.Ordinal);
        while (reader.ReadLine() is { } line)
            if (line.IndexOf(" = ", StringComparison.Ordinal) is > 0 and var at && line[0] != '#')
                known.Add(line[..at], line[(at + 3)..]);
        return known.ToFrozenDictionary(StringComparer.Ordinal);
    });

    /// <summary>As markup; null for a name that is not among them.</summary>
    public static string? Of(string name) => Known.Value.GetValueOrDefault(name);
}
