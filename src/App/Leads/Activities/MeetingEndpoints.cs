using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Leads.Activities;

/// <param name="People">Of ours.</param>
/// <param name="Guests">Of theirs, as written.</param>
/// <param name="Resources">Keys of what is taken along.</param>
public sealed record MeetingWrite(
    [Text(200)] string Subject,
    DateTime StartsAt,
    DateTime EndsAt,
    [Text(200)] string Place = "",
    [Text(4_000)] string Goal = "",
    [Count(100)] IReadOnlyList<Guid>? People = null,
    [Count(30, Each = 200)] IReadOnlyList<string>? Guests = null,
    [Count(100, Each = 100)] IReadOnlyList<string>? Resources = null
);

/// <param name="Satisfaction">How satisfied the customer was, 1 to 5.</param>
public sealed record MeetingResult([Text(10_000)] string Result, [Between(1, 5)] int? Satisfaction = null);

/// <summary>A meeting as its lead shows it.</summary>
public sealed record MeetingView(
    Guid Id,
    int Version,
    string Subject,
    DateTime StartsAt,
    DateTime EndsAt,
    string Place,
    string Goal,
    IReadOnlyList<Guid> People,
    IReadOnlyList<string> PeopleNames,
    IReadOnlyList<string> Guests,
    IReadOnlyList<string> Resources,
    string? Result,
    int? Satisfaction,
    bool Cancelled
);

/// <summary>Something that can be taken along.</summary>
public sealed record ResourceView([Text(100)] string Key, [Text(200)] string Name, bool Retired);

/// <summary>Meetings and visits, and what is taken along to them: a thing is at one place at a time, which the database holds.</summary>
public static class MeetingEndpoints
{
    private const int LongestLine = 200;
    private const int LongestText = 4000;
    private static readonly TimeSpan Longest = TimeSpan.FromDays(14);

    public static void MapMeetings(this IEndpointRouteBuilder api)
    {
        var work = api.MapGroup("").Requires(Act.WorkLeads).WithTags("Follow-ups");
        work.MapPost("/leads/{id:guid}/meetings", Plan).WithSummary("Plan a meeting or visit");
        work.MapPut("/meetings/{id:guid}", Change).WithSummary("Change a meeting (If-Match)");
        work.MapPut("/meetings/{id:guid}/result", Conclude).WithSummary("Record what came of a meeting");
        work.MapDelete("/meetings/{id:guid}", Cancel).WithSummary("Call a meeting off");
        api.MapGet("/resources", Resources).Requires(Act.SeeLeads).WithTags("Follow-ups").WithSummary("What can be taken along");
        api.MapPut("/resources/{key}", KeepResource).Requires(Act.SetUp).WithTags("Follow-ups").WithSummary("Add, rename or retire what can be taken along");
    }

    /// <summary>A lead's meetings, the latest first.</summary>
    public static async Task<List<MeetingView>> Of(LanternDb db, Guid lead)
    {
        var rows = await db.Set<MeetingRow>().AsNoTracking().Where(x => x.LeadId == lead).OrderByDescending(x => x.StartsAt).ToListAsync();
        if (rows.Count == 0)
            return [];
        var names = await Person.Names(db);
        var booked = (
            await db.Set<BookingRow>()
                .Where(x => rows.Select(r => r.Id).ToArray().Contains(x.MeetingId))
                .Select(x => new { Meeting = x.MeetingId, Key = x.ResourceKey })
                .ToListAsync()
        ).ToLookup(b => b.Meeting, b => b.Key);
        return
        [
            .. rows.Select(m => new MeetingView(
                m.Id,
                m.Version,
                m.Subject,
                m.StartsAt,
                m.EndsAt,
                m.Place,
                m.Goal,
                m.People,
                [.. m.People.Select(p => names.GetValueOrDefault(p, "somebody"))],
                m.Guests,
                [.. booked[m.Id].Order(StringComparer.Ordinal)],
                m.Result,
                m.Satisfaction,
                m.CancelledAt is not null
            )),
        ];
    }

    private static async Task<Results<Ok<LeadSheet>, ProblemHttpResult>> Plan(Guid id, MeetingWrite body, ClaimsPrincipal user, LanternDb db, LeadQueries queries)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await LeadEndpoints.WhyNot(db, id, user, null) is { } no)
            return ApiProblems.Of(no);
        if (await Wrong(db, body) is { } wrong)
            return ApiProblems.Of(wrong);
        var meeting = Guid.CreateVersion7();
        await db.Insert(
            new MeetingRow
            {
                Id = meeting,
                LeadId = id,
                StartsAt = body.StartsAt.ToUniversalTime(),
                EndsAt = body.EndsAt.ToUniversalTime(),
                Subject = body.Subject.Trim(),
                Place = body.Place.Trim(),
                Goal = body.Goal.Trim(),
                Guests = GuestsOf(body),
                People = PeopleOf(body),
                MadeBy = user.Id(),
            }
        );
        if (await Book(db, meeting, body) is { } taken)
            return ApiProblems.Of(taken);
        await db.Log(EventLog.Lead, id, new MeetingPlanned(meeting, body.StartsAt.ToUniversalTime(), body.Subject.Trim()));
        await Settle(db, id);
        await transaction.CommitAsync();
        return TypedResults.Ok((await queries.Sheet(db, id, user))!);
    }

    private static string[] GuestsOf(MeetingWrite body) => [.. (body.Guests ?? []).Select(FieldReader.Clean).Where(g => g.Length > 0)];

    private static Guid[] PeopleOf(MeetingWrite body) => [.. (body.People ?? []).Distinct()];

    // A meeting ahead is a next step too.
    private static async Task Settle(LanternDb db, Guid lead)
    {
        await FollowUps.Refresh(db, [lead]);
        await LeadLive.Changed(db, lead);
    }

    private static async Task<Problem?> Wrong(LanternDb db, MeetingWrite body)
    {
        if ((body.Subject ?? "").Trim() is not { Length: > 0 and <= LongestLine })
            return Problem.Of("subject-missing", "subject", LongestLine);
        if (body.EndsAt <= body.StartsAt || body.EndsAt - body.StartsAt > Longest || body.StartsAt.Year is < 2000 or > 2100)
            return Problem.Of("meeting-span", "endsAt");
        var people = (body.People ?? []).Distinct().ToArray();
        if (await db.Set<Person>().CountAsync(x => people.Contains(x.Id)) != people.Length)
            return Problem.Of("person-unknown", "people");
        var resources = (body.Resources ?? []).Distinct().ToArray();
        return await db.Set<ResourceRow>().CountAsync(x => resources.Contains(x.Key) && !x.Retired) != resources.Length ? Problem.Of("resource-unknown", "resources") : null;
    }

    // Two who take the same thing at once: the database lets one. What is let go and what is taken is locked first, in one order, so that nobody waits in a circle.
    private static async Task<Problem?> Book(LanternDb db, Guid meeting, MeetingWrite body)
    {
        try
        {
            var keys = (body.Resources ?? []).Distinct().ToArray();
            await db.Run(
                $"""
                select 1 from resource where key = any({keys}) or key in (select resource_key from booking where meeting_id = {meeting}) order by key for no key update;
                delete from booking where meeting_id = {meeting};
                insert into booking (meeting_id, resource_key, starts_at, ends_at) select {meeting}, key, {body.StartsAt.ToUniversalTime()}, {body.EndsAt.ToUniversalTime()} from unnest({keys}) key
                """
            );
            return null;
        }
        catch (PostgresException e) when (e.SqlState == PostgresErrorCodes.ExclusionViolation)
        {
            return Problem.Of("resource-taken");
        }
    }

    private static async Task<(MeetingRow? Meeting, Problem? No)> Lock(LanternDb db, Guid id, ClaimsPrincipal user, int? version)
    {
        var meeting = await db.Entity<MeetingRow>($"select * from meeting where id = {id} for update");
        if (meeting is null)
            return (null, Problem.NotFound("meeting"));
        return (meeting, await LeadEndpoints.WhyNot(db, meeting.LeadId, user, null) ?? (version is { } v && v != meeting.Version ? new Problem("stale") : null));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Change(Guid id, MeetingWrite body, HttpRequest request, ClaimsPrincipal user, LanternDb db)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var (meeting, no) = await Lock(db, id, user, request.Version());
        if ((no ?? await Wrong(db, body)) is { } wrong)
            return ApiProblems.Of(wrong);
        await db.Set<MeetingRow>()
            .Where(m => m.Id == id)
            .ExecuteUpdateAsync(s =>
                s.SetProperty(m => m.StartsAt, body.StartsAt.ToUniversalTime())
                    .SetProperty(m => m.EndsAt, body.EndsAt.ToUniversalTime())
                    .SetProperty(m => m.Subject, body.Subject.Trim())
                    .SetProperty(m => m.Place, body.Place.Trim())
                    .SetProperty(m => m.Goal, body.Goal.Trim())
                    .SetProperty(m => m.Guests, GuestsOf(body))
                    .SetProperty(m => m.People, PeopleOf(body))
                    .SetProperty(m => m.CancelledAt, (DateTime?)null)
                    .SetProperty(m => m.Version, m => m.Version + 1)
            );
        if (await Book(db, id, body) is { } taken)
            return ApiProblems.Of(taken);
        await db.Log(EventLog.Lead, meeting!.LeadId, new MeetingChanged(id, body.StartsAt.ToUniversalTime(), body.Subject.Trim()));
        await Settle(db, meeting.LeadId);
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Conclude(Guid id, MeetingResult body, ClaimsPrincipal user, LanternDb db, TimeProvider clock)
    {
        if ((body.Result ?? "").Trim() is not { Length: > 0 and <= LongestText })
            return ApiProblems.Of("text-missing", "result", LongestText);
        await using var transaction = await db.Database.BeginTransactionAsync();
        var (meeting, no) = await Lock(db, id, user, null);
        if (no is not null)
            return ApiProblems.Of(no);
        var result = body.Result!.Trim();
        await db.Set<MeetingRow>()
            .Where(x => x.Id == id)
            .ExecuteUpdateAsync(s => s.SetProperty(x => x.Result, result).SetProperty(x => x.Satisfaction, body.Satisfaction).SetProperty(x => x.Version, x => x.Version + 1));
        // Said once in the story; a corrected result changes its line.
        var text = $"{meeting!.Subject}: {result}{(body.Satisfaction is { } s ? $" (satisfaction {s} of 5)" : "")}";
        var told = await db.Run($"update story_entry set text = {text} where lead_id = {meeting.LeadId} and kind = 'meeting' and detail->>'meeting' = {id}::text");
        if (told == 0)
            await LeadEndpoints.AppendActivity(db, meeting.LeadId, "meeting", text, user, clock.UtcNow(), Json.Write(new { meeting = id }));
        await Settle(db, meeting.LeadId);
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Cancel(Guid id, ClaimsPrincipal user, LanternDb db, TimeProvider clock)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var (meeting, no) = await Lock(db, id, user, null);
        if (no is not null)
            return ApiProblems.Of(no);
        await db.Set<MeetingRow>()
            .Where(x => x.Id == id)
            .ExecuteUpdateAsync(s => s.SetProperty(x => x.CancelledAt, x => x.CancelledAt ?? clock.UtcNow()).SetProperty(x => x.Version, x => x.Version + 1));
        await db.Set<BookingRow>().Where(x => x.MeetingId == id).ExecuteDeleteAsync();
        await db.Log(EventLog.Lead, meeting!.LeadId, new MeetingCalledOff(id, meeting.Subject));
        await Settle(db, meeting.LeadId);
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }

    private static async Task<Ok<List<ResourceView>>> Resources(LanternDb db) =>
        TypedResults.Ok(await db.Set<ResourceRow>().OrderBy(x => x.Name).Select(x => new ResourceView(x.Key, x.Name, x.Retired)).ToListAsync());

    private static async Task<Results<NoContent, ProblemHttpResult>> KeepResource(string key, ResourceView body, LanternDb db)
    {
        if (key.Length > 60 || FieldReader.Clean(body.Name) is not { Length: > 0 and <= LongestLine } name)
            return ApiProblems.Of("name-missing", "name", LongestLine);
        await db.Run(
            $"insert into resource (key, name, retired) values ({key}, {name}, {body.Retired}) on conflict (key) do update set name = excluded.name, retired = excluded.retired"
        );
        return TypedResults.NoContent();
    }
}
