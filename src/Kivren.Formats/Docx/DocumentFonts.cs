using System.Globalization;
using System.Text.Json.Nodes;
using System.Xml.Linq;
using DocumentFormat.OpenXml.Packaging;
using Kivren.Core.Looks;
using Kivren.Formats.Fonts;

namespace Kivren.Formats.Docx;

/// <summary>Font files that a document brings along (ISO/IEC 29500-1, 17.8.3, obfuscated as 17.8.1 says), as faces of the house.</summary>
internal sealed class DocumentFonts
{
    private const int MostFaces = 12;

    /// <summary>So many bytes at the beginning of a file are hidden under its key.</summary>
    private const int Hidden = 32;

    private static readonly (string Element, string Setting, string Ending)[] Cuts =
    [
        ("embedRegular", "regular", ""),
        ("embedItalic", "italic", "Italic"),
        ("embedBold", "strong", "Bold"),
        ("embedBoldItalic", "strongItalic", "BoldItalic"),
    ];

    private readonly Dictionary<string, JsonObject> _faces = new(StringComparer.Ordinal);

    /// <summary>The files, all among the process's <see cref="Core.Type.FaceFiles"/>.</summary>
    public List<FontFile> Files { get; } = [];

    /// <param name="report">told what was taken and what was not, and why</param>
    public static DocumentFonts Of(FontTablePart? part, XElement? table, List<string> report)
    {
        var fonts = new DocumentFonts();
        if (part is null)
            return fonts;
        foreach (var font in table.Many("font"))
            if (font.Get("name") is { Length: > 0 and <= 70 } name && fonts._faces.Count < MostFaces)
                fonts.Take(part, font, name, report);
        return fonts;
    }

    /// <summary>In the form of a look's file.</summary>
    public JsonArray Written => [.. _faces.Values.Select(f => f.DeepClone())];

    /// <summary>The name by which a dress has this face, or null where no file of it came along.</summary>
    public string? Named(string? font, bool bold, bool italic)
    {
        if (font is null || !_faces.TryGetValue(font, out var face))
            return null;
        var name = (string)face["name"]!;
        return bold && italic && face.ContainsKey("strongItalic") ? name + " strong italic"
            : bold && face.ContainsKey("strong") ? name + " strong"
            : italic && face.ContainsKey("italic") ? name + " italic"
            : name;
    }

    private void Take(FontTablePart part, XElement font, string name, List<string> report)
    {
        var face = new JsonObject { ["name"] = FaceSet.Shipped.Any(f => f.Name == name) ? name + " of the house" : name };
        foreach (var (element, setting, ending) in Cuts)
        {
            var embedded = font.One(element);
            if (embedded.Get("id") is not { } id || !part.TryGetPartById(id, out var file))
                continue;
            try
            {
                var read = FontReader.Read($"{name}{ending}.ttf", Shown(file, embedded.Get("fontKey")));
                Files.Add(read);
                face[setting] = new JsonObject { ["hash"] = read.Hash, ["called"] = read.Called };
            }
            catch (FontFormatException e)
            {
                report.Add($"Not taken: the font file of “{name}”. {e.Message}");
            }
        }
        if (!face.ContainsKey("regular") && face["strong"] is { } strong)
            face["regular"] = strong.DeepClone();
        if (!face.ContainsKey("regular"))
            return;
        face["standIns"] = new JsonArray(
            font.Val("pitch") == "fixed" ? "code"
            : font.Val("family") == "roman" ? "serif"
            : "sans"
        );
        _faces.Add(name, face);
        report.Add($"The face “{name}”, with its font files.");
    }

    /// <summary>The bytes of the file, its beginning laid open by the key.</summary>
    private static byte[] Shown(OpenXmlPart part, string? key)
    {
        using var stream = part.GetStream();
        using var copy = new MemoryStream();
        var buffer = new byte[81_920];
        for (int read; copy.Length <= FontReader.MostBytes && (read = stream.Read(buffer)) > 0; )
            copy.Write(buffer, 0, read);
        var bytes = copy.ToArray();
        var digits = (key ?? "").Where(char.IsAsciiHexDigit).ToArray();
        if (digits.Length != Hidden)
            return bytes;
        for (var i = 0; i < Math.Min(Hidden, bytes.Length); i++)
        {
            // The key is read from its end.
            var at = Hidden - 2 - i % 16 * 2;
            bytes[i] ^= byte.Parse(digits.AsSpan(at, 2), NumberStyles.AllowHexSpecifier, CultureInfo.InvariantCulture);
        }
        return bytes;
    }
}
