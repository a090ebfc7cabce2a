using Kivren.Core.Content;
using Kivren.Core.Numbering;
using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>What a manual sets otherwise than its look, put into the look; and what a look says, as a manual can keep it.</summary>
public static class OwnDress
{
    /// <summary>The look as this manual wears it; the very look where the manual has nothing of its own.</summary>
    public static Look WornBy(this Look look, Manual manual)
    {
        if (manual.Lists.Count == 0 && manual.IndexDress is null)
            return look;
        var own = manual.Lists.DistinctBy(l => l.Name).ToDictionary(l => l.Name, StringComparer.Ordinal);
        return look with
        {
            Lists =
            [
                .. look.Lists.Select(l => own.TryGetValue(l.Name, out var o) ? ToDefinition(o, look.Palette) : l),
                .. manual.Lists.DistinctBy(l => l.Name).Where(l => look.List(l.Name) is null).Select(l => ToDefinition(l, look.Palette)),
            ],
            Index = manual.IndexDress is { } index ? ToDefinition(index, look.Palette) : look.Index,
        };
    }

    private static ContentsDefinition ToDefinition(OwnList list, LookPalette palette) =>
        new(
            list.Name,
            list.Scope,
            [
                .. list.Lines.Select(l => new ContentsLine(Enum.Parse<TargetKind>(l.Takes.ToString()), ToDress(l.Dress, palette))
                {
                    Divisions = l.Divisions,
                    Level = l.Level,
                    Indent = l.Indent,
                    NumberColumn = l.NumberColumn,
                    Numbered = l.Numbered,
                    Named = l.Named,
                    NameAbove = l.NameAbove,
                    Folio = l.Folio,
                    Leader = l.Leader,
                    Separator = l.Separator,
                    RunIn = l.RunIn,
                    LeadsOn = l.LeadsOn,
                }),
            ]
        )
        {
            Sorted = list.Sorted,
            FolioColumn = list.FolioColumn,
            MostPages = list.MostPages,
        };

    /// <summary>A list of a look, as a manual's own.</summary>
    public static OwnList ToOwn(this ContentsDefinition list) =>
        new(
            list.Name,
            list.Scope,
            [
                .. list.Lines.Select(l => new OwnListLine(Enum.Parse<Listable>(l.Kind.ToString()), ToOwn(l.Dress))
                {
                    Divisions = l.Divisions,
                    Level = l.Level,
                    Indent = l.Indent,
                    NumberColumn = l.NumberColumn,
                    Numbered = l.Numbered,
                    Named = l.Named,
                    NameAbove = l.NameAbove,
                    Folio = l.Folio,
                    Leader = l.Leader,
                    Separator = l.Separator,
                    RunIn = l.RunIn,
                    LeadsOn = l.LeadsOn,
                }),
            ]
        )
        {
            Sorted = list.Sorted,
            FolioColumn = list.FolioColumn,
            MostPages = list.MostPages,
        };

    private static IndexDefinition ToDefinition(OwnIndexDress index, LookPalette palette) =>
        new(ToDress(index.Text, palette), ToDress(index.Group, palette))
        {
            Columns = index.Columns,
            Gutter = index.Gutter,
            Indent = index.Indent,
            RunIn = index.RunIn,
            Joins = index.Joins,
            Elision = index.Elision,
            LetterByLetter = index.LetterByLetter,
            GroupHeads = index.GroupHeads,
            PrincipalBold = index.PrincipalBold,
            Continued = index.Continued,
        };

    public static OwnIndexDress ToOwn(this IndexDefinition index) =>
        new(ToOwn(index.Text), ToOwn(index.Group))
        {
            Columns = index.Columns,
            Gutter = index.Gutter,
            Indent = index.Indent,
            RunIn = index.RunIn,
            Joins = index.Joins,
            Elision = index.Elision,
            LetterByLetter = index.LetterByLetter,
            GroupHeads = index.GroupHeads,
            PrincipalBold = index.PrincipalBold,
            Continued = index.Continued,
        };

    private static Dress ToDress(LineDress dress, LookPalette palette) =>
        new(
            palette.Face(dress.Face) ?? FaceSet.Serif,
            dress.Size.InPoints,
            dress.Leading.InPoints,
            features: dress.Tabular ? Features.Tabular : Features.None
        )
        {
            Before = dress.Before,
            Colour = dress.Colour,
            Palette = palette,
        };

    private static LineDress ToOwn(Dress dress) =>
        new(dress.Faces.Name, dress.Size, dress.Leading, dress.Before, dress.IsTabular, dress.Colour);

    /// <summary>All that decides how a line looks, as one string.</summary>
    internal static string Key(Dress dress) => ToOwn(dress).ToString();
}
