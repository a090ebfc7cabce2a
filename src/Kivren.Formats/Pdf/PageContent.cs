using System.Globalization;
using System.Runtime.InteropServices;
using System.Text;
using Kivren.Core.Display;
using Kivren.Core.Type;
using Kivren.Formats.Pictures;
using static Kivren.Formats.Pdf.PdfNumber;

namespace Kivren.Formats.Pdf;

/// <summary>Writes the drawing operators of one page or picture (ISO 32000-1, 8 and 9).</summary>
/// <param name="kind">print files hold black and greys in black ink alone, colours in process inks</param>
internal sealed class PageContent(PdfFaces faces, int heightMillipoints, PdfKind kind = PdfKind.Screen)
{
    private readonly StringBuilder _out = new(8192);
    private PdfFace? _face;
    private int _size = -1;
    private Tone? _tone;

    /// <summary>Where the reader's pen stands after what was shown, in millipoints, and the open array's baseline.</summary>
    private double _pen;

    /// <summary>What the file adds after each glyph (Tc), millipoints.</summary>
    private int _tracking;
    private int _baseline,
        _up;
    private bool _turned,
        _inArray,
        _inString,
        _inText;

    /// <summary>The most ink that lies on one spot, in hundredths of a solid; of what print draws itself.</summary>
    public int MostInk { get; private set; }

    private void Lay(double inks) => MostInk = Math.Max(MostInk, (int)Math.Round(inks * 100));

    public HashSet<string> UsedPictures { get; } = new(StringComparer.Ordinal);

    /// <summary>The characters that each glyph used here stands for, by face: what ToUnicode is made of.</summary>
    public Dictionary<PdfFace, Dictionary<ushort, string?>> Texts { get; } = [];

    private Dictionary<ushort, string?> _texts = [];

    private Dictionary<ushort, string?> TextsOf(PdfFace face) => CollectionsMarshal.GetValueRefOrAddDefault(Texts, face, out _) ??= [];

    public override string ToString() => _out.ToString();

    /// <summary>Runs of marked content, in order; empty for a file without structure.</summary>
    public List<ContentMark> Marks { get; } = [];

    /// <param name="tags">names the type of marked content, or null for what is no part of the text; null for a file without
    /// structure</param>
    public void Paint(DisplayPage page, Func<string, PdfPicture?> picture, StructureTree? tags)
    {
        var link = 0;
        string? open = null;
        ContentMark mark = default;
        foreach (var item in page.Items)
        {
            // Which link this word leads by: links stand in the order of their words.
            var within = item switch
            {
                WordItem w => w.Within,
                RuleItem r => r.Within,
                _ => null,
            };
            var own = new ContentMark(
                item.Block,
                item is PictureItem,
                item is WordItem word1 && within is null ? LinkOf(page.Links, word1, ref link) : -1,
                within
            );
            var type =
                item.Role == ReadingRole.Furniture && within is null ? null
                : tags is null ? ""
                : tags.TypeOf(own);
            var name = type ?? "Artifact";
            if (open != name || (type is { Length: > 0 } && own != mark))
            {
                EndText();
                if (open is { Length: > 0 })
                    _out.Append("EMC\n");
                if (type is null)
                    _out.Append("/Artifact BMC\n");
                else if (type.Length > 0)
                {
                    _out.Append(CultureInfo.InvariantCulture, $"/{type}<</MCID {Marks.Count}>>BDC\n");
                    Marks.Add(own);
                }
                (open, mark) = (name, own);
            }
            switch (item)
            {
                case WordItem word:
                    Word(word);
                    break;
                case RuleItem rule:
                    EndText();
                    Draw(rule.Tone);
                    _out.Append(
                        CultureInfo.InvariantCulture,
                        $"{Points(rule.X)} {Points(heightMillipoints - rule.Y - rule.Height)} {Points(rule.Width)} "
                            + $"{Points(rule.Height)} re f\n"
                    );
                    break;
                case DotItem dot:
                    EndText();
                    Draw(dot.Tone);
                    Disc(dot.X, heightMillipoints - dot.Y, dot.Radius);
                    break;
                case LeaderItem leader:
                    Leader(leader);
                    break;
                case PictureItem item2:
                    EndText();
                    if (picture(item2.Asset) is { } p)
                    {
                        UsedPictures.Add(item2.Asset);
                        var top = heightMillipoints - item2.Y;
                        var (sx, sy) = p.Vector
                            ? (item2.Width / 1000.0 / p.Width, item2.Height / 1000.0 / p.Height)
                            : (item2.Width / 1000.0, item2.Height / 1000.0);
                        _out.Append(
                            item2.Turned
                                ? $"q 0 {Factor(-sx)} {Factor(sy)} 0 {Points(item2.X - item2.Height)} {Points(top)} "
                                : $"q {Factor(sx)} 0 0 {Factor(sy)} {Points(item2.X)} {Points(top - item2.Height)} "
                        );
                        _out.Append(CultureInfo.InvariantCulture, $"cm /{p.Resource} Do Q\n");
                    }
                    else
                    {
                        Draw(default);
                        _out.Append(
                            CultureInfo.InvariantCulture,
                            $".5 w {Points(item2.X)} {Points(heightMillipoints - item2.Y - item2.Height)} {Points(item2.Width)} "
                                + $"{Points(item2.Height)} re S\n"
                        );
                    }
                    break;
            }
        }
        EndText();
        if (open is { Length: > 0 })
            _out.Append("EMC\n");
    }

    private static int LinkOf(IReadOnlyList<LinkArea> links, WordItem word, ref int from)
    {
        if (word.Word.Target.IsNone && word.Word.Web is null)
            return -1;
        for (var l = from; l < links.Count; l++)
        {
            var area = links[l];
            if (
                area.Target != word.Word.Target
                || area.Web != word.Word.Web
                || word.X < area.X
                || word.X + word.Word.Width > area.X + area.Width
                || word.Y + word.Word.Style.Rise.Millipoints < area.Y
                || word.Y > area.Y + area.Height
            )
                continue;
            from = l;
            return l;
        }
        return -1;
    }

    /// <summary>What is drawn from here on is drawn in this; in print in black ink alone.</summary>
    private void Draw(Tone tone)
    {
        if (_tone == tone)
            return;
        _tone = tone;
        var grey = tone.Grey / 100.0;
        if (kind == PdfKind.Print)
        {
            Lay(1 - grey);
            _out.Append(CultureInfo.InvariantCulture, $"0 0 0 {Number(1 - grey)} k 0 0 0 {Number(1 - grey)} K\n");
        }
        else if (tone.Screen is { } rgb)
        {
            var colour = $"{Number(((rgb >> 16) & 255) / 255.0)} {Number(((rgb >> 8) & 255) / 255.0)} {Number((rgb & 255) / 255.0)}";
            _out.Append(CultureInfo.InvariantCulture, $"{colour} rg {colour} RG\n");
        }
        else
            _out.Append(CultureInfo.InvariantCulture, $"{Number(grey)} g {Number(grey)} G\n");
    }

    private void EndArray()
    {
        if (_inString)
            _out.Append('>');
        if (_inArray)
            _out.Append("]TJ\n");
        _inString = _inArray = false;
    }

    private void EndText()
    {
        EndArray();
        Track(0);
        if (_inText)
            _out.Append("ET\n");
        _inText = false;
        _face = null;
    }

    private void Track(int tracking)
    {
        if (tracking == _tracking)
            return;
        _out.Append(CultureInfo.InvariantCulture, $"{Points(tracking)} Tc\n");
        _tracking = tracking;
    }

    /// <summary>Opens an array that shows glyphs at this place, unless the open one can go on to it.</summary>
    /// <param name="x">along the line: from the left, or of a turned one from the head</param>
    /// <param name="y">its baseline: from the head, or of a turned one from the left</param>
    private void Place(TextStyle style, int tracking, int x, int y, bool turned = false)
    {
        if (!_inText)
        {
            Draw(style.Ink);
            _out.Append("BT\n");
            _inText = true;
        }
        else if (style.Ink != _tone)
        {
            EndArray();
            Draw(style.Ink);
        }
        var face = faces[style.Face];
        var sameFace = ReferenceEquals(face, _face) && _size == style.Size.Millipoints;
        if (_inArray && sameFace && _tracking == tracking && _baseline == y && _turned == turned && x >= _pen - style.Size.Millipoints)
        {
            MoveTo(x);
            return;
        }
        EndArray();
        if (!sameFace)
        {
            _face = face;
            _texts = TextsOf(face);
            _size = style.Size.Millipoints;
            _out.Append(CultureInfo.InvariantCulture, $"/{face.Resource} {Points(_size)} Tf\n");
        }
        Track(tracking);
        _out.Append(
            turned
                ? $"0 -1 1 0 {Points(y)} {Points(heightMillipoints - x)} Tm\n["
                : $"1 0 0 1 {Points(x)} {Points(heightMillipoints - y)} Tm\n["
        );
        _turned = turned;
        _inArray = true;
        _pen = x;
        _baseline = y;
    }

    /// <summary>Moves the pen within the array by an adjustment in thousandths of the em, and remembers what readers
    /// will make of it, so that roundings never add up.</summary>
    private void MoveTo(double x)
    {
        var tenths = (long)Math.Round((_pen - x) * 10_000.0 / _size, MidpointRounding.AwayFromZero);
        if (tenths == 0)
            return;
        _out.Append(_inString ? '>' : ' ');
        _inString = false;
        _out.Append(PdfNumber.Decimal(tenths, 1));
        _pen -= tenths * (double)_size / 10_000;
    }

    private void Glyph(ushort glyph, ReadOnlySpan<char> characters)
    {
        if (!_inString)
            _out.Append('<');
        _inString = true;
        const string hex = "0123456789ABCDEF";
        _out.Append(hex[glyph >> 12]).Append(hex[(glyph >> 8) & 15]).Append(hex[(glyph >> 4) & 15]).Append(hex[glyph & 15]);
        ref var known = ref CollectionsMarshal.GetValueRefOrAddDefault(_texts, glyph, out _);
        // A glyph that is often a part of several still says what it stands for where it stands alone.
        if (known is null || (characters.Length > 0 && (known.Length == 0 || characters.SequenceCompareTo(known) < 0)))
            known = characters.ToString();
        _pen += (double)_face!.Width(glyph) * _size / 1000 + _tracking;
    }

    private void Word(WordItem item)
    {
        var word = item.Word;
        var style = word.Style;
        var shaped = word.Word;
        var (along, across) = item.Turned ? (item.Y, item.X) : (item.X, item.Y);
        Place(style, word.Tracking, along, across, item.Turned);
        long x = along;
        var needsActual =
            (shaped.OffsetsY is not null && !shaped.RightToLeft)
            || !ReferenceEquals(shaped.Shown, shaped.Text)
            || (shaped.Built && shaped.Text.Length == 0);
        for (var g = word.From; g < word.To && !needsActual; g++)
            needsActual = shaped.Glyphs[g] == 0 || (!shaped.RightToLeft && g + 1 < word.To && shaped.Clusters[g + 1] == shaped.Clusters[g]);
        if (needsActual)
            Actual(shaped.Characters(word.From, word.To).ToString());
        if (needsActual)
            Place(style, word.Tracking, along, across, item.Turned);
        for (var g = word.From; g < word.To; g++)
        {
            // Read from the right, a word stands in the order of sight, and readers turn it round letter by letter.
            var spelled = shaped.RightToLeft && !needsActual ? shaped.Spelled(g, style.Face) : null;
            if (spelled is not null)
            {
                Actual(spelled);
                Place(style, word.Tracking, (int)x, across, item.Turned);
            }
            var dx = shaped.OffsetsX?[g] ?? 0;
            var up = style.Scale(shaped.OffsetsY?[g] ?? 0);
            // A mark stands above or below its letter's line.
            if (up != _up)
                Place(style, word.Tracking, (int)x, item.Turned ? across + up : across - up, item.Turned);
            _up = up;
            MoveTo(x + style.Scale(dx));
            Glyph(
                shaped.Glyphs[g],
                spelled is "" ? "\u200B"
                    : needsActual || shaped.RightToLeft ? shaped.CharactersOf(g, style.Face)
                    : shaped.ShownCharacters(g, g + 1)
            );
            x += style.Scale(shaped.Advances[g]) + word.Tracking;
            if (spelled is not null)
            {
                EndArray();
                _out.Append("EMC\n");
                Place(style, word.Tracking, (int)x, across, item.Turned);
                _up = 0;
            }
        }
        _up = 0;
        if (needsActual)
        {
            EndArray();
            _out.Append("EMC\n");
        }
        if (word.Hyphen)
        {
            var hyphen = style.Face.HyphenGlyph;
            Actual("\u00AD");
            Place(style, word.Tracking, (int)x, across, item.Turned);
            Glyph(hyphen.Glyphs[0], "-");
            EndArray();
            _out.Append("EMC\n");
            return;
        }
        if (!word.SpaceAfter && !item.LineEnd)
            return;
        // A space glyph stands between words and at the end of every line, or readers glue words together.
        var space = style.Face.Word(" ");
        if (shaped.RightToLeft)
            Place(style, word.Tracking, along - style.Scale(space.Width), across, item.Turned);
        else if (needsActual)
            Place(style, word.Tracking, (int)x, across, item.Turned);
        Glyph(space.Glyphs[0], " ");
    }

    private void Actual(string text)
    {
        EndArray();
        _out.Append("/Span<</ActualText").Append(PdfValue.Text(text).Written).Append(">>BDC\n");
    }

    /// <summary>Four curves that are a circle to the eye.</summary>
    private void Disc(int x, int y, int radius)
    {
        var bend = radius * 552 / 1000;
        string XY(int right, int up) => Points(x + right) + " " + Points(y + up) + " ";
        _out.Append(XY(radius, 0)).Append("m ");
        foreach (var (a, b) in new[] { (1, 0), (0, 1), (-1, 0), (0, -1) })
            _out.Append(XY(a * radius - b * bend, b * radius + a * bend))
                .Append(XY(a * bend - b * radius, b * bend + a * radius))
                .Append(XY(-b * radius, a * radius))
                .Append("c ");
        _out.Append("f\n");
    }

    private void Leader(LeaderItem leader)
    {
        var style = leader.Style;
        var dot = style.Face.Word(".");
        var step = style.Size.Millipoints * 45 / 100;
        // Points stand on a grid counted from the right, so that they align from line to line.
        for (var x = leader.To - (leader.To - leader.X) / step * step; x < leader.To; x += step)
        {
            if (x < leader.X)
                continue;
            Place(style, 0, x, leader.Y);
            Glyph(dot.Glyphs[0], ".");
        }
    }

    /// <summary>A picture's colour: in print black and greys in black ink, others in the four inks with the grey part in
    /// black.</summary>
    private string Colour(Ink ink, bool stroke)
    {
        if (kind == PdfKind.Screen)
            return $"{Number(ink.R)} {Number(ink.G)} {Number(ink.B)} {(stroke ? "RG" : "rg")}";
        var black = 1 - Math.Max(ink.R, Math.Max(ink.G, ink.B));
        // Nearly black, as pictures draw their lines, is black.
        if (Math.Max(ink.R, Math.Max(ink.G, ink.B)) - Math.Min(ink.R, Math.Min(ink.G, ink.B)) < .02)
        {
            Lay(black > .9 ? 1 : black);
            return $"0 0 0 {Number(black > .9 ? 1 : black)} {(stroke ? "K" : "k")}";
        }
        double Part(double c) => black >= 1 ? 0 : (1 - c - black) / (1 - black);
        Lay(Part(ink.R) + Part(ink.G) + Part(ink.B) + black);
        return $"{Number(Part(ink.R))} {Number(Part(ink.G))} {Number(Part(ink.B))} {Number(black)} {(stroke ? "K" : "k")}";
    }

    /// <summary>A vector picture, in its own units, y up.</summary>
    public void Paint(Drawing drawing)
    {
        string XY(double x, double y) => Number(x) + " " + Number(drawing.Height - y);
        foreach (var item in drawing.Items)
            switch (item)
            {
                case OutlineItem o:
                    if (o.Fill is { } fill)
                        _out.Append(Colour(fill, stroke: false)).Append('\n');
                    if (o.Stroke is { } stroke)
                    {
                        _out.Append(
                            CultureInfo.InvariantCulture,
                            $"{Colour(stroke, stroke: true)} {Number(o.StrokeWidth)} w {o.Cap} J {o.Join} j "
                                + $"[{string.Join(' ', o.Dashes.Select(Number))}] 0 d\n"
                        );
                    }
                    foreach (var s in o.Segments)
                        _out.Append(
                            s.Kind switch
                            {
                                'M' => XY(s.X1, s.Y1) + " m\n",
                                'L' => XY(s.X1, s.Y1) + " l\n",
                                'C' => XY(s.X1, s.Y1) + " " + XY(s.X2, s.Y2) + " " + XY(s.X3, s.Y3) + " c\n",
                                _ => "h\n",
                            }
                        );
                    _out.Append(
                        (o.Fill, o.Stroke) switch
                        {
                            (not null, not null) => o.EvenOdd ? "B*\n" : "B\n",
                            (not null, null) => o.EvenOdd ? "f*\n" : "f\n",
                            _ => "S\n",
                        }
                    );
                    break;
                case WordsItem w:
                    var face = faces[w.Face];
                    var texts = TextsOf(face);
                    _out.Append(CultureInfo.InvariantCulture, $"{Colour(w.Fill, stroke: false)} BT /{face.Resource} {Number(w.Size)} Tf\n");
                    for (var n = 0; n < w.Words.Count; n++)
                    {
                        var (word, x) = w.Words[n];
                        var (px, py) = w.Place.Map(x, 0);
                        _out.Append(
                            CultureInfo.InvariantCulture,
                            $"{Number(w.Place.A)} {Number(-w.Place.B)} {Number(-w.Place.C)} {Number(w.Place.D)} {XY(px, py)} Tm ["
                        );
                        for (var g = 0; g < word.Glyphs.Length; g++)
                        {
                            _out.Append('<').Append(word.Glyphs[g].ToString("X4", CultureInfo.InvariantCulture)).Append('>');
                            var kern = face.Width(word.Glyphs[g]) - word.Advances[g] * 1000 / w.Face.UnitsPerEm;
                            if (kern != 0)
                                _out.Append(kern);
                            texts.TryAdd(word.Glyphs[g], word.Characters(g, g + 1).ToString());
                        }
                        if (n + 1 < w.Words.Count)
                        {
                            var space = w.Face.Word(" ").Glyphs[0];
                            _out.Append('<').Append(space.ToString("X4", CultureInfo.InvariantCulture)).Append('>');
                            texts.TryAdd(space, " ");
                        }
                        _out.Append("]TJ\n");
                    }
                    _out.Append("ET\n");
                    break;
            }
    }
}
