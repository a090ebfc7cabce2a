using Kivren.Core.Content;

namespace Kivren.Core.Looks;

/// <summary>How words of a span role appear, in whatever text they stand. What is not said is as the text's own face has it.</summary>
/// <param name="Role">a span role, such as control, or one of the manual's own</param>
public sealed record SpanDress(string Role)
{
    /// <summary>Name of a face; null for that of the text.</summary>
    public string? Face { get; init; }

    /// <summary>In hundredths of the text's size; 0 as usual.</summary>
    public int Size { get; init; }
    public bool SmallCapitals { get; init; }
    public bool Capitals { get; init; }

    /// <summary>Name of a colour; null for that of the text.</summary>
    public string? Colour { get; init; }

    public bool Fits(SpanRoles roles, string? own) => Role == own || (Kinds.TryGetValue(Role, out var kind) && (roles & kind) != 0);

    /// <summary>The span roles that can be dressed, by their names.</summary>
    public static readonly IReadOnlyDictionary<string, SpanRoles> Kinds = new[]
    {
        SpanRoles.Emphasis,
        SpanRoles.Strong,
        SpanRoles.Term,
        SpanRoles.Foreign,
        SpanRoles.Product,
        SpanRoles.Control,
        SpanRoles.Key,
        SpanRoles.Code,
        SpanRoles.PartNumber,
    }.ToDictionary(k => char.ToLowerInvariant(k.ToString()[0]) + k.ToString()[1..], StringComparer.Ordinal);
}
