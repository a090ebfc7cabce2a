using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Mathematics;

/// <summary>An equation set; measures in millipoints, places from the left end of the baseline.</summary>
/// <param name="Problem">why the source could not be read, or null</param>
public sealed record SetEquation(int Width, int Height, int Depth, IReadOnlyList<Drawn> Drawn, string? Problem)
{
    public Inset ToInset(Id id, string alternative) =>
        new(id, Width, Height, Depth, Drawn.Select(d => d is DrawnLine line ? line with { Block = id } : d).ToArray(), alternative);
}

/// <summary>Sets an equation by the constants of the mathematics face (OpenType MATH table; the rules of D. E. Knuth, The
/// TeXbook, appendix G).</summary>
public static class EquationSetter
{
    private enum Style
    {
        Display,
        Text,
        Script,
        ScriptScript,
    }

    /// <summary>Something set: its size and what it is for the space around it.</summary>
    private sealed record Box(int Width, int Height, int Depth, IReadOnlyList<Drawn> Drawn, SignClass Class, int Italic = 0)
    {
        public IEnumerable<Drawn> At(int x, int y) =>
            Drawn.Select(d =>
                d switch
                {
                    DrawnLeader l => l with { X = l.X + x, To = l.To + x, Y = l.Y + y },
                    _ => d with { X = d.X + x, Y = d.Y + y },
                }
            );
    }

    /// <param name="display">set on a line of its own: larger sums, limits above and below</param>
    public static SetEquation Set(string source, Length size, bool display)
    {
        try
        {
            var box = new Job(size).Of(Notation.Read(source), display ? Style.Display : Style.Text);
            return new SetEquation(box.Width, box.Height, box.Depth, box.Drawn, null);
        }
        catch (NotationException e)
        {
            var style = new TextStyle(FaceLibrary.Code, size.Scale(90, 100));
            var styled = new StyledText();
            styled.Add(source.Length == 0 ? " " : source, style, false);
            var line = LineSetter.OfThread.Set(styled, Shape.OneLine, null)[0];
            return new SetEquation(
                line.Width,
                size.Scale(75, 100).Millipoints,
                size.Scale(25, 100).Millipoints,
                [new DrawnLine(line, 0, 0, Id.None)],
                e.Message
            );
        }
    }

    /// <summary>Set smaller where it would be wider than its measure.</summary>
    public static SetEquation Fitted(string source, Length size, bool display, int measure)
    {
        var set = Set(source, size, display);
        for (var tries = 0; tries < 4 && set.Width > measure && size.Millipoints > 1_000; tries++)
        {
            size = size.Scale(Math.Max(1, measure - 200), set.Width);
            set = Set(source, size, display);
        }
        return set;
    }

    private sealed class Job(Length size)
    {
        private readonly Dictionary<Style, TextStyle> _styles = [];

        private TextStyle StyleOf(Style style)
        {
            if (_styles.TryGetValue(style, out var known))
                return known;
            var percent = style switch
            {
                Style.Script => MathFace.Constant(MathConstant.ScriptPercent),
                Style.ScriptScript => MathFace.Constant(MathConstant.ScriptScriptPercent),
                _ => 100,
            };
            return _styles[style] = new TextStyle(MathFace.Face, size.Scale(percent, 100));
        }

        private int Value(MathConstant constant, Style style) => StyleOf(style).Scale(MathFace.Constant(constant));

        private static Style Script(Style style) => style is Style.Display or Style.Text ? Style.Script : Style.ScriptScript;

        public Box Of(MathNode node, Style style) =>
            node switch
            {
                Sign sign => OfSign(sign, style),
                Upright upright => Letters(upright.Text, style, SignClass.Ordinary),
                Unit unit => Spaced(Letters(unit.Text, style, SignClass.Ordinary), StyleOf(style).Size.Scale(4, 18).Millipoints),
                Row row => OfRow(row.Parts, style),
                Fraction fraction => OfFraction(fraction, style),
                Root root => OfRoot(root, style),
                Scripts scripts => OfScripts(scripts, style),
                Fenced fenced => OfFenced(fenced.Open, Of(fenced.Inner, style), fenced.Close, style),
                Matrix matrix => OfMatrix(matrix, style),
                Accented accented => OfAccented(accented, style),
                _ => throw new NotSupportedException(node.GetType().Name),
            };

        private static Box Spaced(Box box, int before) => box with { Width = box.Width + before, Drawn = box.At(before, 0).ToArray() };

        private Box Letters(string text, Style style, SignClass kind)
        {
            var s = StyleOf(style);
            var words = new List<LineWord>();
            int x = 0,
                height = 0,
                depth = 0,
                italic = 0;
            foreach (var part in text.Split(' '))
            {
                if (words.Count > 0)
                {
                    words[^1] = words[^1] with { SpaceAfter = true };
                    x += s.Scale(s.Face.Space);
                }
                if (part.Length == 0)
                    continue;
                var word = s.Word(part);
                words.Add(LineWord.Whole(word, s, x));
                x += s.Scale(word.Width);
                foreach (var glyph in word.Glyphs)
                {
                    var (up, down, _) = MathFace.Extents(glyph);
                    height = Math.Max(height, s.Scale(up));
                    depth = Math.Max(depth, s.Scale(down));
                }
                italic = word.Glyphs.Length == 1 ? s.Scale(MathFace.ItalicCorrection(word.Glyphs[0])) : 0;
            }
            return new Box(x, height, depth, [new DrawnLine(new TextLine([.. words], 0, text.Length, x), 0, 0, Id.None)], kind, italic);
        }

        private Box OfSign(Sign sign, Style style)
        {
            if (style == Style.Display && sign.Text is "∑" or "∏" or "∫")
            {
                var parts = MathFace.Stretch(
                    MathFace.Glyph(char.ConvertToUtf32(sign.Text, 0)),
                    MathFace.Constant(MathConstant.DisplayOperatorMinHeight),
                    out _
                );
                var (up, down, width) = MathFace.Extents(parts[0].Glyph);
                var s = StyleOf(style);
                var box = Glyph(parts[0].Glyph, sign.Text, s);
                // A large sign stands centred on the axis.
                var shift = s.Scale((up - down) / 2 - MathFace.Constant(MathConstant.AxisHeight));
                return new Box(
                    s.Scale(width),
                    s.Scale(up) - shift,
                    s.Scale(down) + shift,
                    box.At(0, shift).ToArray(),
                    SignClass.Operator,
                    s.Scale(MathFace.ItalicCorrection(parts[0].Glyph))
                );
            }
            return Letters(sign.Text, style, sign.Class);
        }

        /// <summary>A glyph that no character asks for: a larger form, a part. It reads as <paramref name="text"/>.</summary>
        private static Box Glyph(ushort glyph, string text, TextStyle style)
        {
            var (up, down, width) = MathFace.Extents(glyph);
            var word = new ShapedWord(text, [glyph], [0], [(short)width], null, null, width) { Built = true };
            var line = new TextLine([LineWord.Whole(word, style, 0)], 0, text.Length, style.Scale(width));
            return new Box(
                style.Scale(width),
                style.Scale(up),
                style.Scale(down),
                [new DrawnLine(line, 0, 0, Id.None)],
                SignClass.Ordinary
            );
        }

        private Box OfRow(IReadOnlyList<MathNode> parts, Style style)
        {
            var boxes = parts.Select(p => Of(p, style)).ToList();
            for (var i = 0; i < boxes.Count; i++)
                // A sign with nothing to its left, or after another sign, is no operation: −4, = −4.
                if (
                    boxes[i].Class == SignClass.Binary
                    && (
                        i == 0
                        || i == boxes.Count - 1
                        || boxes[i - 1].Class
                            is SignClass.Binary
                                or SignClass.Relation
                                or SignClass.Opening
                                or SignClass.Punctuation
                                or SignClass.Operator
                    )
                )
                    boxes[i] = boxes[i] with { Class = SignClass.Ordinary };
            var drawn = new List<Drawn>();
            int x = 0,
                height = 0,
                depth = 0;
            for (var i = 0; i < boxes.Count; i++)
            {
                if (i > 0)
                    x += Space(boxes[i - 1].Class, boxes[i].Class, style);
                drawn.AddRange(boxes[i].At(x, 0));
                x += boxes[i].Width;
                height = Math.Max(height, boxes[i].Height);
                depth = Math.Max(depth, boxes[i].Depth);
            }
            return new Box(
                x,
                height,
                depth,
                drawn,
                boxes.Count == 1 ? boxes[0].Class : SignClass.Ordinary,
                boxes.Count > 0 ? boxes[^1].Italic : 0
            );
        }

        /// <summary>Thin, medium and thick spaces between classes (The TeXbook, chapter 18); none but thin after operators in
        /// scripts.</summary>
        private int Space(SignClass left, SignClass right, Style style)
        {
            var script = style is Style.Script or Style.ScriptScript;
            var eighteenths = (left, right) switch
            {
                (SignClass.Opening, _) or (_, SignClass.Closing) or (_, SignClass.Punctuation) => 0,
                (SignClass.Binary, _) or (_, SignClass.Binary) => script ? 0 : 4,
                (SignClass.Relation, SignClass.Relation) => 0,
                (SignClass.Relation, _) or (_, SignClass.Relation) => script ? 0 : 5,
                (SignClass.Punctuation, _) => script ? 0 : 3,
                (SignClass.Operator, SignClass.Opening) => 0,
                (SignClass.Operator, _) or (_, SignClass.Operator) => 3,
                (SignClass.Inner, _) or (_, SignClass.Inner) => script ? 0 : 3,
                _ => 0,
            };
            return StyleOf(style).Size.Scale(eighteenths, 18).Millipoints;
        }

        private Box OfFraction(Fraction fraction, Style style)
        {
            var display = style == Style.Display;
            var inner = display ? Style.Text : Script(style);
            var over = Of(fraction.Numerator, inner);
            var under = Of(fraction.Denominator, inner);
            var axis = Value(MathConstant.AxisHeight, style);
            var rule = Math.Max(300, Value(MathConstant.FractionRule, style));
            var up = Math.Max(
                Value(display ? MathConstant.NumeratorDisplayShiftUp : MathConstant.NumeratorShiftUp, style),
                axis + rule / 2 + Value(display ? MathConstant.NumeratorDisplayGapMin : MathConstant.NumeratorGapMin, style) + over.Depth
            );
            var down = Math.Max(
                Value(display ? MathConstant.DenominatorDisplayShiftDown : MathConstant.DenominatorShiftDown, style),
                rule / 2
                    - axis
                    + Value(display ? MathConstant.DenominatorDisplayGapMin : MathConstant.DenominatorGapMin, style)
                    + under.Height
            );
            var edge = StyleOf(style).Size.Scale(8, 100).Millipoints;
            var width = Math.Max(over.Width, under.Width) + edge * 2;
            var drawn = new List<Drawn>();
            drawn.AddRange(over.At((width - over.Width) / 2, -up));
            drawn.Add(new DrawnRule(edge / 2, -axis - rule / 2, width - edge, rule));
            drawn.AddRange(under.At((width - under.Width) / 2, down));
            return new Box(width, up + over.Height, down + under.Depth, drawn, SignClass.Inner);
        }

        private Box OfRoot(Root root, Style style)
        {
            var inner = Of(root.Radicand, style);
            var s = StyleOf(style);
            var rule = Math.Max(300, Value(MathConstant.RadicalRule, style));
            var gap = Value(style == Style.Display ? MathConstant.RadicalDisplayGap : MathConstant.RadicalGap, style);
            var wanted = inner.Height + inner.Depth + gap + rule;
            var sign = Column(MathFace.Glyph(0x221A), "√", wanted, s, out var reached);
            // What the sign is higher than wanted goes between rule and radicand.
            var top = inner.Height + gap + Math.Max(0, reached - wanted) / 2 + rule;
            var drawn = new List<Drawn>();
            var x = 0;
            if (root.Degree is { } degree)
            {
                var small = Of(degree, Style.ScriptScript);
                x = Value(MathConstant.RadicalKernBeforeDegree, style);
                var raise = reached * MathFace.Constant(MathConstant.RadicalDegreeRaisePercent) / 100 - (reached - top);
                drawn.AddRange(small.At(x, -raise));
                x = Math.Max(0, x + small.Width + Value(MathConstant.RadicalKernAfterDegree, style));
            }
            drawn.AddRange(sign.At(x, reached - top));
            x += sign.Width;
            drawn.Add(new DrawnRule(x - 100, -top, inner.Width + 100 + s.Size.Scale(5, 100).Millipoints, rule));
            drawn.AddRange(inner.At(x, 0));
            return new Box(
                x + inner.Width + s.Size.Scale(8, 100).Millipoints,
                top + Value(MathConstant.RadicalExtraAscender, style),
                Math.Max(inner.Depth, reached - top),
                drawn,
                SignClass.Ordinary
            );
        }

        /// <summary>A sign built at least this high, its foot on the baseline.</summary>
        private static Box Column(ushort glyph, string text, int height, TextStyle style, out int reached)
        {
            var units = (int)((long)height * style.Face.UnitsPerEm / Math.Max(1, style.Size.Millipoints)) + 1;
            var parts = MathFace.Stretch(glyph, units, out var built);
            reached = style.Scale(built);
            var drawn = new List<Drawn>();
            var width = 0;
            for (var i = 0; i < parts.Count; i++)
            {
                var (_, down, advance) = MathFace.Extents(parts[i].Glyph);
                // Each part stands with its foot at its place, whatever its own baseline.
                drawn.AddRange(Glyph(parts[i].Glyph, i == 0 ? text : "", style).At(0, -style.Scale(parts[i].At + down)));
                width = Math.Max(width, style.Scale(advance));
            }
            return new Box(width, reached, 0, drawn, SignClass.Ordinary);
        }

        private Box OfFenced(string open, Box inner, string close, Style style)
        {
            if (open.Length == 0)
                return inner with { Class = SignClass.Ordinary };
            var axis = Value(MathConstant.AxisHeight, style);
            var s = StyleOf(style);
            var half = Math.Max(inner.Height - axis, inner.Depth + axis);
            // Plain letters keep plain brackets; what is higher gets built ones, as high on both sides of the axis.
            var plain = half <= s.Size.Scale(52, 100).Millipoints;
            var drawn = new List<Drawn>();
            int x = 0,
                height = inner.Height,
                depth = inner.Depth;
            void Fence(string sign)
            {
                Box fence;
                int y;
                if (plain)
                {
                    fence = Letters(sign, style, SignClass.Opening);
                    y = 0;
                    height = Math.Max(height, fence.Height);
                    depth = Math.Max(depth, fence.Depth);
                }
                else
                {
                    fence = Column(MathFace.Glyph(sign[0]), sign, half * 2, s, out var reached);
                    y = reached / 2 - axis;
                    height = Math.Max(height, reached / 2 + axis);
                    depth = Math.Max(depth, reached / 2 - axis);
                }
                drawn.AddRange(fence.At(x, y));
                x += fence.Width;
            }
            Fence(open);
            drawn.AddRange(inner.At(x, 0));
            x += inner.Width;
            Fence(close);
            return new Box(x, height, depth, drawn, plain ? SignClass.Ordinary : SignClass.Inner);
        }

        private Box OfScripts(Scripts scripts, Style style)
        {
            var basis = Of(scripts.Base, style);
            var sub = scripts.Sub is null ? null : Of(scripts.Sub, Script(style));
            var sup = scripts.Sup is null ? null : Of(scripts.Sup, Script(style));
            if (basis.Class == SignClass.Operator && style == Style.Display && scripts.Base is Sign { Text: not "∫" })
                return OfLimits(basis, sub, sup, style);
            var up = Math.Max(
                Value(MathConstant.SuperscriptShiftUp, style),
                basis.Height - Value(MathConstant.SuperscriptBaselineDropMax, style)
            );
            if (sup is not null)
                up = Math.Max(up, Value(MathConstant.SuperscriptBottomMin, style) + sup.Depth);
            var down = Math.Max(
                Value(MathConstant.SubscriptShiftDown, style),
                basis.Depth + Value(MathConstant.SubscriptBaselineDropMin, style)
            );
            if (sub is not null)
                down = Math.Max(down, sub.Height - Value(MathConstant.SubscriptTopMax, style));
            if (sub is not null && sup is not null)
            {
                var gap = up - sup.Depth + down - sub.Height;
                var least = Value(MathConstant.SubSuperscriptGapMin, style);
                if (gap < least)
                    down += least - gap;
            }
            var drawn = new List<Drawn>(basis.Drawn);
            var after = Value(MathConstant.SpaceAfterScript, style);
            int width = basis.Width,
                height = basis.Height,
                depth = basis.Depth;
            if (sup is not null)
            {
                drawn.AddRange(sup.At(basis.Width + basis.Italic, -up));
                width = Math.Max(width, basis.Width + basis.Italic + sup.Width + after);
                height = Math.Max(height, up + sup.Height);
            }
            if (sub is not null)
            {
                drawn.AddRange(sub.At(basis.Width, down));
                width = Math.Max(width, basis.Width + sub.Width + after);
                depth = Math.Max(depth, down + sub.Depth);
            }
            return new Box(width, height, depth, drawn, basis.Class);
        }

        private Box OfLimits(Box basis, Box? under, Box? over, Style style)
        {
            var width = Math.Max(basis.Width, Math.Max(under?.Width ?? 0, over?.Width ?? 0));
            var drawn = new List<Drawn>(basis.At((width - basis.Width) / 2, 0));
            int height = basis.Height,
                depth = basis.Depth;
            if (over is not null)
            {
                var rise =
                    basis.Height
                    + Math.Max(
                        Value(MathConstant.UpperLimitBaselineRiseMin, style),
                        Value(MathConstant.UpperLimitGapMin, style) + over.Depth
                    );
                drawn.AddRange(over.At((width - over.Width) / 2 + basis.Italic / 2, -rise));
                height = rise + over.Height;
            }
            if (under is not null)
            {
                var drop =
                    basis.Depth
                    + Math.Max(
                        Value(MathConstant.LowerLimitBaselineDropMin, style),
                        Value(MathConstant.LowerLimitGapMin, style) + under.Height
                    );
                drawn.AddRange(under.At((width - under.Width) / 2 - basis.Italic / 2, drop));
                depth = drop + under.Depth;
            }
            return new Box(width, height, depth, drawn, SignClass.Operator);
        }

        private Box OfMatrix(Matrix matrix, Style style)
        {
            var inner = style == Style.Display ? Style.Text : style;
            var em = StyleOf(style).Size.Millipoints;
            var cells = matrix.Rows.Select(r => r.Select(c => Of(c, inner)).ToList()).ToList();
            var columns = cells.Max(r => r.Count);
            var widths = Enumerable.Range(0, columns).Select(c => cells.Where(r => c < r.Count).Max(r => r[c].Width)).ToArray();
            var drawn = new List<Drawn>();
            var y = 0;
            for (var r = 0; r < cells.Count; r++)
            {
                int height = Math.Max(em * 7 / 10, cells[r].Max(c => c.Height)),
                    depth = Math.Max(em * 3 / 10, cells[r].Max(c => c.Depth));
                y += (r > 0 ? em / 5 : 0) + height;
                var x = 0;
                for (var c = 0; c < cells[r].Count; c++)
                {
                    drawn.AddRange(cells[r][c].At(x + (widths[c] - cells[r][c].Width) / 2, y));
                    x += widths[c] + em * 9 / 10;
                }
                y += depth;
            }
            var width = widths.Sum() + em * 9 / 10 * (columns - 1);
            var axis = Value(MathConstant.AxisHeight, style);
            var top = y / 2 + axis;
            var body = new Box(width, top, y - top, drawn.Select(d => d with { Y = d.Y - top }).ToArray(), SignClass.Ordinary);
            return OfFenced(matrix.Open, body, matrix.Close, style);
        }

        private Box OfAccented(Accented accented, Style style)
        {
            var basis = Of(accented.Base, style);
            var s = StyleOf(style);
            if (accented.Accent == "\u0305")
            {
                var rule = Math.Max(300, Value(MathConstant.OverbarRule, style));
                var y = basis.Height + Value(MathConstant.OverbarGap, style);
                return basis with
                {
                    Height = y + rule * 2,
                    Drawn = [.. basis.Drawn, new DrawnRule(0, -y - rule, basis.Width, rule)],
                    Class = SignClass.Ordinary,
                };
            }
            var glyph = MathFace.Glyph(accented.Accent[0]);
            var (up, down, _) = MathFace.Extents(glyph);
            MathFace.Face.Font.TryGetGlyphExtents(glyph, out var ink);
            var accent = Glyph(glyph, "", s);
            var shift = Math.Max(0, basis.Height - Value(MathConstant.AccentBaseHeight, style));
            var x = (basis.Width + basis.Italic - s.Scale(ink.Width)) / 2 - s.Scale(ink.XBearing);
            return new Box(
                basis.Width,
                Math.Max(basis.Height, s.Scale(up) + shift),
                basis.Depth,
                [.. basis.Drawn, .. accent.At(x, -shift)],
                SignClass.Ordinary,
                basis.Italic
            );
        }
    }
}
