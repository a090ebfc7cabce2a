using Kivren.Core.Content;

namespace Kivren.Formats.Import;

// The blocks of a division, an item or a group: paragraphs, signal words, listings.
public sealed partial class Shaper
{
    private List<Block> Blocks(IReadOnlyList<SourceBlock> blocks, int file, int depth)
    {
        var into = new BlockRun(this, file, depth);
        for (var i = 0; i < blocks.Count; i++)
        {
            if (_taken.Contains(blocks[i]))
                continue;
            if (Cleans(Cleaning.TabTables) && TabTable.At(blocks, i, b => _plan.Of(b).Role == ImportRole.Body) is { } table)
            {
                _work.Count(Cleaning.TabTables);
                _work.Report(
                    ReportKind.Changed,
                    new Place(file, blocks[i].Place),
                    $"{table.Lines} lines held apart by tabs or spaces became a table."
                );
                into.Add(table.Table);
                i += table.Lines - 1;
                continue;
            }
            into.Add(blocks[i]);
        }
        return into.Done();
    }

    private List<Inline> TextOf(SourceParagraph p, int file, bool flat = false, int skip = 0) =>
        _spans.Shape(p.Spans, new Place(file, p.Place), skip, flat: flat);

    /// <summary>Numbers typed before the last head of each style.</summary>
    private readonly Dictionary<string, string> _numberBefore = new(StringComparer.Ordinal);

    /// <param name="begins">the kind of the division that it begins; null for a head within one</param>
    private int HeadSkip(SourceParagraph p, RolePlan.Planned planned, Place at, Id id, DivisionKind? begins = null)
    {
        var skip =
            planned.Looks is { Typed: > 0 } looks && looks.Key.StartsWith("look:number", StringComparison.Ordinal)
                ? looks.Typed
                : LookAlike.TypedHeadNumber(p.Spans.Words());
        // A number that follows on the one typed before the head before counts nothing, whatever word stands behind it.
        if (skip == 0 && _numberBefore.TryGetValue(p.Style, out var before))
            skip = LookAlike.NumberAfter(before, p.Spans.Words());
        if (skip == 0 && begins == DivisionKind.Appendix)
            skip = LookAlike.AppendixLetter(p.Spans.Words(), _tree?.HasBareLetters == true);
        if (skip == 0)
        {
            _numberBefore.Remove(p.Style);
            return 0;
        }
        _numberBefore[p.Style] = p.Spans.Words()[..skip];
        _work.Count(Cleaning.TypedNumbers);
        if (!Cleans(Cleaning.TypedNumbers))
            return 0;
        _work.Report(
            ReportKind.Changed,
            at,
            "A number typed in front of a head was taken out: the manual numbers its heads.",
            p.Spans.Words()[..skip].Trim()
        );
        _work.Numbers.Add(Numbered.Head, p.Spans.Words()[..skip], id);
        return skip;
    }

    /// <summary>Blocks as they come to stand one after another in a division, an item, a group.</summary>
    private sealed partial class BlockRun(Shaper shaper, int file, int depth)
    {
        private readonly List<Block> _blocks = [];
        private readonly ListRun _list = new();
        private List<Inline>? _caption;
        private (bool Table, Place At, string Words) _captionOf;
        private AdmonitionKind? _waiting;
        private Place _waitingAt;
        private string? _admonitionKey;
        private (List<string> Lines, Place At, Id Id)? _listing;

        private Place At(SourceBlock block) => new(file, block.Place);

        public List<Block> Done()
        {
            CloseList();
            CloseListing();
            CloseCaption();
            if (_waiting is { } kind)
                _blocks.Add(
                    new Admonition(shaper._work.Fresh(_waitingAt), kind, [new Paragraph(shaper._work.Fresh(_waitingAt), "body", [])])
                );
            _waiting = null;
            return _blocks;
        }

        private void Put(Block block, SourceBlock source, string line)
        {
            shaper._origins[block.Id] = new Origin(file, source.Place, line);
            CloseCaption();
            CloseListing();
            if (_waiting is { } kind && block is Paragraph)
            {
                // A signal word alone on its line: what follows is its text.
                _waiting = null;
                Put(new Admonition(shaper._work.Fresh(_waitingAt), kind, [block]), source, line);
                return;
            }
            CloseList();
            _admonitionKey = null;
            _blocks.Add(block);
        }

        public void Add(SourceBlock block)
        {
            switch (block)
            {
                case SourceParagraph p:
                    Paragraph(p);
                    break;
                case SourceBreak:
                    shaper._work.Count(Cleaning.PageBreaks);
                    if (!shaper.Cleans(Cleaning.PageBreaks))
                        Put(new PageBreak(shaper._work.Fresh(At(block))), block, "");
                    break;
                case SourceGenerated generated:
                    Generated(generated);
                    break;
                case SourceList list:
                    Put(ListOf(list), list, shaper._plan.Of(list).Key);
                    break;
                case SourceDefinitions definitions:
                    Put(DefinitionsOf(definitions), definitions, "");
                    break;
                case SourceTable table:
                    Table(table);
                    break;
                case SourcePicture picture:
                    Picture(picture);
                    break;
                case SourceListing listing:
                    var listingId = shaper._work.Fresh(At(listing));
                    var captioned =
                        listing.Caption.Count > 0
                            ? shaper._spans.Shape(
                                listing.Caption,
                                At(listing),
                                Label(listing.Caption, At(listing), listingId),
                                listingId,
                                flat: true
                            )
                            : Waiting(listingId, table: false);
                    Put(new Listing(listingId, listing.Language, Printable(listing.Text), captioned), listing, "");
                    break;
                case SourceEquation equation:
                    Put(
                        new Equation(shaper._work.Fresh(At(equation)), equation.Source, equation.Alternative) { Numbered = false },
                        equation,
                        ""
                    );
                    break;
                case SourceGroup group:
                    Group(group);
                    break;
            }
        }

        private static string Printable(string text) =>
            string.Concat(text.Replace("\r\n", "\n", StringComparison.Ordinal).Where(c => c is '\n' or '\t' || !char.IsControl(c)))
                .TrimEnd('\n');

        private void Generated(SourceGenerated generated)
        {
            shaper._work.Count(Cleaning.GeneratedLists);
            var name = generated.Kind switch
            {
                Import.Generated.Contents => "contents list",
                Import.Generated.Index => "index",
                _ => "list of figures or tables",
            };
            if (shaper.Cleans(Cleaning.GeneratedLists))
                shaper._work.Report(
                    ReportKind.LeftOut,
                    At(generated),
                    $"The {name} of the source was left out: the manual makes its own.",
                    generated.Words
                );
            else if (generated.Words.Length > 0)
                Put(new Paragraph(shaper._work.Fresh(At(generated)), "body", [new TextRun(generated.Words)]), generated, "");
        }

        // ---- paragraphs ----

        private void Paragraph(SourceParagraph p)
        {
            var at = At(p);
            if (p.BreakBefore)
            {
                shaper._work.Count(Cleaning.PageBreaks);
                if (!shaper.Cleans(Cleaning.PageBreaks))
                    Put(new PageBreak(shaper._work.Fresh(at)), p, "");
            }
            if (p.SaysNothing())
            {
                if (p.Spans.Any(s => s is SourceBookmark or SourceComment or SourceAtom { Inline: IndexEntry }))
                {
                    // Nothing to print, but named places, comments and entries belong to what follows.
                    _carried.AddRange(p.Spans.Where(s => s is SourceBookmark or SourceComment or SourceAtom { Inline: IndexEntry }));
                }
                shaper._work.Count(Cleaning.EmptyParagraphs);
                if (!shaper.Cleans(Cleaning.EmptyParagraphs))
                    Put(new Paragraph(shaper._work.Fresh(at), "body", []), p, "");
                return;
            }
            if (_carried.Count > 0)
            {
                var planned0 = shaper._plan.Of(p);
                var carrying = p with { Spans = [.. _carried, .. p.Spans] };
                _carried.Clear();
                Planned(carrying, planned0);
                return;
            }
            Planned(p, shaper._plan.Of(p));
        }

        private readonly List<SourceSpan> _carried = [];

        private void Planned(SourceParagraph p, RolePlan.Planned planned)
        {
            var at = At(p);
            var role = planned.Role;
            var words = p.Spans.Words();
            Id Id() => shaper._work.Fresh(at);
            if (_list.IsOpen && role == ImportRole.Body && p.Indent > 0 && planned.Looks is null && p.List is null)
            {
                // Set in under an item: it carries the item on.
                var more = new Paragraph(Id(), "body", shaper.TextOf(p, file));
                shaper._origins[more.Id] = new Origin(file, p.Place, planned.Key);
                _list.CarryOn(more);
                return;
            }
            if (role != ImportRole.Listing)
                CloseListing();
            if (role == ImportRole.LeftOut)
            {
                shaper._work.Report(
                    ReportKind.LeftOut,
                    at,
                    $"A paragraph in “{(p.Style.Length > 0 ? p.Style : "Plain")}” was left out, as the mapping says.",
                    words
                );
                return;
            }
            if (ImportRole.HeadOf(role) is { } level)
            {
                var id = Id();
                var text = shaper._spans.Shape(p.Spans, at, shaper.HeadSkip(p, planned, at, id), id, flat: true);
                if (text.Count > 0)
                    Put(new Head(id, (HeadLevel)level, text), p, planned.Key);
            }
            else if (ImportRole.DivisionOf(role) is not null)
            {
                var id = Id();
                Put(
                    new Head(id, HeadLevel.A, shaper._spans.Shape(p.Spans, at, shaper.HeadSkip(p, planned, at, id), id, flat: true)),
                    p,
                    planned.Key
                );
            }
            else if (ImportRole.IsList(role))
                Item(p, planned);
            else if (ImportRole.AdmonitionOf(role) is { } kind)
                Admonition(p, planned, kind);
            else if (role == ImportRole.Caption)
                Caption(p, planned);
            else if (role == ImportRole.Listing)
            {
                if (_listing is null)
                {
                    CloseList();
                    _listing = ([], at, Id());
                    shaper._origins[_listing.Value.Id] = new Origin(file, p.Place, planned.Key);
                }
                _listing.Value.Lines.AddRange(Printable(ListingText(p.Spans)).Split('\n'));
            }
            else if (role is ImportRole.DefinedTerm or ImportRole.Definition)
                Defined(p, planned);
            else if (role is ImportRole.Aside or ImportRole.Example)
            {
                var text = new Paragraph(Id(), "body", shaper.TextOf(p, file));
                shaper._origins[text.Id] = new Origin(file, p.Place, planned.Key);
                if (_admonitionKey == planned.Key && _blocks[^1] is Aside or Example)
                    Join(text);
                else
                {
                    Put(role == ImportRole.Aside ? new Aside(Id(), [], [text]) : new Example(Id(), [], [text]), p, planned.Key);
                    _admonitionKey = planned.Key;
                }
            }
            else
                Put(new Paragraph(Id(), role, shaper.TextOf(p, file)), p, planned.Key);
        }

        /// <summary>Terms and what they mean, one after another, are one list.</summary>
        private void Defined(SourceParagraph p, RolePlan.Planned planned)
        {
            var at = At(p);
            CloseList();
            var list = _blocks.Count > 0 ? _blocks[^1] as DefinitionList : null;
            if (planned.Role == ImportRole.DefinedTerm || list is null)
            {
                var entry = new Definition(
                    shaper._work.Fresh(at),
                    planned.Role == ImportRole.DefinedTerm ? shaper.TextOf(p, file, flat: true) : [],
                    planned.Role == ImportRole.DefinedTerm ? [] : [Text()]
                );
                if (list is null)
                    Put(new DefinitionList(shaper._work.Fresh(at), [entry]), p, planned.Key);
                else
                    _blocks[^1] = list with { Definitions = [.. list.Definitions, entry] };
                return;
            }
            var last = list.Definitions[^1];
            _blocks[^1] = list with
            {
                Definitions = [.. list.Definitions.Take(list.Definitions.Count - 1), last with { Blocks = [.. last.Blocks, Text()] }],
            };

            Paragraph Text()
            {
                var text = new Paragraph(shaper._work.Fresh(at), "body", shaper.TextOf(p, file));
                shaper._origins[text.Id] = new Origin(file, p.Place, planned.Key);
                return text;
            }
        }

        private static string ListingText(IReadOnlyList<SourceSpan> spans) =>
            string.Concat(
                spans.Select(s =>
                    s switch
                    {
                        SourceRun { Tracked: not Tracked.Deleted } r => r.Text,
                        SourceTab => "\t",
                        SourceAtom { Inline: LineBreak } => "\n",
                        SourceReference r => r.Words,
                        _ => "",
                    }
                )
            );

        private void Join(Block text)
        {
            _blocks[^1] = _blocks[^1] switch
            {
                Admonition a => a with { Blocks = [.. a.Blocks, text] },
                Aside a => a with { Blocks = [.. a.Blocks, text] },
                Example e => e with { Blocks = [.. e.Blocks, text] },
                var other => other,
            };
        }

        private void Admonition(SourceParagraph p, RolePlan.Planned planned, AdmonitionKind kind)
        {
            var at = At(p);
            var words = p.Spans.Words();
            var skip = LookAlike.TypedSignal(words);
            if (skip > 0)
                shaper._work.Report(
                    ReportKind.Changed,
                    at,
                    "A signal word typed in front was taken out: the look prints it.",
                    words[..skip].Trim().TrimEnd(':', '!', '–', '—', '-').Trim()
                );
            if (skip >= words.Trim().Length)
            {
                CloseList();
                (_waiting, _waitingAt) = (kind, at);
                return;
            }
            var text = new Paragraph(shaper._work.Fresh(at), "body", shaper.TextOf(p, file, skip: skip));
            shaper._origins[text.Id] = new Origin(file, p.Place, planned.Key);
            // A style's paragraphs one after another are one admonition; a new signal word begins a new one.
            if (skip == 0 && _admonitionKey == planned.Key && _blocks.Count > 0 && _blocks[^1] is Admonition last && last.Kind == kind)
            {
                Join(text);
                return;
            }
            Put(new Admonition(shaper._work.Fresh(at), kind, [text]), p, planned.Key);
            _admonitionKey = planned.Key;
        }

        // ---- captions ----
    }
}
