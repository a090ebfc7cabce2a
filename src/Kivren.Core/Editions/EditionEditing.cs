using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Planning;

namespace Kivren.Core.Editions;

/// <summary>An act on the editions of a manual.</summary>
public abstract record EditionAct
{
    private EditionAct() { }

    /// <summary>An edition as it is to be.</summary>
    /// <param name="Name">of the one that it takes the place of; null for a new one</param>
    /// <param name="Was">that one as who asks saw it: another’s change in between is not lost. Null not to ask</param>
    public sealed record Put(Edition Edition, string? Name, Edition? Was) : EditionAct;

    public sealed record TakeOut(string Name) : EditionAct;
}

/// <summary>Acts on editions as pure functions of the manual.</summary>
public static class EditionEditing
{
    public const int MostEditions = 60,
        LongestName = 80,
        MostTaken = 5_000;

    /// <param name="same">whether two editions say the same</param>
    public static PlanResult Apply(Manual manual, EditionAct act, Func<Edition, Edition, bool> same) =>
        act switch
        {
            EditionAct.Put put => Put(manual, put, same),
            EditionAct.TakeOut { Name: var name } => manual.Editions.All(e => e.Name != name)
                ? PlanResult.No($"There is no edition “{name}”.")
                : new PlanResult(
                    manual with
                    {
                        Editions = [.. manual.Editions.Where(e => e.Name != name)],
                    },
                    $"Taking out the edition “{name}”",
                    null
                ),
            _ => throw new NotSupportedException(act.GetType().Name),
        };

    private static PlanResult Put(Manual manual, EditionAct.Put put, Func<Edition, Edition, bool> same)
    {
        var edition = put.Edition with { Name = put.Edition.Name.Trim() };
        if (Fault(manual, edition) is { } fault)
            return PlanResult.No(fault);
        var at = put.Name is null ? -1 : manual.Editions.ToList().FindIndex(e => e.Name == put.Name);
        if (put.Name is not null && at < 0)
            return PlanResult.No($"There is no edition “{put.Name}” any longer.");
        if (manual.Editions.Where((_, i) => i != at).Any(e => e.Name == edition.Name))
            return PlanResult.No($"There is an edition “{edition.Name}” already.");
        if (at < 0 && manual.Editions.Count >= MostEditions)
            return PlanResult.No($"A manual has up to {MostEditions} editions.");
        if (at < 0)
            return new PlanResult(manual with { Editions = [.. manual.Editions, edition] }, $"Adding the edition “{edition.Name}”", null);
        if (put.Was is { } was && !same(manual.Editions[at], was))
            return PlanResult.No($"Another writer changed “{put.Name}” meanwhile: look at it as it is now.");
        var editions = manual.Editions.ToArray();
        editions[at] = edition;
        return new PlanResult(
            manual with
            {
                Editions = editions,
            },
            put.Name == edition.Name ? $"Changing the edition “{edition.Name}”" : $"Renaming the edition “{put.Name}” to “{edition.Name}”",
            null
        );
    }

    /// <summary>Why no edition can be so; null when it can.</summary>
    public static string? Fault(Manual manual, Edition edition) =>
        edition.Name.Length is 0 or > LongestName || edition.Name.Any(char.IsControl)
            ? $"An edition has a name of up to {LongestName} letters."
        : edition.Takes.Count > MostTaken || edition.Takes.Sum(t => t.Sections.Count) > MostTaken || edition.LeavesOut.Count > MostTaken
            ? $"An edition names up to {MostTaken} divisions and sections."
        : edition.Takes.GroupBy(t => t.Division).FirstOrDefault(g => g.Count() > 1) is { } twice
            ? $"“{TitleOf(manual, twice.Key)}” stands twice in its order: a division is taken once."
        : edition.Takes.Any(t => t.Sections.Distinct().Count() != t.Sections.Count)
            ? "A section stands twice in its order: it is taken once."
        : edition.Chosen.FirstOrDefault(c => c.Values.Count == 0) is { } empty
            ? $"Choose a value of “{empty.Axis}”, or leave the condition open."
        : edition.Chosen.Where(c => c.Axis != Edition.MediumAxis).FirstOrDefault(c => !Knows(manual, c)) is { } unknown
            ? $"The manual has no condition “{unknown.Axis} {string.Join(" or ", unknown.Values)}”."
        : edition.Look is { } look && edition.LookFile is null && ShippedLooks.All.All(l => l.Name != look) ? $"There is no look “{look}”."
        : edition.LookFile is { } file && LookFile.Read(file, out var faults) is null
            ? $"The look cannot be worn. {string.Join(' ', faults.Take(3))}"
        : edition.Language is { } language && !IsLanguage(language) ? $"“{language}” is no language: name it as in “en-GB”."
        : edition.FilesCalled.Length > LongestName || edition.FilesCalled.Any(char.IsControl)
            ? $"Files are called by a rule of up to {LongestName} letters."
        : edition.GoesOutAs.Select(o => o.Fault()).FirstOrDefault(f => f is not null)
            ?? (
                edition.GoesOutAs.GroupBy(o => o.Kind).Any(g => g.Count() > 1) ? "An edition goes out once in each way."
                : edition.Variables.GroupBy(v => v.Name).Any(g => g.Count() > 1) ? "A variable has one text."
                : null
            );

    private static bool Knows(Manual manual, AxisValues chosen) =>
        manual.Conditions.FirstOrDefault(c => c.Axis == chosen.Axis) is { } known && chosen.Values.All(known.Values.Contains);

    private static string TitleOf(Manual manual, Id division) =>
        manual.Divisions.FirstOrDefault(d => d.Id == division)?.Title ?? division.Value;

    /// <summary>Whether it has the form of a language tag (BCP 47, 2.1): letters first, then parts of letters and digits.</summary>
    public static bool IsLanguage(string tag) =>
        tag.Length is >= 2 and <= 35
        && tag.Split('-') is var parts
        && parts[0].Length is 2 or 3
        && parts[0].All(char.IsAsciiLetter)
        && parts.Skip(1).All(p => p.Length is >= 1 and <= 8 && p.All(char.IsAsciiLetterOrDigit));
}
