using Kivren.Core.Content;
using Kivren.Formats.Pictures;

namespace Kivren.Formats.Generator;

/// <summary>Makes a manual of any length in the vocabulary of the demo, the same for the same seed: for benchmarks and
/// property tests, with references, index entries, notes, tables and figures in the demo's proportions.</summary>
public sealed class ManualGenerator
{
    private static readonly string[] Nouns =
    [
        "cable",
        "sheave",
        "winch",
        "drum",
        "brake band",
        "lining",
        "crank",
        "deck",
        "ramp",
        "landing stage",
        "mooring line",
        "hull",
        "bilge pump",
        "controller",
        "signal lamp",
        "deckhand",
        "passenger",
        "shore line",
        "pawl",
        "grease nipple",
        "guard rail",
        "splice",
        "thimble",
        "anchor block",
        "current",
        "crossing",
        "load plate",
        "inspection window",
    ];
    private static readonly string[] Verbs =
    [
        "holds",
        "turns",
        "carries",
        "lifts",
        "keeps",
        "wears",
        "guides",
        "stops",
        "slips under",
        "bears on",
        "runs past",
        "locks",
        "leaves",
        "reaches",
        "warns of",
        "follows",
    ];
    private static readonly string[] Openers =
    [
        "Before each crossing",
        "When the wind rises",
        "In the first season",
        "After ten crossings",
        "With a full deck",
        "At low water",
        "If the drum is wet",
        "Once the ramp is down",
        "Whenever the cable sags",
        "On the far shore",
    ];
    private static readonly string[] Adjectives =
    [
        "upper",
        "lower",
        "worn",
        "new",
        "left",
        "right",
        "spare",
        "greased",
        "slack",
        "tight",
        "damaged",
        "wet",
    ];
    private static readonly string[] Tails =
    [
        "because a loose part works itself free",
        "so that nobody has to reach over the rail",
        "until the mark stands level with the plate",
        "which takes about a quarter of an hour",
        "and write the reading in the log",
        "as long as the water stays below the red line",
        "unless the works has said otherwise",
        "before anyone steps on the ramp",
    ];

    private readonly Random _random;
    private readonly string _prefix;
    private int _next;
    private readonly List<(Id Id, bool Numbered)> _targets = [];

    private readonly int _chapterPages;
    private readonly int _pointing;

    private ManualGenerator(int seed, int chapterPages, int pointing)
    {
        _chapterPages = chapterPages;
        _pointing = pointing;
        _random = new Random(seed);
        _prefix = "g" + seed.ToString(System.Globalization.CultureInfo.InvariantCulture) + "-";
    }

    private static readonly byte[] Picture = System.Text.Encoding.UTF8.GetBytes(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 320 120\"><circle cx=\"70\" cy=\"60\" r=\"44\" fill=\"none\" "
            + "stroke=\"#111\" stroke-width=\"1.4\"/><circle cx=\"70\" cy=\"60\" r=\"12\" fill=\"none\" stroke=\"#111\"/><path d=\"M110 "
            + "36H210M114 60H210M110 84H210\" stroke=\"#111\" stroke-width=\".7\"/><g font-size=\"10\" font-family=\"Source Sans 3\">"
            + "<text x=\"214\" y=\"39\">upper window</text><text x=\"214\" y=\"63\">middle window</text><text x=\"214\" y=\"87\">lower "
            + "window</text></g></svg>"
    );

    /// <param name="pages">about how many pages in the look Workshop, A5</param>
    /// <param name="chapterPages">about how many pages a chapter has</param>
    /// <param name="pointing">times as many index entries and references as the demo has</param>
    public static Package.Package Make(int pages, int seed, int chapterPages = 30, int pointing = 1)
    {
        var generator = new ManualGenerator(seed, chapterPages, pointing);
        return new Package.Package(
            generator.Manual(pages),
            new Dictionary<string, byte[]>(StringComparer.Ordinal) { ["windows.svg"] = Picture }
        );
    }

    private Id NewId() => new(_prefix + (++_next).ToString(System.Globalization.CultureInfo.InvariantCulture));

    private Manual Manual(int pages)
    {
        var chapters = Math.Max(1, pages / _chapterPages);
        var divisions = new List<Division>
        {
            new(
                NewId(),
                DivisionKind.TitlePage,
                "Title page",
                [
                    new Paragraph(NewId(), "title", [new TextRun("Generated Ferry Manual")]),
                    new Paragraph(NewId(), "subtitle", [new TextRun("For benchmarks")]),
                ]
            ),
            new(NewId(), DivisionKind.Contents, "Contents", [new ContentsList(NewId())]),
            new(NewId(), DivisionKind.Preface, "Preface", [Text(60), Text(80)]),
        };
        var perPart = Math.Max(1, (int)Math.Ceiling(Math.Sqrt(chapters)));
        for (var c = 0; c < chapters; c++)
        {
            if (c % perPart == 0)
                divisions.Add(new Division(NewId(), DivisionKind.Part, Title(), []));
            divisions.Add(Chapter(DivisionKind.Chapter, Math.Max(1, pages / chapters)));
        }
        if (pages > 20)
            divisions.Add(Chapter(DivisionKind.Appendix, 6));
        divisions.Add(new Division(NewId(), DivisionKind.Index, "Index", [new IndexList(NewId())]));
        return new Manual(new Id(_prefix + "manual"), "Generated Ferry Manual", divisions)
        {
            Assets = [PictureReader.Describe("windows.svg", Picture)],
            Variables = [new NamedText("product", "Tarn 6")],
        };
    }

    private Division Chapter(DivisionKind kind, int pages)
    {
        var id = NewId();
        _targets.Add((id, true));
        var blocks = new List<Block> { Text(50) };
        var words = 0;
        var sinceA = 0;
        while (words < pages * 215)
        {
            if (sinceA == 0 || sinceA > 900)
            {
                blocks.Add(Head(HeadLevel.A));
                sinceA = 1;
            }
            else if (_random.Next(5) == 0)
                blocks.Add(Head(_random.Next(4) == 0 ? HeadLevel.C : HeadLevel.B));
            var (block, count) = Any();
            blocks.Add(block);
            if (block is not Paragraph)
                blocks.Add(Text(40));
            words += count + (block is Paragraph ? 0 : 40);
            sinceA += count + 40;
        }
        return new Division(id, kind, Title(), blocks);
    }

    private Head Head(HeadLevel level)
    {
        var id = NewId();
        _targets.Add((id, level == HeadLevel.A));
        return new Head(id, level, [new TextRun(Title())]);
    }

    private (Block, int) Any()
    {
        switch (_random.Next(28))
        {
            case 0:
                return (
                    new ItemList(NewId(), _random.Next(3) == 0 ? ListKind.Decimal : ListKind.Unordered, 1, Items(3 + _random.Next(4), 12)),
                    60
                );
            case 1 or 2:
                return (new Steps(NewId(), false, Items(3 + _random.Next(5), 16)), 90);
            case 3:
                return (new Admonition(NewId(), (AdmonitionKind)_random.Next(6), [new Paragraph(NewId(), "body", Sentence(22))]), 40);
            case 4:
                return (Table(), 70);
            case 5:
            {
                var id = NewId();
                var isCaptioned = _random.Next(4) > 0;
                if (isCaptioned)
                    _targets.Add((id, true));
                return (
                    new Figure(id, "windows.svg", isCaptioned ? Plain(6) : [], "Three windows of the brake band")
                    {
                        Width = 60,
                        Placement = (FigurePlacement)(_random.Next(8) is var at && at < 3 ? at : 0),
                    },
                    60
                );
            }
            case 6:
                return (
                    new Listing(
                        NewId(),
                        _random.Next(2) == 0 ? "ini" : "",
                        string.Join(
                            '\n',
                            Enumerable.Range(0, 5 + _random.Next(6)).Select(n => $"set limit.{n} = {_random.Next(100, 999)}  # {Noun()}")
                        ),
                        []
                    ),
                    60
                );
            case 7:
                return (
                    new Aside(
                        NewId(),
                        Plain(3),
                        [new Paragraph(NewId(), "body", Sentence(18)), new Paragraph(NewId(), "body", Sentence(12))]
                    ),
                    40
                );
            case 8:
            {
                var id = NewId();
                _targets.Add((id, true));
                return (
                    new Equation(
                        id,
                        Pick(["T = F/(2 sin alpha)", "F = 1/2 rho v^2", "n = sqrt(a/b)", "[a, b; c, d] [x; y] = [1; 0]"]),
                        "An equation of the " + Noun()
                    ),
                    20
                );
            }
            case 9:
                return (
                    new DefinitionList(
                        NewId(),
                        Enumerable
                            .Range(0, 3 + _random.Next(3))
                            .Select(_ => new Definition(
                                NewId(),
                                [new TextRun(Adjective() + " " + Noun())],
                                [new Paragraph(NewId(), "body", Sentence(12))]
                            ))
                            .ToArray()
                    ),
                    50
                );
            case 10:
            {
                var id = NewId();
                _targets.Add((id, true));
                return (
                    new Example(id, Plain(3), [new Paragraph(NewId(), "body", Sentence(18)), new Steps(NewId(), false, Items(2, 10))]),
                    50
                );
            }
            default:
                var length = 40 + _random.Next(70);
                return (Text(length), length);
        }
    }

    private Item[] Items(int count, int words) =>
        Enumerable.Range(0, count).Select(_ => new Item(NewId(), [new Paragraph(NewId(), "body", Sentence(words))])).ToArray();

    private Table Table()
    {
        var id = NewId();
        _targets.Add((id, true));
        var rows = new List<Row> { new(NewId(), [Cell("Quantity"), Cell("Warns"), Cell("Stops")]) };
        for (var r = 4 + _random.Next(6); r > 0; r--)
            rows.Add(
                new Row(
                    NewId(),
                    [
                        Cell(Adjective() + " " + Noun()),
                        Cell($"{_random.Next(10, 99)} kN"),
                        Cell($"{_random.Next(100, 199)}.{_random.Next(10)}"),
                    ]
                )
            );
        if (_random.Next(4) == 0)
        {
            // A cell over two rows, and a note under the table.
            rows.Add(new Row(NewId(), [Cell(Noun()) with { RowSpan = 2 }, Cell("slack"), Cell("18")]));
            rows.Add(new Row(NewId(), [new Cell(NewId(), [new TextRun("tight"), new Footnote(NewId(), Plain(4))]), Cell("21.5")]));
        }
        return new Table(id, 1, [CellAlignment.Left, CellAlignment.Left, CellAlignment.Decimal], Plain(5), rows);
    }

    private Cell Cell(string text) => new(NewId(), [new TextRun(text)]);

    private Paragraph Text(int words)
    {
        var content = new List<Inline>();
        while (words > 0)
        {
            var sentence = Sentence(Math.Min(words, 18));
            if (content.Count > 0)
                Append(content, new TextRun(" "));
            foreach (var inline in sentence)
                Append(content, inline);
            words -= 18;
        }
        return new Paragraph(NewId(), "body", content);
    }

    private static void Append(List<Inline> content, Inline inline)
    {
        if (inline is TextRun run && content.Count > 0 && content[^1] is TextRun last && last.Roles == run.Roles)
            content[^1] = last with { Text = last.Text + run.Text };
        else
            content.Add(inline);
    }

    private List<Inline> Sentence(int words)
    {
        var content = new List<Inline>();
        var text = Pick(Openers) + ", the " + Adjective() + " " + Noun() + " " + Pick(Verbs) + " the " + Noun();
        if (words > 12)
            text += ", " + Pick(Tails);
        if (words > 16)
            text += "; the " + Noun() + " " + Pick(Verbs) + " the " + Adjective() + " " + Noun();
        content.Add(new TextRun(text));
        var roll = _random.Next(100);
        Point(content, roll);
        for (var more = 1; more < _pointing; more++)
            Point(content, _random.Next(100));
        if (roll is >= 20 and < 22)
            content.Add(new Footnote(NewId(), Plain(14)));
        if (roll == 26)
            content.AddRange([new TextRun(", where "), new InlineEquation(NewId(), "v_0 = 3 m/s", "the speed is three metres a second")]);
        if (roll is >= 22 and < 26)
        {
            content.Add(new TextRun(" by the "));
            content.Add(new TextRun(Noun(), _random.Next(2) == 0 ? SpanRoles.Control : SpanRoles.Emphasis));
        }
        Append(content, new TextRun("."));
        return content;
    }

    private Inline[] Plain(int words) =>
        [
            new TextRun(
                string.Join(' ', Enumerable.Range(0, Math.Max(1, words / 3)).Select(_ => Adjective() + " " + Noun() + " and"))
                    + " "
                    + Noun()
            ),
        ];

    private string Title()
    {
        var text =
            Pick(["Care of the", "Working the", "Setting the", "Checking the", "Changing the", "Limits of the", "Storing the"])
            + " "
            + Adjective()
            + " "
            + Noun();
        return text;
    }

    private string Noun() => Pick(Nouns);

    private string Adjective() => Pick(Adjectives);

    /// <summary>Now and then an index entry, a reference, or both.</summary>
    private void Point(List<Inline> content, int roll)
    {
        if (roll < 16)
            content.Add(
                new IndexEntry(NewId(), _random.Next(2) == 0 ? [Noun()] : [Noun(), "of the " + Noun()])
                {
                    Principal = _random.Next(12) == 0,
                }
            );
        if (roll >= 5 || _targets.Count <= 3)
            return;
        var (target, numbered) = _targets[_random.Next(_targets.Count)];
        content.Add(new TextRun(" (see "));
        content.Add(
            new CrossReference(
                NewId(),
                target,
                _random.Next(5) switch
                {
                    0 => "page",
                    1 => "title-page",
                    2 => "title-phrase",
                    3 => "direction",
                    _ => numbered ? "name-number" : "title",
                }
            )
        );
        content.Add(new TextRun(")"));
    }

    private string Pick(string[] words) => words[_random.Next(words.Length)];
}
