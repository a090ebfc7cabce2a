using Kivren.Core.Content;

namespace Kivren.Core.Selection;

/// <summary>Tells divisions that print the same though they are not the same: what an index entry says changes no line of the text it
/// stands in, only the index. Of such a division nothing is numbered, set or cut again.</summary>
internal sealed class PrintedText
{
    private Dictionary<Id, Division> _last = [];

    /// <summary>The divisions as they are composed: for one that prints as it did in the composition before, the one that was composed
    /// then. Only its index entries may say other things than the division's own.</summary>
    public IReadOnlyList<Division> Of(IReadOnlyList<Division> divisions)
    {
        var now = new Dictionary<Id, Division>(divisions.Count);
        var printed = new Division[divisions.Count];
        for (var d = 0; d < printed.Length; d++)
        {
            var division = divisions[d];
            printed[d] = _last.TryGetValue(division.Id, out var last) && Alike(last, division) ? last : division;
            now.TryAdd(division.Id, printed[d]);
        }
        _last = now;
        return printed;
    }

    private static bool Alike(Division a, Division b) =>
        ReferenceEquals(a, b) || (Alike(a.Blocks, b.Blocks, Alike) && a with { Blocks = b.Blocks } == b);

    private static bool Alike(Block a, Block b) =>
        (a, b) switch
        {
            _ when ReferenceEquals(a, b) => true,
            (Paragraph x, Paragraph y) => Alike(x.Content, y.Content) && x with { Content = y.Content } == y,
            (Head x, Head y) => Alike(x.Content, y.Content) && x with { Content = y.Content } == y,
            (Figure x, Figure y) => Alike(x.Caption, y.Caption) && x with { Caption = y.Caption } == y,
            (Listing x, Listing y) => Alike(x.Caption, y.Caption) && x with { Caption = y.Caption } == y,
            (ItemList x, ItemList y) => Alike(x.Items, y.Items, Alike) && x with { Items = y.Items } == y,
            (Steps x, Steps y) => Alike(x.Items, y.Items, Alike) && x with { Items = y.Items } == y,
            (DefinitionList x, DefinitionList y) => Alike(x.Definitions, y.Definitions, Alike)
                && x with { Definitions = y.Definitions } == y,
            (ReferenceList x, ReferenceList y) => Alike(x.Documents, y.Documents, Alike) && x with { Documents = y.Documents } == y,
            (Admonition x, Admonition y) => Alike(x.Blocks, y.Blocks, Alike) && x with { Blocks = y.Blocks } == y,
            (Aside x, Aside y) => Alike(x.Title, y.Title)
                && Alike(x.Blocks, y.Blocks, Alike)
                && x with { Title = y.Title, Blocks = y.Blocks } == y,
            (Example x, Example y) => Alike(x.Title, y.Title)
                && Alike(x.Blocks, y.Blocks, Alike)
                && x with { Title = y.Title, Blocks = y.Blocks } == y,
            (Table x, Table y) => Alike(x.Caption, y.Caption)
                && Alike(x.Rows, y.Rows, Alike)
                && x with { Caption = y.Caption, Rows = y.Rows } == y,
            _ => a == b,
        };

    private static bool Alike(Item a, Item b) => Alike(a.Blocks, b.Blocks, Alike) && a with { Blocks = b.Blocks } == b;

    private static bool Alike(Definition a, Definition b) =>
        Alike(a.Term, b.Term) && Alike(a.Blocks, b.Blocks, Alike) && a with { Term = b.Term, Blocks = b.Blocks } == b;

    private static bool Alike(ReferredDocument a, ReferredDocument b) => Alike(a.Title, b.Title) && a with { Title = b.Title } == b;

    private static bool Alike(Row a, Row b) => Alike(a.Cells, b.Cells, Alike) && a with { Cells = b.Cells } == b;

    private static bool Alike(Cell a, Cell b) => Alike(a.Content, b.Content) && a with { Content = b.Content } == b;

    private static bool Alike(IReadOnlyList<Inline> a, IReadOnlyList<Inline> b) => Alike(a, b, Alike);

    private static bool Alike(Inline a, Inline b) =>
        (a, b) switch
        {
            _ when ReferenceEquals(a, b) => true,
            (IndexEntry x, IndexEntry y) => x.Id == y.Id && x.Kind == y.Kind,
            (Holding x, Holding y) => Alike(x.Content, y.Content) && x with { Content = y.Content } == y,
            _ => a == b,
        };

    private static bool Alike<T>(IReadOnlyList<T> a, IReadOnlyList<T> b, Func<T, T, bool> alike)
    {
        if (ReferenceEquals(a, b))
            return true;
        if (a.Count != b.Count)
            return false;
        for (var i = 0; i < a.Count; i++)
            if (!alike(a[i], b[i]))
                return false;
        return true;
    }
}
