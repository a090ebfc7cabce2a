using Kivren.Core.Content;
using Kivren.Core.Looks;

namespace Kivren.Core.Lists;

/// <summary>Lists that any manual can have by name, whether or not its look has one: of figures, tables, listings, equations and
/// examples, and the contents of a part or a division.</summary>
public static class StandardLists
{
    private static readonly (string Name, string Title, Listable Takes, ListScope Scope)[] All =
    [
        ("contents", "Contents", Listable.Division, ListScope.Manual),
        ("brief", "Contents in brief", Listable.Division, ListScope.Manual),
        ("figures", "Figures", Listable.Figure, ListScope.Manual),
        ("tables", "Tables", Listable.Table, ListScope.Manual),
        ("listings", "Listings", Listable.Listing, ListScope.Manual),
        ("equations", "Equations", Listable.Equation, ListScope.Manual),
        ("examples", "Examples", Listable.Example, ListScope.Manual),
        ("part", "In this part", Listable.Division, ListScope.Part),
        ("division", "In this chapter", Listable.Head, ListScope.Division),
    ];

    /// <summary>What a division with this list alone is called.</summary>
    public static string Title(string name) => All.FirstOrDefault(l => l.Name == name).Title ?? name;

    /// <summary>The manual, with a list of this name of its own where it is a standard one that its look does not have. It is
    /// dressed like the look's list of figures, or the last level of its contents.</summary>
    public static Manual WithList(this Manual manual, string name)
    {
        var look = WornLook.Of(manual);
        var standard = All.FirstOrDefault(l => l.Name == name);
        if (
            standard.Name is null
            || manual.Lists.Count >= ListEditing.MostLists
            || manual.Lists.Any(l => l.Name == name)
            || look.List(name) is not null
            || (look.List("figures") ?? look.Lists[0]).ToOwn() is not { Lines: [.., var like] } model
        )
            return manual;
        var level = like with { Takes = standard.Takes, Divisions = [], Level = null, Named = false, NameAbove = false, LeadsOn = false };
        return manual with
        {
            Lists = [.. manual.Lists, model with { Name = name, Scope = standard.Scope, Lines = [level], Sorted = false, MostPages = 0 }],
        };
    }
}
