using Kivren.Core.Content;

namespace Kivren.Formats.Import;

// Captions, and what they belong to: tables, pictures, groups of blocks.
public sealed partial class Shaper
{
    private sealed partial class BlockRun
    {
        private void Caption(SourceParagraph p, RolePlan.Planned planned)
        {
            var at = At(p);
            CloseCaption();
            CloseList();
            var words = p.Spans.Words();
            var skip = Label(p.Spans, at);
            var table = LookAlike.IsTableLabel(words);
            // The caption under a figure is its own; one above a table waits for it.
            if (!table && _blocks.Count > 0 && _blocks[^1] is Figure { Caption.Count: 0 } figure)
            {
                _blocks[^1] = figure with { Caption = Own(figure.Id) };
                return;
            }
            (_caption, _captionOf, _captionSource, _captionSkip) = ([], (table, at, words), p, skip);

            List<Inline> Own(Id owner) => shaper._spans.Shape(p.Spans, at, skip, owner, flat: false);
        }

        /// <summary>Characters of the label typed in front of a caption, which is told of.</summary>
        private int Label(IReadOnlyList<SourceSpan> caption, Place at, Id? owner = null)
        {
            var words = caption.Words();
            var skip = LookAlike.TypedLabel(words);
            if (owner is { } known && skip > 0)
                shaper._work.Numbers.Add(LookAlike.IsTableLabel(words) ? Numbered.Table : Numbered.Figure, words[..skip], known);
            if (skip > 0 && words[..skip].Trim().Length > 0)
                shaper._work.Report(
                    ReportKind.Changed,
                    at,
                    "A label typed in front of a caption was taken out: the look numbers it.",
                    words[..skip].Trim()
                );
            return skip;
        }

        private SourceParagraph? _captionSource;
        private int _captionSkip;

        /// <summary>The caption that waits for what comes now; empty when none does.</summary>
        private IReadOnlyList<Inline> Waiting(Id owner, bool table)
        {
            if (_caption is null || _captionSource is null || (_captionOf.Table && !table))
                return [];
            _caption = null;
            if (_captionSkip > 0)
                shaper._work.Numbers.Add(_captionOf.Table ? Numbered.Table : Numbered.Figure, _captionOf.Words[.._captionSkip], owner);
            return shaper._spans.Shape(_captionSource.Spans, _captionOf.At, _captionSkip, owner);
        }

        /// <summary>A caption that nothing followed belongs to the table before it, or to nothing.</summary>
        private void CloseCaption()
        {
            if (_caption is null || _captionSource is null)
                return;
            _caption = null;
            if (_blocks.Count > 0 && _blocks[^1] is Table { Caption.Count: 0 } table)
            {
                _blocks[^1] = table with { Caption = shaper._spans.Shape(_captionSource.Spans, _captionOf.At, _captionSkip, table.Id) };
                return;
            }
            if (_blocks.Count > 0 && _blocks[^1] is Listing { Caption.Count: 0 } listing)
            {
                _blocks[^1] = listing with { Caption = shaper._spans.Shape(_captionSource.Spans, _captionOf.At, _captionSkip, listing.Id) };
                return;
            }
            var id = shaper._work.Fresh(_captionOf.At);
            shaper._work.Report(ReportKind.Look, _captionOf.At, "A caption stands by no figure or table; it came in as body text.");
            shaper._origins[id] = new Origin(file, _captionOf.At.At, shaper._plan.Of(_captionSource).Key);
            _blocks.Add(new Paragraph(id, "body", shaper._spans.Shape(_captionSource.Spans, _captionOf.At, _captionSkip)));
        }

        // ---- tables, figures, groups ----

        private void Table(SourceTable source)
        {
            var at = At(source);
            var id = shaper._work.Fresh(at);
            var caption =
                source.Caption.Count > 0
                    ? shaper._spans.Shape(source.Caption, at, Label(source.Caption, at, id), id)
                    : Waiting(id, table: true);
            // A cell's own place numbers its ids, so that a changed row renames no other.
            var rows = source
                .Rows.Select(
                    (row, r) =>
                        new Row(
                            shaper._work.Fresh(at),
                            row.Cells.Select(c => new Cell(shaper._work.Fresh(at), shaper._spans.Cell(c.Blocks, at, r < source.HeaderRows))
                                {
                                    ColumnSpan = Math.Clamp(c.ColumnSpan, 1, 1000),
                                    RowSpan = Math.Clamp(c.RowSpan, 1, 100_000),
                                    Alignment = c.Alignment,
                                })
                                .ToArray()
                        )
                )
                .ToArray();
            if (rows.Length == 0)
                return;
            var columns =
                source.Columns.Count > 0
                    ? source.Columns
                    : Enumerable.Repeat(CellAlignment.Left, Math.Min(200, rows.Max(r => r.Cells.Sum(c => c.ColumnSpan)))).ToArray();
            Put(new Table(id, Math.Min(source.HeaderRows, rows.Length), columns, caption, rows), source, "");
        }

        private void Picture(SourcePicture picture)
        {
            var at = At(picture);
            var id = shaper._work.Fresh(at);
            var caption =
                picture.Caption.Count > 0
                    ? shaper._spans.Shape(picture.Caption, at, Label(picture.Caption, at, id), id)
                    : Waiting(id, table: false);
            if (picture.Alternative.Length == 0)
                shaper._work.Report(ReportKind.Look, at, "A picture has no alternative text. Say in words what it shows.");
            var asset = shaper._work.Picture(at, picture.Asset);
            Put(
                new Figure(id, asset?.Name ?? picture.Asset, caption, picture.Alternative)
                {
                    Width = picture.Width > 0 ? Math.Clamp(picture.Width, 5, 100) : PictureWidth.Of(picture.SaidWidth, asset),
                },
                picture,
                ""
            );
        }

        private void Group(SourceGroup group)
        {
            var at = At(group);
            var planned = shaper._plan.Of(group);
            if (depth >= MostDepth)
            {
                shaper._work.Report(
                    ReportKind.Changed,
                    at,
                    $"“{group.Style}” is nested more than {MostDepth} deep; its words stand as a paragraph."
                );
                Put(new Paragraph(shaper._work.Fresh(at), "body", [new TextRun(new SourceBlock[] { group }.Words())]), group, planned.Key);
                return;
            }
            var id = shaper._work.Fresh(at);
            var label = planned.Role == ImportRole.Example ? Label(group.Title, at, id) : 0;
            var title = shaper._spans.Shape(group.Title, at, label, id, flat: true);
            if (planned.Role == ImportRole.LeftOut)
            {
                shaper._work.Report(
                    ReportKind.LeftOut,
                    at,
                    $"“{group.Style}” was left out, as the mapping says.",
                    new SourceBlock[] { group }.Words()
                );
                return;
            }
            var inner = shaper.Blocks(group.Blocks, file, depth + 1);
            // Heads belong to the outline, not into a box: there they stand as strong lines.
            if (planned.Role is not ImportRole.Body)
                inner = inner
                    .Select(b =>
                        b is Head h
                            ? new Paragraph(
                                h.Id,
                                "body",
                                h.Content.Select(s => s is TextRun r ? r with { Roles = r.Roles | SpanRoles.Strong } : s).ToArray()
                            )
                            : b
                    )
                    .ToList();
            if (inner.Count == 0 && title.Count == 0)
                return;
            if (inner.Count == 0 && planned.Role is ImportRole.Aside or ImportRole.Example)
                inner.Add(new Paragraph(shaper._work.Fresh(at), "body", []));
            Block? made =
                ImportRole.AdmonitionOf(planned.Role) is { } kind ? new Admonition(id, kind, Headed(title, inner, at))
                : planned.Role == ImportRole.Aside ? new Aside(id, title, inner)
                : planned.Role == ImportRole.Example ? new Example(id, title, inner)
                : null;
            if (made is not null)
            {
                Put(made, group, planned.Key);
                return;
            }
            foreach (var block in Headed(title, inner, at))
                Put(
                    planned.Role == ImportRole.Quotation && block is Paragraph p ? p with { Role = ImportRole.Quotation } : block,
                    group,
                    shaper._origins.TryGetValue(block.Id, out var own) ? own.Line : planned.Key
                );
        }

        /// <summary>A title where the block has none of its own stands as a strong line before the text.</summary>
        private List<Block> Headed(List<Inline> title, List<Block> inner, Place at) =>
            title.Count == 0
                ? inner
                :
                [
                    new Paragraph(
                        shaper._work.Fresh(at),
                        "body",
                        title.Select(s => s is TextRun r ? r with { Roles = r.Roles | SpanRoles.Strong } : s).ToArray()
                    ),
                    .. inner,
                ];

        // ---- lists ----
    }
}
