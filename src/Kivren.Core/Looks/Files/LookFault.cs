namespace Kivren.Core.Looks;

/// <summary>Something in a look's file that cannot be.</summary>
/// <param name="Place">the way to it: master.width, lists[2].lines[0].indent; empty for the file as a whole</param>
public sealed record LookFault(string Place, string Says)
{
    public override string ToString() => Place.Length == 0 ? Says : $"{Place}: {Says}";
}
