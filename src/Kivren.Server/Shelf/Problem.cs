using System.Net;

namespace Kivren.Server.Shelf;

/// <summary>Why something cannot be done, in words for the writer (RFC 9457, with the words under a name of their own).</summary>
public sealed record Problem(string What)
{
    public static Task Write(HttpContext http, HttpStatusCode status, string what)
    {
        http.Response.StatusCode = (int)status;
        return http.Response.WriteAsJsonAsync(
            new
            {
                what,
                title = what,
                status = (int)status,
            },
            options: null,
            "application/problem+json"
        );
    }
}
