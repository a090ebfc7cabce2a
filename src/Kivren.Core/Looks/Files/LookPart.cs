using System.Collections.Concurrent;
using System.Reflection;
using System.Runtime.CompilerServices;

namespace Kivren.Core.Looks;

/// <summary>A setting of a part of a look as its record has it: a name in the file, what kind of value, what it is when not said.</summary>
/// <param name="Name">in the file</param>
/// <param name="IsNeeded">there is no look without it</param>
/// <param name="Usual">what it is when the file does not say</param>
internal sealed record LookProperty(string Name, System.Type Type, bool IsNeeded, object? Usual, PropertyInfo Info);

/// <summary>A kind of part of a look, such as the page or a line of a contents list: its settings in the order of the record. What a
/// file can say of it is what the record can hold, so neither can forget the other.</summary>
internal sealed class LookPart
{
    private static readonly ConcurrentDictionary<System.Type, LookPart> Parts = [];
    private static readonly NullabilityInfoContext Nullability = new();

    private readonly ConstructorInfo _constructor;
    private readonly ParameterInfo[] _parameters;

    private LookPart(System.Type type)
    {
        Type = type;
        _constructor = type.GetConstructors().OrderByDescending(c => c.GetParameters().Length).First();
        _parameters = _constructor.GetParameters();
        // The record as it is when nothing is said: only what needs no saying is read of it.
        var bare = _constructor.Invoke([.. _parameters.Select(p => p.HasDefaultValue ? Usual(p) : Nothing(p.ParameterType))]);
        Properties =
        [
            .. type.GetProperties(BindingFlags.Public | BindingFlags.Instance)
                .Where(p => p.SetMethod is not null)
                .Select(p =>
                {
                    var parameter = _parameters.FirstOrDefault(a => a.Name == p.Name);
                    var needed = parameter is { HasDefaultValue: false } || p.IsDefined(typeof(RequiredMemberAttribute));
                    return new LookProperty(InFile(p.Name), p.PropertyType, needed, needed ? null : p.GetValue(bare), p);
                }),
        ];
    }

    public System.Type Type { get; }
    public IReadOnlyList<LookProperty> Properties { get; }

    public static LookPart Of(System.Type type) => Parts.GetOrAdd(type, static t => new LookPart(t));

    /// <summary>Names in the file begin with a small letter.</summary>
    public static string InFile(string name) => char.ToLowerInvariant(name[0]) + name[1..];

    /// <summary>Whether null is a value of it.</summary>
    public static bool MayBeNull(PropertyInfo property)
    {
        lock (Nullability)
            return Nullability.Create(property).ReadState == NullabilityState.Nullable;
    }

    /// <summary>The part with these values; what is not among them is as in <paramref name="from"/>, or as usual.</summary>
    public object Make(IReadOnlyDictionary<string, object?> values, object? from = null)
    {
        object? Given(LookProperty property) =>
            values.TryGetValue(property.Name, out var value) ? value
            : from is not null ? property.Info.GetValue(from)
            : property.Usual;
        var part = _constructor.Invoke([.. _parameters.Select(p => Given(Properties.First(own => own.Info.Name == p.Name)))]);
        foreach (var property in Properties)
            if ((from is not null || values.ContainsKey(property.Name)) && _parameters.All(p => p.Name != property.Info.Name))
                property.Info.SetValue(part, Given(property));
        return part;
    }

    private static object? Usual(ParameterInfo parameter) =>
        parameter.DefaultValue is { } value && parameter.ParameterType.IsEnum
            ? Enum.ToObject(parameter.ParameterType, value)
            : parameter.DefaultValue ?? Nothing(parameter.ParameterType);

    private static object? Nothing(System.Type type) => type.IsValueType ? Activator.CreateInstance(type) : null;
}
