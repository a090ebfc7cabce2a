namespace Kivren.Core.Content;

/// <summary>The identity of a manual, division, block or inline atom: unique over the shelf, never used again.</summary>
public readonly record struct Id(string Value)
{
    public static readonly Id None = new("");
    public bool IsNone => string.IsNullOrEmpty(Value);

    public override string ToString() => Value;
}
