using System.Text;
using System.Xml.Linq;

namespace Kivren.Formats.Import;

/// <summary>Writes equations of other formats in the linear notation of docs/equations.md: presentation MathML, and the
/// equations of word-processor documents (Office Open XML, part 1, clause 22.1).</summary>
public static class LinearEquation
{
    private const int MostDepth = 40;

    private static readonly Dictionary<string, string> Signs = new(StringComparer.Ordinal)
    {
        ["≤"] = "<=",
        ["≥"] = ">=",
        ["≠"] = "!=",
        ["≈"] = "~~",
        ["→"] = "->",
        ["±"] = "+-",
        ["⋅"] = "*",
        ["·"] = "*",
        ["×"] = "times",
        ["∞"] = "infinity",
        ["°"] = "deg",
        ["∂"] = "diff",
        ["−"] = "-",
        ["∑"] = "sum",
        ["∏"] = "prod",
        ["∫"] = "int",
        ["∕"] = "//",
        ["/"] = "//",
        ["\u2061"] = "",
        ["\u2062"] = "",
        ["\u2063"] = "",
        ["\u2064"] = "",
    };

    private const string Greek =
        "αalpha βbeta γgamma δdelta εepsilon ϵepsilon ζzeta ηeta θtheta ιiota κkappa λlambda μmu µmu νnu ξxi πpi ρrho σsigma τtau "
        + "φphi ϕphi χchi ψpsi ωomega ΓGamma ΔDelta ΘTheta ΛLambda ΞXi ΠPi ΣSigma ΦPhi ΨPsi ΩOmega";
    private static readonly Dictionary<char, string> GreekNames = Greek.Split(' ').ToDictionary(g => g[0], g => g[1..]);
    private static readonly Dictionary<string, string> Accents = new(StringComparer.Ordinal)
    {
        ["\u0304"] = "bar",
        ["\u0305"] = "bar",
        ["¯"] = "bar",
        ["\u20D7"] = "vec",
        ["→"] = "vec",
        ["\u0302"] = "hat",
        ["^"] = "hat",
        ["\u0307"] = "dot",
        ["˙"] = "dot",
        ["\u0303"] = "tilde",
        ["~"] = "tilde",
    };
    private static readonly HashSet<string> Functions =
    [
        "sin",
        "cos",
        "tan",
        "log",
        "ln",
        "exp",
        "lim",
        "max",
        "min",
        "arcsin",
        "arccos",
        "arctan",
        "sinh",
        "cosh",
        "tanh",
        "det",
    ];

    /// <summary>The equation in linear notation, from an oMath or a math element.</summary>
    public static string From(XElement math) => Row(math.Elements(), 0).Trim();

    private static string Row(IEnumerable<XElement> elements, int depth)
    {
        var row = new StringBuilder();
        foreach (var element in elements)
        {
            var part = One(element, depth + 1);
            if (part.Length == 0)
                continue;
            if (row.Length > 0 && row[^1] != ' ')
                row.Append(' ');
            row.Append(part);
        }
        return row.ToString().Replace("  ", " ", StringComparison.Ordinal);
    }

    private static string Inner(XElement? element, int depth) => element is null ? "" : Row(element.Elements(), depth);

    private static XElement? Child(XElement element, string name) => element.Elements().FirstOrDefault(e => e.Name.LocalName == name);

    private static string? Value(XElement element, string properties, string name) =>
        Child(element, properties) is { } p && Child(p, name) is { } v
            ? v.Attributes().FirstOrDefault(a => a.Name.LocalName == "val")?.Value
            : null;

    /// <summary>One term, grouped unless it is a single letter, number or name.</summary>
    private static string Grouped(string term) => term.Length > 0 && term.All(char.IsLetterOrDigit) ? term : $"({term})";

    private static string Braced(string term) => term.Length > 0 && term.All(char.IsLetterOrDigit) ? term : $"{{{term}}}";

    private static string One(XElement e, int depth)
    {
        if (depth > MostDepth)
            return "\"" + e.Value.Replace('"', '\'') + "\"";
        string In(string name) => Inner(Child(e, name), depth);
        var kids = e.Elements().ToArray();
        string Kid(int i) => i < kids.Length ? One(kids[i], depth + 1) : "";
        return e.Name.LocalName switch
        {
            // Office Open XML
            "r" => Text(
                string.Concat(e.Elements().Where(t => t.Name.LocalName == "t").Select(t => t.Value)),
                Value(e, "rPr", "nor") is not null || Child(e, "rPr") is { } rp && Child(rp, "nor") is not null
            ),
            "f" => Value(e, "fPr", "type") is "lin" or "skw"
                ? $"{Grouped(In("num"))} // {Grouped(In("den"))}"
                : $"{Grouped(In("num"))}/{Grouped(In("den"))}",
            "sSup" => $"{Braced(In("e"))}^{Grouped(In("sup"))}",
            "sSub" => $"{Braced(In("e"))}_{Grouped(In("sub"))}",
            "sSubSup" => $"{Braced(In("e"))}_{Grouped(In("sub"))}^{Grouped(In("sup"))}",
            "rad" => In("deg") is { Length: > 0 } degree ? $"root({degree}, {In("e")})" : $"sqrt({In("e")})",
            "nary" => Sign(Value(e, "naryPr", "chr") ?? "∫")
                + (In("sub") is { Length: > 0 } lower ? $"_({lower})" : "")
                + (In("sup") is { Length: > 0 } upper ? $"^({upper})" : "")
                + " "
                + In("e"),
            "d" => Fence(
                Value(e, "dPr", "begChr") ?? "(",
                string.Join(", ", kids.Where(k => k.Name.LocalName == "e").Select(k => Inner(k, depth))),
                Value(e, "dPr", "endChr") ?? ")"
            ),
            "m" => "["
                + string.Join(
                    "; ",
                    kids.Where(k => k.Name.LocalName == "mr").Select(r => string.Join(", ", r.Elements().Select(c => Inner(c, depth))))
                )
                + "]",
            "func" => $"{In("fName")} {In("e")}",
            "limLow" => $"{In("e")}_({In("lim")})",
            "limUpp" => $"{In("e")}^({In("lim")})",
            "acc" => Accent(Value(e, "accPr", "chr") ?? "\u0302", In("e")),
            "bar" => $"bar({In("e")})",
            "oMath" or "oMathPara" or "e" or "box" or "borderBox" or "groupChr" or "phant" => Row(
                kids.Where(k => !k.Name.LocalName.EndsWith("Pr", StringComparison.Ordinal)),
                depth
            ),
            // MathML
            "mi" => Text(e.Value.Trim(), e.Value.Trim().Length > 1),
            "mn" => e.Value.Trim(),
            "mo" => Sign(e.Value.Trim()),
            "mtext" or "ms" => Text(e.Value.Trim(), true),
            "mfrac" => $"{Grouped(Kid(0))}/{Grouped(Kid(1))}",
            "msup" => $"{Braced(Kid(0))}^{Grouped(Kid(1))}",
            "msub" => $"{Braced(Kid(0))}_{Grouped(Kid(1))}",
            "msubsup" or "munderover" => $"{Braced(Kid(0))}_{Grouped(Kid(1))}^{Grouped(Kid(2))}",
            "munder" => $"{Braced(Kid(0))}_{Grouped(Kid(1))}",
            "mover" when kids.Length == 2 && Accents.ContainsKey(kids[1].Value.Trim()) => Accent(kids[1].Value.Trim(), Kid(0)),
            "mover" => $"{Braced(Kid(0))}^{Grouped(Kid(1))}",
            "msqrt" => $"sqrt({Row(kids, depth)})",
            "mroot" => $"root({Kid(1)}, {Kid(0)})",
            "mfenced" => Fence(
                e.Attribute("open")?.Value ?? "(",
                string.Join(", ", kids.Select(k => One(k, depth + 1))),
                e.Attribute("close")?.Value ?? ")"
            ),
            "mtable" => "["
                + string.Join("; ", kids.Select(r => string.Join(", ", r.Elements().Select(c => Row(c.Elements(), depth)))))
                + "]",
            "math" or "mrow" or "mstyle" or "mpadded" or "semantics" or "mtd" => Row(
                kids.Where(k => k.Name.LocalName is not ("annotation" or "annotation-xml")),
                depth
            ),
            "mspace" or "annotation" or "annotation-xml" or "ctrlPr" => "",
            _ => kids.Length > 0 ? Row(kids, depth) : Text(e.Value.Trim(), true),
        };
    }

    private static string Fence(string open, string inner, string close) =>
        (open, close) switch
        {
            ("(" or "", ")" or "") => $"({inner})",
            ("[", "]") => $"[{inner}]",
            ("|", "|") => $"abs({inner})",
            _ => $"({inner})",
        };

    private static string Accent(string sign, string on) => Accents.TryGetValue(sign, out var name) ? $"{name}({on})" : on;

    private static string Sign(string sign) =>
        Signs.TryGetValue(sign, out var linear) ? linear
        : sign is "{" or "}" ? (sign == "{" ? "(" : ")")
        : sign;

    /// <summary>A run of an equation's text: single letters are quantities, longer words stand upright.</summary>
    private static string Text(string text, bool upright)
    {
        text = string.Concat(text.EnumerateRunes().Select(Plain));
        if (Functions.Contains(text))
            return text;
        if (upright && text.Length > 1 && text.Any(char.IsLetter))
            return "\"" + text.Replace('"', '\'') + "\"";
        var linear = new StringBuilder();
        for (var i = 0; i < text.Length; i++)
        {
            var c = text[i];
            if (
                char.IsDigit(c)
                || (c is '.' or ',' && i > 0 && char.IsDigit(text[i - 1]) && i + 1 < text.Length && char.IsDigit(text[i + 1]))
            )
            {
                linear.Append(c);
                continue;
            }
            var part =
                GreekNames.TryGetValue(c, out var greek) ? greek
                : char.IsLetter(c) ? c.ToString()
                : Sign(c.ToString());
            if (linear.Length > 0 && linear[^1] != ' ')
                linear.Append(' ');
            linear.Append(part);
            if (i + 1 < text.Length)
                linear.Append(' ');
        }
        return linear.ToString().Replace("  ", " ", StringComparison.Ordinal).Trim();
    }

    /// <summary>A mathematical letter (Unicode block 1D400) as the plain one.</summary>
    private static string Plain(Rune rune) =>
        rune.Value is >= 0x1D400 and <= 0x1D7FF ? rune.ToString().Normalize(NormalizationForm.FormKC) : rune.ToString();
}
