using System.Text;

namespace Kivren.Formats.Import;

/// <summary>Encodings by name, those of code pages too.</summary>
internal static class CodePages
{
    /// <exception cref="ArgumentException">there is no such encoding</exception>
    public static Encoding Named(string name)
    {
        try
        {
            return Encoding.GetEncoding(name);
        }
        catch (ArgumentException)
        {
            return CodePagesEncodingProvider.Instance.GetEncoding(name)
                ?? throw new ArgumentException($"There is no encoding “{name}”.", nameof(name));
        }
    }
}
