namespace Kivren.Core.Content;

/// <summary>What a run of characters is; several may hold at once.</summary>
[Flags]
public enum SpanRoles
{
    None = 0,
    Emphasis = 1,
    Strong = 2,
    Control = 4,
    Code = 8,
    Term = 16,
    Key = 32,
    PartNumber = 64,
    Product = 128,
    Foreign = 256,
    Sub = 512,
    Sup = 1024,
    SmallCaps = 2048,

    /// <summary>A run that the writer keeps on one line.</summary>
    NoBreak = 4096,
}

/// <summary>A run of text or an atom between characters.</summary>
public abstract record Inline;

/// <summary>Text with its roles; <paramref name="Web"/> is the web address that the words link to.</summary>
public sealed record TextRun(string Text, SpanRoles Roles = SpanRoles.None, string? Web = null) : Inline
{
    public AppliesTo AppliesTo { get; init; } = AppliesTo.Always;

    /// <summary>A role of the manual's own, founded on the roles given; null for none.</summary>
    public string? OwnRole { get; init; }

    /// <summary>What the words lead to in this edition; selection alone sets it, for terms of the glossary.</summary>
    public Id LeadsTo { get; init; }
}

/// <summary>A reference to an identity; <paramref name="Form"/> names one of the look's reference forms.</summary>
public sealed record CrossReference(Id Id, Id Target, string Form) : Inline
{
    /// <summary>Where it points, for one into another manual of the shelf; null for all others.</summary>
    public OtherPlace? Other { get; init; }

    /// <summary>What it says in an edition that leaves out what it points at; selection alone sets it.</summary>
    public string? Instead { get; init; }
}

/// <summary>A place in another manual as that manual said of it when this was taken: a page prints it so until a newer one is
/// taken, whatever is done over there.</summary>
/// <param name="Manual">id of that manual</param>
/// <param name="Name">what it is there (Section, Figure), or ""</param>
/// <param name="Number">as printed there, or ""</param>
/// <param name="Title">of the head, the caption's words</param>
public sealed record OtherPlace(string Manual, string ManualTitle, string Name, string Number, string Title, string Folio);

public enum EntryKind
{
    Point,
    RangeStart,
    RangeEnd,
}

/// <summary>An index entry: heading and up to two subheadings. Both ends of a range carry the same id.</summary>
public sealed record IndexEntry(Id Id, IReadOnlyList<string> Headings, EntryKind Kind = EntryKind.Point) : Inline
{
    public bool Principal { get; init; }
    public string? FilesUnder { get; init; }
    public string? See { get; init; }
    public string? SeeAlso { get; init; }
}

public sealed record VariableUse(string Name) : Inline;

public sealed record Anchor(Id Id, string Name) : Inline;

/// <summary>An atom with words of its own inside.</summary>
public abstract record Holding(Id Id, IReadOnlyList<Inline> Content) : Inline;

/// <summary>Where a note is shown.</summary>
public enum NoteShown
{
    Note,

    /// <summary>On screens in a pop-up; in print a footnote.</summary>
    PopUp,

    /// <summary>Only on screens; print shows nothing.</summary>
    PopUpOnly,
}

public sealed record Footnote(Id Id, IReadOnlyList<Inline> Content) : Holding(Id, Content)
{
    public NoteShown Shown { get; init; }
}

/// <summary>A part of a figure's picture that leads somewhere; it stands in the figure's caption. In print it is numbered on the
/// picture, and a key under the caption has its words.</summary>
/// <param name="Content">the key's words, with a reference or a web address</param>
public sealed record FigureArea(Id Id, AreaBox Box, IReadOnlyList<Inline> Content) : Holding(Id, Content);

/// <summary>A place on a picture, in thousandths of its width and height.</summary>
public readonly record struct AreaBox(int Left, int Top, int Width, int Height)
{
    public const int Whole = 1_000;

    /// <summary>The part of it that lies on the picture; at least one thousandth each way.</summary>
    public AreaBox Inside()
    {
        var (left, top) = (Math.Clamp(Left, 0, Whole - 1), Math.Clamp(Top, 0, Whole - 1));
        return new AreaBox(left, top, Math.Clamp(Width, 1, Whole - left), Math.Clamp(Height, 1, Whole - top));
    }
}

/// <summary>An equation in a line of text, in the linear notation of docs/equations.md.</summary>
public sealed record InlineEquation(Id Id, string Source, string Alternative) : Inline;

/// <summary>A small picture in a line of text, as high as its letters.</summary>
public sealed record InlinePicture(Id Id, string Asset, string Alternative) : Inline;

/// <summary>A note among writers, such as a comment that came in with a document. It stands behind the words it is about, and prints
/// nothing.</summary>
public sealed record WriterNote(Id Id, string By, string Text) : Inline
{
    /// <summary>The words before it that it is about; empty for the place alone.</summary>
    public string Words { get; init; } = "";

    /// <summary>What was asked for is done.</summary>
    public bool IsDone { get; init; }
    public IReadOnlyList<NoteAnswer> Answers { get; init; } = [];
}

public sealed record NoteAnswer(string By, string Text);

public sealed record LineBreak : Inline
{
    public static readonly LineBreak Instance = new();
}
