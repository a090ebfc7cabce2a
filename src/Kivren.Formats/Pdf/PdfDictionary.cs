using System.Collections;
using System.Text;

namespace Kivren.Formats.Pdf;

/// <summary>A dictionary being put together (ISO 32000-1, 7.3.7), its entries in the order they were added.</summary>
internal sealed class PdfDictionary() : PdfValue(""), IEnumerable
{
    private readonly StringBuilder _entries = new();

    /// <param name="type">the value of Type</param>
    public PdfDictionary(string type)
        : this() => Add("Type", Name(type));

    /// <param name="key">without its solidus</param>
    /// <param name="value">null for an entry that is left out</param>
    public void Add(string key, PdfValue? value)
    {
        if (value is null)
            return;
        var written = value.Written;
        _entries.Append(Name(key).Written);
        if (written[0] is not ('/' or '(' or '<' or '['))
            _entries.Append(' ');
        _entries.Append(written);
    }

    /// <summary>Takes over the entries of another, which holds none of the same.</summary>
    public void Add(PdfDictionary? more) => _entries.Append(more?._entries);

    public bool IsEmpty => _entries.Length == 0;

    public override string Written => "<<" + _entries + ">>";

    IEnumerator IEnumerable.GetEnumerator() => throw new NotSupportedException("A dictionary is written, never read.");
}
