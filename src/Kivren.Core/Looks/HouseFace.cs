using System.Runtime.CompilerServices;
using Kivren.Core.Type;

namespace Kivren.Core.Looks;

/// <summary>A font file that a look brings along.</summary>
/// <param name="Hash">SHA-256 of its bytes, hex</param>
/// <param name="Called">name of the file, for people</param>
public sealed record FontFile(string Hash, string Called);

/// <summary>A house's own face: the files of its weights and slants, and what stands in for characters that they lack.</summary>
/// <param name="Name">by which dresses name it</param>
public sealed record HouseFace(string Name, FontFile Regular)
{
    public FontFile? Italic { get; init; }
    public FontFile? Strong { get; init; }
    public FontFile? StrongItalic { get; init; }

    /// <summary>Names of faces, those that ship or others of the house before this one, asked in order.</summary>
    public IReadOnlyList<string> StandIns { get; init; } = ["serif"];

    public IEnumerable<FontFile> Files => new[] { Regular, Italic, Strong, StrongItalic }.OfType<FontFile>();

    /// <summary>The names that dresses can use: the face itself and what it has a file for.</summary>
    public IEnumerable<string> Names =>
        new[]
        {
            Name,
            Italic is null ? null : Name + " italic",
            Strong is null ? null : Name + " strong",
            StrongItalic is null ? null : Name + " strong italic",
        }.OfType<string>();
}

/// <summary>The faces that a look's dresses can name: those that ship, and those of the house.</summary>
internal static class HouseFaces
{
    private static readonly ConditionalWeakTable<IReadOnlyList<HouseFace>, IReadOnlyList<FaceSet>> Found = [];

    /// <summary>All, those that ship first. A face whose file is not here is as the first of its stand-ins.</summary>
    public static IReadOnlyList<FaceSet> Of(IReadOnlyList<HouseFace> faces)
    {
        if (faces.Count == 0)
            return FaceSet.Shipped;
        if (Found.TryGetValue(faces, out var known))
            return known;
        var made = Make(faces);
        // A file that is not here yet can still come.
        if (faces.SelectMany(f => f.Files).All(f => FaceFiles.Find(f.Hash) is not null))
            Found.AddOrUpdate(faces, made);
        return made;
    }

    public static FaceSet? Named(IReadOnlyList<HouseFace> faces, string name) => Of(faces).FirstOrDefault(f => f.Name == name);

    private static List<FaceSet> Make(IReadOnlyList<HouseFace> faces)
    {
        var all = FaceSet.Shipped.ToList();
        foreach (var face in faces)
        {
            var standIns = face.StandIns.Select(n => all.Find(f => f.Name == n)).OfType<FaceSet>().DefaultIfEmpty(FaceSet.Serif).ToList();
            var first = standIns[0];
            Face In(FontFile? file, Face otherwise) => file is null ? otherwise : FaceFiles.Find(file.Hash) ?? otherwise;
            var regular = In(face.Regular, first.Plain);
            var italic = In(face.Italic, regular);
            var strong = In(face.Strong, regular);
            var plain = first with
            {
                Name = face.Name,
                Plain = regular,
                Emphasis = italic,
                Strong = strong,
                Control = strong,
                StandIns = [.. standIns.Select(s => s.Plain)],
            };
            all.Add(plain);
            foreach (
                var (name, own, emphasis) in new[]
                {
                    (" italic", face.Italic, regular),
                    (" strong", face.Strong, In(face.StrongItalic, italic)),
                    (" strong italic", face.StrongItalic, strong),
                }
            )
                if (own is not null)
                    all.Add(plain with { Name = face.Name + name, Plain = In(own, first.Plain), Emphasis = emphasis });
        }
        return all;
    }
}
