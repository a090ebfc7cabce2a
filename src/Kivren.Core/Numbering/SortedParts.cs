using Kivren.Core.Content;
using Kivren.Core.Indexing;

namespace Kivren.Core.Numbering;

/// <summary>Lists that are put in order when they are composed: terms by the alphabet, documents by designation.</summary>
public static class SortedParts
{
    public static IReadOnlyList<Definition> InOrder(this DefinitionList list, string language) =>
        list.Glossary
            ? list.Definitions.OrderBy(d => d.Term.PlainText(), Comparer<string>.Create(Collation.Of(language).Compare)).ToArray()
            : list.Definitions;

    public static IReadOnlyList<ReferredDocument> InOrder(this ReferenceList list, string language) =>
        list.Documents.OrderBy(d => d.Designation, Comparer<string>.Create(Collation.Of(language).Compare)).ToArray();
}
