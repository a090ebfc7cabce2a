using System.Text;
using Kivren.Formats.Import;

namespace Kivren.Formats.Tests;

/// <summary>Pages of a site that is made up for a test, and what they come in as.</summary>
internal static class MadeUpSite
{
    public static Shaped Shape(params (string Name, string Html)[] pages)
    {
        var files = pages.Select(p => new SourceFile(p.Name, Encoding.UTF8.GetBytes(p.Html))).ToArray();
        var documents = DocumentReader.Together([
            .. files.Where(f => !DocumentReader.IsPicture(f.Name)).Select(f => DocumentReader.Read(f, [.. files.Where(o => o != f)])),
        ]);
        return Shaper.Shape(new ShapeRequest(documents, ImportMapping.None, "s"));
    }

    public static string Page(string title, string body, string head = "") =>
        $"<html lang='en'><head><title>{title}</title>{head}</head><body>{body}</body></html>";

    /// <summary>Enough of it to be a page's text.</summary>
    public static string Text(string about) =>
        string.Concat(
            Enumerable
                .Range(1, 6)
                .Select(n => $"<p>Round {n}: the {about} is looked at each morning before the first crossing, by hand and by eye.</p>")
        );

    public static readonly string[] Names = ["round", "winch", "cable", "lamps", "spares"];

    public static string Title(string name) => char.ToUpperInvariant(name[0]) + name[1..];
}
