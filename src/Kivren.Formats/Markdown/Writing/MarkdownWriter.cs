using System.Globalization;
using System.IO.Compression;
using System.Text;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Numbering;
using Kivren.Formats.Flowing;
using Kivren.Formats.Package;

namespace Kivren.Formats.Markdown.Writing;

/// <summary>An edition as Markdown for other tools (CommonMark with tables, footnotes, definition lists and alerts), with its pictures
/// beside it in one archive. Numbers are typed, for nobody computes them there; contents and index are left out.</summary>
public sealed class MarkdownWriter
{
    private readonly ComposedManual _composed;
    private readonly BookPictures _pictures;
    private readonly MarkdownSpans _spans;
    private readonly Dictionary<Id, string> _anchors = [];
    private readonly StringBuilder _text = new();
    private DivisionNumbers _numbers = null!;

    private MarkdownWriter(ComposedManual composed, Func<string, byte[]?> pictures)
    {
        _composed = composed;
        _pictures = new BookPictures(composed.Text.Manual, pictures);
        _spans = new MarkdownSpans(composed, _pictures.Address, id => _anchors.GetValueOrDefault(id));
    }

    public static void WriteZip(
        ComposedManual composed,
        Func<string, byte[]?> pictures,
        Stream output,
        Action<int>? told = null,
        CancellationToken cancel = default
    )
    {
        var writer = new MarkdownWriter(composed, pictures);
        writer.Name();
        writer._text.Append("---\ntitle: \"").Append(composed.Text.Manual.Title.Replace('"', '”')).Append("\"\n---\n");
        for (var d = 0; d < composed.Text.Divisions.Count; d++)
        {
            cancel.ThrowIfCancellationRequested();
            writer.Division(d);
            told?.Invoke(d + 1);
        }
        using var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true);
        zip.Put("manual.md", new UTF8Encoding(false).GetBytes(writer._text.ToString()));
        foreach (var (_, address, picture) in writer._pictures.Files)
            zip.Put(address, picture);
    }

    // ---- heads ----

    private static bool IsWritten(Division division) => division.Kind is not (DivisionKind.Contents or DivisionKind.Index);

    private static string Titled(string number, string title) => number.Length > 0 ? number + " " + title : title;

    private string TitleOf(DivisionNumbers numbers) =>
        Titled(
            numbers.Number.Length > 0
                ? LanguageWords.Numbered(_composed.Look.KindName(numbers.Division), numbers.Number, " ").Trim() + ":"
                : "",
            numbers.Division.Title
        );

    /// <summary>Anchors are what readers of Markdown make of heads: small letters and digits, hyphens for spaces, a number for one that is
    /// there already.</summary>
    private void Name()
    {
        var used = new HashSet<string>(StringComparer.Ordinal);
        void Add(Id id, string words)
        {
            var stem = string.Concat(
                words.ToLowerInvariant().Where(c => char.IsLetterOrDigit(c) || c is ' ' or '-' or '_').Select(c => c == ' ' ? '-' : c)
            );
            var name = stem;
            for (var n = 1; !used.Add(name); n++)
                name = $"{stem}-{n}";
            _anchors[id] = name;
        }
        foreach (var numbers in _composed.Numbers.Divisions.Where(n => IsWritten(n.Division)))
        {
            Add(numbers.Division.Id, TitleOf(numbers));
            foreach (var head in numbers.Division.Blocks.OfType<Head>().Where(h => h.Printed))
                Add(head.Id, Titled(numbers.ById.GetValueOrDefault(head.Id)?.Number ?? "", head.Content.PlainText()));
        }
    }

    private void Division(int d)
    {
        var division = _composed.Text.Divisions[d];
        if (!IsWritten(division))
            return;
        _numbers = _composed.Numbers.Divisions[d];
        Put(["# " + MarkdownSpans.Escaped(TitleOf(_numbers))]);
        foreach (var block in division.Blocks)
            Put(Of(block));
        foreach (var (mark, note) in _spans.TakeNotes())
            Put([$"[^{mark}]: {_spans.Of(note.Content)}"]);
        // Notes that notes call.
        foreach (var (mark, note) in _spans.TakeNotes())
            Put([$"[^{mark}]: {_spans.Of(note.Content)}"]);
    }

    private void Put(IReadOnlyList<string> lines)
    {
        if (lines.Count == 0)
            return;
        _text.Append('\n');
        foreach (var line in lines)
            _text.Append(line.TrimEnd(' ')).Append('\n');
    }

    // ---- blocks ----

    /// <summary>Blocks one after the other, with an empty line between.</summary>
    private List<string> All(IReadOnlyList<Block> blocks)
    {
        var lines = new List<string>();
        foreach (var own in blocks.Select(b => Of(b, nested: true)).Where(o => o.Count > 0))
        {
            if (lines.Count > 0)
                lines.Add("");
            lines.AddRange(own);
        }
        return lines;
    }

    /// <param name="nested">it stands in another block</param>
    private List<string> Of(Block block, bool nested = false)
    {
        switch (block)
        {
            case Paragraph { Role: "quotation" } p:
                return Quoted([_spans.Of(p.Content)]);
            case Paragraph p:
                return _spans.Of(p.Content) is { Length: > 0 } words ? [words] : [];
            case Head { Printed: true } h:
                var title = Titled(MarkdownSpans.Escaped(_numbers.ById.GetValueOrDefault(h.Id)?.Number ?? ""), _spans.Of(h.Content));
                return [new string('#', Math.Min(6, (int)h.Level + 1)) + " " + title];
            case ItemList l:
                return Items(l.Items, l.Kind == ListKind.Unordered ? null : Math.Max(1, l.Start));
            case Steps s:
                return Items(s.Items, int.TryParse(_numbers.Label(s.Id), out var first) ? first : 1);
            case DefinitionList d:
                return
                [
                    .. d.Definitions.SelectMany(
                        (definition, n) =>
                            (n > 0 ? new[] { "" } : [])
                                .Append(_spans.Of(definition.Term))
                                .Concat(Hung(":   ", "    ", All(definition.Blocks)))
                    ),
                ];
            case ReferenceList r:
                return [.. r.Documents.Select(d => $"- **{MarkdownSpans.Escaped(d.Designation)}**, *{_spans.Of(d.Title)}*")];
            case Admonition a:
                // Alerts stand only by themselves; within other blocks the signal word is said in bold.
                var kind = a.Kind == AdmonitionKind.Notice && !nested ? "IMPORTANT" : a.Kind.ToString().ToUpperInvariant();
                return Quoted(nested ? [$"**{kind}**", "", .. All(a.Blocks)] : [$"[!{kind}]", .. All(a.Blocks)]);
            case Aside a:
                return Quoted(a.Title.Count > 0 ? [$"**{_spans.Of(a.Title)}**", "", .. All(a.Blocks)] : All(a.Blocks));
            case Example e:
                return [Caption(e.Id, e.Title), "", .. All(e.Blocks)];
            case Figure f:
                List<string> figure = [$"![{MarkdownSpans.Escaped(f.Alternative)}]({_pictures.Address(f.Asset)})"];
                if (f.IsCaptioned)
                    figure.AddRange(["", Caption(f.Id, [.. f.Caption.Where(c => c is not FigureArea)])]);
                return figure;
            case Listing l:
                return Fenced(l);
            case Equation e:
                return [$"`{e.Source.ReplaceLineEndings(" ").Replace('`', '\'')}`" + (Number(e.Id) is { Length: > 0 } n ? $" ({n})" : "")];
            case Table t:
                return [.. t.Caption.Count > 0 ? new[] { Caption(t.Id, t.Caption), "" } : [], .. Rows(t)];
            default:
                return [];
        }
    }

    private string Number(Id id) => _numbers.ById.GetValueOrDefault(id)?.Number ?? "";

    private string Caption(Id id, IReadOnlyList<Inline> words) =>
        _numbers.ById.GetValueOrDefault(id) is { Number.Length: > 0 } target
            ? $"{LanguageWords.Numbered(target.Name, target.Number, " ")}: {_spans.Of(words)}"
            : _spans.Of(words);

    private static List<string> Quoted(IReadOnlyList<string> lines) => [.. lines.Select(l => l.Length > 0 ? "> " + l : ">")];

    private static IEnumerable<string> Hung(string first, string rest, IReadOnlyList<string> lines) =>
        lines.Count == 0
            ? [first.TrimEnd()]
            : lines.Select(
                (line, n) =>
                    n == 0 ? first + line
                    : line.Length > 0 ? rest + line
                    : ""
            );

    private List<string> Items(IReadOnlyList<Item> items, int? start)
    {
        var lines = new List<string>();
        for (var i = 0; i < items.Count; i++)
        {
            var own = All(items[i].Blocks);
            var sign = start is { } from ? (from + i).ToString(CultureInfo.InvariantCulture) + ". " : "- ";
            if (i > 0 && (own.Contains("") || lines.Contains("")))
                lines.Add("");
            lines.AddRange(Hung(sign, new string(' ', sign.Length), own));
        }
        return lines;
    }

    private List<string> Fenced(Listing listing)
    {
        var lines = listing.Text.ReplaceLineEndings("\n").TrimEnd('\n').Split('\n');
        var (longest, fence) = (0, 3);
        foreach (var line in lines)
        {
            longest = 0;
            foreach (var c in line)
                fence = Math.Max(fence, (longest = c == '`' ? longest + 1 : 0) + 1);
        }
        var sign = new string('`', fence);
        return
        [
            .. listing.Caption.Count > 0 ? new[] { Caption(listing.Id, listing.Caption), "" } : [],
            sign + string.Concat(listing.Language.Where(c => char.IsAsciiLetterOrDigit(c) || c is '+' or '#' or '-')),
            .. lines,
            sign,
        ];
    }

    /// <summary>Every cell of the grid: what reaches over several stands in the first of them.</summary>
    private IEnumerable<string> Rows(Table table)
    {
        var (grid, columns) = TableGrid.Of(table);
        if (columns == 0)
            yield break;
        var cells = new string[table.Rows.Count, columns];
        foreach (var place in grid)
            cells[place.Row, place.Column] = _spans.Of(place.Cell.Content);
        string Row(int r) => "| " + string.Join(" | ", Enumerable.Range(0, columns).Select(c => cells[r, c] ?? "")) + " |";
        var head = table.HeaderRows > 0 && table.Rows.Count > 0;
        yield return head ? Row(0) : "|" + string.Concat(Enumerable.Repeat("  |", columns));
        yield return "|"
            + string.Concat(
                Enumerable
                    .Range(0, columns)
                    .Select(c =>
                        (c < table.Columns.Count ? table.Columns[c] : CellAlignment.Left) switch
                        {
                            CellAlignment.Centre => ":-:|",
                            CellAlignment.Right or CellAlignment.Decimal => "--:|",
                            _ => "---|",
                        }
                    )
            );
        for (var r = head ? 1 : 0; r < table.Rows.Count; r++)
            yield return Row(r);
    }
}
