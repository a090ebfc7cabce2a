using Kivren.Core.Content;
using Kivren.Core.Reuse;
using Kivren.Desk;
using Kivren.Formats.Package;

namespace Kivren.Server.Manuals;

/// <summary>An act on what is kept once, as a browser asks for it.</summary>
/// <param name="Do">setVariable, renameVariable, takeOutVariable, setCondition, renameCondition, takeOutCondition, acceptWord,
/// refuseWord, replacePicture, apply, addPassage, renamePassage, takeOutPassage, makePlain</param>
/// <param name="Name">the variable, the axis, or the name of a new passage</param>
/// <param name="Value">the value of the axis that is renamed; null for the axis</param>
/// <param name="To">the new name, or the text of the variable</param>
/// <param name="Values">of the axis</param>
/// <param name="Rows">divisions, heads, blocks; the passage; the use</param>
/// <param name="AppliesTo">axes with their values, by name</param>
[GenerateSerializer, Immutable]
public sealed record ReuseOrder(
    string Id,
    string Writer,
    string Do,
    string? Name,
    string? Value,
    string? To,
    string[]? Values,
    string[]? Rows,
    Dictionary<string, string[]>? AppliesTo
)
{
    private const int MostRows = 2_000;

    /// <summary>What is wrong with it, or null.</summary>
    public string? Problem()
    {
        if (!Checks.IsId(Id) || !Checks.IsId(Writer) || !Checks.IsText(Do, 40))
            return "An act needs an id, its writer and what it does.";
        if (
            (Do == "replacePicture" ? !Checks.IsText(Name, 200) : !Short(Name))
            || !Short(Value)
            || (To is not null && !Checks.IsText(To, Reusing.LongestText))
        )
            return $"A name has up to {Reusing.LongestName} letters, a variable up to {Reusing.LongestText}.";
        if (Values is { Length: > Reusing.MostValues } || Values?.All(Short) is false)
            return $"A condition has up to {Reusing.MostValues} values of up to {Reusing.LongestName} letters.";
        if (Rows is { Length: > MostRows } || Rows?.All(Checks.IsId) is false)
            return $"An act names up to {MostRows} rows by their ids.";
        if (
            AppliesTo is { Count: > Reusing.MostValues }
            || AppliesTo?.All(a => Short(a.Key) && a.Value is { Length: > 0 and <= Reusing.MostValues } && a.Value.All(Short)) is false
        )
            return "This is no condition.";
        return null;
    }

    private static bool Short(string? text) => text is null || Checks.IsText(text, Reusing.LongestName);

    /// <summary>The act, or null when it is none.</summary>
    public ReuseAct? ToAct()
    {
        var (name, to) = (Name ?? "", To ?? "");
        Id[] rows = [.. (Rows ?? []).Select(r => new Id(r))];
        return Do switch
        {
            "setVariable" => new ReuseAct.SetVariable(name, to),
            "renameVariable" => new ReuseAct.RenameVariable(name, to),
            "takeOutVariable" => new ReuseAct.TakeOutVariable(name),
            "setCondition" => new ReuseAct.SetCondition(name, Values ?? []),
            "renameCondition" => new ReuseAct.RenameCondition(name, Value, to),
            "takeOutCondition" => new ReuseAct.TakeOutCondition(name),
            "acceptWord" => new ReuseAct.AcceptWord(name, Right: true),
            "refuseWord" => new ReuseAct.AcceptWord(name, Right: false),
            "replacePicture" => new ReuseAct.ReplacePicture(name, to),
            "apply" => new ReuseAct.Apply(rows, new AppliesTo([.. (AppliesTo ?? []).Select(a => new AxisValues(a.Key, a.Value))])),
            "addPassage" => new ReuseAct.AddPassage(new Id(Id), name, rows),
            "renamePassage" when rows.Length == 1 => new ReuseAct.RenamePassage(rows[0], to),
            "takeOutPassage" when rows.Length == 1 => new ReuseAct.TakeOutPassage(rows[0]),
            "makePlain" when rows.Length == 1 => new ReuseAct.MakePlain(rows[0], new Id(Id)),
            _ => null,
        };
    }
}

/// <summary>Where something kept once is used: the block, and its first words.</summary>
[GenerateSerializer, Immutable]
public sealed record UsePlace(string Division, string Title, string Block, string Words);

[GenerateSerializer, Immutable]
public sealed record KeptVariable(string Name, string Text, UsePlace[] Uses);

[GenerateSerializer, Immutable]
public sealed record KeptCondition(string Axis, KeptValue[] Values);

[GenerateSerializer, Immutable]
public sealed record KeptValue(string Name, UsePlace[] Uses);

/// <param name="Blocks">bodies, as the editor holds them</param>
[GenerateSerializer, Immutable]
public sealed record KeptPassage(string Id, string Name, string[] Blocks, UsePlace[] Uses);

/// <param name="Chosen">axes with the values it takes</param>
[GenerateSerializer, Immutable]
public sealed record KeptEdition(string Name, Dictionary<string, string[]> Chosen);

/// <summary>All that is kept once, with where each is used.</summary>
[GenerateSerializer, Immutable]
public sealed record KeptOnce(
    KeptVariable[] Variables,
    KeptCondition[] Conditions,
    KeptPassage[] Passages,
    KeptEdition[] Editions,
    string[] AcceptedWords
)
{
    /// <summary>So many places of one thing are named; more are only counted by those who ask for them one by one.</summary>
    private const int MostPlaces = 500;

    public static KeptOnce Of(DeskState state)
    {
        var manual = state.Manual;
        var variables = manual.Variables.ToDictionary(v => v.Name, _ => new List<UsePlace>(), StringComparer.Ordinal);
        var values = manual.Conditions.SelectMany(c => c.Values.Select(v => (c.Axis, v))).ToDictionary(v => v, _ => new List<UsePlace>());
        var passages = manual.Passages.ToDictionary(p => p.Name, _ => new List<UsePlace>(), StringComparer.Ordinal);
        foreach (var division in state.Divisions)
        {
            UsePlace Place(Block block, string? words = null) =>
                new(division.Id, division.Division.Title, block.Id.Value, words ?? FirstWords(block));
            void Note(IEnumerable<AxisValues> axes, Func<UsePlace> place)
            {
                foreach (var axis in axes)
                foreach (var value in axis.Values)
                    if (values.TryGetValue((axis.Axis, value), out var places) && places.Count < MostPlaces)
                        places.Add(place());
            }
            Note(division.Division.AppliesTo.Axes, () => new UsePlace(division.Id, division.Division.Title, "", ""));
            foreach (var block in division.Division.Blocks)
            {
                Note(block.ConditionsIn().SelectMany(c => c.AppliesTo.Axes), () => Place(block));
                if (passages.Count > 0)
                    foreach (var use in block.WithInner().OfType<PassageUse>())
                        if (passages.TryGetValue(use.Passage, out var uses) && uses.Count < MostPlaces)
                            uses.Add(Place(block));
                if (variables.Count > 0)
                    foreach (var use in block.Inlines().OfType<VariableUse>().DistinctBy(u => u.Name))
                        if (variables.TryGetValue(use.Name, out var uses) && uses.Count < MostPlaces)
                            uses.Add(Place(block));
            }
        }
        return new KeptOnce(
            [.. manual.Variables.Select(v => new KeptVariable(v.Name, v.Text, [.. variables[v.Name]]))],
            [
                .. manual.Conditions.Select(c => new KeptCondition(
                    c.Axis,
                    [.. c.Values.Select(v => new KeptValue(v, [.. values[(c.Axis, v)]]))]
                )),
            ],
            [
                .. manual.Passages.Select(p => new KeptPassage(
                    p.Id.Value,
                    p.Name,
                    [.. p.Blocks.Select(BlockWriter.ToJson)],
                    [.. passages[p.Name]]
                )),
            ],
            [
                .. manual.Editions.Select(e => new KeptEdition(
                    e.Name,
                    e.Chosen.ToDictionary(c => c.Axis, c => c.Values.ToArray(), StringComparer.Ordinal)
                )),
            ],
            [.. manual.AcceptedWords]
        );
    }

    private const int LongestWords = 60;

    internal static string FirstWords(Block block)
    {
        var words = block.WithInner().SelectMany(b => b.OwnSpans()).Select(s => s.PlainText()).FirstOrDefault(t => t.Length > 0) ?? "";
        return words.Length <= LongestWords ? words : words[..LongestWords].TrimEnd() + "…";
    }
}
