using System.Net;
using System.Security.Cryptography;
using System.Text;
using Kivren.Server.Shelf;

namespace Kivren.Server.Gates;

/// <summary>Lets only the application's own pages talk to it: the host must be one it is known by, a page of another origin is
/// turned away, and every change names the token that only a page of this site can read.</summary>
/// <remarks>The token is double-submitted: a strict same-site cookie and a header (on the hub a query value) that say the same.</remarks>
public sealed class SiteGate(RequestDelegate next, IConfiguration configuration)
{
    public const string Cookie = "kivren-site",
        Header = "X-Kivren-Site",
        Query = "site";

    private readonly HashSet<string> _hosts = new(
        [
            "localhost",
            "127.0.0.1",
            "[::1]",
            "::1",
            .. (configuration["KIVREN_HOSTS"] ?? "").Split([',', ' '], StringSplitOptions.RemoveEmptyEntries),
        ],
        StringComparer.OrdinalIgnoreCase
    );

    public Task InvokeAsync(HttpContext http)
    {
        var request = http.Request;
        if (!_hosts.Contains(request.Host.Host))
            return Refuse(http, "This host is not known here. The operator names it in KIVREN_HOSTS.");
        Headers(http.Response.Headers);
        var own = request.Path.StartsWithSegments("/api") || request.Path.StartsWithSegments("/live");
        var changes = !HttpMethods.IsGet(request.Method) && !HttpMethods.IsHead(request.Method) && !HttpMethods.IsOptions(request.Method);
        if (!own && !changes)
            return next(http);
        if (request.Headers.Origin.ToString() is { Length: > 0 } origin && !IsOwn(origin, request))
            return Refuse(http, "Another site cannot talk to Kivren.");
        if (request.Headers["Sec-Fetch-Site"].ToString() is "cross-site" or "same-site")
            return Refuse(http, "Another site cannot talk to Kivren.");
        if ((changes || request.Path.StartsWithSegments("/live")) && !HasToken(request))
            return Refuse(http, "This page is of an earlier visit. Load it again.");
        return next(http);
    }

    private static bool IsOwn(string origin, HttpRequest request) =>
        Uri.TryCreate(origin, UriKind.Absolute, out var uri) && uri.Authority.Equals(request.Host.Value, StringComparison.OrdinalIgnoreCase)
        || origin.Equals($"{request.Scheme}://{request.Host.Value}", StringComparison.OrdinalIgnoreCase);

    private static bool HasToken(HttpRequest request)
    {
        var said = request.Headers[Header].ToString() is { Length: > 0 } header ? header : request.Query[Query].ToString();
        return request.Cookies[Cookie] is { Length: >= 32 } kept
            && CryptographicOperations.FixedTimeEquals(Encoding.UTF8.GetBytes(kept), Encoding.UTF8.GetBytes(said));
    }

    private static void Headers(IHeaderDictionary headers)
    {
        headers.ContentSecurityPolicy =
            "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
            + "font-src 'self' data:; object-src 'none'; base-uri 'self'; form-action 'self'; frame-ancestors 'none'";
        headers.XContentTypeOptions = "nosniff";
        headers.XFrameOptions = "DENY";
        headers["Referrer-Policy"] = "same-origin";
        headers["Cross-Origin-Opener-Policy"] = "same-origin";
        headers["Cross-Origin-Resource-Policy"] = "same-origin";
    }

    private static Task Refuse(HttpContext http, string why) => Problem.Write(http, HttpStatusCode.Forbidden, why);

    /// <summary>The token of this browser; a new one when it has none.</summary>
    public static string TokenOf(HttpContext http)
    {
        if (http.Request.Cookies[Cookie] is { Length: >= 32 } kept)
            return kept;
        var token = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(24));
        http.Response.Cookies.Append(
            Cookie,
            token,
            new CookieOptions
            {
                SameSite = SameSiteMode.Strict,
                HttpOnly = true,
                Secure = http.Request.IsHttps,
                Path = http.Request.PathBase.HasValue ? http.Request.PathBase.Value : "/",
                MaxAge = TimeSpan.FromDays(400),
            }
        );
        return token;
    }
}

/// <summary>What a page says in every change.</summary>
public sealed record SiteToken(string Token);
