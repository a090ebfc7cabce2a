using System.IO.Compression;
using System.Text;
using System.Text.Json;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Type;

namespace Kivren.Formats.Package;

/// <summary>Writes a .kivren package (docs/package.md): a zip with manual.json, one file for each division and the
/// pictures. The same manual gives the same entries in the same order with the same bytes.</summary>
public static class PackageWriter
{
    public const int SchemaVersion = 3;

    private static readonly JsonWriterOptions Indented = BlockWriter.Options with { Indented = true, NewLine = "\n" };

    public static void Write(Package package, Stream output)
    {
        using var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true);
        var manual = package.Manual;
        Entry(zip, "manual.json", json => Describe(json, manual));
        if (manual.LookFile is { } look)
            zip.Put(LookEntry, Encoding.UTF8.GetBytes(look));
        foreach (var file in WornLook.FontFiles(manual))
            if (FaceFiles.Find(file.Hash) is { } face)
                zip.Put(FontEntry(file), face.Bytes);
        for (var d = 0; d < manual.Divisions.Count; d++)
        {
            var division = manual.Divisions[d];
            Entry(zip, FileOf(d, division), json => Division(json, division));
        }
        foreach (var asset in manual.Assets.OrderBy(a => a.Name, StringComparer.Ordinal))
            if (package.Picture(asset.Name) is { } bytes)
            {
                zip.Put("pictures/" + asset.Name, bytes);
            }
    }

    /// <summary>Where a package has the look of its manual, if that is not one that ships.</summary>
    internal const string LookEntry = "look" + Core.Looks.LookFile.Ending;

    internal static string FontEntry(FontFile file) => $"fonts/{file.Hash}.font";

    private static string FileOf(int index, Division division) => $"divisions/{index + 1:000}-{division.Id.Value}.json";

    private static void Entry(ZipArchive zip, string name, Action<Utf8JsonWriter> write)
    {
        using var stream = zip.Begin(name);
        using (var json = new Utf8JsonWriter(stream, Indented))
            write(json);
        stream.WriteByte((byte)'\n');
    }

    private static void Describe(Utf8JsonWriter json, Manual manual)
    {
        json.WriteStartObject();
        json.WriteNumber("schema", SchemaVersion);
        json.WriteString("id", manual.Id.Value);
        json.WriteString("title", manual.Title);
        json.WriteString("language", manual.Language);
        json.WriteString("look", manual.Look);
        EditionForm.WriteVariables(json, manual.Variables);
        if (manual.Conditions.Count > 0)
        {
            json.WriteStartObject("conditions");
            BlockWriter.WriteAxes(json, manual.Conditions);
            json.WriteEndObject();
        }
        json.WritePropertyName("editions");
        EditionForm.Write(json, manual.Editions);
        if (manual.HyphenationExceptions.Count > 0)
        {
            json.WriteStartArray("hyphenation");
            foreach (var word in manual.HyphenationExceptions)
                json.WriteStringValue(word);
            json.WriteEndArray();
        }
        if (manual.AcceptedWords.Count > 0)
        {
            json.WriteStartArray("acceptedWords");
            foreach (var word in manual.AcceptedWords)
                json.WriteStringValue(word);
            json.WriteEndArray();
        }
        OwnListForm.Write(json, "passedOver", manual.PassedOver);
        OwnListForm.Write(json, "putAside", manual.PutAside);
        OwnListForm.Write(json, "lists", manual.Lists);
        if (manual.ChapterContents is { } opens)
            json.WriteString("chapterContents", opens);
        if (manual.TermsLead)
            json.WriteBoolean("termsLead", true);
        if (manual.IndexDress is { } dress)
        {
            json.WritePropertyName("indexDress");
            JsonSerializer.Serialize(json, dress, OwnListForm.Options);
        }
        if (manual.Roles.Count > 0)
        {
            json.WritePropertyName("roles");
            OwnRoleForm.Write(json, manual.Roles);
        }
        if (manual.Passages.Count > 0)
        {
            json.WriteStartArray("passages");
            PassageForm.Write(json, manual.Passages);
            json.WriteEndArray();
        }
        json.WriteStartArray("divisions");
        for (var d = 0; d < manual.Divisions.Count; d++)
            json.WriteStringValue(FileOf(d, manual.Divisions[d]));
        json.WriteEndArray();
        json.WriteStartArray("pictures");
        foreach (var asset in manual.Assets.OrderBy(a => a.Name, StringComparer.Ordinal))
            json.WriteStringValue(asset.Name);
        json.WriteEndArray();
        json.WriteStartObject("aliases");
        foreach (var (from, to) in manual.Aliases.OrderBy(a => a.Key.Value, StringComparer.Ordinal))
            json.WriteString(from.Value, to.Value);
        json.WriteEndObject();
        json.WriteEndObject();
    }

    internal static void Division(Utf8JsonWriter json, Division division)
    {
        json.WriteStartObject();
        json.WriteString("id", division.Id.Value);
        json.WriteString("kind", BlockWriter.Name(division.Kind));
        json.WriteString("title", division.Title);
        if (division.ShortTitle is not null)
            json.WriteString("shortTitle", division.ShortTitle);
        json.WriteString("language", division.Language);
        if (division.State != WorkState.Draft)
            json.WriteString("state", BlockWriter.Name(division.State));
        if (division.Begins != Begins.ByLook)
            json.WriteString("begins", BlockWriter.Name(division.Begins));
        BlockWriter.Applies(json, division.AppliesTo);
        json.WriteStartArray("blocks");
        foreach (var block in division.Blocks)
            BlockWriter.Write(json, block);
        json.WriteEndArray();
        json.WriteEndObject();
    }
}
