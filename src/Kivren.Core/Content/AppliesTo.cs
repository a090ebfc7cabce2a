namespace Kivren.Core.Content;

/// <summary>The conditions under which a block or division is taken: on each axis named, one of its values must be
/// chosen by the edition. An empty list applies always.</summary>
public sealed record AppliesTo(IReadOnlyList<AxisValues> Axes)
{
    public static readonly AppliesTo Always = new([]);
    public bool IsAlways => Axes.Count == 0;

    /// <summary>Whether both name the same values on the same axes, in the same order.</summary>
    public bool Equals(AppliesTo? other) => ReferenceEquals(this, other) || (other is not null && Axes.SequenceEqual(other.Axes));

    public override int GetHashCode() => Axes.Count == 0 ? 0 : HashCode.Combine(Axes.Count, Axes[0]);

    /// <summary>Whether an edition that chose <paramref name="chosen"/> takes what carries this. An axis on which the
    /// edition chose nothing shuts nothing out.</summary>
    public bool Admits(IReadOnlyList<AxisValues> chosen)
    {
        foreach (var axis in Axes)
        {
            var choice = chosen.FirstOrDefault(c => c.Axis == axis.Axis);
            if (choice is not null && !axis.Values.Any(choice.Values.Contains))
                return false;
        }
        return true;
    }
}

/// <summary>Values named on one axis, such as model: 6, 6E.</summary>
public sealed record AxisValues(string Axis, IReadOnlyList<string> Values)
{
    public bool Equals(AxisValues? other) =>
        other is not null && Axis == other.Axis && Values.SequenceEqual(other.Values, StringComparer.Ordinal);

    public override int GetHashCode() => Axis.GetHashCode(StringComparison.Ordinal);
}
