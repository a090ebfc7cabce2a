using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using Kivren.Core.Content;
using Kivren.Core.Numbering;
using Kivren.Core.Selection;
using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>Where the depth that a page has left goes: to the foot, or between the blocks as far as they take it.</summary>
public enum Feet
{
    Ragged,
    Feathered,
}

/// <summary>Signal word in a column beside the text, on a line of its own, or set into the text as in standards.</summary>
public enum SignalPlace
{
    Column,
    OwnLine,
    Series,
}

public enum NotePlace
{
    Foot,
    EndOfDivision,
}

/// <summary>How figures, tables, listings and equations are ruled and spaced.</summary>
public sealed record TableDress(Dress Text, Dress Head)
{
    /// <summary>Rules at head and foot, under the header, between rows; zero for none.</summary>
    public Length Outer { get; init; } = Length.Points(.8);
    public Length UnderHeader { get; init; } = Length.Points(.4);
    public Length BetweenRows { get; init; }
    public Length Above { get; init; } = Length.Points(3.4);
    public Length Below { get; init; } = Length.Points(3.6);
    public Length ColumnGap { get; init; } = Length.Points(6);

    /// <summary>Behind rows that head a group: 0 for black to 100 for white; or the name of a colour.</summary>
    public int GroupTint { get; init; } = 94;
    public string? GroupColour { get; init; }

    /// <summary>Behind the header: 100 for none.</summary>
    public int HeaderTint { get; init; } = 100;
    public string? HeaderColour { get; init; }

    /// <summary>Name of the colour of its rules; null for black.</summary>
    public string? RuleColour { get; init; }
}

/// <summary>A complete page design: what every role wears and how pages, numbers and lists are made.</summary>
public sealed record Look(string Name)
{
    // ---- pages ----
    /// <summary>Page layouts, those that others are based on before them; the first is the text's.</summary>
    public required IReadOnlyList<PageMaster> Masters { get; init; }

    /// <summary>Masters of the sequences that name none of their own.</summary>
    public required MasterChoice Pages { get; init; }
    public required IReadOnlyDictionary<DivisionKind, PageSequence> Sequences { get; init; }
    public BlankPage? Blank { get; init; }
    public Feet Feet { get; init; }

    /// <summary>Facing pages end level where the cost allows.</summary>
    public bool LevelFacing { get; init; }

    /// <summary>A division may wait for its side of the sheet: a page before it stays blank then. Else each begins on the next
    /// page.</summary>
    public bool Sided { get; init; } = true;

    /// <summary>What is otherwise on screens.</summary>
    public ScreenRules Screens { get; init; } = new();

    /// <summary>Text stands on a grid of the body's leading.</summary>
    public bool Grid { get; init; }

    /// <summary>A last page of a division has at least this many lines.</summary>
    public int LastPageLines { get; init; } = 5;

    // ---- what is named ----

    /// <summary>The house's own faces, beside those that ship.</summary>
    public IReadOnlyList<HouseFace> Faces { get; init; } = [];
    public IReadOnlyList<NamedColour> Colours { get; init; } = [];

    /// <summary>Dress of words by their span roles.</summary>
    public IReadOnlyList<SpanDress> Spans { get; init; } = [];

    /// <summary>The font files that it brings along.</summary>
    public IEnumerable<FontFile> FontFiles => Faces.SelectMany(f => f.Files);

    /// <summary>It was read while a font file was not there.</summary>
    internal bool LackedFonts { get; init; }

    /// <summary>All its font files are there now.</summary>
    internal bool CanBeCompleted => LackedFonts && FontFiles.All(f => FaceFiles.Find(f.Hash) is not null);

    /// <summary>Name of the colour of words that lead somewhere; null where they look as others do.</summary>
    public string? LinkColour { get; init; }

    internal LookPalette Palette => new(Faces, Colours, Spans, LinkColour) { Writing = Writing };

    /// <summary>The tone of rules over figures, at notes and at running heads.</summary>
    internal Tone HairTone => Palette.Tone(Blocks.RuleColour, 0);

    // ---- text ----
    public required IReadOnlyList<DressRule> Dresses { get; init; }

    /// <summary>Dress of A to D heads, in order.</summary>
    public required IReadOnlyList<Dress> Heads { get; init; }

    /// <summary>Numbers of heads and clauses hang in the side column.</summary>
    public bool NumbersInSide { get; init; }

    /// <summary>Heads of this level are set into the paragraph that follows; null for none.</summary>
    public HeadLevel? RunIn { get; init; }
    public NumberingRules Numbering { get; init; } = new();
    public required Dress DivisionLabel { get; init; }
    public required Dress DivisionTitle { get; init; }

    /// <summary>How far an opening is sunk below the top of the text, and the space after its title.</summary>
    public required Length Sink { get; init; }
    public required Length AfterTitle { get; init; }
    public required Dress ListText { get; init; }
    public required Dress StepNumber { get; init; }
    public required Length ListHang { get; init; }
    public Length ItemGap { get; init; } = Length.Points(3.25);
    public IReadOnlyList<string> Bullets { get; init; } = ["–", "·"];
    public required Dress AdmonitionText { get; init; }
    public required Dress SignalWord { get; init; }
    public SignalPlace Signal { get; init; }
    public Length SignalColumn { get; init; }
    public required Dress AsideText { get; init; }
    public required Dress AsideTitle { get; init; }

    /// <summary>Width of an aside that stands beside the paragraph after it, whose lines run round; zero sets asides in the
    /// text's own measure.</summary>
    public Length AsideBeside { get; init; }
    public required TableDress Table { get; init; }
    public required Dress Caption { get; init; }
    public required Dress CaptionLabel { get; init; }
    public bool FigureRule { get; init; } = true;
    public required Dress ListingText { get; init; }
    public required Dress NoteText { get; init; }
    public required Length NoteRule { get; init; }
    public NotePlace Notes { get; init; }
    public required Dress Term { get; init; }
    public Length EquationIndent { get; init; } = Length.Points(26);
    public BlockMeasures Blocks { get; init; } = new();

    // ---- lists ----
    public required IReadOnlyList<ContentsDefinition> Lists { get; init; }
    public required IndexDefinition Index { get; init; }
    public required IReadOnlyList<ReferenceForm> ReferenceForms { get; init; }

    /// <summary>A print edition adds the page to every reference that does not name it.</summary>
    public bool PageAfterReferences { get; init; }

    /// <summary>A head that only repeats the title right above it is left out, with its number.</summary>
    public bool RepeatedTitlesLeftOut { get; init; }

    /// <summary>What paper says of the web address that words link to.</summary>
    public PrintedAddresses WebAddresses { get; init; }

    /// <summary>The words that it prints by itself beside those that are set in it.</summary>
    internal LanguageWords Words { get; init; } = LanguageWords.English;

    /// <summary>Their language, as words are divided in it.</summary>
    internal string Language { get; init; } = "en-GB";

    /// <summary>How their language is written. One that is read from the right has its pages mirrored.</summary>
    internal Writing Writing { get; init; } = Writing.Plain;

    /// <summary>What of it changes the text itself.</summary>
    public TextRules TextRules => new(kind => SequenceOf(kind).Contents, RepeatedTitlesLeftOut, WebAddresses);

    /// <summary>Whether the text itself is the same in another look.</summary>
    internal bool ReadsAs(Look other) =>
        (RepeatedTitlesLeftOut, WebAddresses) == (other.RepeatedTitlesLeftOut, other.WebAddresses)
        && Enum.GetValues<DivisionKind>().All(k => SequenceOf(k).Contents == other.SequenceOf(k).Contents);

    /// <summary>The master of the text's right-hand pages.</summary>
    public PageMaster Master => MastersOf(DivisionKind.Chapter).Recto;

    /// <summary>The page layout of a division of this kind, by its right-hand pages; the text of all its pages is set to it.</summary>
    public PageMaster MasterOf(DivisionKind kind) => MastersOf(kind).Recto;

    /// <summary>The page layout of a division that holds the index: in as many columns as the index has.</summary>
    public PageMaster IndexPage(DivisionKind kind) => MasterOf(kind) with { Columns = Index.Columns, Gutter = Index.Gutter };

    public PageMaster MasterOf(DivisionKind kind, PagePlace place) => MastersOf(kind).At(place);

    // Beside the look, not in it: a copy with other masters must not hold those of the first.
    private static readonly ConditionalWeakTable<Look, ConcurrentDictionary<DivisionKind, SequenceMasters>> Found = [];

    private SequenceMasters MastersOf(DivisionKind kind) =>
        Found
            .GetOrCreateValue(this)
            .GetOrAdd(kind, static (k, look) => new SequenceMasters(look.Masters, look.SequenceOf(k).Pages ?? look.Pages), this);

    /// <summary>All that stands behind the text of a division of this kind, on whichever page.</summary>
    public IEnumerable<Artwork> ArtworkOf(DivisionKind kind) => Sides.Select(p => MasterOf(kind, p)).Distinct().SelectMany(m => m.Artwork);

    private static readonly PagePlace[] Sides =
    [
        new(true),
        new(false),
        new(true, Opens: true),
        new(true, Ends: true),
        new(true, Turned: true),
    ];

    /// <summary>Some running head or foot names the count of all pages.</summary>
    /// <summary>Depth of the text on the page that a division begins with. Pages of several columns are all of one depth.</summary>
    /// <param name="page">the layout that its text is set for</param>
    internal int OpeningDepth(DivisionKind kind, PageMaster page) =>
        page.Columns > 1 ? page.Depth.Millipoints : MasterOf(kind, new PagePlace(true, Opens: true)).Depth.Millipoints;

    public bool NamesTotal => Masters.Any(m => m.Fields.Any(f => f.Pattern.Contains("{total}", StringComparison.Ordinal)));

    private static readonly PageSequence Plain = new("body", Begins.NewPage, FolioFormat.Decimal, FolioCount.Continues);

    public Dress Body => DressOf("body", default);

    public Dress HeadDress(HeadLevel level) => Heads[(int)level - 1];

    /// <summary>The rule that dresses a role where it stands; the body's when no rule names the role.</summary>
    public DressRule RuleFor(string role, Standing at) => Best(role, at) ?? Best("body", at) ?? Dresses[0];

    /// <summary>What a division is called over its title, in its own language; "" where it is called nothing.</summary>
    public string KindName(Division division) => this.In(division.Language).Numbering.KindName(division.Kind);

    public Dress DressOf(string role, Standing at) => RuleFor(role, at).Dress;

    /// <summary>The rule for a role that the manual gave a block itself; null where the look has none, and it wears its foundation's.
    /// </summary>
    public DressRule? OwnRule(Block block, Standing at) => block.OwnRole is { } own ? Best(own, at) : null;

    private DressRule? Best(string role, Standing at)
    {
        DressRule? best = null;
        foreach (var rule in Dresses)
            if (rule.Fits(role, at) && (best is null || rule.Weight > best.Weight))
                best = rule;
        return best;
    }

    public PageSequence SequenceOf(DivisionKind kind) => Sequences.GetValueOrDefault(kind, Plain);

    public Begins BeginsOf(Division division)
    {
        var begins = division.Begins == Begins.ByLook ? SequenceOf(division.Kind).Begins : division.Begins;
        return !Sided && begins is Begins.Recto or Begins.Verso ? Begins.NewPage : begins;
    }

    public ReferenceForm Form(string name) => ReferenceForms.FirstOrDefault(f => f.Name == name) ?? ReferenceForms[0];

    public ContentsDefinition? List(string name) => Lists.FirstOrDefault(l => l.Name == name);

    /// <summary>Heads of this level stand in the full contents list.</summary>
    /// <summary>Whether all numbers of a text come out the same in both: all that numbering asks of a look.</summary>
    public bool CountsAs(Look other) =>
        ReferenceEquals(this, other)
        || (
            Numbering == other.Numbering
            && Bullets.SequenceEqual(other.Bullets)
            && Enum.GetValues<HeadLevel>().All(level => ListsHead(level) == other.ListsHead(level))
        );

    public bool ListsHead(HeadLevel level) =>
        Lists.Count > 0 && Lists[0].Lines.Any(l => l.Kind == TargetKind.Head && (l.Level is null || l.Level == level));
}
