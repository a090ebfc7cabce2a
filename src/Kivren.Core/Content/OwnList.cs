namespace Kivren.Core.Content;

/// <summary>From how much of the manual a list takes.</summary>
public enum ListScope
{
    Manual,
    Part,
    Division,
}

public enum FolioPlace
{
    After,
    Before,
    None,
}

/// <summary>What a line of a contents list can be of.</summary>
public enum Listable
{
    Division,
    Head,
    Figure,
    Table,
    Listing,
    Equation,
    Example,
}

/// <summary>How a line of a list is dressed.</summary>
/// <param name="Face">name of a face that ships, such as sans, or of one of the look; where it names none, serif</param>
/// <param name="Colour">name of a colour of the look; null for black</param>
/// <param name="Tabular">figures of one width, for columns of folios</param>
public sealed record LineDress(string Face, Length Size, Length Leading, Length Before, bool Tabular = false, string? Colour = null);

/// <summary>A level of a contents list of the manual's own: what it takes in, and the pieces of its line.</summary>
public sealed record OwnListLine(Listable Takes, LineDress Dress)
{
    /// <summary>Divisions of these kinds alone; none named, all.</summary>
    public IReadOnlyList<DivisionKind> Divisions { get; init; } = [];

    /// <summary>Heads of this level; null for all.</summary>
    public HeadLevel? Level { get; init; }
    public Length Indent { get; init; }

    /// <summary>Column in which the number hangs; zero sets it into the line.</summary>
    public Length NumberColumn { get; init; }
    public bool Numbered { get; init; } = true;

    /// <summary>The name before the number, such as Appendix; on a line of its own when <see cref="NameAbove"/>.</summary>
    public bool Named { get; init; }
    public bool NameAbove { get; init; }
    public FolioPlace Folio { get; init; }
    public bool Leader { get; init; } = true;

    /// <summary>Stands between title and folio where no leader does; empty sets the folio into its column.</summary>
    public string Separator { get; init; } = "";
    public bool RunIn { get; init; }
    public bool LeadsOn { get; init; }
}

/// <summary>A contents list of the manual's own (composition.md 7). With the name of a list of its look it stands in that one's
/// place.</summary>
public sealed record OwnList(string Name, ListScope Scope, IReadOnlyList<OwnListLine> Lines)
{
    public const int MostLines = 20,
        LongestName = 60;

    public bool Sorted { get; init; }
    public Length FolioColumn { get; init; } = Length.Points(30);

    /// <summary>More pages than this are a loose end; 0 for any number.</summary>
    public int MostPages { get; init; }

    /// <summary>Why it cannot be set so; null when it can.</summary>
    public string? Fault()
    {
        bool IsMeasure(Length l, double most) => l >= Length.Zero && l <= Length.Points(most);
        return Name.Trim().Length is 0 or > LongestName || Name.Any(char.IsControl) ? $"A list has a name of up to {LongestName} letters."
            : Lines.Count is 0 or > MostLines ? $"A list has one to {MostLines} levels."
            : MostPages is < 0 or > 1_000 ? "A list has up to 1,000 pages."
            : !IsMeasure(FolioColumn, 200) ? "The column of the folios is up to 200 points wide."
            : Lines.Any(l => !IsMeasure(l.Indent, 300) || !IsMeasure(l.NumberColumn, 200))
                ? "A line is indented up to 300 points, its number has up to 200."
            : Lines.Any(l => l.Separator.Length > 10 || l.Separator.Any(char.IsControl)) ? "A separator has up to 10 letters."
            : Lines.Select(l => l.Dress.Fault()).FirstOrDefault(f => f is not null);
    }
}

/// <summary>How the end of a range is shortened: whole (123–125), to two digits (123–25), to what changes (123–5).</summary>
public enum Elision
{
    Whole,
    TwoDigits,
    Changed,
}

/// <summary>How a manual's index is set, where it is not as its look says (composition.md 8).</summary>
/// <param name="Text">of headings and subheadings; <paramref name="Group"/> of the letters over them</param>
public sealed record OwnIndexDress(LineDress Text, LineDress Group)
{
    public int Columns { get; init; } = 2;
    public Length Gutter { get; init; }
    public Length Indent { get; init; }

    /// <summary>Subheadings run on in the heading's paragraph instead of standing on lines of their own.</summary>
    public bool RunIn { get; init; }

    /// <summary>Entries on consecutive pages join to a range.</summary>
    public bool Joins { get; init; }
    public Elision Elision { get; init; } = Elision.TwoDigits;

    /// <summary>Spaces are passed over in sorting.</summary>
    public bool LetterByLetter { get; init; }
    public bool GroupHeads { get; init; } = true;

    /// <summary>Principal locators are bold.</summary>
    public bool PrincipalBold { get; init; } = true;

    /// <summary>Repeated over subheadings that cross to a new page.</summary>
    public string Continued { get; init; } = "continued";

    public string? Fault() =>
        Columns is < 1 or > 4 ? "An index has one to four columns."
        : Gutter < Length.Zero || Gutter > Length.Points(100) || Indent < Length.Zero || Indent > Length.Points(60)
            ? "Between columns stand up to 100 points; subheadings are indented up to 60."
        : Continued.Length > 40 || Continued.Any(char.IsControl) ? "The word for “continued” has up to 40 letters."
        : Text.Fault() ?? Group.Fault();
}

public static class LineDresses
{
    public const int LongestFace = 80;

    /// <summary>Why no line can be dressed so; null when it can.</summary>
    public static string? Fault(this LineDress dress)
    {
        var size = dress.Size.InPoints;
        return dress.Face.Length > LongestFace || dress.Colour?.Length > LongestFace
                ? $"Faces and colours have names of up to {LongestFace} letters."
            : size is < 4 or > 48 ? "Letters are 4 to 48 points high."
            : dress.Leading.InPoints < size * .8 || dress.Leading.InPoints > 96
                ? "Lines stand four fifths of their size to 96 points apart."
            : dress.Before < Length.Zero || dress.Before > Length.Points(144) ? "Above a line stand up to 144 points."
            : null;
    }
}
