using System.Net;
using Kivren.Server.Manuals;
using Kivren.Server.Shelf;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.EntityFrameworkCore;
using Npgsql;
using Orleans.Runtime;

namespace Kivren.Server.Gates;

/// <summary>Turns whatever went wrong into words for the writer. Causes go to the log; no message tells of the machine inside.</summary>
public static partial class Problems
{
    public static void UseProblems(this WebApplication app)
    {
        var log = app.Services.GetRequiredService<ILoggerFactory>().CreateLogger(typeof(Problems));
        app.UseExceptionHandler(handler =>
            handler.Run(http =>
            {
                var cause = http.Features.Get<IExceptionHandlerFeature>()?.Error ?? new InvalidOperationException("No cause was given.");
                var (status, words) = Say(cause);
                if ((int)status >= 500)
                    LogFailed(log, cause, http.Request.Method, http.Request.Path, http.TraceIdentifier);
                return Problem.Write(http, status, (int)status == 500 ? $"{words} The log has it as {http.TraceIdentifier}." : words);
            })
        );
        // Answers without words: a wrong address, method or type of content.
        app.UseStatusCodePages(pages =>
            Problem.Write(
                pages.HttpContext,
                (HttpStatusCode)pages.HttpContext.Response.StatusCode,
                pages.HttpContext.Response.StatusCode switch
                {
                    404 => "There is nothing at this address.",
                    405 => "This cannot be done at this address.",
                    413 => "This is more than is taken at once.",
                    415 => "This kind of content is not taken here.",
                    var other => $"The server answered {other}.",
                }
            )
        );
    }

    private static (HttpStatusCode, string) Say(Exception cause) =>
        cause switch
        {
            BadHttpRequestException bad => (
                (HttpStatusCode)bad.StatusCode,
                bad.StatusCode == 413 ? "This is more than is taken at once." : "This request cannot be read."
            ),
            CannotComposeException e => (HttpStatusCode.UnprocessableEntity, e.Message),
            _ when IsOfTheDatabase(cause) => (
                HttpStatusCode.ServiceUnavailable,
                "The database cannot be reached just now. Nothing of yours is lost; it is tried again."
            ),
            OrleansException or SiloUnavailableException => (
                HttpStatusCode.ServiceUnavailable,
                "This manual is just moving to another process. It is tried again."
            ),
            OperationCanceledException => (HttpStatusCode.ServiceUnavailable, "The server is just stopping. It is tried again."),
            _ => (HttpStatusCode.InternalServerError, "Kivren could not do this."),
        };

    /// <summary>Whether the database was away. That it does not take what was sent is another thing, and tried again in vain.</summary>
    private static bool IsOfTheDatabase(Exception cause)
    {
        for (var e = cause; e is not null; e = e.InnerException)
            if (e is PostgresException { IsTransient: false, SqlState: not ['5', ..] })
                return false;
            else if (e is NpgsqlException or TimeoutException or IOException or ObjectDisposedException)
                return true;
        return cause is DbUpdateException;
    }

    [LoggerMessage(Level = LogLevel.Error, Message = "{Method} {Path} failed ({Trace})")]
    private static partial void LogFailed(ILogger log, Exception cause, string method, string path, string trace);
}
