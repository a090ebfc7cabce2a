using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>What a dress is of: words alone, a title, a paragraph or head, which the page can turn in. Each has the settings of
/// those before it.</summary>
internal enum DressPlace
{
    Words,
    Title,
    Block,
}

/// <summary>What a look's file says of a dress.</summary>
internal static class DressForm
{
    /// <param name="Get">its value of a dress</param>
    /// <param name="Usual">what it is when neither the file nor a foundation says</param>
    public sealed record Setting(string Name, System.Type Type, Func<Dress, object?> Get, object? Usual, bool IsNeeded = false)
    {
        /// <summary>The dresses in which it counts.</summary>
        public DressPlace In { get; init; } = DressPlace.Words;
        public bool MayBeNull => Type == typeof(string) && Usual is null && !IsNeeded;
    }

    private static readonly Dress Bare = new(FaceSet.Serif, 10, 12);

    public static readonly IReadOnlyList<Setting> Settings =
    [
        new("face", typeof(string), d => d.Faces.Name, null, true),
        new("size", typeof(Length), d => d.Size, null, true),
        new("leading", typeof(Length), d => d.Leading, null, true),
        new("tracking", typeof(Length), d => d.Tracking, Length.Zero),
        new("tabular", typeof(bool), d => d.Features.HasFlag(Features.Tabular), false),
        new("smallCapitals", typeof(bool), d => d.Features.HasFlag(Features.SmallCaps), false),
        new("capitals", typeof(bool), d => d.Features.HasFlag(Features.Capitals), false),
        new("oldStyle", typeof(bool), d => d.Features.HasFlag(Features.OldStyle), false),
        new("colour", typeof(string), d => d.Colour, null),
        new("alignment", typeof(Alignment), d => d.Alignment, Bare.Alignment),
        new("hyphenates", typeof(bool), d => d.Hyphenates, false),
        new("lettersBefore", typeof(int), d => d.LettersBefore, Bare.LettersBefore),
        new("lettersAfter", typeof(int), d => d.LettersAfter, Bare.LettersAfter),
        new("firstIndent", typeof(Length), d => d.FirstIndent, Length.Zero),
        new("left", typeof(Length), d => d.Left, Length.Zero),
        new("before", typeof(Length), d => d.Before, Length.Zero),
        new("after", typeof(Length), d => d.After, Length.Zero),
        new("tabs", typeof(IReadOnlyList<TabStop>), d => d.Tabs, Bare.Tabs),
        new("ruleAbove", typeof(Length), d => d.RuleAbove, Length.Zero) { In = DressPlace.Title },
        new("ruleBelow", typeof(Length), d => d.RuleBelow, Length.Zero) { In = DressPlace.Title },
        new("ruleGap", typeof(Length), d => d.RuleGap, Bare.RuleGap) { In = DressPlace.Title },
        new("ruleColour", typeof(string), d => d.RuleColour, null) { In = DressPlace.Title },
        new("tint", typeof(int), d => d.Tint, Bare.Tint) { In = DressPlace.Title },
        new("tintColour", typeof(string), d => d.TintColour, null) { In = DressPlace.Title },
        new("tintInset", typeof(Length), d => d.TintInset, Bare.TintInset) { In = DressPlace.Title },
        new("across", typeof(bool), d => d.Across, false) { In = DressPlace.Block },
        new("keepsNext", typeof(bool), d => d.KeepsNext, false) { In = DressPlace.Block },
        new("together", typeof(bool), d => d.Together, false) { In = DressPlace.Block },
        new("linesAtTurn", typeof(int), d => d.LinesAtTurn, Bare.LinesAtTurn) { In = DressPlace.Block },
        new("stretch", typeof(int), d => d.Stretch, Bare.Stretch) { In = DressPlace.Block },
    ];

    /// <summary>The settings that count where a dress stands.</summary>
    public static IEnumerable<Setting> At(DressPlace place) => Settings.Where(s => s.In <= place);

    public static DressPlace PlaceOf(System.Type part, string name) =>
        part == typeof(DressRule) || (part == typeof(Look) && name == "heads") ? DressPlace.Block
        : part == typeof(Look) && name == "divisionTitle" ? DressPlace.Title
        : DressPlace.Words;

    /// <summary>What the form of a dress in such a place is called.</summary>
    public static string Called(DressPlace place) =>
        place switch
        {
            DressPlace.Block => "blockDress",
            DressPlace.Title => "titleDress",
            _ => "dress",
        };

    /// <summary>What a dress does not say is as here: in its role wherever it stands, else in the text. Null for the text itself.</summary>
    /// <param name="before">the roles before it</param>
    public static Dress? Foundation(IEnumerable<DressRule> before, string role) =>
        (
            before.FirstOrDefault(r => r.Role == role && r.Weight == 0) ?? before.FirstOrDefault(r => r.Role == "body" && r.Weight == 0)
        )?.Dress;

    public static Dress Make(IReadOnlyDictionary<string, object?> values, Dress? from, LookPalette palette)
    {
        T Of<T>(string name)
        {
            var setting = Settings.First(s => s.Name == name);
            return (T)
                (
                    values.TryGetValue(name, out var value) ? value
                    : from is null ? setting.Usual
                    : setting.Get(from)
                )!;
        }
        var features = Features.None;
        foreach (
            var (name, feature) in new[]
            {
                ("tabular", Features.Tabular),
                ("smallCapitals", Features.SmallCaps),
                ("capitals", Features.Capitals),
                ("oldStyle", Features.OldStyle),
            }
        )
            if (Of<bool>(name))
                features |= feature;
        return new Dress(
            palette.Face(Of<string>("face")) ?? FaceSet.Serif,
            Of<Length>("size").InPoints,
            Of<Length>("leading").InPoints,
            Of<Length>("tracking").InPoints,
            features
        )
        {
            Alignment = Of<Alignment>("alignment"),
            Hyphenates = Of<bool>("hyphenates"),
            LettersBefore = Of<int>("lettersBefore"),
            LettersAfter = Of<int>("lettersAfter"),
            FirstIndent = Of<Length>("firstIndent"),
            Left = Of<Length>("left"),
            Before = Of<Length>("before"),
            After = Of<Length>("after"),
            Tabs = Of<IReadOnlyList<TabStop>>("tabs"),
            Colour = Of<string?>("colour"),
            RuleAbove = Of<Length>("ruleAbove"),
            RuleBelow = Of<Length>("ruleBelow"),
            RuleGap = Of<Length>("ruleGap"),
            RuleColour = Of<string?>("ruleColour"),
            Tint = Of<int>("tint"),
            TintColour = Of<string?>("tintColour"),
            TintInset = Of<Length>("tintInset"),
            Across = Of<bool>("across"),
            KeepsNext = Of<bool>("keepsNext"),
            Together = Of<bool>("together"),
            LinesAtTurn = Of<int>("linesAtTurn"),
            Stretch = Of<int>("stretch"),
            Palette = palette,
        };
    }
}
