namespace Kivren.Core.Type;

/// <summary>A colour as it is seen: on screens, and in print, where black ink is the only one.</summary>
/// <param name="Grey">in print: 0 for black up to 100 for white</param>
/// <param name="Screen">red, green and blue as 0xRRGGBB; null for the grey of print</param>
public readonly record struct Tone(int Grey, int? Screen = null)
{
    public static implicit operator Tone(int grey) => new(grey);

    /// <summary>A colour of screens with the grey that is as dark (ITU-R BT.601 luma).</summary>
    public static Tone Of(int rgb) => new(((rgb >> 16 & 255) * 299 + (rgb >> 8 & 255) * 587 + (rgb & 255) * 114) / 2_550, rgb);
}
