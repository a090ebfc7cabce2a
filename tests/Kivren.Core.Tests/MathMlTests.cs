using System.Xml.Linq;
using Kivren.Core.Mathematics;

namespace Kivren.Core.Tests;

/// <summary>Presentation MathML by hand-made examples.</summary>
public class MathMlTests
{
    private const string Namespace = " xmlns=\"http://www.w3.org/1998/Math/MathML\"";

    private static string Inner(string source) =>
        string.Concat(MathMl.Of(source, "", display: false).Elements().Select(e => e.ToString(SaveOptions.DisableFormatting)))
            .Replace(Namespace, "", StringComparison.Ordinal);

    [Theory]
    [InlineData("F/2", "<mfrac><mi>𝐹</mi><mn>2</mn></mfrac>")]
    [InlineData("a^2", "<msup><mi>𝑎</mi><mn>2</mn></msup>")]
    [InlineData("a_1^2", "<msubsup><mi>𝑎</mi><mn>1</mn><mn>2</mn></msubsup>")]
    [InlineData("sqrt(x)", "<msqrt><mi>𝑥</mi></msqrt>")]
    [InlineData("sin alpha", "<mrow><mi>sin</mi><mspace width=\"0.1667em\" /></mrow><mi>𝛼</mi>")]
    [InlineData("18.5 kN", "<mn>18.5</mn><mrow><mspace width=\"0.1667em\" /><mi>kN</mi></mrow>")]
    [InlineData("sum_(i=1)^3 i", "<munderover><mo>∑</mo><mrow><mi>𝑖</mi><mo>=</mo><mn>1</mn></mrow><mn>3</mn></munderover><mi>𝑖</mi>")]
    [InlineData(
        "[a; b]",
        "<mrow><mo fence=\"true\">[</mo><mtable><mtr><mtd><mi>𝑎</mi></mtd></mtr><mtr><mtd><mi>𝑏</mi></mtd></mtr></mtable><mo "
            + "fence=\"true\">]</mo></mrow>"
    )]
    [InlineData("bar(t)", "<mover accent=\"true\"><mi>𝑡</mi><mo>¯</mo></mover>")]
    [InlineData("x <= 3", "<mi>𝑥</mi><mo>≤</mo><mn>3</mn>")]
    public void Each_part_of_an_equation_is_the_element_made_for_it(string source, string mathMl) => Assert.Equal(mathMl, Inner(source));

    [Fact]
    public void The_whole_says_in_words_what_it_is_and_whether_it_stands_alone()
    {
        var math = MathMl.Of("a < b & c", "a is less", display: true);
        Assert.Equal("block", math.Attribute("display")!.Value);
        Assert.Equal("a is less", math.Attribute("alttext")!.Value);
        // What is written reads back, whatever signs it holds.
        Assert.Equal(math.Value, XElement.Parse(math.ToString()).Value);
        Assert.Null(MathMl.Of("a", "", display: false).Attribute("display"));
    }

    [Fact]
    public void What_is_no_equation_is_told() => Assert.Throws<NotationException>(() => MathMl.Of("a^2^3", "", display: false));
}
