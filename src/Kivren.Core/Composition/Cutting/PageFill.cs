namespace Kivren.Core.Composition;

/// <summary>What becomes of a piece on the page at hand.</summary>
internal enum Fit : byte
{
    /// <summary>It stands on this page.</summary>
    Stands,

    /// <summary>A float that waits for a later page.</summary>
    Waits,

    /// <summary>It takes pages of its own after this one.</summary>
    OwnPages,

    /// <summary>It, or its notes, would reach over the foot.</summary>
    Over,
}

/// <summary>A page as it fills, piece by piece: the rules of steps, floats and notes, by which turns are found and by which the
/// chosen one is placed.</summary>
internal struct PageFill
{
    private readonly PageTurns _turns;
    private readonly int _start;
    private bool _afterFloat;

    /// <param name="waited">the floats that waited and stand on this page, in order; null when they are not asked for</param>
    public PageFill(PageTurns turns, PageStart state, List<int>? waited = null)
    {
        (_turns, _start, Depth) = (turns, state.Piece, turns.DepthOf(state));
        (Pending, Carry) = (state.Pending, state.Carry);
        if (Carry > 0)
        {
            var leading = turns.NoteLeading(_start - 1);
            var fits = Math.Max(1, (Depth - turns.NoteSpace - turns.NoteRuleGap - turns.Leading * 2) / leading);
            if (Carry > fits)
            {
                (OnlyNotes, NoteLinesTaken) = (true, fits);
                return;
            }
            NoteLinesTaken = Carry;
            Notes = turns.NoteSpace + turns.NoteRuleGap + Carry * leading;
        }
        while (Pending > 0)
        {
            var f = turns.Waiting(state, Pending);
            var height = turns.Pieces[f].Height + (Used > 0 ? turns.FloatGap : 0);
            if (Used > 0 && Used + height + Notes > Depth)
                break;
            Used += height;
            Pending--;
            waited?.Add(f);
        }
        Any = Used > 0;
    }

    /// <summary>Of the text on this page.</summary>
    public readonly int Depth;

    /// <summary>Note lines carried over that this page takes; of more than it can hold, nothing else stands on it.</summary>
    public readonly int NoteLinesTaken;
    public readonly bool OnlyNotes;
    public readonly int Carry;

    /// <summary>Depth taken by text and floats, and by notes with their rule.</summary>
    public int Used { get; private set; }
    public int Notes { get; private set; }

    /// <summary>Floats that wait.</summary>
    public int Pending { get; private set; }

    /// <summary>Something other than carried notes stands on the page.</summary>
    public bool Any { get; private set; }

    /// <summary>Height with its space of the piece that was taken last, and of its notes with what they need above.</summary>
    public int Step { get; private set; }
    public int More { get; private set; }

    public Fit Take(int i)
    {
        ref readonly var piece = ref _turns.Pieces[i];
        if (piece.Floating == Floating.OwnPages)
            return Fit.OwnPages;
        Step = _turns.Step(Used, piece, i == _start || _afterFloat);
        if (i == _start)
            Step += _turns.HeaderHeight(i);
        if (piece.Floats)
        {
            More = 0;
            if (piece.Floating != Floating.Here)
                Step = piece.Height + (Used > 0 ? _turns.FloatGap : 0);
            if (Pending > 0 || Used + Step + Notes > Depth)
            {
                Pending++;
                return Fit.Waits;
            }
            Used += Step;
            Any = true;
            _afterFloat |= piece.Floating == Floating.Here;
            return Fit.Stands;
        }
        More = _turns.NoteHeight(i);
        if (More > 0 && Notes == 0)
            More += _turns.NoteSpace + _turns.NoteRuleGap;
        if (Used + Step + Notes + More > Depth)
            return Fit.Over;
        Put();
        return Fit.Stands;
    }

    /// <summary>The piece that was taken last stands here all the same.</summary>
    public void Put()
    {
        Used += Step;
        Notes += More;
        Any = true;
        _afterFloat = false;
    }
}
