using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Numbering;

namespace Kivren.Formats.Flowing;

/// <summary>A page of a flowing output: a division, or a section of it where the output is split further.</summary>
/// <param name="Name">of its file, without ending; made from identities, so that it stays when titles change</param>
/// <param name="Division">index in the selected text</param>
/// <param name="Head">the head that it begins with; null for the one that opens the division</param>
public sealed record FlowingPage(string Name, int Division, Head? Head, IReadOnlyList<Block> Blocks)
{
    public bool Opens => Head is null;
}

/// <summary>The text of an edition as pages that flow: what stands on which, and where an identity is found.</summary>
public sealed class FlowingBook
{
    /// <summary>The name of the only page of an output that is not split.</summary>
    public const string OnePage = "text";

    private readonly Dictionary<Id, (int Page, Id Element)> _places = [];
    private readonly Dictionary<Id, Id> _sections = [];
    private readonly SplitAt _splits;

    private FlowingBook(ComposedManual composed, SplitAt splits)
    {
        (Composed, _splits) = (composed, splits);
        var pages = new List<FlowingPage>();
        for (var d = 0; d < composed.Text.Divisions.Count; d++)
            Split(composed.Text.Divisions[d], d, pages);
        Pages = pages;
    }

    /// <param name="composed">in an edition for <see cref="Medium.Flowing"/></param>
    public static FlowingBook Of(ComposedManual composed, SplitAt splits) => new(composed, splits);

    public ComposedManual Composed { get; }
    public Manual Manual => Composed.Text.Manual;

    /// <summary>What the book says by itself, in its language.</summary>
    public LanguageWords Words => LanguageWords.Of(Manual.Language);
    public IReadOnlyList<FlowingPage> Pages { get; }

    public DivisionNumbers NumbersOf(FlowingPage page) => Composed.Numbers.Divisions[page.Division];

    public Division DivisionOf(FlowingPage page) => Composed.Text.Divisions[page.Division];

    private void Split(Division division, int d, List<FlowingPage> pages)
    {
        var to = _splits switch
        {
            SplitAt.HeadA => HeadLevel.A,
            SplitAt.HeadB => HeadLevel.B,
            _ => (HeadLevel?)null,
        };
        var blocks = new List<Block>();
        Head? head = null;
        Id section = division.Id;
        void Close()
        {
            pages.Add(new FlowingPage(NameOf(head?.Id ?? division.Id), d, head, blocks));
            blocks = [];
        }
        _places.TryAdd(division.Id, (pages.Count, division.Id));
        foreach (var block in division.Blocks)
        {
            if (block is Head own)
            {
                if (Composed.Numbers.Find(own.Id) is ({ Number.Length: > 0 }, _))
                    section = own.Id;
                // A division that begins with a head has no page of its title alone.
                if (own.Level <= to && own.Printed && (blocks.Count > 0 || head is not null))
                {
                    Close();
                    head = own;
                }
            }
            blocks.Add(block);
            Note(block, pages.Count, section);
        }
        Close();
    }

    private void Note(Block block, int page, Id section)
    {
        foreach (var inner in block.WithInner())
        {
            foreach (var id in Ids(inner))
                _places.TryAdd(id, (page, id));
            foreach (var inline in inner.OwnSpans().SelectMany(Walk.Flat))
                if (Walk.IdOf(inline) is { IsNone: false } atom)
                {
                    _places.TryAdd(atom, (page, atom));
                    if (inline is IndexEntry)
                        _sections.TryAdd(atom, section);
                }
        }
    }

    private static IEnumerable<Id> Ids(Block block) =>
        block switch
        {
            ItemList l => l.Items.Select(i => i.Id).Prepend(l.Id),
            Steps s => s.Items.Select(i => i.Id).Prepend(s.Id),
            DefinitionList d => d.Definitions.Select(x => x.Id).Prepend(d.Id),
            ReferenceList r => r.Documents.Select(x => x.Id).Prepend(r.Id),
            _ => [block.Id],
        };

    /// <summary>The section in whose text an index entry stands: the innermost with a number, else the division.</summary>
    public Target? SectionOf(Id entry) => _sections.TryGetValue(entry, out var section) ? Composed.Numbers.Find(section)?.Target : null;

    public int? PageOf(Id target) => _places.TryGetValue(Composed.Numbers.Resolve(target), out var place) ? place.Page : null;

    /// <summary>The address of an identity from a page; null when it is nowhere.</summary>
    /// <param name="ending">of the pages' files</param>
    public string? Address(Id target, int from, string ending)
    {
        var id = _places.ContainsKey(target) ? target : Composed.Numbers.Resolve(target);
        if (!_places.TryGetValue(id, out var place))
            return null;
        var file = place.Page == from || _splits == SplitAt.Nowhere ? "" : Pages[place.Page].Name + ending;
        var page = Pages[place.Page];
        return id == (page.Head?.Id ?? DivisionOf(page).Id) && file.Length > 0 ? file : file + "#" + NameOf(id);
    }

    /// <summary>An identity as names in files and in XML can be: letters, digits, hyphen, dot and underscore, with a letter
    /// first.</summary>
    public static string NameOf(Id id)
    {
        var name = new System.Text.StringBuilder("k-");
        foreach (var c in id.Value)
            if (char.IsAsciiLetterOrDigit(c) || c is '-' or '.')
                name.Append(c);
            else
                name.Append('_').Append(((int)c).ToString("x", System.Globalization.CultureInfo.InvariantCulture)).Append('_');
        return name.ToString();
    }
}
