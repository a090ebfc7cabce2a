using Kivren.Core.Content;
using Kivren.Formats.Import.Sites;

namespace Kivren.Formats.Import;

/// <summary>What a reader found in a file, in the file's own terms: styles, not roles. Every reader makes this, and only
/// the <see cref="Shaper"/> knows what becomes of it.</summary>
public sealed record SourceDocument(string File, IReadOnlyList<SourceBlock> Blocks)
{
    public string Title { get; init; } = "";

    /// <summary>Empty where the file does not say it; <see cref="DocumentReader"/> gives it one then.</summary>
    public string Language { get; init; } = "";

    /// <summary>A name with its file in front: a reference without a file stays in its own.</summary>
    public string Full(string name) => name.Contains('#', StringComparison.Ordinal) ? name : $"{File}#{name}";

    /// <summary>Nothing in it told its language: <see cref="Language"/> is the usual one.</summary>
    public bool IsLanguageAssumed { get; init; }

    /// <summary>Files that are parts of this one: it holds their text already.</summary>
    public IReadOnlyCollection<string> DrawsIn { get; init; } = [];

    /// <summary>What a place counts: "paragraph" or "line".</summary>
    public string PlaceWord { get; init; } = "line";

    /// <summary>What is known of each style besides its name.</summary>
    public IReadOnlyDictionary<string, StyleFacts> Styles { get; init; } = new Dictionary<string, StyleFacts>();

    /// <summary>Picture files by the asset name that the blocks give.</summary>
    public IReadOnlyDictionary<string, byte[]> Pictures { get; init; } = new Dictionary<string, byte[]>();

    /// <summary>What reading met, whatever roles are given.</summary>
    public IReadOnlyList<ReportLine> Met { get; init; } = [];

    /// <summary>What it says of its place among the files it came with; null where it is no page of a site.</summary>
    public SitePage? Site { get; init; }

    public string Where(int place) => $"{File}, {PlaceWord} {place}";
}

/// <param name="Level">the outline level that the source itself gives, 1 for the highest; null for no head</param>
/// <param name="Role">a role that the source's format leaves no doubt about; null where the name must tell</param>
public sealed record StyleFacts(int? Level = null, string? Role = null)
{
    /// <summary>Words of the styles this one is founded on, nearest first: their names tell of it too.</summary>
    public IReadOnlyList<string> Founded { get; init; } = [];
    public bool Mono { get; init; }
}

public abstract record SourceBlock(int Place);

/// <summary>A paragraph in one of the source's styles.</summary>
public sealed record SourceParagraph(int Place, string Style, IReadOnlyList<SourceSpan> Spans) : SourceBlock(Place)
{
    public ListPlace? List { get; init; }

    /// <summary>Set in from the margin further than its style, in points.</summary>
    public int Indent { get; init; }
    public bool BreakBefore { get; init; }
}

/// <summary>A paragraph's place in a list that the source numbers itself.</summary>
/// <param name="Key">tells the lists of a file apart; paragraphs that carry on a numbering share it</param>
/// <param name="Level">0 for the outermost</param>
/// <param name="Number">its number as the source counts</param>
public readonly record struct ListPlace(string Key, int Level, ListKind Kind, int Number);

/// <summary>A list that the source nests itself.</summary>
public sealed record SourceList(int Place, string Style, ListKind Kind, int Start, IReadOnlyList<SourceItem> Items) : SourceBlock(Place)
{
    public bool Continues { get; init; }
}

public sealed record SourceItem(IReadOnlyList<SourceBlock> Blocks);

public sealed record SourceDefinitions(int Place, string Style, IReadOnlyList<SourceDefinition> Definitions) : SourceBlock(Place);

public sealed record SourceDefinition(int Place, IReadOnlyList<SourceSpan> Term, IReadOnlyList<SourceBlock> Blocks);

public sealed record SourceTable(int Place, int HeaderRows, IReadOnlyList<SourceRow> Rows) : SourceBlock(Place)
{
    public IReadOnlyList<SourceSpan> Caption { get; init; } = [];
    public IReadOnlyList<CellAlignment> Columns { get; init; } = [];
}

public sealed record SourceRow(IReadOnlyList<SourceCell> Cells);

public sealed record SourceCell(IReadOnlyList<SourceBlock> Blocks)
{
    public int ColumnSpan { get; init; } = 1;
    public int RowSpan { get; init; } = 1;
    public CellAlignment? Alignment { get; init; }
}

/// <summary>A picture that stands alone.</summary>
public sealed record SourcePicture(int Place, string Asset, string Alternative) : SourceBlock(Place)
{
    /// <summary>Width in hundredths of the source's measure; 0 where it is not known.</summary>
    public int Width { get; init; }

    /// <summary>Width as HTML and DocBook write it; "" where none is said.</summary>
    public string SaidWidth { get; init; } = "";

    public IReadOnlyList<SourceSpan> Caption { get; init; } = [];
}

public sealed record SourceListing(int Place, string Language, string Text) : SourceBlock(Place)
{
    public IReadOnlyList<SourceSpan> Caption { get; init; } = [];
}

public sealed record SourceEquation(int Place, string Source, string Alternative) : SourceBlock(Place);

/// <summary>Blocks that belong together: a quotation, a note, a sidebar.</summary>
public sealed record SourceGroup(int Place, string Style, IReadOnlyList<SourceBlock> Blocks) : SourceBlock(Place)
{
    public IReadOnlyList<SourceSpan> Title { get; init; } = [];
}

public enum Generated
{
    Contents,
    ListOfFigures,
    Index,
}

/// <summary>A list that the source generated: its words are not the writer's.</summary>
public sealed record SourceGenerated(int Place, Generated Kind, string Words) : SourceBlock(Place);

/// <summary>A page break made by hand.</summary>
public sealed record SourceBreak(int Place) : SourceBlock(Place);

public abstract record SourceSpan;

public enum Tracked
{
    None,
    Inserted,
    Deleted,
}

/// <param name="Roles">what its direct formatting stands for</param>
/// <param name="Style">its character style; null for none</param>
public sealed record SourceRun(string Text, SpanRoles Roles = SpanRoles.None, string? Style = null, string? Web = null) : SourceSpan
{
    public Tracked Tracked { get; init; }
}

public sealed record SourceTab : SourceSpan
{
    public static readonly SourceTab Instance = new();
}

/// <summary>An atom that is the same in a manual: an index entry, an equation, a small picture, a line break. Its id is
/// given when it is shaped.</summary>
public sealed record SourceAtom(Inline Inline) : SourceSpan;

/// <summary>A named place.</summary>
public sealed record SourceBookmark(string Name) : SourceSpan;

/// <summary>A reference to a named place; <paramref name="Words"/> stand where the place is not found.</summary>
/// <param name="Form">the reference form it reads like; "" where its words tell</param>
public sealed record SourceReference(string Target, string Form, string Words, SpanRoles Roles = SpanRoles.None) : SourceSpan;

public sealed record SourceNote(IReadOnlyList<SourceBlock> Blocks) : SourceSpan;

public sealed record SourceComment(string By, string Text) : SourceSpan;

public static class SourceText
{
    /// <summary>Neither words nor anything that is shown; names, index entries and comments do not count.</summary>
    public static bool SaysNothing(this SourceParagraph paragraph) =>
        string.IsNullOrWhiteSpace(paragraph.Spans.Words())
        && paragraph.Spans.All(s =>
            s is SourceRun or SourceTab or SourceBookmark or SourceComment or SourceAtom { Inline: LineBreak or IndexEntry }
        );

    /// <summary>The words of spans as a reader of the source sees them, tracked deletions left out.</summary>
    public static string Words(this IReadOnlyList<SourceSpan> spans)
    {
        if (spans.Count == 1 && spans[0] is SourceRun { Tracked: not Tracked.Deleted } only)
            return only.Text;
        var words = new System.Text.StringBuilder();
        foreach (var span in spans)
            switch (span)
            {
                case SourceRun { Tracked: not Tracked.Deleted } run:
                    words.Append(run.Text);
                    break;
                case SourceTab:
                    words.Append('\t');
                    break;
                case SourceAtom { Inline: LineBreak }:
                    words.Append(' ');
                    break;
                case SourceReference reference:
                    words.Append(reference.Words);
                    break;
            }
        return words.ToString();
    }

    /// <summary>About how many words a text has; in scripts that put no spaces between them two characters are one.</summary>
    public static int CountOfWords(string text)
    {
        int words = 0,
            unspaced = 0;
        var within = false;
        foreach (var c in text)
        {
            var letter = char.IsLetterOrDigit(c);
            if (letter && c is >= '\u0E00' and < '\u0E80' or >= '\u3040' and < '\uA000')
                unspaced++;
            else if (letter && !within)
                words++;
            within = letter;
        }
        return words + unspaced / 2;
    }

    /// <summary>All words of blocks, for what is left out or kept as plain text.</summary>
    public static string Words(this IEnumerable<SourceBlock> blocks) => string.Join(' ', blocks.Select(Words).Where(w => w.Length > 0));

    private static string Words(SourceBlock block) =>
        block switch
        {
            SourceParagraph p => p.Spans.Words(),
            SourceList l => string.Join(' ', l.Items.Select(i => i.Blocks.Words())),
            SourceDefinitions d => string.Join(' ', d.Definitions.Select(x => $"{x.Term.Words()} {x.Blocks.Words()}")),
            SourceTable t => string.Join(' ', t.Rows.SelectMany(r => r.Cells).Select(c => c.Blocks.Words()).Prepend(t.Caption.Words()))
                .Trim(),
            SourcePicture p => p.Caption.Words(),
            SourceListing l => l.Text,
            SourceEquation e => e.Source,
            SourceGroup g => $"{g.Title.Words()} {g.Blocks.Words()}".Trim(),
            SourceGenerated g => g.Words,
            _ => "",
        };
}
