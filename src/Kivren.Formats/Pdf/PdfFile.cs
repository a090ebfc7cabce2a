using System.Globalization;
using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;

namespace Kivren.Formats.Pdf;

/// <summary>A PDF 1.7 file being written: objects in object streams of 200, a cross-reference stream, Flate
/// (ISO 32000-1, 7.5.7, 7.5.8). Objects may be numbered before they are known.</summary>
internal sealed class PdfFile : IDisposable
{
    private const int PerStream = 200;

    /// <summary>Object streams that are packed at once, on as many threads as there are.</summary>
    private const int Together = 16;
    private readonly Stream _output;
    private readonly IncrementalHash _hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
    private readonly List<(byte Type, long A, int B)> _table = [(0, 0, 65535)];
    private readonly List<(int Id, string Text)> _pending = [];
    private readonly List<(int Id, PdfDictionary Dictionary, byte[] Data)> _full = [];
    private long _position;

    public PdfFile(Stream output)
    {
        _output = output;
        Write(Latin("%PDF-1.7\n%\u00e2\u00e3\u00cf\u00d3\n"));
    }

    private static byte[] Latin(string text) => Encoding.Latin1.GetBytes(text);

    private void Write(byte[] bytes)
    {
        _output.Write(bytes);
        _hash.AppendData(bytes);
        _position += bytes.Length;
    }

    public int Allocate()
    {
        _table.Add((0, 0, 0));
        return _table.Count - 1;
    }

    /// <summary>An object that is no stream.</summary>
    public void Object(int id, PdfValue value)
    {
        _pending.Add((id, value.Written));
        if (_pending.Count == PerStream)
            Fill();
        if (_full.Count == Together)
            WriteFull();
    }

    public int Object(PdfValue value)
    {
        var id = Allocate();
        Object(id, value);
        return id;
    }

    /// <param name="dictionary">entries without Length and Filter</param>
    public void Stream(int id, PdfDictionary dictionary, byte[] data) => Packed(id, dictionary, "FlateDecode", Deflate(data));

    public int Stream(PdfDictionary dictionary, byte[] data)
    {
        var id = Allocate();
        Stream(id, dictionary, data);
        return id;
    }

    /// <summary>A stream of data that is packed already.</summary>
    /// <param name="dictionary">entries without Length and Filter</param>
    /// <param name="filter">by which readers unpack it</param>
    public void Packed(int id, PdfDictionary dictionary, string filter, byte[] data)
    {
        var whole = new PdfDictionary { dictionary, { "Filter", PdfValue.Name(filter) }, { "Length", data.Length } };
        _table[id] = (1, _position, 0);
        Write(Latin($"{id} 0 obj\n{whole.Written}\nstream\n"));
        Write(data);
        Write(Latin("\nendstream\nendobj\n"));
    }

    public static byte[] Deflate(byte[] data)
    {
        using var output = new MemoryStream(data.Length / 2 + 64);
        using (var zlib = new ZLibStream(output, CompressionLevel.Optimal, leaveOpen: true))
            zlib.Write(data);
        return output.ToArray();
    }

    private void Fill()
    {
        var container = Allocate();
        var index = new StringBuilder();
        var body = new StringBuilder();
        for (var i = 0; i < _pending.Count; i++)
        {
            index.Append(CultureInfo.InvariantCulture, $"{_pending[i].Id} {body.Length} ");
            body.Append(_pending[i].Text).Append('\n');
            _table[_pending[i].Id] = (2, container, i);
        }
        _full.Add(
            (container, new PdfDictionary("ObjStm") { { "N", _pending.Count }, { "First", index.Length } }, Latin(index.ToString() + body))
        );
        _pending.Clear();
    }

    private void WriteFull()
    {
        var packed = new byte[_full.Count][];
        Parallel.For(0, packed.Length, i => packed[i] = Deflate(_full[i].Data));
        for (var i = 0; i < packed.Length; i++)
            Packed(_full[i].Id, _full[i].Dictionary, "FlateDecode", packed[i]);
        _full.Clear();
    }

    /// <summary>Writes what is left and the cross-reference stream. The file's identifier is a hash of its content.</summary>
    public void Close(int root, int info)
    {
        if (_pending.Count > 0)
            Fill();
        WriteFull();
        var id = Allocate();
        _table[id] = (1, _position, 0);
        var data = new byte[_table.Count * 12];
        for (var i = 0; i < _table.Count; i++)
        {
            var (type, a, b) = _table[i];
            var at = i * 12;
            data[at] = type;
            for (var k = 0; k < 8; k++)
                data[at + 1 + k] = (byte)(a >> (56 - 8 * k));
            data[at + 9] = (byte)(b >> 16);
            data[at + 10] = (byte)(b >> 8);
            data[at + 11] = (byte)b;
        }
        var start = _position;
        var identity = PdfValue.Hex(_hash.GetCurrentHash()[..16]);
        Stream(
            id,
            new PdfDictionary("XRef")
            {
                { "Size", _table.Count },
                { "W", PdfValue.Array(1, 8, 3) },
                { "Root", PdfValue.To(root) },
                { "Info", PdfValue.To(info) },
                { "ID", PdfValue.Array(identity, identity) },
            },
            data
        );
        Write(Latin($"startxref\n{start}\n%%EOF\n"));
    }

    public void Dispose() => _hash.Dispose();
}
