using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;
using Kivren.Core.References;
using Kivren.Core.Selection;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>What setting a division reads besides its blocks: numbers, variables, and what the pass before found.</summary>
internal sealed class SettingContext(
    SelectedText text,
    ManualNumbers numbers,
    Look look,
    IReferencePlaces places,
    Func<Id, string?> noteNumber,
    Func<string, Hyphenator?> hyphenators
)
{
    public Look Look => look;
    public ManualNumbers Numbers => numbers;
    public Manual Manual => text.Manual;

    public Hyphenator? Hyphenator(string language) => hyphenators(language);

    public string Print(CrossReference reference) => ReferenceText.Of(reference, numbers.Find(reference.Target)?.Target, look, places);

    public bool Exists(CrossReference reference) => reference.Other is not null || numbers.Find(reference.Target) is not null;

    public Id TargetOf(CrossReference reference) => numbers.Resolve(reference.Target);

    public string? Variable(string name) => text.Variable(name);

    public bool HasPassage(string name) => text.Manual.Passages.Any(p => p.Name == name);

    /// <summary>A label that may depend on the page: the number of a note counted by page, else what numbering says.</summary>
    public string Label(DivisionNumbers division, Id id) => noteNumber(id) ?? division.Label(id);

    public bool IsAmbiguous(CrossReference reference) => text.Ambiguous.Any(a => a.Reference == reference.Id);
}
