using System.Collections.Concurrent;
using System.Diagnostics;
using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Due;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;

namespace DapperLantern.App.Desk;

/// <summary>
/// What waits, counted for each person and shown for some seconds: everybody asks for it all day, in several windows. A person who has written something is shown a count that was
/// begun afterwards. Where many ask at once, one counts and the others wait for it.
/// </summary>
internal sealed class DeskCounts(LanternDbFactory databases, DeskSettings settings, DueWorks works, TimeProvider clock)
{
    private sealed record Counted(long Begun, Task<DeskState> State);

    private readonly ConcurrentDictionary<(string May, Guid Person), Counted> _counted = [];
    private readonly ConcurrentDictionary<Guid, long> _wrote = [];
    private readonly Lock _lock = new();

    /// <summary>Tells that a person has written something.</summary>
    public void Wrote(Guid person) => _wrote[person] = Stopwatch.GetTimestamp();

    public Task<DeskState> Of(ClaimsPrincipal user, RecordScope scope)
    {
        var (person, rights) = (user.Id(), user.Rights());
        var mine = rights.OwnOnly ? person : (Guid?)null;
        // With what the roles may, so that nobody is shown what was counted before they were changed.
        var key = (string.Join(',', rights.Acts), person);
        if (Usable(key, person) is { } known)
            return known;
        lock (_lock)
        {
            if (Usable(key, person) is { } meanwhile)
                return meanwhile;
            var counted = new Counted(Stopwatch.GetTimestamp(), Task.Run(() => Count(rights, person, mine, scope)));
            _counted[key] = counted;
            return counted.State;
        }
    }

    private Task<DeskState>? Usable((string, Guid) key, Guid person) =>
        _counted.TryGetValue(key, out var known)
        && !known.State.IsFaulted
        && Stopwatch.GetElapsedTime(known.Begun).TotalSeconds < settings.SharedSeconds
        && known.Begun > _wrote.GetValueOrDefault(person)
            ? known.State
            : null;

    private async Task<DeskState> Count(UserRights rights, Guid person, Guid? mine, RecordScope scope)
    {
        await using var db = await databases.Open();
        return await DeskReader.Read(db, rights, person, mine, scope, works, clock.UtcNow());
    }
}

internal static class DeskFreshness
{
    /// <summary>Lets those who write see on the Desk what they did, once they have the answer.</summary>
    public static void UseDeskFreshness(this WebApplication app)
    {
        var counts = app.Services.GetRequiredService<DeskCounts>();
        app.Use(
            (http, next) =>
            {
                if (!HttpMethods.IsGet(http.Request.Method) && http.User.FindFirst(ClaimTypes.NameIdentifier) is not null)
                    http.Response.OnStarting(() =>
                    {
                        counts.Wrote(http.User.Id());
                        return Task.CompletedTask;
                    });
                return next(http);
            }
        );
    }
}
