using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Type;

namespace Kivren.Core.Display;

/// <summary>Makes a page's display list from its body and furniture (composition.md 11).</summary>
public static class DisplayList
{
    private const int RunningRule = 400, RunningRuleGap = 3_500, NoteRuleHeight = 400;

    public static DisplayPage Of(ComposedPage page, Look look)
    {
        var list = new Builder();
        var master = look.Master;
        var left = master.Left(page.IsRecto).Millipoints;
        if (page.Furniture is { } furniture) AddFurniture(list, furniture, look, left);
        if (page.Body is { } body) AddBody(list, body, page.Cut!.Galley, look, left);
        return new DisplayPage(master.Width.Millipoints, master.Height.Millipoints, list.Items, list.Links);
    }

    private static void AddFurniture(Builder list, Furniture furniture, Look look, int left)
    {
        var measure = look.Master.Measure.Millipoints;
        var folio = Line(furniture.Folio, look.Folio.Plain);
        if (furniture.FootFolio)
        {
            var y = look.Master.Height.Millipoints - look.OpeningFolioFoot.Millipoints;
            list.Line(folio, furniture.FolioLeft ? left : left + measure - folio.Width, y, Id.None, ReadingRole.Furniture);
            return;
        }
        var baseline = look.RunningHeadTop.Millipoints + look.RunningHead.Baseline.Millipoints;
        list.Line(folio, furniture.FolioLeft ? left : left + measure - folio.Width, baseline, Id.None, ReadingRole.Furniture);
        if (furniture.HeadLeft is { } head) list.Line(Line(head, look.RunningHead.Plain), left, baseline, Id.None, ReadingRole.Furniture);
        if (furniture.HeadRight is { } right)
        {
            var line = Line(right, look.RunningHead.Plain);
            list.Line(line, left + measure - line.Width, baseline, Id.None, ReadingRole.Furniture);
        }
        list.Items.Add(new RuleItem(left, (look.RunningHeadTop + look.RunningHead.Leading).Millipoints + RunningRuleGap, measure, RunningRule, 0, Id.None));
    }

    private static TextLine Line(string text, TextStyle style)
    {
        var styled = new StyledText();
        styled.Add(text, style, false);
        return LineSetter.OfThread.Set(styled, new Shape(Length.Points(2000), default, Alignment.Ragged), null)[0];
    }

    private static void AddBody(Builder list, CutPage body, Galley galley, Look look, int left)
    {
        var top = look.Master.Top.Millipoints;
        if (body.Header is { } header)
        {
            // Repeated header rows stand above the first row of the text and are furniture for the reader's ear.
            var first = body.Pieces.First(p => galley.Pieces[p.Piece].Header >= 0);
            foreach (var drawn in header.Drawn) list.Draw(drawn, left + first.X, top + first.Y - header.Height, ReadingRole.Furniture);
        }
        foreach (var placed in body.Pieces)
        {
            ref readonly var piece = ref galley.Pieces[placed.Piece];
            foreach (var drawn in piece.Drawn)
            {
                // A figure at the head of a page needs no rule under that of the running head.
                if (piece.Floats && placed.Y == 0 && drawn is DrawnRule) continue;
                list.Draw(drawn, left + placed.X, top + placed.Y, ReadingRole.Text);
            }
        }
        if (body.NoteRule >= 0) list.Items.Add(new RuleItem(left, top + body.NoteRule, look.NoteRule.Millipoints, NoteRuleHeight, 0, Id.None));
        foreach (var note in body.Notes)
        {
            var y = top + note.Y;
            if (note.From == 0) list.Line(note.Note.Label, left, y + note.Note.Baseline, note.Note.Id, ReadingRole.Note);
            for (var l = note.From; l < note.To; l++)
            {
                list.Line(note.Note.Lines[l], left + 9_000, y + note.Note.Baseline, note.Note.Id, ReadingRole.Note);
                y += note.Note.Leading;
            }
        }
    }

    private sealed class Builder
    {
        public List<DisplayItem> Items { get; } = [];
        public List<LinkArea> Links { get; } = [];

        public void Draw(Drawn drawn, int x, int y, ReadingRole role)
        {
            switch (drawn)
            {
                case DrawnLine line: Line(line.Line, x + line.X, y + line.Y, line.Block, role); break;
                case DrawnRule rule: Items.Add(new RuleItem(x + rule.X, y + rule.Y, rule.Width, rule.Height, rule.Grey, Id.None)); break;
                case DrawnLeader leader: Items.Add(new LeaderItem(x + leader.X, x + leader.To, y + leader.Y, leader.Style)); break;
                case DrawnPicture picture: Items.Add(new PictureItem(picture.Asset, picture.Alternative, x + picture.X, y + picture.Y, picture.Width, picture.Height, picture.Block)); break;
            }
        }

        public void Line(TextLine line, int x, int baseline, Id block, ReadingRole role)
        {
            for (var w = 0; w < line.Words.Length; w++)
            {
                var word = line.Words[w];
                Items.Add(new WordItem(word, x + word.X, baseline - word.Style.Rise.Millipoints, block, role, w == line.Words.Length - 1));
                if (word.Target.IsNone && word.Web is null) continue;
                var size = word.Style.Size.Millipoints;
                var area = new LinkArea(x + word.X, baseline - size, word.Width, size * 5 / 4, word.Target, word.Web);
                // Words of one link on one line make one area.
                if (Links.Count > 0 && Links[^1] is var last && last.Target == area.Target && last.Web == area.Web && last.Y == area.Y && area.X >= last.X && area.X - last.X - last.Width < size)
                    Links[^1] = last with { Width = area.X + area.Width - last.X };
                else Links.Add(area);
            }
        }
    }
}
