using System.Globalization;
using Kivren.Core;
using Kivren.Core.Looks;
using Kivren.Server.Manuals;

namespace Kivren.Server.Looks;

/// <summary>A look that a manual can wear.</summary>
/// <param name="Paper">as its paper is called or measured</param>
/// <param name="IsOwn">the manual carries it: it is not one that ships</param>
[GenerateSerializer, Immutable]
public sealed record LookChoice(string Name, string Paper, bool IsOwn, bool IsWorn);

/// <summary>The look that a manual wears, and those that it could.</summary>
[GenerateSerializer, Immutable]
public sealed record LookView(int Composition, LookChoice[] Looks)
{
    public static LookView Of(NumberedComposition settled)
    {
        var manual = settled.Composed.Text.Manual.In(settled.Composed.Text.Edition);
        var own = manual.LookFile is null ? null : WornLook.Of(manual);
        return new LookView(
            settled.Number,
            [
                .. (own is null ? [] : new[] { own }).Select(l => Choice(l, isOwn: true, isWorn: true)),
                .. ShippedLooks.All.Select(l => Choice(l, isOwn: false, own is null && l.Name == manual.Look)),
            ]
        );
    }

    private static LookChoice Choice(Look look, bool isOwn, bool isWorn) => new(look.Name, Paper(look.Master), isOwn, isWorn);

    public static string Paper(PageMaster master)
    {
        static string Millimetres(Length length) =>
            Math.Round(length.InPoints * 25.4 / 72, 1, MidpointRounding.AwayFromZero).ToString("0.#", CultureInfo.InvariantCulture);
        return $"{Millimetres(master.Width)} × {Millimetres(master.Height)} mm";
    }
}

/// <summary>A look to put on: by its name, or by its file.</summary>
/// <param name="From">the look that the file was made from: it must be worn still; null to put it on whatever is worn</param>
[GenerateSerializer, Immutable]
public sealed record LookOrder(string Id, string Writer, string? Name, string? File, string? From)
{
    public string? Problem() =>
        !Checks.IsId(Id) || !Checks.IsId(Writer) ? "An act needs an id and its writer."
        : (Name is null) == (File is null) ? "Name a look, or send its file."
        : Name is not null && ShippedLooks.All.All(l => l.Name != Name) ? $"There is no look “{Name}”."
        : null;
}

/// <summary>What is wrong with a look's file, with its place.</summary>
[GenerateSerializer, Immutable]
public sealed record SaidFault(string Place, string Says);

/// <summary>A look was put on, or why not.</summary>
/// <param name="Faults">of a file that cannot be worn</param>
[GenerateSerializer, Immutable]
public sealed record PutOn(long Act, string Words, string? Refused, SaidFault[] Faults);
