namespace Kivren.Formats.Import;

/// <summary>What the inline elements of DocBook (5.1, chapter “DocBook Element Reference”) stand for, by the roles of a manual. Pages that
/// were made from it carry the same names as their classes.</summary>
internal static class InlineNames
{
    public static IReadOnlyDictionary<string, string> Roles { get; } =
        new Dictionary<string, string>(StringComparer.Ordinal)
        {
            ["literal"] = "code",
            ["command"] = "code",
            ["filename"] = "code",
            ["option"] = "code",
            ["code"] = "code",
            ["function"] = "code",
            ["varname"] = "code",
            ["computeroutput"] = "code",
            ["userinput"] = "code",
            ["systemitem"] = "code",
            ["constant"] = "code",
            ["envar"] = "code",
            ["prompt"] = "code",
            ["classname"] = "code",
            ["methodname"] = "code",
            ["parameter"] = "emphasis",
            ["replaceable"] = "emphasis",
            ["arg"] = "code",
            ["synopfragment"] = "code",
            ["tag"] = "code",
            ["sgmltag"] = "code",
            ["type"] = "code",
            ["errortext"] = "code",
            ["email"] = "code",
            ["uri"] = "code",
            ["guimenu"] = "control",
            ["guimenuitem"] = "control",
            ["guisubmenu"] = "control",
            ["guilabel"] = "control",
            ["guibutton"] = "control",
            ["guiicon"] = "control",
            ["interface"] = "control",
            ["keycap"] = "key",
            ["keycode"] = "key",
            ["keysym"] = "key",
            ["accel"] = "key",
            ["firstterm"] = "term",
            ["glossterm"] = "term",
            ["productname"] = "product",
            ["productnumber"] = "partNumber",
            ["foreignphrase"] = "foreign",
            ["citetitle"] = "emphasis",
            ["emphasis"] = "emphasis",
            ["wordasword"] = "emphasis",
            ["subscript"] = "sub",
            ["superscript"] = "sup",
            ["acronym"] = "plain",
            ["abbrev"] = "plain",
        };

    /// <summary>The element that a class is named after, with or without a mark of where it is from; null where it is none.</summary>
    public static string? OfClass(string name)
    {
        var bare = name[(name.LastIndexOfAny(['_', ':']) + 1)..];
        return Roles.ContainsKey(bare) ? bare : null;
    }
}
