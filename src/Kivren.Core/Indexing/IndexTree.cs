using Kivren.Core.Content;

namespace Kivren.Core.Indexing;

/// <summary>An entry of the text gathered for the index, with its division and the block it stands in.</summary>
public sealed record GatheredEntry(IndexEntry Entry, Id Division, Id Block, EntryPlace In);

/// <summary>What kind of block an entry stands in, as far as the index minds.</summary>
public enum EntryPlace
{
    Text,
    Illustration,
    Head,
    Listing,
}

/// <summary>A heading with what stands under it.</summary>
public sealed class IndexHeading(string text, string files, Collation collation)
{
    public string Text { get; } = text;

    /// <summary>What it is sorted by.</summary>
    public string Files { get; set; } = files;
    private string? _group;

    /// <summary>The group head it stands under.</summary>
    public string Group => _group ??= collation.Group(Files);
    public List<IndexHeading> Under { get; } = [];
    public List<IndexPlace> Places { get; } = [];
    public SortedSet<string> See { get; } = new(Comparer<string>.Create(collation.Compare));
    public SortedSet<string> SeeAlso { get; } = new(Comparer<string>.Create(collation.Compare));
}

/// <summary>Where an entry is: a point, or a range from one atom to another.</summary>
/// <param name="EndDivision">the division of the range-end atom of the same id, or none for a point</param>
public readonly record struct IndexPlace(Id Start, Id Division, Id EndDivision, bool Principal, bool Illustration = false)
{
    public bool IsRange => !EndDivision.IsNone;
}

/// <summary>All headings of the selected text, sorted. It depends on the text alone, not on pages.</summary>
public sealed class IndexTree
{
    public List<IndexHeading> Headings { get; } = [];
    public List<GatheredEntry> Entries { get; } = [];

    /// <summary>What points at headings that this edition leaves out.</summary>
    public IReadOnlyList<SeeLeftOut> LeftOut { get; private set; } = [];

    /// <summary>The key of the end of a range in the marks of a galley; both ends share one id.</summary>
    public static Id EndOf(Id range) => new(range.Value + "⟩");

    private Dictionary<Id, GatheredEntry>? _byEntry;

    /// <summary>Where each entry stands, by its identity; a range where it begins.</summary>
    public IReadOnlyDictionary<Id, GatheredEntry> ByEntry
    {
        get
        {
            if (_byEntry is not null)
                return _byEntry;
            var by = new Dictionary<Id, GatheredEntry>(Entries.Count);
            foreach (var entry in Entries)
                if (entry.Entry.Kind != EntryKind.RangeEnd)
                    by.TryAdd(entry.Entry.Id, entry);
            return _byEntry = by;
        }
    }

    private (Id Division, Id Atom)[]? _slots;
    private Dictionary<Id, int[]>? _slotsIn;

    /// <summary>What the index asks the pages of, in the order of the headings: one atom for a point, two for a range.</summary>
    private (Id Division, Id Atom)[] Slots
    {
        get
        {
            if (_slots is not null)
                return _slots;
            var slots = new List<(Id, Id)>(Entries.Count);
            void Add(IndexHeading heading)
            {
                foreach (var place in heading.Places)
                {
                    slots.Add((place.Division, place.Start));
                    if (place.IsRange)
                        slots.Add((place.EndDivision, EndOf(place.Start)));
                }
                foreach (var under in heading.Under)
                    Add(under);
            }
            foreach (var heading in Headings)
                Add(heading);
            return _slots = [.. slots];
        }
    }

    /// <summary>Where each place of each heading stands, in the order of the headings: a page for a point, two for a range.</summary>
    internal LocatedPage[] Places(Func<Id, Id, LocatedPage> locate) => [.. Slots.Select(s => locate(s.Division, s.Atom))];

    /// <summary>Whether all that is asked of a division stands where it stood.</summary>
    internal bool StandsAsBefore(Id division, LocatedPage[] places, Func<Id, Id, LocatedPage> locate)
    {
        _slotsIn ??= Slots.Select((s, i) => (s.Division, i)).GroupBy(s => s.Division, s => s.i).ToDictionary(g => g.Key, g => g.ToArray());
        foreach (var slot in _slotsIn.GetValueOrDefault(division) ?? [])
            if (locate(division, Slots[slot].Atom) != places[slot])
                return false;
        return true;
    }

    /// <param name="divisions">the entries of each division</param>
    /// <param name="letterByLetter">spaces are passed over in sorting</param>
    /// <param name="manual">the entries of the whole manual where the edition leaves some of it out, else null</param>
    internal static IndexTree Of(
        IReadOnlyList<List<GatheredEntry>> divisions,
        bool letterByLetter,
        string language,
        IReadOnlyList<List<GatheredEntry>>? manual = null
    )
    {
        var tree = new IndexTree();
        var collation = Collation.Of(language);
        var ends = new Dictionary<Id, Id>();
        foreach (var entries in divisions)
        {
            tree.Entries.AddRange(entries);
            foreach (var e in entries)
                if (e.Entry.Kind == EntryKind.RangeEnd)
                    ends.TryAdd(e.Entry.Id, e.Division);
        }
        var edition = manual is null ? null : new SeeInEdition(tree.Entries, manual);
        tree.LeftOut = edition?.LeftOut ?? [];
        var byText = new Dictionary<string, IndexHeading>(StringComparer.Ordinal);
        foreach (var gathered in tree.Entries)
        {
            var entry = gathered.Entry;
            if (entry.Kind == EntryKind.RangeEnd || entry.Headings.Count == 0)
                continue;
            string? Said(string? see) => see is { Length: > 0 } && edition is not null ? edition.Says(see) : see;
            var (see, also) = (Said(entry.See), Said(entry.SeeAlso));
            var points = entry.See is { Length: > 0 } || entry.SeeAlso is { Length: > 0 };
            if (points && see is not { Length: > 0 } && also is not { Length: > 0 })
                continue;
            var path = "";
            List<IndexHeading> level = tree.Headings;
            IndexHeading? heading = null;
            for (var i = 0; i < entry.Headings.Count; i++)
            {
                path += "\u001f" + entry.Headings[i];
                if (!byText.TryGetValue(path, out heading))
                {
                    heading = new IndexHeading(
                        entry.Headings[i],
                        i == 0 ? entry.Headings[i] : WithoutLead(entry.Headings[i], language),
                        collation
                    );
                    byText.Add(path, heading);
                    level.Add(heading);
                }
                if (HeadingWords.FilesAt(entry, i) is { } files)
                    heading.Files = files;
                level = heading.Under;
            }
            if (see is { Length: > 0 })
                heading!.See.Add(see);
            if (also is { Length: > 0 })
                heading!.SeeAlso.Add(also);
            // An entry that only points elsewhere has no locator of its own.
            if (!points)
                heading!.Places.Add(
                    new IndexPlace(
                        entry.Id,
                        gathered.Division,
                        entry.Kind == EntryKind.RangeStart ? ends.GetValueOrDefault(entry.Id) : Id.None,
                        entry.Principal,
                        gathered.In == EntryPlace.Illustration
                    )
                );
        }
        Sort(tree.Headings, letterByLetter, collation);
        return tree;
    }

    private static readonly Dictionary<string, string[]> PassedOver = new(StringComparer.Ordinal)
    {
        ["en"] = ["and ", "of ", "in ", "on ", "for ", "with ", "at ", "by ", "to ", "from ", "the ", "a ", "an "],
        ["de"] =
        [
            "und ",
            "von ",
            "vom ",
            "in ",
            "im ",
            "am ",
            "auf ",
            "für ",
            "mit ",
            "bei ",
            "beim ",
            "zu ",
            "zum ",
            "zur ",
            "aus ",
            "der ",
            "die ",
            "das ",
            "ein ",
            "eine ",
        ],
        ["fr"] =
        [
            "et ",
            "de ",
            "du ",
            "des ",
            "d’",
            "en ",
            "sur ",
            "pour ",
            "avec ",
            "à ",
            "au ",
            "aux ",
            "par ",
            "le ",
            "la ",
            "les ",
            "l’",
            "un ",
            "une ",
        ],
        ["es"] = ["y ", "de ", "del ", "en ", "sobre ", "para ", "con ", "a ", "al ", "por ", "el ", "la ", "los ", "las ", "un ", "una "],
        ["it"] =
        [
            "e ",
            "di ",
            "del ",
            "della ",
            "in ",
            "su ",
            "per ",
            "con ",
            "a ",
            "da ",
            "il ",
            "la ",
            "lo ",
            "gli ",
            "le ",
            "un ",
            "una ",
        ],
        ["nl"] = ["en ", "van ", "in ", "op ", "voor ", "met ", "bij ", "aan ", "uit ", "de ", "het ", "een "],
        ["sv"] = ["och ", "av ", "i ", "på ", "för ", "med ", "vid ", "till ", "från ", "en ", "ett "],
    };

    /// <summary>Leading articles and prepositions of the manual's language are passed over in sorting subheadings.</summary>
    private static string WithoutLead(string text, string language)
    {
        foreach (var lead in PassedOver.GetValueOrDefault(language.Split('-')[0]) ?? [])
            if (text.StartsWith(lead, StringComparison.OrdinalIgnoreCase))
                return WithoutLead(text[lead.Length..], language);
        return text;
    }

    private static void Sort(List<IndexHeading> headings, bool letterByLetter, Collation collation)
    {
        string Key(IndexHeading h) =>
            Collation.Filed(h.Files) is var files && letterByLetter ? files.Replace(" ", "", StringComparison.Ordinal) : files;
        headings.Sort(
            (a, b) =>
            {
                var rank = Rank(a.Group).CompareTo(Rank(b.Group));
                if (rank != 0)
                    return rank;
                var byFile = collation.Compare(Key(a), Key(b));
                return byFile != 0 ? byFile : collation.Compare(a.Text, b.Text);
            }
        );
        foreach (var heading in headings)
            if (heading.Under.Count > 0)
                Sort(heading.Under, letterByLetter, collation);
    }

    /// <summary>Symbols, then numerals, then letters.</summary>
    private static int Rank(string group) =>
        group switch
        {
            "Symbols" => 0,
            "0–9" => 1,
            _ => 2,
        };

    internal static List<GatheredEntry> Gather(Division division)
    {
        var entries = new List<GatheredEntry>();
        foreach (var block in division.Blocks)
        foreach (var inner in block.WithInner())
        foreach (var spans in inner.OwnSpans())
        foreach (var inline in Walk.Flat(spans))
            if (inline is IndexEntry entry)
                entries.Add(
                    new GatheredEntry(
                        entry,
                        division.Id,
                        inner.Id,
                        inner switch
                        {
                            Figure or Table => EntryPlace.Illustration,
                            Head => EntryPlace.Head,
                            Listing => EntryPlace.Listing,
                            _ => EntryPlace.Text,
                        }
                    )
                );
        return entries;
    }
}
