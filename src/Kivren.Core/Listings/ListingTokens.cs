using System.Collections.Concurrent;
using TextMateSharp.Grammars;
using TextMateSharp.Registry;

namespace Kivren.Core.Listings;

/// <summary>What a stretch of program text is, as far as it is shown.</summary>
public enum TokenKind
{
    Plain,
    Comment,
    Text,
    Number,
    Keyword,
    Name,
}

/// <summary>A stretch of one line.</summary>
public readonly record struct ListingToken(int Start, int End, TokenKind Kind);

/// <summary>Tells the parts of program text apart by the grammars of its language.</summary>
public static class ListingTokens
{
    /// <summary>Longer lines, as machines write them, are not looked into.</summary>
    private const int LongestLine = 2_000;

    private static readonly RegistryOptions Options = new(ThemeName.Light);
    private static readonly Registry Registry = new(Options);
    private static readonly ConcurrentDictionary<string, IGrammar?> Grammars = new(StringComparer.OrdinalIgnoreCase);
    private static readonly Lock Gate = new();

    private static readonly (string Scope, TokenKind Kind)[] Scopes =
    [
        ("comment", TokenKind.Comment),
        ("string", TokenKind.Text),
        ("constant", TokenKind.Number),
        ("entity.name.section", TokenKind.Keyword),
        ("keyword.operator", TokenKind.Plain),
        ("keyword.other.definition", TokenKind.Name),
        ("keyword", TokenKind.Keyword),
        ("storage", TokenKind.Keyword),
        ("entity.name.tag", TokenKind.Keyword),
        ("support.type.property-name", TokenKind.Name),
        ("entity.name", TokenKind.Name),
    ];

    private static IGrammar? Grammar(string language) => Grammars.GetOrAdd(language, static name =>
        {
            var scope = Options.GetScopeByLanguageId(name.ToLowerInvariant()) ?? Options.GetScopeByExtension("." + name.ToLowerInvariant());
            return string.IsNullOrEmpty(scope) ? null : Registry.LoadGrammar(scope);
        });

    /// <summary>The tokens of each line; one plain token a line for a language that no grammar ships for.</summary>
    public static IReadOnlyList<ListingToken>[] Of(IReadOnlyList<string> lines, string language)
    {
        var found = new IReadOnlyList<ListingToken>[lines.Count];
        lock (Gate)
        {
            var grammar = language.Length == 0 ? null : Grammar(language);
            IStateStack? state = null;
            for (var l = 0; l < lines.Count; l++)
            {
                var line = lines[l];
                if (grammar is null || line.Length is 0 or > LongestLine)
                {
                    found[l] = line.Length == 0 ? [] : [new ListingToken(0, line.Length, TokenKind.Plain)];
                    continue;
                }
                // Without a limit of time: what is found must not depend on the machine.
                var result = grammar.TokenizeLine(line, state, TimeSpan.MaxValue);
                state = result.RuleStack;
                found[l] = result
                    .Tokens.Select(t => new ListingToken(t.StartIndex, Math.Min(t.EndIndex, line.Length), KindOf(t.Scopes)))
                    .Where(t => t.End > t.Start)
                    .ToArray();
            }
        }
        return found;
    }

    /// <summary>By the innermost scope that says something; a name in quotation marks is a name.</summary>
    private static TokenKind KindOf(List<string> scopes)
    {
        for (var s = scopes.Count - 1; s >= 1; s--)
            foreach (var (scope, kind) in Scopes)
                if (scopes[s].StartsWith(scope, StringComparison.Ordinal))
                    return kind;
        return TokenKind.Plain;
    }
}
