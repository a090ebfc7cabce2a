using System.Globalization;
using System.Text;
using Kivren.Core.Looks;

namespace Kivren.Core.Numbering;

/// <summary>Numbers as they are printed.</summary>
public static class NumberFormat
{
    public static string Decimal(int n) => n.ToString(CultureInfo.InvariantCulture);

    /// <summary>A, B … Z, AA, AB …; empty for numbers below one.</summary>
    public static string Alpha(int n)
    {
        var s = "";
        for (; n > 0; n = (n - 1) / 26)
            s = (char)('A' + (n - 1) % 26) + s;
        return s;
    }

    public static string In(NumberSigns signs, int n) =>
        signs switch
        {
            NumberSigns.RomanCapitals => Roman(n).ToUpperInvariant(),
            NumberSigns.Letters => Alpha(n),
            NumberSigns.None => "",
            _ => Decimal(n),
        };

    /// <summary>Lower-case roman; decimal from 4000 on, where roman has no letter.</summary>
    public static string Roman(int n)
    {
        if (n is <= 0 or >= 4000)
            return Decimal(n);
        ReadOnlySpan<(int, string)> signs =
        [
            (1000, "m"),
            (900, "cm"),
            (500, "d"),
            (400, "cd"),
            (100, "c"),
            (90, "xc"),
            (50, "l"),
            (40, "xl"),
            (10, "x"),
            (9, "ix"),
            (5, "v"),
            (4, "iv"),
            (1, "i"),
        ];
        var s = new StringBuilder();
        foreach (var (value, sign) in signs)
            for (; n >= value; n -= value)
                s.Append(sign);
        return s.ToString();
    }

    /// <summary>The number that a roman numeral stands for; a decimal one for itself.</summary>
    public static int OfRoman(string roman)
    {
        if (int.TryParse(roman, NumberStyles.None, CultureInfo.InvariantCulture, out var decimals))
            return decimals;
        static int Value(char c) =>
            c switch
            {
                'i' => 1,
                'v' => 5,
                'x' => 10,
                'l' => 50,
                'c' => 100,
                'd' => 500,
                'm' => 1000,
                _ => 0,
            };
        var sum = 0;
        for (var i = 0; i < roman.Length; i++)
            sum += i + 1 < roman.Length && Value(roman[i]) < Value(roman[i + 1]) ? -Value(roman[i]) : Value(roman[i]);
        return sum;
    }
}
