using System.Security.Claims;
using System.Security.Cryptography;
using System.Text;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;
using Microsoft.AspNetCore.Http.HttpResults;

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
        mine.MapPost("", Make).WithSummary("Make a private address of one's calendar; the one before is void");
        mine.MapDelete("", Drop).WithSummary("Make the address void");
    }

    /// <summary>The feed itself: whoever has the address reads it, without signing in, as calendar programs do.</summary>
    public static void MapCalendarFeed(this WebApplication app) => app.MapGet("/calendar/{key}.ics", Feed).AllowAnonymous().ExcludeFromDescription().RequireRateLimiting("sign-in");

    private static async Task<Ok<CalendarView>> Have(ClaimsPrincipal user, LanternDb db) =>
        TypedResults.Ok(
            new CalendarView(await (await db.Connection()).QuerySingleAsync<bool>("select calendar_hash is not null from person where id = @me", new { me = user.Id() }))
        );

    private static async Task<Ok<CalendarAddress>> Make(ClaimsPrincipal user, LanternDb db)
    {
        var key = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(20));
        await (await db.Connection()).ExecuteAsync("update person set calendar_hash = @hash where id = @me", new { me = user.Id(), hash = HashOf(key) });
        return TypedResults.Ok(new CalendarAddress($"/calendar/{key}.ics"));
    }

    private static async Task<NoContent> Drop(ClaimsPrincipal user, LanternDb db)
    {
        await (await db.Connection()).ExecuteAsync("update person set calendar_hash = null where id = @me", new { me = user.Id() });
        return TypedResults.NoContent();
    }

    private static byte[] HashOf(string key) => SHA256.HashData(Encoding.ASCII.GetBytes(key));

    private static async Task<Results<ContentHttpResult, NotFound>> Feed(string key, LanternDb db, TimeProvider clock)
    {
        var connection = await db.Connection();
        if (await connection.QuerySingleOrDefaultAsync<Guid?>("select id from person where calendar_hash = @hash and here", new { hash = HashOf(key) }) is not { } person)
            return TypedResults.NotFound();
        var now = clock.UtcNow();
        var items = await FollowUpEndpoints.Of(connection, now - Back, now + Ahead, person);
        return TypedResults.Text(Write(items.Where(i => !i.Done), now), "text/calendar", Encoding.UTF8);
    }

    /// <summary>The items as a calendar: meetings as events, the rest as events of no length, so that every calendar program shows them.</summary>
    public static string Write(IEnumerable<FollowUpView> items, DateTime now)
    {
        var calendar = new Ical.Net.Calendar { ProductId = "-//Dapper Lantern//Follow-ups//EN" };
        foreach (var item in items)
            calendar.Events.Add(
                new CalendarEvent
                {
                    Uid = $"{item.Kind}-{item.Id}-{item.OwnerId}@dapper-lantern",
                    DtStamp = new CalDateTime(now, "UTC"),
                    DtStart = new CalDateTime(item.At, "UTC"),
                    DtEnd = new CalDateTime(item.Until ?? item.At, "UTC"),
                    // RFC 5545: 1 is the highest, 0 is none said.
                    Priority = item.Urgent ? 1 : 0,
                    Summary = item.Who.Length > 0 ? $"{item.Subject}: {item.Who}" : item.Subject,
                }
            );
        return new CalendarSerializer().SerializeToString(calendar)!;
    }
}
