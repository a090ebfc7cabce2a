using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Looks;
using Kivren.Core.Type;

namespace Kivren.Core.Lists;

/// <summary>What a piece of a list's line is.</summary>
public enum ListPiece
{
    Number,
    Title,
    Leader,
    Folio,
}

/// <summary>Where a piece stands on the sample, in millipoints from its left and top.</summary>
public readonly record struct PlacedPiece(ListPiece Piece, int X, int Y, int Width);

/// <summary>One line of a contents list set by itself, as it stands in the list.</summary>
public sealed record ListSample(DisplayPage Page, IReadOnlyList<PlacedPiece> Pieces)
{
    /// <summary>The first entry that a level takes; null where it takes none.</summary>
    /// <param name="at">the division that the list stands in, −1 for none</param>
    public static ListSample? Of(ComposedManual composed, ContentsDefinition definition, int level, int at)
    {
        var entries = ContentsEntry.Of(definition, composed.Numbers, Math.Max(0, at), composed.Places.Folio);
        if (entries.FindIndex(e => e.Line == level) is not (>= 0 and var first))
            return null;
        var entry = entries[first];
        var width = composed.Look.Master.Measure.Millipoints;
        var set = GeneratedLists.Contents(
            new ContentsList(new Id("sample"), definition.Name),
            definition,
            [entry],
            composed.Look,
            width,
            (_, make) => make()
        );
        var placed = new List<PlacedPiece>();
        var (y, line) = (0, 0);
        foreach (var piece in set.Pieces)
        {
            foreach (var drawn in piece.Drawn)
                if (drawn is DrawnLeader leader)
                    placed.Add(new PlacedPiece(ListPiece.Leader, leader.X, y, leader.To - leader.X));
                else if (drawn is DrawnLine words)
                {
                    var said = string.Concat(words.Line.Words.Select(w => w.Word.Characters(w.From, w.To).ToString()));
                    placed.Add(new PlacedPiece(PieceOf(said, entry, line++), words.X, y, words.Line.Width));
                }
            y += piece.Height;
        }
        return new ListSample(DisplayList.OfPieces(set.Pieces, width, composed.Look), placed);
    }

    private static ListPiece PieceOf(string said, ContentsEntry entry, int line)
    {
        static string Bare(string text) => string.Concat(text.Where(c => !char.IsWhiteSpace(c)));
        return entry.Folio.Length > 0 && said == Bare(entry.Folio) ? ListPiece.Folio
            : entry.Number.Length > 0 && (said == Bare(entry.Number) || said == Bare(entry.Name + entry.Number)) ? ListPiece.Number
            : line == 0 && entry.Name.Length > 0 && said == Bare(entry.Name) ? ListPiece.Number
            : ListPiece.Title;
    }
}
