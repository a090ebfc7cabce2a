using System.Text.RegularExpressions;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Indexing;

/// <summary>What a proposal would do, if it is chosen.</summary>
public enum ProposalKind
{
    Merge,
    TurnIntoSee,
    FileUnder,

    /// <summary>Sweep for a phrase that has no entry.</summary>
    Sweep,

    /// <summary>Look at pages that have no entry.</summary>
    Pages,

    /// <summary>Give a crowded heading subheadings.</summary>
    Split,
}

/// <summary>Something that would make the index better, with the reason. Nothing is done without a choice.</summary>
/// <param name="Heading">what it is about; empty for pages</param>
/// <param name="Other">the heading it is merged into or points at; or what it is filed under, in one text</param>
public sealed record IndexProposal(
    ProposalKind Kind,
    IReadOnlyList<string> Heading,
    IReadOnlyList<string> Other,
    string Why,
    Id Division,
    Id Block
);

/// <summary>Looks through a composed manual for what its index lacks.</summary>
public static partial class IndexProposals
{
    /// <summary>More locators without a subheading than this help nobody.</summary>
    public const int MostBareLocators = 8;

    /// <summary>A thing on the machine that is named this often deserves an entry.</summary>
    private const int OftenNamed = 2;

    public static List<IndexProposal> Of(ComposedManual composed)
    {
        var found = new List<IndexProposal>();
        var language = composed.Text.Manual.Language;
        Alike(composed, found);
        TwoNames(composed, found);
        Crowded(composed, found);
        Files(composed, language, found);
        Terms(composed, found);
        NamedThings(composed, found);
        Sections(composed, found);
        Pages(composed, found);
        return found;
    }

    private static IEnumerable<(IReadOnlyList<string> Path, IndexHeading Heading)> All(
        IEnumerable<IndexHeading> headings,
        IReadOnlyList<string>? above = null
    )
    {
        foreach (var heading in headings)
        {
            string[] path = [.. above ?? [], heading.Text];
            yield return (path, heading);
            foreach (var under in All(heading.Under, path))
                yield return under;
        }
    }

    private static int Weight(IndexHeading heading) => heading.Places.Count + heading.Under.Sum(Weight);

    // ---- headings among each other ----

    private static void Alike(ComposedManual composed, List<IndexProposal> found)
    {
        void Among(IReadOnlyList<IndexHeading> headings, string[] above)
        {
            foreach (var alike in headings.GroupBy(h => HeadingWords.Bare(h.Text)).Where(g => g.Key.Length > 0 && g.Count() > 1))
            {
                // The one that has most keeps its words.
                var kept = alike.OrderByDescending(Weight).First();
                foreach (var other in alike.Where(h => h != kept))
                    found.Add(
                        new IndexProposal(
                            ProposalKind.Merge,
                            [.. above, other.Text],
                            [.. above, kept.Text],
                            $"“{other.Text}” and “{kept.Text}” differ only by {DifferBy(other.Text, kept.Text)}.",
                            default,
                            default
                        )
                    );
            }
            foreach (var heading in headings.Where(h => h.Under.Count > 1))
                Among(heading.Under, [.. above, heading.Text]);
        }
        Among(composed.Index.Headings, []);
    }

    private static string DifferBy(string a, string b) =>
        a.Equals(b, StringComparison.OrdinalIgnoreCase) ? "capitals"
        : string.Concat(a.Where(char.IsLetterOrDigit))
            .Equals(string.Concat(b.Where(char.IsLetterOrDigit)), StringComparison.OrdinalIgnoreCase)
            ? "a hyphen or a space"
        : "a plural";

    private static void TwoNames(ComposedManual composed, List<IndexProposal> found)
    {
        var headings = composed.Index.Headings.Where(h => h.See.Count == 0).ToList();
        foreach (
            var same in headings
                .Where(h => h.Text.Contains(' ', StringComparison.Ordinal))
                .GroupBy(h => HeadingWords.Shuffled(h.Text))
                .Where(g => g.Select(h => HeadingWords.Bare(h.Text)).Distinct().Count() > 1)
        )
            Propose([.. same], "have the same words in another order");
        // The same three places or more are no chance.
        foreach (
            var same in headings
                .Where(h => h.Places.Count > 2)
                .GroupBy(h => string.Join(' ', h.Places.Select(p => BlockOf(composed, p).Value).Order(StringComparer.Ordinal)))
                .Where(g => g.Count() > 1)
        )
            Propose([.. same], "stand in the very same places");
        void Propose(IReadOnlyList<IndexHeading> same, string why)
        {
            var kept = same.OrderByDescending(Weight).First();
            foreach (var other in same.Where(h => h != kept))
                if (found.All(f => f.Heading.Count != 1 || f.Heading[0] != other.Text || f.Other[0] != kept.Text))
                    found.Add(
                        new IndexProposal(
                            ProposalKind.TurnIntoSee,
                            [other.Text],
                            [kept.Text],
                            $"“{other.Text}” and “{kept.Text}” {why}: one thing under two names.",
                            default,
                            default
                        )
                    );
        }
    }

    private static Id BlockOf(ComposedManual composed, IndexPlace place) =>
        composed.Index.ByEntry.TryGetValue(place.Start, out var entry) ? entry.Block : default;

    private static void Crowded(ComposedManual composed, List<IndexProposal> found)
    {
        foreach (var (path, heading) in All(composed.Index.Headings))
            if (path.Count < IndexEditing.MostLevels && heading.Places.Count(p => !p.IsRange) is var bare and > MostBareLocators)
                found.Add(
                    new IndexProposal(
                        ProposalKind.Split,
                        path,
                        [],
                        $"“{HeadingWords.Typed(path)}” has {bare} locators and nothing says which is for what. Give them subheadings, or "
                            + $"join neighbours to ranges.",
                        default,
                        default
                    )
                );
    }

    [GeneratedRegex(
        @"^(?:(?:the|a|an|der|die|das|ein|eine|le|la|les|un|une|el|los|las|il|lo|gli|de|het|een|en|ett) |l’)(?=\p{L})",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Article();

    private static readonly string[] Numerals =
    [
        "nought",
        "one",
        "two",
        "three",
        "four",
        "five",
        "six",
        "seven",
        "eight",
        "nine",
        "ten",
        "eleven",
        "twelve",
    ];

    private static void Files(ComposedManual composed, string language, List<IndexProposal> found)
    {
        foreach (var heading in composed.Index.Headings.Where(h => h.Files == h.Text && h.Text.Length > 0))
        {
            var text = heading.Text;
            var (files, why) =
                Article().Match(text) is { Success: true } article && text.Contains(' ', StringComparison.Ordinal)
                    ? (text[article.Length..], $"“{article.Value.Trim()}” is an article, and readers look under the word behind it")
                : language.StartsWith("en", StringComparison.Ordinal)
                && char.IsAsciiDigit(text[0])
                && int.TryParse(string.Concat(text.TakeWhile(char.IsAsciiDigit)), out var n)
                && n < Numerals.Length
                    ? (
                        Numerals[n]
                            + " "
                            + text[n.ToString(System.Globalization.CultureInfo.InvariantCulture).Length..].TrimStart(' ', '-'),
                        "readers look for a small numeral as it is spoken"
                    )
                : !char.IsLetterOrDigit(text[0]) && text.SkipWhile(c => !char.IsLetterOrDigit(c)).Any()
                    ? (string.Concat(text.SkipWhile(c => !char.IsLetterOrDigit(c))), "a sign in front is seldom what readers look for")
                : text.StartsWith("St ", StringComparison.Ordinal) || text.StartsWith("St. ", StringComparison.Ordinal)
                    ? ("Saint" + text[text.IndexOf(' ', StringComparison.Ordinal)..], "“St” is read “Saint”")
                : text.StartsWith("Mc", StringComparison.Ordinal) && text.Length > 2 && char.IsUpper(text[2])
                    ? ("Mac" + text[2..], "names in Mc and Mac stand together")
                : ("", "");
            if (files.Length > 0)
                found.Add(new IndexProposal(ProposalKind.FileUnder, [text], [files.TrimEnd()], $"“{text}”: {why}.", default, default));
        }
    }

    // ---- what has no entry ----

    private static HashSet<string> Known(ComposedManual composed) =>
        All(composed.Index.Headings)
            .SelectMany(h => new[] { HeadingWords.Bare(h.Heading.Text), HeadingWords.Bare(string.Join(' ', h.Path.Reverse())) })
            .ToHashSet(StringComparer.Ordinal);

    private static void Terms(ComposedManual composed, List<IndexProposal> found)
    {
        var known = Known(composed);
        foreach (var division in composed.Text.Divisions)
        foreach (var list in division.Blocks.SelectMany(b => b.WithInner()).OfType<DefinitionList>().Where(l => l.Glossary))
        foreach (var definition in list.Definitions)
            if (definition.Term.PlainText().Trim() is { Length: > 0 } term && known.Add(HeadingWords.Bare(term)))
                found.Add(
                    new IndexProposal(
                        ProposalKind.Sweep,
                        [term],
                        [],
                        $"“{term}” is a term of the glossary and has no entry.",
                        division.Id,
                        definition.Id
                    )
                );
    }

    private static void NamedThings(ComposedManual composed, List<IndexProposal> found)
    {
        var known = Known(composed);
        foreach (var (role, called) in new[] { (SpanRoles.Control, "a control"), (SpanRoles.PartNumber, "a part number") })
        {
            var named = composed
                .Text.Divisions.SelectMany(d => d.Blocks.SelectMany(b => b.WithInner()).Select(b => (Division: d.Id, Block: b)))
                .SelectMany(b => b.Block.OwnSpans().SelectMany(Walk.Flat).OfType<TextRun>().Select(r => (b.Division, b.Block.Id, Run: r)))
                .Where(r => r.Run.Roles.HasFlag(role) && r.Run.Text.Trim().Length is > 1 and < 60)
                .GroupBy(r => r.Run.Text.Trim(), StringComparer.OrdinalIgnoreCase);
            foreach (var thing in named)
                if (thing.Count() >= OftenNamed && known.Add(HeadingWords.Bare(thing.Key)))
                    found.Add(
                        new IndexProposal(
                            ProposalKind.Sweep,
                            [thing.Key],
                            [],
                            $"“{thing.Key}” is {called}, named {thing.Count()} times, and has no entry.",
                            thing.First().Division,
                            thing.First().Id
                        )
                    );
        }
    }

    /// <summary>Sections in which no entry stands and over which no range goes.</summary>
    private static void Sections(ComposedManual composed, List<IndexProposal> found)
    {
        var open = new HashSet<Id>();
        foreach (var division in composed.Text.Divisions)
        {
            (Head Head, bool Has)? section = null;
            void End()
            {
                if (section is { Has: false } bare && IsIndexed(division))
                    found.Add(
                        new IndexProposal(
                            ProposalKind.Sweep,
                            [bare.Head.Content.PlainText().Trim()],
                            [],
                            $"The section “{bare.Head.Content.PlainText().Trim()}” has no entry.",
                            division.Id,
                            bare.Head.Id
                        )
                    );
            }
            foreach (var block in division.Blocks)
            {
                if (block is Head { Printed: true } head)
                {
                    End();
                    section = head.Content.PlainText().Trim().Length > 0 ? (head, open.Count > 0) : null;
                }
                foreach (var entry in block.Inlines().OfType<IndexEntry>())
                {
                    if (section is { } within)
                        section = within with { Has = true };
                    if (entry.Kind == EntryKind.RangeStart)
                        open.Add(entry.Id);
                    else if (entry.Kind == EntryKind.RangeEnd)
                        open.Remove(entry.Id);
                }
            }
            End();
        }
    }

    private static bool IsIndexed(Division division) =>
        division.Kind is DivisionKind.Chapter or DivisionKind.Appendix or DivisionKind.Preface;

    /// <summary>Pages of text without an entry, neighbours together.</summary>
    private static void Pages(ComposedManual composed, List<IndexProposal> found)
    {
        var has = new bool[composed.Pages.Count + 1];
        foreach (var (_, heading) in All(composed.Index.Headings))
        foreach (var place in heading.Places)
        {
            if (composed.FindIn(place.Division, place.Start) is not { } from)
                continue;
            var to = place.IsRange ? composed.FindIn(place.EndDivision, IndexTree.EndOf(place.Start)) ?? from : from;
            for (var sheet = from.Sheet; sheet <= to.Sheet; sheet++)
                has[sheet] = true;
        }
        for (var sheet = 0; sheet < composed.Pages.Count; sheet++)
        {
            if (!IsBare(sheet))
                continue;
            var last = sheet;
            while (IsBare(last + 1) && composed.Pages[last + 1].Division == composed.Pages[sheet].Division)
                last++;
            var (a, b) = (composed.Pages[sheet].Folio, composed.Pages[last].Folio);
            var division = composed.Divisions[composed.Pages[sheet].Division].Numbers.Division;
            found.Add(
                new IndexProposal(
                    ProposalKind.Pages,
                    [],
                    [],
                    a == b ? $"Page {a} has no entry." : $"Pages {a} to {b} have no entry.",
                    division.Id,
                    FirstBlock(composed.Pages[sheet])
                )
            );
            sheet = last;
        }
        bool IsBare(int sheet) =>
            sheet < composed.Pages.Count
            && !has[sheet]
            && composed.Pages[sheet].Body is { IsBlank: false } body
            && body.Pieces.Length > 3
            && IsIndexed(composed.Divisions[composed.Pages[sheet].Division].Numbers.Division);
    }

    private static Id FirstBlock(ComposedPage page) =>
        page.Body!.Pieces.Select(p => page.Cut!.Galley.Pieces[p.Piece])
            .SelectMany(p => p.Drawn ?? [])
            .OfType<DrawnLine>()
            .Select(l => l.Block)
            .FirstOrDefault();
}
