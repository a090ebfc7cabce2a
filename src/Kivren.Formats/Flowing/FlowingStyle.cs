using System.Globalization;
using System.Text;
using Kivren.Core;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Core.Type;

namespace Kivren.Formats.Flowing;

/// <summary>Rules of style that make of a look what flowing text can take of it: faces, sizes against the text's, colours, rules and
/// tints. In the dark, ink and paper change places and colours grow lighter until they are read well.</summary>
internal sealed class FlowingStyle
{
    private const string Paper = "#fffefb",
        DarkPaper = "#191b1d";

    /// <summary>Letters are read well at this contrast (WCAG 2.2, 1.4.3).</summary>
    private const double LeastContrast = 4.5;

    private readonly Look _look;
    private readonly FlowingFaces _faces;
    private readonly StringBuilder _css = new();
    private readonly SortedDictionary<string, int> _colours = new(StringComparer.Ordinal);

    private FlowingStyle(FlowingBook book)
    {
        _look = book.Composed.Look;
        _faces = new FlowingFaces(FlowingFaces.CharactersOf(book), Writing.Of(book.Manual.Language));
    }

    /// <returns>the rules, and the files of the faces that they name</returns>
    public static (string Css, IReadOnlyList<(string Name, byte[] Bytes)> Fonts) Of(FlowingBook book)
    {
        var style = new FlowingStyle(book);
        style.Rules(book.Manual.Roles);
        var fonts = style._faces.Files().ToList();
        var css = new StringBuilder();
        foreach (var (_, _, rule) in fonts)
            css.Append(rule).Append('\n');
        css.Append(style.Roots()).Append(Resources.Text("flowing.css")).Append(style._css);
        return (css.ToString(), [.. fonts.Select(f => (f.Name, f.Bytes))]);
    }

    private string Em(Length length) => (length.InPoints / _look.Body.Size.InPoints).ToString("0.###", CultureInfo.InvariantCulture) + "em";

    private static string Ratio(Length length, Length of) =>
        (length.InPoints / of.InPoints).ToString("0.###", CultureInfo.InvariantCulture);

    private void Rules(IReadOnlyList<OwnRole> roles)
    {
        Dressed("body", _look.Body, isBody: true);
        foreach (var role in new[] { "lead", "quotation", "title", "subtitle", "imprint", "result" })
            if (_look.Dresses.Any(d => d.Role == role && d.Within is null && d.Division is null))
                Dressed("." + role, _look.DressOf(role, default));
        for (var level = HeadLevel.A; level <= HeadLevel.D; level++)
            Dressed($".head-{char.ToLowerInvariant(level.ToString()[0])}", _look.HeadDress(level));
        Dressed(".division > h1 > .label", _look.DivisionLabel);
        Dressed(".division > h1 > .title", _look.DivisionTitle);
        Dressed("figcaption, caption", _look.Caption);
        if (_look.Blocks.TableCaptionBelow)
            Rule("caption", "caption-side: bottom");
        if (_look.Blocks.ListingCaptionBelow)
            Rule(".listing", "display: flex; flex-direction: column-reverse");
        Dressed("figcaption > .label, caption > .label, .box-title > .label", _look.CaptionLabel);
        Dressed(".admonition", _look.AdmonitionText);
        Dressed(".admonition > .signal", _look.SignalWord);
        Dressed(".box", _look.AsideText);
        Dressed(".box-title", _look.AsideTitle);
        Dressed("td", _look.Table.Text);
        Dressed("th", _look.Table.Head);
        Dressed("pre", _look.ListingText);
        Dressed(".notes", _look.NoteText);
        Dressed("dfn", _look.Term);
        Dressed(".index", _look.Index.Text);
        foreach (var role in roles)
            if (_look.Dresses.FirstOrDefault(d => d.Role == role.Name && d.Within is null && d.Division is null) is { } rule)
                Dressed("." + Xhtml.ClassOf(role.Name), rule.Dress);
        Words("code, kbd.code", SpanRoles.Code);
        Words(".part-number", SpanRoles.PartNumber);
        Words("b.control", SpanRoles.Control);
        Words("kbd", SpanRoles.Key);
        Words("i.term", SpanRoles.Term);
        Words("em, i.foreign", SpanRoles.Emphasis);
        // Chinese and Japanese have no italic, and a dot to each character.
        Rule("em:lang(ja)", "font-style: normal; text-emphasis: dot; text-emphasis-position: over right");
        Rule("em:lang(zh)", "font-style: normal; text-emphasis: dot; text-emphasis-position: under right");
        Words("strong", SpanRoles.Strong);
        if (_look.Blocks.BoxColour is { } box)
            Rule(".box", $"background: color-mix(in srgb, var({Named(box)}) 14%, var(--paper))");
        if (_look.Blocks.AdmonitionColour is { } admonition)
            Rule(".admonition", $"border-color: var({Named(admonition)})");
        if (_look.Table.RuleColour is { } rules)
            Rule("table, thead, tbody tr", $"border-color: var({Named(rules)})");
        if (_look.Table.HeaderTint < 100 || _look.Table.HeaderColour is not null)
            Rule(
                "thead",
                _look.Table.HeaderColour is { } header
                    ? $"background: color-mix(in srgb, var({Named(header)}) 18%, var(--paper))"
                    : "background: var(--tint)"
            );
        Rule("tbody tr", _look.Table.BetweenRows > Length.Zero ? "border-top: 1px solid var(--rule)" : "border-top: 0");
        Rule("a", $"color: {(_look.LinkColour is { } link ? $"var({Named(link)})" : "var(--link)")}");
    }

    private void Rule(string of, string says) => _css.Append(of).Append(" { ").Append(says).Append(" }\n");

    private void Dressed(string of, Dress dress, bool isBody = false)
    {
        var plain = dress.Plain;
        var face = _faces.Use(plain.Face);
        var says = new List<string>
        {
            $"font-family: {_faces.FamiliesOf(dress.Faces, plain)}",
            $"font-weight: {face.Weight.ToString(CultureInfo.InvariantCulture)}",
            $"font-style: {(face.Italic ? "italic" : "normal")}",
            $"line-height: {LineHeight(dress)}",
        };
        if (!isBody)
            says.Add($"font-size: {Size(dress)}");
        if (dress.Tracking != Length.Zero)
            says.Add($"letter-spacing: {Ratio(dress.Tracking, dress.Size)}em");
        if ((dress.Features & ~Features.Capitals) != Features.None)
            says.Add($"font-feature-settings: {FeaturesOf(dress.Features)}");
        if (dress.Features.HasFlag(Features.Capitals))
            says.Add("text-transform: uppercase");
        if (dress.Colour is { } colour)
            says.Add($"color: var({Named(colour)})");
        if (dress.Alignment == Alignment.Centred)
            says.Add("text-align: center");
        if (dress.RuleAbove > Length.Zero)
            says.Add($"border-top: {Em(dress.RuleAbove)} solid {Of(dress.RuleColour)}; padding-top: {Em(dress.RuleGap)}");
        if (dress.RuleBelow > Length.Zero)
            says.Add($"border-bottom: {Em(dress.RuleBelow)} solid {Of(dress.RuleColour)}; padding-bottom: {Em(dress.RuleGap)}");
        if (dress.TintColour is { } tint)
            says.Add($"background: color-mix(in srgb, var({Named(tint)}) 16%, var(--paper)); padding: {Em(dress.TintInset)}");
        else if (dress.Tint < 100)
            says.Add($"background: var(--tint); padding: {Em(dress.TintInset)}");
        if (isBody && dress.Hyphenates)
            says.Add("hyphens: auto");
        Rule(of, string.Join("; ", says));
    }

    /// <summary>Text for reading is set wider than in print: screens have longer lines and coarser letters (WCAG 2.2, 1.4.8).</summary>
    private string LineHeight(Dress dress) =>
        ReferenceEquals(dress, _look.Body)
            ? Math.Max(LeastLineHeight, dress.Leading.InPoints / dress.Size.InPoints).ToString("0.###", CultureInfo.InvariantCulture)
            : Ratio(dress.Leading, dress.Size);

    private const double LeastLineHeight = 1.48;

    /// <summary>Sizes stand against the text’s, wherever they stand.</summary>
    private string Size(Dress dress) =>
        Math.Max(LeastSize, dress.Size.InPoints / _look.Body.Size.InPoints).ToString("0.###", CultureInfo.InvariantCulture) + "rem";

    /// <summary>Smaller letters than this, against the text’s, are not read well on a screen.</summary>
    private const double LeastSize = .84;

    /// <summary>Where print has nothing but black ink, screens have the colour of the ink.</summary>
    private string Of(string? colour) => colour is null ? "currentColor" : $"var({Named(colour)})";

    private void Words(string of, SpanRoles role)
    {
        var style = _look.Body.Style(role);
        var face = _faces.Use(style.Face);
        var says = new List<string> { $"font-family: {_faces.FamiliesOf(_look.Body.Faces, style)}" };
        if (!ReferenceEquals(style.Face, _look.Body.Plain.Face))
            says.Add($"font-weight: {face.Weight.ToString(CultureInfo.InvariantCulture)}");
        // Emphasis within words that slope stands upright, and what is strong in any face stays in it.
        if (role is SpanRoles.Emphasis or SpanRoles.Strong or SpanRoles.Term)
            says.RemoveAt(0);
        says.Add($"font-style: {(face.Italic ? "italic" : "normal")}");
        if (style.Size != _look.Body.Size)
            says.Add($"font-size: {Ratio(style.Size, _look.Body.Size)}em");
        var own = _look.Spans.LastOrDefault(s => s.Fits(role, null));
        if (own?.Colour is { } colour)
            says.Add($"color: var({Named(colour)})");
        if (own is { Capitals: true })
            says.Add("text-transform: uppercase");
        if (own is { SmallCapitals: true })
            says.Add("font-variant-caps: small-caps");
        Rule(of, string.Join("; ", says));
    }

    private static string FeaturesOf(Features features)
    {
        var tags = new List<string>();
        if (features.HasFlag(Features.SmallCaps))
            tags.Add("\"smcp\"");
        if (features.HasFlag(Features.OldStyle))
            tags.Add("\"onum\"");
        if (features.HasFlag(Features.Tabular))
            tags.AddRange(["\"tnum\"", "\"lnum\""]);
        return string.Join(", ", tags);
    }

    private string Named(string colour)
    {
        var name = "--c-" + Xhtml.ClassOf(colour)["own-".Length..];
        if (_look.Colours.FirstOrDefault(c => c.Name == colour) is not { } named)
            return "--ink";
        _colours.TryAdd(name, named.Tone.Screen ?? 0);
        return name;
    }

    // ---- colours ----

    private string Roots()
    {
        var light = new StringBuilder(
            $"--paper: {Paper}; --ink: #1d1f21; --soft: #55595e; --rule: #b9b4a8; --tint: #f1eee6; --link: #1d5a7a"
        );
        var dark = new StringBuilder(
            $"--paper: {DarkPaper}; --ink: #e4e1d9; --soft: #a6abb0; --rule: #4b5056; --tint: #25282b; --link: #8cc0dc"
        );
        foreach (var (name, rgb) in _colours)
        {
            light.Append($"; {name}: {Hex(ReadWell(rgb, 0xFFFEFB, darker: true))}");
            dark.Append($"; {name}: {Hex(ReadWell(rgb, 0x191B1D, darker: false))}");
        }
        return $":root {{ color-scheme: light dark; {light} }}\n@media (prefers-color-scheme: dark) {{ :root {{ {dark} }} }}\n";
    }

    private static string Hex(int rgb) => "#" + rgb.ToString("x6", CultureInfo.InvariantCulture);

    /// <summary>The colour, moved towards black or white until letters in it are read well on the paper.</summary>
    private static int ReadWell(int rgb, int paper, bool darker)
    {
        for (var step = 0; step <= 20; step++)
        {
            int Mix(int shift)
            {
                var c = rgb >> shift & 255;
                return (darker ? c * (20 - step) / 20 : c + (255 - c) * step / 20) << shift;
            }
            var mixed = Mix(16) | Mix(8) | Mix(0);
            if (Contrast(mixed, paper) >= LeastContrast)
                return mixed;
        }
        return darker ? 0 : 0xFFFFFF;
    }

    private static double Contrast(int a, int b)
    {
        var (x, y) = (Luminance(a), Luminance(b));
        return (Math.Max(x, y) + .05) / (Math.Min(x, y) + .05);
    }

    private static double Luminance(int rgb)
    {
        static double Channel(int c) => c / 255.0 is var s && s <= .04045 ? s / 12.92 : Math.Pow((s + .055) / 1.055, 2.4);
        return .2126 * Channel(rgb >> 16 & 255) + .7152 * Channel(rgb >> 8 & 255) + .0722 * Channel(rgb & 255);
    }
}
