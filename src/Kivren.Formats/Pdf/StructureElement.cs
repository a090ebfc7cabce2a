namespace Kivren.Formats.Pdf;

/// <summary>An element of the logical structure (ISO 32000-1, 14.7). Its kids stand in reading order.</summary>
internal sealed class StructureElement(string type, StructureElement? parent, PdfDictionary? attributes = null)
{
    /// <summary>A kid: an element, or marked content of a page, or an annotation of a page.</summary>
    public readonly record struct Kid(StructureElement? Element, int Page, int Content, int Annotation);

    public string Type => type;
    public StructureElement? Parent => parent;
    public List<Kid> Kids { get; } = [];

    /// <summary>Entries of its dictionary besides type, parent and kids.</summary>
    public PdfDictionary? Attributes => attributes;

    /// <summary>The number of its object in the file; 0 until it is known to have content.</summary>
    public int Object { get; set; }

    public StructureElement Add(string kind, PdfDictionary? attributes = null)
    {
        var child = new StructureElement(kind, this, attributes);
        Kids.Add(new Kid(child, -1, -1, 0));
        return child;
    }

    /// <summary>Something of it is drawn; the same is true of all above it.</summary>
    public void Use(PdfFile file)
    {
        for (var e = this; e is { Object: 0 }; e = e.Parent)
            e.Object = file.Allocate();
    }
}
