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
    SeeToSee,
    SeeCircular,
    HeadingNearlyAlike,
    HeadingCrowded,
    EntryInHead,
    EntryInListing,
    IndexEmpty,
    RunningHeadTooLong,
    NoHeadInForce,
    RepeatedTitle,
    EmptyHead,
    LevelSkipped,
    HeadRepeated,
    SectionEmpty,
    LooksLikeHead,
    HeadNotListed,
    ReferenceAmbiguous,
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
}

/// <summary>Something that would come out wrong in print: where it is, in words, and what to do about it.</summary>
/// <param name="Words">words of the text that show the place</param>
/// <param name="Message">what is wrong and what to do</param>
public sealed record LooseEnd(LooseEndKind Kind, Id Division, Id Block, string Words, string Message);
