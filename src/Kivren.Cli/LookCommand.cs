using System.Text.Json.Nodes;
using Kivren.Core.Looks;
using Kivren.Formats.Docx;
using Kivren.Formats.Fonts;
using Kivren.Formats.Import;
using Kivren.Formats.Package;

namespace Kivren.Cli;

/// <summary>kivren look: judges a look's file, and gives any look away as one.</summary>
internal static class LookCommand
{
    public static Report Run(Arguments arguments)
    {
        var asked = arguments.File(0, "a look, its file, or a word-processor document to take one from");
        var isDocument = Path.GetExtension(asked).ToLowerInvariant() is ".docx" or ".dotx";
        if ((Inputs.IsFile(asked) || isDocument) && !File.Exists(asked))
            throw new UsageException($"There is no file {asked}.");
        IReadOnlyList<LookFault> faults = [];
        IReadOnlyList<string> report = [];
        Look? look;
        if (isDocument)
            (look, report) = Taken(asked, arguments.Option("--roles") is { } roles ? [Inputs.Mapping(roles)] : []);
        else
            look = Inputs.IsFile(asked) ? LookFile.Read(Inputs.Opened(asked), out faults) : Inputs.ShippedLook(asked);
        var json = new JsonObject
        {
            ["look"] = look?.Name,
            ["faults"] = new JsonArray([.. faults.Select(f => new JsonObject { ["place"] = f.Place, ["says"] = f.Says })]),
        };
        if (look is null)
            return new Report(false, [.. faults.Select(f => f.ToString()), $"{faults.Count} faults: {asked} cannot be worn."], json);
        if (arguments.Option("-o") is { } target)
            File.WriteAllText(target, LookParcel.Pack(look));
        if (arguments.Option("--on") is { } worn)
            PutOn(look, worn);
        return new Report(true, [.. report, $"{look.Name}: nothing is wrong."], json);
    }

    private static (Look, IReadOnlyList<string>) Taken(string document, IReadOnlyList<ImportMapping> mappings)
    {
        try
        {
            var taken = DocumentLook.Take(
                Path.GetFileName(document),
                File.ReadAllBytes(document),
                Path.GetFileNameWithoutExtension(document),
                mappings
            );
            return (taken.Look, taken.Report);
        }
        catch (SourceFormatException e)
        {
            throw new UsageException(e.Message);
        }
    }

    /// <summary>The package is written anew; all of it is there before the old one goes.</summary>
    private static void PutOn(Look look, string path)
    {
        var package = Inputs.Package(path, []);
        using var output = new MemoryStream();
        PackageWriter.Write(package with { Manual = package.Manual.Wearing(look) }, output);
        File.WriteAllBytes(path + ".new", output.ToArray());
        File.Move(path + ".new", path, overwrite: true);
    }
}
