using System.Text;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Type;

namespace Kivren.Core.Display;

/// <summary>Makes a page's display list from its body and furniture (composition.md 11).</summary>
public static class DisplayList
{
    public static DisplayPage Of(ComposedPage page, Look look)
    {
        var list = new Builder(look.Writing.RightToLeft);
        var master = page.Master;
        var left = master.Left(page.IsRecto).Millipoints;
        foreach (var artwork in page.IsBlank ? [] : master.Artwork)
            list.Items.Add(Of(artwork, look, master, page.IsRecto));
        list.Mirror(master.Width.Millipoints);
        if (page.Furniture is { } furniture)
            AddFurniture(list, furniture, look, master.Upright ?? master, page.IsRecto);
        list.Mirror((master.Upright ?? master).Width.Millipoints);
        // Furniture that stays where it is on upright pages is drawn there, and turned with the paper.
        if (master.Upright is not null)
            for (var i = master.Artwork.Count; i < list.Items.Count; i++)
                list.Items[i] = Turned(list.Items[i], master.Width.Millipoints);
        if (page.Blank is { } blank)
        {
            var line = Line(blank.Text, blank.Dress.Plain);
            list.Line(
                line,
                left + (master.Measure.Millipoints - line.Width) / 2,
                master.Top.Millipoints + master.Depth.Millipoints / 2,
                Id.None,
                ReadingRole.Furniture
            );
        }
        if (page.Body is { } body)
            AddBody(list, body, page.Cut!.Galley, look, master, left);
        list.Mirror(master.Width.Millipoints);
        return new DisplayPage(master.Width.Millipoints, master.Height.Millipoints, list.Items, list.Links);
    }

    /// <summary>An equation by itself, on a sheet as large as it is with a little room around.</summary>
    public static DisplayPage OfEquation(Mathematics.SetEquation set)
    {
        const int Room = 1_000;
        var list = new Builder(fromRight: false);
        foreach (var drawn in set.Drawn)
            list.Draw(drawn, Room, set.Height + Room, ReadingRole.Text);
        return new DisplayPage(set.Width + 2 * Room, set.Height + set.Depth + 2 * Room, list.Items, []);
    }

    /// <summary>Pieces one under the other, on a sheet as wide as their measure.</summary>
    public static DisplayPage OfPieces(IReadOnlyList<Piece> pieces, int width, Look look)
    {
        var list = new Builder(look.Writing.RightToLeft);
        var y = 0;
        foreach (var piece in pieces)
        {
            foreach (var drawn in piece.Drawn)
                list.Draw(drawn, 0, y, ReadingRole.Text);
            y += piece.Height;
        }
        list.Mirror(width);
        return new DisplayPage(width, y, list.Items, []);
    }

    private static DisplayItem Of(Artwork artwork, Look look, PageMaster master, bool recto)
    {
        var x = recto || !master.Mirrored ? artwork.X : master.Width - artwork.X - artwork.Width;
        return artwork.Picture is { } picture
            ? new PictureItem(
                picture,
                "",
                x.Millipoints,
                artwork.Y.Millipoints,
                artwork.Width.Millipoints,
                artwork.Height.Millipoints,
                Id.None
            ) with
            {
                Role = ReadingRole.Furniture,
            }
            : new RuleItem(
                x.Millipoints,
                artwork.Y.Millipoints,
                artwork.Width.Millipoints,
                artwork.Height.Millipoints,
                look.Palette.Tone(artwork.Colour, artwork.Grey),
                Id.None
            );
    }

    private static void AddFurniture(Builder list, Furniture furniture, Look look, PageMaster master, bool recto)
    {
        var left = master.OuterLeft(recto).Millipoints;
        var width = master.Left(recto).Millipoints + master.Measure.Millipoints - left;
        foreach (var field in furniture.Fields)
        {
            var (line, x, baseline, pictureWidth) = Placed(field, master, recto);
            if (field.Picture is { } picture)
                list.Items.Add(
                    new PictureItem(
                        picture.Name,
                        "",
                        x,
                        baseline - field.PictureHeight.Millipoints,
                        pictureWidth,
                        field.PictureHeight.Millipoints,
                        Id.None
                    )
                    {
                        Role = ReadingRole.Furniture,
                    }
                );
            else
                list.Line(line, x, baseline, Id.None, ReadingRole.Furniture);
        }
        void Rule(Length y) =>
            list.Items.Add(new RuleItem(left, y.Millipoints, width, look.Blocks.HairRule.Millipoints, look.HairTone, Id.None));
        if (furniture.HasHead)
        {
            var leading = furniture.Fields.First(f => f.Edge == PageEdge.Head).Dress.Leading;
            if (master.HeadRuleOver > Length.Zero)
                Rule(master.HeadTop - master.HeadRuleOver);
            if (master.HeadRuleGap > Length.Zero)
                Rule(master.HeadTop + leading + master.HeadRuleGap);
        }
        if (furniture.HasFoot)
        {
            var leading = furniture.Fields.First(f => f.Edge == PageEdge.Foot).Dress.Leading;
            if (master.FootRuleGap > Length.Zero)
                Rule(master.Height - master.FootBaseline - leading - master.FootRuleGap);
            if (master.FootRuleUnder > Length.Zero)
                Rule(master.Height - master.FootBaseline + master.FootRuleUnder);
        }
    }

    /// <summary>A quarter to the right: what stood at the head stands at the right.</summary>
    private static DisplayItem Turned(DisplayItem item, int width) =>
        item switch
        {
            WordItem word => word with { X = width - word.Y, Y = word.X, Turned = true },
            RuleItem rule => rule with { X = width - rule.Y - rule.Height, Y = rule.X, Width = rule.Height, Height = rule.Width },
            PictureItem picture => picture with { X = width - picture.Y, Y = picture.X, Turned = true },
            DotItem dot => dot with { X = width - dot.Y, Y = dot.X },
            _ => item,
        };

    /// <summary>Where a running head or foot stands on a page: its left end, its baseline and how wide it is.</summary>
    internal static (TextLine Line, int X, int Baseline, int Width) Placed(FurnitureField field, PageMaster master, bool recto)
    {
        var left = master.OuterLeft(recto).Millipoints;
        var width = master.Left(recto).Millipoints + master.Measure.Millipoints - left;
        var line = Line(field.Text, field.Dress.Plain);
        var wide = field.Picture is null ? line.Width : field.PictureWidth;
        if (field.Edge == PageEdge.Free)
        {
            // Counted from the inner edge, it is mirrored with the page.
            var mirrored = !recto && master.Mirrored;
            var at = (mirrored ? master.Width - field.Of.X : field.Of.X).Millipoints;
            var ends = field.Place is FieldPlace.Right || (field.Place == FieldPlace.Outer) != mirrored && field.Place != FieldPlace.Left;
            return (
                line,
                field.Place == FieldPlace.Centre ? at - wide / 2
                : ends ? at - wide
                : at,
                field.Of.Y.Millipoints,
                wide
            );
        }
        var baseline =
            field.Edge == PageEdge.Head
                ? master.HeadTop.Millipoints + field.Dress.Baseline.Millipoints
                : master.Height.Millipoints - master.FootBaseline.Millipoints;
        var atLeft = field.Place switch
        {
            FieldPlace.Inner => recto || !master.Mirrored,
            FieldPlace.Left => true,
            FieldPlace.Right => false,
            _ => !recto && master.Mirrored,
        };
        var x =
            field.Place == FieldPlace.Centre ? left + (width - wide) / 2
            : atLeft ? left
            : left + width - wide;
        return (line, x, baseline, wide);
    }

    private static TextLine Line(string text, TextStyle style)
    {
        var styled = new StyledText();
        styled.Add(text, style, false);
        return LineSetter.OfThread.Set(styled, Shape.OneLine, null)[0];
    }

    /// <summary>What stays open where the page turns within it, as far as the paper reaches.</summary>
    private static void AddOpenEdges(Builder list, CutPage body, in Piece piece, PlacedPiece placed, int left, int top)
    {
        bool IsHere(int other) => body.Pieces.Any(p => p.Piece == other && p.X == placed.X);
        if (piece.AtTop is { } above && piece.Header < 0 && !IsHere(placed.Piece - 1))
            foreach (var drawn in above.Where(d => top + placed.Y + d.Y >= 0))
                list.Draw(drawn, left + placed.X, top + placed.Y, ReadingRole.Text);
        if (piece.AtFoot is { } below && !IsHere(placed.Piece + 1))
            foreach (var drawn in below)
                list.Draw(drawn, left + placed.X, top + placed.Y + piece.Height, ReadingRole.Text);
    }

    private static void AddBody(Builder list, CutPage body, Galley galley, Look look, PageMaster master, int left)
    {
        var top = master.Top.Millipoints;
        // Repeated header rows are furniture for the reader's ear.
        foreach (var header in body.Headers)
        foreach (var drawn in header.Rows.Drawn)
            list.Draw(drawn, left + header.X, top + header.Y, ReadingRole.Furniture);
        foreach (var placed in body.Pieces)
        {
            ref readonly var piece = ref galley.Pieces[placed.Piece];
            foreach (var drawn in piece.Drawn)
            {
                // A figure at the head of a page needs no rule under that of the running head.
                if (piece.Floats && placed.Y == 0 && drawn is DrawnRule { Y: 0 } && master.HeadRuleGap.Millipoints > 0)
                    continue;
                list.Draw(
                    drawn,
                    left + placed.X,
                    top + placed.Y,
                    drawn is DrawnLine { Block.IsNone: true } ? ReadingRole.Furniture : ReadingRole.Text
                );
            }
            AddOpenEdges(list, body, piece, placed, left, top);
        }
        if (body.Plate is { } plate)
            foreach (var drawn in plate.Drawn)
                list.Draw(drawn, left, top, drawn is DrawnLine { Block.IsNone: true } ? ReadingRole.Furniture : ReadingRole.Text);
        foreach (var rule in body.NoteRules)
            list.Items.Add(
                new RuleItem(
                    left + rule.X,
                    top + rule.Y,
                    rule.Continues ? Math.Min(look.NoteRule.Millipoints * 3, master.Measure.Millipoints) : look.NoteRule.Millipoints,
                    look.Blocks.HairRule.Millipoints,
                    look.HairTone,
                    Id.None
                )
            );
        foreach (var note in body.Notes)
        {
            var y = top + note.Y;
            if (note.From == 0)
                list.Line(note.Note.Label, left + note.X, y + note.Note.Baseline, note.Note.Id, ReadingRole.Note);
            for (var l = note.From; l < note.To; l++)
            {
                list.Line(
                    note.Note.Lines[l],
                    left + note.X + look.Blocks.NoteHang.Millipoints,
                    y + note.Note.Baseline,
                    note.Note.Id,
                    ReadingRole.Note
                );
                y += note.Note.Leading;
            }
        }
    }

    /// <param name="fromRight">the page is read from the right: all is set as if from the left, lines and equations apart, and the
    /// page then mirrored</param>
    private sealed class Builder(bool fromRight)
    {
        public List<DisplayItem> Items { get; } = [];
        public List<LinkArea> Links { get; } = [];

        private int _mirrored,
            _mirroredLinks;

        /// <summary>What was drawn since the last time changes sides.</summary>
        public void Mirror(int width)
        {
            if (!fromRight)
                return;
            for (; _mirrored < Items.Count; _mirrored++)
                Items[_mirrored] = Items[_mirrored] switch
                {
                    WordItem word => word with { X = width - word.X - word.Word.Width },
                    RuleItem rule => rule with { X = width - rule.X - rule.Width },
                    LeaderItem leader => leader with { X = width - leader.To, To = width - leader.X },
                    DotItem dot => dot with { X = width - dot.X },
                    PictureItem { Turned: true } picture => picture with { X = width - picture.X + picture.Height },
                    PictureItem picture => picture with { X = width - picture.X - picture.Width },
                    var other => other,
                };
            for (; _mirroredLinks < Links.Count; _mirroredLinks++)
                Links[_mirroredLinks] = Links[_mirroredLinks] with { X = width - Links[_mirroredLinks].X - Links[_mirroredLinks].Width };
        }

        /// <summary>Where a part of something that stays as it is stands, so that it comes there when the page is mirrored.</summary>
        private int Kept(int x, int width, int measure) => fromRight ? measure - x - width : x;

        public void Draw(Drawn drawn, int x, int y, ReadingRole role)
        {
            switch (drawn)
            {
                case DrawnLine line:
                    Line(line.Line, x + line.X, y + line.Y, line.Block, role);
                    break;
                case DrawnRule rule:
                    Items.Add(new RuleItem(x + rule.X, y + rule.Y, rule.Width, rule.Height, rule.Tone, Id.None));
                    break;
                case DrawnLeader leader:
                    Items.Add(new LeaderItem(x + leader.X, x + leader.To, y + leader.Y, leader.Style));
                    break;
                case DrawnPicture picture:
                    Items.Add(
                        new PictureItem(
                            picture.Asset,
                            picture.Alternative,
                            x + picture.X,
                            y + picture.Y,
                            picture.Width,
                            picture.Height,
                            picture.Block
                        )
                        {
                            Role = role == ReadingRole.Furniture ? role : ReadingRole.Caption,
                        }
                    );
                    break;
            }
        }

        public void Line(TextLine line, int x, int baseline, Id block, ReadingRole role)
        {
            for (var w = 0; w < line.Words.Length; w++)
            {
                var word = line.Words[w];
                var at = x + Kept(word.X, word.Width, line.Measure);
                if (word.Inset is { } inset)
                {
                    Inside(inset, at, baseline, block, role, word.SpaceAfter || w == line.Words.Length - 1);
                    continue;
                }
                Items.Add(new WordItem(word, at, baseline - word.Style.Rise.Millipoints, block, role, w == line.Words.Length - 1));
                if (word.Style.Dots != EmphasisDots.None)
                    Dots(word, at, baseline - word.Style.Rise.Millipoints);
                if (word.Target.IsNone && word.Web is null)
                    continue;
                var size = word.Style.Size.Millipoints;
                var area = new LinkArea(
                    at,
                    baseline - size,
                    word.Width,
                    size * 5 / 4,
                    word.Target,
                    word.Web,
                    word.Word.Characters(word.From, word.To).ToString()
                );
                // Words of one link on one line make one area.
                if (
                    Links.Count > 0
                    && Links[^1] is var last
                    && last.Target == area.Target
                    && last.Web == area.Web
                    && last.Y == area.Y
                    && area.X >= last.X
                    && area.X - last.X - last.Width < size
                )
                    Links[^1] = last with
                    {
                        Width = area.X + area.Width - last.X,
                        Words = last.Words + (area.X > last.X + last.Width ? " " : "") + area.Words,
                    };
                else
                    Links.Add(area);
            }
        }

        /// <summary>A dot for each character that stands in a square; signs have none.</summary>
        private void Dots(in LineWord word, int x, int baseline)
        {
            var (style, shaped) = (word.Style, word.Word);
            var size = style.Size.Millipoints;
            // Squares reach from 88 hundredths of the em above the baseline to 12 below it.
            var y = style.Dots == EmphasisDots.Above ? baseline - size : baseline + size * 24 / 100;
            for (var g = word.From; g < word.To; g++)
            {
                var (at, advance) = (shaped.Clusters[g], style.Scale(shaped.Advances[g]));
                if (Scripts.At(shaped.Text, at).IsSquare() && Rune.IsLetter(Rune.GetRuneAt(shaped.Text, at)))
                    Items.Add(new DotItem(x + advance / 2, y, size * 8 / 100, style.Ink));
                x += advance + word.Tracking;
            }
        }

        private void Inside(Inset inset, int x, int baseline, Id block, ReadingRole role, bool spaceAfter)
        {
            // What is said again on a page is said once to the reader's ear.
            var read = role == ReadingRole.Furniture ? null : inset;
            // An equation without a sign draws nothing.
            var last = inset.Drawn.Select((d, i) => d is DrawnLine ? i : -1).DefaultIfEmpty(-1).Max();
            for (var i = 0; i < inset.Drawn.Count; i++)
                switch (inset.Drawn[i])
                {
                    case DrawnLine line:
                        for (var w = 0; w < line.Line.Words.Length; w++)
                        {
                            var word = line.Line.Words[w];
                            var ends = i == last && w == line.Line.Words.Length - 1;
                            Items.Add(
                                new WordItem(
                                    word with
                                    {
                                        SpaceAfter = ends ? spaceAfter : word.SpaceAfter,
                                    },
                                    x + Kept(line.X + word.X, word.Width, inset.Width),
                                    baseline + line.Y - word.Style.Rise.Millipoints,
                                    block,
                                    role,
                                    false
                                )
                                {
                                    Within = read,
                                }
                            );
                        }
                        break;
                    case DrawnRule rule:
                        Items.Add(
                            new RuleItem(
                                x + Kept(rule.X, rule.Width, inset.Width),
                                baseline + rule.Y,
                                rule.Width,
                                rule.Height,
                                rule.Tone,
                                block
                            )
                            {
                                Within = read,
                            }
                        );
                        break;
                    case var other:
                        Draw(other, x, baseline, role);
                        break;
                }
        }
    }
}
