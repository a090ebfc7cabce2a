using System.Text;
using System.Text.Json;
using Kivren.Core.Content;

namespace Kivren.Formats.Package;

/// <summary>Divisions as JSON, each as it stands in a package.</summary>
public static class DivisionForm
{
    public static string ToJson(IReadOnlyList<Division> divisions)
    {
        using var stream = new MemoryStream();
        using (var json = new Utf8JsonWriter(stream, BlockWriter.Options))
        {
            json.WriteStartArray();
            foreach (var division in divisions)
                PackageWriter.Division(json, division);
            json.WriteEndArray();
        }
        return Encoding.UTF8.GetString(stream.ToArray());
    }

    /// <exception cref="BlockFormatException">a division has no id</exception>
    public static Division[] Parse(string text)
    {
        using var document = JsonDocument.Parse(text, new JsonDocumentOptions { MaxDepth = 128 });
        return document.RootElement.EnumerateArray().Select(d => PackageReader.ReadDivision(d, "division", [])).ToArray();
    }
}
