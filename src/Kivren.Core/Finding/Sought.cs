using System.Text.RegularExpressions;

namespace Kivren.Core.Finding;

/// <summary>What is looked for in the words of a manual.</summary>
/// <param name="Words">as typed; a regular expression when <paramref name="Pattern"/></param>
/// <param name="WholeWords">not inside a longer word</param>
/// <param name="SameCase">capitals and small letters as typed</param>
/// <param name="Where">the only places that are looked at; null for all</param>
public sealed record Sought(string Words, bool WholeWords = false, bool SameCase = false, bool Pattern = false, SoughtPlace? Where = null)
{
    public const int LongestWords = 500;

    /// <summary>As an expression that takes time in proportion to the text, whatever it says: without looking back and references to
    /// what was matched, which can take for ever.</summary>
    /// <param name="why">what is wrong with it</param>
    /// <returns>null when nothing can be looked for</returns>
    internal Regex? Expression(out string why)
    {
        why = "";
        if (Words.Length is 0 or > LongestWords)
        {
            why = $"Say what to look for, in up to {LongestWords} letters.";
            return null;
        }
        var text = Pattern ? $"(?:{Words})" : Regex.Escape(Words);
        if (WholeWords)
            text = Edge(Words[0]) + text + Edge(Words[^1]);
        var options = RegexOptions.CultureInvariant | RegexOptions.NonBacktracking;
        try
        {
            return new Regex(text, SameCase ? options : options | RegexOptions.IgnoreCase);
        }
        catch (ArgumentException e)
        {
            why = $"This is no regular expression: {e.Message}";
        }
        catch (NotSupportedException)
        {
            why = "This expression looks ahead, back or at what it matched before, which could take for ever. Write it without that.";
        }
        return null;
    }

    private string Edge(char letter) => Pattern || char.IsLetterOrDigit(letter) ? @"\b" : "";
}
