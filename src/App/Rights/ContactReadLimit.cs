using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Rights;

/// <summary>How many people's contact data somebody read within an hour, of those that are not theirs.</summary>
public sealed class ContactReadRow
{
    public Guid PersonId { get; set; }

    /// <summary>Begin of the hour, UTC.</summary>
    public DateTime Hour { get; set; }
    public int Records { get; set; }

    /// <summary>When the administrators were told that it is much; null while it is not.</summary>
    public DateTime? ToldAt { get; set; }
}

/// <summary>
/// Contact data of people who are somebody else's, for roles that may not export: lists leave it out; pages and search show it one by one, so that a colleague can be stood in for, and
/// count it. Beyond the limit of an hour (<c>Reading:PeoplePerHour</c>) nothing more is shown, and the administrators are told once.
/// </summary>
public sealed class ContactReadLimit(IConfiguration configuration, TimeProvider clock)
{
    /// <summary>Keys of the fields that are contact data.</summary>
    public static IReadOnlySet<string> Fields { get; } = new HashSet<string> { "email", "phone", "extension", "mobile" };

    private readonly int _most = configuration.GetValue("Reading:PeoplePerHour", 120);

    /// <summary>Is this somebody else's, for a role that may not export? What nobody owns is everybody's.</summary>
    public static bool IsOthers(ClaimsPrincipal user, Guid? owner) => owner is { } other && !user.May(Act.ExportLeads) && other != user.Id();

    /// <summary>Counts people whose contact data is about to be shown. Gives the refusal once the hour's limit is passed; null while it is not.</summary>
    public async Task<ProblemHttpResult?> Count(LanternDb db, ClaimsPrincipal user, int people)
    {
        if (people == 0)
            return null;
        var now = clock.UtcNow();
        var hour = new DateTime(now.Year, now.Month, now.Day, now.Hour, 0, 0, DateTimeKind.Utc);
        var me = user.Id();
        var (records, tell) = await db.One<Counted>(
            $"""
            insert into contact_reading as r (person_id, hour, records) values ({me}, {hour}, {people})
            on conflict (person_id, hour) do update set records = r.records + {people},
              told_at = case when r.told_at is null and r.records + {people} > {_most} then {now} else r.told_at end
            returning records, coalesce(told_at = {now}, false) as tell
            """
        );
        if (tell)
            await NotifyAdministrators(db, me, records, now);
        return records > _most
            ? ApiProblems.Of(
                429,
                "read-much",
                $"You have looked at {_most} people of your colleagues within this hour; more are shown from the next full hour on. The administrators know."
            )
            : null;
    }

    private static Task NotifyAdministrators(LanternDb db, Guid reader, int records, DateTime now) =>
        db.Run(
            $"""
            insert into outbox (id, kind, person_id, subject, text, created_at, tries)
            select gen_random_uuid(), 'read-much', a.id, 'Many people read by ' || p.display_name,
              p.display_name || ' looked at the contact data of ' || {records} || ' people of colleagues within one hour. More are not shown before the next.', {now}, 0
            from person a cross join person p where a.role = 'Administrator' and a.here and p.id = {reader}
            """
        );

    private sealed record Counted(int Records, bool Tell);
}
