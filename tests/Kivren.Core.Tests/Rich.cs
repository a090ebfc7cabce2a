using CsCheck;
using Kivren.Core.Content;
using static Kivren.Core.Tests.Build;

namespace Kivren.Core.Tests;

/// <summary>Manuals of every kind of block, passage, alias, condition and language, by chance; they shrink. Every typed word is
/// told apart: q and a number.</summary>
internal static class Rich
{
    /// <summary>A block before it has ids and words: what it is and what is in it.</summary>
    public sealed record Seed(int Kind, int Size, int Other, List<Seed> Inner)
    {
        public override string ToString() => $"new({Kind},{Size},{Other},[{string.Join(',', Inner)}])";
    }

    public static readonly Gen<Seed> Seeds = Gen.Recursive<Seed>(
        (depth, inner) =>
            Gen.Select(
                Gen.Int[0, 27],
                Gen.Frequency((6, Gen.Int[0, 12]), (2, Gen.Int[13, 60]), (1, Gen.Int[61, 250])),
                Gen.Int[0, 99],
                depth > 2 ? Gen.Const(new List<Seed>()) : inner.List[0, 3],
                (kind, size, other, list) => new Seed(kind, size, other, list)
            )
    );

    public sealed record Division(int Kind, int Language, List<Seed> Blocks)
    {
        public override string ToString() => $"new({Kind},{Language},[{string.Join(',', Blocks)}])";
    }

    public static readonly Gen<List<Division>> Manuals = Gen.Select(
        Gen.Int[0, 9],
        Gen.Int[0, 3],
        Seeds.List[0, 9],
        (kind, language, blocks) => new Division(kind, language, blocks)
    ).List[1, 4];

    /// <summary>Builds with one counter of words and ids, so that the same seeds make the same manual.</summary>
    public sealed class Builder(bool hostile)
    {
        private int _word,
            _id;
        private readonly List<Id> _targets = [];

        public Manual Manual(List<Division> seeds)
        {
            var divisions = seeds
                .Select(
                    (s, i) =>
                        new Content.Division(
                            Fresh(),
                            s.Kind switch
                            {
                                0 => DivisionKind.Preface,
                                1 => DivisionKind.Appendix,
                                2 => DivisionKind.Part,
                                3 => DivisionKind.Glossary,
                                _ => DivisionKind.Chapter,
                            },
                            "Division " + i,
                            [.. s.Blocks.SelectMany(b => Blocks(b, 0))]
                        )
                        {
                            Language = s.Language switch
                            {
                                0 => "de",
                                1 => "sv",
                                2 => "xx",
                                _ => "en-GB",
                            },
                            Begins = (Begins)(s.Language * 7 % 5),
                        }
                )
                .ToList();
            divisions.Add(new Content.Division(Fresh(), DivisionKind.Contents, "Contents", [new ContentsList(Fresh())]));
            divisions.Add(new Content.Division(Fresh(), DivisionKind.Index, "Index", [new IndexList(Fresh())]));
            return new Manual(new Id("m"), "Rich", divisions)
            {
                Passages =
                [
                    new Passage(
                        new Id("pa"),
                        "Safety",
                        [new Paragraph(new Id("pa1"), "body", [new TextRun("Passage words"), new Anchor(new Id("pa-anchor"), "a")])]
                    ),
                ],
                Variables = [new NamedText("product", "Tarn ferry")],
                Aliases = _targets.Count > 1 ? new Dictionary<Id, Id> { [new Id("old")] = _targets[0] } : new Dictionary<Id, Id>(),
                Assets = [Picture, new Asset("tall.svg", "image/svg+xml", 10, 400, "tall")],
                Editions = [new Edition("One") { Chosen = [new AxisValues("model", ["6"])] }],
                TermsLead = _word % 2 == 0,
                ChapterContents = _word % 3 == 0 ? "division" : null,
            };
        }

        private Id Fresh()
        {
            var id = new Id("i" + ++_id);
            _targets.Add(id);
            return id;
        }

        private TextRun Words(int count) => new(string.Join(' ', Enumerable.Range(0, Math.Max(1, count)).Select(_ => $"q{++_word}x")));

        /// <summary>A word that no line can take.</summary>
        private static string Giant(int size) => new('W', 30 + size);

        private List<Inline> Spans(Seed s, int count)
        {
            var spans = new List<Inline> { Words(count) };
            switch (s.Other % 13)
            {
                case 0:
                    spans.Add(new Footnote(Fresh(), [Words(s.Size / 3 + 1)]) { Shown = (NoteShown)(s.Size % 3) });
                    break;
                case 1:
                    string[] heading = s.Size % 2 == 0 ? ["heading " + s.Other % 5] : ["heading " + s.Other % 5, "of " + s.Size % 3];
                    spans.Add(
                        new IndexEntry(Fresh(), heading, s.Size % 7 == 3 ? EntryKind.RangeStart : EntryKind.Point)
                        {
                            Principal = s.Size % 7 == 2,
                            See = s.Size % 7 == 0 ? "heading " + s.Size % 4 : null,
                            SeeAlso = s.Size % 7 == 1 ? "heading 2, of 1" : null,
                        }
                    );
                    break;
                case 2 when _targets.Count > 0:
                    spans.Add(new CrossReference(Fresh(), _targets[s.Other * 31 % _targets.Count], "page"));
                    break;
                case 3:
                    spans.Add(new VariableUse(s.Size % 2 == 0 ? "product" : "missing"));
                    break;
                case 4:
                    spans.Add(new CrossReference(Fresh(), new Id("pa-anchor"), "page"));
                    break;
                case 5:
                    spans.Add(new InlineEquation(Fresh(), s.Size % 3 == 0 ? "" : "x^2 + y", ""));
                    break;
                case 6:
                    spans.Add(new InlinePicture(Fresh(), "p.svg", "x"));
                    break;
                case 7:
                    spans.Add(new Anchor(Fresh(), "anchor"));
                    break;
                case 8:
                    spans.Add(new TextRun(" " + Giant(hostile ? s.Size : 0), SpanRoles.Code));
                    break;
                case 9:
                    spans.Add(LineBreak.Instance);
                    break;
                case 10:
                    spans.Add(
                        new CrossReference(Fresh(), new Id("old"), s.Size % 3 == 0 ? "title-phrase" : "page")
                        {
                            Other = s.Size % 2 == 0 ? null : new OtherPlace("other", "Mooring Manual", "Section", "4.2", "The winch", "47"),
                        }
                    );
                    break;
                case 11:
                    spans.Add(new WriterNote(Fresh(), "writer", "note") { Words = "q1x", Answers = [new NoteAnswer("a", "b")] });
                    break;
                case 12:
                    // Nothing stands between them.
                    spans.Add(new InlineEquation(Fresh(), "a/b", "a over b"));
                    spans.Add(new InlinePicture(Fresh(), "p.svg", "x"));
                    spans.Add(new InlineEquation(Fresh(), "x^2 + y", "x squared plus y"));
                    break;
            }
            spans.Add(new TextRun(" "));
            spans.Add(Words(1));
            return spans;
        }

        private Block[] Inner(Seed s, int depth)
        {
            var blocks = s
                .Inner.SelectMany(i => Blocks(i, depth + 1))
                .Where(b => b is not (ContentsList or IndexList or PageBreak))
                .ToArray();
            return blocks.Length > 0 ? blocks : [new Paragraph(Fresh(), "body", Spans(s, s.Size))];
        }

        private IEnumerable<Block> Blocks(Seed s, int depth)
        {
            var block = Block(s, depth);
            if (block is null)
                yield break;
            // Some are for one model only: what is left out must leave nothing behind.
            yield return s.Other % 17 == 0
                ? block with
                {
                    AppliesTo = new AppliesTo([new AxisValues("model", [s.Size % 2 == 0 ? "6" : "6E"])]),
                }
                : block;
        }

        private Block? Block(Seed s, int depth)
        {
            var items = () => Enumerable.Range(0, 1 + s.Size % 5).Select(_ => new Item(Fresh(), Inner(s, depth))).ToArray();
            return s.Kind switch
            {
                0 or 1 or 2 => new Paragraph(Fresh(), s.Other % 4 == 0 ? "quotation" : "body", Spans(s, s.Size)),
                3 => depth == 0 ? new Head(Fresh(), (HeadLevel)(1 + s.Size % 4), Spans(s, 2)) : null,
                4 => depth == 0 ? new Head(Fresh(), HeadLevel.C, [Words(2)]) : null,
                5 => new ItemList(Fresh(), (ListKind)(s.Other % 4), 1, items()),
                6 => new Steps(Fresh(), s.Other % 3 == 0, items()),
                7 => new Admonition(Fresh(), (AdmonitionKind)(s.Other % 6), Inner(s, depth)),
                8 => new Aside(Fresh(), s.Size % 2 == 0 ? [Words(2)] : [], Inner(s, depth)) { Folds = (Folding)(s.Other % 3) },
                9 => new Example(Fresh(), [Words(2)], Inner(s, depth)),
                10 or 11 or 12 or 13 => Table(s),
                14 => new Figure(Fresh(), s.Other % 3 == 0 ? "tall.svg" : "p.svg", [.. Spans(s, hostile ? s.Size : 3), .. Areas(s)], "x")
                {
                    Plays = s.Size % 5 == 1 ? "https://example.org/q" + s.Other : null,
                    Placement = (FigurePlacement)(s.Other % 4),
                    Width = 10 + s.Other % 90,
                },
                15 => new Listing(
                    Fresh(),
                    "",
                    string.Join('\n', Enumerable.Range(0, 1 + s.Size).Select(_ => Words(1).Text)),
                    s.Other % 2 == 0 ? [] : [Words(2)]
                )
                {
                    LineNumbers = s.Other % 3 == 0,
                },
                16 => new Equation(
                    Fresh(),
                    s.Other % 4 == 0 ? "" : string.Join(" + ", Enumerable.Range(0, 1 + s.Size / 4).Select(i => "x_" + i)),
                    "x"
                ),
                17 => new DefinitionList(
                    Fresh(),
                    [.. Enumerable.Range(0, 1 + s.Size % 4).Select(_ => new Definition(Fresh(), [Words(1)], Inner(s, depth)))]
                )
                {
                    Glossary = s.Other % 2 == 0,
                },
                18 => new ReferenceList(Fresh(), [new ReferredDocument(Fresh(), "NB " + s.Size, [Words(2)])]),
                19 => depth == 0 ? new PageBreak(Fresh(), (BreakTo)(s.Other % 3)) : null,
                20 => depth == 0 ? new PassageUse(Fresh(), s.Size % 3 == 0 ? "None" : "Safety") : null,
                21 => new Paragraph(Fresh(), "body", [Words(2), new TextRun("\t"), Words(1)]),
                22 => new Paragraph(Fresh(), "lead", [Words(s.Size), new TextRun("‮ אבג "), Words(1)]),
                _ => new Paragraph(Fresh(), "body", [Words(s.Size)]),
            };
        }

        /// <summary>Places on a picture; some of them beyond its edge.</summary>
        private IEnumerable<FigureArea> Areas(Seed s) =>
            Enumerable
                .Range(0, s.Size % 4)
                .Select(i => new FigureArea(
                    Fresh(),
                    new AreaBox(i * 450 - 20, s.Other * 11, 200, 90),
                    i == 2 ? [] : [Words(s.Size % 7), new CrossReference(Fresh(), _targets[s.Other * 17 % _targets.Count], "page")]
                ));

        private Table Table(Seed s)
        {
            var columns = 1 + s.Other % (s.Kind == 13 ? 14 : 4);
            var rows = 1 + s.Size % 9;
            var made = new List<Row>();
            for (var r = 0; r < rows; r++)
            {
                var long_ = hostile && (s.Size + r) % 4 == 0;
                made.Add(
                    new Row(
                        Fresh(),
                        [
                            .. Enumerable
                                .Range(0, columns)
                                .Select(c => new Cell(
                                    Fresh(),
                                    Spans(s with { Other = s.Other + c }, long_ && c == r % columns ? s.Size * 3 : 2)
                                )
                                {
                                    RowSpan = s.Kind == 12 && c == 0 && r % 3 == 0 ? 3 : 1,
                                    ColumnSpan = s.Kind == 11 && c == 1 && r % 2 == 0 ? 2 : 1,
                                }),
                        ]
                    )
                    {
                        Group = s.Other % 7 == 0 && r % 4 == 0,
                    }
                );
            }
            return new Table(Fresh(), s.Size % 3, [], s.Size % 2 == 0 ? [] : [Words(2)], made) { MayTurn = s.Other % 5 != 0 };
        }
    }

    public static Manual Make(List<Division> seeds, bool hostile = false) => new Builder(hostile).Manual(seeds);
}
