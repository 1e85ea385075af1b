using DapperLantern.App.Data;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Setup;

/// <summary>What is read for people has a bound of its own, ten seconds a statement, and ends in the database when nobody waits for it any more. Acts are not ended midway.</summary>
internal static class ReadBound
{
    private static readonly TimeSpan Most = TimeSpan.FromSeconds(10);

    public static void UseReadBound(this WebApplication app)
    {
        var (patience, pulse) = (app.Services.GetRequiredService<Patience>(), app.Services.GetRequiredService<DatabasePulse>());
        app.Use(
            async (http, next) =>
            {
                if (!HttpMethods.IsGet(http.Request.Method) || !http.Request.Path.StartsWithSegments("/api"))
                {
                    await next(http);
                    return;
                }
                var terms = http.RequestServices.GetRequiredService<ReadTerms>();
                (terms.Aborted, terms.KeepsConnection) = (http.RequestAborted, true);
                // A file comes in parts, none of which anybody looks at.
                if (!IsFile(http.Request.Path))
                    terms.Most = patience.For(Most);
                try
                {
                    await next(http);
                }
                catch (Exception e) when (http.RequestAborted.IsCancellationRequested && IsEnded(e))
                {
                    // Nobody is there to be answered.
                }
                catch (Exception e) when (TookTooLong(e) && !pulse.IsAway && !http.Response.HasStarted)
                {
                    await ApiProblems.Of("read-too-long", "", (int)Most.TotalSeconds).ExecuteAsync(http);
                }
            }
        );
    }

    private static bool IsFile(PathString path) => Path.GetExtension(path.Value) is ".csv" or ".xlsx";

    private static bool TookTooLong(Exception e) => e is NpgsqlException { InnerException: TimeoutException } || (e.InnerException is { } inner && TookTooLong(inner));

    private static bool IsEnded(Exception e) =>
        e is OperationCanceledException or PostgresException { SqlState: PostgresErrorCodes.QueryCanceled } || (e.InnerException is { } inner && IsEnded(inner));
}
