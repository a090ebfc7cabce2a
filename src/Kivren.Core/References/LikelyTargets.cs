using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Numbering;

namespace Kivren.Core.References;

/// <summary>What a reference pointed at when it pointed at something last.</summary>
/// <param name="Printed">its words then</param>
public sealed record LostTarget(string Name, string Number, string Title, string Printed);

/// <summary>Where a reference to nothing may have been meant to point: what is likest to what it printed last.</summary>
public static class LikelyTargets
{
    /// <param name="division">in which the reference stands: of two alike the nearer is likelier</param>
    public static List<(Target Target, Id Division)> Of(ComposedManual composed, LostTarget lost, Id division, int most)
    {
        var words = Pairs(lost.Title.Length > 0 ? lost.Title : lost.Printed);
        var here = composed.Numbers.Find(division)?.Division ?? 0;
        var ranked = new List<(double Likeness, Target Target, Id Division)>();
        for (var d = 0; d < composed.Numbers.Divisions.Count; d++)
            foreach (var target in composed.Numbers.Divisions[d].Targets)
            {
                if (target.Title.Length == 0 || target.Kind is TargetKind.Block or TargetKind.Item or TargetKind.Note)
                    continue;
                var likeness = Likeness(words, Pairs(target.Title));
                if (target.Name == lost.Name && lost.Name.Length > 0)
                    likeness += .08;
                if (target.Number == lost.Number && lost.Number.Length > 0)
                    likeness += .12;
                likeness += .1 / (1 + Math.Abs(d - here));
                if (likeness > .15)
                    ranked.Add((likeness, target, composed.Numbers.Divisions[d].Division.Id));
            }
        return
        [
            .. ranked
                .OrderByDescending(r => r.Likeness)
                .ThenBy(r => r.Target.Id.Value, StringComparer.Ordinal)
                .Take(most)
                .Select(r => (r.Target, r.Division)),
        ];
    }

    /// <summary>Pairs of letters of the words, as Dice's coefficient counts them.</summary>
    private static List<(char, char)> Pairs(string text)
    {
        var pairs = new List<(char, char)>();
        foreach (var word in text.ToLowerInvariant().Split([' ', '\u00A0', '-', ',', '“', '”'], StringSplitOptions.RemoveEmptyEntries))
        {
            pairs.Add((' ', word[0]));
            for (var i = 1; i < word.Length; i++)
                pairs.Add((word[i - 1], word[i]));
        }
        return pairs;
    }

    private static double Likeness(List<(char, char)> a, List<(char, char)> b)
    {
        if (a.Count == 0 || b.Count == 0)
            return 0;
        var left = b.ToList();
        var same = a.Count(left.Remove);
        return 2.0 * same / (a.Count + b.Count);
    }
}
