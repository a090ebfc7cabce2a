namespace Kivren.Core.Type;

// What stays whole where lines might break, and where long names and addresses may be divided.
public sealed partial class LineSetter
{
    /// <summary>Whether a name may be divided before a character: behind a sign that joins its parts, not behind the first sign of a path,
    /// and not in a word with an apostrophe.</summary>
    private static bool IsJoint(string word, int at) =>
        at > 0
        && (char.IsLetterOrDigit(word[at]) || word[at] == '_')
        && Joints.Contains(word[at - 1], StringComparison.Ordinal)
        && word.AsSpan(0, at - 1).ContainsAnyInRange('0', 'z')
        && !(char.IsDigit(word[at]) && char.IsDigit(word[at - 2]));

    /// <summary>Signs that join the parts of a name, a call or an address.</summary>
    private const string Joints = ".,=()/\\_:;&?#[]{}+@|";

    /// <summary>The text for the order of its runs: program text and addresses are read from the left as a whole, so each counts as
    /// letters.</summary>
    private static string WithNames(string s, StyledText text)
    {
        static bool IsName(in StyledSpan span) =>
            span.Web is not null
            || ReferenceEquals(span.Style.Face, FaceLibrary.Code)
            || ReferenceEquals(span.Style.Face, FaceLibrary.CodeStrong);
        if (!text.Spans.Exists(span => IsName(span)))
            return s;
        var letters = s.ToCharArray();
        for (var n = 0; n < text.Spans.Count; n++)
        {
            var span = text.Spans[n];
            var end = n + 1 < text.Spans.Count ? text.Spans[n + 1].Start : s.Length;
            if (!IsName(span) || Bidi.IsNeeded(s.AsSpan(span.Start, end - span.Start)))
                continue;
            for (var at = span.Start; at < end; at++)
                if (letters[at] != '\u2028')
                    letters[at] = 'a';
        }
        return new string(letters);
    }

    /// <summary>Numbers as books print them stay whole beyond what UAX #14 asks: A.1, 12–14, 3,5.</summary>
    private static bool HoldsNumber(string s, int at) =>
        HoldsUnit(s, at)
        || at + 1 <= s.Length && at > 1 && char.IsAsciiDigit(s[at]) && s[at - 1] is '.' or ',' or '–' && char.IsLetterOrDigit(s[at - 2]);

    /// <summary>A path stays with its first stroke: alone at a line's end it reads as another thing.</summary>
    private static bool HoldsPath(string s, int at) =>
        s[at - 1] == '/' && (at < 2 || char.IsWhiteSpace(s[at - 2]) || s[at - 2] is '(' or '[' or '“' or '‘' or '"' or '\'' or '~' or '.');

    /// <summary>A unit with a stroke in it stays whole: m/s, km/h.</summary>
    private static bool HoldsUnit(string s, int at)
    {
        if (s[at - 1] != '/')
            return false;
        int from = at - 1,
            end = at;
        while (from > 0 && at - from < 4 && char.IsLetterOrDigit(s[from - 1]))
            from--;
        while (end < s.Length && end - at < 4 && char.IsLetterOrDigit(s[end]))
            end++;
        return Units.Spans.Contains(s.AsSpan(from, end - from));
    }

    /// <summary>Whether the space from <paramref name="from"/> up to <paramref name="to"/> stands between a number and its
    /// unit, or after an initial.</summary>
    private static bool Holds(string s, int from, int to)
    {
        if (from == 0 || to >= s.Length)
            return false;
        if (char.IsAsciiDigit(s[from - 1]))
        {
            var end = to;
            while (
                end < s.Length
                && end - to < 5
                && !char.IsWhiteSpace(s[end])
                && s[end] is not ('.' or ',' or ';' or ':' or ')' or '?' or '!' or '–' or NoBreakSpace)
            )
                end++;
            return end > to && Units.Spans.Contains(s.AsSpan(to, end - to));
        }
        return s[from - 1] == '.'
            && from >= 2
            && char.IsUpper(s[from - 2])
            && (from == 2 || !char.IsLetterOrDigit(s[from - 3]))
            && char.IsUpper(s[to]);
    }

    /// <summary>A web address may be divided, without a hyphen, after / . - _ ? and &amp;.</summary>
    private void OpenAddress(string s, int start, int end)
    {
        for (var i = start + 1; i < end; i++)
            if (s[i - 1] is '/' or '.' or '-' or '_' or '?' or '&' && char.IsLetterOrDigit(s[i]) && _before[i] == LineBreaks.None)
                _before[i] = LineBreaks.May;
    }

    /// <summary>A long name of program text may be divided, without a hyphen, after :: / _ ( and a comma; a short one stays
    /// whole.</summary>
    /// <param name="dots">after a dot, too</param>
    private void OpenNames(string s, int start, int end, bool dots)
    {
        const int longName = 10;
        for (var from = start; from < end; from++)
        {
            var to = from;
            while (to < end && !char.IsWhiteSpace(s[to]))
                to++;
            for (var i = from + 2; i < to && to - from >= longName; i++)
                if (
                    char.IsLetterOrDigit(s[i])
                    && (s[i - 1] is '/' or '_' or '(' or ',' || (dots && s[i - 1] == '.') || (s[i - 1] == ':' && s[i - 2] == ':'))
                    && _before[i] == LineBreaks.None
                    && !HoldsPath(s, i)
                )
                    _before[i] = LineBreaks.May;
            from = to;
        }
    }
}
