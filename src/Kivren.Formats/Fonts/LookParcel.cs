using System.Text.Json;
using System.Text.Json.Nodes;
using Kivren.Core.Looks;
using Kivren.Core.Type;

namespace Kivren.Formats.Fonts;

/// <summary>A look's file as it is given away: with the font files that it names, so that it is the same look elsewhere.</summary>
public static class LookParcel
{
    private const string Files = "faceFiles";

    /// <summary>As many letters as a look with all its font files can have.</summary>
    public const int MostLetters = 64 << 20;

    public static string Pack(Look look)
    {
        var text = LookFile.Write(look);
        var files = look.FontFiles.DistinctBy(f => f.Hash).Where(f => FaceFiles.Find(f.Hash) is not null).ToList();
        if (files.Count == 0)
            return text;
        var bytes = string.Join(",\n", files.Select(f => $"    \"{f.Hash}\": \"{Convert.ToBase64String(FaceFiles.Find(f.Hash)!.Bytes)}\""));
        return text.TrimEnd()[..^1].TrimEnd() + $",\n  \"{Files}\": {{\n{bytes}\n  }}\n}}\n";
    }

    /// <summary>The look's own text; its font files are read on the way.</summary>
    /// <param name="problems">font files that cannot be used</param>
    public static string Open(string text, List<string> problems)
    {
        if (text.Length > MostLetters || !text.Contains($"\"{Files}\"", StringComparison.Ordinal))
            return text;
        try
        {
            var look = JsonNode.Parse(
                text,
                documentOptions: new JsonDocumentOptions
                {
                    MaxDepth = 24,
                    AllowTrailingCommas = true,
                    CommentHandling = JsonCommentHandling.Skip,
                }
            );
            if (look is not JsonObject parts || parts[Files] is not JsonObject files)
                return text;
            var called = Called(parts);
            foreach (var (hash, value) in files)
                Take(called.GetValueOrDefault(hash, "A font file"), value, problems);
            parts.Remove(Files);
            return parts.ToJsonString(
                new JsonSerializerOptions
                {
                    WriteIndented = true,
                    Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
                }
            );
        }
        catch (Exception e) when (e is JsonException or ArgumentException or InvalidOperationException)
        {
            // Whoever reads the look says where its text is wrong.
            return text;
        }
    }

    private static void Take(string called, JsonNode? value, List<string> problems)
    {
        try
        {
            if (value is JsonValue base64 && base64.TryGetValue(out string? letters))
                FontReader.Read(called, Convert.FromBase64String(letters));
        }
        catch (FontFormatException e)
        {
            problems.Add(e.Message);
        }
        catch (FormatException)
        {
            problems.Add($"{called}: its bytes cannot be read.");
        }
    }

    private static Dictionary<string, string> Called(JsonObject look)
    {
        var called = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var face in (look["faces"] as JsonArray)?.OfType<JsonObject>() ?? [])
        foreach (var file in face.Select(p => p.Value).OfType<JsonObject>())
            if (
                (file["hash"], file["called"]) is (JsonValue hash, JsonValue name)
                && hash.TryGetValue(out string? key)
                && name.TryGetValue(out string? words)
            )
                called[key] = words;
        return called;
    }
}
