using DapperLantern.App.Data;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup;

/// <summary>Whether this process can serve. <see cref="State"/>: ready, degraded (it serves, and something named does not go on), or away.</summary>
public sealed record HealthView(string State, IReadOnlyDictionary<string, string> Trouble);

/// <summary>
/// For who runs the server: <c>/health/live</c> says that the process answers, <c>/health/ready</c> whether it can serve: database reached and migrated; what else does not go on is named and
/// makes it degraded, since other things still do.
/// </summary>
public static class Health
{
    private const long LeastFree = 512L << 20;

    public static void MapHealth(this WebApplication app)
    {
        app.MapGet("/health/live", () => TypedResults.Text("live")).AllowAnonymous().ExcludeFromDescription();
        app.MapGet("/health/ready", Ready).AllowAnonymous().ExcludeFromDescription();
        app.MapGet("/health", Ready).AllowAnonymous().ExcludeFromDescription();
    }

    private static async Task<JsonHttpResult<HealthView>> Ready(DatabasePulse pulse, IServiceProvider services, CancellationToken cancel)
    {
        // The database by itself first: what depends on it would only be named a second time.
        if (pulse.IsAway)
            return Of(503, "away", new() { ["database"] = "does not answer" });
        var trouble = Worker.Failing.ToDictionary(f => f.Key, f => f.Value);
        try
        {
            await using var scope = services.CreateAsyncScope();
            var db = scope.ServiceProvider.GetRequiredService<LanternDb>();
            if ((await db.Database.GetPendingMigrationsAsync(cancel)).Any())
                return Of(503, "away", new() { ["database"] = "is not migrated yet" });
            if (await db.Set<OutboxRow>().CountAsync(o => o.GivenUpAt != null && o.SentAt == null, cancel) is > 0 and var unsent)
                trouble["mail"] = $"{unsent} messages were given up";
        }
        catch (Exception e) when (Outage.IsOutage(e))
        {
            return Of(503, "away", new() { ["database"] = "does not answer" });
        }
        if (new DriveInfo(Path.GetTempPath()).AvailableFreeSpace is < LeastFree and var free)
            trouble["disk"] = $"{free >> 20} MB are free where files are kept while they are read";
        return Of(200, trouble.Count == 0 ? "ready" : "degraded", trouble);
    }

    private static JsonHttpResult<HealthView> Of(int status, string state, Dictionary<string, string> trouble) =>
        TypedResults.Json(new HealthView(state, trouble), statusCode: status);
}
