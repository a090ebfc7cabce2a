using System.IO.Compression;
using System.Xml;
using System.Xml.Linq;

namespace Kivren.Formats.Docx;

/// <summary>A file whose relationships name parts that are not in it opens nowhere: the relationships are taken out, so
/// that the rest can be read.</summary>
internal static class MissingParts
{
    /// <summary>The file as it can be opened, and the parts that it lacks.</summary>
    public static (byte[] Bytes, IReadOnlyList<string> Missing) Mended(byte[] bytes)
    {
        var missing = new List<string>();
        var mended = new Dictionary<string, byte[]>(StringComparer.Ordinal);
        using (var zip = new ZipArchive(new MemoryStream(bytes), ZipArchiveMode.Read))
        {
            var there = zip.Entries.Select(e => e.FullName).ToHashSet(StringComparer.OrdinalIgnoreCase);
            foreach (var entry in zip.Entries.Where(e => e.FullName.EndsWith(".rels", StringComparison.OrdinalIgnoreCase)))
            {
                XElement? root;
                try
                {
                    using var stream = entry.Open();
                    using var reader = XmlReader.Create(
                        stream,
                        new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null }
                    );
                    root = XDocument.Load(reader).Root;
                }
                catch (Exception e) when (e is XmlException or InvalidDataException)
                {
                    continue; // who opens it says so
                }
                var folder = entry.FullName[
                    ..(entry.FullName.LastIndexOf("_rels/", StringComparison.OrdinalIgnoreCase) is var at and >= 0 ? at : 0)
                ];
                var gone = root?.Elements()
                    .Where(r =>
                        r.Get("TargetMode") != "External"
                        && r.Get("Target") is { Length: > 0 } target
                        && !there.Contains(PathOf(folder, target))
                    )
                    .ToList()
                    ?? [];
                if (gone.Count == 0)
                    continue;
                missing.AddRange(gone.Select(r => PathOf(folder, r.Get("Target")!)));
                gone.ForEach(r => r.Remove());
                mended[entry.FullName] = System.Text.Encoding.UTF8.GetBytes(root!.ToString(SaveOptions.DisableFormatting));
            }
        }
        if (missing.Count == 0)
            return (bytes, missing);
        using var copy = new MemoryStream();
        copy.Write(bytes);
        using (var zip = new ZipArchive(copy, ZipArchiveMode.Update, leaveOpen: true))
            foreach (var (name, rels) in mended)
            {
                zip.GetEntry(name)!.Delete();
                using var stream = zip.CreateEntry(name).Open();
                stream.Write(rels);
            }
        return (copy.ToArray(), missing);
    }

    private static string PathOf(string folder, string target)
    {
        target = target.Split('#', '?')[0];
        if (target.StartsWith('/'))
            return target[1..];
        var parts = new List<string>();
        foreach (var part in (folder + target).Split('/'))
            if (part == "..")
            {
                if (parts.Count > 0)
                    parts.RemoveAt(parts.Count - 1);
            }
            else if (part is not ("." or ""))
                parts.Add(part);
        return string.Join('/', parts);
    }
}
