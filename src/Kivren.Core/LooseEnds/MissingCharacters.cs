using System.Globalization;
using Kivren.Core.Content;

namespace Kivren.Core.LooseEnds;

/// <summary>Characters that no face has, told each at its place while they are few. A manual in a script without a face has thousands:
/// then one loose end says which characters, how often and where.</summary>
internal static class MissingCharacters
{
    private const int Few = 6,
        MostShown = 30,
        MostPages = 12;

    /// <param name="folio">of the page that a block begins on</param>
    public static void Gather(List<LooseEnd> loose, Func<Id, string> folio)
    {
        var missing = loose.FindAll(l => l.Kind == LooseEndKind.MissingCharacter);
        if (missing.Count <= Few)
            return;
        var characters = missing.SelectMany(m => m.Words.EnumerateRunes()).Distinct().ToList();
        var pages = missing.Select(m => folio(m.Block)).Where(f => f.Length > 0).Distinct().ToList();
        var shown = string.Concat(characters.Take(MostShown)) + (characters.Count > MostShown ? " …" : "");
        var on = string.Join(", ", pages.Take(MostPages)) + (pages.Count > MostPages ? " …" : "");
        string Count(int n) => n.ToString(CultureInfo.InvariantCulture);
        loose.RemoveAll(l => l.Kind == LooseEndKind.MissingCharacter);
        loose.Add(
            missing[0] with
            {
                Words = shown,
                Message =
                    $"No face has {Count(characters.Count)} of the characters, in {Count(missing.Count)} places on {Count(pages.Count)} "
                    + $"{(pages.Count == 1 ? "page" : "pages")} ({on}); they print as boxes. Give the look a face that has them.",
            }
        );
    }
}
