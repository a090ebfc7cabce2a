namespace Kivren.Cli;

/// <summary>What follows a command: files, and options with their values.</summary>
internal sealed record Arguments(IReadOnlyList<string> Files, IReadOnlyDictionary<string, string> Options)
{
    private static readonly string[] WithValue =
    [
        "-o",
        "--edition",
        "--for",
        "--only",
        "--out",
        "--look",
        "--pages",
        "--seed",
        "--page",
        "--chapter-pages",
        "--pointing",
        "--of",
        "--edits",
        "--multiple",
        "--profile",
        "--date",
        "--language",
        "--title",
        "--tree",
        "--block",
        "--locator",
        "--roles",
        "--on",
        "--newer",
        "--was",
    ];

    /// <summary>Options that stand alone.</summary>
    private static readonly string[] Alone = ["--print"];

    public static Arguments Parse(string[] args)
    {
        var files = new List<string>();
        var options = new Dictionary<string, string>(StringComparer.Ordinal);
        for (var i = 0; i < args.Length; i++)
        {
            if (args[i] == "--json")
                continue;
            if (!args[i].StartsWith('-'))
                files.Add(args[i]);
            else if (Alone.Contains(args[i]))
                options[args[i]] = "";
            else if (!WithValue.Contains(args[i]))
                throw new UsageException($"There is no option {args[i]}.");
            else if (i + 1 == args.Length)
                throw new UsageException($"{args[i]} wants a value.");
            else
                options[args[i]] = args[++i];
        }
        return new Arguments(files, options);
    }

    public string? Option(string name) => Options.GetValueOrDefault(name);

    public string Required(string name) => Option(name) ?? throw new UsageException($"{name} is missing.");

    public string File(int index, string what) => index < Files.Count ? Files[index] : throw new UsageException($"Name {what}.");

    public int Number(string name, int otherwise) =>
        Option(name) is not { } text ? otherwise
        : int.TryParse(text, out var value) && value > 0 ? value
        : throw new UsageException($"{name} wants a whole number above zero, not “{text}”.");
}
