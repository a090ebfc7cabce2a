using System.Text;
using System.Text.RegularExpressions;
using UtfUnknown;

namespace Kivren.Formats.Import;

/// <summary>Bytes as text: by their mark, else by the encoding that they declare, else as UTF-8 where they are that, else by what the
/// bytes can be.</summary>
internal static partial class TextBytes
{
    /// <summary>Where a declaration stands, if there is one.</summary>
    private const int Declaring = 2048;

    /// <summary>What the bytes say.</summary>
    /// <param name="Text">without its mark</param>
    /// <param name="Guessed">the encoding, where only the bytes told it; null where it is certain</param>
    public readonly record struct Said(string Text, string? Guessed);

    public static Said Read(byte[] bytes)
    {
        if (Marked(bytes) is { } marked)
            return new Said(marked.GetString(bytes).TrimStart('\uFEFF'), null);
        if (Declared(bytes) is { } declared)
            return new Said(declared.GetString(bytes), null);
        if (System.Text.Unicode.Utf8.IsValid(bytes))
            return new Said(Encoding.UTF8.GetString(bytes), null);
        var found = CharsetDetector.DetectFromBytes(bytes).Detected?.EncodingName;
        // Of the tables of Western letters the one of old word processors holds all others.
        if (found is null or "ascii" or "iso-8859-1" or "iso-8859-15")
            found = "windows-1252";
        try
        {
            return new Said(CodePages.Named(found).GetString(bytes), found);
        }
        catch (ArgumentException)
        {
            return new Said(CodePages.Named("windows-1252").GetString(bytes), "windows-1252");
        }
    }

    /// <summary>What is told of a text whose encoding only its bytes told.</summary>
    public static ReportLine Told(string file, string guessed) =>
        new(
            ReportKind.Look,
            file,
            "The file does not say its encoding, and is not UTF-8; it was told from its bytes. Look at its accents.",
            guessed
        );

    private static Encoding? Marked(byte[] bytes) =>
        bytes is [0xEF, 0xBB, 0xBF, ..] ? Encoding.UTF8
        : bytes is [0xFF, 0xFE, ..] ? Encoding.Unicode
        : bytes is [0xFE, 0xFF, ..] ? Encoding.BigEndianUnicode
        : null;

    private static Encoding? Declared(byte[] bytes)
    {
        var start = Encoding.Latin1.GetString(bytes, 0, Math.Min(bytes.Length, Declaring));
        if (Declaration().Match(start) is not { Success: true } found)
            return null;
        try
        {
            var named = CodePages.Named(found.Groups[1].Value);
            // A declaration that the bytes give the lie to says nothing.
            return named.CodePage == Encoding.UTF8.CodePage && !System.Text.Unicode.Utf8.IsValid(bytes) ? null : named;
        }
        catch (ArgumentException)
        {
            return null;
        }
    }

    [GeneratedRegex(
        @"(?:charset\s*=\s*[""']?|<\?xml[^>]*encoding\s*=\s*[""'])([\w.:\-]{2,40})",
        RegexOptions.IgnoreCase | RegexOptions.CultureInvariant
    )]
    private static partial Regex Declaration();
}
