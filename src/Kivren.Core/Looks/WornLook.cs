using System.Runtime.CompilerServices;
using Kivren.Core.Content;
using Kivren.Core.Planning;

namespace Kivren.Core.Looks;

/// <summary>The look that a manual wears: one that ships, or one that it carries as a file of its own.</summary>
public static class WornLook
{
    private static readonly ConditionalWeakTable<string, Look> Known = [];

    /// <summary>The same object for the same file, as long as the manual holds it.</summary>
    /// <exception cref="ArgumentException">there is no such look, or its file cannot be read: never another in its place</exception>
    public static Look Of(Manual manual) =>
        manual.LookFile is not { } file ? ShippedLooks.Named(manual.Look)
        : Known.TryGetValue(file, out var known) && !known.CanBeCompleted ? known
        : ReadAnew(manual.Look, file);

    /// <summary>The look of an edition: its own, or the manual's.</summary>
    /// <exception cref="ArgumentException">there is no such look, or its file cannot be read: never another in its place</exception>
    public static Look Of(Manual manual, Edition edition) => Of(manual.In(edition));

    /// <summary>The manual as it is dressed in an edition: in the edition's own look where it has one.</summary>
    public static Manual In(this Manual manual, Edition edition) =>
        edition.Look is { } own ? manual with { Look = own, LookFile = edition.LookFile } : manual;

    /// <summary>The font files that the manual's look and those of its editions bring along, each once, in a fixed order.</summary>
    public static IReadOnlyList<FontFile> FontFiles(Manual manual) =>
        [
            .. manual
                .Editions.Where(e => e.LookFile is not null)
                .SelectMany(e => Of(manual, e).FontFiles)
                .Concat(manual.LookFile is null ? [] : Of(manual).FontFiles)
                .DistinctBy(f => f.Hash)
                .OrderBy(f => f.Hash, StringComparer.Ordinal),
        ];

    private static Look ReadAnew(string name, string file)
    {
        // A face whose file has come meanwhile is worn from now on.
        Known.Remove(file);
        return Known.GetValue(file, text => Read(name, text));
    }

    /// <summary>As its file.</summary>
    public static string FileOf(Manual manual) => LookFile.Write(Of(manual));

    private static Look Read(string name, string text) =>
        LookFile.Read(text, out var faults)
        ?? throw new ArgumentException($"The look “{name}” cannot be worn. {string.Join(' ', faults)}", nameof(text));

    /// <summary>The manual in another look, which it carries from now on.</summary>
    public static Manual Wearing(this Manual manual, Look look) =>
        manual with
        {
            Look = look.Name,
            LookFile = ShippedLooks.All.Contains(look) ? null : LookFile.Write(look),
        };

    /// <summary>The act of putting a look on in an edition: an edition that has a look of its own gets it, else the manual.</summary>
    public static PlanResult PutOn(Manual manual, Edition edition, Look look)
    {
        if (edition.Look is null)
            return PutOn(manual, look);
        var put = PutOn(manual.In(edition), look);
        return put.Manual is not { } worn
            ? put
            : put with
            {
                Manual = manual with
                {
                    Editions =
                    [
                        .. manual.Editions.Select(e => e.Name == edition.Name ? e with { Look = worn.Look, LookFile = worn.LookFile } : e),
                    ],
                },
                Words = $"{put.Words}, in “{edition.Name}”",
            };
    }

    /// <summary>The act of putting a look on.</summary>
    public static PlanResult PutOn(Manual manual, Look look)
    {
        var worn = manual.Wearing(look);
        return worn.Look == manual.Look && worn.LookFile == manual.LookFile
            ? PlanResult.No($"The manual wears “{look.Name}” already.")
            : new PlanResult(
                worn,
                worn.Look == manual.Look
                    ? $"Changing the look: {LookDifference.Say(LookDifference.Between(Of(manual), look))}"
                    : $"Putting on “{look.Name}”",
                null
            );
    }
}
