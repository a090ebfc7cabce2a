using System.Text.Json;
using System.Text.Json.Nodes;
using Kivren.Core.Content;
using Kivren.Formats.Package;

namespace Kivren.Desk;

/// <summary>The small parts of a manual that are always read whole. Null is a part that is not spoken of: an act notes only those
/// that it changed.</summary>
public sealed class ManualSettings
{
    /// <summary>A part of a manual: its name in the journal, where it stands in the manual, and its JSON.</summary>
    private sealed record Part(
        string Name,
        Func<Manual, object> Of,
        Func<Manual, object, Manual> In,
        Func<object, string> Said,
        Func<string, object> Read
    );

    /// <summary>A manual that has no index dress of its own says so.</summary>
    private static readonly object AsTheLook = new();

    private static readonly object Yes = "yes",
        No = "no";

    private static Part Make<T>(string name, Func<Manual, T> of, Func<Manual, T, Manual> with, Func<T, string> said, Func<string, T> read)
        where T : class => new(name, m => of(m), (m, value) => with(m, (T)value), value => said((T)value), json => read(json));

    private static Part Kept<T>(string name, Func<Manual, IReadOnlyList<T>> of, Func<Manual, IReadOnlyList<T>, Manual> with) =>
        Make(name, of, with, OwnListForm.ToJson, OwnListForm.Parse<IReadOnlyList<T>>);

    private static readonly Part[] Parts =
    [
        Make("variables", m => m.Variables, (m, v) => m with { Variables = v }, RowForm.Variables, RowForm.Variables),
        Make("conditions", m => m.Conditions, (m, v) => m with { Conditions = v }, RowForm.Conditions, RowForm.Conditions),
        Make("editions", m => m.Editions, (m, v) => m with { Editions = v }, EditionForm.ToJson, EditionForm.ParseEditions),
        Make("roles", m => m.Roles, (m, v) => m with { Roles = v }, OwnRoleForm.ToJson, OwnRoleForm.Parse),
        Kept("acceptedWords", m => m.AcceptedWords, (m, v) => m with { AcceptedWords = v }),
        Kept("passedOver", m => m.PassedOver, (m, v) => m with { PassedOver = v }),
        Kept("putAside", m => m.PutAside, (m, v) => m with { PutAside = v }),
        Kept("lists", m => m.Lists, (m, v) => m with { Lists = v }),
        Make(
            Worn.Part,
            m => new Worn(m.Look, m.LookFile),
            (m, v) => m with { Look = v.Look, LookFile = v.File },
            OwnListForm.ToJson,
            OwnListForm.Parse<Worn>
        ),
        Make(
            Spoken,
            m => m.Language,
            (m, v) => m with { Language = v },
            v => JsonSerializer.Serialize(v),
            json => JsonSerializer.Deserialize<string>(json)!
        ),
        new(
            "chapterContents",
            m => m.ChapterContents ?? "",
            (m, v) => m with { ChapterContents = v is "" ? null : (string)v },
            v => JsonSerializer.Serialize((string)v),
            json => JsonSerializer.Deserialize<string>(json)!
        ),
        new(
            "termsLead",
            m => m.TermsLead ? Yes : No,
            (m, v) => m with { TermsLead = ReferenceEquals(v, Yes) },
            v => ReferenceEquals(v, Yes) ? "true" : "false",
            json => json == "true" ? Yes : No
        ),
        new(
            "indexDress",
            m => m.IndexDress ?? AsTheLook,
            (m, v) => m with { IndexDress = v as OwnIndexDress },
            v => v is OwnIndexDress dress ? OwnListForm.ToJson(dress) : "{}",
            json => json == "{}" ? AsTheLook : OwnListForm.Parse<OwnIndexDress>(json)
        ),
    ];

    /// <summary>The name of the language among the settings.</summary>
    public const string Spoken = "spoken";

    private readonly object?[] _values = new object?[Parts.Length];

    private static int At(string name) => Array.FindIndex(Parts, p => p.Name == name);

    public IReadOnlyList<NamedText>? Variables
    {
        get => (IReadOnlyList<NamedText>?)_values[At("variables")];
        init => _values[At("variables")] = value;
    }

    public IReadOnlyList<OwnRole>? Roles
    {
        get => (IReadOnlyList<OwnRole>?)_values[At("roles")];
        init => _values[At("roles")] = value;
    }

    public bool IsEmpty => _values.All(v => v is null);

    /// <param name="value">of each part, by its place; null not to speak of it</param>
    private static ManualSettings Each(Func<int, object?> value)
    {
        var made = new ManualSettings();
        for (var p = 0; p < Parts.Length; p++)
            made._values[p] = value(p);
        return made;
    }

    public static ManualSettings Of(Manual manual) => Each(p => Parts[p].Of(manual));

    /// <summary>The parts that say something else than those of another; null when all say the same.</summary>
    public ManualSettings? Against(ManualSettings other)
    {
        var differ = Each(p => Differs(Parts[p], _values[p], other._values[p]) ? _values[p] : null);
        return differ.IsEmpty ? null : differ;
    }

    private static bool Differs(Part part, object? own, object? other) =>
        own is not null
        && !ReferenceEquals(own, other)
        && (other is null || !JsonNode.DeepEquals(JsonNode.Parse(part.Said(own)), JsonNode.Parse(part.Said(other))));

    /// <summary>These parts, and of what they do not speak those of another.</summary>
    public ManualSettings Or(ManualSettings other) => Each(p => _values[p] ?? other._values[p]);

    /// <summary>Only the parts that another one speaks of.</summary>
    public ManualSettings Where(ManualSettings other) => Each(p => other._values[p] is null ? null : _values[p]);

    /// <summary>The manual with these parts.</summary>
    public Manual In(Manual manual)
    {
        for (var p = 0; p < Parts.Length; p++)
            if (_values[p] is { } value)
                manual = Parts[p].In(manual, value);
        return manual;
    }

    // ---- as the journal and the manual's row keep it ----

    /// <summary>The JSON of a part by its name; null for one that is not spoken of.</summary>
    public string? Json(string name) => At(name) is var at and >= 0 && _values[at] is { } value ? Parts[at].Said(value) : null;

    public string ToJson()
    {
        var kept = new JsonObject();
        foreach (var part in Parts)
            if (Json(part.Name) is { } json)
                kept[part.Name] = JsonNode.Parse(json);
        return kept.ToJsonString();
    }

    public static ManualSettings Parse(string json)
    {
        var kept = JsonNode.Parse(json)!.AsObject();
        return Each(p => kept[Parts[p].Name] is { } said ? Parts[p].Read(said.ToJsonString()) : null);
    }
}

/// <summary>The look that a manual wears: its name, and its file where it is not one that ships.</summary>
public sealed record Worn(string Look, string? File = null)
{
    /// <summary>Its name among the settings.</summary>
    public const string Part = "worn";
}

/// <summary>Variables and conditions as JSON, in the manual's row and in the journal, where they have no order.</summary>
public static class RowForm
{
    public static string Variables(IReadOnlyList<NamedText> variables)
    {
        var kept = new JsonObject();
        foreach (var variable in variables)
            kept[variable.Name] = variable.Text;
        return kept.ToJsonString();
    }

    public static IReadOnlyList<NamedText> Variables(string json) =>
        [.. JsonSerializer.Deserialize<Dictionary<string, string>>(json)!.Select(v => new NamedText(v.Key, v.Value))];

    public static string Conditions(IReadOnlyList<AxisValues> conditions) => EditionForm.ToJson(new AppliesTo(conditions));

    public static IReadOnlyList<AxisValues> Conditions(string json) => EditionForm.ParseAppliesTo(json).Axes;
}
