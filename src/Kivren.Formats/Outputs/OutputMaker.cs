using Kivren.Core.Composition;
using Kivren.Core.Content;
using Kivren.Core.Looks;
using Kivren.Formats.DocBook.Writing;
using Kivren.Formats.Docx.Writing;
using Kivren.Formats.Flowing;
using Kivren.Formats.Import;
using Kivren.Formats.Markdown.Writing;
using Kivren.Formats.Pdf;

namespace Kivren.Formats.Outputs;

/// <summary>An output cannot be made: the message says why, to the writer.</summary>
public sealed class OutputException(string message) : Exception(message);

/// <summary>Told of each stage of an output: its name, how much of it is done, of how much.</summary>
public delegate void OutputStage(string stage, int done, int total);

/// <summary>Makes an output of an edition. The same text and choice give the same bytes.</summary>
public static class OutputMaker
{
    /// <summary>When no moment of the text is known.</summary>
    public static readonly DateTimeOffset NoMoment = new(2000, 1, 1, 0, 0, 0, TimeSpan.Zero);

    /// <param name="pictures">bytes of the manual's pictures by name</param>
    /// <param name="moment">of the text</param>
    /// <param name="profile">the printer's own colour profile; null for the one that ships</param>
    /// <returns>the composition that it was made from, and what is said of it</returns>
    /// <exception cref="OutputException">the edition takes nothing, or what it asks for is not there</exception>
    public static (ComposedManual Composed, OutputReport Report) Make(
        Manual manual,
        Edition edition,
        OutputChoice choice,
        Func<string, byte[]?> pictures,
        DateTimeOffset moment,
        Stream output,
        OutputStage? told = null,
        byte[]? profile = null,
        CancellationToken cancel = default
    )
    {
        if (choice.Fault() is { } fault)
            throw new OutputException(fault);
        var own = edition.For(choice.Kind.Medium());
        profile ??= ProfileOf(choice, pictures);
        told?.Invoke("Composing", 0, 0);
        var look = WornLook.Of(manual, edition);
        var composed = Composer.Compose(
            manual,
            own,
            choice.WithoutBlanks ? look.For(own.Medium, withoutBlanks: true) : look,
            cancel: cancel
        );
        if (composed.Pages.Count == 0)
            throw new OutputException($"“{edition.Name}” takes nothing of the manual: choose what it takes.");
        var total =
            choice.Kind is OutputKind.WordDocument || choice.Kind.Medium() == Medium.Flowing
                ? composed.Text.Divisions.Count
                : composed.Pages.Count;
        void Written(int done) => told?.Invoke("Writing pages", done, total);
        Written(0);
        IReadOnlyList<string> faces = [],
            notes = [];
        switch (choice.Kind)
        {
            case OutputKind.Epub:
                var splits = choice.Splits == SplitAt.Nowhere ? SplitAt.Division : choice.Splits;
                var printed = Composer.Compose(manual, edition.For(Medium.Paper), look, cancel: cancel);
                using (var file = new MemoryStream())
                {
                    faces = EpubWriter.Write(
                        FlowingBook.Of(composed, splits),
                        new PageList(printed),
                        choice,
                        pictures,
                        moment,
                        file,
                        Written,
                        cancel
                    );
                    if (choice.Checked)
                        notes = Validated(file, told, cancel);
                    file.WriteTo(output);
                }
                break;
            case OutputKind.Site:
                faces = SiteWriter.WriteZip(FlowingBook.Of(composed, choice.Splits), choice, pictures, output, Written, cancel);
                break;
            case OutputKind.DocBook:
                DocBookWriter.WriteZip(composed, pictures, output, Written, cancel);
                break;
            case OutputKind.Markdown:
                MarkdownWriter.WriteZip(composed, pictures, output, Written, cancel);
                break;
            case OutputKind.WordDocument:
                notes = WordWriter.Write(composed, pictures, output, Written, TemplateOf(choice, pictures), choice.RoleStyles, cancel);
                break;
            case OutputKind.CoverPdf:
                var cover = Covers.Of(composed, manual, edition, choice, look, cancel);
                composed = cover.Shown;
                (faces, notes) = Inked(
                    PdfWriter.WriteCover(cover.Shown, cover.Sheet, pictures, output, OptionsOf(choice, profile, moment), cancel),
                    OptionsOf(choice, profile, moment)
                );
                notes = [.. cover.Notes, .. notes];
                break;
            default:
                var options = OptionsOf(choice, profile, moment);
                var written = PdfWriter.Write(composed, pictures, output, Written, options, cancel);
                (faces, notes) = options.Kind == PdfKind.Print ? Inked(written, options) : (written.Faces, []);
                break;
        }
        return (composed, OutputReport.Of(composed, choice.Kind, faces) with { Notes = notes });
    }

    private static IReadOnlyList<string> Validated(MemoryStream epub, OutputStage? told, CancellationToken cancel)
    {
        told?.Invoke("Checking", 0, 0);
        var path = Path.Combine(Path.GetTempPath(), $"{Guid.NewGuid():N}.epub");
        try
        {
            File.WriteAllBytes(path, epub.ToArray());
            return EpubValidator.Read(path, cancel);
        }
        finally
        {
            File.Delete(path);
        }
    }

    private static byte[]? ProfileOf(OutputChoice choice, Func<string, byte[]?> pictures) =>
        choice.Profile.Length == 0
            ? null
            : pictures(choice.Profile)
                ?? throw new OutputException($"The profile “{choice.Profile}” is not here. Give it again, or choose none.");

    /// <summary>How much ink comes to lie on one spot: a sheet that takes more than its paper bears does not dry.</summary>
    private static (IReadOnlyList<string> Faces, IReadOnlyList<string> Notes) Inked(PdfWritten written, PdfOptions options) =>
        (
            written.Faces,
            [
                $"Ink on one spot: up to {written.MostInk} % of a solid in text and drawings"
                    + (
                        !written.HasPhotographs ? "."
                        : options.Profile.MostInk is { } most ? $", up to {most} % in photographs, by “{options.Profile.Name}”."
                        : $"; in photographs what “{options.Profile.Name}” makes of them."
                    ),
            ]
        );

    private static ColourProfile Printers(byte[] profile)
    {
        try
        {
            return ColourProfile.OfPrinter("The printer’s profile", profile);
        }
        catch (ColourProfileException e)
        {
            throw new OutputException(e.Message);
        }
    }

    private static WordTemplate? TemplateOf(OutputChoice choice, Func<string, byte[]?> pictures)
    {
        if (choice.Template.Length == 0)
            return null;
        if (pictures(choice.Template) is not { } bytes)
            throw new OutputException($"The template “{choice.Template}” is not here. Give it again, or choose none.");
        try
        {
            return WordTemplate.Read(choice.Template, bytes);
        }
        catch (SourceFormatException e)
        {
            throw new OutputException(e.Message);
        }
    }

    private static PdfOptions OptionsOf(OutputChoice choice, byte[]? profile, DateTimeOffset moment) =>
        new(choice.Kind == OutputKind.ScreenPdf ? PdfKind.Screen : PdfKind.Print)
        {
            PageMultiple = choice.Multiple,
            Marks = choice.Marks,
            OutlineDepth = choice.OutlineDepth,
            Facing = choice.Facing,
            Profile = profile is null ? ColourProfile.Coated : Printers(profile),
            Moment = moment,
        };
}
