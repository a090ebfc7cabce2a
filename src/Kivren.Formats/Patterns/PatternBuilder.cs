using Kivren.Core.Content;

namespace Kivren.Formats.Patterns;

/// <summary>Writes the text of a pattern: each block with an id of its own, variables in {braces}.</summary>
internal sealed class PatternBuilder(string name, string prefix)
{
    private int _next;

    public Id Fresh() => new($"{prefix}-{++_next}");

    /// <summary>Text with {variables}.</summary>
    public IReadOnlyList<Inline> Text(string text)
    {
        var spans = new List<Inline>();
        var parts = text.Split('{', '}');
        for (var i = 0; i < parts.Length; i++)
            if (i % 2 == 1)
                spans.Add(new VariableUse(parts[i]));
            else if (parts[i].Length > 0)
                spans.Add(new TextRun(parts[i]));
        return spans;
    }

    public Paragraph P(string text, string role = "body") => new(Fresh(), role, Text(text));

    public Head A(string text) => new(Fresh(), HeadLevel.A, Text(text));

    public Head B(string text) => new(Fresh(), HeadLevel.B, Text(text));

    public Steps Steps(params string[] steps) => new(Fresh(), false, steps.Select(s => new Item(Fresh(), [P(s)])).ToArray());

    public ItemList List(ListKind kind, params string[] items) =>
        new(Fresh(), kind, 1, items.Select(s => new Item(Fresh(), [P(s)])).ToArray());

    public Admonition Admonition(AdmonitionKind kind, string text) => new(Fresh(), kind, [P(text)]);

    /// <summary>The blocks as text that only the pattern changes.</summary>
    public Block[] Fixed(params Block[] blocks) => blocks.Select(b => b with { FixedBy = name }).ToArray();

    public Division Division(DivisionKind kind, string title, params Block[] blocks) => new(Fresh(), kind, title, blocks);

    public Division Contents(params Block[] more) => new(Fresh(), DivisionKind.Contents, "Contents", [new ContentsList(Fresh()), .. more]);

    public Division Index() => new(Fresh(), DivisionKind.Index, "Index", [new IndexList(Fresh())]);
}
