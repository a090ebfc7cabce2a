using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Mathematics;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Told of a loose end in spans.</summary>
/// <param name="subject">the atom that it is about; none for the words</param>
internal delegate void LooseSpan(LooseEndKind kind, string words, string message, Id subject = default);

/// <summary>Turns spans into styled text: words with the styles of their roles, references and variables resolved, atoms
/// marked where they stand.</summary>
internal sealed class SpanSetter(Readings reads, Manual manual, int measure, LooseSpan loose)
{
    /// <summary>Words in these roles are never divided.</summary>
    private const SpanRoles Undivided = SpanRoles.Code | SpanRoles.Control | SpanRoles.Key | SpanRoles.PartNumber;

    public void Add(StyledText styled, IReadOnlyList<Inline> spans, Dress dress, bool hyphenates)
    {
        foreach (var inline in spans)
            switch (inline)
            {
                case TextRun run:
                    var web = run.Web is null || WebAddress.Leads(run.Web) ? run.Web : null;
                    if (web != run.Web)
                        loose(
                            LooseEndKind.AddressRefused,
                            run.Text,
                            $"“{run.Web}” is no address that a reader can be sent to; only http, https, mailto and tel are. The "
                                + $"words print without a link."
                        );
                    styled.Add(
                        run.Text,
                        dress.Style(run.Roles, run.OwnRole, leads: web is not null || !run.LeadsTo.IsNone),
                        hyphenates && (run.Roles & Undivided) == 0 && web is null,
                        run.LeadsTo,
                        web,
                        run.Roles.HasFlag(SpanRoles.NoBreak)
                    );
                    break;
                case CrossReference reference:
                    Reference(styled, reference, dress, hyphenates);
                    break;
                case VariableUse variable:
                    var text = reads.Variable(variable.Name);
                    if (text is null)
                        loose(
                            LooseEndKind.UnknownVariable,
                            variable.Name,
                            $"There is no variable “{variable.Name}”. Define it, or write the words."
                        );
                    styled.Add(text ?? $"[no variable {variable.Name}]", dress.Plain, hyphenates);
                    break;
                case Footnote note:
                    if (
                        !note.Content.Any(i =>
                            i is not (TextRun or IndexEntry or Anchor or WriterNote) || i is TextRun { Text.Length: > 0 }
                        )
                    )
                        loose(LooseEndKind.NoteEmpty, styled.ToString(), "A footnote says nothing here. Write it, or take it out.");
                    styled.Note(note);
                    styled.Add(reads.NoteLabel(note.Id), dress.Raised, false, note.Id);
                    break;
                case FigureArea:
                    // The figure draws it on its picture, and its words in the key (FigureSetter).
                    break;
                case IndexEntry entry:
                    styled.Mark(entry.Kind == EntryKind.RangeEnd ? IndexTree.EndOf(entry.Id) : entry.Id);
                    break;
                case Anchor anchor:
                    styled.Mark(anchor.Id);
                    break;
                case InlineEquation equation:
                    styled.Mark(equation.Id);
                    var set = EquationSetter.Fitted(equation.Source, dress.Size, display: false, measure);
                    Problems(set, equation.Source);
                    styled.Add(
                        set.ToInset(equation.Id, equation.Alternative.Length > 0 ? equation.Alternative : equation.Source),
                        dress.Plain
                    );
                    break;
                case InlinePicture picture:
                    styled.Mark(picture.Id);
                    styled.Add(Picture(picture, dress), dress.Plain);
                    break;
                case LineBreak:
                    styled.Add("\u2028", dress.Plain, false);
                    break;
            }
    }

    private void Reference(StyledText styled, CrossReference reference, Dress dress, bool hyphenates)
    {
        styled.Mark(reference.Id);
        var exists = reads.Exists(reference);
        if (reference.Instead is { } instead)
            loose(
                LooseEndKind.ReferenceLeftOut,
                styled.ToString(),
                instead.Length > 0
                    ? $"What this cross-reference points at is left out of this edition, so here it reads {instead}."
                    : "What this cross-reference points at is left out of this edition, so here it says nothing.",
                reference.Id
            );
        else if (!exists)
            loose(
                LooseEndKind.ReferenceToNothing,
                styled.ToString(),
                "This cross-reference points at nothing: its target was taken out or is not in this edition. Point it at another "
                    + "place, or take it out.",
                reference.Id
            );
        else if (reads.IsAmbiguous(reference))
            loose(
                LooseEndKind.ReferenceAmbiguous,
                styled.ToString(),
                "This cross-reference points into a passage that two places equally near use. It takes the first; point it at one of them.",
                reference.Id
            );
        styled.Add(
            reads.Print(reference),
            dress.Style(SpanRoles.None, leads: exists && reference.Other is null),
            hyphenates,
            exists && reference.Other is null ? reads.TargetOf(reference) : default
        );
    }

    public void Problems(SetEquation set, string source)
    {
        if (set.Problem is { } problem)
            loose(LooseEndKind.EquationUnreadable, source, $"The equation cannot be read: {problem}. It prints as it was written.");
    }

    /// <summary>A picture as high as capitals and a little below the line.</summary>
    private Inset Picture(InlinePicture picture, Dress dress)
    {
        var asset = manual.Assets.FirstOrDefault(a => a.Name == picture.Asset);
        if (asset is null)
            loose(
                LooseEndKind.PictureMissing,
                picture.Asset,
                $"The picture “{picture.Asset}” is not in the manual. Bring it in, or point at another."
            );
        if (picture.Alternative.Length == 0)
            loose(LooseEndKind.NoAlternativeText, picture.Asset, "The small picture has no alternative text. Say in words what it shows.");
        int above = dress.Size.Scale(78, 100).Millipoints,
            below = dress.Size.Scale(14, 100).Millipoints,
            height = above + below;
        var width =
            asset is null || asset.Height <= 0 ? height : (int)Math.Clamp((long)height * asset.Width / asset.Height, 1, height * 8L);
        return new Inset(
            picture.Id,
            width,
            above,
            below,
            [new DrawnPicture(picture.Asset, picture.Alternative, 0, -above, width, height, picture.Id)],
            picture.Alternative
        );
    }
}
