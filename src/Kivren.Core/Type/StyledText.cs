using System.Text;
using Kivren.Core.Content;

namespace Kivren.Core.Type;

/// <summary>A stretch of characters set alike.</summary>
/// <param name="Start">index of its first character in the text</param>
/// <param name="Hyphenates">whether words in it may be divided</param>
/// <param name="NoBreak">no line ends inside it</param>
/// <param name="Tie">where the words lead, or null</param>
public readonly record struct StyledSpan(int Start, TextStyle Style, bool Hyphenates, bool NoBreak, WordTie? Tie)
{
    public Id Target => Tie?.Target ?? default;
    public string? Web => Tie?.Web;
}

/// <summary>An identity at a place in the text, between two characters.</summary>
public readonly record struct TextMark(int At, Id Id);

/// <summary>A footnote called at a place in the text.</summary>
public readonly record struct TextNote(int At, Footnote Note);

/// <summary>The words of one paragraph with how they are set and the atoms that stand between them: what line
/// breaking reads.</summary>
public sealed class StyledText
{
    /// <summary>Stands in the text for an inset; like a letter, so that it breaks from words only at spaces.</summary>
    public const char InsetMark = '\uE0FF';

    private readonly StringBuilder _text = new();
    public List<StyledSpan> Spans { get; } = [];
    public List<TextMark> Marks { get; } = [];
    public List<TextNote> Notes { get; } = [];
    public Dictionary<int, Inset> Insets { get; } = [];
    public int Length => _text.Length;

    /// <summary>Long names such as those of program text stand in it without a face of their own, in a narrow measure: they may be
    /// divided as in code.</summary>
    public bool HoldsNames { get; init; }

    /// <param name="target">the identity the words lead to, or none</param>
    /// <param name="web">the web address they lead to, or null</param>
    public void Add(string text, TextStyle style, bool hyphenates, Id target = default, string? web = null, bool noBreak = false)
    {
        if (text.Length == 0)
            return;
        if (
            Spans.Count == 0
            || Spans[^1] is var last
                && (
                    !ReferenceEquals(last.Style, style)
                    || last.Hyphenates != hyphenates
                    || last.NoBreak != noBreak
                    || last.Target != target
                    || last.Web != web
                )
        )
            Spans.Add(
                new StyledSpan(_text.Length, style, hyphenates, noBreak, target.IsNone && web is null ? null : new WordTie(target, web))
            );
        _text.Append(text);
    }

    public void Add(Inset inset, TextStyle style)
    {
        Insets.Add(_text.Length, inset);
        Add(InsetMark.ToString(), style, false);
    }

    public void Mark(Id id) => Marks.Add(new TextMark(_text.Length, id));

    public void Note(Footnote note) => Notes.Add(new TextNote(_text.Length, note));

    public override string ToString() => _text.ToString();
}
