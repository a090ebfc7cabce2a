using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>What a look's file says of a dress.</summary>
internal static class DressForm
{
    /// <param name="Get">its value of a dress</param>
    /// <param name="Usual">what it is when neither the file nor a foundation says</param>
    public sealed record Setting(string Name, System.Type Type, Func<Dress, object?> Get, object? Usual, bool IsNeeded = false);

    private static readonly Dress Bare = new(FaceSet.Serif, 10, 12);

    public static readonly IReadOnlyList<Setting> Settings =
    [
        new("face", typeof(LineFace), d => OwnDress.FaceOf(d), null, true),
        new("size", typeof(Length), d => d.Size, null, true),
        new("leading", typeof(Length), d => d.Leading, null, true),
        new("tracking", typeof(Length), d => d.Tracking, Length.Zero),
        new("tabular", typeof(bool), d => d.Features.HasFlag(Features.Tabular), false),
        new("smallCapitals", typeof(bool), d => d.Features.HasFlag(Features.SmallCaps), false),
        new("oldStyle", typeof(bool), d => d.Features.HasFlag(Features.OldStyle), false),
        new("alignment", typeof(Alignment), d => d.Alignment, Bare.Alignment),
        new("hyphenates", typeof(bool), d => d.Hyphenates, false),
        new("firstIndent", typeof(Length), d => d.FirstIndent, Length.Zero),
        new("left", typeof(Length), d => d.Left, Length.Zero),
        new("before", typeof(Length), d => d.Before, Length.Zero),
        new("after", typeof(Length), d => d.After, Length.Zero),
        new("tabs", typeof(IReadOnlyList<TabStop>), d => d.Tabs, Bare.Tabs),
    ];

    /// <summary>What a dress does not say is as here: in its role wherever it stands, else in the text. Null for the text itself.</summary>
    /// <param name="before">the roles before it</param>
    public static Dress? Foundation(IEnumerable<DressRule> before, string role) =>
        (
            before.FirstOrDefault(r => r.Role == role && r.Weight == 0) ?? before.FirstOrDefault(r => r.Role == "body" && r.Weight == 0)
        )?.Dress;

    public static Dress Make(IReadOnlyDictionary<string, object?> values, Dress? from)
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
                ("oldStyle", Features.OldStyle),
            }
        )
            if (Of<bool>(name))
                features |= feature;
        return new Dress(
            OwnDress.FacesOf(Of<LineFace>("face")),
            Of<Length>("size").InPoints,
            Of<Length>("leading").InPoints,
            Of<Length>("tracking").InPoints,
            features
        )
        {
            Alignment = Of<Alignment>("alignment"),
            Hyphenates = Of<bool>("hyphenates"),
            FirstIndent = Of<Length>("firstIndent"),
            Left = Of<Length>("left"),
            Before = Of<Length>("before"),
            After = Of<Length>("after"),
            Tabs = Of<IReadOnlyList<TabStop>>("tabs"),
        };
    }
}
