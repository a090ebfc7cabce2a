using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;
using Kivren.Core.Content;

namespace Kivren.Core.Looks;

/// <summary>A look as it is in a medium: what its <see cref="ScreenRules"/> say, and where text flows nothing that names a
/// page.</summary>
public static partial class LookForMedium
{
    // Beside the looks, not in them: the same look gives the same object, by which caches know it.
    private static readonly ConditionalWeakTable<Look, Look?[]> Known = [];

    /// <param name="withoutBlanks">the edition wants no blank pages, whatever the look says</param>
    public static Look For(this Look look, Medium? medium, bool withoutBlanks = false)
    {
        if (medium is not (Medium.Screen or Medium.Flowing))
            return look;
        var known = Known.GetValue(look, static _ => new Look?[4]);
        return known[(medium == Medium.Flowing ? 2 : 0) + (withoutBlanks ? 1 : 0)] ??= Made(look, medium.Value, withoutBlanks);
    }

    private static Look Made(Look look, Medium medium, bool withoutBlanks)
    {
        var rules = look.Screens;
        var made = look;
        if (withoutBlanks || !rules.Sided)
            made = made with { Sided = false };
        if (rules.OneMargin)
            made = made with { Masters = [.. made.Masters.Select(OneMargined)] };
        if (medium == Medium.Flowing || !rules.PageWords)
            made = made with
            {
                PageAfterReferences = false,
                ReferenceForms = [.. made.ReferenceForms.Select(f => f with { Pattern = WithoutPage(f.Pattern) })],
            };
        return made;
    }

    private static PageMaster OneMargined(PageMaster master)
    {
        if (!master.Mirrored)
            return master;
        // Text keeps its measure: what one margin gives the other takes.
        var inner = new Length((master.Inner.Millipoints + master.Outer.Millipoints) / 2);
        return master with { Mirrored = false, Inner = inner, Outer = master.Inner + master.Outer - inner };
    }

    [GeneratedRegex(@"\{[^{}]*\}", RegexOptions.CultureInvariant)]
    private static partial Regex Source();

    /// <summary>A pattern without the page and the words that lead to it: what stands from its first other source to its last, with
    /// the quotation marks and brackets about them. One that has nothing but the page says the title.</summary>
    private static string WithoutPage(string pattern)
    {
        static bool IsPage(Match m) => m.Value is "{folio}" or "{page-phrase}";
        var sources = Source().Matches(pattern).ToList();
        if (!sources.Exists(IsPage))
            return pattern;
        var first = sources.FindIndex(s => !IsPage(s));
        if (first < 0)
            return "“{title}”";
        var last = sources.FindLastIndex(s => !IsPage(s));
        var from = first == 0 ? 0 : Opens(pattern, sources[first].Index);
        var page = sources.FindIndex(first, s => IsPage(s));
        if (page >= 0 && page < last)
            last = page - 1;
        var end = Closes(pattern, sources[last].Index + sources[last].Length);
        return pattern[from..end];
    }

    private static int Opens(string pattern, int at)
    {
        while (at > 0 && pattern[at - 1] is '“' or '‘' or '«' or '„' or '(' or '"' or '\'')
            at--;
        return at;
    }

    private static int Closes(string pattern, int at)
    {
        while (at < pattern.Length && pattern[at] is '”' or '’' or '»' or '“' or ')' or '"' or '\'')
            at++;
        return at;
    }
}
