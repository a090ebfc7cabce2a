using System.Xml.Linq;
using Kivren.Core.Content;
using static Kivren.Formats.Docx.Writing.Ooxml;

namespace Kivren.Formats.Docx.Writing;

/// <summary>Puts a file into a template: the template's styles stand in place of those that roles would have, its paper and running heads
/// in place of the look's; what it does not have comes from the look.</summary>
internal sealed class TemplateMerge
{
    private readonly WordTemplate _template;
    private readonly XElement _own;

    /// <summary>Ids of the template's styles by the ids that the text has.</summary>
    private readonly Dictionary<string, string> _styles = new(StringComparer.Ordinal);
    private readonly int _abstracts,
        _lists;

    /// <param name="own">styles of the file as it would be without a template</param>
    /// <param name="told">what could not be done as it was asked for, to the writer</param>
    public TemplateMerge(WordTemplate template, IReadOnlyList<RoleStyle> roles, XElement own, Manual manual, List<string> told)
    {
        (_template, _own) = (template, own);
        var there = template
            .Styles.Many("style")
            .Where(s => s.Get("styleId") is not null && s.Val("name") is not null)
            .GroupBy(s => s.Val("name")!, StringComparer.OrdinalIgnoreCase)
            .ToDictionary(g => g.Key, g => g.First(), StringComparer.OrdinalIgnoreCase);
        // What both call by one name is one style.
        foreach (var style in own.Many("style"))
            if (there.TryGetValue(style.Val("name")!, out var same) && same.Get("type") == style.Get("type"))
                _styles[style.Get("styleId")!] = same.Get("styleId")!;
        foreach (var (role, name) in roles)
        {
            if (WordRoles.Of(role, manual) is not { } style)
                told.Add($"There is no role “{role}” for the style “{name}” of the template.");
            else if (!there.TryGetValue(name, out var found))
                told.Add($"The template has no style “{name}”, which is chosen for {role}: that looks as in the look “{manual.Look}”.");
            else if ((found.Get("type") == "character") != IsOfWords(style))
                told.Add($"The style “{name}” of the template is not for {role}: one is for paragraphs, the other for words in them.");
            else
                _styles[style.Id] = found.Get("styleId")!;
        }
        int Most(string name, string id) => template.Numbering.Many(name).Select(e => e.Number(id) ?? 0).DefaultIfEmpty().Max();
        (_abstracts, _lists) = (Most("abstractNum", "abstractNumId") + 1, Most("num", "numId") + 1);
    }

    private bool IsOfWords(WordStyle style) =>
        _own.Many("style").FirstOrDefault(s => s.Get("styleId") == style.Id)?.Get("type") == "character";

    /// <summary>The template's styles, and behind them those that it lacks.</summary>
    public XElement Styles()
    {
        var all = new XElement(_template.Styles);
        var ids = all.Many("style").Select(s => s.Get("styleId")).ToHashSet(StringComparer.Ordinal);
        foreach (var style in _own.Many("style").Where(s => !_styles.ContainsKey(s.Get("styleId")!)))
        {
            var id = style.Get("styleId")!;
            // An id that the template has for something else.
            if (!ids.Add(id))
                _styles[id] = id + "OfManual";
            var added = new XElement(style);
            added.Attribute(W + "default")?.Remove();
            added.SetAttributeValue(W + "styleId", _styles.GetValueOrDefault(id, id));
            all.Add(added);
        }
        foreach (var added in all.Many("style"))
        foreach (var named in added.Elements().Where(e => e.Name == W + "basedOn" || e.Name == W + "next" || e.Name == W + "link"))
            if (named.Get("val") is { } val && !ids.Contains(val) && _styles.TryGetValue(val, out var other))
                named.SetAttributeValue(W + "val", other);
        return all;
    }

    /// <summary>The template's lists, and behind them those of the text.</summary>
    public XElement Lists(XElement own)
    {
        if (_template.Numbering is not { } theirs)
            return own;
        var all = new XElement(theirs);
        var last = all.Elements(W + "abstractNum").LastOrDefault();
        var kinds = own.Elements(W + "abstractNum").Select(a => Moved(a, "abstractNumId", _abstracts)).ToList();
        if (last is null)
            all.AddFirst(kinds);
        else
            last.AddAfterSelf(kinds);
        var end = all.Elements(W + "num").LastOrDefault() ?? all.Elements(W + "abstractNum").Last();
        end.AddAfterSelf(
            own.Elements(W + "num")
                .Select(n =>
                {
                    var moved = Moved(n, "numId", _lists);
                    moved
                        .Element(W + "abstractNumId")!
                        .SetAttributeValue(W + "val", N((n.Element(W + "abstractNumId").Number("val") ?? 0) + _abstracts));
                    return moved;
                })
        );
        return all;
    }

    private static XElement Moved(XElement element, string id, int by)
    {
        var moved = new XElement(element);
        moved.SetAttributeValue(W + id, N((element.Number(id) ?? 0) + by));
        return moved;
    }

    /// <summary>Text in the template's styles, lists and pages.</summary>
    public void Put(XElement text)
    {
        foreach (var named in text.Descendants().Where(e => e.Name.LocalName is "pStyle" or "rStyle" or "tblStyle").ToList())
            if (named.Get("val") is { } id && _styles.TryGetValue(id, out var theirs))
                named.SetAttributeValue(W + "val", theirs);
        if (_template.Numbering is not null)
            foreach (var list in text.Descendants(W + "numPr").Elements(W + "numId").ToList())
                list.SetAttributeValue(W + "val", N((list.Number("val") ?? 0) + _lists));
        if (_template.Section is not { } page)
            return;
        foreach (var section in text.Descendants(W + "sectPr").ToList())
        {
            // Titles stand on bare pages.
            var isBare = !section.Elements(W + "headerReference").Any();
            section.Elements().Where(e => e.Name.LocalName is "headerReference" or "footerReference").Remove();
            foreach (var name in new[] { "pgSz", "pgMar" })
                if (page.One(name) is { } theirs)
                {
                    var own = section.Element(W + name);
                    if (own is not null)
                        own.ReplaceWith(new XElement(theirs));
                }
            if (isBare)
                continue;
            section.AddFirst(page.Elements().Where(e => e.Name.LocalName is "headerReference" or "footerReference"));
            if (page.One("titlePg") is { } first)
                (section.Element(W + "cols") ?? section.Elements().Last()).AddAfterSelf(new XElement(first));
        }
    }
}
