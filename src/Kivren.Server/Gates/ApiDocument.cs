namespace Kivren.Server.Gates;

/// <summary>The document of the API (OpenAPI 3.1), from which the interface's client is made. It says the same wherever it is
/// served.</summary>
public static class ApiDocument
{
    public const string Address = "/api/openapi.json";

    public static void AddApiDocument(this IServiceCollection services) =>
        services.AddOpenApi(options =>
            options.AddDocumentTransformer(
                (document, _, _) =>
                {
                    document.Info.Title = "Kivren";
                    document.Servers?.Clear();
                    document.Tags?.Clear();
                    foreach (var operation in document.Paths.Values.SelectMany(p => p.Operations?.Values.AsEnumerable() ?? []))
                        operation.Tags?.Clear();
                    return Task.CompletedTask;
                }
            )
        );
}
