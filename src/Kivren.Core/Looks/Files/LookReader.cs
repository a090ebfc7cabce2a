using System.Text.Json;
using Kivren.Core.Content;

namespace Kivren.Core.Looks;

/// <summary>Reads a part of a look and all in it. Every value that cannot be is told with its place; what is well is read on.</summary>
internal sealed class LookReader(List<LookFault> faults)
{
    private const int MostItems = 200;

    /// <summary>Stands for a value that could not be read.</summary>
    private static readonly object Unread = new();

    private void Fault(string place, string says) => faults.Add(new LookFault(place, says));

    /// <param name="beside">names that stand beside the settings</param>
    public object? Part(System.Type type, JsonElement json, string place, params string[] beside) => Part(type, json, place, null, beside);

    /// <param name="from">what is not said is as it is there; null for what is usual</param>
    private object? Part(System.Type type, JsonElement json, string place, object? from, string[] beside)
    {
        if (json.ValueKind != JsonValueKind.Object)
        {
            Fault(place, $"Here stands a part with its settings in braces, not {Said(json)}.");
            return Unread;
        }
        var part = LookPart.Of(type);
        var values = new Dictionary<string, object?>(StringComparer.Ordinal);
        var seen = new HashSet<string>(StringComparer.Ordinal);
        var well = true;
        var settings = json.EnumerateObject();
        foreach (
            var given in type == typeof(Look)
                ? settings.OrderBy(g => Array.IndexOf(Named, g.Name) is var at and >= 0 ? at : Named.Length)
                : settings.AsEnumerable()
        )
        {
            var at = At(place, given.Name);
            if (!seen.Add(given.Name))
                Fault(at, "This stands here twice.");
            else if (part.Properties.FirstOrDefault(p => p.Name == given.Name) is { } property)
            {
                var value =
                    given.Value.ValueKind == JsonValueKind.Null && LookPart.MayBeNull(property.Info) ? null
                    : type == typeof(Look) && property.Name == "dresses" ? Dresses(given.Value, at)
                    : type == typeof(Look) && property.Name == "masters" ? Masters(given.Value, at)
                    : Value(property.Type, given.Value, at, LookSettings.Of(type, property.Name), DressForm.PlaceOf(type, property.Name));
                value = Known(property.Name, value, at);
                well &= !ReferenceEquals(value, Unread);
                values[property.Name] = value;
                _palette = value switch
                {
                    IReadOnlyList<HouseFace> faces => _palette with { HouseFaces = faces },
                    IReadOnlyList<NamedColour> colours => _palette with { Colours = colours },
                    IReadOnlyList<SpanDress> spans => _palette with { Spans = spans },
                    string links when property.Name == "linkColour" => _palette with { Links = links },
                    _ => _palette,
                };
            }
            else if (!beside.Contains(given.Name))
                Fault(at, $"There is no such setting.{Near(given.Name, part)}");
        }
        foreach (var property in part.Properties.Where(p => p.IsNeeded && from is null && !seen.Contains(p.Name)))
        {
            Fault(At(place, property.Name), "This is missing.");
            well = false;
        }
        return well ? part.Make(values, from) : Unread;
    }

    /// <summary>What other parts name is read before them, wherever it stands.</summary>
    private static readonly string[] Named = ["faces", "colours", "linkColour", "spans"];

    private LookPalette _palette = LookPalette.Bare;

    /// <summary>A face or a colour that is named is there.</summary>
    private object? Known(string setting, object? value, string place)
    {
        if (value is not string name)
            return value;
        if (setting == "face" && _palette.Face(name) is null)
        {
            var all = HouseFaces.Of(_palette.HouseFaces).Select(f => f.Name);
            Fault(place, $"There is no face “{name}”. There are {string.Join(", ", all)}.");
            return Unread;
        }
        if (!setting.EndsWith("olour", StringComparison.Ordinal) || _palette.Colours.Any(c => c.Name == name))
            return value;
        var colours =
            _palette.Colours.Count == 0
                ? "The look has none yet."
                : $"There are {string.Join(", ", _palette.Colours.Select(c => c.Name))}.";
        Fault(place, $"There is no colour “{name}”. {colours}");
        return Unread;
    }

    /// <summary>Whether a part that was read is there.</summary>
    public static bool IsRead(object? value) => !ReferenceEquals(value, Unread);

    private static string At(string place, string name) => place.Length == 0 ? name : $"{place}.{name}";

    private static string Near(string name, LookPart part)
    {
        var near = part.Properties.FirstOrDefault(p => p.Name.Equals(name, StringComparison.OrdinalIgnoreCase));
        return near is not null ? $" Is “{near.Name}” meant?"
            : part.Properties.Count <= 14 ? $" There are {string.Join(", ", part.Properties.Select(p => p.Name))}."
            : "";
    }

    /// <summary>The text of a value; null where it is none, or holds half a character.</summary>
    private static string? Words(JsonElement json)
    {
        try
        {
            return json.ValueKind == JsonValueKind.String ? json.GetString() : null;
        }
        catch (InvalidOperationException)
        {
            return null;
        }
    }

    private static string Said(JsonElement json)
    {
        var text = json.GetRawText();
        return text.Length > 40 ? text[..40] + "…" : text;
    }

    private object? Value(System.Type type, JsonElement json, string place, LookSetting setting, DressPlace dressed = DressPlace.Words)
    {
        type = Nullable.GetUnderlyingType(type) ?? type;
        if (type == typeof(Length))
            return Measure(json, place, setting);
        if (type == typeof(bool))
            return json.ValueKind is JsonValueKind.True or JsonValueKind.False ? json.GetBoolean() : Wrong(json, place, "true or false");
        if (type == typeof(int))
            return json.ValueKind != JsonValueKind.Number || !json.TryGetInt32(out var number) ? Wrong(json, place, "a whole number")
                : number < setting.Least || number > setting.Most ? Outside(json, place, setting, "")
                : number;
        if (type == typeof(string))
            return Text(json, place, (int)setting.Most);
        if (type.IsEnum)
            return Choice(type, json, place);
        if (type == typeof(Dress))
            return DressOf(json, place, null, dressed);
        if (type == typeof(IReadOnlyDictionary<DivisionKind, PageSequence>))
            return ByKind(json, place);
        if (type.IsGenericType && type.GetGenericTypeDefinition() == typeof(IReadOnlyList<>))
            return List(type.GetGenericArguments()[0], json, place, setting, dressed);
        return Part(type, json, place);
    }

    private object Wrong(JsonElement json, string place, string wanted)
    {
        Fault(place, $"Here stands {wanted}, not {Said(json)}.");
        return Unread;
    }

    private object Outside(JsonElement json, string place, LookSetting setting, string unit)
    {
        Fault(place, $"{setting.Words}: from {Number(setting.Least)} to {Number(setting.Most)}{unit}, not {Said(json)}.");
        return Unread;
    }

    private static string Number(double value) => value.ToString("#,0.##", System.Globalization.CultureInfo.InvariantCulture);

    private object Measure(JsonElement json, string place, LookSetting setting)
    {
        var length =
            json.ValueKind == JsonValueKind.Number && json.TryGetDouble(out var points) && Math.Abs(points) <= LookMeasure.Most
                ? Length.Points(points)
            : Words(json) is { } text ? LookMeasure.Read(text)
            : null;
        return length is not { } read ? Wrong(json, place, LookMeasure.Words)
            : read.InPoints < setting.Least || read.InPoints > setting.Most ? Outside(json, place, setting, " points")
            : read;
    }

    private object Text(JsonElement json, string place, int most)
    {
        if (Words(json) is not { } text)
            return Wrong(json, place, "a text in quotation marks");
        if (text.Length <= most && !text.Any(char.IsControl))
            return text;
        Fault(place, $"A text here has up to {Number(most)} letters, and no signs that steer a machine.");
        return Unread;
    }

    private object Choice(System.Type type, JsonElement json, string place)
    {
        var names = Enum.GetNames(type);
        if (Words(json) is { } said && names.FirstOrDefault(n => LookPart.InFile(n) == said) is { } name)
            return Enum.Parse(type, name);
        return Wrong(json, place, $"one of {string.Join(", ", names.Select(n => $"\"{LookPart.InFile(n)}\""))}");
    }

    private object List(System.Type of, JsonElement json, string place, LookSetting setting, DressPlace dressed)
    {
        if (json.ValueKind != JsonValueKind.Array)
            return Wrong(json, place, "a list in brackets");
        if (json.GetArrayLength() > MostItems)
        {
            Fault(place, $"There are up to {MostItems} here.");
            return Unread;
        }
        var items = json.EnumerateArray().Select((item, i) => Value(of, item, $"{place}[{i}]", setting, dressed)).ToList();
        if (!items.TrueForAll(IsRead))
            return Unread;
        var list = Array.CreateInstance(of, items.Count);
        for (var i = 0; i < items.Count; i++)
            list.SetValue(items[i], i);
        return list;
    }

    private object ByKind(JsonElement json, string place)
    {
        if (json.ValueKind != JsonValueKind.Object)
            return Wrong(json, place, "a part with a setting for each kind of division");
        var sequences = new Dictionary<DivisionKind, PageSequence>();
        var well = true;
        foreach (var given in json.EnumerateObject())
        {
            var at = At(place, given.Name);
            var kind = Enum.GetValues<DivisionKind>().Where(k => LookPart.InFile(k.ToString()) == given.Name).ToList();
            if (kind.Count == 0)
                Fault(
                    at,
                    $"There is no such kind of division: {string.Join(", ", Enum.GetNames<DivisionKind>().Select(LookPart.InFile))}."
                );
            else if (Part(typeof(PageSequence), given.Value, at) is not PageSequence sequence)
                well = false;
            else if (!sequences.TryAdd(kind[0], sequence))
                Fault(at, "This stands here twice.");
        }
        return well ? sequences : Unread;
    }

    /// <summary>Page layouts: what one does not say it has of the one that it is based on, which stands before it.</summary>
    private object Masters(JsonElement json, string place)
    {
        if (json.ValueKind != JsonValueKind.Array || json.GetArrayLength() > MostItems)
            return Wrong(json, place, $"a list of up to {MostItems} page layouts in brackets");
        var masters = new List<PageMaster>();
        var well = true;
        foreach (var item in json.EnumerateArray())
        {
            var at = $"{place}[{masters.Count}]";
            PageMaster? from = null;
            if (
                item.ValueKind == JsonValueKind.Object
                && item.TryGetProperty("basedOn", out var based)
                && Words(based) is { } name
                && (from = masters.Find(m => m.Name == name)) is null
            )
            {
                Fault(
                    At(at, "basedOn"),
                    item.TryGetProperty("name", out var own) && Words(own) == name
                        ? $"A page layout cannot be based on itself."
                        : $"No page layout “{name}” stands before this one. What another is based on stands before it, "
                            + "so that none is based on itself."
                );
                return Unread;
            }
            if (Part(typeof(PageMaster), item, at, from, []) is PageMaster master && master.Name.Length > 0)
                masters.Add(master);
            else
            {
                // What is based on it cannot be read; its faults would be those of this one again.
                well = false;
                break;
            }
        }
        return well ? masters.ToArray() : Unread;
    }

    /// <summary>The dress of each role: what one does not say it has of its role wherever it stands, or of the text.</summary>
    private object Dresses(JsonElement json, string place)
    {
        if (json.ValueKind != JsonValueKind.Array)
            return Wrong(json, place, "a list in brackets");
        if (json.GetArrayLength() > MostItems)
            return Wrong(json, place, $"up to {MostItems} roles");
        var rules = new List<DressRule>();
        var well = true;
        var i = -1;
        foreach (var item in json.EnumerateArray())
        {
            var at = $"{place}[{++i}]";
            if (item.ValueKind != JsonValueKind.Object || !item.TryGetProperty("dress", out var dress))
            {
                Fault(at, $"A role has its name and its dress.");
                well = false;
                continue;
            }
            var named = new Dictionary<string, object?>(StringComparer.Ordinal);
            foreach (var given in item.EnumerateObject().Where(g => g.Name != "dress"))
            {
                var own = At(at, given.Name);
                if (LookPart.Of(typeof(DressRule)).Properties.FirstOrDefault(p => p.Name == given.Name) is { } property)
                    named[given.Name] =
                        given.Value.ValueKind == JsonValueKind.Null && LookPart.MayBeNull(property.Info)
                            ? null
                            : Value(property.Type, given.Value, own, LookSettings.Of(typeof(DressRule), given.Name));
                else
                    Fault(own, $"There is no such setting.{Near(given.Name, LookPart.Of(typeof(DressRule)))}");
            }
            if (!named.TryGetValue("role", out var role) || role is not string name || named.ContainsValue(Unread))
            {
                if (!named.ContainsKey("role"))
                    Fault(At(at, "role"), "This is missing.");
                well = false;
                continue;
            }
            if (DressOf(dress, At(at, "dress"), DressForm.Foundation(rules, name), DressPlace.Block) is Dress made)
            {
                named["dress"] = made;
                rules.Add((DressRule)LookPart.Of(typeof(DressRule)).Make(named));
            }
            else
                well = false;
        }
        return well ? rules.ToArray() : Unread;
    }

    /// <param name="from">what is not said is as it is there; null for what is usual</param>
    private object DressOf(JsonElement json, string place, Dress? from, DressPlace dressed)
    {
        if (json.ValueKind != JsonValueKind.Object)
            return Wrong(json, place, "a dress with its settings in braces");
        var values = new Dictionary<string, object?>(StringComparer.Ordinal);
        var well = true;
        foreach (var given in json.EnumerateObject())
        {
            var at = At(place, given.Name);
            if (values.ContainsKey(given.Name))
                Fault(at, "This stands here twice.");
            else if (DressForm.At(dressed).FirstOrDefault(s => s.Name == given.Name) is not { } setting)
                Fault(at, $"There is no such setting here. There are {string.Join(", ", DressForm.At(dressed).Select(s => s.Name))}.");
            else
            {
                var value =
                    given.Value.ValueKind == JsonValueKind.Null && setting.MayBeNull
                        ? null
                        : Known(setting.Name, Value(setting.Type, given.Value, at, LookSettings.Of(typeof(Dress), given.Name)), at);
                well &= IsRead(value);
                values[given.Name] = value;
            }
        }
        foreach (var setting in DressForm.At(dressed).Where(s => s.IsNeeded && from is null && !values.ContainsKey(s.Name)))
        {
            Fault(At(place, setting.Name), "This is missing.");
            well = false;
        }
        if (!well)
            return Unread;
        var dress = DressForm.Make(values, from, _palette);
        if (dress.Leading.Millipoints >= dress.Size.Millipoints * 4L / 5)
            return dress;
        Fault(place, $"Lines {Number(dress.Leading.InPoints)} points apart cannot hold letters of {Number(dress.Size.InPoints)} points.");
        return Unread;
    }
}
