using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.Core.Events;
using Npgsql;

namespace DapperLantern.App.Leads;

/// <summary>Wakes leads on hold when their time has come: they are in work again, their owner is told and has something to do. Of several processes one wakes each.</summary>
public sealed class OnHoldWorker(LanternDbFactory databases, TimeProvider clock, ILogger<OnHoldWorker> log) : LastingService(log)
{
    private const int Batch = 500;

    protected override async Task Work(CancellationToken stop)
    {
        using var timer = new PeriodicTimer(TimeSpan.FromSeconds(20));
        do try
        {
            await using var db = await databases.Open(stop);
            while (await Wake(db, clock.UtcNow()) == Batch) { }
        }
        catch (NpgsqlException e)
        {
            Log.LogWarning(e, "Leads on hold could not be woken; it is tried again");
        }
        while (await timer.WaitForNextTickAsync(stop));
    }

    /// <summary>Wakes some of those whose time has come. Gives how many.</summary>
    public static async Task<int> Wake(LanternDb db, DateTime now)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.Run(EventLog.Because(new Why(Why.Woke)));
        var woken = (
            await db.Rows<Guid>(
                $"""
                update lead set state = 'in_work', wake_at = null, version = version + 1
                where id in (select id from lead where wake_at <= {now} and state = 'on_hold' order by wake_at limit {Batch} for update skip locked) returning id as "Value"
                """
            )
        ).ToArray();
        await db.Run(
            $"""
            {EventLog.Because(null):sql};
            insert into task (id, lead_id, owner_id, subject, due_at) select gen_random_uuid(), l.id, l.owner_id, 'Take up again', {now} + interval '1 day' from lead l
              where l.id = any({woken}) and l.owner_id is not null and not exists (select 1 from task t where t.lead_id = l.id and t.done_at is null);
            insert into outbox (id, kind, person_id, subject, text, created_at, tries)
              select gen_random_uuid(), 'lead-woke', l.owner_id, 'Awake again: ' || coalesce(nullif(trim(concat_ws(' ', l.first_name, l.last_name)), ''), l.company, l.email, l.phone, 'a lead'),
                'The date until which this lead was on hold has come.', {now}, 0 from lead l where l.id = any({woken}) and l.owner_id is not null;
            """
        );
        await FollowUps.Refresh(db, woken);
        await transaction.CommitAsync();
        return woken.Length;
    }
}
