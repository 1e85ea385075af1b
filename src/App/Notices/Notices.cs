using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Notices;

/// <summary>What one of us is told while at work: the same that goes out to them as a message.</summary>
/// <param name="Lead">What it is about; null for several.</param>
public sealed record NoticeView(Guid Id, Guid? Lead, string Subject, string Text);

/// <summary>Tells people who are signed in what they are sent, as it is committed (a trigger on the table <c>outbox</c> gives the sign).</summary>
public sealed class Notices(NpgsqlDataSource source, LanternDbFactory databases, TimeProvider clock, IHostApplicationLifetime life, ILogger<Notices> log)
    : ChangeFeed(source, "person_told", life, log)
{
    // A message is dated before its transaction ends, so one that becomes visible now may be a little older than one told before.
    private static readonly TimeSpan Slack = TimeSpan.FromMinutes(2);

    /// <summary>What somebody is told from now on, each as <c>notice</c>; a first, empty <c>here</c> says that they listen.</summary>
    /// <param name="zone">The person's time zone, in which moments are told.</param>
    public async IAsyncEnumerable<SseItem<NoticeView?>> For(Guid person, string zone, [EnumeratorCancellation] CancellationToken cancel)
    {
        HashSet<Guid>? told = null;
        await foreach (var _ in Watch(person, cancel))
        {
            var lately = await Lately(person, cancel);
            if (told is null)
                yield return new SseItem<NoticeView?>(null, "here");
            else
                foreach (var notice in lately.Where(n => !told.Contains(n.Id)))
                    yield return new SseItem<NoticeView?>(notice with { Text = MomentText.Shown(notice.Text, zone) }, "notice");
            told = [.. lately.Select(n => n.Id)];
        }
    }

    private async Task<List<NoticeView>> Lately(Guid person, CancellationToken cancel)
    {
        await using var db = await databases.Open(cancel);
        return
        [
            .. await db.Set<OutboxRow>()
                .Where(x => x.PersonId == person && x.Kind != OutboxRow.WayIn && x.CreatedAt > (clock.UtcNow() - Slack))
                .OrderBy(x => x.CreatedAt)
                .ThenBy(x => x.Id)
                .Select(x => new NoticeView(x.Id, x.LeadId, x.Subject, x.Text))
                .ToListAsync(),
        ];
    }
}

public static class NoticeEndpoints
{
    /// <summary>For everybody who has a desk, of themselves.</summary>
    public static void MapNotices(this IEndpointRouteBuilder api) =>
        api.MapGet("/notices/live", Live).Requires(Act.SeeDesk).WithTags("Setup").WithSummary("What I am told, as it happens (server-sent events)").ExcludeFromDescription();

    private static ServerSentEventsResult<NoticeView?> Live(ClaimsPrincipal user, Notices notices, Setup.SignIn.SessionWatcher sessions, CancellationToken cancel) =>
        TypedResults.ServerSentEvents(sessions.While(user, Act.SeeDesk, stop => notices.For(user.Id(), user.Zone(), stop), cancel));
}
