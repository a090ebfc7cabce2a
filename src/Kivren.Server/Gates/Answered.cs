using System.Reflection;
using Kivren.Server.Shelf;
using Microsoft.AspNetCore.Http.Metadata;

namespace Kivren.Server.Gates;

/// <summary>Why something was not done, with the status that says whose matter it is.</summary>
public sealed record Refusal(int Status, string Why) : IResult
{
    public static Refusal Bad(string why) => new(StatusCodes.Status400BadRequest, why);

    public static Refusal Gone(string why) => new(StatusCodes.Status404NotFound, why);

    public static Refusal Conflict(string why) => new(StatusCodes.Status409Conflict, why);

    public Task ExecuteAsync(HttpContext httpContext) => TypedResults.Json(new Problem(Why), statusCode: Status).ExecuteAsync(httpContext);
}

/// <summary>What an endpoint answers: a value, or why there is none. Its type is what the API's document says of the endpoint.</summary>
public sealed class Answered<T> : IResult, IEndpointMetadataProvider
{
    private readonly T? _value;
    private readonly Refusal? _refusal;

    private Answered(T? value, Refusal? refusal) => (_value, _refusal) = (value, refusal);

    public static implicit operator Answered<T>(T value) => new(value, null);

    public static implicit operator Answered<T>(Refusal refusal) => new(default, refusal);

    public Task ExecuteAsync(HttpContext httpContext) => ((IResult?)_refusal ?? TypedResults.Ok(_value)).ExecuteAsync(httpContext);

    public static void PopulateMetadata(MethodInfo method, EndpointBuilder builder)
    {
        builder.Metadata.Add(new ProducesResponseTypeMetadata(StatusCodes.Status200OK, typeof(T), ["application/json"]));
        builder.Metadata.Add(new ProducesResponseTypeMetadata(StatusCodes.Status400BadRequest, typeof(Problem), ["application/json"]));
    }
}

public static class Answered
{
    public static Answered<T> Ok<T>(T value) => value;
}

/// <summary>A value that was written as JSON where it is kept.</summary>
public sealed class Written<T> : IResult, IEndpointMetadataProvider
{
    private readonly string? _json;
    private readonly Refusal? _refusal;

    private Written(string? json, Refusal? refusal) => (_json, _refusal) = (json, refusal);

    public static implicit operator Written<T>(Refusal refusal) => new(null, refusal);

    /// <param name="otherwise">when there is none</param>
    public static Written<T> Of(string? json, Refusal otherwise) => json is null ? otherwise : new Written<T>(json, null);

    public Task ExecuteAsync(HttpContext httpContext) =>
        ((IResult?)_refusal ?? TypedResults.Text(_json, "application/json")).ExecuteAsync(httpContext);

    public static void PopulateMetadata(MethodInfo method, EndpointBuilder builder) => Answered<T>.PopulateMetadata(method, builder);
}

/// <summary>Nothing is answered but that it is done, or why it is not.</summary>
public sealed class Done : IResult, IEndpointMetadataProvider
{
    public static readonly Done Well = new(null);
    private readonly Refusal? _refusal;

    private Done(Refusal? refusal) => _refusal = refusal;

    public static implicit operator Done(Refusal refusal) => new(refusal);

    public Task ExecuteAsync(HttpContext httpContext) => ((IResult?)_refusal ?? TypedResults.NoContent()).ExecuteAsync(httpContext);

    public static void PopulateMetadata(MethodInfo method, EndpointBuilder builder)
    {
        builder.Metadata.Add(new ProducesResponseTypeMetadata(StatusCodes.Status204NoContent, typeof(void)));
        builder.Metadata.Add(new ProducesResponseTypeMetadata(StatusCodes.Status400BadRequest, typeof(Problem), ["application/json"]));
    }
}
