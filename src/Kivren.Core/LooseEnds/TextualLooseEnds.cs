using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Indexing;
using Kivren.Core.Looks;
using Kivren.Core.Numbering;
using Kivren.Core.Selection;

namespace Kivren.Core.LooseEnds;

/// <summary>Loose ends that can be told from the text alone, without setting it.</summary>
internal static class TextualLooseEnds
{
    public static void Find(
        SelectedText text,
        ManualNumbers numbers,
        IndexTree index,
        Look look,
        CompositionCaches caches,
        List<LooseEnd> found
    )
    {
        found.AddRange(caches.LooseEnds(index, () => IndexLooseEnds.Find(index)));
        found.AddRange(TermLooseEnds.Find([.. numbers.Divisions.Select(d => d.Division)]));
        HashSet<Id>? cited = null;
        var own = new LooseEnd[numbers.Divisions.Count][];
        Parallel.For(0, own.Length, d => own[d] = caches.LooseEnds(numbers.Divisions[d], () => [.. Own(numbers.Divisions[d], look)]));
        foreach (var (d, division) in numbers.Divisions.Index())
        {
            var id = division.Division.Id;
            if (division.Division.Kind == DivisionKind.Index && index.Headings.Count == 0)
                found.Add(
                    new LooseEnd(
                        LooseEndKind.IndexEmpty,
                        id,
                        id,
                        division.Division.Title,
                        "An index is asked for, but the text has no index entries."
                    )
                );
            found.AddRange(own[d]);
            foreach (var artwork in look.ArtworkOf(division.Division.Kind))
                if (artwork.Picture is { } picture && text.Manual.Assets.All(a => a.Name != picture))
                    found.Add(
                        new LooseEnd(
                            LooseEndKind.PictureMissing,
                            id,
                            id,
                            picture,
                            $"The look “{look.Name}” puts the picture “{picture}” on these pages; the manual has none of that "
                                + $"name. Bring it in."
                        )
                    );
            foreach (var list in caches.Reads(division.Division).Documents)
            {
                cited ??= numbers
                    .Divisions.SelectMany(d => caches.Reads(d.Division).Citations)
                    .Select(r => numbers.Resolve(r.Target))
                    .ToHashSet();
                foreach (var document in list.Documents.Where(d => !cited.Contains(d.Id)))
                    found.Add(
                        new LooseEnd(
                            LooseEndKind.NotCited,
                            id,
                            list.Id,
                            document.Designation,
                            $"“{document.Designation}” is listed but cited nowhere in text that binds. Cite it, or take it out; notes, "
                                + $"examples and informative text do not count."
                        )
                        {
                            Subject = document.Id,
                        }
                    );
            }
        }
    }

    /// <summary>What a division's own words and the look say, whatever stands in other divisions.</summary>
    private static IEnumerable<LooseEnd> Own(DivisionNumbers division, Look look)
    {
        var id = division.Division.Id;
        if (
            division.Targets.FirstOrDefault(t => t.Kind == TargetKind.Head) is { } first
            && first.Title == division.Division.Title
            && first.Level == HeadLevel.A
        )
            yield return new LooseEnd(
                LooseEndKind.RepeatedTitle,
                id,
                first.Id,
                first.Title,
                "The division's first head repeats its title, so the contents list names it twice. Take the head out, or reword it."
            );
        foreach (var end in OutlineLooseEnds.Find(division.Division))
            yield return end;
        foreach (var end in WordLooseEnds.Find(division.Division))
            yield return end;
        foreach (var block in division.Division.Blocks)
            switch (block)
            {
                case Paragraph { Role: "body" } p when LooksLikeHead(p):
                    yield return new LooseEnd(
                        LooseEndKind.LooksLikeHead,
                        id,
                        p.Id,
                        p.Content.PlainText(),
                        "This paragraph looks like a head: short, strong, without a full stop. No list takes it. Make it a head, "
                            + "or give it a full stop."
                    );
                    break;
                case Head { Listed: Listed.ByLook, Level: HeadLevel.A } h
                    when h.Content.Count > 0 && !look.ListsHead(h.Level) && look.Lists.Count > 0 && look.Numbering.HeadsTo >= h.Level:
                    yield return new LooseEnd(
                        LooseEndKind.HeadNotListed,
                        id,
                        h.Id,
                        h.Content.PlainText(),
                        "No contents list of this look takes this head."
                    );
                    break;
                case ContentsList list when look.List(list.List) is null:
                    yield return new LooseEnd(
                        LooseEndKind.ListUnknown,
                        id,
                        list.Id,
                        list.List,
                        $"The look “{look.Name}” has no list “{list.List}”; nothing prints here. Choose one of "
                            + $"{string.Join(", ", look.Lists.Select(l => l.Name))}."
                    );
                    break;
            }
    }

    private static bool LooksLikeHead(Paragraph p)
    {
        if (!p.IsBold)
            return false;
        var words = p.Content.PlainText().Trim();
        return words.Length is > 0 and < 60 && words[^1] is not ('.' or ':' or ';' or '!' or '?');
    }
}
