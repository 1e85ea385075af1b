using System.Security.Claims;
using System.Security.Cryptography;
using System.Text;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads.Activities;

/// <param name="Made">True where there is an address, which is shown only when it is made.</param>
public sealed record CalendarView(bool Made);

/// <param name="Path">The private address of the feed, under this server.</param>
public sealed record CalendarAddress(string Path);

/// <summary>A person's follow-ups as an iCalendar feed (RFC 5545) under a private address. Of the address only a hash is kept; a new one makes the old one void.</summary>
public static class CalendarFeed
{
    private static readonly TimeSpan Back = TimeSpan.FromDays(31);
    private static readonly TimeSpan Ahead = TimeSpan.FromDays(366);

    public static void MapCalendar(this IEndpointRouteBuilder api)
    {
        var mine = api.MapGroup("/calendar").Requires(Act.SeeLeads).WithTags("Follow-ups");
        mine.MapGet("", Have).WithSummary("Whether there is an address of one's calendar");
        mine.MapPost("", Make).AnswersOnce().WithSummary("Make a private address of one's calendar; the one before is void");
        mine.MapDelete("", Drop).WithSummary("Make the address void");
    }

    /// <summary>The feed itself: whoever has the address reads it, without signing in, as calendar programs do.</summary>
    public static void MapCalendarFeed(this WebApplication app) => app.MapGet("/calendar/{key}.ics", Feed).AllowAnonymous().ExcludeFromDescription().RequireRateLimiting("sign-in");

    private static async Task<Ok<CalendarView>> Have(ClaimsPrincipal user, LanternDb db) =>
        TypedResults.Ok(new CalendarView(await db.Set<Person>().Where(x => x.Id == user.Id()).Select(x => x.CalendarHash != null).SingleAsync()));

    private static async Task<Ok<CalendarAddress>> Make(ClaimsPrincipal user, LanternDb db)
    {
        var key = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(20));
        await db.Set<Person>().Where(x => x.Id == user.Id()).ExecuteUpdateAsync(s => s.SetProperty(x => x.CalendarHash, HashOf(key)));
        return TypedResults.Ok(new CalendarAddress($"/calendar/{key}.ics"));
    }

    private static async Task<NoContent> Drop(ClaimsPrincipal user, LanternDb db)
    {
        await db.Set<Person>().Where(x => x.Id == user.Id()).ExecuteUpdateAsync(s => s.SetProperty(x => x.CalendarHash, (byte[]?)null));
        return TypedResults.NoContent();
    }

    private static byte[] HashOf(string key) => SHA256.HashData(Encoding.ASCII.GetBytes(key));

    private static async Task<Results<ContentHttpResult, NotFound>> Feed(string key, LanternDb db, RecordScopes scopes, Workspace workspace, PublicLinks links, TimeProvider clock)
    {
        if (await db.Set<Person>().AsNoTracking().SingleOrDefaultAsync(x => x.CalendarHash == HashOf(key) && x.Here) is not { } person)
            return TypedResults.NotFound();
        var scope = scopes.Of(person.Id, workspace.Roles.Of(person.Roles), workspace);
        var now = clock.UtcNow();
        var items = await FollowUpEndpoints.Of(db, now - Back, now + Ahead, person.Id, scope);
        var open = items.Where(i => !i.Done).ToList();
        var about = (await db.Rows<About>(AboutSql([.. open.Select(i => i.Id)], scope))).ToDictionary(a => a.Id);
        return TypedResults.Text(Write(open, about, links.Address, now), "text/calendar", Encoding.UTF8);
    }

    /// <summary>What a calendar shows beside the line of an item.</summary>
    /// <param name="Place">Where a meeting is; else the address of the lead.</param>
    /// <param name="Changes">How often it was changed since it was made.</param>
    public sealed record About(Guid Id, string? Place, string? Company, string? Phone, string? Goal, int Changes);

    private const string Address = "nullif(concat_ws(', ', l.street, nullif(concat_ws(' ', l.postal_code, l.city), '')), '')";

    private static SqlText AboutSql(Guid[] ids, RecordScope scope)
    {
        SqlText phone = $"case when {scope.ShowsContactData("lead", "l"):sql} then coalesce(l.phone, l.mobile) end";
        return $"""
            select t.id, {Address:sql} as place, l.company, {phone:sql} as phone, null::text as goal, t.changes from task t left join lead l on l.id = t.lead_id where t.id = any({ids})
            union all select m.id, coalesce(nullif(m.place, ''), {Address:sql}), l.company, {phone:sql}, nullif(m.goal, ''), m.version - 1
              from meeting m join lead l on l.id = m.lead_id where m.id = any({ids})
            union all select l.id, {Address:sql}, l.company, {phone:sql}, null, 0 from lead l where l.id = any({ids}) and {scope.Sees("lead", "l"):sql}
            """;
    }

    private static readonly TimeSpan TaskTakes = TimeSpan.FromMinutes(15);
    private const int AlarmMinutesBefore = 10;

    /// <summary>The items as a calendar (RFC 5545), each with its place, what it is about and an alarm. A task has no length of its own; a quarter of an hour is kept for it, since an event must end after it begins.</summary>
    /// <param name="about">By item; one without is written with its line alone.</param>
    /// <param name="address">Where this workspace is reached, for the way to the record.</param>
    public static string Write(IEnumerable<FollowUpView> items, IReadOnlyDictionary<Guid, About> about, string address, DateTime now)
    {
        var calendar = new Ical.Net.Calendar { ProductId = "-//Dapper Lantern//Follow-ups//EN" };
        foreach (var item in items)
        {
            var more = about.GetValueOrDefault(item.Id);
            var way =
                item.DealId is { } deal ? $"{address}/deals/{deal}"
                : item.LeadId is { } lead ? $"{address}/leads/{lead}"
                : null;
            var told = new CalendarEvent
            {
                Uid = $"{item.Kind}-{item.Id}-{item.OwnerId}@dapper-lantern",
                DtStamp = new CalDateTime(now, "UTC"),
                DtStart = new CalDateTime(item.At, "UTC"),
                DtEnd = new CalDateTime(item.Until is { } until && until > item.At ? until : item.At + TaskTakes, "UTC"),
                // RFC 5545: 1 is the highest, 0 is none said.
                Priority = item.Urgent ? 1 : 0,
                Sequence = more?.Changes ?? 0,
                Location = more?.Place,
                Description = string.Join('\n', new[] { more?.Goal, more?.Company, more?.Phone is { } phone ? PhoneReader.Show(phone) : null, way }.OfType<string>()),
                Summary = item.Who.Length > 0 ? $"{item.Subject}: {item.Who}" : item.Subject,
            };
            if (way is not null)
                told.Url = new Uri(way);
            told.Alarms.Add(
                new Alarm
                {
                    Action = AlarmAction.Display,
                    Description = told.Summary,
                    Trigger = new Trigger(Duration.FromMinutes(-AlarmMinutesBefore)),
                }
            );
            calendar.Events.Add(told);
        }
        return new CalendarSerializer().SerializeToString(calendar)!;
    }
}
