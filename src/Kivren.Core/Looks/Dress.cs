using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>The faces that one kind of text uses for its span roles.</summary>
public sealed record FaceSet(Face Plain, Face Emphasis, Face Strong, Face Control, Face Code)
{
    public static readonly FaceSet Serif = new(FaceLibrary.Serif, FaceLibrary.SerifItalic, FaceLibrary.SerifStrong, FaceLibrary.SansStrong, FaceLibrary.Code);
    public static readonly FaceSet SerifItalic = Serif with { Plain = FaceLibrary.SerifItalic, Emphasis = FaceLibrary.Serif };
    public static readonly FaceSet Sans = new(FaceLibrary.Sans, FaceLibrary.SansItalic, FaceLibrary.SansStrong, FaceLibrary.SansStrong, FaceLibrary.Code);
    public static readonly FaceSet SansStrong = Sans with { Plain = FaceLibrary.SansStrong, Strong = FaceLibrary.SansBold };
    public static readonly FaceSet Code_ = new(FaceLibrary.Code, FaceLibrary.Code, FaceLibrary.CodeStrong, FaceLibrary.CodeStrong, FaceLibrary.Code);
}

/// <summary>How a role appears: face, size, leading, alignment, indents, spaces.</summary>
public sealed class Dress
{
    private readonly TextStyle[] _styles = new TextStyle[32];

    /// <param name="faces">faces by span role</param>
    /// <param name="size">the em in points</param>
    /// <param name="leading">baseline to baseline in points</param>
    public Dress(FaceSet faces, double size, double leading, double tracking = 0)
    {
        Size = Length.Points(size);
        Leading = Length.Points(leading);
        for (var roles = 0; roles < 32; roles++)
        {
            var r = (SpanRoles)roles;
            var (face, scale) = r.HasFlag(SpanRoles.Code) ? (faces.Code, 90)
                : r.HasFlag(SpanRoles.Control) ? (faces.Control, ReferenceEquals(faces.Plain, FaceLibrary.Serif) ? 94 : 100)
                : r.HasFlag(SpanRoles.Strong) ? (faces.Strong, 100)
                : r.HasFlag(SpanRoles.Emphasis) || r.HasFlag(SpanRoles.Term) ? (faces.Emphasis, 100)
                : (faces.Plain, 100);
            if (ReferenceEquals(face, faces.Plain)) scale = 100;
            _styles[roles] = new TextStyle(face, Size.Scale(scale, 100), default, Length.Points(tracking));
        }
        Raised = new TextStyle(faces.Plain, Size.Scale(68, 100), Size.Scale(36, 100));
        FolioFace = _styles[0];
    }

    public Length Size { get; }
    public Length Leading { get; }
    public Alignment Alignment { get; init; } = Alignment.Ragged;
    public bool Hyphenates { get; init; }
    public Length FirstIndent { get; init; }
    public Length Left { get; init; }
    public Length Before { get; init; }
    public Length After { get; init; }
    public TextStyle FolioFace { get; }

    /// <summary>Note calls.</summary>
    public TextStyle Raised { get; }
    public TextStyle Plain => _styles[0];

    public TextStyle Style(SpanRoles roles) => _styles[(int)roles & 31];

    /// <summary>Where the baseline stands under the top of a line: the leading's excess shared, ascent above.</summary>
    public Length Baseline => Length.Zero + Leading.Scale(1, 2) + Size.Scale(33, 100);
}
