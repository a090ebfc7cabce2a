using System.Text.RegularExpressions;
using Kivren.Core.Content;
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
using LineBreak = Kivren.Core.Content.LineBreak;
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
        .UseYamlFrontMatter()
        .UseAutoIdentifiers(Markdig.Extensions.AutoIdentifiers.AutoIdentifierOptions.GitHub)
        .Build();

    private readonly string _file;
    private readonly IReadOnlyDictionary<string, byte[]> _found;
    private readonly CancellationToken _cancel;
    private readonly List<ReportLine> _met = [];
    private readonly Dictionary<string, byte[]> _pictures = new(StringComparer.Ordinal);
    private MarkdownHeads? _heads;

    private MarkdownReader(string file, IReadOnlyDictionary<string, byte[]> found, CancellationToken cancel)
    {
        _file = file;
        _found = found;
        _cancel = cancel;
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
            return reader.Document(MarkdownDialect.Plain(text));
        }
        catch (Exception e) when (e is ArgumentException or InsufficientExecutionStackException)
        {
            throw new SourceFormatException($"{file} cannot be read: {e.Message}");
        }
    }

    private SourceDocument Document(string text)
    {
        var document = Markdig.Markdown.Parse(text, Pipeline);
        _heads = new MarkdownHeads(document, Plain);
        if (_heads.Defined(text) is { } defined)
        {
            document = Markdig.Markdown.Parse(defined, Pipeline);
            _heads = new MarkdownHeads(document, Plain);
        }
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
        var styles = Enumerable.Range(1, 6).ToDictionary(level => $"head {level}", level => new StyleFacts(level));
        styles["quotation"] = new StyleFacts(Role: ImportRole.Quotation);
        return new SourceDocument(_file, blocks)
        {
            Title = title,
            Language = language,
            Styles = styles,
            Pictures = _pictures,
            Met = _met,
        };
    }

    [GeneratedRegex(@"^lang(?:uage)?:\s*[""']?([A-Za-z]{2,8}(?:[-_][A-Za-z0-9]{1,8})*)[""']?\s*$", RegexOptions.CultureInvariant)]
    private static partial Regex Language();

    private void Tell(MarkdownObject node, ReportKind kind, string what, string words = "") =>
        _met.Add(ReportLine.At(kind, _file, "line", node.Line + 1, what, words));

    private IEnumerable<SourceBlock> Blocks(Markdig.Syntax.Block node)
    {
        _cancel.ThrowIfCancellationRequested();
        var at = node.Line + 1;
        switch (node)
        {
            case HeadingBlock h:
                var spans = Spans(h.Inline);
                if (h.TryGetAttributes()?.Id is { } anchor)
                    spans.Insert(0, new SourceBookmark(anchor));
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
                foreach (var block in Fenced(fenced, at))
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
            case FencedCodeBlock fenced:
                yield return new SourceListing(at, CodeLanguage(fenced), Lines(fenced));
                break;
            case CodeBlock code:
                yield return new SourceListing(at, "", Lines(code));
                break;
            case HtmlBlock html:
                if (Lines(html).TrimStart().StartsWith("<!--", StringComparison.Ordinal) && html.Type == HtmlBlockType.Comment)
                {
                    Tell(
                        html,
                        ReportKind.LeftOut,
                        "A comment was left out.",
                        Lines(html).Trim().TrimStart('<', '!', '-').TrimEnd('>', '-').Trim()
                    );
                    break;
                }
                Tell(html, ReportKind.Changed, "Raw HTML is kept as a listing; a printed page cannot run it.");
                yield return new SourceListing(at, "html", Lines(html));
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

    /// <summary>What stands between rows of colons is an admonition or an aside by its name, else the text that it is.</summary>
    private IEnumerable<SourceBlock> Fenced(Markdig.Extensions.CustomContainers.CustomContainer fenced, int at)
    {
        var name = ClassIn($"{fenced.Info} {fenced.Arguments}").ToLowerInvariant();
        var blocks = fenced.SelectMany(Blocks).ToArray();
        return SignalWords.KindOf(name) is not null || name is "aside" or "sidebar" or "example"
            ? [new SourceGroup(at, name, blocks)]
            : blocks;
    }

    private static string CodeLanguage(FencedCodeBlock fenced) =>
        fenced.Info is { Length: > 0 } info
            ? info[0] == '{'
                ? ClassIn($"{info} {fenced.Arguments}")
                : info
            : "";

    /// <summary>The first name after a point in braces, or the first word.</summary>
    private static string ClassIn(string info) => ClassWord().Match(info).Groups[1].Value;

    [GeneratedRegex(@"^\s*(?:\{[^}.]*)?\.?([\w+#-]+)", RegexOptions.CultureInvariant)]
    private static partial Regex ClassWord();

    private static string Lines(LeafBlock block) =>
        string.Join('\n', block.Lines.Lines.Take(block.Lines.Count).Select(l => l.Slice.ToString()));

    /// <summary>A paragraph that is one picture alone is a figure.</summary>
    private IEnumerable<SourceBlock> Paragraph(ParagraphBlock p, int at)
    {
        if (
            p.Inline?.FirstChild is LinkInline { IsImage: true, NextSibling: null } image
            && (Picture(image) ?? Waiting(image)) is { } asset
        )
        {
            yield return new SourcePicture(at, asset, Plain(image))
            {
                Caption = image.Title is { Length: > 0 } title ? [new SourceRun(title)] : [],
            };
            yield break;
        }
        yield return new SourceParagraph(at, "paragraph", Spans(p.Inline));
    }

    private static string? PathOf(LinkInline image)
    {
        try
        {
            return image.Url is { } url ? Uri.UnescapeDataString(url) : null;
        }
        catch (UriFormatException)
        {
            return image.Url;
        }
    }

    /// <summary>The name under which a figure waits for its file; null for a picture that is elsewhere on the web, or says
    /// nothing.</summary>
    private static string? Waiting(LinkInline image) =>
        Plain(image).Length > 0 && !Uri.TryCreate(image.Url, UriKind.Absolute, out _) ? Path.GetFileName(PathOf(image)) : null;

    private string? Picture(LinkInline image)
    {
        var path = PathOf(image);
        if (path is null || !_found.TryGetValue(path, out var bytes))
            return null;
        var name = Path.GetFileName(path);
        _pictures[name] = bytes;
        return name;
    }

    private static string Plain(ContainerInline? inline) =>
        inline is null
            ? ""
            : string.Concat(
                    inline
                        .Descendants()
                        .Select(d =>
                            d switch
                            {
                                LiteralInline l => l.Content.ToString(),
                                CodeInline c => c.Content,
                                LineBreakInline => " ",
                                HtmlEntityInline e => e.Transcoded.ToString(),
                                _ => "",
                            }
                        )
                )
                .Trim();

    private List<SourceSpan> Spans(ContainerInline? container)
    {
        var spans = new List<SourceSpan>();
        if (container is not null)
            Add(container, SpanRoles.None, null, spans);
        return spans;
    }

    private bool _inNote;

    private void Add(ContainerInline container, SpanRoles roles, string? web, List<SourceSpan> spans)
    {
        void Text(string text, SpanRoles more = SpanRoles.None, string? address = null) =>
            spans.Add(new SourceRun(text, roles | more, null, address ?? web));
        foreach (var node in container)
            switch (node)
            {
                case LiteralInline l:
                    Text(l.Content.ToString());
                    break;
                case CodeInline c:
                    Text(c.Content, SpanRoles.Code);
                    break;
                case HtmlEntityInline e:
                    Text(e.Transcoded.ToString());
                    break;
                case AutolinkInline a:
                    Text(a.Url, address: a.IsEmail ? "mailto:" + a.Url : a.Url);
                    break;
                case LineBreakInline b:
                    if (b.IsHard)
                        spans.Add(new SourceAtom(LineBreak.Instance));
                    else
                        Text(" ");
                    break;
                case EmphasisInline e:
                    Add(e, roles | (e.DelimiterCount >= 2 ? SpanRoles.Strong : SpanRoles.Emphasis), web, spans);
                    break;
                case FootnoteLink { IsBackLink: false } link when _inNote:
                    // A manual's notes hold no notes, and one that calls itself would never end.
                    Text($"[{link.Footnote.Label?.TrimStart('^')}]");
                    Tell(link, ReportKind.Look, "A note is called inside a note; the call stands as text.");
                    break;
                case FootnoteLink { IsBackLink: false } link:
                    _inNote = true;
                    spans.Add(new SourceNote(link.Footnote.SelectMany(Blocks).ToArray()));
                    _inNote = false;
                    break;
                case FootnoteLink:
                    break;
                case LinkInline { IsImage: true } image:
                    if (Picture(image) is { } asset)
                        spans.Add(new SourceAtom(new InlinePicture(Id.None, asset, Plain(image))));
                    else
                    {
                        Tell(
                            image,
                            ReportKind.LeftOut,
                            $"The picture “{image.Url}” was not found beside the text; its description is kept as words."
                        );
                        Text(Plain(image));
                    }
                    break;
                case LinkInline { Url: { Length: > 1 } url } link when url[0] == '#':
                    spans.Add(new SourceReference(_heads!.Of(url[1..]), "", Plain(link), roles));
                    break;
                case LinkInline link when Uri.TryCreate(link.Url, UriKind.Absolute, out _):
                    Add(link, roles, link.Url, spans);
                    break;
                case LinkInline { Url: { Length: > 0 } path } link when path.Contains(".md", StringComparison.OrdinalIgnoreCase):
                    spans.Add(
                        new SourceReference(path.Contains('#', StringComparison.Ordinal) ? path : path + "#", "", Plain(link), roles)
                    );
                    break;
                case LinkInline link:
                    Add(link, roles, web, spans);
                    break;
                case HtmlInline html when html.Tag.StartsWith("<!--", StringComparison.Ordinal):
                    Tell(html, ReportKind.LeftOut, "A comment was left out.", html.Tag.TrimStart('<', '!', '-').TrimEnd('>', '-').Trim());
                    break;
                case HtmlInline { Tag: "<br>" or "<br/>" or "<br />" }:
                    spans.Add(new SourceAtom(LineBreak.Instance));
                    break;
                case HtmlInline html:
                    Text(html.Tag, SpanRoles.Code);
                    Tell(html, ReportKind.Changed, $"The HTML tag {html.Tag} stands as text.");
                    break;
                case ContainerInline inner:
                    Add(inner, roles, web, spans);
                    break;
            }
    }
}
