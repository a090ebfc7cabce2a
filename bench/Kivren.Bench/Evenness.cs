using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Bench;

/// <summary>How even the justified lines of body text are, as an eye would judge them: by the spaces between words.</summary>
internal static class Evenness
{
    /// <param name="Deviation">of word spaces, as a share of their mean</param>
    /// <param name="Loose">share of lines whose spaces are over 1.6 times the median</param>
    /// <param name="HyphensInARow">the longest run of lines that end in a hyphen</param>
    public sealed record Figures(int Lines, double Deviation, double Loose, double Hyphenated, int HyphensInARow);

    public static Figures Of(ComposedManual composed)
    {
        var body = composed
            .Text.Divisions.SelectMany(d => d.Blocks)
            .OfType<Paragraph>()
            .Where(p => p.Role == "body")
            .Select(p => p.Id)
            .ToHashSet();
        var spaces = new List<double>();
        var lines = new List<double>();
        int hyphens = 0,
            run = 0,
            longest = 0;
        foreach (var galley in composed.Divisions.Select(d => d.Cut.Galley).Distinct())
        foreach (var block in galley.Blocks)
        {
            var set = block
                .Pieces.Where(p => body.Contains(p.Block))
                .SelectMany(p => p.Drawn.OfType<DrawnLine>())
                .Select(d => d.Line)
                .ToList();
            // The last line of a paragraph is as long as its words.
            foreach (var line in set.SkipLast(1))
            {
                var own = Spaces(line).ToList();
                if (own.Count == 0)
                    continue;
                spaces.AddRange(own);
                lines.Add(own.Average());
                run = line.EndsInHyphen ? run + 1 : 0;
                hyphens += line.EndsInHyphen ? 1 : 0;
                longest = Math.Max(longest, run);
            }
            run = 0;
        }
        var mean = spaces.Average();
        var median = lines.Order().ElementAt(lines.Count / 2);
        return new Figures(
            lines.Count,
            Math.Sqrt(spaces.Average(s => (s - mean) * (s - mean))) / mean,
            lines.Count(l => l > 1.6 * median) / (double)lines.Count,
            hyphens / (double)lines.Count,
            longest
        );
    }

    private static IEnumerable<double> Spaces(TextLine line)
    {
        for (var w = 0; w + 1 < line.Words.Length; w++)
            if (line.Words[w].SpaceAfter)
                yield return line.Words[w + 1].X - line.Words[w].X - line.Words[w].Width;
    }
}
