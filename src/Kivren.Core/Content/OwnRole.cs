namespace Kivren.Core.Content;

/// <summary>A role of the manual's own. It behaves like its foundation, has a name of its own, and wears the foundation's
/// dress unless the look has one for it.</summary>
/// <param name="Foundation">a paragraph role (body, lead …), a block kind (aside, admonition:warning …) or a span role
/// (control, code …), by the name that the package gives it</param>
public sealed record OwnRole(string Name, string Foundation);
