using System.Collections.Concurrent;
using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>How a role appears: face, size, leading, colour, alignment, indents, spaces; and how its blocks keep, are ruled and
/// stand on tints.</summary>
/// <param name="faces">faces by span role</param>
/// <param name="size">the em in points</param>
/// <param name="leading">baseline to baseline in points</param>
/// <param name="tracking">space added after each letter, points</param>
public sealed class Dress(FaceSet faces, double size, double leading, double tracking = 0, Features features = Features.None)
{
    private readonly ConcurrentDictionary<(SpanRoles, string?, bool), TextStyle> _styles = [];
    private TextStyle? _plain,
        _raised;

    public FaceSet Faces => faces;

    public Features Features => features;

    /// <summary>Added after each letter.</summary>
    public Length Tracking { get; } = Length.Points(tracking);

    /// <summary>Figures are all of one width.</summary>
    public bool IsTabular => Features.HasFlag(Features.Tabular);
    public Length Size { get; } = Length.Points(size);
    public Length Leading { get; } = Length.Points(leading);

    /// <summary>Name of a colour of the look; null for black.</summary>
    public string? Colour { get; init; }
    public Alignment Alignment { get; init; } = Alignment.Ragged;
    public bool Hyphenates { get; init; }

    /// <summary>Letters of a word that stand before a hyphen, and behind it, at least.</summary>
    public int LettersBefore { get; init; } = Hyphenator.Before;
    public int LettersAfter { get; init; } = Hyphenator.After;
    public Length FirstIndent { get; init; }

    /// <summary>In order of their positions; the usual one stands at the right with a leader of points.</summary>
    public IReadOnlyList<TabStop> Tabs { get; init; } = [new TabStop(Length.Zero, TabAlignment.Right, ".")];
    public Length Left { get; init; }
    public Length Before { get; init; }
    public Length After { get; init; }

    // ---- of paragraphs and heads ----

    /// <summary>Two lines of what follows stand on the page of its last.</summary>
    public bool KeepsNext { get; init; }

    /// <summary>The page does not turn within it, where the next has room.</summary>
    public bool Together { get; init; }

    /// <summary>At a turn of the page at least so many of its lines stand on either side.</summary>
    public int LinesAtTurn { get; init; } = 2;

    /// <summary>By how much of themselves the spaces above and below it may grow where the look shares out the white that a page has
    /// left, in hundredths.</summary>
    public int Stretch { get; init; } = UsualStretch;
    public const int UsualStretch = 50;

    /// <summary>Stands across all columns of its page.</summary>
    public bool Across { get; init; }

    /// <summary>Thickness of a rule above and below; zero for none.</summary>
    public Length RuleAbove { get; init; }
    public Length RuleBelow { get; init; }

    /// <summary>From the rule to the text.</summary>
    public Length RuleGap { get; init; } = Length.Points(3);

    /// <summary>Name of the rules' colour; null for black.</summary>
    public string? RuleColour { get; init; }

    /// <summary>Behind it: 0 for black to 100 for white, which is none.</summary>
    public int Tint { get; init; } = 100;

    /// <summary>Name of the colour behind it; null for the grey.</summary>
    public string? TintColour { get; init; }

    /// <summary>From the edge of the tint to the text.</summary>
    public Length TintInset { get; init; } = Length.Points(6);

    /// <summary>What the names of faces and colours mean.</summary>
    internal LookPalette Palette { get; init; } = LookPalette.Bare;

    /// <summary>The same for a language that is written otherwise.</summary>
    internal Dress In(Writing writing) =>
        new(faces, size, leading * writing.Leading / Palette.Writing.Leading, tracking, features)
        {
            Colour = Colour,
            Alignment = Alignment,
            Hyphenates = Hyphenates,
            LettersBefore = LettersBefore,
            LettersAfter = LettersAfter,
            FirstIndent = FirstIndent,
            Tabs = Tabs,
            Left = Left,
            Before = Before,
            After = After,
            KeepsNext = KeepsNext,
            Together = Together,
            LinesAtTurn = LinesAtTurn,
            Stretch = Stretch,
            Across = Across,
            RuleAbove = RuleAbove,
            RuleBelow = RuleBelow,
            RuleGap = RuleGap,
            RuleColour = RuleColour,
            Tint = Tint,
            TintColour = TintColour,
            TintInset = TintInset,
            Palette = Palette with { Writing = writing },
        };

    /// <summary>Note calls.</summary>
    public TextStyle Raised =>
        _raised ??= Plain with { Size = Size.Scale(68, 100), Rise = Size.Scale(36, 100), Tracking = default, Features = Features.None };
    public TextStyle Plain => _plain ??= Style(SpanRoles.None);

    /// <summary>The tone of its rules, and of the tint behind it.</summary>
    internal Tone RuleTone => Palette.Tone(RuleColour, 0);
    internal Tone TintTone => Palette.Tone(TintColour, Tint);
    internal bool HasTint => Tint < 100 || TintColour is not null;

    /// <summary>The style of a run with these roles; the same object each time, for runs are told apart by it.</summary>
    /// <param name="own">a role of the manual's own that they have</param>
    /// <param name="leads">they lead somewhere</param>
    public TextStyle Style(SpanRoles roles, string? own = null, bool leads = false) =>
        _styles.GetOrAdd(
            (roles & ~SpanRoles.NoBreak, Palette.Spans.Count == 0 ? null : own, leads && Palette.Links is not null),
            static (r, dress) => dress.Make(r.Item1, r.Item2, r.Item3),
            this
        );

    private TextStyle Make(SpanRoles roles, string? ownRole, bool leads)
    {
        bool Is(SpanRoles any) => (roles & any) != 0;
        var (face, scale) =
            Is(SpanRoles.Code | SpanRoles.PartNumber) ? (Faces.Code, 90)
            : Is(SpanRoles.Control | SpanRoles.Key) ? (Faces.Control, ReferenceEquals(Faces.Plain, FaceLibrary.Serif) ? 94 : 100)
            : Is(SpanRoles.Strong | SpanRoles.Term) ? (Is(SpanRoles.Strong) ? Faces.Strong : Faces.Emphasis, 100)
            : Is(SpanRoles.Emphasis | SpanRoles.Foreign) ? (Faces.Emphasis, 100)
            : (Faces.Plain, 100);
        if (ReferenceEquals(face, Faces.Plain))
            scale = 100;
        SpanDress? own = null;
        foreach (var span in Palette.Spans)
            if (span.Fits(roles, ownRole))
                own = span;
        if (own?.Face is { } named && Palette.Face(named) is { } other)
            face = other.Plain;
        if (own is { Size: > 0 })
            scale = own.Size;
        var (raised, rise) =
            Is(SpanRoles.Sup) ? (68, 36)
            : Is(SpanRoles.Sub) ? (68, -14)
            : (100, 0);
        return new TextStyle(face, Size.Scale(scale * raised, 10_000), Size.Scale(rise, 100), Tracking)
        {
            Features =
                Features
                | (Is(SpanRoles.SmallCaps) || own is { SmallCapitals: true } ? Features.SmallCaps : Features.None)
                | (own is { Capitals: true } ? Features.Capitals : Features.None),
            Ink = Palette.Tone(leads ? Palette.Links : own?.Colour ?? Colour, 0),
            LettersBefore = LettersBefore,
            LettersAfter = LettersAfter,
            StandIns = Faces.StandIns,
            Writing = Palette.Writing,
            StandsOut = Is(SpanRoles.Emphasis | SpanRoles.Term | SpanRoles.Strong),
            Dotted = Is(SpanRoles.Emphasis) && !Is(SpanRoles.Term | SpanRoles.Strong),
        };
    }

    /// <summary>Where the baseline stands under the top of a line: the leading's excess shared, ascent above.</summary>
    public Length Baseline => Length.Zero + Leading.Scale(1, 2) + Size.Scale(33, 100);
}
