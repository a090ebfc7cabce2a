using System.Text.RegularExpressions;

namespace Kivren.Core.Tests;

public partial class HouseTests
{
    private static readonly Dictionary<string, string[]> MayUse = new(StringComparer.Ordinal)
    {
        ["Kivren.Faces"] = [],
        ["Kivren.Core"] = ["Kivren.Faces"],
        ["Kivren.Formats"] = ["Kivren.Core"],
        ["Kivren.Audit"] = ["Kivren.Core"],
        ["Kivren.Desk"] = ["Kivren.Core", "Kivren.Formats"],
        ["Kivren.Store"] = ["Kivren.Core", "Kivren.Formats", "Kivren.Desk"],
        ["Kivren.Server"] = ["Kivren.Core", "Kivren.Formats", "Kivren.Desk", "Kivren.Store"],
        ["Kivren.Cli"] = ["Kivren.Core", "Kivren.Formats", "Kivren.Audit", "Kivren.Desk"],
    };

    private static string Root
    {
        get
        {
            var folder = new DirectoryInfo(AppContext.BaseDirectory);
            while (!File.Exists(Path.Combine(folder.FullName, "Kivren.slnx")))
                folder = folder.Parent!;
            return folder.FullName;
        }
    }

    [GeneratedRegex("ProjectReference Include=\"[^\"]*/(Kivren\\.[A-Za-z]+)\\.csproj\"")]
    private static partial Regex Reference();

    [Fact]
    public void Dependencies_point_inward()
    {
        var projects = Directory.GetFiles(Path.Combine(Root, "src"), "*.csproj", SearchOption.AllDirectories);
        Assert.Equal(MayUse.Keys.Order(), projects.Select(Path.GetFileNameWithoutExtension).Order()!);
        foreach (var project in projects)
        {
            var used = Reference().Matches(File.ReadAllText(project)).Select(m => m.Groups[1].Value);
            Assert.All(used, u => Assert.Contains(u, MayUse[Path.GetFileNameWithoutExtension(project)]));
        }
    }

    [Fact]
    public void The_audit_knows_only_content_and_selection()
    {
        foreach (
            var file in Directory
                .GetFiles(Path.Combine(Root, "src", "Kivren.Audit"), "*.cs")
                .Where(f => !f.Contains("/obj/", StringComparison.Ordinal))
        )
        foreach (Match use in Regex.Matches(File.ReadAllText(file), @"Kivren\.Core\.(\w+)"))
            Assert.Contains(use.Groups[1].Value, new[] { "Content", "Selection" });
    }

    [Theory, InlineData("Kivren.Core"), InlineData("Kivren.Desk")]
    public void The_core_and_the_desk_read_no_clock_no_culture_no_chance(string project)
    {
        foreach (
            var file in Directory
                .GetFiles(Path.Combine(Root, "src", project), "*.cs", SearchOption.AllDirectories)
                .Where(f => !f.Contains("/obj/", StringComparison.Ordinal))
        )
            Assert.DoesNotMatch(
                @"DateTime\.|Stopwatch|CultureInfo\.CurrentCulture|new Random|Guid\.|\.GetHashCode\(\)|Npgsql|EntityFramework",
                File.ReadAllText(file)
            );
    }
}
