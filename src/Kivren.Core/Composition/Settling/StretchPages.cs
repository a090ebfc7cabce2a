using Kivren.Core.Content;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;
using Kivren.Core.Selection;

namespace Kivren.Core.Composition;

/// <summary>The finished pages of one stretch, with what its running heads left loose, and all that they were made of
/// beside the cut: when none of it changes they are the same pages.</summary>
internal sealed record StretchPages(StretchPages.Read Of, ComposedPage[] Pages, LooseEnd[] LooseEnds)
{
    /// <param name="From">index of its first division</param>
    /// <param name="Total">pages of the whole, where a running line names them</param>
    public sealed record Read(
        DivisionNumbers[] Numbers,
        FolioScheme.Numbering[] Folios,
        int From,
        int Sheet,
        int Total,
        string Title,
        IReadOnlyList<NamedText> Variables,
        IReadOnlyList<Asset> Assets,
        Edition Edition
    )
    {
        public bool Same(Read other) =>
            From == other.From
            && Sheet == other.Sheet
            && Total == other.Total
            && Title == other.Title
            && ReferenceEquals(Variables, other.Variables)
            && ReferenceEquals(Assets, other.Assets)
            && ReferenceEquals(Edition, other.Edition)
            && Folios.AsSpan().SequenceEqual(other.Folios)
            && Numbers.AsSpan().SequenceEqual(other.Numbers);

        public static Read By(
            SelectedText text,
            IReadOnlyList<DivisionPages> divisions,
            FolioScheme scheme,
            int from,
            int end,
            int total
        ) =>
            new(
                [.. divisions.Skip(from).Take(end - from).Select(d => d.Numbers)],
                scheme.Divisions[from..end],
                from,
                divisions[from].StretchSheet,
                total,
                text.Manual.Title,
                text.Manual.Variables,
                text.Manual.Assets,
                text.Edition
            );
    }
}
