namespace Kivren.Core.Type;

/// <summary>Which half of its square a sign leaves white: an opening bracket the first, a closing one, a comma and a full stop the
/// second.</summary>
internal enum Side : byte
{
    None,
    Opens,
    Closes,
}

/// <summary>Signs among characters that stand in squares (JLREQ 3.1.2, CLREQ 3.1).</summary>
internal static class Squares
{
    /// <summary>No character before this one stands in a square, or beside one otherwise than as a letter.</summary>
    public const char First = '\u2018';

    private const string Opening = "‘“〈《「『【〔〖〘〝（［｛｟",
        Closing = "’”〉》」』】〕〗〙〟）］｝｠、。，．";

    public static Side SideOf(string text, int at, Writing writing)
    {
        var c = text[at];
        if (c < First)
            return Side.None;
        var side =
            Opening.Contains(c, StringComparison.Ordinal) ? Side.Opens
            : Closing.Contains(c, StringComparison.Ordinal) ? Side.Closes
            : Side.None;
        return side != Side.None && (c >= '\u3000' || (writing.IsSquare && IsSharedSign(text, at))) ? side : Side.None;
    }

    /// <summary>A sign that letters have too, and that stands in a square where its neighbours do.</summary>
    public static bool IsSharedSign(string text, int at) =>
        text[at] is '‘' or '’' or '“' or '”' or '…' or '‥' or '—' or '·'
        && (Scripts.Before(text, at).IsSquare() || Scripts.At(text, at + 1).IsSquare() || IsSharedBeside(text, at));

    private static bool IsSharedBeside(string text, int at) =>
        at > 1 && text[at - 1] is '…' or '—' or '”' or '’' && Scripts.Before(text, at - 1).IsSquare();

    /// <summary>A letter or a figure stands beside a character in a square.</summary>
    public static bool MeetsLetter(string text, int at)
    {
        if (at == 0)
            return false;
        var (before, here) = (Scripts.Before(text, at), Scripts.At(text, at));
        return before.IsSquare() != here.IsSquare()
            && IsLetter(text, before.IsSquare() ? at : at - 1)
            && IsCharacter(text, before.IsSquare() ? at - 1 : at);
    }

    private static bool IsLetter(string text, int at) => char.IsLetterOrDigit(text[at]) && Scripts.At(text, at) == Script.Common;

    /// <summary>No sign, which brings its own white.</summary>
    private static bool IsCharacter(string text, int at) => char.IsLetter(text[at]) || char.IsSurrogate(text[at]) || text[at] == '々';
}
