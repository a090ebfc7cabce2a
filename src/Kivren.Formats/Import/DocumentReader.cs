using System.Text;
using Kivren.Core.Editions;
using Kivren.Formats.DocBook;
using Kivren.Formats.Docx;
using Kivren.Formats.Html;
using Kivren.Formats.Import.Sites;
using Kivren.Formats.Markdown;

namespace Kivren.Formats.Import;

/// <summary>A file that is brought in: its name (with its path from where the files lie) and its bytes.</summary>
public sealed record SourceFile(string Name, byte[] Bytes);

/// <summary>Reads a source document by what it is, not by what its name says.</summary>
public static class DocumentReader
{
    public const long MostBytes = 200L << 20;

    /// <summary>Markup beyond this is no text that a person wrote.</summary>
    private const long MostMarkup = 64L << 20;

    public static readonly IReadOnlyList<string> Endings =
    [
        ".docx",
        ".md",
        ".markdown",
        ".html",
        ".htm",
        ".shtml",
        ".xhtml",
        ".xml",
        ".dbk",
        ".docbook",
    ];
    private static readonly string[] PictureEndings = [".png", ".jpg", ".jpeg", ".svg", ".gif", ".bmp", ".webp", ".emf", ".wmf"];

    /// <summary>Whether the file is text to be read by itself, and not a picture or part beside one.</summary>
    public static bool IsDocument(string name) => Endings.Contains(Path.GetExtension(name).ToLowerInvariant());

    public static bool IsPicture(string name) => PictureEndings.Contains(Path.GetExtension(name).ToLowerInvariant());

    /// <summary>Whether a document may name this file as a picture or a part of it.</summary>
    public static bool IsBeside(string name) =>
        IsPicture(name) || Path.GetExtension(name).ToLowerInvariant() is ".xml" or ".ent" or ".docbook" or ".dbk" or ".mod";

    /// <param name="beside">the other files, whose pictures and parts the document may name</param>
    /// <param name="progress">told how much is read, from 0 to 1</param>
    /// <exception cref="SourceFormatException">it cannot be read: what and where, and what to do</exception>
    public static SourceDocument Read(
        SourceFile file,
        IReadOnlyList<SourceFile> beside,
        Action<double>? progress = null,
        CancellationToken cancel = default
    )
    {
        var name = file.Name;
        if (file.Bytes.Length == 0)
            throw new SourceFormatException($"{name} is empty.");
        if (file.Bytes.Length > MostBytes)
            throw new SourceFormatException(
                $"{name} has {file.Bytes.Length >> 20} MB; up to {MostBytes >> 20} MB are read. Take large pictures out, or divide it."
            );
        var folder = Path.GetDirectoryName(name)?.Replace('\\', '/') ?? "";
        var named = new Dictionary<string, byte[]>(StringComparer.Ordinal);
        foreach (var other in beside)
        {
            named.TryAdd(
                folder.Length > 0 && other.Name.StartsWith(folder + "/", StringComparison.Ordinal)
                    ? other.Name[(folder.Length + 1)..]
                    : other.Name,
                other.Bytes
            );
            named.TryAdd(Path.GetFileName(other.Name), other.Bytes);
        }
        var ending = Path.GetExtension(name).ToLowerInvariant();
        var kind = KindOf(file.Bytes, ending);
        if (kind != Kind.Word && file.Bytes.Length > MostMarkup)
            throw new SourceFormatException(
                $"{name} has {file.Bytes.Length >> 20} MB of markup; up to {MostMarkup >> 20} MB are read. Divide it."
            );
        SourceDocument document;
        try
        {
            document = OfKind(kind, name, file.Bytes, named, progress, cancel);
        }
        catch (Exception e)
            when (e
                    is InsufficientExecutionStackException
                        or InvalidDataException
                        or System.Xml.XmlException
                        or FormatException
                        and not SourceFormatException
                        or InvalidOperationException
                        or ArgumentException
                        or IOException
                        or NotSupportedException
                        or OverflowException
                        or KeyNotFoundException
            )
        {
            throw new SourceFormatException($"{name} cannot be read: {e.Message}");
        }
        document = Spoken(document);
        progress?.Invoke(1);
        var expected = ending switch
        {
            ".docx" => Kind.Word,
            ".html" or ".htm" or ".shtml" or ".xhtml" => Kind.Html,
            ".xml" or ".dbk" or ".docbook" => Kind.DocBook,
            ".md" or ".markdown" => Kind.Markdown,
            _ => kind,
        };
        return expected == kind
            ? document
            : document with
            {
                Met =
                [
                    new ReportLine(
                        ReportKind.Look,
                        name,
                        $"The file's ending says otherwise, but it is {Words(kind)}; it was read as such."
                    ),
                    .. document.Met,
                ],
            };
    }

    private const string Usual = "en-GB";

    /// <summary>The document with a language: the one it says, where that is a language at all; else the one of its words.</summary>
    private static SourceDocument Spoken(SourceDocument document)
    {
        var said = document.Language.Replace('_', '-');
        if (EditionEditing.IsLanguage(said))
            return LanguageGuess.Against(said, document.Blocks.Words()) is not { } other
                ? document with
                {
                    Language = said,
                }
                : document with
                {
                    Language = other,
                    Met =
                    [
                        new ReportLine(
                            ReportKind.Look,
                            document.File,
                            $"The file says that it is in “{said}”, and its words are of another language. The manual's words and hyphens "
                                + "follow these.",
                            other
                        ),
                        .. document.Met,
                    ],
                };
        var guess = LanguageGuess.Of(document.Blocks.Words());
        if (guess == Usual)
            return document with { Language = Usual };
        if (guess is not { } guessed)
            return document with { Language = Usual, IsLanguageAssumed = true };
        return document with
        {
            Language = guessed,
            Met =
            [
                new ReportLine(
                    ReportKind.Look,
                    document.File,
                    "The file does not say its language; it was told from its letters and words. The manual's words and hyphens follow it.",
                    guessed
                ),
                .. document.Met,
            ],
        };
    }

    /// <summary>The documents without those that are parts of another among them or say the same; and those whose language nothing told
    /// in the language that most of the others are in.</summary>
    public static IReadOnlyList<SourceDocument> Together(IReadOnlyList<SourceDocument> documents)
    {
        (documents, var others) = SameFiles.Once(documents);
        var parts = documents.SelectMany(d => d.DrawsIn.Where(name => name != d.File)).ToHashSet(StringComparer.Ordinal);
        // Two files that draw each other in are both read.
        var whole = documents.Where(d =>
            !parts.Contains(d.File) || documents.Any(o => d.DrawsIn.Contains(o.File) && o.DrawsIn.Contains(d.File))
        );
        var told = documents
            .Where(d => !d.IsLanguageAssumed)
            .GroupBy(d => d.Language)
            .OrderByDescending(g => g.Sum(d => d.Blocks.Count + 1))
            .ThenBy(g => g.Key, StringComparer.Ordinal)
            .FirstOrDefault();
        // What a book does not draw in stands behind it.
        return LinkedFiles.Found(
            [
                .. whole
                    .OrderByDescending(d => d.DrawsIn.Any(parts.Contains))
                    .Select(d => d.IsLanguageAssumed && told is not null ? d with { Language = told.Key } : d),
            ],
            others
        );
    }

    private static SourceDocument OfKind(
        Kind kind,
        string name,
        byte[] bytes,
        Dictionary<string, byte[]> named,
        Action<double>? progress,
        CancellationToken cancel
    ) =>
        kind switch
        {
            Kind.Word => WordReader.Read(name, bytes, progress, cancel),
            Kind.Html => HtmlReader.Read(name, bytes, named, cancel),
            Kind.DocBook => DocBookReader.Read(name, bytes, named, cancel),
            Kind.Markdown => MarkdownReader.Read(name, bytes, named, cancel),
            _ => throw new SourceFormatException(
                $"{name} is none of the kinds that are read: word-processor documents (.docx), Markdown (.md), HTML and DocBook."
            ),
        };

    private enum Kind
    {
        None,
        Word,
        Html,
        DocBook,
        Markdown,
    }

    private static string Words(Kind kind) =>
        kind switch
        {
            Kind.Word => "a word-processor document",
            Kind.Html => "HTML",
            Kind.DocBook => "DocBook",
            _ => "plain text",
        };

    private static Kind KindOf(byte[] bytes, string ending)
    {
        if (bytes.AsSpan().StartsWith("PK"u8) || bytes.AsSpan().StartsWith((ReadOnlySpan<byte>)[0xD0, 0xCF, 0x11, 0xE0]))
            return Kind.Word;
        var start = Encoding.Latin1.GetString(bytes, 0, Math.Min(bytes.Length, 4096));
        var utf16 = start.Length > 1 && start[0] is '\u00FF' or '\u00FE';
        if (!utf16 && start.Contains('\0', StringComparison.Ordinal) || start.StartsWith("%PDF", StringComparison.Ordinal))
            return Kind.None;
        if (utf16)
            return ending is ".html" or ".htm" or ".shtml" ? Kind.Html
                : ending is ".md" or ".markdown" or ".txt" ? Kind.Markdown
                : Kind.DocBook;
        var bare = start.TrimStart('\u00EF', '\u00BB', '\u00BF', ' ', '\t', '\r', '\n');
        // In Markdown too a line may begin with a tag: only a document type or the ending tells.
        if (
            bare.StartsWith("<!DOCTYPE html", StringComparison.OrdinalIgnoreCase)
            || bare.StartsWith("<html", StringComparison.OrdinalIgnoreCase)
        )
            return Kind.Html;
        if (bare.StartsWith("<?xml", StringComparison.Ordinal))
            return
                start.Contains("<html", StringComparison.OrdinalIgnoreCase)
                || start.Contains("//DTD XHTML ", StringComparison.Ordinal) && !start.Contains("//DTD DocBook ", StringComparison.Ordinal)
                ? Kind.Html
                : Kind.DocBook;
        if (ending is ".html" or ".htm" or ".shtml" or ".xhtml")
            return Kind.Html;
        if (ending is ".xml" or ".dbk" or ".docbook")
            return bare.StartsWith('<') ? Kind.DocBook : Kind.Markdown;
        if (ending is ".md" or ".markdown" or ".txt")
            return Kind.Markdown;
        // A text that begins like nothing else, under the ending of an archive, is a damaged archive.
        return ending is ".docx" ? Kind.Word : Kind.None;
    }
}
