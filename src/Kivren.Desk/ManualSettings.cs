using System.Text.Json;
using System.Text.Json.Nodes;
using Kivren.Core.Content;
using Kivren.Formats.Package;

namespace Kivren.Desk;

/// <summary>The small parts of a manual that are always read whole. Null is a part that is not spoken of: an act notes only those
/// that it changed.</summary>
public sealed record ManualSettings
{
    public IReadOnlyList<NamedText>? Variables { get; init; }
    public IReadOnlyList<AxisValues>? Conditions { get; init; }
    public IReadOnlyList<Edition>? Editions { get; init; }
    public IReadOnlyList<OwnRole>? Roles { get; init; }
    public IReadOnlyList<string>? AcceptedWords { get; init; }

    public bool IsEmpty => this == new ManualSettings();

    public static ManualSettings Of(Manual manual) =>
        new()
        {
            Variables = manual.Variables,
            Conditions = manual.Conditions,
            Editions = manual.Editions,
            Roles = manual.Roles,
            AcceptedWords = manual.AcceptedWords,
        };

    /// <summary>The parts that say something else than those of another; null when all say the same.</summary>
    public ManualSettings? Against(ManualSettings other)
    {
        var differ = new ManualSettings
        {
            Variables = Other(Variables, other.Variables, RowForm.Variables),
            Conditions = Other(Conditions, other.Conditions, RowForm.Conditions),
            Editions = Other(Editions, other.Editions, EditionForm.ToJson),
            Roles = Other(Roles, other.Roles, OwnRoleForm.ToJson),
            AcceptedWords = Other(AcceptedWords, other.AcceptedWords, w => JsonSerializer.Serialize(w)),
        };
        return differ.IsEmpty ? null : differ;
    }

    private static T? Other<T>(T? own, T? other, Func<T, string> said)
        where T : class =>
        own is null
        || ReferenceEquals(own, other)
        || (other is not null && JsonNode.DeepEquals(JsonNode.Parse(said(own)), JsonNode.Parse(said(other))))
            ? null
            : own;

    /// <summary>These parts, and of what they do not speak those of another.</summary>
    public ManualSettings Or(ManualSettings other) =>
        new()
        {
            Variables = Variables ?? other.Variables,
            Conditions = Conditions ?? other.Conditions,
            Editions = Editions ?? other.Editions,
            Roles = Roles ?? other.Roles,
            AcceptedWords = AcceptedWords ?? other.AcceptedWords,
        };

    /// <summary>Only the parts that another one speaks of.</summary>
    public ManualSettings Where(ManualSettings other) =>
        new()
        {
            Variables = other.Variables is null ? null : Variables,
            Conditions = other.Conditions is null ? null : Conditions,
            Editions = other.Editions is null ? null : Editions,
            Roles = other.Roles is null ? null : Roles,
            AcceptedWords = other.AcceptedWords is null ? null : AcceptedWords,
        };

    /// <summary>The manual with these parts.</summary>
    public Manual In(Manual manual) =>
        manual with
        {
            Variables = Variables ?? manual.Variables,
            Conditions = Conditions ?? manual.Conditions,
            Editions = Editions ?? manual.Editions,
            Roles = Roles ?? manual.Roles,
            AcceptedWords = AcceptedWords ?? manual.AcceptedWords,
        };

    // ---- as the journal keeps it ----

    public string ToJson()
    {
        var kept = new JsonObject();
        void Keep(string name, string? json)
        {
            if (json is not null)
                kept[name] = JsonNode.Parse(json);
        }
        Keep("variables", Variables is { } v ? RowForm.Variables(v) : null);
        Keep("conditions", Conditions is { } c ? RowForm.Conditions(c) : null);
        Keep("editions", Editions is { } e ? EditionForm.ToJson(e) : null);
        Keep("acceptedWords", AcceptedWords is { } w ? JsonSerializer.Serialize(w) : null);
        Keep("roles", Roles is { } r ? OwnRoleForm.ToJson(r) : null);
        return kept.ToJsonString();
    }

    public static ManualSettings Parse(string json)
    {
        var kept = JsonNode.Parse(json)!.AsObject();
        string? Of(string name) => kept[name]?.ToJsonString();
        return new ManualSettings
        {
            Variables = Of("variables") is { } v ? RowForm.Variables(v) : null,
            Conditions = Of("conditions") is { } c ? RowForm.Conditions(c) : null,
            Editions = Of("editions") is { } e ? EditionForm.ParseEditions(e) : null,
            AcceptedWords = Of("acceptedWords") is { } w ? JsonSerializer.Deserialize<string[]>(w) : null,
            Roles = Of("roles") is { } r ? OwnRoleForm.Parse(r) : null,
        };
    }
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
