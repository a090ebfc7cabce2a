using Kivren.Core.Content;

namespace Kivren.Core.LooseEnds;

public enum LooseEndKind
{
    ReferenceToNothing,
    UnknownVariable,
    MissingCharacter,
    OverfullLine,
    NoAlternativeText,
    PictureMissing,
    KeepGivenUp,
    TooTall,
    NotSettled,
    AddressRefused,
    RangeUnclosed,
    RangeUnopened,
    RangeBackwards,
    SeeToNothing,
    SeeLeftOut,
    SeeToSee,
    SeeCircular,
    HeadingNearlyAlike,
    HeadingCrowded,
    EntryInHead,
    EntryInListing,
    IndexEmpty,
    RunningHeadTooLong,
    RunningHeadsMeet,
    NoHeadInForce,
    RepeatedTitle,
    EmptyHead,
    LevelSkipped,
    HeadRepeated,
    SectionEmpty,
    LooksLikeHead,
    HeadNotListed,
    ReferenceAmbiguous,
    ReferenceLeftOut,
    EquationUnreadable,
    TableTooWide,
    FigurePastSection,
    PassageMissing,
    NotCited,
    ListUnknown,
    NotePastPage,
    NoteEmpty,
    WordTwice,
    BracketUnclosed,
    TermOtherwise,
    TwoSpellings,
    AreaLeadsNowhere,
    TermUndefined,
    TermUnused,
    ListTooLong,
}

/// <summary>Something that would come out wrong in print: where it is, in words, and what to do about it.</summary>
/// <param name="Words">words of the text that show the place</param>
/// <param name="Message">what is wrong and what to do</param>
public sealed record LooseEnd(LooseEndKind Kind, Id Division, Id Block, string Words, string Message)
{
    /// <summary>The reference, the index entry, the definition that it is about; none where it is the block itself.</summary>
    public Id Subject { get; init; }

    /// <summary>What it should be or name instead, where that is likely: a heading, landscape for a table; else null.</summary>
    public string? Instead { get; init; }

    /// <summary>Why a writer let it be; null where none did.</summary>
    public string? Aside { get; init; }

    /// <summary>The words by which a loose end that was put aside is known again.</summary>
    public string KnownBy => Words.Length <= PutAside.LongestWords ? Words : Words[..PutAside.LongestWords];
}
