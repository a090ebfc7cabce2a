using System.Xml.Linq;

namespace Kivren.Formats.DocBook;

/// <summary>What a book's own record says of it (DocBook's info): who wrote it, who may use it, when. On a legal page each person,
/// holder and revision has a line.</summary>
internal static class BookRecord
{
    private static readonly HashSet<string> OfAName = new(StringComparer.Ordinal)
    {
        "honorific",
        "firstname",
        "givenname",
        "othername",
        "surname",
        "lineage",
        "personname",
    };

    /// <summary>The parts of a record that come to lines of their own: groups are asked for their members.</summary>
    public static IEnumerable<XElement> Parts(XElement info) =>
        info.Elements()
            .Where(e => e.Name.LocalName is not ("title" or "titleabbrev" or "subtitle"))
            .SelectMany(e => e.Name.LocalName is "authorgroup" or "revhistory" or "othercredits" ? e.Elements() : [e]);

    /// <param name="isBlock">what does not belong to the line, such as the paragraphs that tell of a person</param>
    public static string Line(XElement part, Func<XElement, bool> isBlock)
    {
        if (part.Name.LocalName == "copyright")
        {
            string Of(string name) => string.Join(", ", part.Elements().Where(e => e.Name.LocalName == name).Select(Bare));
            return $"© {Of("year")} {Of("holder")}".TrimEnd();
        }
        var line = "";
        var name = false;
        foreach (var text in part.DescendantNodes().OfType<XText>())
        {
            var words = Bare(text.Value);
            if (words.Trim(',', ';', ' ').Length == 0 || text.Ancestors().TakeWhile(a => a != part).Any(isBlock))
                continue;
            // Words of one name stand side by side; all else is told apart.
            var ofName = text.Ancestors().TakeWhile(a => a != part).Any(a => OfAName.Contains(a.Name.LocalName));
            var parted =
                line.Length == 0 ? ""
                : (name && ofName) || line[^1] is ':' ? " "
                : ", ";
            line += parted + words.Trim(',', ';');
            name = ofName;
        }
        return line;
    }

    private static string Bare(XElement element) => Bare(element.Value);

    private static string Bare(string text) => string.Join(' ', text.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
}
