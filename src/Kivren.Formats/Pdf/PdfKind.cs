namespace Kivren.Formats.Pdf;

public enum PdfKind
{
    Screen,
    Print,
}

/// <summary>What is known of a file when it is written.</summary>
/// <param name="Faces">in it, as it calls them</param>
public sealed record PdfWritten(IReadOnlyList<string> Faces)
{
    /// <summary>For print: the most ink on one spot of what is drawn, in hundredths of a solid; photographs come to inks at the
    /// printer.</summary>
    public int MostInk { get; init; }

    public bool HasPhotographs { get; init; }
}

/// <summary>How a file is written.</summary>
public sealed record PdfOptions(PdfKind Kind = PdfKind.Screen)
{
    /// <summary>A print file's pages come to a multiple of this many.</summary>
    public int PageMultiple { get; init; } = 1;

    /// <summary>A print file has crop marks outside its bleed.</summary>
    public bool Marks { get; init; } = true;

    /// <summary>Levels of a screen file's outline.</summary>
    public int OutlineDepth { get; init; } = 6;

    /// <summary>A reader shows two facing pages, else one.</summary>
    public bool Facing { get; init; } = true;

    /// <summary>The printing condition that a print file is made for.</summary>
    public ColourProfile Profile { get; init; } = ColourProfile.Coated;

    /// <summary>When the text was as it is; the file says it was made then, so that the same text gives the same bytes.</summary>
    public DateTimeOffset Moment { get; init; } = new(2000, 1, 1, 0, 0, 0, TimeSpan.Zero);
}
