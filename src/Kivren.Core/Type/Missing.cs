namespace Kivren.Core.Type;

/// <summary>What is drawn for characters that no face has: a box for each, so that a reader sees that something is missing.</summary>
internal static class Missing
{
    private const char Box = '\u25A1';

    /// <summary>Boxes in the face of signs that stand for these characters.</summary>
    public static ShapedWord Boxes(ReadOnlySpan<char> characters)
    {
        var box = FaceLibrary.Symbols.Word([Box]);
        var at = new List<ushort>();
        for (var i = 0; i < characters.Length; i++)
            if (i == 0 || !char.IsLowSurrogate(characters[i]) || !char.IsHighSurrogate(characters[i - 1]))
                at.Add((ushort)i);
        var shown = string.Create(characters.Length, 0, static (all, _) => all.Fill(Box));
        return new ShapedWord(
            characters.ToString(),
            [.. at.Select(_ => box.Glyphs[0])],
            [.. at],
            [.. at.Select(_ => box.Advances[0])],
            null,
            null,
            box.Width * at.Count
        )
        {
            Shown = shown,
        };
    }
}
