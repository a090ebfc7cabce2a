using System.Text.Json.Nodes;
using Kivren.Core.Looks;

namespace Kivren.Formats.Generator;

/// <summary>Changes of a look at random, of any setting that its file says or could say: what a designer may turn on. The same random
/// numbers make the same change.</summary>
public static class RandomLook
{
    private static IReadOnlyList<FaceSet> Faces => FaceSet.Shipped;

    /// <summary>The look with one value changed; the same look where the value that came out cannot be worn.</summary>
    /// <param name="said">what was changed, in words</param>
    public static Look Changed(Look look, Random random, out string said)
    {
        var root = JsonNode.Parse(LookFile.Write(look))!.AsObject();
        var settings = new List<(JsonObject Part, SettingForm Form, string Place)>();
        Collect(settings, root, "look", "");
        var (part, form, place) = settings[random.Next(settings.Count)];
        part[form.Name] = form.Kind switch
        {
            "face" => Faces[random.Next(Faces.Count)].Name,
            "colour" => look.Colours.Count == 0 ? null : look.Colours[random.Next(look.Colours.Count)].Name,
            _ => Value(form, part[form.Name] ?? (form.Usual is { } usual ? JsonNode.Parse(usual) : null), random),
        };
        said = $"{place}{form.Name} = {part[form.Name]?.ToJsonString() ?? "null"}";
        return LookFile.Read(root.ToJsonString(), out _) ?? look;
    }

    /// <summary>All settings of one value, said or not.</summary>
    private static void Collect(List<(JsonObject, SettingForm, string)> settings, JsonObject part, string of, string place)
    {
        foreach (var form in LookForm.Parts[of])
            switch (form.Kind)
            {
                case "measure" or "number" or "yes" or "choice" or "face" or "colour" when form.Name is not ("kind" or "scope"):
                    settings.Add((part, form, place));
                    break;
                case "dress" or "part" when part[form.Name] is JsonObject inner:
                    Collect(settings, inner, form.Of, $"{place}{form.Name}.");
                    break;
                case "sequences":
                    foreach (var (kind, sequence) in part[form.Name]!.AsObject())
                        Collect(settings, sequence!.AsObject(), form.Of, $"{place}{kind}.");
                    break;
                case "list" when form.Of is not ("text" or "choice") && part[form.Name] is JsonArray list:
                    for (var i = 0; i < list.Count; i++)
                        Collect(settings, list[i]!.AsObject(), form.Of, $"{place}{form.Name}[{i}].");
                    break;
            }
    }

    private static JsonNode? Value(SettingForm form, JsonNode? was, Random random)
    {
        double Near(double value, double least) =>
            Math.Clamp(value + (random.NextDouble() - .5) * Math.Max(6 * form.Step, value * .3), least, form.Most);
        return form.Kind switch
        {
            "yes" => was is null || !was.GetValue<bool>(),
            "choice" => form.Choices[random.Next(form.Choices.Count)],
            "number" => (int)Math.Round(Math.Clamp((was?.GetValue<int>() ?? 0) + random.Next(-2, 3), form.Least, form.Most)),
            // What is said in another unit is said in points from then on.
            _ => Math.Round(Near(was is JsonValue value && value.TryGetValue(out double points) ? points : form.Least + 10, form.Least), 2),
        };
    }
}
