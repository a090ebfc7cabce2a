using System.Text.RegularExpressions;
using System.Xml.Linq;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using Kivren.Core.Content;
using Kivren.Formats.Import;
using Kivren.Formats.Import.Sites;

namespace Kivren.Formats.Html;

// Words in a line: emphasis, names, links.
public sealed partial class HtmlReader
{
    private void Spans(INode node, List<SourceSpan> spans, SpanRoles roles, string? web, string? style = null)
    {
        switch (node)
        {
            case IText text:
                var data = text.Data.Replace('\n', ' ').Replace('\r', ' ').Replace('\t', ' ');
                if (data.Length > 0)
                    spans.Add(new SourceRun(Collapsed().Replace(data, " "), roles, style, web));
                break;
            case IElement image when PagePictures.IsPicture(image):
                var says = WebUtilityText(PagePictures.AlternativeOf(image)).Trim();
                if (Asset(image, out var missing) is { } asset)
                    spans.Add(new SourceAtom(new InlinePicture(Id.None, asset, says)));
                else
                {
                    TellMissing(missing);
                    if (says.Length > 0)
                        spans.Add(new SourceRun(says, roles, style, web));
                }
                break;
            case IElement element when Unread.Contains(element.LocalName):
                if (element.LocalName is "iframe" or "object" or "embed" or "video" or "audio" or "svg" or "canvas")
                    Tell(
                        ReportKind.LeftOut,
                        $"A <{element.LocalName}> was left out: paper cannot show it.",
                        WebUtilityText(element.TextContent)
                    );
                break;
            case IElement { LocalName: "br" }:
                spans.Add(new SourceAtom(LineBreak.Instance));
                break;
            case IElement { LocalName: "math" } math:
                try
                {
                    spans.Add(
                        new SourceAtom(
                            new InlineEquation(
                                Id.None,
                                LinearEquation.From(XElement.Parse(math.OuterHtml.Replace("&nbsp;", " ", StringComparison.Ordinal))),
                                math.GetAttribute("alttext") ?? ""
                            )
                        )
                    );
                }
                catch (System.Xml.XmlException)
                {
                    spans.Add(new SourceRun(WebUtilityText(math.TextContent), roles, style, web));
                }
                break;
            case IHtmlAnchorElement link:
                Link(link, spans, roles, style);
                break;
            case IElement element:
                if (element.Id is { Length: > 0 } id && !IsNote(element))
                    spans.Add(new SourceBookmark(id));
                if (element.LocalName == "del")
                {
                    spans.Add(new SourceRun(WebUtilityText(element.TextContent), roles, style, web) { Tracked = Tracked.Deleted });
                    break;
                }
                // Numbers that a generator typed in front of heads.
                var own =
                    element.LocalName == "span"
                    && element.ClassList.FirstOrDefault(c =>
                        c is "menuselection" or "kbd" or "term" or "product" or "part-number" or "control" or "key"
                    )
                        is { } kind
                        ? kind
                    : element.LocalName is "span" or "b" or "i" or "em" or "strong" or "tt"
                    && (roles & SpanRoles.Code) == 0
                    && element.ClassList.Select(InlineNames.OfClass).FirstOrDefault(c => c is not null) is { } named
                        ? named
                    : style;
                // What an element is named for says more than the face it is set in.
                var dressed =
                    own != style && own is not null && InlineNames.Roles.ContainsKey(own) && element.LocalName != "tt"
                        ? SpanRoles.None
                        : Roles.GetValueOrDefault(element.LocalName)
                            | (_looks?.Of(element) ?? SpanRoles.None)
                            | element.ClassList.Aggregate(SpanRoles.None, (all, c) => all | FaceClasses.GetValueOrDefault(c));
                foreach (var child in element.ChildNodes)
                    Spans(child, spans, roles | dressed, web, own);
                break;
        }
    }

    [GeneratedRegex(" {2,}")]
    private static partial Regex Collapsed();

    private void Link(IHtmlAnchorElement link, List<SourceSpan> spans, SpanRoles roles, string? style)
    {
        if (link.Id is { Length: > 0 } own)
            spans.Add(new SourceBookmark(own));
        if (link.GetAttribute("name") is { Length: > 0 } name)
            spans.Add(new SourceBookmark(name));
        var href = link.GetAttribute("href") ?? "";
        if (href.StartsWith("mailto:", StringComparison.OrdinalIgnoreCase))
            href = Uri.UnescapeDataString(href);
        // Links of a page to itself or back to a note's call are of no use on paper.
        if (link.ClassList.Any(c => c is "headerlink" or "fn-backref" or "footnote-back" or "anchor") || IsOwnSign(link))
        {
            if (WebUtilityText(link.TextContent) is { Length: > 0 } sign)
                _met.Add(
                    ReportLine.At(ReportKind.LeftOut, _file, "line", Line(link), "A sign that links to its own place was left out.", sign)
                );
            return;
        }
        if (href.StartsWith('#') && _notes.TryGetValue(href[1..], out var note) && IsCall(link))
        {
            if (_inNote)
            {
                // A manual's notes hold no notes, and one that calls itself would never end.
                spans.Add(new SourceRun(link.TextContent, roles, style));
                _met.Add(
                    ReportLine.At(
                        ReportKind.Look,
                        _file,
                        "line",
                        Line(link),
                        "A note is called inside a note; the call stands as text.",
                        WebUtilityText(link.TextContent)
                    )
                );
                return;
            }
            _inNote = true;
            _called.Add(href[1..]);
            var blocks = new List<SourceBlock>();
            var holder = NoteText(note).ToList();
            var loose = new List<SourceSpan>();
            foreach (var node in holder)
                if (node is IElement e && Blocks_.Contains(e.LocalName))
                    Block(e, blocks, 1);
                else
                    Spans(node, loose, SpanRoles.None, null);
            if (loose.Words().Trim().Length > 0)
                blocks.Insert(0, new SourceParagraph(Line(note), "p", loose));
            _inNote = false;
            spans.Add(new SourceNote(blocks));
            _met.Add(ReportLine.At(ReportKind.Changed, _file, "line", Line(link), SignTakenOut, WebUtilityText(link.TextContent)));
            if (note.LocalName == "dt" && WebUtilityText(note.TextContent) is { Length: > 0 } label)
                _met.Add(ReportLine.At(ReportKind.Changed, _file, "line", Line(note), SignTakenOut, label));
            return;
        }
        if (href.Length == 0)
        {
            foreach (var child in link.ChildNodes)
                Spans(child, spans, roles, null, style);
            return;
        }
        if (IsAddress(href))
        {
            foreach (var child in link.ChildNodes)
                Spans(child, spans, roles, href, style);
            return;
        }
        var inner = new List<SourceSpan>();
        foreach (var child in link.ChildNodes)
            Spans(child, inner, roles, null, style);
        spans.AddRange(inner.OfType<SourceBookmark>());
        var first = inner.OfType<SourceRun>().Select(r => r.Roles).FirstOrDefault();
        spans.Add(new SourceReference(TargetOf(href), "", inner.Words(), first));
    }

    /// <summary>It leads out of the pages.</summary>
    private static bool IsAddress(string href) =>
        Uri.TryCreate(href, UriKind.Absolute, out var address) && address.Scheme is "http" or "https" or "mailto" or "ftp";

    /// <summary>The place in the pages that a link leads to.</summary>
    private string TargetOf(string href) =>
        href.StartsWith('#')
            ? href[1..]
            : SitePage.Resolved(_file, PathOf(href))
                + "#"
                + (href.Contains('#', StringComparison.Ordinal) ? href[(href.IndexOf('#', StringComparison.Ordinal) + 1)..] : "");
}
