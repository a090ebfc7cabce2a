using System.Text.RegularExpressions;
using Kivren.Core.LooseEnds;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Lines that are wider than their measure, told with whether one key could mend them.</summary>
internal static partial class OverfullLines
{
    public static void Tell(List<TextLine> lines, StyledText styled, BlockSetter at)
    {
        if (!lines.Exists(l => l.IsBroken || l.Overfull))
            return;
        var text = styled.ToString();
        foreach (var line in lines.Where(l => l.IsBroken || l.Overfull))
        {
            var words = text[line.Start..Math.Min(line.End, text.Length)];
            at.Loose(
                LooseEndKind.OverfullLine,
                words,
                line.IsBroken
                    ? "This is wider than its line and is divided where nothing allows it. Reword it, or give it a place to break."
                    : "A line here is wider than its measure. Reword it, or give the long word a place to break.",
                instead: IsHeld(line, styled, text.Length) || PlaceToBreak().IsMatch(words) ? "a place to break" : null
            );
        }
    }

    /// <summary>Whether the writer keeps some of its words on one line.</summary>
    private static bool IsHeld(TextLine line, StyledText styled, int length)
    {
        for (var s = 0; s < styled.Spans.Count; s++)
        {
            var end = s + 1 < styled.Spans.Count ? styled.Spans[s + 1].Start : length;
            if (styled.Spans[s].NoBreak && styled.Spans[s].Start < line.End && end > line.Start)
                return true;
        }
        return false;
    }

    /// <summary>A sign within a long name behind which it may be divided, or a capital within it.</summary>
    [GeneratedRegex(@"\w[/\\._\-=&?:,;@#+|)\]}]\w|[a-z0-9][A-Z]", RegexOptions.CultureInvariant)]
    private static partial Regex PlaceToBreak();
}
