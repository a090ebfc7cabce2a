using System.Text.RegularExpressions;
using AngleSharp.Dom;
using Kivren.Formats.Import;

namespace Kivren.Formats.Html;

// Notes that stand at the foot of a page and are called by a link: they belong where they are called.
public sealed partial class HtmlReader
{
    private const string SignTakenOut = "The sign of a note was taken out: the look makes it.";

    /// <summary>A note is being read.</summary>
    private bool _inNote;
    private readonly HashSet<string> _called = new(StringComparer.Ordinal);

    /// <summary>Notes whose call and number lead to each other, in rows of a table, under heads, in paragraphs: each becomes an element of
    /// its own, called as newer pages call theirs.</summary>
    private void SetNotesApart(IElement main)
    {
        static string NameOf(IElement e) => e.Id is { Length: > 0 } id ? id : e.GetAttribute("name") ?? "";
        static string PlaceIn(string? href) => href?.IndexOf('#', StringComparison.Ordinal) is >= 0 and var at ? href[(at + 1)..] : "";
        var calls = main.QuerySelectorAll("a[href^='#']")
            .Where(a => NameOf(a).Length > 0 && NoteCall().IsMatch(a.TextContent.Trim()))
            .ToList();
        if (calls.Count == 0)
            return;
        var named = new Dictionary<string, IElement>(StringComparer.Ordinal);
        foreach (var element in main.QuerySelectorAll("[id], a[name]"))
            named.TryAdd(NameOf(element), element);
        var numbers = new HashSet<IElement>();
        foreach (var call in calls)
        {
            if (
                numbers.Contains(call)
                || !named.TryGetValue(PlaceIn(call.GetAttribute("href")), out var target)
                || target.Contains(call)
                || (target.LocalName == "a" ? [target] : target.QuerySelectorAll("a[href]").ToArray()).FirstOrDefault(a =>
                    PlaceIn(a.GetAttribute("href")) == NameOf(call) && NoteCall().IsMatch(a.TextContent.Trim())
                )
                    is not { } number
            )
                continue;
            numbers.Add(number);
            if (SetApart(target, number) is not { } note)
                continue;
            Line(number);
            Tell(ReportKind.Changed, SignTakenOut, WebUtilityText(number.TextContent));
            number.Remove();
            var name = PlaceIn(call.GetAttribute("href"));
            note.Id = name;
            call.ClassList.Add("footnote-ref");
        }
        // A head over nothing but notes goes with them.
        foreach (var head in main.QuerySelectorAll(".footnotes-heading, h3.footnotes, h4.footnotes").Where(_ => numbers.Count > 0).ToList())
        {
            Line(head);
            Tell(ReportKind.LeftOut, "A head over notes was left out: they stand where they are called.", WebUtilityText(head.TextContent));
            head.Remove();
        }
    }

    /// <summary>The element that holds a whole note; null where it cannot be told.</summary>
    private static IElement? SetApart(IElement target, IElement number)
    {
        if (target.LocalName != "a")
            return target;
        var page = target.Owner!;
        if (number.Closest("tr") is { } row && row.Children.Length > 1 && row.Closest("table") is { } table)
        {
            var note = page.CreateElement("div");
            note.Append([.. row.Children[^1].ChildNodes]);
            table.Before(note);
            row.Remove();
            if (table.QuerySelector("tr") is null)
                table.Remove();
            return note;
        }
        if (number.Closest("h1, h2, h3, h4, h5, h6") is { } head)
        {
            var note = page.CreateElement("div");
            for (var next = head.NextSibling; next is not null && next is not IElement { LocalName: ['h', (>= '1' and <= '6') or 'r'] }; )
            {
                var after = next.NextSibling;
                note.AppendChild(next);
                next = after;
            }
            head.Before(note);
            head.Remove();
            return note;
        }
        return number.Closest("p, li, dd, div");
    }

    private void FindNotes(IElement main)
    {
        var calls = main.QuerySelectorAll("a[href^='#']").Where(IsCall).ToList();
        if (calls.Count == 0)
            return;
        var byId = new Dictionary<string, IElement>(StringComparer.Ordinal);
        foreach (var element in main.QuerySelectorAll("[id]"))
            byId.TryAdd(element.Id ?? "", element);
        foreach (var call in calls)
        {
            var id = call.GetAttribute("href")![1..];
            // A note that is called only from inside itself is no note: its words stay in the text.
            if (
                call.Ancestors()
                    .OfType<IElement>()
                    .Any(a => a.Id == id || (a.LocalName == "dd" && a.PreviousElementSibling is { } label && label.Id == id))
            )
                continue;
            if (byId.TryGetValue(id, out var note))
                _notes.TryAdd(id, note);
        }
    }

    private static bool IsCall(IElement a) =>
        a.GetAttribute("role") == "doc-noteref"
        || a.ClassList.Contains("footnote-reference")
        || a.ClassList.Contains("footnote-ref")
        || a.GetAttribute("epub:type") == "noteref"
        || (a.ParentElement?.LocalName == "sup" && NoteCall().IsMatch(a.TextContent.Trim()));

    [GeneratedRegex(@"^[\[(]?(\d{1,3}|[*†‡])[\])]?$")]
    private static partial Regex NoteCall();

    /// <summary>The element that holds the whole note: a definition's text after its label, an item, a paragraph.</summary>
    private static IEnumerable<INode> NoteText(IElement note) =>
        note.LocalName == "dt" && note.NextElementSibling is { LocalName: "dd" } text ? text.ChildNodes : note.ChildNodes;

    private bool IsNote(IElement e) =>
        (e.Id is { Length: > 0 } id && _notes.ContainsKey(id))
        || (e.LocalName == "dd" && e.PreviousElementSibling is { LocalName: "dt", Id: { Length: > 0 } label } && _notes.ContainsKey(label));
}
