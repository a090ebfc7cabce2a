using System.Reflection;

namespace Kivren.Core.Looks;

/// <summary>The looks that ship: files like any other look's.</summary>
public static class ShippedLooks
{
    /// <summary>Workshop, A5: for operating and maintenance manuals. One grid of 13 points for text, heads and spaces.</summary>
    public static Look Workshop { get; } = Read("workshop");

    /// <summary>Code, A4: for standards and codes of practice; numbered clauses, numbers hang in a side column.</summary>
    public static Look Code { get; } = Read("code");

    /// <summary>Pocket, 105 × 148 mm: for what is carried in a pocket and read with one hand.</summary>
    public static Look Pocket { get; } = Read("pocket");

    /// <summary>Reader, 6 × 9 in: long text in one column on American book paper, in one family of letters.</summary>
    public static Look Reader { get; } = Read("reader");

    /// <summary>Bench, A4 two columns: reference sheets; wide tables stand across both columns.</summary>
    public static Look Bench { get; } = Read("bench");

    public static IReadOnlyList<Look> All { get; } = [Workshop, Code, Pocket, Reader, Bench];

    /// <exception cref="ArgumentException">there is no such look: never another in its place</exception>
    public static Look Named(string name) =>
        All.FirstOrDefault(l => l.Name == name)
        ?? throw new ArgumentException($"There is no look “{name}”; there are {string.Join("; ", All.Select(l => l.Name))}.", nameof(name));

    private static Look Read(string file)
    {
        using var stream = Assembly.GetExecutingAssembly().GetManifestResourceStream("look:" + file)!;
        using var reader = new StreamReader(stream);
        return LookFile.Read(reader.ReadToEnd(), out var faults)
            ?? throw new InvalidOperationException($"The look {file} that ships cannot be read: {string.Join(' ', faults)}");
    }
}
