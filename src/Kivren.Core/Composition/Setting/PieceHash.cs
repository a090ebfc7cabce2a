using System.IO.Hashing;
using System.Runtime.InteropServices;
using Kivren.Core.Content;
using Kivren.Core.Type;

namespace Kivren.Core.Composition;

/// <summary>Stands for all that a block's pieces draw: the text as printed, with places. Equal in every process.</summary>
internal static class PieceHash
{
    public static ulong Of(Piece[] pieces, Block? block, string reads, IReadOnlyList<Asset> assets)
    {
        var hash = new XxHash64();
        Append(hash, reads);
        Append(hash, block?.Id.Value ?? "");
        foreach (ref readonly var piece in pieces.AsSpan())
        {
            Append(hash, piece.Drawn, assets);
            Append(hash, piece.AtTop ?? [], assets);
            Append(hash, piece.AtFoot ?? [], assets);
            foreach (var plate in piece.Plates ?? [])
            {
                Append(hash, plate.Turned ? 1 : 0, plate.Drawn.Count);
                Append(hash, plate.Drawn, assets);
            }
        }
        return hash.GetCurrentHashAsUInt64();
    }

    private static void Append(XxHash64 hash, IReadOnlyList<Drawn> all, IReadOnlyList<Asset> assets)
    {
        foreach (var drawn in all)
        {
            Append(hash, drawn.X, drawn.Y);
            switch (drawn)
            {
                case DrawnLine line:
                    Append(hash, line.Line);
                    break;
                case DrawnRule rule:
                    Append(hash, rule.Width, rule.Height);
                    Append(hash, rule.Tone);
                    break;
                case DrawnPicture picture:
                    Append(hash, picture.Width, picture.Height);
                    Append(hash, assets.FirstOrDefault(a => a.Name == picture.Asset)?.Hash ?? picture.Asset);
                    break;
            }
        }
    }

    public static void Append(XxHash64 hash, TextLine line)
    {
        foreach (var word in line.Words)
        {
            Append(hash, word.Word.Text);
            if (word.Style.Face.IsOfHouse)
                Append(hash, word.Style.Face.Name);
            Append(hash, word.Target.Value ?? "");
            Append(hash, word.From, word.To);
            Append(hash, word.X, word.Style.Size.Millipoints);
            Append(
                hash,
                word.Style.Rise.Millipoints,
                word.Style.Face.Weight
                    + (word.Style.Face.Italic ? 1 : 0)
                    + word.Style.Face.Family.Length * 1024
                    + (word.Hyphen ? 1 << 20 : 0)
                    + ((int)word.Style.Features << 21)
            );
            if (word.Tracking != 0)
                Append(hash, word.Tracking, 1);
            Append(hash, word.Style.Ink);
            if (word.Inset is { } inset)
            {
                Append(hash, inset.Alternative);
                Append(hash, inset.Drawn, []);
            }
        }
    }

    private static void Append(XxHash64 hash, Tone tone)
    {
        if (tone != default)
            Append(hash, tone.Grey, tone.Screen ?? -1);
    }

    private static void Append(XxHash64 hash, string text) => hash.Append(MemoryMarshal.AsBytes(text.AsSpan()));

    private static void Append(XxHash64 hash, int a, int b)
    {
        ReadOnlySpan<int> both = [a, b];
        hash.Append(MemoryMarshal.AsBytes(both));
    }
}
