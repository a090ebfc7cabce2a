using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using Kivren.Core.Content;

namespace Kivren.Core.Looks;

/// <summary>What one look says otherwise than another, as a designer would call it.</summary>
/// <param name="Place">as a fault would name it</param>
/// <param name="Part">what it is a setting of, such as a page layout by its name; empty for the look as a whole</param>
/// <param name="Was">as the file has it; null where it said nothing</param>
public sealed record LookDifference(string Place, string Part, string Words, string? Was, string? Now)
{
    public static IReadOnlyList<LookDifference> Between(Look was, Look now)
    {
        var found = new List<LookDifference>();
        Compare(found, typeof(Look), JsonNode.Parse(LookFile.Write(was)), JsonNode.Parse(LookFile.Write(now)), "", "");
        return found;
    }

    /// <summary>All of them in one line.</summary>
    public static string Say(IReadOnlyList<LookDifference> differences)
    {
        if (differences is [var only])
        {
            var said = only.Part.Length > 0 ? $"{only.Part}: {only.Words}" : only.Words;
            return only is { Was: { } was, Now: { } now } ? $"{said} {was.Trim('"')} → {now.Trim('"')}" : said;
        }
        var parts = differences.Select(d => d.Part.Length > 0 ? d.Part : d.Words).Distinct().ToList();
        return $"{differences.Count} settings, {string.Join(", ", parts.Take(3))}{(parts.Count > 3 ? " …" : "")}";
    }

    private static void Compare(List<LookDifference> found, System.Type type, JsonNode? was, JsonNode? now, string place, string called)
    {
        var (before, after) = (was as JsonObject, now as JsonObject);
        foreach (var (name, of) in SettingsOf(type))
        {
            var (a, b) = (before?[name], after?[name]);
            if (JsonNode.DeepEquals(a, b))
                continue;
            var at = place.Length == 0 ? name : $"{place}.{name}";
            var words = LookSettings.Of(type, name).Words;
            if (of == typeof(IReadOnlyDictionary<DivisionKind, PageSequence>))
                foreach (var kind in Enum.GetNames<DivisionKind>().Select(LookPart.InFile))
                    Compare(found, typeof(PageSequence), a?[kind], b?[kind], $"{at}.{kind}", kind);
            else if (of.IsGenericType && ItemOf(of) is { } item && IsPart(item) && a is JsonArray or null && b is JsonArray or null)
                Lists(found, item, a as JsonArray ?? [], b as JsonArray ?? [], at, called, words);
            else if (IsPart(of) && a is JsonObject or null && b is JsonObject or null)
                Compare(found, of, a, b, at, called.Length > 0 ? called : words);
            else
                found.Add(new LookDifference(at, called, words, Said(of, a, b), Said(of, b, a)));
        }
    }

    private const double PointsPerInch = 72;

    /// <summary>A bare number of a measure counts points; beside one in another unit it is told in that.</summary>
    private static string? Said(System.Type of, JsonNode? value, JsonNode? beside)
    {
        if (value is null)
            return null;
        if (of != typeof(Length) || value.GetValueKind() != JsonValueKind.Number)
            return value.ToJsonString();
        var other = beside?.GetValueKind() == JsonValueKind.String ? beside.GetValue<string>() : "";
        foreach (var (unit, points) in (ReadOnlySpan<(string, double)>)[(" mm", PointsPerInch / 25.4), (" in", PointsPerInch)])
            if (other.EndsWith(unit, StringComparison.Ordinal))
                return (value.GetValue<double>() / points).ToString("0.#", CultureInfo.InvariantCulture) + unit;
        return value.ToJsonString() + " pt";
    }

    /// <summary>Items of one name, or at one place, are compared; others came or went.</summary>
    private static void Lists(
        List<LookDifference> found,
        System.Type item,
        JsonArray was,
        JsonArray now,
        string at,
        string called,
        string words
    )
    {
        string NameOf(JsonNode? node, int i) => Called(item, node, i);
        var before = was.Select((n, i) => (Name: NameOf(n, i), Node: n)).DistinctBy(n => n.Name).ToDictionary(n => n.Name, n => n.Node);
        var seen = new HashSet<string>(StringComparer.Ordinal);
        for (var i = 0; i < now.Count; i++)
        {
            var name = NameOf(now[i], i);
            seen.Add(name);
            var own = called.Length > 0 ? $"{called}, {name}" : name;
            if (!before.TryGetValue(name, out var old))
                found.Add(new LookDifference($"{at}[{i}]", called, $"{words}: {name} is new", null, null));
            else if (!JsonNode.DeepEquals(old, now[i]))
                Compare(found, item, old, now[i], $"{at}[{i}]", own);
        }
        foreach (var (name, _) in before.Where(b => !seen.Contains(b.Key)))
            found.Add(new LookDifference(at, called, $"{words}: {name} is gone", null, null));
        if (found.Count == 0 && !before.Keys.SequenceEqual(seen))
            found.Add(new LookDifference(at, called, $"{words}: in another order", null, null));
    }

    private static string Called(System.Type item, JsonNode? node, int i)
    {
        if (item == typeof(Dress))
            return $"{(char)('A' + i)} head";
        if (node is not JsonObject part)
            return (i + 1).ToString(System.Globalization.CultureInfo.InvariantCulture);
        string Word(string name) => part[name] is JsonValue value && value.TryGetValue(out string? word) ? word : "";
        var name = Word("name") + Word("role");
        if (name.Length == 0)
            return Word("edge").Length > 0 ? $"{Word("edge")} {Word("place")}" : $"{i + 1}";
        return name
            + (Word("within").Length > 0 ? $" in {Word("within")}" : "")
            + (Word("division").Length > 0 ? $" of {Word("division")}" : "");
    }

    private static IEnumerable<(string Name, System.Type Type)> SettingsOf(System.Type type) =>
        type == typeof(Dress)
            ? DressForm.Settings.Select(s => (s.Name, s.Type))
            : LookPart.Of(type).Properties.Select(p => (p.Name, p.Type));

    private static bool IsPart(System.Type type) => type == typeof(Dress) || LookSettings.All.Keys.Any(k => k.Part == type);

    private static System.Type? ItemOf(System.Type list) => list.GetGenericArguments() is [var item] ? item : null;
}
