using UglyToad.PdfPig;
using UglyToad.PdfPig.Content;
using UglyToad.PdfPig.Core;
using UglyToad.PdfPig.Tokens;

namespace Kivren.Audit;

/// <summary>Which cell of a table a run of marked content is of, by the file's structure (ISO 32000-1, 14.7): a row that goes on
/// overleaf is read cell by cell, not page by page.</summary>
internal sealed class TaggedCells
{
    private const int Deepest = 200;

    private readonly PdfDocument _document;

    /// <summary>For each page's key the owners of its runs, in order (the parent tree).</summary>
    private readonly Dictionary<long, IReadOnlyList<IToken>> _owners = [];

    /// <summary>The cells with their number in reading order, from 1; what stands in a cell has its cell's, a note under the table
    /// none.</summary>
    private readonly Dictionary<IndirectReference, int> _cells = [];
    private int _count;

    public TaggedCells(PdfDocument document)
    {
        _document = document;
        if (Get(document.Structure.Catalog.CatalogDictionary, "StructTreeRoot") is not DictionaryToken root)
            return;
        Walk(root, 0, 0);
        if (Get(root, "ParentTree") is not DictionaryToken tree || Get(tree, "Nums") is not ArrayToken numbers)
            return;
        for (var i = 0; i + 1 < numbers.Data.Count; i += 2)
            if (numbers.Data[i] is NumericToken key && Resolve(numbers.Data[i + 1]) is ArrayToken owners)
                _owners[key.Long] = owners.Data;
    }

    private void Walk(DictionaryToken element, int cell, int depth)
    {
        if (depth > Deepest || Get(element, "K") is not { } kids)
            return;
        foreach (var kid in kids is ArrayToken array ? array.Data : [element.Data["K"]])
        {
            if (kid is not IndirectReferenceToken { Data: var reference } || Resolve(kid) is not DictionaryToken child)
                continue;
            var own = Get(child, "S") switch
            {
                NameToken { Data: "TD" or "TH" } => ++_count,
                NameToken { Data: "Note" } => 0,
                _ => cell,
            };
            if (own > 0)
                _cells[reference] = own;
            Walk(child, own, depth + 1);
        }
    }

    /// <returns>the number of the cell in reading order; 0 for what is of none</returns>
    public int CellOf(Page page, MarkedContentElement mark) =>
        mark.MarkedContentIdentifier >= 0
        && Get(page.Dictionary, "StructParents") is NumericToken key
        && _owners.TryGetValue(key.Long, out var owners)
        && mark.MarkedContentIdentifier < owners.Count
        && owners[mark.MarkedContentIdentifier] is IndirectReferenceToken { Data: var owner }
            ? _cells.GetValueOrDefault(owner)
            : 0;

    private IToken? Get(DictionaryToken dictionary, string name) =>
        dictionary.TryGet(NameToken.Create(name), out var token) ? Resolve(token) : null;

    private IToken Resolve(IToken token) =>
        token is IndirectReferenceToken reference ? _document.Structure.GetObject(reference.Data).Data : token;
}
