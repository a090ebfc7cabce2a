using System.Globalization;
using System.IO.Hashing;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Kivren.Core.Looks;

/// <summary>Stands for all of a look that drawing a page reads beside what was set: paper, margins, running heads, rules. Two looks of
/// one name that differ there draw other pages.</summary>
internal static class LookStamp
{
    private static readonly ConditionalWeakTable<Look, string> Known = [];

    public static string Of(Look look) => Known.GetValue(look, Make);

    /// <summary>Lists, the index and the forms of references are in what was set: a page that has none of them stays as it was drawn.
    /// </summary>
    private static string Make(Look look)
    {
        var drawn = look with { Lists = [], Index = new IndexDefinition(look.Body, look.Body), ReferenceForms = [] };
        var hash = XxHash64.HashToUInt64(MemoryMarshal.AsBytes(LookFile.Write(drawn).AsSpan()));
        return hash.ToString("x16", CultureInfo.InvariantCulture);
    }
}
