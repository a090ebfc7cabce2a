using System.Collections.Concurrent;
using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>The faces that one kind of text uses for its span roles.</summary>
public sealed record FaceSet(Face Plain, Face Emphasis, Face Strong, Face Control, Face Code)
{
    public static readonly FaceSet Serif = new(
        FaceLibrary.Serif,
        FaceLibrary.SerifItalic,
        FaceLibrary.SerifStrong,
        FaceLibrary.SansStrong,
        FaceLibrary.Code
    );
    public static readonly FaceSet SerifItalic = Serif with { Plain = FaceLibrary.SerifItalic, Emphasis = FaceLibrary.Serif };
    public static readonly FaceSet Sans = new(
        FaceLibrary.Sans,
        FaceLibrary.SansItalic,
        FaceLibrary.SansStrong,
        FaceLibrary.SansStrong,
        FaceLibrary.Code
    );
    public static readonly FaceSet SansStrong = Sans with { Plain = FaceLibrary.SansStrong, Strong = FaceLibrary.SansBold };
    public static readonly FaceSet Code_ = new(
        FaceLibrary.Code,
        FaceLibrary.Code,
        FaceLibrary.CodeStrong,
        FaceLibrary.CodeStrong,
        FaceLibrary.Code
    );
}

/// <summary>How a role appears: face, size, leading, alignment, indents, spaces.</summary>
public sealed class Dress
{
    private readonly ConcurrentDictionary<SpanRoles, TextStyle> _styles = [];

    /// <param name="faces">faces by span role</param>
    /// <param name="size">the em in points</param>
    /// <param name="leading">baseline to baseline in points</param>
    /// <param name="tracking">space added after each letter, points</param>
    public Dress(FaceSet faces, double size, double leading, double tracking = 0, Features features = Features.None)
    {
        Size = Length.Points(size);
        Leading = Length.Points(leading);
        Faces = faces;
        Features = features;
        Tracking = Length.Points(tracking);
        Plain = Style(SpanRoles.None);
        Raised = new TextStyle(faces.Plain, Size.Scale(68, 100), Size.Scale(36, 100));
    }

    public FaceSet Faces { get; }

    public Features Features { get; }

    /// <summary>Added after each letter.</summary>
    public Length Tracking { get; }

    /// <summary>Figures are all of one width.</summary>
    public bool IsTabular => Features.HasFlag(Features.Tabular);
    public Length Size { get; }
    public Length Leading { get; }
    public Alignment Alignment { get; init; } = Alignment.Ragged;
    public bool Hyphenates { get; init; }
    public Length FirstIndent { get; init; }

    /// <summary>In order of their positions; the usual one stands at the right with a leader of points.</summary>
    public IReadOnlyList<TabStop> Tabs { get; init; } = [new TabStop(Length.Zero, TabAlignment.Right, ".")];
    public Length Left { get; init; }
    public Length Before { get; init; }
    public Length After { get; init; }

    /// <summary>Note calls.</summary>
    public TextStyle Raised { get; }
    public TextStyle Plain { get; }

    /// <summary>The style of a run with these roles; the same object each time, for runs are told apart by it.</summary>
    public TextStyle Style(SpanRoles roles) => _styles.GetOrAdd(roles & ~SpanRoles.NoBreak, static (r, dress) => dress.Make(r), this);

    private TextStyle Make(SpanRoles roles)
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
        var (raised, rise) =
            Is(SpanRoles.Sup) ? (68, 36)
            : Is(SpanRoles.Sub) ? (68, -14)
            : (100, 0);
        return new TextStyle(face, Size.Scale(scale * raised, 10_000), Size.Scale(rise, 100), Tracking)
        {
            Features = Features | (Is(SpanRoles.SmallCaps) ? Features.SmallCaps : Features.None),
        };
    }

    /// <summary>Where the baseline stands under the top of a line: the leading's excess shared, ascent above.</summary>
    public Length Baseline => Length.Zero + Leading.Scale(1, 2) + Size.Scale(33, 100);
}
