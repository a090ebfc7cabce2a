using System.Collections;
using System.Text.Json;
using Kivren.Core.Content;

namespace Kivren.Core.Looks;

/// <summary>Writes a look as its file: what is as usual, or as its foundation has it, is not said.</summary>
internal static class LookWriter
{
    /// <summary>One value as the file would have it.</summary>
    public static string Text(object value)
    {
        using var output = new MemoryStream();
        using (var json = new Utf8JsonWriter(output))
            Value(json, value);
        return System.Text.Encoding.UTF8.GetString(output.ToArray());
    }

    /// <param name="from">what is as it is there is not said; null for what is usual</param>
    public static void Settings(Utf8JsonWriter json, object part, object? from = null)
    {
        foreach (var property in LookPart.Of(part.GetType()).Properties)
        {
            var value = property.Info.GetValue(part);
            if (from is not null ? Same(value, property.Info.GetValue(from)) : !property.IsNeeded && Same(value, property.Usual))
                continue;
            json.WritePropertyName(property.Name);
            if (value is IReadOnlyList<DressRule> rules)
                Dresses(json, rules);
            else if (value is IReadOnlyList<PageMaster> masters)
                Masters(json, masters);
            else
                Value(json, value);
        }
    }

    private static void Part(Utf8JsonWriter json, object part, object? from = null)
    {
        json.WriteStartObject();
        Settings(json, part, from);
        json.WriteEndObject();
    }

    private static void Masters(Utf8JsonWriter json, IReadOnlyList<PageMaster> masters)
    {
        json.WriteStartArray();
        for (var m = 0; m < masters.Count; m++)
            Part(json, masters[m], masters.Take(m).FirstOrDefault(b => b.Name == masters[m].BasedOn));
        json.WriteEndArray();
    }

    private static void Value(Utf8JsonWriter json, object? value)
    {
        switch (value)
        {
            case null:
                json.WriteNullValue();
                break;
            case Length length:
                var (points, text) = LookMeasure.Write(length);
                if (points is { } number)
                    json.WriteNumberValue(number);
                else
                    json.WriteStringValue(text);
                break;
            case bool yes:
                json.WriteBooleanValue(yes);
                break;
            case int whole:
                json.WriteNumberValue(whole);
                break;
            case string words:
                json.WriteStringValue(words);
                break;
            case Enum choice:
                json.WriteStringValue(LookPart.InFile(choice.ToString()));
                break;
            case Dress dress:
                Dress(json, dress, null);
                break;
            case IReadOnlyDictionary<DivisionKind, PageSequence> sequences:
                json.WriteStartObject();
                foreach (var (kind, sequence) in sequences.OrderBy(s => s.Key))
                {
                    json.WritePropertyName(LookPart.InFile(kind.ToString()));
                    Part(json, sequence);
                }
                json.WriteEndObject();
                break;
            case IEnumerable list:
                json.WriteStartArray();
                foreach (var item in list)
                    Value(json, item);
                json.WriteEndArray();
                break;
            default:
                Part(json, value);
                break;
        }
    }

    private static void Dresses(Utf8JsonWriter json, IReadOnlyList<DressRule> rules)
    {
        json.WriteStartArray();
        for (var r = 0; r < rules.Count; r++)
        {
            json.WriteStartObject();
            json.WriteString("role", rules[r].Role);
            foreach (var property in LookPart.Of(typeof(DressRule)).Properties.Where(p => p.Name is not ("role" or "dress")))
                if (property.Info.GetValue(rules[r]) is { } value)
                {
                    json.WritePropertyName(property.Name);
                    Value(json, value);
                }
            json.WritePropertyName("dress");
            Dress(json, rules[r].Dress, DressForm.Foundation(rules.Take(r), rules[r].Role));
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    private static void Dress(Utf8JsonWriter json, Dress dress, Dress? from)
    {
        json.WriteStartObject();
        foreach (var setting in DressForm.Settings)
        {
            var value = setting.Get(dress);
            if (from is not null ? Same(value, setting.Get(from)) : !setting.IsNeeded && Same(value, setting.Usual))
                continue;
            json.WritePropertyName(setting.Name);
            Value(json, value);
        }
        json.WriteEndObject();
    }

    private static bool Same(object? a, object? b) =>
        Equals(a, b) || (a is IList x && b is IList y && x.Count == y.Count && x.Cast<object>().SequenceEqual(y.Cast<object>()));
}
