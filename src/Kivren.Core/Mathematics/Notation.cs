using System.Text;
using Kivren.Core.Type;

namespace Kivren.Core.Mathematics;

/// <summary>An equation as it was understood.</summary>
public abstract record MathNode;

/// <summary>What a sign is for the space around it (the classes of mathematical typesetting).</summary>
public enum SignClass
{
    Ordinary,
    Operator,
    Binary,
    Relation,
    Opening,
    Closing,
    Punctuation,
    Inner,
}

/// <summary>One sign or letter; <paramref name="Text"/> as it prints.</summary>
public sealed record Sign(string Text, SignClass Class) : MathNode;

/// <summary>A number, a name or words, upright.</summary>
public sealed record Upright(string Text) : MathNode;

public sealed record Row(IReadOnlyList<MathNode> Parts) : MathNode;

public sealed record Fraction(MathNode Numerator, MathNode Denominator) : MathNode;

public sealed record Root(MathNode? Degree, MathNode Radicand) : MathNode;

public sealed record Scripts(MathNode Base, MathNode? Sub, MathNode? Sup) : MathNode;

public sealed record Fenced(string Open, MathNode Inner, string Close) : MathNode;

public sealed record Matrix(IReadOnlyList<IReadOnlyList<MathNode>> Rows, string Open, string Close) : MathNode;

public sealed record Accented(MathNode Base, string Accent) : MathNode;

/// <summary>A quantity's unit, a thin space after its number.</summary>
public sealed record Unit(string Text) : MathNode;

/// <summary>An equation that cannot be read: what is wrong and where.</summary>
public sealed class NotationException(string message, int at) : FormatException($"{message} at character {at + 1}");

/// <summary>Reads the linear notation (docs/equations.md).</summary>
public sealed class Notation
{
    /// <summary>Deeper nesting is refused before it can exhaust the stack.</summary>
    private const int MostDepth = 60;

    private static readonly Dictionary<string, string> Greek = new(StringComparer.Ordinal)
    {
        ["alpha"] = "𝛼",
        ["beta"] = "𝛽",
        ["gamma"] = "𝛾",
        ["delta"] = "𝛿",
        ["epsilon"] = "𝜀",
        ["zeta"] = "𝜁",
        ["eta"] = "𝜂",
        ["theta"] = "𝜃",
        ["iota"] = "𝜄",
        ["kappa"] = "𝜅",
        ["lambda"] = "𝜆",
        ["mu"] = "𝜇",
        ["nu"] = "𝜈",
        ["xi"] = "𝜉",
        ["pi"] = "𝜋",
        ["rho"] = "𝜌",
        ["sigma"] = "𝜎",
        ["tau"] = "𝜏",
        ["phi"] = "𝜑",
        ["chi"] = "𝜒",
        ["psi"] = "𝜓",
        ["omega"] = "𝜔",
        ["Gamma"] = "Γ",
        ["Delta"] = "Δ",
        ["Theta"] = "Θ",
        ["Lambda"] = "Λ",
        ["Xi"] = "Ξ",
        ["Pi"] = "Π",
        ["Sigma"] = "Σ",
        ["Phi"] = "Φ",
        ["Psi"] = "Ψ",
        ["Omega"] = "Ω",
    };

    private static readonly Dictionary<string, Sign> Named = new(StringComparer.Ordinal)
    {
        ["sum"] = new("∑", SignClass.Operator),
        ["prod"] = new("∏", SignClass.Operator),
        ["int"] = new("∫", SignClass.Operator),
        ["infinity"] = new("∞", SignClass.Ordinary),
        ["deg"] = new("°", SignClass.Ordinary),
        ["diff"] = new("∂", SignClass.Ordinary),
        ["times"] = new("×", SignClass.Binary),
    };

    private static readonly HashSet<string> Functions = new(StringComparer.Ordinal)
    {
        "sin",
        "cos",
        "tan",
        "cot",
        "arcsin",
        "arccos",
        "arctan",
        "log",
        "ln",
        "lg",
        "exp",
        "min",
        "max",
        "lim",
    };
    private static readonly Dictionary<string, string> Accents = new(StringComparer.Ordinal)
    {
        ["bar"] = "\u0305",
        ["vec"] = "\u20D7",
        ["hat"] = "\u0302",
        ["dot"] = "\u0307",
        ["tilde"] = "\u0303",
    };

    /// <summary>Signs of several characters first.</summary>
    private static readonly (string Written, Sign Sign)[] Signs =
    [
        ("<=", new("≤", SignClass.Relation)),
        (">=", new("≥", SignClass.Relation)),
        ("!=", new("≠", SignClass.Relation)),
        ("~~", new("≈", SignClass.Relation)),
        ("->", new("→", SignClass.Relation)),
        ("+-", new("±", SignClass.Binary)),
        ("...", new("…", SignClass.Ordinary)),
        ("=", new("=", SignClass.Relation)),
        ("<", new("<", SignClass.Relation)),
        (">", new(">", SignClass.Relation)),
        ("~", new("∼", SignClass.Relation)),
        ("+", new("+", SignClass.Binary)),
        ("-", new("−", SignClass.Binary)),
        ("*", new("·", SignClass.Binary)),
        (",", new(",", SignClass.Punctuation)),
        (":", new(":", SignClass.Relation)),
        ("!", new("!", SignClass.Closing)),
        ("'", new("′", SignClass.Ordinary)),
        ("%", new("%", SignClass.Ordinary)),
        (".", new(".", SignClass.Punctuation)),
    ];

    private readonly string _s;
    private int _at,
        _depth;

    private Notation(string source) => _s = source;

    /// <exception cref="NotationException">the source is no equation</exception>
    public static MathNode Read(string source)
    {
        var reader = new Notation(source);
        var row = reader.ReadRow("");
        if (reader._at < source.Length)
            throw new NotationException($"“{source[reader._at]}” closes nothing", reader._at);
        return row;
    }

    private void Space()
    {
        while (_at < _s.Length && char.IsWhiteSpace(_s[_at]))
            _at++;
    }

    /// <summary>Parts up to one of the closing characters.</summary>
    private MathNode ReadRow(string closing)
    {
        var parts = new List<MathNode>();
        for (Space(); _at < _s.Length && !closing.Contains(_s[_at], StringComparison.Ordinal); Space())
        {
            if (_s[_at] is ')' or ']' or '}' or ';')
                break;
            var part = WithScripts();
            Space();
            while (_at < _s.Length && _s[_at] == '/' && !(_at + 1 < _s.Length && _s[_at + 1] == '/'))
            {
                _at++;
                Space();
                part = new Fraction(Bare(part), Bare(WithScripts()));
                Space();
            }
            if (_at + 1 < _s.Length && _s[_at] == '/' && _s[_at + 1] == '/')
            {
                parts.Add(part);
                _at += 2;
                parts.Add(new Sign("/", SignClass.Ordinary));
                continue;
            }
            parts.Add(part);
        }
        return parts.Count == 1 ? parts[0] : new Row(parts);
    }

    /// <summary>Round brackets that only group: around a numerator, an exponent, what stands under a root.</summary>
    private static MathNode Bare(MathNode node) => node is Fenced { Open: "(" or "", Close: ")" or "" } fenced ? fenced.Inner : node;

    private MathNode WithScripts()
    {
        var part = Atom();
        MathNode? sub = null,
            sup = null;
        for (Space(); _at < _s.Length && _s[_at] is '_' or '^'; Space())
        {
            var kind = _s[_at];
            if ((kind == '_' ? sub : sup) is not null)
                throw new NotationException($"a second {(kind == '_' ? "subscript" : "superscript")}", _at);
            _at++;
            Space();
            var script = Bare(Atom());
            if (kind == '_')
                sub = script;
            else
                sup = script;
        }
        return sub is null && sup is null ? part : new Scripts(part, sub, sup);
    }

    private MathNode Atom()
    {
        if (_at >= _s.Length)
            throw new NotationException("something is missing", _at);
        if (++_depth > MostDepth)
            throw new NotationException($"nested more than {MostDepth} deep", _at);
        try
        {
            return One();
        }
        finally
        {
            _depth--;
        }
    }

    private MathNode One()
    {
        var c = _s[_at];
        if (c == '(')
            return Bracketed("(", ")", ')');
        if (c == '{')
            return Bracketed("", "", '}');
        if (c == '[')
            return Bracketed("[", "]", ']');
        if (c == '|')
        {
            _at++;
            var inner = ReadRow("|");
            Close('|');
            return new Fenced("|", inner, "|");
        }
        if (c == '"')
            return Quoted();
        if (char.IsAsciiDigit(c))
            return Number();
        if (char.IsLetter(c))
            return Word();
        foreach (var (written, sign) in Signs)
            if (string.CompareOrdinal(_s, _at, written, 0, written.Length) == 0)
            {
                _at += written.Length;
                return sign;
            }
        if (c is '/' or '^' or '_')
            throw new NotationException($"nothing stands before “{c}”", _at);
        var rune = Rune.GetRuneAt(_s, _at);
        _at += rune.Utf16SequenceLength;
        return new Sign(
            rune.ToString(),
            Rune.GetUnicodeCategory(rune) == System.Globalization.UnicodeCategory.MathSymbol ? SignClass.Binary : SignClass.Ordinary
        );
    }

    private void Close(char closing)
    {
        if (_at >= _s.Length || _s[_at] != closing)
            throw new NotationException($"“{closing}” is missing", _at);
        _at++;
    }

    /// <summary>A bracketed row; with ; between rows and , between their parts, a matrix.</summary>
    private MathNode Bracketed(string open, string close, char closing)
    {
        var start = _at;
        _at++;
        var rows = new List<List<MathNode>> { new() };
        var first = _at;
        rows[0].Add(ReadRow(";,"));
        while (_at < _s.Length && _s[_at] is ',' or ';')
        {
            if (_s[_at] == ';')
                rows.Add([]);
            _at++;
            rows[^1].Add(ReadRow(";,"));
        }
        Close(closing);
        if (rows.Count > 1)
            return new Matrix(rows, open, close);
        if (rows[0].Count == 1)
            return new Fenced(open, rows[0][0], close);
        // Commas without rows are arguments: the row is read again with its commas.
        var end = _at;
        _at = first;
        var parts = new List<MathNode>();
        while (_at < end - 1)
        {
            parts.Add(ReadRow(","));
            Space();
            if (_at < end - 1 && _s[_at] == ',')
            {
                parts.Add(new Sign(",", SignClass.Punctuation));
                _at++;
            }
            else if (_at < end - 1)
                throw new NotationException("brackets do not match", start);
        }
        _at = end;
        return new Fenced(open, new Row(parts), close);
    }

    private MathNode Quoted()
    {
        var end = _s.IndexOf('"', _at + 1);
        if (end < 0)
            throw new NotationException("the closing quotation mark is missing", _at);
        var text = _s[(_at + 1)..end];
        _at = end + 1;
        return new Upright(text);
    }

    private MathNode Number()
    {
        var from = _at;
        while (
            _at < _s.Length
            && (
                char.IsAsciiDigit(_s[_at])
                || (_s[_at] is '.' or ',' && _at + 1 < _s.Length && char.IsAsciiDigit(_s[_at + 1]) && _s[_at - 1] != ' ')
            )
        )
            _at++;
        var number = new Upright(_s[from.._at]);
        // A unit after a space goes with its number.
        var unit = _at;
        while (unit < _s.Length && _s[unit] == ' ')
            unit++;
        var end = unit;
        while (end < _s.Length && (char.IsLetter(_s[end]) || _s[end] is '°' or '²' or '³' or '/'))
            end++;
        if (unit > _at && end > unit && !(end < _s.Length && _s[end] is '(' or '_' or '^') && Units.Known.Contains(_s[unit..end]))
        {
            _at = end;
            return new Row([number, new Unit(_s[unit..end])]);
        }
        return number;
    }

    private MathNode Word()
    {
        var from = _at;
        while (_at < _s.Length && char.IsLetter(_s[_at]))
            _at++;
        var word = _s[from.._at];
        if (word is "sqrt" or "root" or "abs" || Accents.ContainsKey(word))
        {
            Space();
            if (_at >= _s.Length || _s[_at] != '(')
                throw new NotationException($"“{word}” wants brackets after it", _at);
            var inner = Atom();
            if (word == "abs")
                return new Fenced("|", Bare(inner), "|");
            if (word == "sqrt")
                return new Root(null, Bare(inner));
            if (word != "root")
                return new Accented(Bare(inner), Accents[word]);
            if (inner is Fenced { Inner: Row { Parts: [var degree, Sign { Text: "," }, ..] parts } } && parts.Count > 2)
                return new Root(degree, parts.Count == 3 ? parts[2] : new Row(parts.Skip(2).ToArray()));
            throw new NotationException("“root” wants two parts: the degree, and what stands under it", from);
        }
        if (Greek.TryGetValue(word, out var greek))
            return new Sign(greek, SignClass.Ordinary);
        if (Named.TryGetValue(word, out var sign))
            return sign;
        if (Functions.Contains(word))
            return new Sign(word, SignClass.Operator);
        return word.Length == 1 ? new Sign(Italic(word), SignClass.Ordinary) : new Upright(word);
    }

    /// <summary>The mathematical italic letter of a Latin letter.</summary>
    private static string Italic(string letter) =>
        letter[0] switch
        {
            'h' => "ℎ",
            >= 'a' and <= 'z' => char.ConvertFromUtf32(0x1D44E + letter[0] - 'a'),
            >= 'A' and <= 'Z' => char.ConvertFromUtf32(0x1D434 + letter[0] - 'A'),
            _ => letter,
        };
}
