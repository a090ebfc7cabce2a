using Kivren.Core.Content;
using Kivren.Formats.Package;

namespace Kivren.Desk;

/// <summary>One act being worked out on a state: rows are put in, changed, moved and taken out here; <see cref="Finish"/> gives
/// them keys, versions and their inverse. The one place where a row is made.</summary>
/// <remarks>Order is a linked list for each division, so an act on thousands of blocks is linear in them; keys are given
/// at the end, rising in the final order, so that two rows never have one.</remarks>
internal sealed class Draft
{
    private sealed class Row(Block block)
    {
        public Block Block = block;
        public string? Key;
        public PlacedBlock? Was;
        public string? WasIn;

        /// <summary>Noted as written, whatever it says.</summary>
        public bool Noted;
    }

    private sealed class Sheet(string id)
    {
        public readonly string Id = id;
        public Division Header = null!;
        public PlacedDivision? Was;
        public string? Key;
        public readonly LinkedList<Row> Rows = new();
        public readonly Dictionary<string, LinkedListNode<Row>> Of = new(StringComparer.Ordinal);

        /// <summary>Blocks that come back with a division; they are in the database already.</summary>
        public IReadOnlyList<PlacedBlock> Back = [];
    }

    private readonly DeskState _state;
    private readonly Known _known;
    private readonly Dictionary<string, Sheet> _open = new(StringComparer.Ordinal);
    private readonly List<string> _order;
    private readonly Dictionary<string, string?> _keys = new(StringComparer.Ordinal);
    private readonly HashSet<string> _takenOut = new(StringComparer.Ordinal);
    private readonly Dictionary<string, (Row Row, string Division)> _gone = new(StringComparer.Ordinal);
    private readonly Dictionary<string, string> _standsIn = new(StringComparer.Ordinal);
    private readonly Dictionary<string, PlacedDivision> _placed;

    public Draft(DeskState state, Known known)
    {
        (_state, _known) = (state, known);
        _order = [.. state.Divisions.Select(d => d.Id)];
        _placed = state.Divisions.ToDictionary(d => d.Id, StringComparer.Ordinal);
        foreach (var division in state.Divisions)
            _keys[division.Id] = division.OrderKey;
    }

    public IReadOnlyDictionary<Id, Id>? Aliases { get; set; }

    /// <summary>The manual's small parts as they are to be; null to leave them.</summary>
    public ManualSettings? Settings { get; set; }
    public IReadOnlyList<Asset> Assets { get; set; } = [];

    public bool HasDivision(string id) =>
        _open.ContainsKey(id) ? !_takenOut.Contains(id) : _placed.ContainsKey(id) && !_takenOut.Contains(id);

    /// <summary>The block as this act has it so far, with the version it had before; null when it is not there.</summary>
    public (Block Block, int Version, string Division)? Find(string id)
    {
        if (_standsIn.TryGetValue(id, out var division))
            return _open[division].Of[id].Value is var row ? (row.Block, row.Was?.Version ?? 0, division) : null;
        if (_gone.ContainsKey(id))
            return null;
        return _state.DivisionOf(id) is { } home && !_takenOut.Contains(home)
            ? (_state.Block(id)!.Block, _state.Block(id)!.Version, home)
            : null;
    }

    private Sheet Open(string id)
    {
        if (_open.TryGetValue(id, out var open))
            return open;
        var was = _placed[id];
        var sheet = new Sheet(id)
        {
            Header = was.Division,
            Was = was,
            Key = was.OrderKey,
        };
        _open[id] = sheet;
        foreach (var block in was.Blocks)
        {
            if (_gone.ContainsKey(block.Id) || _standsIn.ContainsKey(block.Id))
                continue;
            Add(
                sheet,
                new Row(block.Block)
                {
                    Key = block.OrderKey,
                    Was = block,
                    WasIn = id,
                },
                sheet.Rows.Last
            );
        }
        return sheet;
    }

    private void Add(Sheet sheet, Row row, LinkedListNode<Row>? after)
    {
        var id = row.Block.Id.Value;
        sheet.Of[id] = after is null ? sheet.Rows.AddFirst(row) : sheet.Rows.AddAfter(after, row);
        _standsIn[id] = sheet.Id;
        _gone.Remove(id);
    }

    /// <summary>Takes a block from where it stands, to stand elsewhere or nowhere.</summary>
    private (Row Row, string Division)? Lifted(string id)
    {
        var home = _standsIn.GetValueOrDefault(id) ?? (_gone.ContainsKey(id) ? null : _state.DivisionOf(id));
        if (home is null || (!_open.ContainsKey(home) && !_placed.ContainsKey(home)))
            return null;
        var sheet = Open(home);
        var node = sheet.Of[id];
        sheet.Rows.Remove(node);
        sheet.Of.Remove(id);
        _standsIn.Remove(id);
        return (node.Value, home);
    }

    // ---- blocks ----

    /// <summary>Puts a block into a division, new or in the place of itself.</summary>
    /// <param name="after">the block it stands after, "" for the beginning, null to stay where it is or to go to the end</param>
    public void Put(string division, Block block, string? after)
    {
        var id = block.Id.Value;
        var sheet = Open(division);
        if (after is null && sheet.Of.TryGetValue(id, out var stands))
        {
            stands.Value.Block = block;
            return;
        }
        var row = _gone.TryGetValue(id, out var gone) ? gone.Row : Lifted(id)?.Row ?? new Row(block);
        row.Block = block;
        row.Key = null;
        // A block whose neighbour is gone goes to the end, unless it asked for the beginning.
        var before =
            after is "" ? null
            : after is not null && sheet.Of.TryGetValue(after, out var found) ? found
            : sheet.Rows.Last;
        Add(sheet, row, before);
    }

    /// <summary>Notes a block as written by this act, so that taking the act back knows it for its own.</summary>
    public void Note(string id)
    {
        if (_standsIn.TryGetValue(id, out var division))
            _open[division].Of[id].Value.Noted = true;
    }

    public void TakeOut(string id)
    {
        if (Lifted(id) is { } lifted)
            _gone[id] = lifted;
    }

    /// <summary>Puts a block where its key says, as it was; where the key is taken meanwhile it gets another beside it.</summary>
    public void PutBack(string division, Block block, string key)
    {
        var id = block.Id.Value;
        var sheet = Open(division);
        var row = _gone.TryGetValue(id, out var gone) ? gone.Row : Lifted(id)?.Row ?? new Row(block);
        row.Block = block;
        row.Key = key;
        LinkedListNode<Row>? before = null;
        for (var node = sheet.Rows.Last; node is not null; node = node.Previous)
            if (node.Value.Key is { } own && string.CompareOrdinal(own, key) <= 0)
            {
                before = node;
                break;
            }
        if (before?.Value.Key == key)
            row.Key = null;
        Add(sheet, row, before);
    }

    // ---- divisions ----

    /// <summary>Changes a division itself, blocks aside.</summary>
    public void Head(string id, Division header) => Open(id).Header = header;

    public void TakeOutDivision(string id)
    {
        Open(id);
        _takenOut.Add(id);
        _order.Remove(id);
    }

    /// <summary>Puts back divisions that were taken out, with the blocks they had, or puts them where their keys say.</summary>
    public void PutBackDivisions(IEnumerable<(string Id, DivisionHeader Was)> divisions)
    {
        var back = divisions.OrderBy(d => d.Was.OrderKey, StringComparer.Ordinal).ToList();
        // Where they stand now says nothing of their order then.
        foreach (var (id, _) in back)
            _order.Remove(id);
        foreach (var (id, was) in back)
            PutBack(id, was);
    }

    private void PutBack(string id, DivisionHeader header)
    {
        var sheet = _placed.ContainsKey(id) ? Open(id) : new Sheet(id);
        sheet.Header = header.ToDivision(id);
        if (!_open.ContainsKey(id))
        {
            _open[id] = sheet;
            sheet.Back = _known.Divisions.GetValueOrDefault(id)?.Blocks ?? [];
            foreach (var block in sheet.Back)
                if (_state.DivisionOf(block.Id) is null && !_standsIn.ContainsKey(block.Id))
                    Add(
                        sheet,
                        new Row(block.Block)
                        {
                            Key = block.OrderKey,
                            Was = block,
                            WasIn = id,
                        },
                        sheet.Rows.Last
                    );
        }
        _takenOut.Remove(id);
        var at = 0;
        for (var i = 0; i < _order.Count; i++)
            if (_keys.GetValueOrDefault(_order[i]) is { } own && string.CompareOrdinal(own, header.OrderKey) <= 0)
                at = i + 1;
        // One that was put back before, behind another that has come to its key.
        while (at > 0 && at < _order.Count && _keys.GetValueOrDefault(_order[at]) is null)
            at++;
        sheet.Key = at > 0 && _keys.GetValueOrDefault(_order[at - 1]) == header.OrderKey ? null : header.OrderKey;
        _keys[id] = sheet.Key;
        _order.Insert(at, id);
    }

    // ---- the whole ----

    /// <summary>The manual as it is to be: only what differs from the state is touched. What is the same object in the same
    /// order keeps its key and its version.</summary>
    public void Become(Manual next)
    {
        var kept = next.Kept();
        Settings = ManualSettings.Of(next);
        var staying = kept.Select(d => d.Id.Value).ToHashSet(StringComparer.Ordinal);
        // Where a block stands after the act, so that what left one division and came to another is moved, not taken out.
        var goes = new HashSet<string>(StringComparer.Ordinal);
        foreach (var division in kept)
        {
            var was = _placed.GetValueOrDefault(division.Id.Value);
            if (was is not null && ReferenceEquals(was.Division.Blocks, division.Blocks))
                continue;
            foreach (var block in division.Blocks)
                goes.Add(block.Id.Value);
        }
        foreach (var was in _state.Divisions)
        {
            var now = kept.FirstOrDefault(d => d.Id == was.Division.Id);
            if (now is not null && ReferenceEquals(was.Division.Blocks, now.Blocks))
                continue;
            // The blocks of a division that is taken out stay with it, but for those that stand elsewhere now.
            foreach (var block in was.Blocks)
                if (goes.Contains(block.Id))
                    Held(block.Id);
                else if (now is not null)
                    TakeOut(block.Id);
        }
        foreach (var division in kept)
        {
            var id = division.Id.Value;
            var was = _placed.GetValueOrDefault(id);
            if (was is null)
                _open[id] = new Sheet(id) { Header = division };
            else if (!ReferenceEquals(was.Division, division))
                Open(id).Header = division;
            if (was is not null && ReferenceEquals(was.Division.Blocks, division.Blocks))
                continue;
            var sheet = _open[id];
            var stood = was?.Blocks.Select((b, i) => (b.Id, i)).ToDictionary(b => b.Id, b => b.i, StringComparer.Ordinal) ?? [];
            var stay = RisingRun.Of(division.Blocks.Select(b => stood.GetValueOrDefault(b.Id.Value, -1)).ToArray());
            for (var b = 0; b < division.Blocks.Count; b++)
            {
                var block = division.Blocks[b];
                var row = _held.Remove(block.Id.Value, out var held) ? held : new Row(block);
                row.Block = block;
                if (!stay[b])
                    row.Key = null;
                Add(sheet, row, sheet.Rows.Last);
            }
        }
        foreach (var gone in _state.Divisions.Where(d => !staying.Contains(d.Id)))
            TakeOutDivision(gone.Id);
        var at = _state.Divisions.Select((d, i) => (d.Id, i)).ToDictionary(d => d.Id, d => d.i, StringComparer.Ordinal);
        var rows = kept.Select(d => d.Id.Value).ToList();
        var keeps = RisingRun.Of(rows.Select(r => at.GetValueOrDefault(r, -1)).ToArray());
        _order.Clear();
        for (var i = 0; i < rows.Count; i++)
        {
            _order.Add(rows[i]);
            if (!keeps[i])
                _keys[rows[i]] = null;
        }
        Assets = [.. next.Assets.Where(a => _state.Manual.Assets.All(x => x.Name != a.Name))];
    }

    private readonly Dictionary<string, Row> _held = new(StringComparer.Ordinal);

    private void Held(string id)
    {
        if (Lifted(id) is { } lifted)
            _held[id] = lifted.Row;
    }

    // ---- the end ----

    public (DeskState State, DeskRows Rows) Finish()
    {
        var blocks = new List<BlockRowChange>();
        var divisions = new List<DivisionRowChange>();
        var stand = new List<(string, string)>();
        var keys = OrderKey.Filled(_order.Select(id => _keys.GetValueOrDefault(id)).ToArray());
        var placed = new List<PlacedDivision>(_order.Count);
        for (var d = 0; d < _order.Count; d++)
        {
            var id = _order[d];
            if (!_open.TryGetValue(id, out var sheet))
            {
                if (_placed[id].OrderKey == keys[d])
                    placed.Add(_placed[id]);
                else
                {
                    sheet = Open(id);
                }
            }
            if (sheet is not null)
                placed.Add(Placed(sheet, keys[d], blocks, divisions, stand));
        }
        foreach (var id in _takenOut)
        {
            if (!_placed.TryGetValue(id, out var was))
                continue;
            divisions.Add(
                new DivisionRowChange(was with { Version = was.Version + 1 }, was.Version, Deleted: true, DivisionHeader.Of(was))
            );
        }
        foreach (var (id, (row, home)) in _gone)
            if (row.Was is { } was)
                blocks.Add(
                    new BlockRowChange(
                        home,
                        was with
                        {
                            Version = was.Version + 1,
                        },
                        was.Version,
                        Deleted: true,
                        BodyChanged: false,
                        new BlockBefore(row.WasIn!, was.OrderKey, was.Version, BlockWriter.ToJson(was.Block))
                    )
                );
        var before = ManualSettings.Of(_state.Manual);
        var changed = Settings?.Against(before);
        var manual = (changed is null ? _state.Manual : changed.In(_state.Manual)) with
        {
            Aliases = Aliases ?? _state.Manual.Aliases,
            Assets = Assets.Count == 0 ? _state.Manual.Assets : [.. _state.Manual.Assets, .. Assets],
        };
        var gone = _gone.Keys.Concat(
            _takenOut
                .Where(_placed.ContainsKey)
                .SelectMany(d => _placed[d].Blocks.Select(b => b.Id))
                .Where(b => !_standsIn.TryGetValue(b, out var home) || _takenOut.Contains(home))
        );
        var change = new ManualRowChange(Aliases, changed, changed is null ? null : before.Where(changed), Assets);
        return (_state.With(manual, placed, gone.ToList(), stand), new DeskRows(blocks, divisions, change));
    }

    private PlacedDivision Placed(
        Sheet sheet,
        string key,
        List<BlockRowChange> blocks,
        List<DivisionRowChange> divisions,
        List<(string, string)> stand
    )
    {
        var keys = OrderKey.Filled(sheet.Rows.Select(r => r.Key).ToArray());
        var placed = new List<PlacedBlock>(sheet.Rows.Count);
        var at = 0;
        var changed = sheet.Was is null || sheet.Was.Blocks.Count != sheet.Rows.Count;
        foreach (var row in sheet.Rows)
        {
            var own = keys[at];
            if (row.Was is { } was && ReferenceEquals(was.Block, row.Block) && was.OrderKey == own && row.WasIn == sheet.Id && !row.Noted)
            {
                placed.Add(was);
                changed |= sheet.Was is null || at >= sheet.Was.Blocks.Count || !ReferenceEquals(sheet.Was.Blocks[at], was);
            }
            else
            {
                placed.Add(Changed(sheet.Id, row, own, blocks));
                changed = true;
            }
            if (row.WasIn != sheet.Id || sheet.Back.Count > 0 || row.Was is null || _state.DivisionOf(row.Was.Id) is null)
                stand.Add((row.Block.Id.Value, sheet.Id));
            at++;
        }
        var header = sheet.Header;
        var division =
            changed || sheet.Was is null || !SameHeader(sheet.Was.Division, header)
                ? header with
                {
                    Blocks = changed ? [.. placed.Select(b => b.Block)] : sheet.Was!.Division.Blocks,
                }
                : sheet.Was.Division;
        var known = _known.Divisions.GetValueOrDefault(sheet.Id);
        var old = sheet.Was?.Version ?? known?.Version ?? 0;
        if (sheet.Was is { } before && before.OrderKey == key && SameHeader(before.Division, header))
            return before with { Division = division, Blocks = changed ? placed : before.Blocks };
        var now = new PlacedDivision(division, key, old + 1, placed);
        divisions.Add(new DivisionRowChange(now, old, Deleted: false, sheet.Was is null ? null : DivisionHeader.Of(sheet.Was)));
        return now;
    }

    private PlacedBlock Changed(string division, Row row, string key, List<BlockRowChange> blocks)
    {
        var id = row.Block.Id.Value;
        var gone = row.Was is null ? _known.Blocks.GetValueOrDefault(id) : null;
        var old = row.Was?.Version ?? gone?.Version ?? 0;
        var now = new PlacedBlock(row.Block, key, old + 1);
        var before = row.Was is null
            ? null
            : new BlockBefore(row.WasIn!, row.Was.OrderKey, row.Was.Version, BlockWriter.ToJson(row.Was.Block));
        blocks.Add(
            new BlockRowChange(
                division,
                now,
                old,
                Deleted: false,
                BodyChanged: row.Was is null || !ReferenceEquals(row.Was.Block, row.Block),
                before
            )
        );
        return now;
    }

    private static bool SameHeader(Division a, Division b) =>
        ReferenceEquals(a, b)
        || (
            a.Kind == b.Kind
            && a.Title == b.Title
            && a.ShortTitle == b.ShortTitle
            && a.Language == b.Language
            && a.Begins == b.Begins
            && a.State == b.State
            && Conditions(a) == Conditions(b)
        );

    private static string Conditions(Division d) => EditionForm.ToJson(d.AppliesTo);
}
