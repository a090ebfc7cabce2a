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
                faces = EpubWriter.Write(
                    FlowingBook.Of(composed, splits),
                    new PageList(printed),
                    choice,
                    pictures,
                    moment,
                    output,
                    Written,
                    cancel
                );
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
            default:
                faces = PdfWriter.Write(composed, pictures, output, Written, OptionsOf(choice, profile, moment), cancel);
                break;
        }
        return (composed, OutputReport.Of(composed, choice.Kind, faces) with { Notes = notes });
    }

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
        new(choice.Kind == OutputKind.PrintPdf ? PdfKind.Print : PdfKind.Screen)
        {
            PageMultiple = choice.Multiple,
            Marks = choice.Marks,
            OutlineDepth = choice.OutlineDepth,
            Facing = choice.Facing,
            Profile = profile is null ? ColourProfile.Coated : Printers(profile),
            Moment = moment,
        };
}
