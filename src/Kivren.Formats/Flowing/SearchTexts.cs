using System.Text.Encodings.Web;
using System.Text.Json;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Numbering;

namespace Kivren.Formats.Flowing;

/// <summary>What the search of a site looks through, section by section, and what its pop-ups say of terms: as scripts, for a page
/// that was opened from disk may read no other file.</summary>
internal static class SearchTexts
{
    private static readonly JsonSerializerOptions Options = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        // Inside a script of its own nothing but the characters of JSON itself need to be told apart.
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    private sealed record Section(int Id, string Address, string Title, string In, string Text);

    public static string Of(FlowingBook book, Func<Id, string> address)
    {
        var sections = new List<Section>();
        foreach (var numbers in book.Composed.Numbers.Divisions)
        {
            var division = numbers.Division;
            var (target, words) = (numbers.ById[division.Id], new List<string>());
            void Close()
            {
                var text = string.Join(' ', words);
                if (text.Length > 0 || target.Kind == TargetKind.Division)
                    sections.Add(
                        new Section(
                            sections.Count,
                            address(target.Id),
                            $"{target.Number} {target.Title}".Trim(),
                            target.Kind == TargetKind.Division ? "" : division.Title,
                            text
                        )
                    );
                words.Clear();
            }
            foreach (var block in division.Blocks)
            {
                if (block is Head { Printed: true } && numbers.ById.TryGetValue(block.Id, out var head))
                {
                    Close();
                    target = head;
                    continue;
                }
                words.AddRange(block.WithInner().SelectMany(b => Words(b, book.Composed)).Where(w => w.Length > 0));
            }
            Close();
        }
        return "window.kvSections = " + JsonSerializer.Serialize(sections, Options) + ";\n";
    }

    private static IEnumerable<string> Words(Block block, ComposedManual composed) =>
        block
            .OwnSpans()
            .Select(spans => string.Concat(Walk.Flat(spans).Select(composed.Printed)).Trim())
            .Concat(
                block switch
                {
                    Listing l => [l.Text],
                    Figure f => [f.Alternative],
                    ReferenceList r => r.Documents.Select(d => d.Designation),
                    _ => Array.Empty<string>(),
                }
            );

    /// <summary>What the glossary says of each term, by the name of its place; null when there is none.</summary>
    public static string? Terms(FlowingBook book)
    {
        var terms = new SortedDictionary<string, string>(StringComparer.Ordinal);
        foreach (
            var definition in book
                .Composed.Text.Divisions.SelectMany(d => d.Blocks)
                .OfType<DefinitionList>()
                .Where(l => l.Glossary)
                .SelectMany(l => l.Definitions)
        )
            terms.TryAdd(
                FlowingBook.NameOf(definition.Id),
                string.Join(' ', definition.Blocks.SelectMany(b => b.WithInner()).SelectMany(b => Words(b, book.Composed)))
            );
        return terms.Count == 0 ? null : "window.kvTerms = " + JsonSerializer.Serialize(terms, Options) + ";\n";
    }
}
