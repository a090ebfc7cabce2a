using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Unicode;
using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>A look as a file (docs/looks.md): the form in which looks ship, are given away and are taken in.</summary>
public static class LookFile
{
    public const string Ending = ".kivrenlook";

    /// <summary>Of the form that this program writes and reads.</summary>
    public const int Version = 1;

    private const string VersionName = "kivrenLook";
    private const int MostLetters = 1_000_000;

    private static readonly JsonDocumentOptions Reading = new()
    {
        MaxDepth = 24,
        CommentHandling = JsonCommentHandling.Skip,
        AllowTrailingCommas = true,
    };

    private static readonly JsonWriterOptions Writing = new()
    {
        Indented = true,
        Encoder = JavaScriptEncoder.Create(UnicodeRanges.All),
        NewLine = "\n",
    };

    /// <param name="faults">everything that is wrong with it, in the order of the file</param>
    /// <returns>null when anything is wrong: a look is worn whole or not at all</returns>
    public static Look? Read(string text, out IReadOnlyList<LookFault> faults)
    {
        var found = new List<LookFault>();
        faults = found;
        if (text.Length > MostLetters)
        {
            found.Add(new LookFault("", $"A look has up to {MostLetters:#,0} letters."));
            return null;
        }
        try
        {
            using var document = JsonDocument.Parse(text, Reading);
            var root = document.RootElement;
            if (root.ValueKind != JsonValueKind.Object || !root.TryGetProperty(VersionName, out var version))
                found.Add(new LookFault("", $"This is no look: “{VersionName}” does not stand in it."));
            else if (version.ValueKind != JsonValueKind.Number || !version.TryGetInt32(out var number) || number != Version)
                found.Add(new LookFault(VersionName, $"This program reads looks of version {Version}."));
            else if (new LookReader(found).Part(typeof(Look), root, "", VersionName) is Look look)
            {
                found.AddRange(LookChecks.Of(look));
                return found.Count > 0 ? null : look with { LackedFonts = look.FontFiles.Any(f => FaceFiles.Find(f.Hash) is null) };
            }
        }
        catch (InvalidOperationException)
        {
            found.Add(new LookFault("", "The name of a setting holds half a character."));
        }
        catch (JsonException e)
        {
            found.Add(
                new LookFault(
                    "",
                    $"The file cannot be read from line {(e.LineNumber ?? 0) + 1}, letter {(e.BytePositionInLine ?? 0) + 1} on."
                )
            );
        }
        return null;
    }

    /// <summary>The same look gives the same bytes.</summary>
    public static string Write(Look look)
    {
        using var output = new MemoryStream();
        using (var json = new Utf8JsonWriter(output, Writing))
        {
            json.WriteStartObject();
            json.WriteNumber(VersionName, Version);
            LookWriter.Settings(json, look);
            json.WriteEndObject();
        }
        return Encoding.UTF8.GetString(output.ToArray()) + "\n";
    }
}
