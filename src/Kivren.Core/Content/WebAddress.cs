namespace Kivren.Core.Content;

/// <summary>Which addresses a printed or produced link may lead to: those of pages, letters and telephones, nothing that runs.</summary>
public static class WebAddress
{
    private static readonly string[] Schemes = ["http:", "https:", "mailto:", "tel:"];

    public static bool Leads(string address) =>
        Array.Exists(Schemes, s => address.StartsWith(s, StringComparison.OrdinalIgnoreCase)) && !address.Any(char.IsControl);
}
