using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;
using Kivren.Core.References;

namespace Kivren.Core.Composition;

/// <summary>The page numbers one pass found and the next uses. Before the first pass it is neutral: every folio reads as
/// a fixed placeholder, so that a composition is defined from nothing (composition.md 9).</summary>
internal sealed class PageTable : IReferencePlaces
{
    /// <summary>As wide as most folios, so that the first pass breaks most lines as the last.</summary>
    public const string Placeholder = "000";

    private readonly ManualNumbers _numbers;
    private readonly IReadOnlyList<DivisionPages>? _divisions;
    private readonly FolioScheme? _scheme;
    private readonly bool _mirrored;
    private readonly LanguageWords _words;
    private readonly Dictionary<Id, string>? _notes;
    private readonly IReadOnlyDictionary<Id, int> _referenceIn;

    /// <summary>Folios already put into words, by division and sheet.</summary>
    private readonly string?[][] _folios;

    /// <param name="referenceIn">the division that each cross-reference stands in, for phrases and directions</param>
    public PageTable(
        ManualNumbers numbers,
        IReadOnlyList<DivisionPages>? divisions,
        FolioScheme? scheme,
        Look look,
        IReadOnlyDictionary<Id, int> referenceIn
    )
    {
        (_numbers, _divisions, _scheme, _mirrored, _referenceIn) = (numbers, divisions, scheme, look.Master.Mirrored, referenceIn);
        _words = look.Words;
        _folios = divisions is null ? [] : [.. divisions.Select(d => new string?[d.Cut.Pages.Length + 1])];
        if (look.Numbering.NotesBy == CountScope.Page)
            _notes = NotesByPage(divisions);
    }

    private static Dictionary<Id, string> NotesByPage(IReadOnlyList<DivisionPages>? divisions)
    {
        var notes = new Dictionary<Id, string>();
        foreach (var cut in (divisions ?? []).Select(d => d.Cut).Distinct())
        foreach (var page in cut.Pages)
        {
            var n = 0;
            foreach (var note in page.Notes)
                if (note.From == 0)
                    notes.TryAdd(note.Note.Id, NumberFormat.Decimal(++n));
        }
        return notes;
    }

    /// <summary>The number of a note counted by page; null where notes are counted otherwise.</summary>
    public string? NoteNumber(DivisionNumbers division, Id note) =>
        _notes is null
        || !division.ById.TryGetValue(note, out var target)
        || target.Kind != TargetKind.Note
        || !char.IsAsciiDigit(target.Number[0])
            ? null
            : _notes.GetValueOrDefault(note, "0");

    public string Folio(Id target)
    {
        if (_divisions is null)
            return Placeholder;
        return _numbers.Find(target) is { } found ? Locate(found.Division, _numbers.Resolve(target)).Folio : "";
    }

    public string Phrase(Id reference, Id target)
    {
        if (_divisions is null)
            return OnPage(Placeholder);
        if (_numbers.Find(target) is not { } found)
            return "";
        var there = Locate(found.Division, _numbers.Resolve(target));
        // Asked for a reference that is not in the text yet, as it is chosen.
        if (!_referenceIn.TryGetValue(reference, out var d))
            return OnPage(there.Folio);
        var here = Locate(d, reference).Sheet;
        if (there.Sheet == here)
            return _words["onThisPage"];
        if (_mirrored)
        {
            // Even sheets are rectos: the page facing a recto is the sheet before it, overleaf the one after.
            if (there.Sheet == (here % 2 == 0 ? here - 1 : here + 1))
                return _words["onFacingPage"];
            if (here % 2 == 0 && there.Sheet == here + 1)
                return _words["overleaf"];
        }
        return OnPage(there.Folio);
    }

    private string OnPage(string folio) => LanguageWords.Numbered(_words["onPage"], folio);

    public bool IsAbove(Id reference, Id target)
    {
        if (_numbers.Find(target) is not { } found || !_referenceIn.TryGetValue(reference, out var d))
            return false;
        return found.Division != d
            ? found.Division < d
            : _numbers.Divisions[d].Order(_numbers.Resolve(target)) < _numbers.Divisions[d].Order(reference);
    }

    /// <summary>The page of an atom in a division.</summary>
    public LocatedPage Locate(Id division, Id atom) =>
        _divisions is null ? new LocatedPage(0, Placeholder)
        : _numbers.Find(division) is { } found ? Locate(found.Division, atom)
        : new LocatedPage(0, "");

    private LocatedPage Locate(int d, Id atom)
    {
        var division = _divisions![d];
        var sheet = division.Cut.Places.TryGetValue(atom, out var place) ? division.StretchSheet + place.Page : division.FirstSheet;
        return new LocatedPage(sheet, _folios[d][sheet - division.StretchSheet] ??= _scheme!.Folio(d, sheet));
    }

    /// <summary>Whether both name the same page for everything.</summary>
    /// <param name="samePlaces">whether two cuts have everything on the same page</param>
    public static bool Same(IReadOnlyList<DivisionPages> a, IReadOnlyList<DivisionPages> b, Func<Cut, Cut, bool> samePlaces)
    {
        if (a.Count != b.Count)
            return false;
        Cut? compared = null;
        for (var d = 0; d < a.Count; d++)
        {
            if (a[d].FirstSheet != b[d].FirstSheet || a[d].StretchSheet != b[d].StretchSheet)
                return false;
            if (ReferenceEquals(a[d].Cut, b[d].Cut) || ReferenceEquals(a[d].Cut, compared))
                continue;
            compared = a[d].Cut;
            if (!samePlaces(a[d].Cut, b[d].Cut))
                return false;
        }
        return true;
    }
}
