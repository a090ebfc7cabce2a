using System.Globalization;
using System.Reflection;
using System.Text;

namespace Kivren.Core.Type;

/// <summary>Where a line may break: Unicode Standard Annex #14, version 15.0.</summary>
public static class LineBreaks
{
    /// <summary>What stands before a character: no break, an opportunity, or a break that must be.</summary>
    public const byte None = 0,
        May = 1,
        Must = 2;

    private enum C : byte
    {
        XX,
        BK,
        CR,
        LF,
        NL,
        CM,
        WJ,
        ZW,
        GL,
        SP,
        ZWJ,
        B2,
        BA,
        BB,
        HY,
        CB,
        CL,
        CP,
        EX,
        IN,
        NS,
        OP,
        QU,
        IS,
        NU,
        PO,
        PR,
        SY,
        AI,
        AL,
        CJ,
        EB,
        EM,
        H2,
        H3,
        HL,
        ID,
        JL,
        JV,
        JT,
        RI,
        SA,
        SG,
    }

    private static readonly Lazy<(byte[] Plane0, (int From, int To, C Class)[] Beyond)> Table = new(Load);

    private static (byte[], (int, int, C)[]) Load()
    {
        var plane = new byte[0x10000];
        var beyond = new List<(int, int, C)>();
        using var reader = new StreamReader(Assembly.GetExecutingAssembly().GetManifestResourceStream("breaks:classes")!);
        while (reader.ReadLine() is { } line)
        {
            var semicolon = line.IndexOf(';', StringComparison.Ordinal);
            var range = line[..semicolon].Split("..");
            var from = int.Parse(range[0], NumberStyles.HexNumber, CultureInfo.InvariantCulture);
            var to = range.Length > 1 ? int.Parse(range[1], NumberStyles.HexNumber, CultureInfo.InvariantCulture) : from;
            var c = Enum.Parse<C>(line[(semicolon + 1)..]);
            for (var i = from; i <= Math.Min(to, 0xFFFF); i++)
                plane[i] = (byte)c;
            if (to > 0xFFFF)
                beyond.Add((Math.Max(from, 0x10000), to, c));
        }
        return (plane, beyond.OrderBy(b => b.Item1).ToArray());
    }

    /// <summary>Small kana, the sign of length and the signs of repetition: they begin a line where squares are few.</summary>
    private static bool BeginsLoosely(int codePoint) =>
        codePoint is 0x3005 or 0x303B or 0x309D or 0x309E or 0x30FD or 0x30FE
        || (codePoint is >= 0x3041 and <= 0xFF70 && codePoint < 0x10000 && (C)Table.Value.Plane0[codePoint] == C.CJ);

    private static C ClassOf(int codePoint)
    {
        var table = Table.Value;
        C c;
        if (codePoint < 0x10000)
            c = (C)table.Plane0[codePoint];
        else
        {
            c = C.XX;
            int low = 0,
                high = table.Beyond.Length - 1;
            while (low <= high)
            {
                var middle = (low + high) / 2;
                var range = table.Beyond[middle];
                if (codePoint < range.From)
                    high = middle - 1;
                else if (codePoint > range.To)
                    low = middle + 1;
                else
                {
                    c = range.Class;
                    break;
                }
            }
        }
        return c switch
        {
            C.AI or C.SG or C.XX => C.AL,
            C.CJ => C.NS,
            C.SA => Rune.IsValid(codePoint)
            && Rune.GetUnicodeCategory(new Rune(codePoint)) is UnicodeCategory.NonSpacingMark or UnicodeCategory.SpacingCombiningMark
                ? C.CM
                : C.AL,
            _ => c,
        };
    }

    /// <summary>Wide brackets, which LB30 leaves out, and the unassigned pictographs of LB30b.</summary>
    private static bool IsWide(int cp) =>
        cp
            is 0x2329
                or 0x232A
                or (>= 0x3008 and <= 0x301B)
                or (>= 0xFE17 and <= 0xFE18)
                or (>= 0xFE35 and <= 0xFE5E)
                or (>= 0xFF08 and <= 0xFF63);

    private static bool IsUnassignedPictograph(int cp) =>
        cp
            is (>= 0x1F02C and <= 0x1F02F)
                or (>= 0x1F094 and <= 0x1F09F)
                or (>= 0x1F0AF and <= 0x1F0B0)
                or 0x1F0C0
                or 0x1F0D0
                or (>= 0x1F0F6 and <= 0x1F0FF)
                or (>= 0x1F1AE and <= 0x1F1E5)
                or (>= 0x1F203 and <= 0x1F20F)
                or (>= 0x1F23C and <= 0x1F23F)
                or (>= 0x1F249 and <= 0x1F24F)
                or (>= 0x1F252 and <= 0x1F25F)
                or (>= 0x1F266 and <= 0x1F2FF)
                or (>= 0x1F6D8 and <= 0x1F6DB)
                or (>= 0x1F6ED and <= 0x1F6EF)
                or (>= 0x1F6FD and <= 0x1F6FF)
                or (>= 0x1F774 and <= 0x1F77F)
                or (>= 0x1F7D5 and <= 0x1F7FF)
                or (>= 0x1FA54 and <= 0x1FAFF)
                or (>= 0x1FC00 and <= 0x1FFFD);

    /// <summary>Fills <paramref name="before"/> (one byte for each UTF-16 unit) with what stands before each character.
    /// Nothing is said of the end of the text, where a break always is.</summary>
    /// <param name="squares">tailored for Chinese and Japanese: quotation marks beside characters in squares open and close as brackets
    /// do; small kana and the sign of length begin no line (strict, JIS X 4051)</param>
    /// <param name="loose">in short lines of squares: small kana, the sign of length and signs of repetition begin a line like any other
    /// character (JLREQ 3.1.7, note; CSS Text 3, 5.2, loose)</param>
    public static void Find(ReadOnlySpan<char> text, Span<byte> before, bool squares = false, bool loose = false)
    {
        before[..text.Length].Clear();
        // previous: the class that the rules see before this place (after LB9, LB10); base: the same before any spaces.
        C previous = C.BK,
            beforeSpaces = C.BK,
            lastRaw = C.BK,
            twoBack = C.BK;
        int previousPoint = 0,
            regional = 0;
        bool start = true,
            inNumber = false,
            numberClosed = false;
        for (var i = 0; i < text.Length; )
        {
            Rune.DecodeFromUtf16(text[i..], out var rune, out var length);
            var point = rune.Value;
            var raw = loose && BeginsLoosely(point) ? C.ID : ClassOf(point);
            var at = i;
            if (squares && raw == C.QU && (Scripts.Before(text, at).IsSquare() || Scripts.At(text, at + length).IsSquare()))
                raw =
                    point is '‘' or '“' ? C.OP
                    : point is '’' or '”' ? C.CL
                    : raw;
            i += length;
            if (start)
            {
                start = false;
                previous = raw is C.CM or C.ZWJ ? C.AL : raw;
                beforeSpaces = previous;
                lastRaw = raw;
                previousPoint = point;
                regional = raw == C.RI ? 1 : 0;
                inNumber = previous == C.NU;
                continue;
            }
            var combines = raw is C.CM or C.ZWJ && !(previous is C.BK or C.CR or C.LF or C.NL or C.SP or C.ZW);
            if (combines)
            {
                lastRaw = raw; // LB9: takes on the class of what it stands on
                continue;
            }
            var c = raw is C.CM or C.ZWJ ? C.AL : raw; // LB10
            var number = Numeric(previous, c, inNumber, numberClosed, c == C.OP && i < text.Length && Next(text[i..]) == C.NU);
            before[at] = Rule(previous, beforeSpaces, twoBack, lastRaw, c, previousPoint, point, regional, number);

            numberClosed = c switch
            {
                C.NU => false,
                C.CL or C.CP => inNumber && !numberClosed,
                C.PO or C.PR => false,
                _ => false,
            };
            inNumber = c == C.NU || (inNumber && (c is C.SY or C.IS || c is C.CL or C.CP));
            regional = c == C.RI ? (previous == C.RI ? regional + 1 : 1) : 0;
            twoBack = previous;
            if (c != C.SP)
                beforeSpaces = c;
            else if (previous is C.BK or C.CR or C.LF or C.NL)
                beforeSpaces = C.SP;
            previous = c;
            lastRaw = raw;
            previousPoint = point;
        }
    }

    private static C Next(ReadOnlySpan<char> rest)
    {
        Rune.DecodeFromUtf16(rest, out var rune, out _);
        return ClassOf(rune.Value);
    }

    /// <summary>LB25 in the form of the annex's example 7 (tailored numbers): inside a number, its signs and its brackets.</summary>
    private static bool Numeric(C a, C b, bool inNumber, bool closed, bool opensNumber) =>
        (a, b) switch
        {
            (C.CL or C.CP, C.PO or C.PR) => closed,
            (C.NU, C.PO or C.PR) => true,
            (C.SY or C.IS, C.PO or C.PR) => inNumber,
            (C.PO or C.PR, C.OP) => opensNumber,
            (C.PO or C.PR or C.HY or C.NU, C.NU) => true,
            (C.SY or C.IS, C.NU) => inNumber,
            _ => false,
        };

    private static byte Rule(C a, C s, C twoBack, C rawBefore, C b, int pointA, int pointB, int regional, bool number)
    {
        if (a is C.BK || (a is C.CR && b != C.LF) || a is C.LF or C.NL)
            return Must; // LB4, LB5
        if (b is C.BK or C.CR or C.LF or C.NL)
            return None; // LB6
        if (b is C.SP or C.ZW)
            return None; // LB7
        if (s == C.ZW && a is C.ZW or C.SP)
            return May; // LB8
        if (rawBefore == C.ZWJ)
            return None; // LB8a
        if (b == C.WJ || a == C.WJ)
            return None; // LB11
        if (a == C.GL)
            return None; // LB12
        if (b == C.GL && a is not (C.SP or C.BA or C.HY))
            return None; // LB12a
        if (b is C.CL or C.CP or C.EX or C.IS or C.SY)
            return None; // LB13
        if (s == C.OP)
            return None; // LB14
        if (s == C.QU && b == C.OP)
            return None; // LB15
        if (s is C.CL or C.CP && b == C.NS)
            return None; // LB16
        if (s == C.B2 && b == C.B2)
            return None; // LB17
        if (a == C.SP)
            return May; // LB18
        if (b == C.QU || a == C.QU)
            return None; // LB19
        if (b == C.CB || a == C.CB)
            return May; // LB20
        if (b is C.BA or C.HY or C.NS || a == C.BB)
            return None; // LB21
        if (twoBack == C.HL && a is C.HY or C.BA)
            return None; // LB21a
        if (a == C.SY && b == C.HL)
            return None; // LB21b
        if (b == C.IN)
            return None; // LB22
        if ((a is C.AL or C.HL && b == C.NU) || (a == C.NU && b is C.AL or C.HL))
            return None; // LB23
        if (a == C.PR && b is C.ID or C.EB or C.EM)
            return None; // LB23a
        if (a is C.ID or C.EB or C.EM && b == C.PO)
            return None;
        if (a is C.PR or C.PO && b is C.AL or C.HL)
            return None; // LB24
        if (a is C.AL or C.HL && b is C.PR or C.PO)
            return None;
        if (number)
            return None; // LB25
        if (a == C.JL && b is C.JL or C.JV or C.H2 or C.H3)
            return None; // LB26
        if (a is C.JV or C.H2 && b is C.JV or C.JT)
            return None;
        if (a is C.JT or C.H3 && b == C.JT)
            return None;
        if (a is C.JL or C.JV or C.JT or C.H2 or C.H3 && b == C.PO)
            return None; // LB27
        if (a == C.PR && b is C.JL or C.JV or C.JT or C.H2 or C.H3)
            return None;
        if (a is C.AL or C.HL && b is C.AL or C.HL)
            return None; // LB28
        if (a == C.IS && b is C.AL or C.HL)
            return None; // LB29
        if (a is C.AL or C.HL or C.NU && b == C.OP && !IsWide(pointB))
            return None; // LB30
        if (a == C.CP && b is C.AL or C.HL or C.NU && !IsWide(pointA))
            return None;
        if (a == C.RI && b == C.RI && regional % 2 == 1)
            return None; // LB30a
        if (b == C.EM && (a == C.EB || IsUnassignedPictograph(pointA)))
            return None; // LB30b
        return May; // LB31
    }
}
