using UglyToad.PdfPig;
using UglyToad.PdfPig.Content;
using UglyToad.PdfPig.Core;
using UglyToad.PdfPig.Tokens;

namespace Kivren.Audit;

/// <summary>Which cell of a table a run of marked content is of, by the parent tree of the file's structure (ISO 32000-1,
/// 14.7.4.4): a row that goes on overleaf is read cell by cell, not page by page.</summary>
internal sealed class TaggedCells
{
    private readonly PdfDocument _document;
    private readonly Dictionary<long, IReadOnlyList<IToken>> _owners = [];
    private readonly Dictionary<IndirectReference, bool> _isCell = [];

    public TaggedCells(PdfDocument document)
    {
        _document = document;
        if (
            Get(document.Structure.Catalog.CatalogDictionary, "StructTreeRoot") is not DictionaryToken root
            || Get(root, "ParentTree") is not DictionaryToken tree
            || Get(tree, "Nums") is not ArrayToken numbers
        )
            return;
        for (var i = 0; i + 1 < numbers.Data.Count; i += 2)
            if (numbers.Data[i] is NumericToken key && Resolve(numbers.Data[i + 1]) is ArrayToken owners)
                _owners[key.Long] = owners.Data;
    }

    /// <returns>a number of its own for each cell; 0 for what is of none</returns>
    public long CellOf(Page page, MarkedContentElement mark)
    {
        if (
            mark.MarkedContentIdentifier < 0
            || Get(page.Dictionary, "StructParents") is not NumericToken key
            || !_owners.TryGetValue(key.Long, out var owners)
            || mark.MarkedContentIdentifier >= owners.Count
            || owners[mark.MarkedContentIdentifier] is not IndirectReferenceToken { Data: var owner }
        )
            return 0;
        // A link, a note or an equation stands in the cell.
        for (var depth = 0; depth < 4; depth++)
        {
            if (_document.Structure.GetObject(owner).Data is not DictionaryToken element)
                return 0;
            if (!_isCell.TryGetValue(owner, out var isCell))
                _isCell[owner] = isCell = Get(element, "S") is NameToken { Data: "TD" or "TH" };
            if (isCell)
                return owner.ObjectNumber;
            if (!element.TryGet(NameToken.Create("P"), out var above) || above is not IndirectReferenceToken { Data: var parent })
                return 0;
            owner = parent;
        }
        return 0;
    }

    private IToken? Get(DictionaryToken dictionary, string name) =>
        dictionary.TryGet(NameToken.Create(name), out var token) ? Resolve(token) : null;

    private IToken Resolve(IToken token) =>
        token is IndirectReferenceToken reference ? _document.Structure.GetObject(reference.Data).Data : token;
}
