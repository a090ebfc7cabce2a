using System.IO.Compression;
using System.Security.Cryptography;
using System.Xml;
using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Formats.Import;
using static Kivren.Formats.Docx.Writing.Ooxml;

namespace Kivren.Formats.Docx.Writing;

/// <summary>A style of a template, as its people know it.</summary>
public sealed record TemplateStyle(string Name, bool IsOfWords);

/// <summary>A part of a template that goes into the file as it is.</summary>
internal sealed record TemplatePart(string Path, string? Type, byte[] Bytes);

/// <summary>A word-processor template (ISO/IEC 29500) that an edition goes out in: its styles, its paper, its running heads and feet, its
/// theme. Its own text, its protection and what it would run are left behind.</summary>
public sealed class WordTemplate
{
    /// <summary>As manuals keep it among what belongs to them.</summary>
    public const string MediaType = "application/vnd.openxmlformats-officedocument.wordprocessingml.template";

    /// <summary>More than this is no template.</summary>
    public const int MostBytes = 20 << 20;

    private const string Office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships/";
    private static readonly XNamespace Rels = "http://schemas.openxmlformats.org/package/2006/relationships",
        Types = "http://schemas.openxmlformats.org/package/2006/content-types";

    /// <summary>What of a template is taken over.</summary>
    private static readonly string[] Taken = ["theme", "fontTable", "settings", "header", "footer", "endnotes"];

    private readonly Dictionary<string, byte[]> _entries = new(StringComparer.OrdinalIgnoreCase);
    private readonly XElement _types;
    private readonly List<(string Id, string Type, string Target)> _relations = [];

    private WordTemplate(string file, byte[] bytes)
    {
        ZipGuard.Check(file, bytes);
        using var zip = new ZipArchive(new MemoryStream(bytes), ZipArchiveMode.Read);
        foreach (var entry in zip.Entries.Where(e => e.Name.Length > 0))
        {
            using var stream = entry.Open();
            using var copy = new MemoryStream();
            stream.CopyTo(copy);
            _entries.TryAdd(entry.FullName.Replace('\\', '/').TrimStart('/'), copy.ToArray());
        }
        _types = Root("[Content_Types].xml") ?? throw No(file);
        var main = RelationsOf("").FirstOrDefault(r => r.Type == Office + "officeDocument").Target ?? throw No(file);
        Document = Root(main) ?? throw No(file);
        _relations = [.. RelationsOf(main)];
        Styles = Root(Related("styles")) ?? El("styles");
        Numbering = Root(Related("numbering"));
        Section = Document.One("body")?.Descendants(W + "sectPr").LastOrDefault();
    }

    private static SourceFormatException No(string file) => new($"{file} is no word-processor template. Save it as .docx or .dotx.");

    /// <exception cref="SourceFormatException">it is none, is damaged or is protected by a password</exception>
    public static WordTemplate Read(string file, byte[] bytes)
    {
        if (bytes.Length > MostBytes)
            throw new SourceFormatException($"{file} is larger than {MostBytes >> 20} MB. Take the pictures out of its text.");
        if (bytes.AsSpan().StartsWith((ReadOnlySpan<byte>)[0xD0, 0xCF, 0x11, 0xE0]))
            throw new SourceFormatException($"{file} is protected by a password, or is of the old binary form. Save it as .docx or .dotx.");
        try
        {
            return new WordTemplate(file, bytes);
        }
        catch (Exception e) when (e is XmlException or InvalidDataException or IOException)
        {
            throw new SourceFormatException($"{file} is damaged and cannot be read: {e.Message}");
        }
    }

    /// <summary>A template among what belongs to a manual.</summary>
    public static bool IsTemplate(string name) => Path.GetExtension(name).ToLowerInvariant() is ".docx" or ".dotx";

    /// <exception cref="SourceFormatException">it is none</exception>
    public static Asset Describe(string name, byte[] bytes)
    {
        _ = Read(name, bytes);
        return new Asset(name, MediaType, 0, 0, Convert.ToHexStringLower(SHA256.HashData(bytes)));
    }

    /// <summary>The roles that can have a style of a template, beside those of a manual's own.</summary>
    public static IReadOnlyList<ImportRole> Roles { get; } = [.. ImportRole.All.Where(r => WordRoles.Has(r.Name)).DistinctBy(r => r.Name)];

    // ---- its styles ----

    public IReadOnlyList<TemplateStyle> StyleNames =>
        [
            .. Styles
                .Many("style")
                .Where(s => s.Get("type") is "paragraph" or "character" && s.Val("name") is { Length: > 0 })
                .Select(s => new TemplateStyle(s.Val("name")!, s.Get("type") == "character"))
                .Distinct(),
        ];

    /// <summary>The style for each role: as a mapping of styles to roles says, the other way round; else by the names of the styles.
    /// Roles without one keep the dress of the look.</summary>
    /// <param name="mappings">as the writer kept them: the one that knows most of its styles is followed</param>
    public IReadOnlyList<RoleStyle> Proposed(params IReadOnlyList<ImportMapping> mappings)
    {
        var names = StyleNames;
        string Key(TemplateStyle style) => (style.IsOfWords ? "c:" : "p:") + style.Name;
        var best = mappings.MaxBy(m => names.Count(n => m.Roles.ContainsKey(Key(n)))) ?? ImportMapping.None;
        var found = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var style in names)
            if (best.Roles.TryGetValue(Key(style), out var role))
                found.TryAdd(role, style.Name);
        foreach (var style in names)
        {
            var proposed = style.IsOfWords ? Proposals.ForSpan(style.Name, null) : Proposals.ForStyle(style.Name, null);
            var role = proposed.Level is { } level ? OfLevel(level) : proposed.Role;
            if (proposed.Certain && role.Length > 0)
                found.TryAdd(role, style.Name);
        }
        return [.. found.Where(f => WordRoles.Has(f.Key)).Select(f => new RoleStyle(f.Key, f.Value))];
    }

    private static string OfLevel(int level) =>
        level switch
        {
            1 => "chapter",
            2 => "headA",
            3 => "headB",
            4 => "headC",
            5 => "headD",
            _ => "",
        };

    // ---- what goes into the file ----

    internal XElement Document { get; }
    internal XElement Styles { get; }
    internal XElement? Numbering { get; }

    /// <summary>Its last section: paper, margins, running heads and feet.</summary>
    internal XElement? Section { get; }

    private const string Before = "word/template/";

    /// <summary>The parts that are taken over, and how the document is related to them.</summary>
    internal (IReadOnlyList<TemplatePart> Parts, IReadOnlyList<(string Id, string Type, string Target)> Relations) Parts()
    {
        var parts = new Dictionary<string, TemplatePart>(StringComparer.OrdinalIgnoreCase);
        var relations = new List<(string, string, string)>();
        foreach (var (id, type, target) in _relations)
            if (Taken.Contains(type[(type.LastIndexOf('/') + 1)..]) && _entries.ContainsKey(target))
            {
                Take(target, parts, 0);
                relations.Add((id, type, "/" + Before + target));
            }
        return ([.. parts.Values], relations);
    }

    private const int Deepest = 4;

    private void Take(string path, Dictionary<string, TemplatePart> parts, int depth)
    {
        if (depth > Deepest || parts.ContainsKey(path) || !_entries.TryGetValue(path, out var bytes))
            return;
        var isSettings = path == Related("settings");
        parts.Add(path, new TemplatePart(Before + path, TypeOf(path), isSettings ? Open(bytes) : bytes));
        // Settings are related to the template that they came from, and to lists of addresses.
        var related = isSettings ? [] : RelationsOf(path, external: true).ToList();
        if (related.Count == 0)
            return;
        var root = new XElement(Rels + "Relationships");
        foreach (var (id, type, target) in related)
        {
            var isOutside = !_entries.ContainsKey(target);
            if (!isOutside)
                Take(target, parts, depth + 1);
            root.Add(
                new XElement(
                    Rels + "Relationship",
                    new XAttribute("Id", id),
                    new XAttribute("Type", type),
                    new XAttribute("Target", isOutside ? target : "/" + Before + target),
                    isOutside ? new XAttribute("TargetMode", "External") : null
                )
            );
        }
        var at = Before + path;
        var rels = at.Insert(at.LastIndexOf('/') + 1, "_rels/") + ".rels";
        parts.Add(rels, new TemplatePart(rels, null, WordPackage.Bytes(root)));
    }

    /// <summary>The settings without what would keep the file from being written in, or lead to where the template came from.</summary>
    private static byte[] Open(byte[] settings)
    {
        var root = Parse(settings);
        foreach (var name in new[] { "documentProtection", "writeProtection", "attachedTemplate", "mailMerge", "docVars", "rsids" })
            root.Elements(W + name).Remove();
        return WordPackage.Bytes(root);
    }

    private string Related(string kind) => _relations.FirstOrDefault(r => r.Type == Office + kind).Target ?? "";

    private XElement? Root(string path) => _entries.TryGetValue(path, out var bytes) ? Parse(bytes) : null;

    private static XElement Parse(byte[] bytes)
    {
        using var reader = XmlReader.Create(
            new MemoryStream(bytes),
            new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null }
        );
        return XDocument.Load(reader).Root!;
    }

    /// <summary>What a part is related to, each target from the root of the archive.</summary>
    private IEnumerable<(string Id, string Type, string Target)> RelationsOf(string part, bool external = false)
    {
        var folder = part.Contains('/', StringComparison.Ordinal) ? part[..(part.LastIndexOf('/') + 1)] : "";
        foreach (var relation in Root(folder + "_rels/" + part[folder.Length..] + ".rels")?.Elements() ?? [])
            if (
                (string?)relation.Attribute("Id") is { } id
                && (string?)relation.Attribute("Type") is { } type
                && (string?)relation.Attribute("Target") is { } target
            )
                if ((string?)relation.Attribute("TargetMode") != "External")
                    yield return (id, type, Resolved(folder, target));
                else if (external)
                    yield return (id, type, target);
    }

    private static string Resolved(string folder, string target)
    {
        if (target.StartsWith('/'))
            return target.TrimStart('/');
        var steps = folder.Split('/', StringSplitOptions.RemoveEmptyEntries).ToList();
        foreach (var step in target.Split('/'))
            if (step == "..")
            {
                if (steps.Count > 0)
                    steps.RemoveAt(steps.Count - 1);
            }
            else if (step is not ("" or "."))
                steps.Add(step);
        return string.Join('/', steps);
    }

    private string TypeOf(string path) =>
        _types
            .Elements(Types + "Override")
            .FirstOrDefault(o =>
                ((string?)o.Attribute("PartName"))?.TrimStart('/').Equals(path, StringComparison.OrdinalIgnoreCase) == true
            )
            ?.Attribute("ContentType")
            ?.Value
        ?? _types
            .Elements(Types + "Default")
            .FirstOrDefault(d =>
                ((string?)d.Attribute("Extension"))?.Equals(Path.GetExtension(path).TrimStart('.'), StringComparison.OrdinalIgnoreCase)
                == true
            )
            ?.Attribute("ContentType")
            ?.Value
        ?? "application/octet-stream";
}
