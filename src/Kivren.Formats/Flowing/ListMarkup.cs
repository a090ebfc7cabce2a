using System.Xml.Linq;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Lists;
using static Kivren.Formats.Flowing.Xhtml;

namespace Kivren.Formats.Flowing;

/// <summary>Contents lists and the index as XHTML: where print names pages, lines and locators lead to sections.</summary>
internal static class ListMarkup
{
    public static XElement Contents(ContentsList list, FlowingBook book, int page, MarkupDialect dialect, XAttribute id)
    {
        var composed = book.Composed;
        var made = El("ul", A("class", "contents"), id);
        if (composed.Look.List(list.List) is not { } definition)
            return made;
        foreach (var entry in ContentsEntry.Of(definition, composed.Numbers, book.Pages[page].Division, _ => ""))
        {
            var line = definition.Lines[entry.Line];
            var number = line.Numbered ? $"{(line.Named ? entry.Name : "")} {entry.Number}".Trim() : "";
            made.Add(
                El(
                    "li",
                    A("class", "level-" + (entry.Line + 1).ToString(System.Globalization.CultureInfo.InvariantCulture)),
                    Leading(
                        book.Address(entry.Target, page, dialect.Ending),
                        number.Length > 0 ? new object[] { El("span", A("class", "number"), Clean(number)), new XText(" ") } : null,
                        Clean(entry.Title)
                    )
                )
            );
        }
        return made;
    }

    private static XElement Leading(string? address, params object?[] words) =>
        address is null ? El("span", words) : El("a", A("href", address), words);

    public static XElement Index(FlowingBook book, int page, MarkupDialect dialect, XAttribute id)
    {
        var made = El("div", A("class", "index"), id);
        XElement? list = null;
        var group = "";
        foreach (var heading in book.Composed.Index.Headings)
        {
            if (heading.Group != group || list is null)
            {
                group = heading.Group;
                if (book.Composed.Look.Index.GroupHeads)
                    made.Add(El("h2", group));
                made.Add(list = El("ul"));
            }
            list.Add(Heading(heading, book, page, dialect));
        }
        return made;
    }

    private static XElement Heading(IndexHeading heading, FlowingBook book, int page, MarkupDialect dialect)
    {
        var made = El("li", El("span", A("class", "heading"), Clean(heading.Text)));
        var said = new HashSet<string>(StringComparer.Ordinal);
        foreach (var place in heading.Places)
            // Each section is named once, wherever in it the entries stand.
            if (
                book.SectionOf(place.Start) is { } section
                && (section.Number.Length > 0 ? section.Number : section.Title) is var words
                && said.Add(words)
                && book.Address(place.Start, page, dialect.Ending) is { } address
            )
                made.Add(
                    new XText(", "),
                    El(
                        "a",
                        A("href", address),
                        place.Principal ? A("class", "principal")
                            : place.Illustration ? A("class", "illustration")
                            : null,
                        A("title", Clean(section.Title)),
                        Clean(words)
                    )
                );
        See("see", heading.See);
        See("seeAlso", heading.SeeAlso);
        void See(string word, IReadOnlyCollection<string> headings)
        {
            if (headings.Count > 0)
                made.Add(
                    new XText(word == "see" ? ", " : ". "),
                    El("i", book.Composed.Words[word]),
                    new XText(" " + Clean(string.Join("; ", headings)))
                );
        }
        if (heading.Under.Count > 0)
            made.Add(El("ul", heading.Under.Select(under => Heading(under, book, page, dialect))));
        return made;
    }
}
