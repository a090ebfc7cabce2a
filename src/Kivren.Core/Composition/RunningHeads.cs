using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.LooseEnds;
using Kivren.Core.Numbering;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Running heads: on a verso the division, on a recto the A head in force (the last that begins on the page,
/// else the latest before it); opening pages carry their folio at the foot (composition.md 5).</summary>
internal static class RunningHeads
{
    /// <param name="page">index of the page in its division</param>
    /// <param name="inForce">the A head in force, or null before the first</param>
    public static Furniture? Of(Look look, DivisionNumbers division, int sheet, int page, string folio, GalleyHead? inForce, List<LooseEnd> loose, ref bool saidNoHead)
    {
        if (division.Division.Kind is DivisionKind.TitlePage or DivisionKind.Legal) return null;
        var recto = sheet % 2 == 0;
        if (page == 0) return new Furniture(null, null, FolioLeft: !recto, folio, FootFolio: true);
        var id = division.Division.Id;
        string title, number, key;
        string? shortTitle;
        Id block;
        if (recto && inForce is { } head)
        {
            (title, shortTitle, number, block, key) = (head.Title, head.ShortTitle, head.Number, head.Id, "head");
        }
        else
        {
            (title, shortTitle, number, block, key) = (division.Division.Title, division.Division.ShortTitle, division.Number, Id.None, "title");
            if (recto && !saidNoHead && division.Targets.Any(t => t.Level == HeadLevel.B) && division.Division.Kind is DivisionKind.Chapter or DivisionKind.Appendix)
            {
                saidNoHead = true;
                loose.Add(new LooseEnd(LooseEndKind.NoHeadInForce, id, id, folio, $"Page {folio} has no A head to show in its running head; it shows the division's title. Give the division an A head before its B heads."));
            }
        }
        var room = look.Master.Measure.Millipoints * 3 / 4;
        var text = shortTitle is { Length: > 0 } ? shortTitle : title;
        var lead = number.Length > 0 ? number + "\u2002" : "";
        if (Width(lead + text, look) > room)
        {
            while (text.Length > 1 && Width(lead + text + "…", look) > room)
            {
                var space = text.LastIndexOf(' ');
                text = space > 0 ? text[..space] : text[..^1];
            }
            text += "…";
            loose.Add(new LooseEnd(LooseEndKind.RunningHeadTooLong, id, block.IsNone ? id : block, title, $"The running head on page {folio} is too long and was cut. Give the {key} a short title."));
        }
        return recto
            ? new Furniture(lead + text, null, FolioLeft: false, folio, FootFolio: false)
            : new Furniture(null, lead + text, FolioLeft: true, folio, FootFolio: false);
    }

    private static int Width(string text, Look look)
    {
        var style = look.RunningHead.Plain;
        long units = 0;
        foreach (var word in text.Split(' ')) units += style.Face.Word(word).Width + style.Face.Space;
        return style.Scale(units - style.Face.Space);
    }
}
