using Kivren.Core.Content;

namespace Kivren.Formats.Import;

// Lists and definitions.
public sealed partial class Shaper
{
    private sealed partial class BlockRun
    {
        private void Item(SourceParagraph p, RolePlan.Planned planned)
        {
            CloseCaption();
            CloseListing();
            _admonitionKey = null;
            var at = At(p);
            var words = p.Spans.Words();
            var (typed, number) = p.List is null ? (planned.Looks?.Typed ?? 0, planned.Looks?.Number ?? 0) : (0, p.List.Value.Number);
            if (p.List is null && planned.Looks is null)
                (typed, number) = LookAlike.TypedItem(words);
            if (typed > 0)
                shaper._work.Report(
                    ReportKind.Changed,
                    at,
                    "A sign or number typed in front of an item was taken out: the list makes it.",
                    words[..typed].Trim()
                );
            var text = new Paragraph(shaper._work.Fresh(at), "body", shaper.TextOf(p, file, skip: typed));
            shaper._origins[text.Id] = new Origin(file, p.Place, planned.Key);
            var kind = planned.Role switch
            {
                ImportRole.Bullets => ListKind.Unordered,
                ImportRole.Letters => ListKind.Alpha,
                _ => p.List is { Kind: not ListKind.Unordered } own ? own.Kind : ListKind.Decimal,
            };
            // Letters under numbers are steps within a step.
            var level = p.List?.Level
                ?? (planned.Role == ImportRole.Letters && _list.IsNumbered ? 1 : null as int?)
                ?? (typed > 0 || planned.Looks is not null ? 0 : Math.Min(3, p.Indent / 36));
            if (
                _list.Add(
                    new ListRun.Entry(
                        p.List?.Key ?? planned.Key,
                        level,
                        kind,
                        planned.Role == ImportRole.Steps,
                        number,
                        new Item(shaper._work.Fresh(at), [text])
                    ),
                    () => shaper._work.Fresh(at)
                )
            )
                return;
            CloseList();
            _list.Add(
                new ListRun.Entry(
                    p.List?.Key ?? planned.Key,
                    level,
                    kind,
                    planned.Role == ImportRole.Steps,
                    number,
                    new Item(shaper._work.Fresh(at), [text])
                ),
                () => shaper._work.Fresh(at)
            );
        }

        private void CloseList()
        {
            if (_list.Close() is { } list)
                _blocks.Add(list);
        }

        private void CloseListing()
        {
            if (_listing is not { } listing)
                return;
            _listing = null;
            _admonitionKey = null;
            _blocks.Add(new Listing(listing.Id, "", string.Join('\n', listing.Lines), []));
        }

        private Block ListOf(SourceList list)
        {
            var at = At(list);
            var role = shaper._plan.Of(list).Role;
            if (depth >= MostDepth)
            {
                shaper._work.Report(
                    ReportKind.Changed,
                    at,
                    $"A list is nested more than {MostDepth} deep; its words stand as a paragraph."
                );
                return new Paragraph(shaper._work.Fresh(at), "body", [new TextRun(new SourceBlock[] { list }.Words())]);
            }
            var id = shaper._work.Fresh(at);
            var items = list
                .Items.Select(i =>
                {
                    var own = shaper.Blocks(i.Blocks, file, depth + 1);
                    // A head in an item would tear the list out of its section.
                    // An item begins with a paragraph: there its number stands.
                    if (own.Count > 0 && own[0] is not (Core.Content.Paragraph or Head))
                        own.Insert(0, new Paragraph(shaper._work.Fresh(at), "body", []));
                    return new Item(
                        shaper._work.Fresh(i.Blocks.Count > 0 ? At(i.Blocks[0]) : at),
                        own.Select(b =>
                                b is Head h
                                    ? new Paragraph(
                                        h.Id,
                                        "body",
                                        h.Content.Select(s => s is TextRun r ? r with { Roles = r.Roles | SpanRoles.Strong } : s).ToArray()
                                    )
                                    : b
                            )
                            .ToArray()
                    );
                })
                .Where(i => i.Blocks.Count > 0)
                .ToArray();
            if (role == ImportRole.Steps)
                return new Steps(id, list.Continues, items);
            var kind = role switch
            {
                ImportRole.Bullets => ListKind.Unordered,
                ImportRole.Letters => ListKind.Alpha,
                ImportRole.Numbers when list.Kind == ListKind.Unordered => ListKind.Decimal,
                _ => list.Kind,
            };
            return new ItemList(id, kind, Math.Clamp(list.Start, 0, 100_000), items) { Continues = list.Continues };
        }

        private DefinitionList DefinitionsOf(SourceDefinitions source)
        {
            var definitions = source
                .Definitions.Select(d =>
                {
                    var at = new Place(file, d.Place);
                    return new Definition(
                        shaper._work.Fresh(at),
                        shaper._spans.Shape(d.Term, at, flat: true),
                        shaper.Blocks(d.Blocks, file, depth + 1)
                    );
                })
                .ToArray();
            return new DefinitionList(shaper._work.Fresh(At(source)), definitions);
        }
    }
}
