using System.Reflection;

namespace Kivren.Faces;

/// <summary>The faces for Chinese, Japanese and Korean as resources, apart from the code that uses them: they are a hundred megabytes,
/// and a build that changes code does not write them again.</summary>
public static class EastAsianFaces
{
    public static Assembly Assembly => typeof(EastAsianFaces).Assembly;
}
