using Kivren.Core.Content;
using Kivren.Formats.Import;

namespace Kivren.Formats.Markdown;

/// <summary>A quotation that begins with a signal word in bold and a colon is an admonition, in whichever language it is written.</summary>
internal static class SignalQuote
{
    public static SourceGroup? Of(int at, IReadOnlyList<SourceBlock> quoted)
    {
        if (
            quoted is not [SourceParagraph { Spans: [SourceRun { Roles: SpanRoles.Strong } signal, ..] } first, ..]
            || SignalWords.KindOf(signal.Text) is not { } kind
        )
            return null;
        var rest = first.Spans.Skip(1).ToList();
        if (rest is [SourceRun next, ..])
            rest[0] = next with { Text = next.Text.TrimStart(':', '：', '\u00A0', ' ') };
        return new SourceGroup(at, kind.ToString().ToLowerInvariant(), [first with { Spans = rest }, .. quoted.Skip(1)]);
    }
}
