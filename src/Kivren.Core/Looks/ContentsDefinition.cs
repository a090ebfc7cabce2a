using Kivren.Core.Content;
using Kivren.Core.Numbering;

namespace Kivren.Core.Looks;

/// <summary>One kind of line in a contents list: what it takes in and how it is set.</summary>
/// <param name="Kind">divisions, heads, figures, tables …</param>
public sealed record ContentsLine(TargetKind Kind, Dress Dress)
{
    /// <summary>Divisions of these kinds alone; none named, all.</summary>
    public IReadOnlyList<DivisionKind> Divisions { get; init; } = [];

    /// <summary>Heads of this level.</summary>
    public HeadLevel? Level { get; init; }
    public Length Indent { get; init; }

    /// <summary>Column in which the number hangs; zero sets it into the line.</summary>
    public Length NumberColumn { get; init; }

    /// <summary>The number stands in the line; without it, name and number stay away.</summary>
    public bool Numbered { get; init; } = true;

    /// <summary>The name before the number, such as Appendix; on a line of its own when <see cref="NameAbove"/>.</summary>
    public bool Named { get; init; }
    public bool NameAbove { get; init; }
    public FolioPlace Folio { get; init; }
    public bool Leader { get; init; } = true;

    /// <summary>Stands between title and folio where no leader does, and the folio behind it; empty sets the folio into its
    /// column.</summary>
    public string Separator { get; init; } = "";

    /// <summary>Set in one paragraph with the lines of its kind beside it.</summary>
    public bool RunIn { get; init; }

    /// <summary>Keeps with the line below it.</summary>
    public bool LeadsOn { get; init; }

    public bool Takes(Target target, DivisionKind division) =>
        target.Kind == Kind
        && (
            Kind == TargetKind.Head
                ? target.Listed && (Level is null || target.Level == Level)
                : Kind != TargetKind.Division || Divisions.Count == 0 || Divisions.Contains(division)
        );
}

/// <summary>A generated list of the look (composition.md 7).</summary>
/// <param name="Name">what a contents block asks for</param>
public sealed record ContentsDefinition(string Name, ListScope Scope, IReadOnlyList<ContentsLine> Lines)
{
    /// <summary>In alphabetical order of the titles instead of the text's.</summary>
    public bool Sorted { get; init; }

    /// <summary>Column at the right that titles stay clear of.</summary>
    public Length FolioColumn { get; init; } = Length.Points(30);

    /// <summary>More pages than this are a loose end; 0 for any number.</summary>
    public int MostPages { get; init; }

    private string? _key;

    /// <summary>All that decides how the list looks, as one string.</summary>
    internal string Key =>
        _key ??= string.Join('\u001d', Lines.Select(l => OwnDress.Key(l.Dress) + (l with { Dress = Lines[0].Dress }))) + FolioColumn;
}
