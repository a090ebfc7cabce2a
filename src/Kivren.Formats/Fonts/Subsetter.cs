using System.Runtime.InteropServices;
using Kivren.Core.Type;

namespace Kivren.Formats.Fonts;

/// <summary>Cuts a face down to what a file uses, by HarfBuzz.</summary>
internal static unsafe class Subsetter
{
    private const string Library = "libHarfBuzzSharp";
    private const uint NoHinting = 1,
        RetainGlyphIds = 2,
        NoLayoutClosure = 0x200;
    private const int DropTables = 3;
    private static readonly string[] Dropped =
    [
        "GSUB",
        "GPOS",
        "GDEF",
        "BASE",
        "STAT",
        "DSIG",
        "meta",
        "gasp",
        "HVAR",
        "avar",
        "fvar",
        "name",
        "OS/2",
        "cmap",
        "post",
    ];

    /// <summary>Tables that pages which shape the text themselves do without.</summary>
    private static readonly string[] DroppedForText = ["DSIG", "meta", "STAT", "MATH"];
    private const int LayoutFeatures = 6,
        Names = 4;

    /// <summary>Copyright and licence stay with a face that is cut down; what its makers named does not.</summary>
    private static readonly uint[] KeptNames = [0, 13, 14];

    /// <summary>To these glyphs. Their ids stay, so that pages can be written before the subset is known.</summary>
    public static byte[] Subset(Face face, IEnumerable<ushort> glyphs) => Cut(face, input =>
        {
            var wanted = hb_subset_input_glyph_set(input);
            hb_set_add(wanted, 0);
            foreach (var glyph in glyphs)
                hb_set_add(wanted, glyph);
            Drop(input, Dropped);
            hb_subset_input_set_flags(input, NoHinting | RetainGlyphIds | NoLayoutClosure);
        });

    /// <summary>To these characters, with what the face does to them: kerning, ligatures, and the features that are named.</summary>
    public static byte[] ForText(Face face, IEnumerable<int> characters, IEnumerable<string> features) => Cut(face, input =>
        {
            var wanted = hb_subset_input_unicode_set(input);
            foreach (var c in characters)
                hb_set_add(wanted, (uint)c);
            var kept = hb_subset_input_set(input, LayoutFeatures);
            foreach (var feature in features)
                hb_set_add(kept, Tag(feature));
            var names = hb_subset_input_set(input, Names);
            hb_set_clear(names);
            foreach (var name in KeptNames)
                hb_set_add(names, name);
            Drop(input, DroppedForText);
            hb_subset_input_set_flags(input, NoHinting);
        });

    private static uint Tag(string tag) => (uint)(tag[0] << 24 | tag[1] << 16 | tag[2] << 8 | tag[3]);

    private static void Drop(IntPtr input, string[] tables)
    {
        var drop = hb_subset_input_set(input, DropTables);
        foreach (var tag in tables)
            hb_set_add(drop, Tag(tag));
    }

    private static byte[] Cut(Face face, Action<IntPtr> say)
    {
        var input = hb_subset_input_create_or_fail();
        if (input == 0)
            throw new InvalidOperationException("No memory to subset a face.");
        IntPtr plan = 0,
            result = 0;
        try
        {
            say(input);
            plan = hb_subset_plan_create_or_fail(face.HarfBuzzFace.Handle, input);
            if (plan == 0)
                throw new InvalidDataException($"The face '{face.Name}' cannot be subset.");
            result = hb_subset_plan_execute_or_fail(plan);
            if (result == 0)
                throw new InvalidDataException($"The face '{face.Name}' cannot be subset.");
            var blob = hb_face_reference_blob(result);
            var data = hb_blob_get_data(blob, out var length);
            var bytes = new ReadOnlySpan<byte>(data, checked((int)length)).ToArray();
            hb_blob_destroy(blob);
            return bytes;
        }
        finally
        {
            if (result != 0)
                hb_face_destroy(result);
            if (plan != 0)
                hb_subset_plan_destroy(plan);
            hb_subset_input_destroy(input);
        }
    }

    [DllImport(Library)]
    private static extern IntPtr hb_subset_input_create_or_fail();

    [DllImport(Library)]
    private static extern void hb_subset_input_destroy(IntPtr input);

    [DllImport(Library)]
    private static extern IntPtr hb_subset_input_glyph_set(IntPtr input);

    [DllImport(Library)]
    private static extern IntPtr hb_subset_input_unicode_set(IntPtr input);

    [DllImport(Library)]
    private static extern IntPtr hb_subset_input_set(IntPtr input, int which);

    [DllImport(Library)]
    private static extern void hb_subset_input_set_flags(IntPtr input, uint flags);

    [DllImport(Library)]
    private static extern IntPtr hb_subset_plan_create_or_fail(IntPtr face, IntPtr input);

    [DllImport(Library)]
    private static extern IntPtr hb_subset_plan_execute_or_fail(IntPtr plan);

    [DllImport(Library)]
    private static extern void hb_subset_plan_destroy(IntPtr plan);

    [DllImport(Library)]
    private static extern void hb_set_clear(IntPtr set);

    [DllImport(Library)]
    private static extern void hb_set_add(IntPtr set, uint value);

    [DllImport(Library)]
    private static extern IntPtr hb_face_reference_blob(IntPtr face);

    [DllImport(Library)]
    private static extern void hb_face_destroy(IntPtr face);

    [DllImport(Library)]
    private static extern byte* hb_blob_get_data(IntPtr blob, out uint length);

    [DllImport(Library)]
    private static extern void hb_blob_destroy(IntPtr blob);
}
