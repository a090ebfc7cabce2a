using Kivren.Core.Content;

namespace Kivren.Formats.Flowing;

/// <summary>The pictures that a flowing output uses, under names that any system can keep.</summary>
internal sealed class BookPictures(Manual manual, Func<string, byte[]?> bytes)
{
    private readonly SortedDictionary<string, (string Address, string MediaType, byte[] Bytes)> _used = new(StringComparer.Ordinal);

    /// <summary>Pictures that are asked for and that the manual does not have: they are drawn as an empty frame.</summary>
    private static readonly byte[] Missing =
        """
        <svg xmlns="http://www.w3.org/2000/svg" width="320" height="120" viewBox="0 0 320 120">
        <rect x="1" y="1" width="318" height="118" fill="none" stroke="#888"/></svg>
        """u8.ToArray();

    public IEnumerable<(string MediaType, string Address, byte[] Bytes)> Files =>
        _used.Values.Select(f => (f.MediaType, f.Address, f.Bytes));

    /// <summary>The address of a picture from the folder of the book.</summary>
    public string Address(string name)
    {
        if (_used.TryGetValue(name, out var known))
            return known.Address;
        var asset = manual.Assets.FirstOrDefault(a => a.Name == name);
        var found = asset is null ? null : bytes(name);
        var type = found is null ? "image/svg+xml" : asset!.MediaType;
        var ending = type switch
        {
            "image/svg+xml" => ".svg",
            "image/jpeg" => ".jpg",
            _ => ".png",
        };
        var stem = string.Concat(
            Path.GetFileNameWithoutExtension(name).Select(c => char.IsAsciiLetterOrDigit(c) || c is '-' ? char.ToLowerInvariant(c) : '-')
        );
        var address = $"pictures/{stem}{ending}";
        for (var n = 2; _used.Values.Any(u => u.Address == address); n++)
            address = $"pictures/{stem}-{n}{ending}";
        _used.Add(name, (address, type, found ?? Missing));
        return address;
    }
}
