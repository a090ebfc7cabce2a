namespace Kivren.Desk;

/// <summary>Which rows of a new order can keep the keys they had: a longest run of them that rises already.</summary>
internal static class RisingRun
{
    /// <param name="numbers">for each row in its new order, where it stood before; −1 when it stood elsewhere</param>
    /// <returns>for each row, whether it belongs to one longest rising run (patience sorting, n log n)</returns>
    public static bool[] Of(IReadOnlyList<int> numbers)
    {
        var tails = new List<int>();
        var before = new int[numbers.Count];
        for (var i = 0; i < numbers.Count; i++)
        {
            before[i] = -1;
            if (numbers[i] < 0)
                continue;
            int low = 0,
                high = tails.Count;
            while (low < high)
            {
                var middle = (low + high) / 2;
                if (numbers[tails[middle]] < numbers[i])
                    low = middle + 1;
                else
                    high = middle;
            }
            if (low > 0)
                before[i] = tails[low - 1];
            if (low == tails.Count)
                tails.Add(i);
            else
                tails[low] = i;
        }
        var stay = new bool[numbers.Count];
        for (var i = tails.Count > 0 ? tails[^1] : -1; i >= 0; i = before[i])
            stay[i] = true;
        return stay;
    }
}
