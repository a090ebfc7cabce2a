using System.Text.Json;
using Kivren.Core.Content;
using Kivren.Core.Selection;

namespace Kivren.Audit;

/// <summary>What a line of a contents list names: divisions of some kinds, or heads of a level, or what carries captions.</summary>
public sealed record ListedKind(string What, IReadOnlyList<DivisionKind>? Divisions = null, HeadLevel? Level = null, bool Named = false)
{
    public bool Numbered { get; init; } = true;
    public FolioPlace Folio { get; init; }

    /// <summary>Between title and folio.</summary>
    public string Separator { get; init; } = "";

    /// <summary>Lines of this kind stand in one paragraph, with dashes between.</summary>
    public bool RunsOn { get; init; }
}

/// <summary>A contents list: what it takes, and from how much of the manual.</summary>
public sealed record ListedList(IReadOnlyList<ListedKind> Kinds, ListScope Scope = ListScope.Manual)
{
    /// <summary>In the order of the titles: then each line is looked for wherever it stands.</summary>
    public bool Sorted { get; init; }
}

/// <summary>What a look promises, read from its file a second time and in another way: the audit knows nothing of how the engine reads
/// looks or composes with them, so that no mistake is shared.</summary>
public sealed class HouseRules
{
    private readonly Dictionary<string, PageRules> _masters = new(StringComparer.Ordinal);
    private readonly Dictionary<DivisionKind, JsonElement> _sequences = [];
    private readonly JsonElement _look;

    private HouseRules(JsonElement look, string? language)
    {
        _look = look;
        Words = LanguageWords.Of(language);
        foreach (var master in Items(look, "masters"))
            _masters.Add(
                Text(master, "name", ""),
                PageRules.Of(master, _masters.GetValueOrDefault(Text(master, "basedOn", ""))) with
                {
                    FromRight = LanguageWords.IsFromRight(language),
                }
            );
        if (look.TryGetProperty("sequences", out var sequences))
            foreach (var sequence in sequences.EnumerateObject())
                _sequences.Add(Enum.Parse<DivisionKind>(sequence.Name, ignoreCase: true), sequence.Value);
        Lists = Items(look, "lists").ToDictionary(l => Text(l, "name", ""), ListOf, StringComparer.Ordinal);
        var numbering = look.TryGetProperty("numbering", out var own) ? own : default;
        NumberedTo = Level(numbering, "headsTo", HeadLevel.A);
        CaptionsBy = Text(numbering, "captionsBy", "division");
        (CaptionSign, HeadSign) = (Text(numbering, "captionSign", "-"), Text(numbering, "headSign", "."));
        CountedIn = new Dictionary<DivisionKind, string>
        {
            [DivisionKind.Part] = Text(numbering, "parts", "romanCapitals"),
            [DivisionKind.Chapter] = Text(numbering, "chapters", "decimal"),
            [DivisionKind.Appendix] = Text(numbering, "appendices", "letters"),
        };
        ChaptersByPart = Yes(numbering, "chaptersByPart");
        Clauses = Yes(numbering, "clauses");
        TermsNumbered = Yes(numbering, "glossary");
        NotesInSeries = Yes(numbering, "notesInSeries");
        Part = Text(numbering, "part", "Part");
        Chapter = Text(numbering, "chapter", "Chapter");
        Appendix = Text(numbering, "appendix", "Appendix");
        Section = Text(numbering, "section", "Section");
        RunIn = Level(look, "runIn", null);
        var blocks = look.TryGetProperty("blocks", out var measures) ? measures : default;
        (TableCaptionBelow, ListingCaptionBelow) = (Yes(blocks, "tableCaptionBelow"), Yes(blocks, "listingCaptionBelow"));
    }

    /// <param name="look">a look's file</param>
    /// <param name="language">of the manual; null for English</param>
    public static HouseRules Of(string look, string? language = null)
    {
        using var document = JsonDocument.Parse(look);
        return new HouseRules(document.RootElement.Clone(), language);
    }

    /// <summary>What it prints by itself, in the language of the manual.</summary>
    public LanguageWords Words { get; }

    public HeadLevel? NumberedTo { get; }
    public HeadLevel? RunIn { get; }

    /// <summary>division, part or manual.</summary>
    public string CaptionsBy { get; }
    public string CaptionSign { get; }
    public string HeadSign { get; }

    /// <summary>decimal, romanCapitals, letters or none.</summary>
    public IReadOnlyDictionary<DivisionKind, string> CountedIn { get; }
    public bool ChaptersByPart { get; }
    public bool Clauses { get; }

    /// <summary>Terms of a glossary carry numbers.</summary>
    public bool TermsNumbered { get; }
    public bool NotesInSeries { get; }
    public string Part { get; }
    public string Chapter { get; }
    public string Appendix { get; }
    public string Section { get; }

    /// <summary>Captions that stand under what they name; else over it.</summary>
    public bool TableCaptionBelow { get; }
    public bool ListingCaptionBelow { get; }

    /// <summary>The opening prints the number alone where the kind has no name.</summary>
    public bool NumberInSide => Yes(_look, "numbersInSide");

    /// <summary>Each reference that does not name a page has it behind it.</summary>
    /// <summary>A division may wait for its side of the sheet.</summary>
    public bool Sided => !_look.TryGetProperty("sided", out var sided) || sided.ValueKind != JsonValueKind.False;

    /// <summary>The form that a reference reads in: one that has no page in this look reads as its like without.</summary>
    public string Form(string name) =>
        Items(_look, "referenceForms").FirstOrDefault(f => Text(f, "name", "") == name) is { ValueKind: JsonValueKind.Object } form
        && Text(form, "pattern", "") is var pattern
        && !pattern.Contains("{folio}", StringComparison.Ordinal)
        && !pattern.Contains("{page-phrase}", StringComparison.Ordinal)
            ? name switch
            {
                "page" or "title-page" or "title-phrase" => "title",
                "phrase" => "name-number",
                _ => name,
            }
            : name;

    public bool PageAfterReferences => Yes(_look, "pageAfterReferences");
    public bool NotesAtEnd => Text(_look, "notes", "foot") == "endOfDivision";
    public IReadOnlyDictionary<string, ListedList> Lists { get; }

    /// <summary>What a division is called, in its own language.</summary>
    public string KindName(Division division) =>
        LanguageWords
            .Of(division.Language)
            .Said(
                division.Kind switch
                {
                    DivisionKind.Part => Part,
                    DivisionKind.Chapter => Chapter,
                    DivisionKind.Appendix => Appendix,
                    _ => "",
                }
            );

    // ---- pages ----

    /// <summary>The layout of right-hand pages of a kind of division.</summary>
    public PageRules Page(DivisionKind kind) => Page(kind, recto: true, opens: false, ends: false);

    private JsonElement Choice(DivisionKind kind) =>
        _sequences.TryGetValue(kind, out var sequence) && sequence.TryGetProperty("pages", out var own) ? own
        : _look.TryGetProperty("pages", out var all) ? all
        : default;

    /// <summary>The layout that says what stands at the edges of turned pages of a kind of division.</summary>
    public PageRules Turned(DivisionKind kind) => Text(Choice(kind), "landscape", "") is { Length: > 0 } name ? _masters[name] : Page(kind);

    public PageRules Page(DivisionKind kind, bool recto, bool opens, bool ends)
    {
        var choice = Choice(kind);
        var right = Text(choice, "recto", "");
        string? Named(string place) => Text(choice, place, "") is { Length: > 0 } name ? name : null;
        return _masters[
            (
                opens ? Named("opening")
                : ends ? Named("last")
                : null
            ) ?? (recto ? right : Named("verso") ?? right)
        ];
    }

    /// <summary>Whether number and title stand at the head of a division of this kind.</summary>
    public bool Opens(DivisionKind kind) =>
        !_sequences.TryGetValue(kind, out var sequence) || !sequence.TryGetProperty("opens", out var opens) || opens.GetBoolean();

    /// <summary>Where divisions of this kind begin, and how their folios count and look: as the file says it.</summary>
    public (string Begins, string Name, string Format, string Count) Sequence(DivisionKind kind) =>
        _sequences.TryGetValue(kind, out var sequence)
            ? (Text(sequence, "begins", ""), Text(sequence, "name", ""), Text(sequence, "format", ""), Text(sequence, "count", ""))
            : ("newPage", "body", "decimal", "continues");

    /// <summary>The contents list that divisions of this kind begin with; null for none.</summary>
    public string? OpensWith(DivisionKind kind) =>
        _sequences.TryGetValue(kind, out var sequence) && Text(sequence, "contents", "") is { Length: > 0 } list ? list : null;

    /// <summary>What of the look changes the text itself.</summary>
    public TextRules Selecting =>
        new(
            OpensWith,
            Yes(_look, "repeatedTitlesLeftOut"),
            Enum.Parse<PrintedAddresses>(Text(_look, "webAddresses", nameof(PrintedAddresses.Nothing)), ignoreCase: true)
        );

    // ---- lists ----

    private static ListedList ListOf(JsonElement list) =>
        new([.. Items(list, "lines").Select(KindOf)], Enum.Parse<ListScope>(Text(list, "scope", "manual"), ignoreCase: true))
        {
            Sorted = Yes(list, "sorted"),
        };

    private static ListedKind KindOf(JsonElement line)
    {
        var kind = Text(line, "kind", "");
        var divisions = Items(line, "divisions").Select(d => Enum.Parse<DivisionKind>(d.GetString()!, ignoreCase: true)).ToList();
        var leads = !line.TryGetProperty("leader", out var leader) || leader.GetBoolean();
        return new ListedKind(
            kind is "division" or "head" ? kind : char.ToUpperInvariant(kind[0]) + kind[1..],
            divisions.Count > 0 ? divisions : null,
            Level(line, "level", null),
            Yes(line, "named")
        )
        {
            Numbered = !line.TryGetProperty("numbered", out var numbered) || numbered.GetBoolean(),
            Folio = Enum.Parse<FolioPlace>(Text(line, "folio", "after"), ignoreCase: true),
            Separator = leads && !Yes(line, "runIn") ? "" : Text(line, "separator", ""),
            RunsOn = Yes(line, "runIn"),
        };
    }

    // ---- values ----

    internal static IEnumerable<JsonElement> Items(JsonElement of, string name) =>
        of.ValueKind == JsonValueKind.Object && of.TryGetProperty(name, out var list) && list.ValueKind == JsonValueKind.Array
            ? list.EnumerateArray()
            : [];

    internal static string Text(JsonElement of, string name, string usual) =>
        of.ValueKind == JsonValueKind.Object && of.TryGetProperty(name, out var text) && text.ValueKind == JsonValueKind.String
            ? text.GetString()!
            : usual;

    private static bool Yes(JsonElement of, string name) =>
        of.ValueKind == JsonValueKind.Object && of.TryGetProperty(name, out var yes) && yes.ValueKind == JsonValueKind.True;

    private static HeadLevel? Level(JsonElement of, string name, HeadLevel? usual) =>
        of.ValueKind != JsonValueKind.Object || !of.TryGetProperty(name, out var level) ? usual
        : level.ValueKind == JsonValueKind.Null ? null
        : Enum.Parse<HeadLevel>(level.GetString()!, ignoreCase: true);
}
