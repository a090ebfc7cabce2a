using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Admonitions: rules and signal word as the look has them.</summary>
internal static class AdmonitionSetter
{
    /// <summary>Admonitions of no more lines than this stand whole.</summary>
    private const int Short = 10;

    public static void Set(BlockSetter at, Admonition admonition, Frame frame)
    {
        var look = at.Look;
        var (above, below) = (look.Blocks.AdmonitionAbove.Millipoints, look.Blocks.AdmonitionBelow.Millipoints);
        var endRule = look.Blocks.AdmonitionEndRule.Millipoints;
        var from = at.Stack.Count;
        var word = at.Reads.Label(admonition.Id) is { Length: > 0 } label
            ? label
            : LanguageWords.Of(at.Reads.Language).Signal(admonition.Kind);
        var signal = BlockSetter.Label(word, look.SignalWord);
        var column =
            look.Signal == SignalPlace.OwnLine
                ? 0
                : Math.Max(
                    look.Signal == SignalPlace.Series ? signal.Width + look.Blocks.SignalGap.Millipoints : 0,
                    Math.Min(look.SignalColumn.Millipoints, frame.Width / 3)
                );
        // Where there is no room beside it, the signal word has a line of its own.
        var place =
            frame.Gives(column) && (look.Signal != SignalPlace.Column || signal.Width <= column) ? look.Signal : SignalPlace.OwnLine;
        if (place == SignalPlace.OwnLine)
            column = 0;
        var inner = frame.Indented(column) with { Dress = at.DressOf(admonition, look.AdmonitionText), Within = "admonition" };
        if (place == SignalPlace.OwnLine)
        {
            at.Stack.Add(
                look.SignalWord.Leading.Millipoints,
                [new DrawnLine(signal, frame.Left, look.SignalWord.Baseline.Millipoints, admonition.Id)]
            );
            at.Stack.KeepNext(Keep.Whole);
        }
        var text = at.Stack.Count;
        var first = true;
        foreach (var block in admonition.Blocks)
        {
            if (!first)
                at.Stack.Space(look.Blocks.BoxGap.Millipoints);
            first = false;
            at.Inner(block, inner);
        }
        if (at.Stack.Count == text)
            at.Stack.Add(look.AdmonitionText.Leading.Millipoints, []);
        if (place == SignalPlace.Series)
            at.Stack.Extend(from, 0, 0, [new DrawnLine(signal, frame.Left, look.AdmonitionText.Baseline.Millipoints, admonition.Id)]);
        else
        {
            var tone = look.Palette.Tone(look.Blocks.AdmonitionColour, 0);
            List<Drawn> head = [new DrawnRule(frame.Left, 0, frame.Width, look.Blocks.AdmonitionRule.Millipoints, tone)];
            if (place == SignalPlace.Column)
                head.Add(new DrawnLine(signal, frame.Left, above + look.AdmonitionText.Baseline.Millipoints, admonition.Id));
            at.Stack.Extend(from, above, 0, head);
            var last = at.Stack.Count - 1;
            at.Stack.Extend(
                last,
                0,
                below,
                [new DrawnRule(frame.Left, at.Stack.HeightOf(last) + below - endRule, frame.Width, endRule, tone)]
            );
        }
        if (at.Stack.Count - from <= Short)
            at.Stack.KeepTogether(from, Keep.Short);
        else
            at.Stack.KeepTwo(text);
    }
}
