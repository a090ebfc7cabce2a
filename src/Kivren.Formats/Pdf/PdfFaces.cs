using System.Collections.Concurrent;
using Kivren.Core.Looks;
using Kivren.Core.Type;

namespace Kivren.Formats.Pdf;

/// <summary>The faces of one file. Each has its object and its name in the resources from the start, whether it is used or not, so that
/// neither depends on which page asked first; only those that are asked for are read.</summary>
internal sealed class PdfFaces
{
    private readonly Dictionary<string, (int Id, string Resource)> _places = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<Face, PdfFace> _made = new();

    public PdfFaces(PdfFile file, Look look)
    {
        var house = look.FontFiles.Select(f => FaceFiles.Find(f.Hash)).OfType<Face>().Distinct().Select(f => f.Name);
        foreach (var name in FaceLibrary.Names.Concat(house))
            _places.Add(name, (file.Allocate(), "F" + _places.Count));
    }

    public PdfFace this[Face face] => _made.GetOrAdd(face, f => new PdfFace(f, _places[f.Name].Id, _places[f.Name].Resource));

    /// <summary>Those with a glyph on some page, in the order of their objects.</summary>
    public IEnumerable<PdfFace> Used => _made.Values.Where(f => f.IsUsed).OrderBy(f => f.Id);
}
