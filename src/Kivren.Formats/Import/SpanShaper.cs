using System.Text;
using Kivren.Core.Content;

namespace Kivren.Formats.Import;

/// <summary>Makes the spans of a manual out of those of a source: character styles become roles, tracked changes are
/// accepted, runs of spaces closed up.</summary>
internal sealed class SpanShaper(RolePlan plan, ImportMapping mapping, ShapeWork work)
{
    private bool Cleans(Cleaning cleaning) => !mapping.Off.Contains(cleaning);

    /// <param name="skip">characters at the beginning that the role makes itself</param>
    /// <param name="owner">the block these spans stand in: what a bookmark in them names when it has a title of its own</param>
    /// <param name="flat">a head or title: no strong over all of it, no notes</param>
    public List<Inline> Shape(
        IReadOnlyList<SourceSpan> spans,
        Place at,
        int skip = 0,
        Id owner = default,
        bool flat = false,
        bool inNote = false
    )
    {
        var shaped = new List<Inline>();
        foreach (var span in spans)
            switch (span)
            {
                case SourceRun run:
                    if (run.Tracked != Tracked.None)
                    {
                        work.Count(Cleaning.TrackedChanges);
                        if (run.Tracked == (Cleans(Cleaning.TrackedChanges) ? Tracked.Deleted : Tracked.Inserted))
                        {
                            work.Report(
                                ReportKind.Changed,
                                at,
                                run.Tracked == Tracked.Deleted ? "A tracked deletion was accepted." : "A tracked insertion was refused.",
                                run.Tracked == Tracked.Deleted ? "" : run.Text
                            );
                            break;
                        }
                    }
                    var text = run.Text;
                    if (skip > 0)
                    {
                        var taken = Math.Min(skip, text.Length);
                        text = text[taken..];
                        skip -= taken;
                    }
                    Text(shaped, text, run.Roles | plan.Span(run.Style), run.Web);
                    break;
                case SourceTab when skip > 0:
                    skip--;
                    break;
                case SourceTab:
                    Text(shaped, " ", SpanRoles.None, null);
                    break;
                case SourceAtom { Inline: LineBreak } when skip > 0:
                    skip--;
                    break;
                case SourceAtom { Inline: InlinePicture picture }:
                    shaped.Add(work.SmallPicture(new SourcePicture(at.At, picture.Asset, picture.Alternative), at));
                    break;
                case SourceAtom atom:
                    shaped.Add(WithId(atom.Inline, at));
                    break;
                case SourceBookmark bookmark when owner != default:
                    work.Named(at.File, bookmark.Name, owner);
                    break;
                case SourceBookmark bookmark:
                    if (work.IsWanted(at.File, bookmark.Name) && work.Names(at.File, bookmark.Name, at) is { } id)
                        shaped.Add(new Anchor(id, bookmark.Name));
                    break;
                case SourceReference reference:
                    var words = reference.Words;
                    if (skip > 0)
                    {
                        var taken = Math.Min(skip, words.Length);
                        words = words[taken..];
                        skip -= taken;
                    }
                    if (flat)
                        Text(shaped, words, reference.Roles, null);
                    else
                        shaped.Add(work.Reference(at, reference with { Words = words }));
                    break;
                case SourceNote note when inNote || flat:
                    Text(shaped, $" ({note.Blocks.Words()})", SpanRoles.None, null);
                    work.Report(
                        ReportKind.Changed,
                        at,
                        flat
                            ? "A note in a head stands in brackets now: heads are listed elsewhere, where a note has no foot."
                            : "A note in a note stands in brackets now."
                    );
                    break;
                case SourceNote note:
                    shaped.Add(new Footnote(work.Fresh(at), Note(note.Blocks, at)));
                    break;
                case SourceComment comment:
                    work.Count(Cleaning.Comments);
                    if (!Cleans(Cleaning.Comments))
                        work.Report(ReportKind.LeftOut, at, $"A comment by {comment.By} was left out.", comment.Text);
                    else if (flat)
                        work.Report(
                            ReportKind.LeftOut,
                            at,
                            $"A comment by {comment.By} stands in a head, where a note to the writer cannot stand; it was left out.",
                            comment.Text
                        );
                    else
                        shaped.Add(new WriterNote(work.Fresh(at), comment.By, comment.Text));
                    break;
            }
        return Tidied(shaped, at, flat);
    }

    private static Inline WithId(Inline inline, Func<Id> fresh) =>
        inline switch
        {
            IndexEntry { Id.IsNone: true } e => e with { Id = fresh() },
            InlineEquation e => e with { Id = fresh() },
            _ => inline,
        };

    private Inline WithId(Inline inline, Place at) =>
        inline is IndexEntry { Id.IsNone: false } range
            ? range with
            {
                Id = work.Range(at.File, range.Id),
            }
            : WithId(inline, () => work.Fresh(at));

    private static void Text(List<Inline> spans, string text, SpanRoles roles, string? web)
    {
        if (text.Length == 0)
            return;
        if (spans.Count > 0 && spans[^1] is TextRun last && last.Roles == roles && last.Web == web)
            spans[^1] = last with { Text = last.Text + text };
        else
            spans.Add(new TextRun(text, roles, web));
    }

    /// <summary>A note's blocks as one run of spans, each on a line of its own.</summary>
    private List<Inline> Note(IReadOnlyList<SourceBlock> blocks, Place at)
    {
        var spans = new List<Inline>();
        void Line(List<Inline> line)
        {
            if (line.Count == 0)
                return;
            if (spans.Count > 0)
                spans.Add(LineBreak.Instance);
            spans.AddRange(line);
        }
        foreach (var block in blocks)
            if (block is SourceParagraph p)
                Line(Shape(p.Spans, at, inNote: true));
            else if (new[] { block }.Words() is { Length: > 0 } words)
            {
                Line([new TextRun(words)]);
                work.Report(ReportKind.Changed, at, "A list, table or listing in a note stands as running text.");
            }
        return spans;
    }

    /// <summary>Blocks as the spans of a table's cell, each on a line of its own.</summary>
    public List<Inline> Cell(IReadOnlyList<SourceBlock> blocks, Place at, bool header)
    {
        var spans = new List<Inline>();
        void Line(List<Inline> line)
        {
            if (line.Count == 0)
                return;
            if (spans.Count > 0)
                spans.Add(LineBreak.Instance);
            spans.AddRange(line);
        }
        void Blocks(IReadOnlyList<SourceBlock> inner, string lead)
        {
            foreach (var block in inner)
                switch (block)
                {
                    case SourceParagraph p:
                        var sign = p.List is { } list ? (list.Kind == ListKind.Unordered ? "– " : $"{list.Number}. ") : lead;
                        var line = Shape(p.Spans, at, flat: false);
                        if (header)
                            Plain(line);
                        if (line.Count > 0 && sign.Length > 0)
                            line.Insert(0, new TextRun(sign));
                        Line(line);
                        lead = "";
                        break;
                    case SourceList l:
                        for (var i = 0; i < l.Items.Count; i++)
                            Blocks(l.Items[i].Blocks, l.Kind == ListKind.Unordered ? "– " : $"{l.Start + i}. ");
                        break;
                    case SourcePicture picture:
                        Line([work.SmallPicture(picture, at)]);
                        break;
                    case SourceGroup g:
                        Blocks(g.Blocks, "");
                        break;
                    case SourceTable t:
                        work.Report(ReportKind.Changed, at, "A table stands in a cell of another; its rows stand as lines of the cell.");
                        foreach (var row in t.Rows)
                        {
                            var words = new List<Inline>();
                            foreach (var cell in row.Cells)
                            {
                                var own = Cell(cell.Blocks, at, header: false);
                                if (own.Count > 0 && words.Count > 0)
                                    words.Add(new TextRun(" · "));
                                words.AddRange(own);
                            }
                            Line(Merged(words));
                        }
                        break;
                    case SourceBreak:
                        break;
                    default:
                        if (new[] { block }.Words() is { Length: > 0 } text)
                            Line([new TextRun(text)]);
                        break;
                }
        }
        Blocks(blocks, "");
        return Merged(spans);
    }

    private static List<Inline> Merged(List<Inline> spans)
    {
        var merged = new List<Inline>();
        foreach (var span in spans)
            if (span is TextRun run)
                Text(merged, run.Text, run.Roles, run.Web);
            else
                merged.Add(span);
        return merged;
    }

    /// <summary>Takes away strong or emphasis that all words of a head share: the head's own dress says it.</summary>
    private static void Plain(List<Inline> spans)
    {
        foreach (var role in (ReadOnlySpan<SpanRoles>)[SpanRoles.Strong, SpanRoles.Emphasis])
        {
            var all = spans.OfType<TextRun>().Where(r => !string.IsNullOrWhiteSpace(r.Text)).All(r => r.Roles.HasFlag(role));
            if (all)
                for (var i = 0; i < spans.Count; i++)
                    if (spans[i] is TextRun run)
                        spans[i] = run with { Roles = run.Roles & ~role };
        }
        var merged = Merged(spans);
        spans.Clear();
        spans.AddRange(merged);
    }

    private List<Inline> Tidied(List<Inline> spans, Place at, bool flat)
    {
        var closed = new List<Inline>();
        var afterSpace = true;
        foreach (var span in spans)
            switch (span)
            {
                case TextRun run:
                    var text = Closed(run.Text, ref afterSpace, at);
                    Text(closed, text, text.Trim().Length == 0 ? SpanRoles.None : run.Roles, run.Web);
                    break;
                case LineBreak:
                    TrimEnd(closed);
                    if (closed.Count > 0)
                        closed.Add(span);
                    afterSpace = true;
                    break;
                case IndexEntry or Anchor or WriterNote:
                    closed.Add(span);
                    break;
                default:
                    closed.Add(span);
                    afterSpace = false;
                    break;
            }
        TrimEnd(closed);
        while (closed.Count > 0 && closed[^1] is LineBreak)
        {
            closed.RemoveAt(closed.Count - 1);
            TrimEnd(closed);
        }
        if (flat)
            Plain(closed);
        return closed;
    }

    private static void TrimEnd(List<Inline> spans)
    {
        // A space before an atom that prints nothing, at the end, is a space at the end.
        for (var i = spans.Count - 1; i >= 0; i--)
            if (spans[i] is TextRun run)
            {
                var trimmed = run.Text.TrimEnd(' ', '\t', '\n', '\r');
                if (trimmed.Length == 0)
                    spans.RemoveAt(i);
                else
                {
                    spans[i] = run with { Text = trimmed };
                    return;
                }
            }
            else if (spans[i] is not (IndexEntry or Anchor or WriterNote))
                return;
    }

    private string Closed(string text, ref bool afterSpace, Place at)
    {
        var closes = Cleans(Cleaning.Spaces);
        var closed = new StringBuilder(text.Length);
        var run = 0;
        for (var i = 0; i < text.Length; i++)
        {
            var c = text[i];
            if (c is ' ' or '\t' or '\n' or '\r')
            {
                run++;
                if (run == 2)
                    work.Count(Cleaning.Spaces);
                if (afterSpace && (closes || closed.Length == 0))
                    continue;
                closed.Append(' ');
                afterSpace = true;
                continue;
            }
            run = 0;
            // Half of a pair alone is no character: no file could hold it.
            var pair = char.IsHighSurrogate(c) && i + 1 < text.Length && char.IsLowSurrogate(text[i + 1]);
            if (char.IsControl(c) || c is '\uFFFE' or '\uFFFF' || (char.IsSurrogate(c) && !pair))
                continue;
            closed.Append(c);
            if (pair)
                closed.Append(text[++i]);
            afterSpace = false;
        }
        return closed.ToString();
    }
}
