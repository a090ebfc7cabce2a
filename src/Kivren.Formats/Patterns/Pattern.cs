using Kivren.Core.Content;

namespace Kivren.Formats.Patterns;

/// <summary>What a new manual of a kind starts from: a manual whose variables are asked for,
/// and whose text may be fixed.</summary>
/// <param name="Says">for whom it is, in a sentence</param>
/// <param name="Asks">variables to fill in, with what is asked</param>
public sealed record Pattern(string Name, string Says, Package.Package Package, IReadOnlyList<AskedVariable> Asks)
{
    /// <summary>A new manual from this pattern: ids of its own, the title and variables given, fixed text marked as such.</summary>
    public Package.Package NewManual(string title, IReadOnlyDictionary<string, string> given, Func<string> fresh)
    {
        var renewed = Formats.Package.IdRenewal.Renew(Package.Manual, fresh);
        var variables = renewed
            .Variables.Select(v => given.TryGetValue(v.Name, out var text) && text.Trim().Length > 0 ? v with { Text = text.Trim() } : v)
            .ToArray();
        return Package with
        {
            Manual = renewed with
            {
                Title = title,
                Variables = variables,
                Divisions = renewed
                    .Divisions.Select(d =>
                        d.Kind is DivisionKind.TitlePage or DivisionKind.HalfTitle
                            ? d with
                            {
                                Blocks = d
                                    .Blocks.Select(b =>
                                        b is Paragraph { Role: "title", FixedBy: null } p ? p with { Content = [new TextRun(title)] } : b
                                    )
                                    .ToArray(),
                            }
                            : d
                    )
                    .ToArray(),
            },
        };
    }
}

/// <summary>A variable that the form asks for.</summary>
public sealed record AskedVariable(string Name, string Label);
