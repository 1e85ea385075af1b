using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;

namespace DapperLantern.App.Rights;

/// <summary>What somebody is told of a record that they do not see.</summary>
/// <param name="Id">By which they ask for it.</param>
/// <param name="Words">That it is known, and with whom.</param>
/// <param name="Asked">True while they have asked for it and nobody answered.</param>
public sealed record KnownView(Guid Id, string Words, bool Asked);

/// <summary>
/// The one answer about records that somebody does not see: whoever makes or imports one that exists is told that it is known, and with whom, so that a customer is not worked twice. Each
/// record counts once an hour; beyond the limit of an hour (<c>Reading:PeoplePerHour</c>) nothing more is told, and the administrators learn of it.
/// </summary>
public sealed class KnownAnswers(ReadingSettings settings, TimeProvider clock)
{
    /// <summary>Tells of records that are beyond doubt those meant. Gives what is told by record; those beyond the limit are missing.</summary>
    /// <param name="kind">lead, contact or account.</param>
    /// <param name="records">Of which the reader sees none.</param>
    public async Task<IReadOnlyDictionary<Guid, KnownView>> Tell(LanternDb db, ClaimsPrincipal user, string kind, IReadOnlyCollection<Guid> records)
    {
        if (records.Count == 0)
            return new Dictionary<Guid, KnownView>();
        var (reader, now, asked) = (user.Id(), clock.UtcNow(), records.Distinct().ToArray());
        var hour = ContactReadLimit.HourOf(now);
        var told = await db.Rows<Told>(
            $"""
            with asked as (select id, n from unnest({asked}) with ordinality a(id, n)),
            before as (select k.id, k.{kind:sql}_id as record, k.asked_at is not null and k.outcome is null as asked from known_answer k
              join asked a on a.id = k.{kind:sql}_id where k.person_id = {reader} and k.last_at >= {hour}),
            fresh as (select a.id, row_number() over (order by a.n) + (select count(*) from known_answer where person_id = {reader} and last_at >= {hour}) as n
              from asked a where a.id not in (select record from before)),
            put as (
              insert into known_answer as k (id, person_id, {kind:sql}_id, first_at, last_at, times, word)
              select gen_random_uuid(), {reader}, f.id, {now}, {now}, 1, '' from fresh f where f.n <= {settings.PeoplePerHour}
              on conflict (person_id, {kind:sql}_id) where {kind:sql}_id is not null do update set last_at = {now}, times = k.times + 1
              returning id, {kind:sql}_id as record, asked_at is not null and outcome is null as asked)
            select x.id, x.record, x.asked, p.display_name as owner from (select * from before union all select * from put) x
            join {kind:sql} r on r.id = x.record left join person p on p.id = r.owner_id {RecordScope.Unscoped("the one answer about records that are not seen"):sql}
            """
        );
        if (told.Count < asked.Length)
            await Warn(db, reader, hour);
        return told.ToDictionary(t => t.Record, t => new KnownView(t.Id, Words(t.Owner), t.Asked));
    }

    /// <summary>That a record is known, and with whom.</summary>
    public static string Words(string? owner) => owner is null ? "Known already, and with nobody yet." : $"Known already, and with {owner}.";

    /// <summary>What stands in place of an answer beyond the limit.</summary>
    public const string NoMore = "Known already. With whom is told in the next hour: enough was told in this one.";

    // Once an hour.
    private async Task Warn(LanternDb db, Guid reader, DateTime hour)
    {
        if (await db.One<bool>($"""select exists (select 1 from event where kind = 'read_much' and record = {reader} and at >= {hour}) as "Value" """))
            return;
        await db.Log(EventLog.Person, reader, new MuchRead(settings.PeoplePerHour));
    }

    private sealed record Told(Guid Id, Guid Record, bool Asked, string? Owner);
}
