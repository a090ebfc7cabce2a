using System.Text.Json.Nodes;
using CsCheck;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Lists;
using Kivren.Core.Looks;
using Kivren.Core.Planning;
using Kivren.Core.Reuse;

namespace Kivren.Desk.Tests;

/// <summary>What writers do at a desk, by chance: an act is a few numbers, so that a failing run shrinks.</summary>
public sealed record Deed(int Writer, int Kind, int Where, int What)
{
    public static readonly Gen<Deed> Any = Gen.Select(Gen.Int[0, 4], Gen.Int[0, 99], Gen.Int[0, 99], Gen.Int[0, 99], (w, k, a, b) =>
        new Deed(w, k, a, b)
    );
}

/// <summary>A writer with the text as this writer last saw it: versions may be old.</summary>
public sealed class TestWriter(string name)
{
    public string Name { get; } = name;
    public Dictionary<string, (int Version, string Division, string Text)> Sees { get; } = [];

    public void Look(DeskState state)
    {
        Sees.Clear();
        foreach (var division in state.Divisions)
        foreach (var block in division.Blocks)
            if (block.Block is Paragraph p)
                Sees[block.Id] = (block.Version, division.Id, p.Content.PlainText());
    }
}

/// <summary>Turns a deed into an act, with words that are each typed once: so it can be told where every word went.</summary>
public sealed class DeskMachine(int writers)
{
    private readonly TestWriter[] _writers = [.. Enumerable.Range(0, writers).Select(w => new TestWriter("w" + w))];
    private int _word,
        _id;

    public TestWriter Writer(Deed deed) => _writers[deed.Writer % _writers.Length];

    public static Manual Fresh(string id) =>
        new(
            new Id(id),
            "Test",
            [
                .. Enumerable
                    .Range(0, 3)
                    .Select(d => new Division(
                        new Id($"{id}d{d}"),
                        DivisionKind.Chapter,
                        "Chapter " + d,
                        [
                            .. Enumerable
                                .Range(0, 4)
                                .Select(b => new Paragraph(new Id($"{id}d{d}b{b}"), "body", [new TextRun($"base{d}{b} words here")])),
                        ]
                    )),
            ]
        );

    public static string Body(string id, string text) =>
        new JsonObject
        {
            ["type"] = "paragraph",
            ["attrs"] = new JsonObject { ["id"] = id },
            ["content"] = new JsonArray(new JsonObject { ["type"] = "text", ["text"] = text }),
        }.ToJsonString();

    /// <returns>the changes of typing, or null when the deed is another</returns>
    public List<BlockChange>? Typing(Deed deed, DeskState state, string prefix, out string? word)
    {
        var writer = Writer(deed);
        word = null;
        if (deed.Kind % 4 == 0)
            writer.Look(state);
        if (writer.Sees.Count == 0 || deed.Kind >= 70)
            return null;
        var (id, seen) = writer.Sees.OrderBy(s => s.Key, StringComparer.Ordinal).ElementAt(deed.Where % writer.Sees.Count);
        var siblings = writer.Sees.Where(s => s.Value.Division == seen.Division).Select(s => s.Key).ToList();
        switch (deed.Kind)
        {
            case < 35:
                word = $"W{++_word}x";
                var at = deed.What % (seen.Text.Split(' ').Length + 1);
                var words = seen.Text.Split(' ').ToList();
                words.Insert(at, word);
                var text = string.Join(' ', words);
                return [new BlockChange(id, seen.Division, seen.Version, Body(id, text), null, false)];
            case < 52:
                word = $"W{++_word}x";
                var fresh = $"{prefix}n{++_id}";
                return [new BlockChange(fresh, seen.Division, 0, Body(fresh, word), deed.What % 5 == 0 ? "" : id, false)];
            case < 60:
                return [new BlockChange(id, seen.Division, seen.Version, null, null, true)];
            default:
                return
                [
                    new BlockChange(
                        id,
                        seen.Division,
                        seen.Version,
                        null,
                        siblings[deed.What % siblings.Count] is var after && after != id ? after : "",
                        false
                    ),
                ];
        }
    }

    public PlanAct Planning(Deed deed, DeskState state, string prefix)
    {
        var rows = state.Divisions.Select(d => d.Division.Id).ToList();
        var row = rows[deed.Where % rows.Count];
        var by = rows[deed.What % rows.Count];
        return (deed.Kind % 6) switch
        {
            0 => new PlanAct.Move([row], by, deed.What % 2 == 0 ? LandsAt.Before : LandsAt.After),
            1 => new PlanAct.Join(row),
            2 => new PlanAct.AddDivision(new Id($"{prefix}a{++_id}"), DivisionKind.Chapter, "Added", row),
            3 => new PlanAct.TakeOut([row]),
            4 when deed.What % 3 == 0 => new PlanAct.Shorten(row, "Short " + deed.What),
            4 => new PlanAct.AddHead(new Id($"{prefix}h{++_id}"), "Head", row),
            _ => state.Manual.Divisions.SelectMany(d => d.Blocks).OfType<Head>().FirstOrDefault() is { } head
                ? new PlanAct.Lift([head.Id])
                : new PlanAct.Rename(row, "Renamed " + deed.What),
        };
    }

    /// <summary>Acts on variables, conditions and passages, of which some are refused.</summary>
    public ReuseAct Reusing(Deed deed, DeskState state, string prefix)
    {
        var manual = state.Manual;
        var filled = state.Divisions.Where(d => d.Blocks.Count > 0).ToList();
        var (variable, axis) = ("v" + deed.Where % 3, "a" + deed.Where % 2);
        var passage = manual.Passages.Count == 0 ? new Id("none") : manual.Passages[deed.Where % manual.Passages.Count].Id;
        switch (deed.What % 9)
        {
            case 0:
                return new ReuseAct.SetVariable(variable, "kept " + deed.What);
            case 1:
                return new ReuseAct.RenameVariable(variable, "v" + deed.What % 4);
            case 2:
                return new ReuseAct.SetCondition(axis, ["one", "two", "three " + deed.What]);
            case 3:
                return new ReuseAct.RenameCondition(axis, deed.Writer % 2 == 0 ? null : "one", "b" + deed.What % 5);
            case 4 when manual.Conditions.Count > 0:
                var known = manual.Conditions[0];
                return new ReuseAct.Apply([manual.Divisions[0].Id], new AppliesTo([known with { Values = [known.Values[0]] }]));
            case 5 when manual.Conditions.Count > 0:
                return new ReuseAct.TakeOutCondition(manual.Conditions[^1].Axis);
            case 6 when filled.Count > 0:
                var blocks = filled[deed.Where % filled.Count].Division.Blocks;
                var from = deed.Where % blocks.Count;
                Id[] run = [.. blocks.Skip(from).Take(1 + deed.Writer).Select(b => b.Id)];
                return new ReuseAct.AddPassage(new Id($"{prefix}s{++_id}"), $"Passage {_id}", run);
            case 7 when deed.Where % 3 == 0:
                return new ReuseAct.AcceptWord("word" + deed.Where % 2, deed.Writer != 0);
            case 7:
                return new ReuseAct.RenamePassage(passage, "Renamed " + deed.What);
            default:
                var use = manual.Kept().SelectMany(d => d.Blocks).OfType<PassageUse>().FirstOrDefault();
                return use is null ? new ReuseAct.TakeOutPassage(passage) : new ReuseAct.MakePlain(use.Id, new Id($"{prefix}c{++_id}"));
        }
    }

    /// <summary>Acts on the index, its sweeps, contents lists and loose ends that are let be.</summary>
    public PlanResult Pointing(Deed deed, DeskState state, string prefix)
    {
        var manual = state.Manual;
        var headings = manual
            .Divisions.SelectMany(d => d.Blocks)
            .SelectMany(b => b.Inlines().OfType<IndexEntry>())
            .Select(e => e.Headings)
            .ToList();
        var heading = headings.Count == 0 ? ["words"] : headings[deed.Where % headings.Count];
        var list = ShippedLooks.Workshop.Lists[deed.Where % 3].ToOwn();
        switch (deed.What % 11)
        {
            case 0 or 1 or 2:
                var sweep = new Sweep("words", ["words", "here"]);
                var places = sweep.In(manual, ["words"]);
                return IndexEditing.Apply(
                    manual,
                    new IndexAct.TakeSwept(
                        sweep,
                        ["words " + deed.Where % 3],
                        [
                            .. places
                                .Take(deed.Where % 5)
                                .Select((p, i) => new SweptChoice(p.Block, p.Ordinal, (SweptAs)((deed.What + i) % 4))),
                        ],
                        new Id($"{prefix}e{++_id}")
                    )
                );
            case 3:
                return IndexEditing.Apply(manual, new IndexAct.Move(heading, ["words " + deed.Where % 4]));
            case 4:
                return IndexEditing.Apply(manual, new IndexAct.Move(heading, ["above", .. heading.Take(2)]));
            case 5:
                return IndexEditing.Apply(manual, new IndexAct.TakeOut(heading));
            case 6:
                return ListEditing.Apply(
                    manual,
                    new ListAct.Keep(list with { Name = "list " + deed.Where % 3, Sorted = deed.Writer == 1 }, null)
                );
            case 7:
                return ListEditing.Apply(manual, new ListAct.TakeOut("list " + deed.Where % 3));
            case 8:
                return ListEditing.Apply(manual, new ListAct.OpenChapters(deed.Where % 2 == 0 ? "division" : null));
            case 9:
                return ListEditing.Apply(manual, new ListAct.LeadTerms(deed.Where % 2 == 0));
            default:
                var ends = new[] { new PutAside("TermUndefined", manual.Divisions[0].Id, "word", deed.Where % 2 == 0 ? "known" : "") };
                return ListEditing.Apply(manual, new ListAct.LetBe(ends));
        }
    }

    /// <summary>All that must hold of a state, whatever was done.</summary>
    public static void Holds(DeskState state)
    {
        Assert.Empty(ManualCheck.Problems(state.Manual));
        Rising(state.Divisions.Select(d => d.OrderKey));
        foreach (var division in state.Divisions)
        {
            Rising(division.Blocks.Select(b => b.OrderKey));
            Assert.Equal(division.Division.Blocks, division.Blocks.Select(b => b.Block));
            foreach (var block in division.Blocks)
                Assert.Equal(division.Id, state.DivisionOf(block.Id));
        }
        Assert.Equal(state.Manual.Divisions, state.Divisions.Select(d => d.Division).SkipWhile(d => d.Kind == DivisionKind.Passage));
        Assert.Equal(state.Manual.Passages.Select(p => p.Blocks), state.Divisions.TakeWhile(IsPassage).Select(d => d.Division.Blocks));
        Assert.DoesNotContain(state.Divisions.SkipWhile(IsPassage), IsPassage);
        Assert.Distinct(state.Manual.Passages.Select(p => p.Name));
        foreach (var use in state.Manual.Kept().SelectMany(d => d.Blocks).OfType<PassageUse>())
            Assert.Contains(state.Manual.Passages, p => p.Name == use.Passage);
    }

    private static bool IsPassage(PlacedDivision division) => division.Division.Kind == DivisionKind.Passage;

    private static void Rising(IEnumerable<string> keys)
    {
        string? last = null;
        foreach (var key in keys)
        {
            Assert.True(last is null || string.CompareOrdinal(last, key) < 0, $"“{last}” does not sort before “{key}”");
            last = key;
        }
    }

    public static string TextOf(DeskState state) =>
        string.Join(' ', state.Manual.Lists.Select(l => l.Name + l.Sorted))
        + string.Join(' ', state.Manual.PutAside.Select(p => p.Block + p.Reason))
        + state.Manual.ChapterContents
        + state.Manual.TermsLead
        + state.Manual.PassedOver.Count
        + string.Join(
            ' ',
            state
                .Manual.Kept()
                .SelectMany(d => d.Blocks)
                .SelectMany(b => b.Inlines().OfType<IndexEntry>())
                .Select(e => $"{e.Id}{e.Kind}{e.Principal}{string.Join(',', e.Headings)}")
        )
        + string.Join(' ', state.Manual.Variables.Select(v => $"{v.Name}={v.Text}").Order(StringComparer.Ordinal))
        + string.Join(' ', state.Manual.AcceptedWords)
        + string.Join(' ', state.Manual.Conditions.Select(c => $"{c.Axis}: {string.Join(',', c.Values)}").Order(StringComparer.Ordinal))
        + string.Join(
            '\n',
            state.Divisions.Select(d =>
                d.Id
                + " "
                + d.Division.Title
                + d.Division.AppliesTo.InWords()
                + ":"
                + string.Join(
                    '|',
                    d.Blocks.Select(b => b.Id + "=" + string.Concat(b.Block.Inlines().OfType<TextRun>().Select(r => r.Text)))
                )
            )
        );
}
