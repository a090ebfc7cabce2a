using Kivren.Core.Content;
using Kivren.Core.Editions;
using Kivren.Core.Lists;

namespace Kivren.Core.Planning;

/// <summary>Does acts on the plan as pure functions of the manual. A section is the run of blocks
/// from its head to the next head of its level or above, so nothing below a head is ever left behind.</summary>
public static class Planner
{
    public static PlanResult Apply(Manual manual, PlanAct act) =>
        act switch
        {
            PlanAct.Move move => Each(
                manual,
                Order(manual, move.Rows, move.At == LandsAt.After),
                (m, row) => Move(m, row, move.By, move.At),
                "Moving"
            ),
            PlanAct.Deepen deepen => Each(manual, Outermost(manual, deepen.Rows), Deepen, "Deepening"),
            PlanAct.Lift lift => Each(manual, Outermost(manual, lift.Rows), Lift, "Lifting"),
            PlanAct.Split split => Split(manual, split.Head),
            PlanAct.Join join => Join(manual, join.Division, deepen: false),
            PlanAct.AddDivision add => AddDivision(manual, add),
            PlanAct.AddHead add => AddHead(manual, add),
            PlanAct.Rename rename => Rename(manual, rename.Row, rename.Title),
            PlanAct.Shorten shorten => Shorten(manual, shorten.Row, shorten.ShortTitle.Trim()),
            PlanAct.TakeOut takeOut => Each(manual, Outermost(manual, takeOut.Rows), TakeOut, "Taking out"),
            PlanAct.SetState state => OfDivisions(
                manual,
                state.Rows,
                d => d.State != state.State ? d with { State = state.State } : d,
                "Setting the state"
            ),
            PlanAct.SetBegins begins => OfDivisions(
                manual,
                begins.Rows,
                d => d.Begins != begins.Begins ? d with { Begins = begins.Begins } : d,
                "Choosing on what page it begins"
            ),
            PlanAct.SetLanguage speak when !EditionEditing.IsLanguage(speak.Language) => PlanResult.No(
                $"“{speak.Language}” is no language: name it as in “en-GB”."
            ),
            PlanAct.SetLanguage { Rows.Count: 0 } speak => OfDivisions(
                manual with
                {
                    Language = speak.Language,
                },
                [.. manual.Divisions.Where(d => d.Language == manual.Language).Select(d => d.Id)],
                d => d with { Language = speak.Language },
                "Choosing the manual’s language"
            ),
            PlanAct.SetLanguage speak => OfDivisions(
                manual,
                speak.Rows,
                d => d.Language != speak.Language ? d with { Language = speak.Language } : d,
                "Choosing a language"
            ),
            PlanAct.MakeHead make => MakeHead(manual, make),
            PlanAct.PutIn putIn => PutIn(manual, putIn),
            _ => PlanResult.No("This act is not known."),
        };

    private static PlanResult OfDivisions(Manual manual, IReadOnlyList<Id> rows, Func<Division, Division> change, string words) =>
        new(manual with { Divisions = [.. manual.Divisions.Select(d => rows.Contains(d.Id) ? change(d) : d)] }, words, null);

    /// <summary>Where a section is: its division, and its first block and the one after its last.</summary>
    public readonly record struct Run(int Division, int From, int End)
    {
        public int Count => End - From;
    }

    /// <summary>The run of blocks of a head's section; null when there is no such head at the top of a division.</summary>
    public static Run? SectionOf(Manual manual, Id head)
    {
        for (var d = 0; d < manual.Divisions.Count; d++)
        {
            var blocks = manual.Divisions[d].Blocks;
            for (var b = 0; b < blocks.Count; b++)
                if (blocks[b].Id == head)
                    return blocks[b] is Head h ? new Run(d, b, EndOf(blocks, b, h.Level)) : null;
        }
        return null;
    }

    private static int EndOf(IReadOnlyList<Block> blocks, int from, HeadLevel level)
    {
        var end = from + 1;
        while (end < blocks.Count && !(blocks[end] is Head h && h.Level <= level))
            end++;
        return end;
    }

    private static int DivisionAt(Manual manual, Id id)
    {
        for (var d = 0; d < manual.Divisions.Count; d++)
            if (manual.Divisions[d].Id == id)
                return d;
        return -1;
    }

    /// <summary>Divisions that stand under a part go with it.</summary>
    private static int EndOfDivision(Manual manual, int at)
    {
        var end = at + 1;
        if (manual.Divisions[at].Kind == DivisionKind.Part)
            while (end < manual.Divisions.Count && manual.Divisions[end].Kind == DivisionKind.Chapter)
                end++;
        return end;
    }

    private static PlanResult Each(Manual manual, IReadOnlyList<Id> rows, Func<Manual, Id, PlanResult> one, string words)
    {
        if (rows.Count == 0)
            return PlanResult.No("Choose a row first.");
        var result = new PlanResult(manual, "", null);
        foreach (var row in rows)
        {
            result = one(result.Manual!, row);
            if (result.Refused is not null)
                return result;
        }
        return rows.Count == 1 ? result : result with { Words = $"{words} {rows.Count} rows" };
    }

    /// <summary>Rows that stand in no other row of these.</summary>
    private static List<Id> Outermost(Manual manual, IReadOnlyList<Id> rows)
    {
        var chosen = rows.ToHashSet();
        var found = new List<Id>();
        var skip = false;
        foreach (var division in manual.Divisions)
        {
            if (division.Kind != DivisionKind.Chapter)
                skip = false;
            if (chosen.Contains(division.Id) && !skip)
            {
                found.Add(division.Id);
                skip = division.Kind == DivisionKind.Part;
                continue;
            }
            if (skip || chosen.Contains(division.Id))
                continue;
            HeadLevel? inside = null;
            foreach (var head in division.Blocks.OfType<Head>())
            {
                if (inside is { } level && head.Level > level)
                    continue;
                inside = null;
                if (!chosen.Contains(head.Id))
                    continue;
                found.Add(head.Id);
                inside = head.Level;
            }
        }
        return found;
    }

    /// <summary>Outermost rows in the order in which each lands by the same place and they keep their own order.</summary>
    private static List<Id> Order(Manual manual, IReadOnlyList<Id> rows, bool reversed)
    {
        var order = Outermost(manual, rows);
        if (reversed)
            order.Reverse();
        return order;
    }

    private static Manual With(Manual manual, int division, IReadOnlyList<Block> blocks) =>
        manual with
        {
            Divisions = manual.Divisions.Select((d, i) => i == division ? d with { Blocks = blocks } : d).ToArray(),
        };

    private static string TitleOf(Manual manual, Id id) =>
        DivisionAt(manual, id) is var d and >= 0 ? manual.Divisions[d].Title
        : SectionOf(manual, id) is { } run ? ((Head)manual.Divisions[run.Division].Blocks[run.From]).Content.PlainText()
        : "";

    /// <summary>The section's blocks with all heads deeper (or higher) by so much; null when one would go below D.</summary>
    private static Block[]? Shifted(IEnumerable<Block> blocks, int by)
    {
        var shifted = new List<Block>();
        foreach (var block in blocks)
        {
            if (block is not Head h || by == 0)
            {
                shifted.Add(block);
                continue;
            }
            var level = (int)h.Level + by;
            if (level > (int)HeadLevel.D)
                return null;
            shifted.Add(h with { Level = (HeadLevel)Math.Max(1, level) });
        }
        return [.. shifted];
    }

    private const string TooDeep = "Something beneath would go below a D head. Lift it first.";

    // ---- moving ----

    private static PlanResult Move(Manual manual, Id row, Id by, LandsAt at)
    {
        if (row == by)
            return PlanResult.No("It stands there already.");
        var own = DivisionAt(manual, row);
        return own >= 0 ? MoveDivision(manual, own, by, at)
            : SectionOf(manual, row) is { } run ? MoveSection(manual, run, by, at)
            : PlanResult.No("This row was taken out.");
    }

    private static PlanResult MoveDivision(Manual manual, int own, Id by, LandsAt at)
    {
        var end = EndOfDivision(manual, own);
        var target = DivisionAt(manual, by);
        if (target < 0)
        {
            // By a head inside a division: a division lands by divisions.
            if (SectionOf(manual, by) is not { } section)
                return PlanResult.No("The place to land was taken out.");
            target = section.Division;
            at = LandsAt.After;
        }
        if (target >= own && target < end)
            return PlanResult.No("A part cannot stand in itself.");
        var moved = manual.Divisions.Skip(own).Take(end - own).ToArray();
        if (moved.Any(d => d.Matter != manual.Divisions[target].Matter))
            return PlanResult.No(
                $"{KindWords(moved[0].Kind)} stands in the {MatterWords(moved[0].Matter)}, not in the "
                    + $"{MatterWords(manual.Divisions[target].Matter)}."
            );
        var rest = manual.Divisions.Where((_, i) => i < own || i >= end).ToList();
        var place = rest.FindIndex(d => d.Id == manual.Divisions[target].Id);
        // After a part that is not opened means after its title: first in it.
        if (at == LandsAt.After && moved[0].Kind == DivisionKind.Part)
            place += EndOfDivision(manual with { Divisions = rest }, place) - place;
        else if (at is LandsAt.After or LandsAt.Within)
            place++;
        rest.InsertRange(place, moved);
        return new PlanResult(manual with { Divisions = rest }, $"Moving “{moved[0].Title}”", null);
    }

    private static PlanResult MoveSection(Manual manual, Run run, Id by, LandsAt at)
    {
        var blocks = manual.Divisions[run.Division].Blocks;
        var section = blocks.Skip(run.From).Take(run.Count).ToArray();
        var head = (Head)section[0];
        if (section.Any(b => b.Id == by))
            return PlanResult.No("A section cannot stand in itself.");
        int division,
            place;
        int level;
        if (DivisionAt(manual, by) is var d and >= 0)
        {
            division = d;
            level = (int)HeadLevel.A;
            if (at == LandsAt.Before)
            {
                // Before a division is at the end of the one before it.
                if (d == 0)
                    return PlanResult.No("There is no division before that one.");
                division = d - 1;
                place = manual.Divisions[division].Blocks.Count;
            }
            else
            {
                // Right under the title: before the first head.
                place = 0;
                while (place < manual.Divisions[d].Blocks.Count && manual.Divisions[d].Blocks[place] is not Head)
                    place++;
            }
            if (manual.Divisions[division].Kind is DivisionKind.Part or DivisionKind.Contents or DivisionKind.Index)
                return PlanResult.No($"{KindWords(manual.Divisions[division].Kind)} holds no sections.");
        }
        else
        {
            if (SectionOf(manual, by) is not { } target)
                return PlanResult.No("The place to land was taken out.");
            division = target.Division;
            level = (int)((Head)manual.Divisions[division].Blocks[target.From]).Level;
            place = at switch
            {
                LandsAt.Before => target.From,
                LandsAt.After => target.End,
                _ => target.From + 1,
            };
            if (at == LandsAt.Within)
            {
                level++;
                while (place < target.End && manual.Divisions[division].Blocks[place] is not Head)
                    place++;
            }
        }
        if (Shifted(section, level - (int)head.Level) is not { } shifted)
            return PlanResult.No(TooDeep);
        var target_ = manual.Divisions[division].Blocks.ToList();
        var next = manual;
        if (division == run.Division)
        {
            target_.RemoveRange(run.From, run.Count);
            if (place > run.From)
                place -= run.Count;
        }
        else
            next = With(next, run.Division, blocks.Where((_, i) => i < run.From || i >= run.End).ToArray());
        target_.InsertRange(place, shifted);
        return new PlanResult(With(next, division, target_), $"Moving “{head.Content.PlainText()}”", null);
    }

    // ---- deeper and higher ----

    private static PlanResult Deepen(Manual manual, Id row)
    {
        if (DivisionAt(manual, row) >= 0)
            return Join(manual, row, deepen: true);
        if (SectionOf(manual, row) is not { } run)
            return PlanResult.No("This row was taken out.");
        var blocks = manual.Divisions[run.Division].Blocks;
        var head = (Head)blocks[run.From];
        if (head.Level == HeadLevel.D)
            return PlanResult.No("A D head is the deepest.");
        // Something at its level or above must stand before it, or a level would be skipped.
        var above = blocks.Take(run.From).OfType<Head>().LastOrDefault(h => h.Level <= head.Level);
        if (above is null || above.Level < head.Level)
            return PlanResult.No($"There is no {head.Level} head before it to stand under.");
        if (Shifted(blocks.Skip(run.From).Take(run.Count), 1) is not { } shifted)
            return PlanResult.No(TooDeep);
        return new PlanResult(
            With(manual, run.Division, [.. blocks.Take(run.From), .. shifted, .. blocks.Skip(run.End)]),
            $"Deepening “{head.Content.PlainText()}”",
            null
        );
    }

    private static PlanResult Lift(Manual manual, Id row)
    {
        if (DivisionAt(manual, row) is var d and >= 0)
            return PlanResult.No($"{KindWords(manual.Divisions[d].Kind)} is as high as it goes.");
        if (SectionOf(manual, row) is not { } run)
            return PlanResult.No("This row was taken out.");
        var blocks = manual.Divisions[run.Division].Blocks;
        var head = (Head)blocks[run.From];
        if (head.Level == HeadLevel.A)
            return LiftOut(manual, run);
        var shifted = Shifted(blocks.Skip(run.From).Take(run.Count), -1)!;
        // It comes to stand after the section it stood in: where it was, it would swallow those that followed it there.
        var above = run.From - 1;
        while (above >= 0 && !(blocks[above] is Head h && h.Level < head.Level))
            above--;
        var end = above < 0 ? run.End : EndOf(blocks, above, ((Head)blocks[above]).Level);
        return new PlanResult(
            With(
                manual,
                run.Division,
                [.. blocks.Take(run.From), .. blocks.Skip(run.End).Take(end - run.End), .. shifted, .. blocks.Skip(end)]
            ),
            $"Lifting “{head.Content.PlainText()}”",
            null
        );
    }

    /// <summary>A section as a division of its own after the one it stood in. The division takes the head's identity, so
    /// what pointed at the head points at it.</summary>
    private static PlanResult LiftOut(Manual manual, Run run)
    {
        var whole = manual.Divisions[run.Division];
        var own = Detached(
            whole,
            (Head)whole.Blocks[run.From],
            whole.Blocks.Skip(run.From + 1).Take(run.Count - 1),
            (int)((Head)whole.Blocks[run.From]).Level
        );
        var divisions = manual.Divisions.ToList();
        divisions[run.Division] = whole with { Blocks = whole.Blocks.Where((_, i) => i < run.From || i >= run.End).ToArray() };
        divisions.Insert(run.Division + 1, own);
        return new PlanResult(manual with { Divisions = divisions }, $"Lifting out “{own.Title}”", null);
    }

    private static Division Detached(Division whole, Head head, IEnumerable<Block> blocks, int lifted)
    {
        var own = Shifted(blocks, -lifted)!.ToList();
        // Entries and anchors of the head go on in the first paragraph: a title holds none.
        var atoms = head.Content.Where(i => i is IndexEntry or Anchor or WriterNote).ToArray();
        if (atoms.Length > 0)
        {
            // They stay where the head was: in the first text of the section, unless another head comes before it.
            own = AtHead(own, atoms, new Id(head.Id.Value + "-entries"));
        }
        return new Division(
            head.Id,
            whole.Kind is DivisionKind.Appendix or DivisionKind.Preface ? whole.Kind : DivisionKind.Chapter,
            head.Content.PlainText(),
            own
        )
        {
            ShortTitle = head.ShortTitle,
            Language = whole.Language,
            AppliesTo = head.AppliesTo.IsAlways ? whole.AppliesTo : head.AppliesTo,
            State = whole.State,
        };
    }

    /// <summary>The blocks with atoms at their very beginning: in the first block that holds words before any head, at whatever depth;
    /// else in a paragraph of their own.</summary>
    private static List<Block> AtHead(List<Block> blocks, Inline[] atoms, Id fresh)
    {
        if (blocks.Count > 0 && Begun(blocks[0], atoms) is { } begun)
            return [begun, .. blocks.Skip(1)];
        return [new Paragraph(fresh, "body", atoms), .. blocks];
    }

    /// <summary>The block with atoms before its first words; null when it begins with none that take them.</summary>
    private static Block? Begun(Block block, Inline[] atoms) =>
        block switch
        {
            Paragraph p => p with { Content = [.. atoms, .. p.Content] },
            ItemList { Items: [{ Blocks: [var first, ..] } item, ..] } l when Begun(first, atoms) is { } b => l with
            {
                Items = [item with { Blocks = [b, .. item.Blocks.Skip(1)] }, .. l.Items.Skip(1)],
            },
            Steps { Items: [{ Blocks: [var first, ..] } item, ..] } s when Begun(first, atoms) is { } b => s with
            {
                Items = [item with { Blocks = [b, .. item.Blocks.Skip(1)] }, .. s.Items.Skip(1)],
            },
            Admonition { Blocks: [var first, ..] } a when Begun(first, atoms) is { } b => a with { Blocks = [b, .. a.Blocks.Skip(1)] },
            DefinitionList { Definitions: [var first, ..] } d => d with
            {
                Definitions = [first with { Term = [.. atoms, .. first.Term] }, .. d.Definitions.Skip(1)],
            },
            _ => null,
        };

    private static PlanResult Split(Manual manual, Id id)
    {
        if (SectionOf(manual, id) is not { } run)
            return PlanResult.No("Choose a head to split before.");
        var whole = manual.Divisions[run.Division];
        var head = (Head)whole.Blocks[run.From];
        // The head's own section rises with it; what comes after keeps its level, but no lower than right under the title.
        var lifted = (int)head.Level;
        var rest = whole.Blocks.Skip(run.End).ToArray();
        var section = Detached(whole, head, whole.Blocks.Skip(run.From + 1).Take(run.Count - 1), lifted);
        var divisions = manual.Divisions.ToList();
        divisions[run.Division] = whole with { Blocks = whole.Blocks.Take(run.From).ToArray() };
        divisions.Insert(
            run.Division + 1,
            section with
            {
                Blocks = [.. section.Blocks, .. Shifted(rest, rest.OfType<Head>().FirstOrDefault() is { } next ? 1 - (int)next.Level : 0)!],
            }
        );
        return new PlanResult(manual with { Divisions = divisions }, $"Splitting “{whole.Title}” before “{section.Title}”", null);
    }

    /// <summary>The division's title becomes an A head of the one before it, with the division's identity.</summary>
    private static PlanResult Join(Manual manual, Id id, bool deepen)
    {
        var at = DivisionAt(manual, id);
        if (at < 0)
            return PlanResult.No("Choose a division to join to the one before it.");
        var own = manual.Divisions[at];
        if (own.Kind is not (DivisionKind.Chapter or DivisionKind.Appendix or DivisionKind.Preface))
            return PlanResult.No($"{KindWords(own.Kind)} cannot become a section.");
        var before = at > 0 ? manual.Divisions[at - 1] : null;
        if (
            before is null
            || before.Kind is not (DivisionKind.Chapter or DivisionKind.Appendix or DivisionKind.Preface)
            || before.Matter != own.Matter
        )
            return PlanResult.No("There is no chapter before it to stand in.");
        if (Shifted(own.Blocks, deepen ? 1 : 0) is not { } shifted)
            return PlanResult.No(TooDeep);
        var head = new Head(own.Id, HeadLevel.A, own.Title.Length > 0 ? [new TextRun(own.Title)] : [])
        {
            ShortTitle = own.ShortTitle,
            AppliesTo = own.AppliesTo,
        };
        var divisions = manual.Divisions.ToList();
        divisions[at - 1] = before with { Blocks = [.. before.Blocks, head, .. shifted] };
        divisions.RemoveAt(at);
        return new PlanResult(manual with { Divisions = divisions }, $"Joining “{own.Title}” to “{before.Title}”", null);
    }

    // ---- adding, naming, taking out ----

    private static PlanResult AddDivision(Manual manual, PlanAct.AddDivision add)
    {
        Block[] blocks = add.Kind switch
        {
            DivisionKind.Contents => [new ContentsList(new Id(add.New.Value + "-1"), add.List)],
            DivisionKind.Index => [new IndexList(new Id(add.New.Value + "-1"))],
            DivisionKind.Glossary =>
            [
                new DefinitionList(
                    new Id(add.New.Value + "-1"),
                    [new Definition(new Id(add.New.Value + "-2"), [], [new Paragraph(new Id(add.New.Value + "-3"), "body", [])])]
                )
                {
                    Glossary = true,
                },
            ],
            DivisionKind.TitlePage or DivisionKind.HalfTitle =>
            [
                new Paragraph(new Id(add.New.Value + "-1"), "title", [new TextRun(manual.Title)]),
            ],
            DivisionKind.Part => [],
            _ => [new Paragraph(new Id(add.New.Value + "-1"), "body", [])],
        };
        var division = new Division(
            add.New,
            add.Kind,
            add.Title.Length > 0 ? add.Title
                : add.Kind == DivisionKind.Contents ? StandardLists.Title(add.List)
                : Named(add.Kind),
            blocks
        )
        {
            Language = manual.Language,
        };
        var listed = add.Kind == DivisionKind.Contents ? manual.WithList(add.List) : manual;
        return new PlanResult(listed with { Divisions = Placed(manual, [division], add.After) }, $"Adding “{division.Title}”", null);
    }

    private static PlanResult PutIn(Manual manual, PlanAct.PutIn putIn)
    {
        var next = manual;
        var after = putIn.After;
        foreach (var division in putIn.Divisions)
        {
            next = next with { Divisions = Placed(next, [division], after) };
            after = division.Id;
        }
        return new PlanResult(
            next,
            putIn.Divisions.Count == 1 ? $"Bringing in “{putIn.Divisions[0].Title}”" : $"Bringing in {putIn.Divisions.Count} divisions",
            null
        );
    }

    /// <summary>Divisions of one kind where that kind belongs: after the one named when that is of its matter, else after the
    /// last of its kind or of what stands before it in a book.</summary>
    private static List<Division> Placed(Manual manual, IReadOnlyList<Division> added, Id after)
    {
        var divisions = manual.Divisions.ToList();
        var kind = added[0].Kind;
        var at = divisions.FindIndex(d => d.Id == after);
        // After a head means after its division.
        if (at < 0 && SectionOf(manual, after) is { } run)
            at = run.Division;
        if (
            at >= 0
            && (
                divisions[at].Kind == kind
                || (
                    divisions[at].Matter == Matter.Body
                    && kind is DivisionKind.Part or DivisionKind.Chapter
                    && divisions[at].Matter == added[0].Matter
                )
            )
        )
            at = kind == DivisionKind.Part && divisions[at].Kind == DivisionKind.Part ? EndOfDivision(manual, at) : at + 1;
        else
        {
            // Parts and chapters are one row in the order of kinds.
            static int Rank(DivisionKind k) => k is DivisionKind.Part ? (int)DivisionKind.Chapter : (int)k;
            at = divisions.FindLastIndex(d => Rank(d.Kind) <= Rank(kind)) + 1;
        }
        divisions.InsertRange(at, added);
        return divisions;
    }

    private static PlanResult AddHead(Manual manual, PlanAct.AddHead add)
    {
        var text = add.Title.Trim();
        if (text.Length == 0)
            return PlanResult.No("A head needs words.");
        Block[] Section(HeadLevel level) =>
            [new Head(add.New, level, [new TextRun(text)]), new Paragraph(new Id(add.New.Value + "-1"), "body", [])];
        if (SectionOf(manual, add.After) is { } run)
        {
            var blocks = manual.Divisions[run.Division].Blocks;
            return new PlanResult(
                With(manual, run.Division, [.. blocks.Take(run.End), .. Section(((Head)blocks[run.From]).Level), .. blocks.Skip(run.End)]),
                $"Adding “{text}”",
                null
            );
        }
        var d = DivisionAt(manual, add.After);
        if (d < 0)
            return PlanResult.No("Choose the row after which it comes.");
        if (manual.Divisions[d].Kind is DivisionKind.Part or DivisionKind.Contents or DivisionKind.Index)
            return PlanResult.No($"{KindWords(manual.Divisions[d].Kind)} holds no sections.");
        return new PlanResult(With(manual, d, [.. manual.Divisions[d].Blocks, .. Section(HeadLevel.A)]), $"Adding “{text}”", null);
    }

    private static PlanResult Rename(Manual manual, Id row, string title)
    {
        if (DivisionAt(manual, row) is var d and >= 0)
            return new PlanResult(
                manual with
                {
                    Divisions = manual.Divisions.Select((x, i) => i == d ? x with { Title = title.Trim() } : x).ToArray(),
                },
                $"Renaming “{manual.Divisions[d].Title}”",
                null
            );
        if (SectionOf(manual, row) is not { } run)
            return PlanResult.No("This row was taken out.");
        var blocks = manual.Divisions[run.Division].Blocks;
        var head = (Head)blocks[run.From];
        if (title.Trim().Length == 0)
            return PlanResult.No("A head needs words.");
        if (head.FixedBy is { } pattern)
            return PlanResult.No($"This head is fixed by the pattern “{pattern}”; it changes only there.");
        // Atoms of the old words stay, behind the new ones.
        var renamed = head with { Content = [new TextRun(title.Trim()), .. head.Content.Where(i => i is not (TextRun or LineBreak))] };
        return new PlanResult(
            With(manual, run.Division, [.. blocks.Take(run.From), renamed, .. blocks.Skip(run.From + 1)]),
            $"Renaming “{head.Content.PlainText()}”",
            null
        );
    }

    private static PlanResult Shorten(Manual manual, Id row, string shortTitle)
    {
        if (DivisionAt(manual, row) is not (var d and >= 0))
            return PlanResult.No("This division was taken out.");
        var shorter = shortTitle.Length == 0 ? null : shortTitle;
        return new PlanResult(
            manual with
            {
                Divisions = manual.Divisions.Select((x, i) => i == d ? x with { ShortTitle = shorter } : x).ToArray(),
            },
            $"Changing the short title of “{manual.Divisions[d].Title}”",
            null
        );
    }

    private static PlanResult TakeOut(Manual manual, Id row)
    {
        if (DivisionAt(manual, row) is var d and >= 0)
        {
            var end = EndOfDivision(manual, d);
            if (manual.Divisions.Count == end - d)
                return PlanResult.No("A manual keeps at least one division.");
            if (manual.Divisions.Skip(d).Take(end - d).SelectMany(x => x.Blocks).FirstOrDefault(b => b.FixedBy is not null) is { } held)
                return PlanResult.No($"Text in it is fixed by the pattern “{held.FixedBy}”.");
            return new PlanResult(
                manual with
                {
                    Divisions = manual.Divisions.Where((_, i) => i < d || i >= end).ToArray(),
                },
                $"Taking out “{manual.Divisions[d].Title}”",
                null
            );
        }
        if (SectionOf(manual, row) is not { } run)
            return PlanResult.No("This row was taken out.");
        var blocks = manual.Divisions[run.Division].Blocks;
        if (blocks.Skip(run.From).Take(run.Count).FirstOrDefault(b => b.FixedBy is not null) is { } fixed_)
            return PlanResult.No($"Text in it is fixed by the pattern “{fixed_.FixedBy}”.");
        return new PlanResult(
            With(manual, run.Division, blocks.Where((_, i) => i < run.From || i >= run.End).ToArray()),
            $"Taking out “{TitleOf(manual, row)}”",
            null
        );
    }

    private static PlanResult MakeHead(Manual manual, PlanAct.MakeHead make)
    {
        for (var d = 0; d < manual.Divisions.Count; d++)
        for (var b = 0; b < manual.Divisions[d].Blocks.Count; b++)
            if (manual.Divisions[d].Blocks[b] is Paragraph p && p.Id == make.Block)
            {
                var blocks = manual.Divisions[d].Blocks.ToArray();
                if (p.FixedBy is { } pattern)
                    return PlanResult.No($"This text is fixed by the pattern “{pattern}”; it changes only there.");
                if (p.Content.Any(i => i is Footnote))
                    return PlanResult.No("A head calls no notes: move the note into the text first.");
                blocks[b] = new Head(
                    p.Id,
                    make.Level,
                    [.. p.Content.Select(i => i is TextRun r ? r with { Roles = r.Roles & ~(SpanRoles.Strong | SpanRoles.Emphasis) } : i)]
                )
                {
                    AppliesTo = p.AppliesTo,
                    OwnRole = p.OwnRole,
                };
                return new PlanResult(With(manual, d, blocks), $"Making “{p.Content.PlainText()}” a head", null);
            }
        return PlanResult.No("This paragraph was taken out.");
    }

    private static string Named(DivisionKind kind) =>
        kind switch
        {
            DivisionKind.HalfTitle => "Half title",
            DivisionKind.TitlePage => "Title page",
            DivisionKind.Legal => "Legal page",
            DivisionKind.Part or DivisionKind.Chapter or DivisionKind.Appendix => "Untitled",
            _ => kind.ToString(),
        };

    private static string KindWords(DivisionKind kind) =>
        kind switch
        {
            DivisionKind.Appendix => "An appendix",
            DivisionKind.Index => "An index",
            DivisionKind.Contents => "A contents page",
            DivisionKind.TitlePage => "A title page",
            DivisionKind.HalfTitle => "A half title",
            DivisionKind.Legal => "A legal page",
            _ => "A " + kind.ToString().ToLowerInvariant(),
        };

    private static string MatterWords(Matter matter) =>
        matter switch
        {
            Matter.Front => "front matter",
            Matter.Back => "back matter",
            _ => "body",
        };
}
