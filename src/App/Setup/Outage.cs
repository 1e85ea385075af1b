using System.Net;
using System.Net.Sockets;
using System.Text;
using DapperLantern.App.Data;
using Microsoft.AspNetCore.Diagnostics;
using Npgsql;

namespace DapperLantern.App.Setup;

/// <summary>What people are told while the database is away or has no room: 503 with Retry-After, as a problem, or as a page that keeps what a visitor wrote.</summary>
public static class Outage
{
    private const int RetryAfterSeconds = 5;
    private const int LongestKept = 64 * 1024;

    /// <summary>Must stand before everything that asks the database.</summary>
    public static void UseOutage(this WebApplication app) =>
        app.Use(
            async (http, next) =>
            {
                if (!AsksDatabase(http.Request.Path))
                {
                    await next(http);
                    return;
                }
                var pulse = http.RequestServices.GetRequiredService<DatabasePulse>();
                if (http.Request.Path.StartsWithSegments("/f") && HttpMethods.IsPost(http.Request.Method))
                    http.Request.EnableBuffering();
                if (pulse.IsAway)
                {
                    await Say(http);
                    return;
                }
                var work = next(http);
                if (await Task.WhenAny(work, pulse.WhenAway) != work && !http.Response.HasStarted)
                {
                    // The answer goes out now; the work that waits ends by its own time-out, and nothing it writes is sent.
                    await Say(http);
                    await http.Response.CompleteAsync();
                    await Quietly(work);
                    return;
                }
                await work;
            }
        );

    /// <summary>Turns what a broken or full database throws into the same answer; everything else is a fault of ours, 500.</summary>
    public static async Task Handle(HttpContext http)
    {
        if (http.Features.Get<IExceptionHandlerFeature>()?.Error is { } error && IsOutage(error))
            await Say(http);
        else
            await ApiProblems.Of("broken").ExecuteAsync(http);
    }

    /// <summary>True for what a database that is away, starting, stopping or full throws.</summary>
    public static bool IsOutage(Exception error) =>
        error switch
        {
            // 53: no room; 57P01 to 57P03: it stops or starts; 08: the db.
            PostgresException e => e.SqlState.StartsWith("53", StringComparison.Ordinal)
                || e.SqlState.StartsWith("57P", StringComparison.Ordinal)
                || e.SqlState.StartsWith("08", StringComparison.Ordinal),
            NpgsqlException => true,
            SocketException or TimeoutException => true,
            _ => error.InnerException is { } inner && IsOutage(inner),
        };

    private static bool AsksDatabase(PathString path) =>
        path.StartsWithSegments("/api") || path.StartsWithSegments("/f") || path.StartsWithSegments("/consent") || path.StartsWithSegments("/calendar");

    private static async Task Quietly(Task work)
    {
        try
        {
            await work;
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            // Answered already.
        }
    }

    private static async Task Say(HttpContext http)
    {
        http.Response.Headers.RetryAfter = RetryAfterSeconds.ToString(System.Globalization.CultureInfo.InvariantCulture);
        if (!http.Request.Path.StartsWithSegments("/f") && !http.Request.Path.StartsWithSegments("/consent"))
        {
            await ApiProblems.Of("database-away").ExecuteAsync(http);
            return;
        }
        http.Response.StatusCode = 503;
        http.Response.ContentType = "text/html; charset=utf-8";
        http.Response.Headers.CacheControl = "no-store";
        await http.Response.WriteAsync(await Page(http.Request));
    }

    // The form itself cannot be read now. What the visitor wrote is kept in this page and sent again by one press.
    private static async Task<string> Page(HttpRequest request)
    {
        var kept = new StringBuilder();
        if (HttpMethods.IsPost(request.Method))
            foreach (var (name, value) in await Posted(request))
                kept.Append(
                    System.Globalization.CultureInfo.InvariantCulture,
                    $"<input type=\"hidden\" name=\"{WebUtility.HtmlEncode(name)}\" value=\"{WebUtility.HtmlEncode(value)}\">"
                );
        var form =
            kept.Length == 0
                ? ""
                : $"<form method=\"post\">{kept}<p><button>Send again \u00b7 Erneut senden \u00b7 Renvoyer \u00b7 Enviar de nuevo \u00b7 Send igjen</button></p></form>";
        return $"""
            <!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>One moment, please</title></head>
            <body><main><h1>One moment, please</h1>
            <p>We cannot take this in right now. What you wrote is kept in this page; please send it again in a minute.</p>
            <p lang="de">Gerade können wir nichts annehmen. Ihre Angaben bleiben auf dieser Seite; bitte in einer Minute erneut senden.</p>
            <p lang="fr">Impossible pour le moment. Vos réponses restent dans cette page ; renvoyez-les dans une minute.</p>
            <p lang="es">Ahora no es posible. Sus respuestas quedan en esta página; envíelas de nuevo en un minuto.</p>
            <p lang="no">Vi kan ikke ta imot akkurat nå. Svarene dine blir på denne siden; send igjen om et minutt.</p>
            {form}</main></body></html>
            """;
    }

    private static async Task<List<(string, string)>> Posted(HttpRequest request)
    {
        try
        {
            if (request.Body.CanSeek)
                request.Body.Position = 0;
            var form = await request.ReadFormAsync();
            var fields = form.SelectMany(f => f.Value.Select(v => (f.Key, v ?? ""))).ToList();
            return fields.Sum(f => f.Key.Length + f.Item2.Length) > LongestKept ? [] : fields;
        }
        catch (Exception e) when (e is InvalidDataException or IOException or InvalidOperationException or BadHttpRequestException)
        {
            return [];
        }
    }
}
