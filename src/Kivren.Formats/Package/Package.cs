using Kivren.Core.Content;

namespace Kivren.Formats.Package;

/// <summary>A manual with the bytes of its pictures, by asset name.</summary>
public sealed record Package(Manual Manual, IReadOnlyDictionary<string, byte[]> Pictures)
{
    public byte[]? Picture(string name) => Pictures.GetValueOrDefault(name);
}

/// <summary>A package that cannot be read at all: what and where.</summary>
public sealed class PackageFormatException(string message) : FormatException(message);
