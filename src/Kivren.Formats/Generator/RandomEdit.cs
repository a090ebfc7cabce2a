using Kivren.Core.Content;

namespace Kivren.Formats.Generator;

/// <summary>One edit of the kinds writers make, anywhere: typing, splits, joins, moves of sections, deleted targets,
/// changed conditions, new entries and notes.</summary>
public static class RandomEdit
{
    public static Manual Apply(Manual manual, int seed, int edits)
    {
        var random = new Random(seed);
        for (; edits > 0; edits--)
            manual = Apply(manual, random);
        return manual;
    }

    public static Manual Apply(Manual manual, Random random)
    {
        var editable = manual
            .Divisions.Select((d, i) => (d, i))
            .Where(x => x.d.Blocks.OfType<Paragraph>().Any() && x.d.Kind is DivisionKind.Chapter or DivisionKind.Appendix)
            .ToList();
        if (editable.Count == 0)
            return manual;
        var (division, at) = editable[random.Next(editable.Count)];
        var blocks = division.Blocks.ToList();
        var b = random.Next(blocks.Count);
        switch (random.Next(8))
        {
            case 0 or 1 when blocks[b] is Paragraph typed:
                blocks[b] = typed with
                {
                    Content = [.. typed.Content, new TextRun(" " + string.Join(' ', Enumerable.Repeat("moored", random.Next(1, 40))))],
                };
                break;
            case 2 when blocks[b] is Paragraph { Content: [TextRun first, ..] } split:
                var cut = first.Text.Length / 2;
                blocks[b] = split with { Content = [first with { Text = first.Text[..cut] }] };
                blocks.Insert(
                    b + 1,
                    split with
                    {
                        Id = new Id($"s{random.Next()}"),
                        Content = [first with { Text = first.Text[cut..] }, .. split.Content.Skip(1)],
                    }
                );
                break;
            case 3 when b + 1 < blocks.Count && blocks[b] is Paragraph left && blocks[b + 1] is Paragraph right:
                blocks[b] = left with { Content = [.. left.Content, .. right.Content] };
                blocks.RemoveAt(b + 1);
                manual = manual with { Aliases = new Dictionary<Id, Id>(manual.Aliases) { [right.Id] = left.Id } };
                break;
            case 4 when blocks.Count > 3:
                blocks.RemoveAt(b); // perhaps the target of a reference
                break;
            case 5:
                var start = blocks.FindIndex(b, x => x is Head);
                if (start < 0)
                    break;
                var end = blocks.FindIndex(start + 1, x => x is Head h && h.Level <= ((Head)blocks[start]).Level);
                var section = blocks.GetRange(start, (end < 0 ? blocks.Count : end) - start);
                blocks.RemoveRange(start, section.Count);
                blocks.InsertRange(random.Next(blocks.Count + 1), section);
                break;
            case 6:
                blocks[b] = blocks[b] with { AppliesTo = new AppliesTo([new AxisValues("model", [random.Next(2) == 0 ? "6" : "6E"])]) };
                manual = manual with
                {
                    Editions = [new Edition("One") { Chosen = [new AxisValues("model", [random.Next(2) == 0 ? "6" : "6E"])] }],
                };
                break;
            default:
                blocks.Insert(
                    b,
                    new Paragraph(
                        new Id($"n{random.Next()}"),
                        "body",
                        [
                            new TextRun("A new line of text"),
                            new IndexEntry(new Id($"e{random.Next()}"), ["new " + random.Next(5)]),
                            new Footnote(new Id($"f{random.Next()}"), [new TextRun("With a note.")]),
                            new TextRun(" here."),
                        ]
                    )
                );
                break;
        }
        var divisions = manual.Divisions.ToList();
        divisions[at] = division with { Blocks = blocks };
        return manual with { Divisions = divisions };
    }
}
