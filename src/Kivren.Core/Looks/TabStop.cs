namespace Kivren.Core.Looks;

public enum TabAlignment
{
    Left,
    Right,
    Centre,
    Decimal,
}

/// <summary>A place in a line to which a tab leads. A position of zero or less counts from the right of the measure.</summary>
/// <param name="Leader">the sign that fills the way, or null</param>
public readonly record struct TabStop(Length Position, TabAlignment Alignment = TabAlignment.Left, string? Leader = null);
