using System.Text.Json;
using Kivren.Core.Content;

namespace Kivren.Core.Looks;

/// <summary>What a designer can set at one place of a look: its name in the file, in words, and within what it can be.</summary>
/// <param name="Kind">measure, number, text, yes, choice, layout, face, colour (the name of one), ink (#rrggbb), font (a file), dress,
/// part, list or sequences</param>
/// <param name="Of">the part that stands here, or of which the list is; else empty</param>
/// <param name="Least">points for a measure, letters for a text</param>
/// <param name="Usual">as the file would have it when nothing is said; null where something must be</param>
public sealed record SettingForm(
    string Name,
    string Words,
    string Kind,
    string Of,
    double Least,
    double Most,
    double Step,
    IReadOnlyList<string> Choices,
    string? Usual,
    bool MayBeNull
);

/// <summary>All parts of a look with what can be set of each: what a view is made of, from the same records as the file.</summary>
public static class LookForm
{
    /// <summary>By the name of the part: look, pageMaster, dress …</summary>
    public static IReadOnlyDictionary<string, IReadOnlyList<SettingForm>> Parts { get; } = Make();

    private static SortedDictionary<string, IReadOnlyList<SettingForm>> Make()
    {
        var parts = new SortedDictionary<string, IReadOnlyList<SettingForm>>(StringComparer.Ordinal) { };
        foreach (var place in Enum.GetValues<DressPlace>())
            parts[DressForm.Called(place)] =
            [
                .. DressForm.At(place).Select(s => Form(typeof(Dress), s.Name, s.Type, s.IsNeeded ? null : s.Usual, s.MayBeNull)),
            ];
        foreach (var type in LookSettings.All.Keys.Select(k => k.Part).Distinct().Where(t => t != typeof(Dress)))
            parts[LookPart.InFile(type.Name)] =
            [
                .. LookPart
                    .Of(type)
                    .Properties.Select(p => Form(type, p.Name, p.Type, p.IsNeeded ? null : p.Usual, LookPart.MayBeNull(p.Info))),
            ];
        return parts;
    }

    private static SettingForm Form(System.Type part, string name, System.Type type, object? usual, bool mayBeNull)
    {
        var setting = LookSettings.Of(part, name);
        var (kind, of) = KindOf(part, name, Nullable.GetUnderlyingType(type) ?? type);
        return new SettingForm(
            name,
            setting.Words,
            kind,
            of,
            setting.Least,
            setting.Most,
            setting.Step,
            Nullable.GetUnderlyingType(type) is { IsEnum: true } inner ? Choices(inner)
                : type.IsEnum ? Choices(type)
                : [],
            usual is null ? null : LookWriter.Text(usual),
            mayBeNull
        );
    }

    private static string[] Choices(System.Type type) => [.. Enum.GetNames(type).Select(LookPart.InFile)];

    private static (string Kind, string Of) KindOf(System.Type part, string name, System.Type type) =>
        type == typeof(Length) ? ("measure", "")
        : type == typeof(bool) ? ("yes", "")
        : type == typeof(int) ? ("number", "")
        : type == typeof(string)
            ? (
                part == typeof(MasterChoice) || name == "basedOn" ? "layout"
                : name == "face" ? "face"
                : name.EndsWith("olour", StringComparison.Ordinal) ? "colour"
                : part == typeof(NamedColour) && name == "screen" ? "ink"
                : "text",
                ""
            )
        : type == typeof(FontFile) ? ("font", "fontFile")
        : type.IsEnum ? ("choice", "")
        : type == typeof(Dress) ? ("dress", DressForm.Called(DressForm.PlaceOf(part, name)))
        : type == typeof(IReadOnlyDictionary<DivisionKind, PageSequence>) ? ("sequences", LookPart.InFile(nameof(PageSequence)))
        : type.IsGenericType ? ("list", Item(part, name, type.GetGenericArguments()[0]))
        : ("part", LookPart.InFile(type.Name));

    private static string Item(System.Type part, string name, System.Type type) =>
        type == typeof(string) ? "text"
        : type == typeof(Dress) ? DressForm.Called(DressForm.PlaceOf(part, name))
        : type.IsEnum ? "choice"
        : LookPart.InFile(type.Name);
}
