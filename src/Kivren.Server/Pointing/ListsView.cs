using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Lists;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;
using Kivren.Core.Planning;
using Kivren.Desk;
using Kivren.Formats.Package;
using Kivren.Formats.Svg;
using Kivren.Server.Manuals;

namespace Kivren.Server.Pointing;

/// <summary>A place where a list stands.</summary>
/// <param name="Block">empty for the chapters' own contents, which stand in no text</param>
[GenerateSerializer, Immutable]
public sealed record ListPlace(string Division, string Title, string Block, int FirstSheet, int Sheets);

/// <summary>A contents list: its definition as JSON (docs/package.md), and where it stands.</summary>
/// <param name="Own">it is the manual's own; else the look's</param>
/// <param name="OfLook">the look has one of this name</param>
[GenerateSerializer, Immutable]
public sealed record ListedList(string Name, bool Own, bool OfLook, string Definition, ListPlace[] Places, int Entries);

/// <summary>Something of this manual that a level can take, with how many there are.</summary>
/// <param name="Kind">the kind of division, the level of head; empty for the rest</param>
[GenerateSerializer, Immutable]
public sealed record ListableKind(string Takes, string Kind, int Count, string Example);

/// <summary>All lists of a manual.</summary>
/// <param name="ChapterContents">the list that opens each chapter; null for none</param>
/// <param name="IndexDress">as JSON, the manual's own or the look's</param>
/// <param name="Looks">lists of the looks there are, to copy from</param>
[GenerateSerializer, Immutable]
public sealed record ListsView(
    int Composition,
    ListedList[] Lists,
    ListableKind[] Kinds,
    string? ChapterContents,
    bool OwnIndexDress,
    string IndexDress,
    LookLists[] Looks
)
{
    public static ListsView Of(NumberedComposition settled)
    {
        var composed = settled.Composed;
        var manual = composed.Text.Manual;
        var own = manual.Lists.Select(l => l.Name).ToHashSet(StringComparer.Ordinal);
        var shipped = WornLook.Of(manual, composed.Text.Edition);
        var placed = composed
            .Divisions.SelectMany(d =>
                d.Numbers.Division.Blocks.SelectMany(b => b.WithInner())
                    .OfType<ContentsList>()
                    .Select(l => (l.List, Place: Place(d, l, composed)))
            )
            .ToLookup(p => p.List, p => p.Place, StringComparer.Ordinal);
        return new ListsView(
            settled.Number,
            [
                .. composed.Look.Lists.Select(l => new ListedList(
                    l.Name,
                    own.Contains(l.Name),
                    shipped.List(l.Name) is not null,
                    OwnListForm.ToJson(l.ToOwn()),
                    [.. placed[l.Name]],
                    ContentsEntry.Of(l, composed.Numbers, DivisionOf(composed, l), composed.Places.Folio).Count
                )),
            ],
            KindsIn(composed),
            manual.ChapterContents,
            manual.IndexDress is not null,
            OwnListForm.ToJson(composed.Look.Index.ToOwn()),
            [
                .. ShippedLooks.All.Select(l => new LookLists(
                    l.Name,
                    [.. l.Lists.Select(d => OwnListForm.ToJson(d.ToOwn()))],
                    OwnListForm.ToJson(l.Index.ToOwn())
                )),
            ]
        );
    }

    private static ListPlace Place(DivisionPages pages, ContentsList list, ComposedManual composed)
    {
        var first = composed.FindIn(pages.Numbers.Division.Id, list.Id)?.Sheet ?? pages.FirstSheet;
        var made = list.Id.Value.EndsWith("~contents", StringComparison.Ordinal);
        return new ListPlace(
            pages.Numbers.Division.Id.Value,
            pages.Numbers.Division.Title,
            made ? "" : list.Id.Value,
            first,
            pages.Numbers.Division.Kind == DivisionKind.Contents ? Math.Max(1, pages.FirstSheet + pages.End - pages.First - first) : 1
        );
    }

    /// <summary>The division in which a list is looked at: where it stands, else the first that it has entries of.</summary>
    internal static int DivisionOf(ComposedManual composed, ContentsDefinition list)
    {
        var divisions = composed.Numbers.Divisions;
        for (var d = 0; d < divisions.Count; d++)
            if (divisions[d].Division.Blocks.Any(b => b is ContentsList l && l.List == list.Name))
                return d;
        for (var d = 0; d < divisions.Count; d++)
            if (ContentsEntry.Of(list, composed.Numbers, d, _ => "").Count > 0)
                return d;
        return 0;
    }

    private static ListableKind[] KindsIn(ComposedManual composed)
    {
        var kinds = new List<ListableKind>();
        var targets = composed.Numbers.Divisions.SelectMany(d => d.Targets.Select(t => (Division: d.Division, Target: t))).ToList();
        void Add(Listable takes, string kind, Func<(Division Division, Target Target), bool> which)
        {
            var own = targets.Where(which).ToList();
            if (own.Count > 0)
                kinds.Add(new ListableKind(takes.ToString(), kind, own.Count, own[0].Target.Title));
        }
        foreach (var kind in targets.Select(t => t.Division.Kind).Distinct().Order())
            Add(Listable.Division, kind.ToString(), t => t.Target.Kind == TargetKind.Division && t.Division.Kind == kind);
        foreach (var level in Enum.GetValues<HeadLevel>())
            Add(Listable.Head, level.ToString(), t => t.Target.Kind == TargetKind.Head && t.Target.Level == level);
        foreach (var takes in Enum.GetValues<Listable>().Where(l => l > Listable.Head))
            Add(takes, "", t => t.Target.Kind.ToString() == takes.ToString());
        return [.. kinds];
    }
}

/// <summary>The lists of a look, and how it sets an index, as JSON.</summary>
[GenerateSerializer, Immutable]
public sealed record LookLists(string Name, string[] Lists, string IndexDress);

/// <summary>A line of a list as it is printed.</summary>
[GenerateSerializer, Immutable]
public sealed record ListLine(int Level, string Number, string Title, string Folio, string Target, string Division);

/// <summary>One composed line of a level, with the places of its pieces in points.</summary>
[GenerateSerializer, Immutable]
public sealed record LevelSample(int Level, string Svg, double Width, double Height, SamplePiece[] Pieces);

[GenerateSerializer, Immutable]
public sealed record SamplePiece(string Piece, double X, double Y, double Width);

/// <summary>A list looked at: a sample of each level, and all its lines.</summary>
[GenerateSerializer, Immutable]
public sealed record ListLooked(LevelSample[] Samples, ListLine[] Lines, int Total)
{
    private const int Most = 2_000;

    public static ListLooked? Of(NumberedComposition settled, string name)
    {
        var composed = settled.Composed;
        if (composed.Look.List(name) is not { } list)
            return null;
        var at = ListsView.DivisionOf(composed, list);
        var samples = new List<LevelSample>();
        for (var level = 0; level < list.Lines.Count; level++)
            if (ListSample.Of(composed, list, level, at) is { } sample)
                samples.Add(
                    new LevelSample(
                        level,
                        SvgPainter.Paint(sample.Page, _ => null),
                        sample.Page.Width / 1000.0,
                        sample.Page.Height / 1000.0,
                        [.. sample.Pieces.Select(p => new SamplePiece(p.Piece.ToString(), p.X / 1000.0, p.Y / 1000.0, p.Width / 1000.0))]
                    )
                );
        var entries = ContentsEntry.Of(list, composed.Numbers, at, composed.Places.Folio);
        return new ListLooked(
            [.. samples],
            [
                .. entries
                    .Take(Most)
                    .Select(e => new ListLine(
                        e.Line,
                        e.Number,
                        e.Title,
                        e.Folio,
                        e.Target.Value,
                        composed.Numbers.Find(e.Target) is { } found ? composed.Numbers.Divisions[found.Division].Division.Id.Value : ""
                    )),
            ],
            entries.Count
        );
    }
}

/// <summary>A loose end that is let be, or told again where the reason is empty.</summary>
[GenerateSerializer, Immutable]
public sealed record LetBeOrder(string Kind, string Block, string Words, string Reason);

/// <summary>An act on lists, on the dress of the index, or on loose ends that are let be.</summary>
/// <param name="Do">keep, takeOut, dressIndex, openChapters, letBe</param>
/// <param name="Definition">of the list or of the index, as JSON; null for the look's own</param>
/// <param name="Name">of the list; of the one that is renamed</param>
[GenerateSerializer, Immutable]
public sealed record ListOrder(string Id, string Writer, string Do, string? Name, string? Definition, LetBeOrder[]? Ends)
{
    private const int LongestDefinition = 100_000,
        MostEnds = 2_000;

    public string? Problem() =>
        !Checks.IsId(Id) || !Checks.IsId(Writer) || !Checks.IsText(Do, 40) ? "An act needs an id, its writer and what it does."
        : Name is not null && !Checks.IsText(Name, Checks.LongestTitle) ? "This is no name."
        : Definition is { Length: > LongestDefinition } ? "This definition is too long."
        : Ends is { Length: > MostEnds }
        || Ends?.All(e =>
            e is not null
            && Checks.IsText(e.Kind, 64)
            && Checks.IsText(e.Block, 200)
            && Checks.IsText(e.Words, PutAside.LongestWords)
            && Checks.IsText(e.Reason, ListEditing.LongestReason)
        )
            is false
            ? $"A reason has up to {ListEditing.LongestReason} letters."
        : null;

    /// <exception cref="System.Text.Json.JsonException">the definition is none</exception>
    public Func<DeskState, PlanResult>? ToAct()
    {
        Func<DeskState, PlanResult> Of(ListAct act) => state => ListEditing.Apply(state.Manual, act);
        return Do switch
        {
            "keep" when Definition is not null => Of(new ListAct.Keep(OwnListForm.Parse<OwnList>(Definition), Name)),
            "takeOut" => Of(new ListAct.TakeOut(Name ?? "")),
            "dressIndex" => Of(new ListAct.DressIndex(Definition is null ? null : OwnListForm.Parse<OwnIndexDress>(Definition))),
            "leadTerms" => Of(new ListAct.LeadTerms(Name == "yes")),
            "openChapters" => Of(new ListAct.OpenChapters(Name)),
            "letBe" => Of(
                new ListAct.LetBe([.. (Ends ?? []).Select(e => new PutAside(e.Kind, new Id(e.Block), e.Words, e.Reason.Trim()))])
            ),
            _ => null,
        };
    }
}
