using System.Text.RegularExpressions;
using Kivren.Core.Content;
using Kivren.Formats.Html;
using Kivren.Formats.Import;
using Markdig;
using Markdig.Extensions.Alerts;
using Markdig.Extensions.DefinitionLists;
using Markdig.Extensions.Footnotes;
using Markdig.Extensions.Tables;
using Markdig.Extensions.Yaml;
using Markdig.Renderers.Html;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;
using SourceSpan = Kivren.Formats.Import.SourceSpan;

namespace Kivren.Formats.Markdown;

/// <summary>Reads Markdown (CommonMark with tables, footnotes, definition lists and admonitions). What has no place in a
/// printed manual is told, its words kept.</summary>
public sealed partial class MarkdownReader
{
    private static readonly MarkdownPipeline Pipeline = new MarkdownPipelineBuilder()
        .UsePipeTables()
        .UseGridTables()
        .UseCustomContainers()
        .UseFootnotes()
        .UseAlertBlocks()
        .UseDefinitionLists()
        .UseEmphasisExtras(Markdig.Extensions.EmphasisExtras.EmphasisExtraOptions.Strikethrough)
        .UseYamlFrontMatter()
        .UseAutoIdentifiers(Markdig.Extensions.AutoIdentifiers.AutoIdentifierOptions.GitHub)
        .Build();

    private readonly string _file;
    private readonly CancellationToken _cancel;
    private readonly List<ReportLine> _met = [];
    private readonly MarkdownPictures _pictures;
    private readonly Dictionary<string, StyleFacts> _styles;
    private InlineReader? _inline;
    private NamedFences? _fences;

    /// <summary>Names that belong to the block behind them.</summary>
    private readonly List<SourceSpan> _carried = [];

    /// <summary>Lines of the file before the text that is being read.</summary>
    private int _before;

    private MarkdownReader(string file, IReadOnlyDictionary<string, byte[]> found, CancellationToken cancel)
    {
        _file = file;
        _pictures = new MarkdownPictures(file, found);
        _cancel = cancel;
        _styles = Enumerable.Range(1, 6).ToDictionary(level => $"head {level}", level => new StyleFacts(level));
        _styles["quotation"] = new StyleFacts(Role: ImportRole.Quotation);
        foreach (var (name, role) in InlineNames.Roles)
            _styles[name] = new StyleFacts(Role: role);
    }

    /// <param name="beside">files the text may name, by their path from it</param>
    public static SourceDocument Read(
        string file,
        byte[] bytes,
        IReadOnlyDictionary<string, byte[]> beside,
        CancellationToken cancel = default
    )
    {
        var reader = new MarkdownReader(file, beside, cancel);
        var (text, guessed) = TextBytes.Read(bytes);
        if (guessed is not null)
            reader._met.Add(TextBytes.Told(file, guessed));
        if (text.Contains('\0'))
            text = text.Replace("\0", "\uFFFD", StringComparison.Ordinal);
        NestingGuard.Markdown(file, text);
        try
        {
            return reader.Document(MarkdownDialect.Plain(MarkdownBoxes.Fenced(text)));
        }
        catch (Exception e) when (e is ArgumentException or InsufficientExecutionStackException)
        {
            throw new SourceFormatException($"{file} cannot be read: {e.Message}");
        }
    }

    private SourceDocument Document(string text)
    {
        var document = Markdig.Markdown.Parse(text, Pipeline);
        var heads = new MarkdownHeads(document);
        if (heads.Defined(text) is { } defined)
        {
            document = Markdig.Markdown.Parse(defined, Pipeline);
            heads = new MarkdownHeads(document);
        }
        _inline = new InlineReader(_file, heads, _pictures, Tell, note => [.. note.SelectMany(Blocks)]);
        _fences = new NamedFences(_pictures, Tell, Carried, Inner);
        string title = "",
            language = "";
        if (document.OfType<YamlFrontMatterBlock>().FirstOrDefault() is { } yaml)
            foreach (var line in yaml.Lines.Lines.Take(yaml.Lines.Count).Select(l => l.Slice.ToString()))
                if (line.StartsWith("title:", StringComparison.OrdinalIgnoreCase))
                    title = line[6..].Trim().Trim('"', '\'');
                else if (Language().Match(line) is { Success: true } said)
                    language = said.Groups[1].Value;
                else if (line.Trim().Length > 0)
                    _met.Add(
                        ReportLine.At(
                            ReportKind.LeftOut,
                            _file,
                            "line",
                            yaml.Line + 1,
                            "A line of the file's own record was left out.",
                            line.Trim()
                        )
                    );
        var blocks = MarkdownCaptions.Taken(document.SelectMany(Blocks)).ToList();
        if (_carried.Count > 0)
            blocks.Add(new SourceParagraph(document.LineCount, "paragraph", Carried()));
        return new SourceDocument(_file, blocks)
        {
            Title = title,
            Language = language,
            Styles = _styles,
            Pictures = _pictures.Taken,
            Met = _met,
            Site = MarkdownContents.Of(_file, document) with { WindowTitle = title },
        };
    }

    [GeneratedRegex(@"^lang(?:uage)?:\s*[""']?([A-Za-z]{2,8}(?:[-_][A-Za-z0-9]{1,8})*)[""']?\s*$", RegexOptions.CultureInvariant)]
    private static partial Regex Language();

    private void Tell(MarkdownObject node, ReportKind kind, string what, string words = "") =>
        _met.Add(ReportLine.At(kind, _file, "line", _before + node.Line + 1, what, words));

    private List<SourceSpan> Carried()
    {
        var carried = _carried.ToList();
        _carried.Clear();
        return carried;
    }

    private List<SourceSpan> Spans(ContainerInline? inline) => _inline!.Read(inline);

    private IEnumerable<SourceBlock> Blocks(Markdig.Syntax.Block node)
    {
        _cancel.ThrowIfCancellationRequested();
        var at = _before + node.Line + 1;
        switch (node)
        {
            case HeadingBlock h:
                var spans = Carried();
                if (h.TryGetAttributes()?.Id is { } anchor)
                    spans.Add(new SourceBookmark(anchor));
                spans.AddRange(Spans(h.Inline));
                yield return new SourceParagraph(at, $"head {h.Level}", spans);
                break;
            case ParagraphBlock p:
                foreach (var block in Paragraph(p, at))
                    yield return block;
                break;
            case ListBlock list:
            {
                var items = list.OfType<ListItemBlock>().Select(i => new SourceItem(i.SelectMany(Blocks).ToArray())).ToArray();
                var start = int.TryParse(list.OrderedStart, out var s) ? Math.Clamp(s, 0, 100_000) : 1;
                yield return new SourceList(
                    at,
                    list.IsOrdered ? "numbered list" : "list",
                    list.IsOrdered ? ListKind.Decimal : ListKind.Unordered,
                    start,
                    items
                );
                break;
            }
            case AlertBlock alert:
                yield return new SourceGroup(at, alert.Kind.ToString().ToLowerInvariant(), alert.SelectMany(Blocks).ToArray());
                break;
            case QuoteBlock quote:
            {
                var quoted = quote.SelectMany(Blocks).ToArray();
                yield return SignalQuote.Of(at, quoted) ?? new SourceGroup(at, "quotation", quoted);
                break;
            }
            case Markdig.Extensions.CustomContainers.CustomContainer fenced:
                foreach (var block in _fences!.Of(fenced, [.. fenced.SelectMany(Blocks)], at))
                    yield return block;
                break;
            case BlankLineBlock:
                break;
            case Markdig.Extensions.DefinitionLists.DefinitionList definitions:
                yield return new SourceDefinitions(
                    at,
                    "definitions",
                    definitions
                        .OfType<DefinitionItem>()
                        .Select(i => new SourceDefinition(
                            i.Line + 1,
                            i.OfType<DefinitionTerm>()
                                .SelectMany((t, n) => n == 0 ? Spans(t.Inline) : [new SourceRun(", "), .. Spans(t.Inline)])
                                .ToArray(),
                            i.Where(b => b is not DefinitionTerm).SelectMany(Blocks).ToArray()
                        ))
                        .ToArray()
                );
                break;
            case YamlFrontMatterBlock:
                break;
            case FencedCodeBlock fenced when _fences!.Of(fenced, Lines(fenced), at) is { } said:
                foreach (var block in said)
                    yield return block;
                break;
            case FencedCodeBlock fenced:
                yield return new SourceListing(at, CodeLanguage(fenced), Lines(fenced)) { Caption = Carried() };
                break;
            case CodeBlock code:
                yield return new SourceListing(at, "", Lines(code)) { Caption = Carried() };
                break;
            case HtmlBlock html:
                if (Lines(html).TrimStart().StartsWith("<!--", StringComparison.Ordinal) && html.Type == HtmlBlockType.Comment)
                {
                    Tell(html, ReportKind.LeftOut, "A comment was left out.", InlineReader.CommentOf(Lines(html)));
                    break;
                }
                foreach (var block in Page(html))
                    yield return block;
                break;
            case Markdig.Extensions.Tables.Table table:
            {
                var columns = table
                    .ColumnDefinitions.Select(c =>
                        c.Alignment switch
                        {
                            TableColumnAlign.Right => CellAlignment.Right,
                            TableColumnAlign.Center => CellAlignment.Centre,
                            _ => CellAlignment.Left,
                        }
                    )
                    .ToArray();
                // A table without a head is written with an empty one.
                var rows = table
                    .OfType<TableRow>()
                    .Where(r => !r.IsHeader || r.OfType<TableCell>().Any(c => c.Descendants<LeafInline>().Any()))
                    .ToArray();
                yield return new SourceTable(
                    at,
                    rows.TakeWhile(r => r.IsHeader).Count(),
                    rows.Select(r => new SourceRow(
                            r.OfType<TableCell>().Select(c => new SourceCell(c.SelectMany(Blocks).ToArray())).ToArray()
                        ))
                        .ToArray()
                )
                {
                    Columns = columns,
                    Caption = Carried(),
                };
                break;
            }
            case ThematicBreakBlock:
                break;
            case FootnoteGroup or LinkReferenceDefinitionGroup or LinkReferenceDefinition:
                break;
            case ContainerBlock container:
                foreach (var inner in container.SelectMany(Blocks))
                    yield return inner;
                break;
            default:
                Tell(node, ReportKind.LeftOut, $"“{node.GetType().Name}” has no place in a manual and was left out.");
                break;
        }
    }

    private static string CodeLanguage(FencedCodeBlock fenced) =>
        fenced.Info is { Length: > 0 } info
            ? info[0] == '{'
                ? ClassIn($"{info} {fenced.Arguments}")
                : info
            : "";

    /// <summary>The first name after a point in braces, or the first word.</summary>
    private static string ClassIn(string info) => ClassWord().Match(info).Groups[1].Value;

    [GeneratedRegex(@"^\s*(?:\{(?:[^}.]*\.)?)?\.?([\w+#-]+)", RegexOptions.CultureInvariant)]
    private static partial Regex ClassWord();

    private static string Lines(LeafBlock block) =>
        // What holds no line has no list of them.
        string.Join('\n', (block.Lines.Lines ?? []).Take(block.Lines.Count).Select(l => l.Slice.ToString()));

    /// <summary>A paragraph that is one picture alone is a figure; one of nothing but names names what follows.</summary>
    private IEnumerable<SourceBlock> Paragraph(ParagraphBlock p, int at)
    {
        if (
            p.Inline?.FirstChild is LinkInline { IsImage: true, NextSibling: null } image
            && (_pictures.Of(image.Url) ?? MarkdownPictures.Waiting(image)) is { } asset
        )
        {
            yield return new SourcePicture(at, asset, MarkdownWords.Plain(image))
            {
                Caption = image.Title is { Length: > 0 } title ? [.. Carried(), new SourceRun(title)] : Carried(),
            };
            yield break;
        }
        var words = MarkdownWords.Plain(p.Inline);
        if (ContentsMark().IsMatch(words))
        {
            yield return new SourceGenerated(at, Generated.Contents, words);
            yield break;
        }
        var spans = Spans(p.Inline);
        if (spans.Count > 0 && spans.All(s => s is SourceBookmark || s is SourceRun r && string.IsNullOrWhiteSpace(r.Text)))
            _carried.AddRange(spans.OfType<SourceBookmark>());
        else
            yield return new SourceParagraph(at, "paragraph", [.. Carried(), .. spans]);
    }

    /// <summary>A line that stands for a contents list.</summary>
    [GeneratedRegex(@"^\[{1,2}_?TOC_?\]{1,2}$", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant)]
    private static partial Regex ContentsMark();

    // ---- HTML ----

    private static readonly Dictionary<string, string> StylesOfPages = new() { ["p"] = "paragraph", ["blockquote"] = "quotation" };

    /// <summary>What a block of HTML says (CommonMark, 4.6).</summary>
    private IEnumerable<SourceBlock> Page(HtmlBlock html)
    {
        SourceDocument piece;
        // Names that wait belong to what the block holds first.
        var names = string.Concat(
            Carried().OfType<SourceBookmark>().Select(b => $"<a id=\"{System.Net.WebUtility.HtmlEncode(b.Name)}\"></a>")
        );
        try
        {
            piece = HtmlReader.Piece(_file, names + Lines(html), _before + html.Line, _pictures.Found, _pictures.Taken, _cancel);
        }
        catch (SourceFormatException e)
        {
            Tell(html, ReportKind.Look, $"{e.Message} The HTML stands as a listing.");
            return [new SourceListing(_before + html.Line + 1, "html", Lines(html))];
        }
        _met.AddRange(piece.Met);
        foreach (var (name, facts) in piece.Styles)
            _styles.TryAdd(name, facts);
        var blocks = piece.Blocks.ToList();
        if (blocks.Count > 0 && blocks[^1] is SourceParagraph { Spans: var last } && last.All(s => s is SourceBookmark))
        {
            _carried.AddRange(last);
            blocks.RemoveAt(blocks.Count - 1);
        }
        return blocks.Select(Restyled);
    }

    /// <summary>A paragraph of a page is one of the text.</summary>
    private static SourceBlock Restyled(SourceBlock block) =>
        block switch
        {
            SourceParagraph p => p with { Style = StyleOf(p.Style) },
            SourceGroup g => g with { Style = StyleOf(g.Style), Blocks = [.. g.Blocks.Select(Restyled)] },
            SourceList l => l with { Items = [.. l.Items.Select(i => new SourceItem([.. i.Blocks.Select(Restyled)]))] },
            _ => block,
        };

    private static string StyleOf(string style) =>
        StylesOfPages.GetValueOrDefault(style, style is ['h', >= '1' and <= '6' and var level] ? $"head {level}" : style);

    /// <summary>The blocks of text that stands within a block.</summary>
    /// <param name="before">lines of the file before it</param>
    private List<SourceBlock> Inner(string text, int before)
    {
        if (_depth >= MostInner)
            return [new SourceListing(before + 1, "", text)];
        var kept = _before;
        _before = before;
        _depth++;
        var blocks = MarkdownCaptions.Taken(Markdig.Markdown.Parse(MarkdownBoxes.Fenced(text), Pipeline).SelectMany(Blocks)).ToList();
        _depth--;
        _before = kept;
        return blocks;
    }

    /// <summary>Fences within fences deeper than this stand as they are.</summary>
    private const int MostInner = 12;
    private int _depth;
}
