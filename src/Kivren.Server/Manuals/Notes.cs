using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Desk;

namespace Kivren.Server.Manuals;

[GenerateSerializer, Immutable]
public sealed record StandingNote(
    string Id,
    string Division,
    string Block,
    string Folio,
    string By,
    string Text,
    string Words,
    bool Done,
    int Answers
);

/// <summary>The notes that writers left for one another, in the order of the text.</summary>
internal static class StandingNotes
{
    private const int Most = 2_000;

    public static StandingNote[] Of(DeskState state, ComposedManual? composed) =>
        [
            .. state
                .Divisions.SelectMany(d =>
                    d.Division.Blocks.SelectMany(b =>
                        b.Inlines().OfType<WriterNote>().Select(n => (Division: d.Id, Block: b.Id.Value, Note: n))
                    )
                )
                .Take(Most)
                .Select(n => new StandingNote(
                    n.Note.Id.Value,
                    n.Division,
                    n.Block,
                    composed?.Find(new Id(n.Block)) is { } at ? composed.Pages[at.Sheet].Folio : "",
                    n.Note.By,
                    n.Note.Text,
                    n.Note.Words,
                    n.Note.IsDone,
                    n.Note.Answers.Count
                )),
        ];
}
