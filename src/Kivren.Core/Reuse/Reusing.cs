using Kivren.Core.Content;
using Kivren.Core.Planning;

namespace Kivren.Core.Reuse;

/// <summary>Does acts on variables, conditions and passages as pure functions of the manual.</summary>
public static class Reusing
{
    public const int LongestName = 60,
        LongestText = 2_000,
        MostNames = 1_000,
        MostValues = 100;

    public static PlanResult Apply(Manual manual, ReuseAct act) =>
        act switch
        {
            ReuseAct.SetVariable set => SetVariable(manual, set.Name.Trim(), set.Text),
            ReuseAct.RenameVariable rename => RenameVariable(manual, rename.Name, rename.To.Trim()),
            ReuseAct.TakeOutVariable takeOut => TakeOutVariable(manual, takeOut.Name),
            ReuseAct.SetCondition set => SetCondition(manual, set.Axis.Trim(), set.Values),
            ReuseAct.RenameCondition rename => RenameCondition(manual, rename.Axis, rename.Value, rename.To.Trim()),
            ReuseAct.TakeOutCondition takeOut => TakeOutCondition(manual, takeOut.Axis),
            ReuseAct.AcceptWord accept => AcceptWord(manual, accept.Word.Trim(), accept.Right),
            ReuseAct.ReplacePicture replace => ReplacePicture(manual, replace.Name, replace.By),
            ReuseAct.TakeOtherPlaces take => TakeOtherPlaces(manual, take.Now),
            ReuseAct.Apply apply => SetApplies(manual, apply.Rows, apply.AppliesTo),
            ReuseAct.AddPassage add => AddPassage(manual, add, add.Name.Trim()),
            ReuseAct.RenamePassage rename => RenamePassage(manual, rename.Passage, rename.To.Trim()),
            ReuseAct.TakeOutPassage takeOut => TakeOutPassage(manual, takeOut.Passage),
            ReuseAct.MakePlain plain => MakePlain(manual, plain.Use, plain.New),
            _ => PlanResult.No("This act is not known."),
        };

    private static PlanResult Done(Manual manual, string words) => new(manual, words, null);

    private static string? NoName(string name) => name.Length is 0 or > LongestName ? $"A name has one to {LongestName} letters." : null;

    private static Manual WithBlocks(Manual manual, Func<Block, Block> change) =>
        manual.WithKept([
            .. manual
                .Kept()
                .Select(d =>
                {
                    var blocks = d.Blocks.Select(change).ToArray();
                    return blocks.Zip(d.Blocks).All(b => ReferenceEquals(b.First, b.Second)) ? d : d with { Blocks = blocks };
                }),
        ]);

    // ---- variables ----

    private static PlanResult SetVariable(Manual manual, string name, string text)
    {
        if (NoName(name) is { } why)
            return PlanResult.No(why);
        if (text.Length > LongestText)
            return PlanResult.No($"A variable has up to {LongestText} letters.");
        var known = manual.Variables.Any(v => v.Name == name);
        if (!known && manual.Variables.Count >= MostNames)
            return PlanResult.No($"A manual has up to {MostNames} variables.");
        NamedText variable = new(name, text);
        return Done(
            manual with
            {
                Variables = known ? [.. manual.Variables.Select(v => v.Name == name ? variable : v)] : [.. manual.Variables, variable],
            },
            known ? $"Changing the variable “{name}”" : $"Adding the variable “{name}”"
        );
    }

    private static PlanResult RenameVariable(Manual manual, string name, string to)
    {
        if (NoName(to) is { } why)
            return PlanResult.No(why);
        if (manual.Variables.All(v => v.Name != name))
            return PlanResult.No($"There is no variable “{name}”.");
        if (manual.Variables.Any(v => v.Name == to))
            return PlanResult.No($"There is a variable “{to}” already.");
        NamedText Renamed(NamedText v) => v.Name == name ? v with { Name = to } : v;
        IReadOnlyList<Inline> Spans(IReadOnlyList<Inline> spans) =>
            [
                .. spans.Select(s =>
                    s switch
                    {
                        VariableUse use when use.Name == name => new VariableUse(to),
                        Holding h => h with { Content = Spans(h.Content) },
                        _ => s,
                    }
                ),
            ];
        var renamed = WithBlocks(manual, b => Uses.Variable(b, name) ? b.WithSpans(Spans) : b);
        return Done(
            renamed with
            {
                Variables = [.. manual.Variables.Select(Renamed)],
                Editions = [.. manual.Editions.Select(e => e with { Variables = [.. e.Variables.Select(Renamed)] })],
            },
            $"Renaming the variable “{name}” to “{to}”"
        );
    }

    private static PlanResult TakeOutVariable(Manual manual, string name)
    {
        if (manual.Variables.All(v => v.Name != name))
            return PlanResult.No($"There is no variable “{name}”.");
        var uses = manual.Kept().SelectMany(d => d.Blocks).Count(b => Uses.Variable(b, name));
        if (uses > 0)
            return PlanResult.No($"“{name}” stands in {Blocks(uses)} still.");
        return Done(
            manual with
            {
                Variables = [.. manual.Variables.Where(v => v.Name != name)],
                Editions = [.. manual.Editions.Select(e => e with { Variables = [.. e.Variables.Where(v => v.Name != name)] })],
            },
            $"Taking out the variable “{name}”"
        );
    }

    private static string Blocks(int count) => count == 1 ? "one block" : $"{count} blocks";

    // ---- conditions ----

    private static PlanResult SetCondition(Manual manual, string axis, IReadOnlyList<string> values)
    {
        string[] clean = [.. values.Select(v => v.Trim()).Where(v => v.Length > 0).Distinct(StringComparer.Ordinal)];
        if ((NoName(axis) ?? clean.Select(NoName).FirstOrDefault(n => n is not null)) is { } why)
            return PlanResult.No(why);
        if (clean.Length is 0 or > MostValues)
            return PlanResult.No($"A condition has one to {MostValues} values.");
        var known = manual.Conditions.FirstOrDefault(c => c.Axis == axis);
        foreach (var gone in known?.Values.Except(clean, StringComparer.Ordinal) ?? [])
            if (Uses.OfValue(manual, axis, gone) is var uses and > 0)
                return PlanResult.No($"{axis} {gone} is named in {(uses == 1 ? "one place" : $"{uses} places")} still.");
        if (known is null && manual.Conditions.Count >= MostValues)
            return PlanResult.No($"A manual has up to {MostValues} conditions.");
        AxisValues set = new(axis, clean);
        return Done(
            manual with
            {
                Conditions = known is null ? [.. manual.Conditions, set] : [.. manual.Conditions.Select(c => c.Axis == axis ? set : c)],
            },
            known is null ? $"Adding the condition “{axis}”" : $"Changing the values of “{axis}”"
        );
    }

    private static PlanResult RenameCondition(Manual manual, string axis, string? value, string to)
    {
        if (NoName(to) is { } why)
            return PlanResult.No(why);
        if (manual.Conditions.FirstOrDefault(c => c.Axis == axis) is not { } known || (value is not null && !known.Values.Contains(value)))
            return PlanResult.No($"There is no condition “{value ?? axis}”.");
        if (value is null ? manual.Conditions.Any(c => c.Axis == to) : known.Values.Contains(to))
            return PlanResult.No($"There is a condition “{to}” already.");
        AxisValues Renamed(AxisValues a) =>
            a.Axis != axis ? a
            : value is null ? a with { Axis = to }
            : a with { Values = [.. a.Values.Select(v => v == value ? to : v)] };
        return Done(
            WithConditions(manual, axes => [.. axes.Select(Renamed)]) with
            {
                Conditions = [.. manual.Conditions.Select(Renamed)],
                Editions = [.. manual.Editions.Select(e => e with { Chosen = [.. e.Chosen.Select(Renamed)] })],
            },
            $"Renaming “{value ?? axis}” to “{to}”"
        );
    }

    private static PlanResult TakeOutCondition(Manual manual, string axis)
    {
        if (manual.Conditions.All(c => c.Axis != axis))
            return PlanResult.No($"There is no condition “{axis}”.");
        IReadOnlyList<AxisValues> Without(IReadOnlyList<AxisValues> axes) => [.. axes.Where(a => a.Axis != axis)];
        return Done(
            WithConditions(manual, Without) with
            {
                Conditions = Without(manual.Conditions),
                Editions = [.. manual.Editions.Select(e => e with { Chosen = Without(e.Chosen) })],
            },
            $"Taking out the condition “{axis}”"
        );
    }

    /// <summary>The manual with what divisions, blocks and words apply to changed.</summary>
    private static Manual WithConditions(Manual manual, Func<IReadOnlyList<AxisValues>, IReadOnlyList<AxisValues>> axes)
    {
        AppliesTo Change(AppliesTo applies)
        {
            if (applies.IsAlways)
                return applies;
            var changed = axes(applies.Axes);
            return changed.SequenceEqual(applies.Axes) ? applies : new AppliesTo(changed);
        }
        var blocks = WithBlocks(manual, b => b.WithConditions(Change));
        return blocks with
        {
            Divisions =
            [
                .. blocks.Divisions.Select(d =>
                    Change(d.AppliesTo) is var c && ReferenceEquals(c, d.AppliesTo) ? d : d with { AppliesTo = c }
                ),
            ],
        };
    }

    private static PlanResult SetApplies(Manual manual, IReadOnlyList<Id> rows, AppliesTo applies)
    {
        foreach (var axis in applies.Axes)
            if (manual.Conditions.FirstOrDefault(c => c.Axis == axis.Axis) is not { } known || axis.Values.Except(known.Values).Any())
                return PlanResult.No($"There is no condition “{axis.Axis} {string.Join(", ", axis.Values)}”.");
        var set = rows.ToHashSet();
        Division Set(Division d)
        {
            var blocks = d.Blocks.Any(b => set.Contains(b.Id))
                ? [.. d.Blocks.Select(b => set.Contains(b.Id) ? b with { AppliesTo = applies } : b)]
                : d.Blocks;
            return set.Contains(d.Id) || !ReferenceEquals(blocks, d.Blocks)
                ? d with
                {
                    Blocks = blocks,
                    AppliesTo = set.Contains(d.Id) ? applies : d.AppliesTo,
                }
                : d;
        }
        return Done(
            manual with
            {
                Divisions = [.. manual.Divisions.Select(Set)],
            },
            applies.IsAlways ? "Applying to all readers" : $"Applying to {applies.InWords()}"
        );
    }

    private const int MostWords = 20_000;

    private static PlanResult AcceptWord(Manual manual, string word, bool right)
    {
        if (NoName(word) is { } why)
            return PlanResult.No(why);
        if (right && manual.AcceptedWords.Count >= MostWords)
            return PlanResult.No($"A manual has up to {MostWords} words of its own.");
        var others = manual.AcceptedWords.Where(w => w != word);
        return Done(
            manual with
            {
                AcceptedWords = right ? [.. others.Append(word).Order(StringComparer.Ordinal)] : [.. others],
            },
            right ? $"Accepting the word “{word}”" : $"“{word}” is no longer accepted"
        );
    }

    private static PlanResult ReplacePicture(Manual manual, string name, string by)
    {
        if (manual.Assets.All(a => a.Name != by))
            return PlanResult.No($"There is no picture “{by}”.");
        var uses = manual.Kept().SelectMany(d => d.Blocks).Count(b => Uses.Picture(b, name));
        if (uses == 0 || name == by)
            return PlanResult.No($"“{name}” stands nowhere.");
        return Done(
            WithBlocks(manual, b => Uses.Picture(b, name) ? b.WithPictures(p => p == name ? by : p) : b),
            $"Showing “{by}” in the place of “{name}” in {Blocks(uses)}"
        );
    }

    private static PlanResult TakeOtherPlaces(Manual manual, IReadOnlyDictionary<Id, OtherPlace> now)
    {
        bool Grew(Inline i) => i is CrossReference { Other: { } was } r && now.TryGetValue(r.Id, out var place) && place != was;
        IReadOnlyList<Inline> Spans(IReadOnlyList<Inline> spans) =>
            [
                .. spans.Select(s =>
                    s switch
                    {
                        CrossReference r when Grew(r) => r with { Other = now[r.Id] },
                        Holding h => h with { Content = Spans(h.Content) },
                        _ => s,
                    }
                ),
            ];
        var blocks = manual.Kept().SelectMany(d => d.Blocks).Count(b => b.Inlines().Any(Grew));
        return blocks == 0
            ? PlanResult.No("Every reference into another manual says what that manual says.")
            : Done(
                WithBlocks(manual, b => b.Inlines().Any(Grew) ? b.WithSpans(Spans) : b),
                $"Taking what other manuals say now, in {Blocks(blocks)}"
            );
    }

    // ---- passages ----

    private static PlanResult AddPassage(Manual manual, ReuseAct.AddPassage add, string name)
    {
        if (NoName(name) is { } why)
            return PlanResult.No(why);
        if (manual.Passages.Any(p => p.Name == name))
            return PlanResult.No($"There is a passage “{name}” already.");
        if (manual.Passages.Count >= MostNames)
            return PlanResult.No($"A manual has up to {MostNames} passages.");
        var division = manual.Kept().FirstOrDefault(d => add.Blocks.Count > 0 && d.Blocks.Any(b => b.Id == add.Blocks[0]));
        if (division is null)
            return PlanResult.No("Select the blocks that are to be a passage.");
        var from = 0;
        while (division.Blocks[from].Id != add.Blocks[0])
            from++;
        Block[] taken = [.. division.Blocks.Skip(from).Take(add.Blocks.Count)];
        if (!taken.Select(b => b.Id).SequenceEqual(add.Blocks))
            return PlanResult.No("A passage is made of blocks that follow one another.");
        if (taken.Any(b => b.FixedBy is not null))
            return PlanResult.No("Text that a pattern fixed stays where it is.");
        PassageUse use = new(new Id(add.New.Value + "-use"), name);
        var with = manual.WithKept([
            .. manual
                .Kept()
                .Select(d =>
                    d.Id == division.Id ? d with { Blocks = [.. d.Blocks.Take(from), use, .. d.Blocks.Skip(from + taken.Length)] } : d
                ),
        ]);
        return Done(with with { Passages = [.. with.Passages, new Passage(add.New, name, taken)] }, $"Making the passage “{name}”");
    }

    private static PlanResult RenamePassage(Manual manual, Id id, string to)
    {
        if (manual.Passages.FirstOrDefault(p => p.Id == id) is not { } passage)
            return PlanResult.No("There is no such passage.");
        if (NoName(to) is { } why)
            return PlanResult.No(why);
        if (manual.Passages.Any(p => p.Name == to))
            return PlanResult.No($"There is a passage “{to}” already.");
        var renamed = WithBlocks(manual, b => Uses.Passage(b, passage.Name) ? UsesRenamed(b, passage.Name, to) : b);
        return Done(
            renamed with
            {
                Passages = [.. renamed.Passages.Select(p => p.Id == id ? p with { Name = to } : p)],
            },
            $"Renaming the passage “{passage.Name}” to “{to}”"
        );
    }

    private static Block UsesRenamed(Block block, string name, string to) =>
        block is PassageUse use
            ? use.Passage == name
                ? use with
                {
                    Passage = to,
                }
                : use
            : block.WithInnerBlocks(inner => [.. inner.Select(b => UsesRenamed(b, name, to))]);

    private static PlanResult TakeOutPassage(Manual manual, Id id)
    {
        if (manual.Passages.FirstOrDefault(p => p.Id == id) is not { } passage)
            return PlanResult.No("There is no such passage.");
        if (Uses.OfPassage(manual, passage.Name) is var uses and > 0)
            return PlanResult.No($"“{passage.Name}” is used in {(uses == 1 ? "one place" : $"{uses} places")} still.");
        return Done(manual with { Passages = [.. manual.Passages.Where(p => p.Id != id)] }, $"Taking out the passage “{passage.Name}”");
    }

    private static PlanResult MakePlain(Manual manual, Id use, Id fresh)
    {
        var found = manual
            .Kept()
            .SelectMany(d => d.Blocks)
            .SelectMany(b => b.WithInner())
            .OfType<PassageUse>()
            .FirstOrDefault(u => u.Id == use);
        if (found is null)
            return PlanResult.No("There is no such use of a passage.");
        if (manual.Passages.FirstOrDefault(p => p.Name == found.Passage) is not { } passage)
            return PlanResult.No($"There is no passage “{found.Passage}”.");
        var only = Uses.OfPassage(manual, passage.Name) == 1;
        var blocks = only ? passage.Blocks : Copies(passage.Blocks, fresh);
        var applied = blocks
            .Select(b =>
                found.AppliesTo.IsAlways ? b : b with { AppliesTo = new AppliesTo([.. found.AppliesTo.Axes, .. b.AppliesTo.Axes]) }
            )
            .ToArray();
        IReadOnlyList<Block> Instead(IReadOnlyList<Block> inner) =>
            inner.Any(b => b.WithInner().Any(i => i.Id == use))
                ? [.. inner.SelectMany(b => b.Id == use ? applied : [b.WithInnerBlocks(Instead)])]
                : inner;
        var kept = manual.Kept().Where(d => !(only && d.Id == passage.Id));
        return Done(
            manual.WithKept([
                .. kept.Select(d => Instead(d.Blocks) is var now && ReferenceEquals(now, d.Blocks) ? d : d with { Blocks = now }),
            ]),
            $"Making “{passage.Name}” plain text"
        );
    }

    /// <summary>Blocks of a passage with identities of their own; references inside follow.</summary>
    public static Block[] Copies(IReadOnlyList<Block> blocks, Id fresh)
    {
        var names = new Dictionary<Id, Id>();
        Id New(Id id) => names.TryGetValue(id, out var known) ? known : names[id] = new Id($"{fresh.Value}-{names.Count + 1}");
        foreach (var block in blocks)
            block.Renamed(New, t => t);
        return [.. blocks.Select(b => b.Renamed(New, t => names.GetValueOrDefault(t, t)))];
    }
}
