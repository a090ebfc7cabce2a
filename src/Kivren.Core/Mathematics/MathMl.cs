using System.Xml.Linq;

namespace Kivren.Core.Mathematics;

/// <summary>Writes an equation as presentation MathML (MathML Core), for pages that a browser or a reading system sets.</summary>
public static class MathMl
{
    private static readonly XNamespace Ns = "http://www.w3.org/1998/Math/MathML";

    /// <param name="alternative">what it says in words</param>
    /// <param name="display">set on lines of its own, not in the text</param>
    /// <exception cref="NotationException">the source is no equation</exception>
    public static XElement Of(string source, string alternative, bool display)
    {
        var math = new XElement(Ns + "math", Inside(Notation.Read(source)));
        if (display)
            math.SetAttributeValue("display", "block");
        if (alternative.Length > 0)
            math.SetAttributeValue("alttext", alternative);
        return math;
    }

    /// <summary>The elements of a row; of anything else the one element.</summary>
    private static IEnumerable<XElement> Inside(MathNode node) => node is Row row ? row.Parts.Select(One) : [One(node)];

    private static XElement One(MathNode node) =>
        node switch
        {
            Row row => El("mrow", [.. row.Parts.Select(One)]),
            Sign { Class: SignClass.Ordinary } sign when IsLetter(sign.Text) => El("mi", sign.Text),
            // The name of a function: browsers put no space after it by themselves.
            Sign sign when sign.Text.Length > 1 && IsLetter(sign.Text) => El("mrow", [El("mi", sign.Text), Thin()]),
            Sign sign => El("mo", sign.Text),
            Upright upright => Upright(upright.Text),
            Unit unit => El("mrow", [Thin(), Plain(unit.Text)]),
            Fraction f => El("mfrac", [One(f.Numerator), One(f.Denominator)]),
            Root { Degree: null } root => El("msqrt", [.. Inside(root.Radicand)]),
            Root root => El("mroot", [One(root.Radicand), One(root.Degree!)]),
            Scripts s => Script(s),
            Fenced f => El("mrow", [.. Fence(f.Open), .. Inside(f.Inner), .. Fence(f.Close)]),
            Matrix m => El(
                "mrow",
                [
                    .. Fence(m.Open),
                    El("mtable", [.. m.Rows.Select(r => El("mtr", [.. r.Select(c => El("mtd", [.. Inside(c)]))]))]),
                    .. Fence(m.Close),
                ]
            ),
            Accented a => Accent(a),
            _ => throw new NotSupportedException(node.GetType().Name),
        };

    private static XElement El(string name, params XElement[] inner) => new(Ns + name, inner);

    private static XElement El(string name, string text) => new(Ns + name, text);

    private static bool IsLetter(string text) => text.EnumerateRunes().All(System.Text.Rune.IsLetter);

    /// <summary>A number is a number; a name or words stand upright.</summary>
    private static XElement Upright(string text) =>
        text.All(c => char.IsAsciiDigit(c) || c is '.' or ',') ? El("mn", text)
        : text.Contains(' ', StringComparison.Ordinal) ? El("mtext", text)
        : Plain(text);

    private static XElement Plain(string text)
    {
        var name = El("mi", text);
        // One letter alone would be set italic.
        if (text.EnumerateRunes().Count() == 1)
            name.SetAttributeValue("mathvariant", "normal");
        return name;
    }

    private static XElement Thin() => new(Ns + "mspace", new XAttribute("width", "0.1667em"));

    private static XElement[] Fence(string sign) =>
        sign.Length == 0 ? [] : [new XElement(Ns + "mo", new XAttribute("fence", "true"), sign)];

    /// <summary>Limits stand over and under large signs, indices beside all else.</summary>
    private static XElement Script(Scripts s)
    {
        var limits = s.Base is Sign { Text: "∑" or "∏" };
        return (s.Sub, s.Sup) switch
        {
            ({ } sub, { } sup) => El(limits ? "munderover" : "msubsup", [One(s.Base), One(sub), One(sup)]),
            ({ } sub, null) => El(limits ? "munder" : "msub", [One(s.Base), One(sub)]),
            _ => El(limits ? "mover" : "msup", [One(s.Base), One(s.Sup!)]),
        };
    }

    private static XElement Accent(Accented a)
    {
        var over = El(
            "mover",
            [
                One(a.Base),
                El(
                    "mo",
                    a.Accent switch
                    {
                        "\u0305" => "¯",
                        "\u20D7" => "→",
                        "\u0302" => "^",
                        "\u0307" => "˙",
                        _ => "~",
                    }
                ),
            ]
        );
        over.SetAttributeValue("accent", "true");
        return over;
    }
}
