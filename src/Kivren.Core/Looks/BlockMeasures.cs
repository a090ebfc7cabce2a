namespace Kivren.Core.Looks;

/// <summary>Spaces, rules and tints of blocks, beside what the dress of their text says.</summary>
public sealed record BlockMeasures
{
    // ---- figures, tables, equations, listings, definitions: among the text, and within another block ----
    public Length FigureBefore { get; init; } = Length.Points(11);
    public Length FigureAfter { get; init; } = Length.Points(13);

    /// <summary>About a figure that came to stand at the head or foot of a page.</summary>
    public Length FloatGap { get; init; } = Length.Points(13);
    public Length FigureWithin { get; init; } = Length.Points(6.5);
    public Length TableBefore { get; init; } = Length.Points(13);
    public Length TableAfter { get; init; } = Length.Points(13);
    public Length TableWithin { get; init; } = Length.Points(6.5);
    public Length EquationBefore { get; init; } = Length.Points(8);
    public Length EquationAfter { get; init; } = Length.Points(8);
    public Length EquationWithin { get; init; } = Length.Points(5);
    public Length ListingWithin { get; init; } = Length.Points(4);

    /// <summary>Lists of terms and of documents: the least below them, and about them within another block.</summary>
    public Length DefinitionsAfter { get; init; } = Length.Points(4);
    public Length DefinitionsWithin { get; init; } = Length.Points(3);

    /// <summary>Between terms, beside the space between items.</summary>
    public Length DefinitionGap { get; init; } = Length.Points(2);

    // ---- captions ----
    public Length CaptionAbove { get; init; } = Length.Points(4);

    /// <summary>Between a picture and the caption under it.</summary>
    public Length CaptionBelow { get; init; } = Length.Points(5);

    public bool FigureCaptionAbove { get; init; }
    public bool TableCaptionBelow { get; init; }
    public bool ListingCaptionBelow { get; init; }

    /// <summary>Between the rule over a figure and its picture.</summary>
    public Length FigureRuleGap { get; init; } = Length.Points(8);

    // ---- boxes and admonitions ----

    /// <summary>Between the blocks within.</summary>
    public Length BoxGap { get; init; } = Length.Points(4);

    /// <summary>From the edge of a box to its text, at its sides; a little less above and below.</summary>
    public Length BoxInset { get; init; } = Length.Points(9);

    /// <summary>0 for black to 100 for white.</summary>
    public int BoxTint { get; init; } = 92;

    /// <summary>Name of a colour, in place of the tint.</summary>
    public string? BoxColour { get; init; }

    /// <summary>Between a box and the text that runs round it.</summary>
    public Length BesideGap { get; init; } = Length.Points(14);
    public Length AdmonitionAbove { get; init; } = Length.Points(6.2);
    public Length AdmonitionBelow { get; init; } = Length.Points(6.6);
    public Length AdmonitionRule { get; init; } = Length.Points(1.2);
    public Length AdmonitionEndRule { get; init; } = Length.Points(.4);

    /// <summary>Name of the colour of an admonition's rules; null for black.</summary>
    public string? AdmonitionColour { get; init; }

    /// <summary>Behind a signal word that is set into its text.</summary>
    public Length SignalGap { get; init; } = Length.Points(9);

    // ---- listings ----
    public Length ListingBar { get; init; } = Length.Points(1.2);
    public int ListingBarTint { get; init; } = 70;
    public Length ListingIndent { get; init; } = Length.Points(6);

    /// <summary>Behind lines that are marked.</summary>
    public int MarkedTint { get; init; } = 90;

    // ---- lists and notes ----

    /// <summary>Between a step's number and its text.</summary>
    public Length NumberGap { get; init; } = Length.Points(6);

    /// <summary>Between a bullet and its text, and the least from where a bullet begins to its text.</summary>
    public Length BulletGap { get; init; } = Length.Points(3.6);
    public Length BulletHang { get; init; } = Length.Points(10);

    /// <summary>Above the rule over footnotes, and under it.</summary>
    public Length NotesBefore { get; init; } = Length.Points(13);
    public Length NoteRuleGap { get; init; } = Length.Points(3);

    /// <summary>Above notes that stand under their table, or under their figure.</summary>
    public Length TableNoteGap { get; init; } = Length.Points(4);
    public Length FigureNoteGap { get; init; } = Length.Points(2);
    public Length NoteHang { get; init; } = Length.Points(9);

    /// <summary>Between notes at the end of a division, and under the rule over them.</summary>
    public Length EndNoteGap { get; init; } = Length.Points(2);
    public Length EndNoteRuleGap { get; init; } = Length.Points(6);
    public Length EndNotesBefore { get; init; } = Length.Points(13);

    /// <summary>Thickness of the rules over figures and notes.</summary>
    public Length HairRule { get; init; } = Length.Points(.4);

    /// <summary>Name of their colour, and of that of the rules at running heads; null for black.</summary>
    public string? RuleColour { get; init; }
}
