using Kivren.Core;
using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Display;
using Kivren.Core.Looks;
using Kivren.Formats.Pdf;

namespace Kivren.Formats.Outputs;

/// <summary>The cover of an edition: which divisions it shows, and how thick the book is that it goes round.</summary>
internal static class Covers
{
    /// <param name="book">the edition as it is printed</param>
    /// <returns>the divisions that the cover shows, composed by themselves, and the sheet</returns>
    /// <exception cref="OutputException">there is nothing that a cover could show</exception>
    public static (ComposedManual Shown, CoverSheet Sheet, IReadOnlyList<string> Notes) Of(
        ComposedManual book,
        Manual manual,
        Edition edition,
        OutputChoice choice,
        Look look,
        CancellationToken cancel
    )
    {
        Division? Chosen(string id) => id.Length == 0 ? null : manual.Divisions.FirstOrDefault(d => d.Id.Value == id);
        var notes = new List<string>();
        if (choice.Front.Length > 0 && Chosen(choice.Front) is null)
            notes.Add("The division that the front was to show is no longer in the manual; the title page stands there.");
        if (choice.Back.Length > 0 && Chosen(choice.Back) is null)
            notes.Add("The division that the back was to show is no longer in the manual; the back is bare.");
        var front = Chosen(choice.Front)
            ?? book.Text.Divisions.FirstOrDefault(d => d.Kind == DivisionKind.TitlePage)
            ?? book.Text.Divisions.FirstOrDefault(d => d.Kind == DivisionKind.HalfTitle)
            ?? throw new OutputException(
                "A cover shows a title page, and this edition has none: choose the division that its front shows."
            );
        var back = Chosen(choice.Back) is { } other && other.Id != front.Id ? other : null;
        // What is on the cover need not be in the book.
        var shown = edition with
        {
            Takes = [.. new[] { front, back }.OfType<Division>().Select(d => new TakenDivision(d.Id, []))],
            LeavesOut = [],
        };
        var composed = Composer.Compose(manual, shown.For(Medium.Paper), look, cancel: cancel);
        DisplayPage? PageOf(Division? division)
        {
            var at = division is null ? null : composed.Divisions.FirstOrDefault(d => d.Numbers.Division.Id == division.Id);
            if (at is null || at.FirstSheet >= composed.Pages.Count)
                return null;
            if (at.EndSheet - at.FirstSheet > 1)
                notes.Add($"“{division!.Title}” has {at.EndSheet - at.FirstSheet} pages; the cover shows the first.");
            return DisplayList.Of(composed.Pages[at.FirstSheet], look);
        }
        var multiple = edition.GoesOutAs.FirstOrDefault(o => o.Kind == OutputKind.PrintPdf)?.Multiple ?? 1;
        var pages = (book.Pages.Count + multiple - 1) / multiple * multiple;
        var title = composed.Text.Variable("title") ?? manual.Title;
        var sheet = new CoverSheet(
            PageOf(front) ?? throw new OutputException($"“{front.Title}” has no page that a cover could show."),
            PageOf(back),
            CoverSheet.SpineOf(pages, choice.Leaf),
            title,
            look.DivisionTitle.Plain
        );
        notes.Insert(
            0,
            FormattableString.Invariant(
                $"The spine is {sheet.Spine.InPoints * 25.4 / 72:0.0} mm wide: {pages} pages on leaves of {choice.Leaf / 1000.0:0.###} mm."
            )
        );
        if (!sheet.SpineHasWords)
            notes.Add("The spine is too narrow for words.");
        return (composed, sheet, notes);
    }
}
