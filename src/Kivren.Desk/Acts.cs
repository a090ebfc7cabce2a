using Kivren.Core.Content;
using Kivren.Core.Finding;
using Kivren.Core.Planning;
using Kivren.Core.Reuse;
using Kivren.Formats.Package;

namespace Kivren.Desk;

/// <summary>Every act at a desk as a pure function: a state and an act yield another state and the rows to write. Nothing
/// here knows a database, a browser or the time.</summary>
public static class Acts
{
    /// <summary>What a batch needs to know that is not in the state.</summary>
    public static (IReadOnlyList<string> Blocks, IReadOnlyList<(string Block, int Version)> Bodies) Needs(
        DeskState state,
        IReadOnlyList<BlockChange> changes
    )
    {
        var gone = new List<string>();
        var bodies = new List<(string, int)>();
        foreach (var change in changes)
            if (state.Block(change.Id) is not { } now)
                gone.Add(change.Id);
            else if (change.BasedOn > 0 && now.Version != change.BasedOn)
                bodies.Add((change.Id, change.BasedOn));
        return (gone, bodies);
    }

    /// <summary>Whether each change is of the block as it stands. Such a batch was not done before: it would stand in a newer version
    /// then.</summary>
    public static bool AreFresh(DeskState state, IReadOnlyList<BlockChange> changes) =>
        changes.Count > 0 && changes.All(c => c.BasedOn > 0 && state.Block(c.Id)?.Version == c.BasedOn);

    /// <summary>Typing: changed blocks, each checked against the model and against what it was based on. What cannot go in is
    /// refused by itself; the rest goes in.</summary>
    /// <param name="joined">ids that joined blocks gave up, with the ids that stand for them now</param>
    public static DeskOutcome Write(
        DeskState state,
        IReadOnlyList<ReadChange> changes,
        IReadOnlyDictionary<string, string>? joined,
        string label,
        Known known
    )
    {
        var draft = new Draft(state, known);
        var accepted = new List<Accepted>();
        var refused = new List<Refused>();
        foreach (var change in changes)
            new WrittenBlock(state, draft, known, change, accepted, refused).Do();
        if (joined is { Count: > 0 })
        {
            var aliases = new Dictionary<Id, Id>(state.Manual.Aliases);
            foreach (var (from, to) in joined)
                if (from != to)
                    aliases[new Id(from)] = new Id(to);
            draft.Aliases = aliases;
        }
        var (next, rows) = draft.Finish();
        var versions = rows.Blocks.ToDictionary(b => b.Block.Id, b => b.Block.Version, StringComparer.Ordinal);
        // A change that changed nothing keeps the version there is.
        var answered = accepted.Select(a =>
            a with
            {
                Version = versions.TryGetValue(a.Id, out var v) ? v : state.Block(a.Id)?.Version ?? 0,
            }
        );
        return new DeskOutcome(next, rows, label, [.. answered], refused);
    }

    /// <summary>An act on the plan.</summary>
    public static DeskOutcome Rework(DeskState state, PlanAct act, Known known)
    {
        var result = Planner.Apply(state.Manual, act);
        return result.Refused is { } why ? DeskOutcome.No(state, why) : Become(state, result.Manual!, result.Words, known);
    }

    /// <summary>Whole divisions put in after a row, with the pictures they name.</summary>
    public static DeskOutcome PutIn(
        DeskState state,
        IReadOnlyList<Division> divisions,
        Id after,
        IReadOnlyList<Asset> pictures,
        Known known
    )
    {
        var result = Planner.Apply(state.Manual, new PlanAct.PutIn(divisions, after));
        if (result.Refused is { } why)
            return DeskOutcome.No(state, why);
        return Become(state, result.Manual! with { Assets = [.. state.Manual.Assets, .. pictures] }, result.Words, known);
    }

    /// <summary>Differences of a newer version of a source: typing by another hand, with its pictures.</summary>
    public static DeskOutcome TakeDifferences(
        DeskState state,
        IReadOnlyList<BlockChange> changes,
        IReadOnlyList<Asset> pictures,
        string label,
        Known known
    )
    {
        var outcome = Write(state, ReadChange.Of(changes), null, label, known);
        if (outcome.Refused.Count > 0)
            return DeskOutcome.No(state, outcome.Refused[0].Why);
        var added = pictures.Where(p => state.Manual.Assets.All(a => a.Name != p.Name)).ToArray();
        if (added.Length == 0)
            return outcome;
        var manual = outcome.State.Manual with { Assets = [.. outcome.State.Manual.Assets, .. added] };
        return outcome with
        {
            State = DeskState.Of(manual, outcome.State.Divisions, state.Act),
            Rows = outcome.Rows with { Manual = outcome.Rows.Manual with { Assets = added } },
        };
    }

    /// <summary>Other words in many places, as one act. Text that a pattern fixed, and a chosen block that was changed since it was
    /// shown, stay as they are.</summary>
    public static DeskOutcome Replace(DeskState state, Replacing what)
    {
        if (Search.For(what.Sought, out var why) is not { } search)
            return DeskOutcome.No(state, why);
        try
        {
            return Replaced(state, what, search);
        }
        catch (ReplacesTooMuchException e)
        {
            return DeskOutcome.No(state, e.Message);
        }
    }

    private static DeskOutcome Replaced(DeskState state, Replacing what, Search search)
    {
        var draft = new Draft(state, Known.Nothing);
        int places = 0,
            left = 0;
        foreach (var division in state.Divisions.Where(d => what.Division is null || d.Id == what.Division))
        {
            // A passage is used by its name: it is renamed by an act of its own.
            if (division.Division.Kind != DivisionKind.Passage && what.ChosenIn(division.Id, division.Version, ref left) is { } ofTitle)
            {
                var title = search.ReplacedTitle(division.Division.Title, what.With, ofTitle, out var count);
                if (count > 0)
                    draft.Head(division.Id, division.Division with { Title = title });
                places += count;
            }
            foreach (var block in division.Blocks)
            {
                if (what.ChosenIn(block.Id, block.Version, ref left) is not { } chosen)
                    continue;
                var replaced = search.Replaced(block.Block, what.With, chosen, out var count);
                if (count == 0)
                    continue;
                if (block.Block.FixedBy is not null)
                {
                    left += count;
                    continue;
                }
                draft.Put(division.Id, replaced, null);
                places += count;
            }
        }
        if (what.Division is null && ReplacedVariables(state.Manual, what, search, ref places, ref left) is { } variables)
            draft.Settings = new ManualSettings { Variables = variables };
        if (places == 0)
            return DeskOutcome.No(
                state,
                left > 0 ? "What was to be replaced is fixed, or was changed since." : "There is nothing to replace."
            );
        var (next, rows) = draft.Finish();
        var said = $"Replacing “{Short(what.Sought.Words)}” by “{Short(what.With)}” in {places} {(places == 1 ? "place" : "places")}";
        return new DeskOutcome(next, rows, left == 0 ? said : $"{said}; {left} left as they are", [], []);
    }

    /// <returns>null when none of them says anything else</returns>
    private static List<NamedText>? ReplacedVariables(Manual manual, Replacing what, Search search, ref int places, ref int left)
    {
        var all = new List<NamedText>();
        var changed = false;
        foreach (var variable in manual.Variables)
        {
            var (text, count) = (variable.Text, 0);
            if (what.ChosenIn(Replacing.Variable(variable.Name), 0, ref left) is { } chosen)
                text = search.ReplacedVariable(variable.Text, what.With, chosen, out count);
            all.Add(count > 0 ? variable with { Text = text } : variable);
            places += count;
            changed |= count > 0;
        }
        return changed ? all : null;
    }

    private static string Short(string words) => words.Length <= 40 ? words : words[..39] + "…";

    public const int LongestRoleName = 60;

    /// <summary>A role of the manual's own, founded on one that there is.</summary>
    public static DeskOutcome AddRole(DeskState state, string name, string foundation)
    {
        var wanted = name.Trim();
        if (wanted.Length is 0 or > LongestRoleName)
            return DeskOutcome.No(state, $"A role needs a name of up to {LongestRoleName} letters.");
        if (state.Manual.Roles.Any(r => r.Name.Equals(wanted, StringComparison.OrdinalIgnoreCase)))
            return DeskOutcome.No(state, $"There is a role “{wanted}” already.");
        if (!OwnRole.Foundations.Contains(foundation))
            return DeskOutcome.No(state, $"No role can be founded on “{foundation}”.");
        var draft = new Draft(state, Known.Nothing)
        {
            Settings = new ManualSettings { Roles = [.. state.Manual.Roles, new OwnRole(wanted, foundation)] },
        };
        var (next, rows) = draft.Finish();
        return new DeskOutcome(next, rows, $"Adding the role “{wanted}”", [], []);
    }

    /// <summary>An act on the index, references, lists: what a pure function of the manual came to.</summary>
    public static DeskOutcome Change(DeskState state, PlanResult result) =>
        result.Refused is { } why ? DeskOutcome.No(state, why) : Become(state, result.Manual!, result.Words, Known.Nothing);

    /// <summary>An act on what is kept once: variables, conditions, passages.</summary>
    public static DeskOutcome Reuse(DeskState state, ReuseAct act, Known known)
    {
        var result = Reusing.Apply(state.Manual, act);
        return result.Refused is { } why ? DeskOutcome.No(state, why) : Become(state, result.Manual!, result.Words, known);
    }

    /// <summary>Takes a passage from the shelf.</summary>
    public static DeskOutcome Take(DeskState state, TakenPassage passage, Known known)
    {
        var (next, why) = passage.In(state.Manual);
        return next is null
            ? DeskOutcome.No(state, why!)
            : Become(state, next, $"Taking the passage “{passage.Name}” from the shelf", known);
    }

    private static DeskOutcome Become(DeskState state, Manual next, string words, Known known)
    {
        var draft = new Draft(state, known);
        draft.Become(next);
        var (after, rows) = draft.Finish();
        return rows.IsEmpty ? DeskOutcome.No(state, "Nothing changes.") : new DeskOutcome(after, rows, words, [], []);
    }

    /// <summary>The ids of blocks that an act puts into the manual and that are not in the state: they may have been there
    /// before.</summary>
    public static IReadOnlyList<string> NewBlocks(DeskState state, IEnumerable<Division> divisions) =>
        [.. divisions.SelectMany(d => d.Blocks).Select(b => b.Id.Value).Where(id => state.DivisionOf(id) is null)];

    /// <summary>A part of the manual as it was at a moment: a further act, which can be taken back like any other.</summary>
    public static DeskOutcome Restore(DeskState state, Moment moment, Known known)
    {
        var draft = new Draft(state, known);
        var divisions = moment.Divisions.Where(d => d.Was is { Deleted: false }).Select(d => (d.Id, d.Was!)).ToList();
        draft.PutBackDivisions(divisions);
        foreach (var (id, _) in divisions)
        foreach (var back in state.Division(id) is null ? known.Divisions.GetValueOrDefault(id)?.Blocks ?? [] : [])
            draft.Note(back.Id);
        foreach (var (id, was) in moment.Blocks.Where(b => b.Was?.Body is null))
            if (draft.Find(id) is not null)
                draft.TakeOut(id);
        foreach (var (id, was) in moment.Blocks.Where(b => b.Was?.Body is not null).OrderBy(b => b.Was!.OrderKey, StringComparer.Ordinal))
        {
            var block = BlockReader.Parse(was!.Body!);
            var now = draft.Find(id);
            if (now is { } there && BlockWriter.ToJson(there.Block) == BlockWriter.ToJson(block))
                block = there.Block;
            if (moment.InPlace && now is { } stands)
                draft.Put(stands.Division, block, null);
            else if (draft.HasDivision(was.Division))
                draft.PutBack(was.Division, block, was.OrderKey);
        }
        foreach (var (id, was) in moment.Divisions)
            if (was is null or { Deleted: true } && draft.HasDivision(id))
                draft.TakeOutDivision(id);
        draft.Settings = moment.Settings;
        var (next, rows) = draft.Finish();
        if (next.Manual.Divisions.Count == 0)
            return DeskOutcome.No(state, "A manual keeps at least one division.");
        return rows.IsEmpty ? DeskOutcome.No(state, "It says now what it said then.") : new DeskOutcome(next, rows, moment.Label, [], []);
    }

    // ---- taking back ----

    /// <summary>The inverse of an act, where all that it wrote still is as it left it; else what was changed since is refused,
    /// with what stands there, and nothing is done.</summary>
    public static DeskOutcome TakeBack(DeskState state, DoneAct act, string words, Known known)
    {
        var refused = new List<Refused>();
        foreach (var division in act.Divisions)
        {
            var now = state.Division(division.Id);
            var asLeft = division.After.Deleted ? now is null : now is not null && DivisionHeader.Of(now).SaysTheSame(division.After);
            if (!asLeft)
                refused.Add(new Refused(division.Id, "This division was changed since.", now?.Division.Title, now?.Version ?? 0));
        }
        foreach (var block in act.Blocks)
        {
            var now = state.Block(block.Id);
            if (!AsLeft(state, block, now))
                refused.Add(
                    new Refused(
                        block.Id,
                        "This block was changed since.",
                        now is null ? null : BlockWriter.ToJson(now.Block),
                        now?.Version ?? 0
                    )
                );
        }
        // What came into being by the act goes again; words that came to stand in it since would go with it. A division that was
        // only put back as it was goes as a whole, as it did before.
        var own = act.Blocks.Select(b => b.Id).ToHashSet(StringComparer.Ordinal);
        foreach (var division in act.Divisions.Where(d => d.Before is null or { Deleted: true }))
            if (
                state.Division(division.Id) is { } made
                && (division.After.Version == 1 || made.Blocks.Any(b => own.Contains(b.Id)))
                && made.Blocks.FirstOrDefault(b => !own.Contains(b.Id)) is { } since
            )
                refused.Add(
                    new Refused(since.Id, "This was written into the division since.", BlockWriter.ToJson(since.Block), since.Version)
                );
        // The same holds of a block whose former division is gone: it would have nowhere to go back to.
        var back = act.Divisions.Where(d => d.Before is { Deleted: false }).Select(d => d.Id).ToHashSet(StringComparer.Ordinal);
        foreach (
            var block in act.Blocks.Where(b =>
                b.Before?.Body is not null && state.Division(b.Before.Division) is null && !back.Contains(b.Before.Division)
            )
        )
            refused.Add(new Refused(block.Id, "The division it stood in was taken out since.", null, block.AfterVersion));
        if (act.Settings is { } settings && settings.After.Against(ManualSettings.Of(state.Manual)) is not null)
            refused.Add(new Refused("", "What is kept once for this manual, or its lists, were changed since.", null, 0));
        if (refused.Count > 0)
            return new DeskOutcome(state, new DeskRows([], [], ManualRowChange.None), words, [], refused);

        var draft = new Draft(state, known);
        draft.PutBackDivisions(act.Divisions.Where(d => d.Before is { Deleted: false }).Select(d => (d.Id, d.Before!)));
        foreach (var block in act.Blocks.Where(b => b.Before?.Body is null))
            draft.TakeOut(block.Id);
        foreach (var block in act.Blocks.Where(b => b.Before?.Body is not null).OrderBy(b => b.Before!.OrderKey, StringComparer.Ordinal))
            draft.PutBack(block.Before!.Division, Same(state, block), block.Before.OrderKey);
        foreach (var division in act.Divisions.Where(d => d.Before is null or { Deleted: true }))
            draft.TakeOutDivision(division.Id);
        if (act.Settings is { } before)
            draft.Settings = before.Before;
        var (next, rows) = draft.Finish();
        if (next.Manual.Divisions.Count == 0)
            return new DeskOutcome(
                state,
                new DeskRows([], [], ManualRowChange.None),
                words,
                [],
                [new Refused("", "A manual keeps at least one division.", null, 0)]
            );
        foreach (var (block, passage) in UsesOfNothing(next, act))
            refused.Add(
                new Refused(block.Id, $"The passage “{passage}” would be used here by a name that it has no longer.", null, block.Version)
            );
        return refused.Count > 0
            ? new DeskOutcome(state, new DeskRows([], [], ManualRowChange.None), words, [], refused)
            : new DeskOutcome(next, rows, words, [], []);
    }

    /// <summary>Blocks come back with the names that passages had, and passages with names that uses since do not know.</summary>
    private static IEnumerable<(PlacedBlock Block, string Passage)> UsesOfNothing(DeskState next, DoneAct act)
    {
        var names = next.Manual.Passages.Select(p => p.Name).ToHashSet(StringComparer.Ordinal);
        var touched =
            act.Divisions.Count > 0
                ? next.Divisions.SelectMany(d => d.Blocks)
                : act.Blocks.Select(b => next.Block(b.Id)).OfType<PlacedBlock>();
        return touched.SelectMany(b =>
            b.Block.WithInner().OfType<PassageUse>().Where(u => !names.Contains(u.Passage)).Select(u => (b, u.Passage))
        );
    }

    /// <summary>A block that only moved stays the same object, so that its row's body is left alone.</summary>
    private static Block Same(DeskState state, DoneBlock done)
    {
        var was = BlockReader.Parse(done.Before!.Body!);
        return state.Block(done.Id) is { } now && BlockWriter.ToJson(now.Block) == BlockWriter.ToJson(was) ? now.Block : was;
    }

    private static bool AsLeft(DeskState state, DoneBlock done, PlacedBlock? now)
    {
        if (done.AfterDeleted)
            return now is null;
        if (now is null)
            return false;
        if (now.Version == done.AfterVersion)
            return true;
        // Changed and changed back is as it was left: texts are compared as the model reads them, not letter by letter.
        return done.After is { Body: { } body } after
            && after.Division == state.DivisionOf(done.Id)
            && after.OrderKey == now.OrderKey
            && BlockWriter.ToJson(BlockReader.Parse(body)) == BlockWriter.ToJson(now.Block);
    }
}
