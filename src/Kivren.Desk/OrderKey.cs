namespace Kivren.Desk;

/// <summary>Keys that sort by their bytes and always leave a place between any two.</summary>
public static class OrderKey
{
    private const string Digits = "0123456789abcdefghijklmnopqrstuvwxyz";

    /// <summary>A key between two; null stands for the beginning or the end. Never ends in the lowest digit, so that
    /// there is always room below it.</summary>
    /// <exception cref="ArgumentException">when <paramref name="before"/> does not sort before <paramref name="after"/></exception>
    public static string Between(string? before, string? after)
    {
        if (before is not null && after is not null && string.CompareOrdinal(before, after) >= 0)
            throw new ArgumentException($"'{before}' does not sort before '{after}'.", nameof(before));
        var key = new System.Text.StringBuilder();
        var bounded = after is not null;
        for (var i = 0; ; i++)
        {
            var low = before is not null && i < before.Length ? Digits.IndexOf(before[i], StringComparison.Ordinal) : 0;
            var high = bounded ? (i < after!.Length ? Digits.IndexOf(after[i], StringComparison.Ordinal) : 0) : Digits.Length;
            if (high - low > 1)
            {
                // Appending at the end is by far the most usual: small steps there keep keys short.
                var middle = bounded ? low + (high - low) / 2 : low + 1;
                return key.Append(Digits[middle]).ToString();
            }
            key.Append(Digits[low]);
            if (high > low)
                bounded = false;
        }
    }

    /// <summary>Keys for <paramref name="count"/> rows in order, evenly apart.</summary>
    public static string Even(int index, int count)
    {
        var width = 1;
        for (long room = 36; room < (count + 1L) * 36; room *= 36)
            width++;
        long space = 1;
        for (var i = 0; i < width; i++)
            space *= 36;
        var value = space / (count + 1) * (index + 1);
        var key = new char[width + 1];
        for (var i = width - 1; i >= 0; i--, value /= 36)
            key[i] = Digits[(int)(value % 36)];
        key[width] = 'i';
        return new string(key);
    }

    /// <summary>Keys for a row of places in order, where some have theirs (rising) and the others have null: each gets one
    /// between its neighbours. Halving keeps the keys of a long run short.</summary>
    public static string[] Filled(IReadOnlyList<string?> keys)
    {
        var filled = new string[keys.Count];
        string? last = null;
        for (var i = 0; i < keys.Count; )
        {
            if (keys[i] is { } key)
            {
                filled[i++] = last = key;
                continue;
            }
            var end = i;
            while (end < keys.Count && keys[end] is null)
                end++;
            Halve(filled, i, end, last, end < keys.Count ? keys[end] : null);
            last = filled[end - 1];
            i = end;
        }
        return filled;
    }

    private static void Halve(string[] keys, int from, int to, string? low, string? high)
    {
        if (from >= to)
            return;
        // A single row at the end takes the next small step, as typing does.
        var middle = high is null && to - from == 1 ? from : (from + to) / 2;
        keys[middle] = Between(low, high);
        Halve(keys, from, middle, low, keys[middle]);
        Halve(keys, middle + 1, to, keys[middle], high);
    }
}
