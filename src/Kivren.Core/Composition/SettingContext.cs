using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;
using Kivren.Core.References;
using Kivren.Core.Selection;

namespace Kivren.Core.Composition;

/// <summary>What setting a division reads besides its blocks: numbers, variables, and the folios of the pass before.</summary>
internal sealed class SettingContext(SelectedText text, ManualNumbers numbers, Look look, Func<Id, string> folio)
{
    public Look Look => look;
    public ManualNumbers Numbers => numbers;
    public Manual Manual => text.Manual;

    public string Print(CrossReference reference) => ReferenceText.Of(reference, numbers.Find(reference.Target)?.Target, look, folio);

    public bool Exists(CrossReference reference) => numbers.Find(reference.Target) is not null;

    public Id TargetOf(CrossReference reference) => numbers.Resolve(reference.Target);

    public string? Variable(string name) => text.Variable(name);
}
