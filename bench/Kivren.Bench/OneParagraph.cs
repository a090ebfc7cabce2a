using Kivren.Core.Content;

namespace Kivren.Bench;

/// <summary>What a writer does most: some words added to one paragraph, anywhere in the manual.</summary>
internal static class OneParagraph
{
    public static Manual Edited(Manual manual, Random random)
    {
        var places = manual.Divisions.SelectMany((d, at) => d.Blocks.Select((b, i) => (at, i, b))).Where(p => p.b is Paragraph).ToList();
        var (division, index, block) = places[random.Next(places.Count)];
        var paragraph = (Paragraph)block;
        var words = new TextRun(" " + string.Join(' ', Enumerable.Repeat("and a new word", random.Next(1, 12))) + ".");
        var divisions = manual.Divisions.ToList();
        var blocks = divisions[division].Blocks.ToList();
        blocks[index] = paragraph with { Content = [.. paragraph.Content, words] };
        divisions[division] = divisions[division] with { Blocks = blocks };
        return manual with { Divisions = divisions };
    }
}
