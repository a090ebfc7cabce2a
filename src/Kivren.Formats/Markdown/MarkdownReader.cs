using System.Text;
using Kivren.Core.Content;
using Kivren.Formats.Package;
using Kivren.Formats.Pictures;
using Markdig;
using Markdig.Extensions.Alerts;
using Markdig.Extensions.Footnotes;
using Markdig.Extensions.Tables;
using Markdig.Extensions.Yaml;
using Markdig.Renderers.Html;
using Markdig.Syntax;
using Markdig.Syntax.Inlines;
using Block = Kivren.Core.Content.Block;
using Footnote = Kivren.Core.Content.Footnote;
using Inline = Kivren.Core.Content.Inline;
using Item = Kivren.Core.Content.Item;
using LineBreak = Kivren.Core.Content.LineBreak;
using Table = Kivren.Core.Content.Table;

namespace Kivren.Formats.Markdown;

/// <summary>Reads Markdown (CommonMark with tables, footnotes, admonitions) into a manual: each head of the first level
/// becomes a chapter, deeper heads A to D. What has no place in a printed manual is told, its words kept.</summary>
public sealed class MarkdownReader
{
    private static readonly MarkdownPipeline Pipeline = new MarkdownPipelineBuilder().UsePipeTables().UseFootnotes().UseAlertBlocks().UseYamlFrontMatter().UseAutoIdentifiers(Markdig.Extensions.AutoIdentifiers.AutoIdentifierOptions.GitHub).Build();

    private readonly Func<string> _fresh;
    private readonly List<ReadProblem> _problems;
    private readonly string _file;
    private readonly IReadOnlyDictionary<string, byte[]> _found;
    private readonly Dictionary<string, Id> _heads = new(StringComparer.OrdinalIgnoreCase);
    private readonly Dictionary<string, byte[]> _pictures = new(StringComparer.Ordinal);
    private readonly List<Asset> _assets = [];

    private MarkdownReader(string file, IReadOnlyDictionary<string, byte[]> pictures, Func<string> fresh, List<ReadProblem> problems)
    {
        _file = file;
        _found = pictures;
        _fresh = fresh;
        _problems = problems;
    }

    /// <param name="pictures">picture files the text may name, by their path in it</param>
    /// <param name="fresh">makes a new id</param>
    public static Package.Package Read(string file, byte[] bytes, IReadOnlyDictionary<string, byte[]> pictures, Func<string> fresh, List<ReadProblem> problems)
    {
        var text = Encoding.UTF8.GetString(bytes).TrimStart('\uFEFF');
        if (!System.Text.Unicode.Utf8.IsValid(bytes)) problems.Add(new ReadProblem(file, "Some bytes are not UTF-8; they stand as �."));
        if (text.Contains('\0')) text = text.Replace("\0", "\uFFFD", StringComparison.Ordinal);
        return new MarkdownReader(file, pictures, fresh, problems).Manual(Markdig.Markdown.Parse(text, Pipeline));
    }

    private Id Fresh() => new(_fresh());

    private Package.Package Manual(MarkdownDocument document)
    {
        var title = Path.GetFileNameWithoutExtension(_file);
        if (document.OfType<YamlFrontMatterBlock>().FirstOrDefault() is { } yaml)
            foreach (var line in yaml.Lines.Lines.Take(yaml.Lines.Count).Select(l => l.Slice.ToString()))
                if (line.StartsWith("title:", StringComparison.OrdinalIgnoreCase)) title = line[6..].Trim().Trim('"', '\'');
        var headings = document.Descendants<HeadingBlock>().ToList();
        foreach (var heading in headings)
            if (heading.TryGetAttributes()?.Id is { } anchor) _heads[anchor] = Fresh();
        // A file with one head of the first level and more below it: that head is the manual's title.
        var tops = headings.Where(h => h.Level == 1).ToList();
        var chapterLevel = tops.Count == 1 && headings.Any(h => h.Level == 2) && ReferenceEquals(headings[0], tops[0]) ? 2 : tops.Count == 0 && headings.Count > 0 ? headings.Min(h => h.Level) : 1;
        if (chapterLevel == 2 && tops.Count == 1) title = Plain(tops[0].Inline);

        var divisions = new List<Division>();
        var blocks = new List<Block>();
        var chapter = "";
        var id = Fresh();
        void Close()
        {
            if (blocks.Count > 0 || chapter.Length > 0)
                divisions.Add(new Division(id, chapter.Length == 0 ? DivisionKind.Preface : DivisionKind.Chapter, chapter.Length == 0 ? "Preface" : chapter, blocks));
            blocks = [];
        }
        foreach (var node in document)
        {
            if (node is HeadingBlock h && h.Level <= chapterLevel)
            {
                if (h.Level < chapterLevel) continue;
                Close();
                chapter = Plain(h.Inline);
                if (chapter.Length == 0) chapter = "Untitled";
                id = h.TryGetAttributes()?.Id is { } anchor ? _heads[anchor] : Fresh();
            }
            else blocks.AddRange(Blocks(node, chapterLevel));
        }
        Close();
        divisions.Insert(0, new Division(Fresh(), DivisionKind.TitlePage, "Title page", [new Paragraph(Fresh(), "title", [new TextRun(title)])]));
        divisions.Insert(1, new Division(Fresh(), DivisionKind.Contents, "Contents", [new ContentsList(Fresh())]));
        return new Package.Package(new Manual(Fresh(), title, divisions) { Assets = _assets }, _pictures);
    }

    private void Tell(MarkdownObject node, string what) => _problems.Add(new ReadProblem($"{_file}, line {node.Line + 1}", what));

    private IEnumerable<Block> Blocks(Markdig.Syntax.Block node, int chapterLevel)
    {
        switch (node)
        {
            case HeadingBlock h:
                var level = (HeadLevel)Math.Clamp(h.Level - chapterLevel, 1, 4);
                if (Plain(h.Inline).Length == 0) yield break;
                yield return new Head(h.TryGetAttributes()?.Id is { } anchor ? _heads[anchor] : Fresh(), level, Spans(h.Inline).Where(s => s is TextRun or LineBreak).ToList());
                break;
            case ParagraphBlock p:
                foreach (var block in Paragraph(p)) yield return block;
                break;
            case ListBlock list:
                {
                    var items = list.OfType<ListItemBlock>().Select(i => new Item(Fresh(), i.SelectMany(b => Blocks(b, chapterLevel)).ToList())).ToList();
                    var start = int.TryParse(list.OrderedStart, out var s) ? Math.Clamp(s, 0, 100_000) : 1;
                    yield return new ItemList(Fresh(), list.IsOrdered ? ListKind.Decimal : ListKind.Unordered, start, items);
                    break;
                }
            case AlertBlock alert:
                yield return new Admonition(Fresh(), Enum.TryParse<AdmonitionKind>(alert.Kind.ToString(), true, out var kind) ? kind : alert.Kind.ToString().ToUpperInvariant() switch { "IMPORTANT" => AdmonitionKind.Notice, _ => AdmonitionKind.Note }, alert.SelectMany(b => Blocks(b, chapterLevel)).ToList());
                break;
            case QuoteBlock quote:
                foreach (var inner in quote.SelectMany(b => Blocks(b, chapterLevel)))
                    yield return inner is Paragraph q ? q with { Role = "quotation" } : inner;
                break;
            case YamlFrontMatterBlock: break;
            case FencedCodeBlock fenced:
                yield return new Listing(Fresh(), fenced.Info ?? "", Lines(fenced), []);
                break;
            case CodeBlock code:
                yield return new Listing(Fresh(), "", Lines(code), []);
                break;
            case HtmlBlock html:
                Tell(html, "Raw HTML is kept as a listing; a printed page cannot run it.");
                yield return new Listing(Fresh(), "html", Lines(html), []);
                break;
            case Markdig.Extensions.Tables.Table table:
                {
                    var columns = table.ColumnDefinitions.Select(c => c.Alignment switch { TableColumnAlign.Right => CellAlignment.Right, TableColumnAlign.Center => CellAlignment.Centre, _ => CellAlignment.Left }).ToArray();
                    var rows = table.OfType<TableRow>().ToList();
                    yield return new Table(Fresh(), rows.TakeWhile(r => r.IsHeader).Count(), columns, [],
                        rows.Select(r => new Row(Fresh(), r.OfType<TableCell>().Select(c => new Cell(Fresh(), c.OfType<ParagraphBlock>().SelectMany(p => Spans(p.Inline)).ToList())).ToList())).ToList());
                    break;
                }
            case ThematicBreakBlock: break;
            case FootnoteGroup or LinkReferenceDefinitionGroup or LinkReferenceDefinition: break;
            case ContainerBlock container:
                foreach (var inner in container.SelectMany(b => Blocks(b, chapterLevel))) yield return inner;
                break;
            default:
                Tell(node, $"“{node.GetType().Name}” has no place in a manual and was left out.");
                break;
        }
    }

    private static string Lines(LeafBlock block) => string.Join('\n', block.Lines.Lines.Take(block.Lines.Count).Select(l => l.Slice.ToString()));

    /// <summary>A paragraph that is one picture alone is a figure.</summary>
    private IEnumerable<Block> Paragraph(ParagraphBlock p)
    {
        if (p.Inline?.FirstChild is LinkInline { IsImage: true, NextSibling: null } image && Picture(image) is { } asset)
        {
            yield return new Figure(Fresh(), asset, image.Title is { Length: > 0 } t ? [new TextRun(t)] : [], Plain(image));
            yield break;
        }
        var spans = Spans(p.Inline);
        if (spans.Count > 0) yield return new Paragraph(Fresh(), "body", spans);
    }

    private string? Picture(LinkInline image)
    {
        if (image.Url is not { } url || !_found.TryGetValue(Uri.UnescapeDataString(url), out var bytes))
        {
            Tell(image, $"The picture “{image.Url}” was not found beside the text; its description is kept as words.");
            return null;
        }
        var name = Path.GetFileName(url);
        if (_pictures.ContainsKey(name)) return name;
        try
        {
            _assets.Add(PictureReader.Describe(name, bytes));
            _pictures.Add(name, bytes);
            return name;
        }
        catch (PictureFormatException e)
        {
            Tell(image, e.Message);
            return null;
        }
    }

    private static string Plain(ContainerInline? inline) =>
        inline is null ? "" : string.Concat(inline.Descendants().Select(d => d switch { LiteralInline l => l.Content.ToString(), CodeInline c => c.Content, LineBreakInline => " ", HtmlEntityInline e => e.Transcoded.ToString(), _ => "" })).Trim();

    private List<Inline> Spans(ContainerInline? container)
    {
        var spans = new List<Inline>();
        if (container is not null) Add(container, SpanRoles.None, null, spans);
        if (spans.Count > 0 && spans[^1] is TextRun last) spans[^1] = last with { Text = last.Text.TrimEnd() };
        spans.RemoveAll(s => s is TextRun { Text.Length: 0 });
        return spans;
    }

    private void Add(ContainerInline container, SpanRoles roles, string? web, List<Inline> spans)
    {
        foreach (var node in container)
            switch (node)
            {
                case LiteralInline l: Text(l.Content.ToString(), roles, web, spans); break;
                case CodeInline c: Text(c.Content, roles | SpanRoles.Code, web, spans); break;
                case HtmlEntityInline e: Text(e.Transcoded.ToString(), roles, web, spans); break;
                case AutolinkInline a: Text(a.Url, roles, a.IsEmail ? "mailto:" + a.Url : a.Url, spans); break;
                case LineBreakInline b:
                    if (b.IsHard) spans.Add(LineBreak.Instance);
                    else Text(" ", roles, web, spans);
                    break;
                case EmphasisInline e: Add(e, roles | (e.DelimiterCount >= 2 ? SpanRoles.Strong : SpanRoles.Emphasis), web, spans); break;
                case FootnoteLink { IsBackLink: false } link:
                    spans.Add(new Footnote(Fresh(), link.Footnote.OfType<ParagraphBlock>().SelectMany(p => Spans(p.Inline)).Where(s => s is not Footnote).ToList()));
                    break;
                case FootnoteLink: break;
                case LinkInline { IsImage: true } image:
                    if (Picture(image) is not null) Tell(image, "A picture inside a line is kept as its description; stand it alone to make it a figure.");
                    Text(Plain(image), roles, web, spans);
                    break;
                case LinkInline link when link.Url is { Length: > 1 } url && url[0] == '#' && _heads.TryGetValue(url[1..], out var target):
                    // The words stay; the reference after them names the page.
                    Add(link, roles, web, spans);
                    Text(" (", roles, null, spans);
                    spans.Add(new CrossReference(Fresh(), target, "page"));
                    Text(")", roles, null, spans);
                    break;
                case LinkInline link: Add(link, roles, Uri.TryCreate(link.Url, UriKind.Absolute, out _) ? link.Url : web, spans); break;
                case HtmlInline html:
                    Text(html.Tag, roles | SpanRoles.Code, web, spans);
                    Tell(html, $"The HTML tag {html.Tag} stands as text.");
                    break;
                case ContainerInline inner: Add(inner, roles, web, spans); break;
            }
    }

    private static void Text(string text, SpanRoles roles, string? web, List<Inline> spans)
    {
        if (text.Length == 0) return;
        if (spans.Count > 0 && spans[^1] is TextRun last && last.Roles == roles && last.Web == web) spans[^1] = last with { Text = last.Text + text };
        else spans.Add(new TextRun(text, roles, web));
    }
}
