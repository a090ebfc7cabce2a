using System.Text.Json.Nodes;
using Kivren.Formats.Package;

namespace Kivren.Cli;

/// <summary>Called wrongly, or an input that cannot be read: exit code 2.</summary>
internal sealed class UsageException(string message) : Exception(message);

/// <summary>What a command found: whether all is right, lines for people, one object for programs.</summary>
internal sealed record Report(bool Right, IReadOnlyList<string> Lines, JsonObject Json);

/// <summary>./kivren: every command with its words; exit 0 when done, 1 when what it checked is not right, 2 when it was
/// called wrongly or could not read its input.</summary>
public static class CommandLine
{
    private const string Usage = """
        kivren import FILE|FOLDER… -o M.kivren      reads .docx, Markdown, HTML, DocBook into a package; a folder of pages as one book
            [--roles MAP.json] [--tree FILE] [--language TAG] [--look NAME] [--title WORDS]
        kivren import NEW… --newer M.kivren --was OLD -o OUT.kivren   what a newer version changed, into the manual that OLD came into
        kivren compose M.kivren -o FILE            composes into FILE (.pdf) or a folder of pages (.svg)
            --print [--multiple N] [--profile ICC]  the PDF for the printer: bleed, crop marks, black alone
        kivren produce M.kivren --out DIR [--edition NAME] [--only print|cover|screen|epub|site|docx|docbook|markdown]
            [--profile ICC] [--date 2026-03-31]    every output of an edition, or of all, as the manual says
        kivren check M.kivren                      loose ends
        kivren audit FILE M.kivren                 judges a finished file (.pdf, .epub, .zip of web pages) from outside
        kivren explain M.kivren --page FOLIO       why the page ends where it ends
        kivren explain M.kivren --locator "HEADING › SUBHEADING"   what stands on each page that the index names
        kivren explain M.kivren --block ID         what a block prints, where, and by which rule it is dressed
        kivren look NAME|FILE.kivrenlook [-o FILE.kivrenlook] [--on M.kivren]
                                                   what is wrong with a look; gives it to a file, puts it on a manual
        kivren generate --pages N [--chapter-pages N] [--pointing N] --seed S -o M.kivren   a manual of any length (or M.docx, for import)
        kivren generate --of M.kivren --edits N --seed S -o OUT.kivren         a package after N random edits
        compose, check, audit and explain take --edition NAME, --for paper|screen and --look NAME, all but audit a look's file
        too; every command takes --json.
        """;

    private static readonly Dictionary<string, Func<Arguments, Report>> Commands = new(StringComparer.Ordinal)
    {
        ["import"] = ImportCommand.Run,
        ["compose"] = ComposeCommand.Run,
        ["produce"] = ProduceCommand.Run,
        ["audit"] = AuditCommand.Run,
        ["check"] = CheckCommand.Run,
        ["look"] = LookCommand.Run,
        ["generate"] = GenerateCommand.Run,
        ["explain"] = ExplainCommand.Run,
    };

    public static int Run(string[] args, TextWriter output, TextWriter errors)
    {
        if (args.Length == 0 || args[0] is "help" or "--help" or "-h")
        {
            output.WriteLine(Usage);
            return args.Length == 0 ? 2 : 0;
        }
        var json = args.Contains("--json");
        try
        {
            if (!Commands.TryGetValue(args[0], out var command))
                throw new UsageException($"There is no command “{args[0]}”.\n{Usage}");
            var report = command(Arguments.Parse(args[1..]));
            if (json)
                output.WriteLine(report.Json.ToJsonString());
            else
                foreach (var line in report.Lines)
                    output.WriteLine(line);
            return report.Right ? 0 : 1;
        }
        catch (Exception e)
            when (e is UsageException or PackageFormatException or IOException or UnauthorizedAccessException or InvalidDataException)
        {
            if (json)
                output.WriteLine(new JsonObject { ["error"] = e.Message }.ToJsonString());
            else
                errors.WriteLine(e.Message);
            return 2;
        }
    }
}
