using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>The faces that one kind of text uses for its span roles.</summary>
/// <param name="Name">by which a dress names it</param>
public sealed record FaceSet(string Name, Face Plain, Face Emphasis, Face Strong, Face Control, Face Code)
{
    public static readonly FaceSet Serif = new(
        "serif",
        FaceLibrary.Serif,
        FaceLibrary.SerifItalic,
        FaceLibrary.SerifStrong,
        FaceLibrary.SansStrong,
        FaceLibrary.Code
    );

    public static readonly FaceSet Sans = new(
        "sans",
        FaceLibrary.Sans,
        FaceLibrary.SansItalic,
        FaceLibrary.SansStrong,
        FaceLibrary.SansStrong,
        FaceLibrary.Code
    );

    /// <summary>Those that ship.</summary>
    public static IReadOnlyList<FaceSet> Shipped { get; } =
    [
        Serif,
        Serif with
        {
            Name = "serifItalic",
            Plain = FaceLibrary.SerifItalic,
            Emphasis = FaceLibrary.Serif,
        },
        Sans,
        Sans with
        {
            Name = "sansItalic",
            Plain = FaceLibrary.SansItalic,
        },
        Sans with
        {
            Name = "sansStrong",
            Plain = FaceLibrary.SansStrong,
            Strong = FaceLibrary.SansBold,
        },
        Sans with
        {
            Name = "sansBold",
            Plain = FaceLibrary.SansBold,
        },
        new("code", FaceLibrary.Code, FaceLibrary.Code, FaceLibrary.CodeStrong, FaceLibrary.CodeStrong, FaceLibrary.Code),
    ];

    /// <summary>Asked in order for characters that its faces lack.</summary>
    public IReadOnlyList<Face> StandIns { get; init; } = [];
}
