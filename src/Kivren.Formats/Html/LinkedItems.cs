using AngleSharp.Dom;

namespace Kivren.Formats.Html;

/// <summary>Links drawn round whole items of a list, which HTML does not allow and pages do all the same: each is set into its
/// items.</summary>
internal static class LinkedItems
{
    public static void SetIn(IDocument page)
    {
        foreach (
            var link in page.QuerySelectorAll("ul > a, ol > a, menu > a").Where(a => a.Children.Any(c => c.LocalName == "li")).ToList()
        )
        {
            var list = link.ParentElement!;
            foreach (var node in link.ChildNodes.ToList())
            {
                if (node is IElement { LocalName: "li" } item)
                {
                    var own = (IElement)link.Clone(deep: false);
                    own.Append([.. item.ChildNodes]);
                    item.Append(own);
                }
                list.InsertBefore(node, link);
            }
            // Its name stays, where something leads to it.
            if (link.Id is null && link.GetAttribute("name") is null)
                list.RemoveChild(link);
        }
    }
}
