using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Setup.SignIn;

/// <summary>How long sessions hold. Configuration: <c>Sessions</c>.</summary>
[Settings("Sessions")]
public sealed class SessionSettings
{
    /// <summary>Hours without a request after which a session ends.</summary>
    [Within(0.0001, 8760)]
    public double IdleHours { get; set; } = 8;

    /// <summary>Hours after which a session ends in any case.</summary>
    [Within(0.0001, 8760)]
    public double MostHours { get; set; } = 24;

    /// <summary>Days without a request after which a session of somebody who stays signed in ends.</summary>
    [Within(0.0001, 3650)]
    public double StayIdleDays { get; set; } = 14;

    /// <summary>Days after which such a session ends in any case.</summary>
    [Within(0.0001, 3650)]
    public double StayMostDays { get; set; } = 90;
}

/// <summary>A session at the identity provider.</summary>
/// <param name="Id">Its claim sid; null where it names none.</param>
/// <param name="Token">Its token of the sign-in, sealed.</param>
public sealed record ProviderSession(string? Id, string Token);

/// <summary>Somebody who is signed in, with what they may by the roles of this moment.</summary>
public sealed class SignedIn(UserRights rights, IEnumerable<Claim> claims) : ClaimsIdentity(claims, IdentityConstants.ApplicationScheme)
{
    public UserRights Rights { get; } = rights;
}

/// <summary>
/// Sessions in the database: begun at sign-in, checked at every request, ended by their owner, an administrator, a change of password or role, or by leaving.
/// What ends one ends it in every process with the next request, and open streams at once.
/// </summary>
public sealed class Sessions([FromKeyedServices(Sessions.Source)] LanternDbFactory databases, SessionSettings settings, WorkspaceConfiguration configuration, TimeProvider clock)
{
    public const string IdClaim = "session";

    /// <summary>Name of the connections by which sessions are checked.</summary>
    public const string Source = "sessions";

    /// <summary>Told with the id of a session that ended (NOTIFY).</summary>
    public const string Channel = "session_ended";

    private const int LongestAgent = 300;

    private sealed record SessionState(
        Guid PersonId,
        string UserName,
        string Name,
        string[] Roles,
        bool SameRoles,
        string TimeZone,
        string Numbers,
        bool Stays,
        bool Strong,
        bool ByProvider,
        DateTime SeenAt
    );

    // Asked at every request.
    private static readonly Func<LanternDb, Guid, DateTime, DateTime, DateTime, CancellationToken, Task<SessionState?>> Held = EF.CompileAsyncQuery(
        (LanternDb db, Guid id, DateTime now, DateTime idle, DateTime stayIdle, CancellationToken cancel) =>
            (
                from s in db.Set<SessionRow>()
                join p in db.Users on s.PersonId equals p.Id
                where s.Id == id && s.EndedAt == null && s.EndsAt > now && p.Here && s.SeenAt > (s.Stays ? stayIdle : idle)
                select new SessionState(
                    s.PersonId,
                    p.UserName!,
                    p.DisplayName,
                    p.Roles,
                    s.Roles == p.Roles,
                    p.TimeZone,
                    p.Numbers,
                    s.Stays,
                    s.Strong,
                    s.ProviderToken != null,
                    s.SeenAt
                )
            ).SingleOrDefault()
    );

    /// <summary>Signs somebody in: begins a session, and gives the browser the cookie that names it.</summary>
    /// <param name="strong">True where they came by a second step, or a passkey.</param>
    /// <param name="at">The session at the identity provider; null where they did not come by it.</param>
    public async Task SignIn(HttpContext http, LanternDb db, Person person, bool stays, bool strong = false, ProviderSession? at = null)
    {
        var now = clock.UtcNow();
        var id = Guid.NewGuid();
        var agent = http.Request.Headers.UserAgent.ToString();
        await db.Insert(
            new SessionRow
            {
                Id = id,
                PersonId = person.Id,
                Roles = person.Roles,
                StartedAt = now,
                SeenAt = now,
                EndsAt = now + (stays ? TimeSpan.FromDays(settings.StayMostDays) : TimeSpan.FromHours(settings.MostHours)),
                Stays = stays,
                Strong = strong,
                ProviderSession = at?.Id,
                ProviderToken = at?.Token,
                Address = AddressOf(http),
                Agent = agent.Length > LongestAgent ? agent[..LongestAgent] : agent,
            }
        );
        var identity = new ClaimsIdentity([new Claim(IdClaim, id.ToString())], IdentityConstants.ApplicationScheme);
        await http.SignInAsync(IdentityConstants.ApplicationScheme, new ClaimsPrincipal(identity), new AuthenticationProperties { IsPersistent = stays });
    }

    /// <summary>A second step was made in a session.</summary>
    public Task Strengthen(LanternDb db, Guid session) => db.Set<SessionRow>().Where(s => s.Id == session).ExecuteUpdateAsync(s => s.SetProperty(x => x.Strong, true));

    /// <summary>The network address a request comes from; empty where that is not known.</summary>
    public static string AddressOf(HttpContext http) => http.Connection.RemoteIpAddress?.ToString() ?? "";

    /// <summary>The cookie's handler: a session that does not hold any more is refused, whatever the cookie says; claims are those of now.</summary>
    public static async Task Validate(CookieValidatePrincipalContext context)
    {
        var sessions = context.HttpContext.RequestServices.GetRequiredService<Sessions>();
        var principal = Guid.TryParse(context.Principal?.FindFirstValue(IdClaim), out var id) ? await sessions.Look(id, context.HttpContext.RequestAborted) : null;
        if (principal is null)
        {
            context.RejectPrincipal();
            return;
        }
        context.ReplacePrincipal(principal);
    }

    /// <summary>True where the session still holds and its person still may do this: for streams, which outlive the request that opened them. It is no sign of life.</summary>
    public async Task<bool> StillMay(Guid id, Act act, CancellationToken cancel) => (await Look(id, cancel, isAsked: false))?.May(act) == true;

    private async Task<ClaimsPrincipal?> Look(Guid id, CancellationToken cancel, bool isAsked = true)
    {
        var now = clock.UtcNow();
        await using var db = await databases.Open(cancel);
        var held = await Held(db, id, now, now - TimeSpan.FromHours(settings.IdleHours), now - TimeSpan.FromDays(settings.StayIdleDays), cancel);
        if (held is null)
            return null;
        if (!held.SameRoles)
        {
            await End(db, [id], "role");
            return null;
        }
        var workspace = configuration.Current;
        var rights = workspace.Roles.Of(held.Roles);
        if (!held.ByProvider && !workspace.Provider.LetsInOtherwise(rights))
        {
            await End(db, [id], "provider");
            return null;
        }
        // Noted once a minute: a page asks many things at once.
        if (isAsked && now - held.SeenAt > TimeSpan.FromMinutes(1))
            await db.Set<SessionRow>().Where(x => x.Id == id && x.SeenAt < now).ExecuteUpdateAsync(s => s.SetProperty(x => x.SeenAt, now));
        return PrincipalOf(id, held, rights, workspace);
    }

    private static ClaimsPrincipal PrincipalOf(Guid id, SessionState held, UserRights rights, Workspace workspace) =>
        new(
            new SignedIn(
                rights,
                [
                    new Claim(IdClaim, id.ToString()),
                    new Claim(ClaimTypes.NameIdentifier, held.PersonId.ToString()),
                    new Claim(ClaimTypes.Name, held.UserName),
                    new Claim(Requests.ZoneClaim, held.TimeZone),
                    new Claim(Requests.NumbersClaim, held.Numbers),
                    .. !held.Strong && workspace.StrongRoles.Overlaps(held.Roles) ? [new Claim(Requests.WeakClaim, "")] : Array.Empty<Claim>(),
                ]
            )
        );

    /// <summary>Ends sessions, and tells those who stream for them.</summary>
    public async Task End(LanternDb db, IReadOnlyCollection<Guid> ids, string because) =>
        await db.Run(
            $"""
            update session set ended_at = {clock.UtcNow()}, ended_because = {because} where id = any({ids.ToArray()}) and ended_at is null;
            select pg_notify('{Channel:sql}', x::text) from unnest({ids.ToArray()}) x;
            """
        );

    /// <summary>Ends one's own session.</summary>
    /// <returns>The identity provider's token of its sign-in, sealed; null for a session that did not begin there.</returns>
    public async Task<string?> Leave(LanternDb db, Guid session)
    {
        var token = await db.Set<SessionRow>().Where(s => s.Id == session).Select(s => s.ProviderToken).SingleOrDefaultAsync();
        await End(db, [session], "signed-out");
        return token;
    }

    /// <summary>Ends all sessions of somebody, but for one they keep; known devices are forgotten.</summary>
    public async Task EndAll(LanternDb db, Guid person, string because, Guid? but = null)
    {
        var ids = await db.Set<SessionRow>().Where(x => x.PersonId == person && x.EndedAt == null && x.Id != but).Select(x => x.Id).ToListAsync();
        await End(db, [.. ids], because);
        await db.Set<KnownDeviceRow>().Where(x => x.PersonId == person).ExecuteDeleteAsync();
    }
}

/// <summary>Ends open streams with the session they belong to.</summary>
public sealed class SessionWatcher(NpgsqlDataSource source, Sessions sessions, IHostApplicationLifetime life, ILogger<SessionWatcher> log)
    : ChangeFeed(source, Sessions.Channel, life, log)
{
    /// <summary>Passes a stream on until its session ends, or its person may no longer do this; asked before each item.</summary>
    public async IAsyncEnumerable<T> While<T>(
        ClaimsPrincipal user,
        Act act,
        Func<CancellationToken, IAsyncEnumerable<T>> stream,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken cancel
    )
    {
        using var ended = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        var session = Guid.Parse(user.FindFirstValue(Sessions.IdClaim)!);
        var watching = EndWith(session, ended);
        await using var items = stream(ended.Token).GetAsyncEnumerator(ended.Token);
        while (await Next(items) && await sessions.StillMay(session, act, cancel))
            yield return items.Current;
        await ended.CancelAsync();
        await watching;
    }

    private static async Task<bool> Next<T>(IAsyncEnumerator<T> items)
    {
        try
        {
            return await items.MoveNextAsync();
        }
        catch (OperationCanceledException)
        {
            return false;
        }
    }

    private async Task EndWith(Guid session, CancellationTokenSource ended)
    {
        var first = true;
        try
        {
            // The first sign only says that it watches.
            await foreach (var _ in Watch(session, ended.Token))
                if (first)
                    first = false;
                else
                    await ended.CancelAsync();
        }
        catch (OperationCanceledException)
        {
            // Ended from the other side.
        }
    }
}
