using Kivren.Core.Content;
using Kivren.Core.Numbering;

namespace Kivren.Core.Composition;

/// <summary>What is printed as page number: roman in front matter, decimal from 1 where the body begins, by letter in
/// appendices; decimal folios after the appendices count through them.</summary>
internal readonly record struct FolioScheme(int BodyStart)
{
    /// <param name="sheet">the page's index in the composition</param>
    /// <param name="first">the index of its division's first page</param>
    public string Folio(DivisionNumbers division, int sheet, int first) =>
        division.Division.Matter == Matter.Front ? NumberFormat.Roman(sheet + 1)
        : division.Division.Kind == DivisionKind.Appendix ? division.Number + "-" + NumberFormat.Decimal(sheet - first + 1)
        : NumberFormat.Decimal(sheet - BodyStart + 1);
}
