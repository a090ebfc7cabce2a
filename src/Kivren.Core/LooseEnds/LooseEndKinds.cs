namespace Kivren.Core.LooseEnds;

/// <summary>What a loose end does to the reader.</summary>
public enum Gravity
{
    /// <summary>A page would say something wrong, or nothing where something belongs.</summary>
    Wrong,

    /// <summary>A page would look wrong.</summary>
    Unsightly,

    /// <summary>It may be right; somebody should look.</summary>
    Doubtful,
}

public enum LooseEndGroup
{
    References,
    Index,
    Lists,
    Figures,
    Words,
    Pages,
}

/// <summary>What all loose ends of a kind have in common.</summary>
/// <param name="Name">of the kind, for lists</param>
/// <param name="Why">why it matters to a reader</param>
public sealed record LooseEndSort(LooseEndGroup Group, Gravity Gravity, string Name, string Why);

public static class LooseEndKinds
{
    public static LooseEndSort Sort(this LooseEndKind kind) => Sorts[kind];

    private static LooseEndSort Of(LooseEndGroup group, Gravity gravity, string name, string why) => new(group, gravity, name, why);

    /// <summary>Every kind; a test holds that none is missing.</summary>
    public static readonly IReadOnlyDictionary<LooseEndKind, LooseEndSort> Sorts = new Dictionary<LooseEndKind, LooseEndSort>
    {
        [LooseEndKind.ReferenceToNothing] = Of(
            LooseEndGroup.References,
            Gravity.Wrong,
            "Reference to nothing",
            "A gap is printed where a reader expects to be sent somewhere."
        ),
        [LooseEndKind.ReferenceAmbiguous] = Of(
            LooseEndGroup.References,
            Gravity.Doubtful,
            "Two places equally near",
            "The reader may be sent to the wrong one of two alike."
        ),
        [LooseEndKind.ReferenceLeftOut] = Of(
            LooseEndGroup.References,
            Gravity.Doubtful,
            "Reference to what is left out",
            "The reader is sent to a text that this edition does not have."
        ),
        [LooseEndKind.AreaLeadsNowhere] = Of(
            LooseEndGroup.References,
            Gravity.Wrong,
            "Area that leads nowhere",
            "A number on the picture stands for nothing."
        ),
        [LooseEndKind.NotCited] = Of(
            LooseEndGroup.References,
            Gravity.Doubtful,
            "Document not cited",
            "A document that no binding text cites binds nobody."
        ),
        [LooseEndKind.AddressRefused] = Of(
            LooseEndGroup.References,
            Gravity.Wrong,
            "Address refused",
            "The words look like a link and lead nowhere."
        ),
        [LooseEndKind.TermUndefined] = Of(
            LooseEndGroup.References,
            Gravity.Doubtful,
            "Term without a definition",
            "A reader who looks it up in the glossary finds nothing."
        ),
        [LooseEndKind.TermUnused] = Of(
            LooseEndGroup.References,
            Gravity.Doubtful,
            "Definition never used",
            "The glossary explains what nobody asks."
        ),
        [LooseEndKind.RangeUnclosed] = Of(
            LooseEndGroup.Index,
            Gravity.Wrong,
            "Range never closed",
            "The index names one page where several are meant."
        ),
        [LooseEndKind.RangeUnopened] = Of(LooseEndGroup.Index, Gravity.Wrong, "Range never begun", "The index names no page for it."),
        [LooseEndKind.RangeBackwards] = Of(
            LooseEndGroup.Index,
            Gravity.Wrong,
            "Range ends before it begins",
            "The index names one page where several are meant."
        ),
        [LooseEndKind.SeeToNothing] = Of(
            LooseEndGroup.Index,
            Gravity.Wrong,
            "See, to nothing",
            "The reader is sent to a heading that is not there."
        ),
        [LooseEndKind.SeeLeftOut] = Of(
            LooseEndGroup.Index,
            Gravity.Doubtful,
            "See, to what is left out",
            "A reader of this edition is not told where else to look."
        ),
        [LooseEndKind.SeeToSee] = Of(LooseEndGroup.Index, Gravity.Wrong, "See, to a see", "The reader is sent twice."),
        [LooseEndKind.SeeCircular] = Of(
            LooseEndGroup.Index,
            Gravity.Wrong,
            "See, in a circle",
            "The reader is sent back, and never arrives."
        ),
        [LooseEndKind.HeadingNearlyAlike] = Of(
            LooseEndGroup.Index,
            Gravity.Doubtful,
            "Headings nearly alike",
            "A reader finds one of them and misses the pages of the other."
        ),
        [LooseEndKind.HeadingCrowded] = Of(
            LooseEndGroup.Index,
            Gravity.Doubtful,
            "Many bare locators",
            "A reader must look up page after page to find the one that helps."
        ),
        [LooseEndKind.EntryInHead] = Of(
            LooseEndGroup.Index,
            Gravity.Doubtful,
            "Entry in a head",
            "Whoever rewrites the head loses the entry without seeing it."
        ),
        [LooseEndKind.EntryInListing] = Of(
            LooseEndGroup.Index,
            Gravity.Doubtful,
            "Entry in a listing",
            "Whoever puts in another listing loses the entry without seeing it."
        ),
        [LooseEndKind.IndexEmpty] = Of(LooseEndGroup.Index, Gravity.Wrong, "Empty index", "A page is printed that says nothing."),
        [LooseEndKind.RepeatedTitle] = Of(
            LooseEndGroup.Lists,
            Gravity.Unsightly,
            "Title repeated",
            "The contents list names the same thing twice."
        ),
        [LooseEndKind.HeadNotListed] = Of(
            LooseEndGroup.Lists,
            Gravity.Doubtful,
            "Head that no list takes",
            "A reader does not find it in the contents."
        ),
        [LooseEndKind.LooksLikeHead] = Of(
            LooseEndGroup.Lists,
            Gravity.Doubtful,
            "Looks like a head",
            "A reader takes it for a head and misses it in the contents."
        ),
        [LooseEndKind.ListUnknown] = Of(LooseEndGroup.Lists, Gravity.Wrong, "Unknown list", "Nothing is printed where a list belongs."),
        [LooseEndKind.ListTooLong] = Of(
            LooseEndGroup.Lists,
            Gravity.Doubtful,
            "List too long",
            "A contents list that must be leafed through is no help."
        ),
        [LooseEndKind.LevelSkipped] = Of(
            LooseEndGroup.Lists,
            Gravity.Doubtful,
            "Level skipped",
            "Numbers and the outline jump, and a reader looks for what is missing."
        ),
        [LooseEndKind.HeadRepeated] = Of(
            LooseEndGroup.Lists,
            Gravity.Doubtful,
            "Two heads alike",
            "A reader cannot tell them apart in the contents."
        ),
        [LooseEndKind.EmptyHead] = Of(LooseEndGroup.Lists, Gravity.Wrong, "Empty head", "A number is printed without words."),
        [LooseEndKind.SectionEmpty] = Of(
            LooseEndGroup.Lists,
            Gravity.Wrong,
            "Empty section",
            "A reader turns to a page that says nothing."
        ),
        [LooseEndKind.NoAlternativeText] = Of(
            LooseEndGroup.Figures,
            Gravity.Wrong,
            "No alternative text",
            "Who cannot see the picture is told nothing."
        ),
        [LooseEndKind.PictureMissing] = Of(LooseEndGroup.Figures, Gravity.Wrong, "Picture missing", "An empty frame is printed."),
        [LooseEndKind.FigurePastSection] = Of(
            LooseEndGroup.Figures,
            Gravity.Unsightly,
            "Figure past its section",
            "The picture stands where another subject has begun."
        ),
        [LooseEndKind.TableTooWide] = Of(
            LooseEndGroup.Figures,
            Gravity.Wrong,
            "Table too wide",
            "Columns run off the page, or their words cannot be read."
        ),
        [LooseEndKind.TooTall] = Of(LooseEndGroup.Figures, Gravity.Wrong, "Too tall for a page", "A part of it falls off the page."),
        [LooseEndKind.EquationUnreadable] = Of(
            LooseEndGroup.Figures,
            Gravity.Wrong,
            "Equation not readable",
            "Its source is printed instead."
        ),
        [LooseEndKind.UnknownVariable] = Of(LooseEndGroup.Words, Gravity.Wrong, "Unknown variable", "A gap is printed."),
        [LooseEndKind.PassageMissing] = Of(LooseEndGroup.Words, Gravity.Wrong, "Passage missing", "Nothing is printed where text belongs."),
        [LooseEndKind.MissingCharacter] = Of(
            LooseEndGroup.Words,
            Gravity.Wrong,
            "Character without a face",
            "A box is printed instead of the character."
        ),
        [LooseEndKind.NoteEmpty] = Of(LooseEndGroup.Words, Gravity.Wrong, "Empty footnote", "A number leads to nothing."),
        [LooseEndKind.WordTwice] = Of(LooseEndGroup.Words, Gravity.Wrong, "Word twice", "A reader stumbles."),
        [LooseEndKind.BracketUnclosed] = Of(LooseEndGroup.Words, Gravity.Wrong, "Bracket left open", "A reader looks for the other one."),
        [LooseEndKind.TermOtherwise] = Of(
            LooseEndGroup.Words,
            Gravity.Doubtful,
            "Term in another form",
            "Two forms of one term look like two things."
        ),
        [LooseEndKind.TwoSpellings] = Of(
            LooseEndGroup.Words,
            Gravity.Doubtful,
            "Two spellings",
            "Two spellings of one word look like two things."
        ),
        [LooseEndKind.OverfullLine] = Of(LooseEndGroup.Pages, Gravity.Unsightly, "Line too long", "Words run out into the margin."),
        [LooseEndKind.KeepGivenUp] = Of(
            LooseEndGroup.Pages,
            Gravity.Unsightly,
            "Parted at a page turn",
            "What belongs together stands on two pages."
        ),
        [LooseEndKind.NotSettled] = Of(LooseEndGroup.Pages, Gravity.Wrong, "Not settled", "A printed number may name the wrong page."),
        [LooseEndKind.NotePastPage] = Of(
            LooseEndGroup.Pages,
            Gravity.Unsightly,
            "Note past its page",
            "The note begins on another page than its call."
        ),
        [LooseEndKind.RunningHeadTooLong] = Of(
            LooseEndGroup.Pages,
            Gravity.Unsightly,
            "Running head too long",
            "It is cut at a word, with points behind it."
        ),
        [LooseEndKind.RunningHeadsMeet] = Of(
            LooseEndGroup.Pages,
            Gravity.Wrong,
            "Running heads meet",
            "Words at the edge of the page stand over one another, or over the text."
        ),
        [LooseEndKind.NoHeadInForce] = Of(
            LooseEndGroup.Pages,
            Gravity.Unsightly,
            "No head in force",
            "The running head of these pages is empty."
        ),
    };
}
