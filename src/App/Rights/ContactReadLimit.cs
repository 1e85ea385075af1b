using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;

namespace DapperLantern.App.Rights;

/// <summary>How many people somebody asked for by address or number within an hour, of those that are not theirs.</summary>
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
/// Answers that tell whose an address or number is, to a person from whom the contact data is kept: a caller must not be made a lead twice. Each person told of counts once an hour.
/// Beyond the limit of an hour (<c>Reading:PeoplePerHour</c>) nothing more is told, and the administrators learn of it once.
/// </summary>
public sealed class ContactReadLimit(ReadingSettings settings, TimeProvider clock)
{
    private const int Remembered = 10_000;

    // Whoever types is answered at each pause; what was told already is not counted again.
    private readonly HashSet<(Guid Reader, Guid Person, DateTime Hour)> _told = [];
    private readonly Lock _lock = new();

    /// <summary>Counts people of whom is about to be told. Gives the refusal once the hour's limit is passed; null while it is not.</summary>
    public async Task<Problem?> Count(LanternDb db, ClaimsPrincipal user, IReadOnlyCollection<Guid> told)
    {
        var (me, now) = (user.Id(), clock.UtcNow());
        var hour = HourOf(now);
        var people = New(me, told, hour);
        if (people == 0)
            return null;
        var (records, tell) = await db.One<Counted>(
            $"""
            insert into contact_reading as r (person_id, hour, records) values ({me}, {hour}, {people})
            on conflict (person_id, hour) do update set records = r.records + {people},
              told_at = case when r.told_at is null and r.records + {people} > {settings.PeoplePerHour} then {now} else r.told_at end
            returning records, coalesce(told_at = {now}, false) as tell
            """
        );
        if (tell)
            await db.Log(EventLog.Person, me, new MuchRead(records));
        return records > settings.PeoplePerHour ? Problem.Of("read-much", "", settings.PeoplePerHour) : null;
    }

    /// <summary>Begin of the hour that a moment lies in, UTC.</summary>
    internal static DateTime HourOf(DateTime now) => new(now.Year, now.Month, now.Day, now.Hour, 0, 0, DateTimeKind.Utc);

    private int New(Guid reader, IReadOnlyCollection<Guid> told, DateTime hour)
    {
        lock (_lock)
        {
            if (_told.Count > Remembered)
                _told.RemoveWhere(t => t.Hour != hour);
            return told.Count(person => _told.Add((reader, person, hour)));
        }
    }

    private sealed record Counted(int Records, bool Tell);
}
