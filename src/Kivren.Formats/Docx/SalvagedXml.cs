using System.Text;
using System.Text.RegularExpressions;
using System.Xml;
using System.Xml.Linq;

namespace Kivren.Formats.Docx;

/// <summary>Reads as much of damaged XML as there is sense in.</summary>
internal static class SalvagedXml
{
    private static readonly Regex LooseEnd = new(@"/\s+>", RegexOptions.CultureInvariant);

    /// <summary>The tree up to where the damage begins, all open elements closed; null when not even the root is whole.</summary>
    public static XElement? Read(byte[] xml)
    {
        var text = LooseEnd.Replace(Encoding.UTF8.GetString(xml), "/>");
        using var reader = XmlReader.Create(
            new StringReader(text),
            new XmlReaderSettings
            {
                DtdProcessing = DtdProcessing.Prohibit,
                XmlResolver = null,
                IgnoreComments = true,
                IgnoreProcessingInstructions = true,
            }
        );
        XElement? root = null,
            open = null;
        try
        {
            while (reader.Read())
                switch (reader.NodeType)
                {
                    case XmlNodeType.Element:
                        var element = new XElement(XName.Get(reader.LocalName, reader.NamespaceURI));
                        var empty = reader.IsEmptyElement;
                        while (reader.MoveToNextAttribute())
                            if (reader.NamespaceURI != "http://www.w3.org/2000/xmlns/")
                                element.SetAttributeValue(XName.Get(reader.LocalName, reader.NamespaceURI), reader.Value);
                        if (open is null)
                            root = element;
                        else
                            open.Add(element);
                        if (!empty)
                            open = element;
                        break;
                    case XmlNodeType.EndElement:
                        open = open?.Parent;
                        break;
                    case XmlNodeType.Text or XmlNodeType.CDATA or XmlNodeType.SignificantWhitespace or XmlNodeType.Whitespace:
                        open?.Add(new XText(reader.Value));
                        break;
                }
        }
        catch (XmlException)
        {
            // What was read stands.
        }
        return root;
    }
}
