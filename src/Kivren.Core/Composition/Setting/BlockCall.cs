using Kivren.Core.Content;

namespace Kivren.Core.Composition;

/// <summary>What a reader would call a block, for reasons and messages.</summary>
internal static class BlockCall
{
    public static string Of(Block? block, Head? runIn, Readings reads) =>
        block switch
        {
            null => "the text",
            Head h => $"the {h.Level} head “{h.Content.PlainText()}”",
            _ when runIn is not null => $"the {runIn.Level} head “{runIn.Content.PlainText()}”",
            Table { Caption.Count: > 0 } t => Numbered(reads.Target(t.Id)),
            Table => "the table",
            Figure { IsCaptioned: true } f => Numbered(reads.Target(f.Id)),
            Figure => "the picture",
            Equation { Numbered: true } e => Numbered(reads.Target(e.Id)),
            Equation => "the equation",
            Listing l => "the listing" + Words(l.Text.ReplaceLineEndings(" ")),
            Steps s => "the steps" + Words(First(s.Items.FirstOrDefault()?.Blocks)),
            ItemList s => "the list" + Words(First(s.Items.FirstOrDefault()?.Blocks)),
            DefinitionList d => "the definitions" + Words(d.Definitions.FirstOrDefault()?.Term.PlainText() ?? ""),
            Admonition a => $"the {a.Kind.ToString().ToLowerInvariant()}" + Words(First(a.Blocks)),
            Aside a => "the aside" + Words(a.Title.PlainText()),
            Example e => Numbered(reads.Target(e.Id)),
            _ => "the paragraph" + Words(block.OwnSpans().FirstOrDefault()?.PlainText() ?? ""),
        };

    private static string Numbered((string Name, string Number)? target) =>
        LanguageWords.Numbered(target?.Name ?? "", target?.Number ?? "", " ");

    private static string First(IReadOnlyList<Block>? blocks) => blocks?.FirstOrDefault()?.OwnSpans().FirstOrDefault()?.PlainText() ?? "";

    private static string Words(string text)
    {
        text = text.Trim();
        if (text.Length == 0)
            return "";
        if (text.Length <= 32)
            return $" “{text}”";
        var cut = text.LastIndexOf(' ', 32);
        return $" “{text[..(cut > 8 ? cut : 32)]} …”";
    }
}
