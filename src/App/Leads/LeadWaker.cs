using DapperLantern.App.Data;
using DapperLantern.App.Due;
using DapperLantern.App.Events;
using DapperLantern.Core.Events;

namespace DapperLantern.App.Leads;

/// <summary>Wakes leads on hold when their time has come: they are in work again, and their owner has something to do.</summary>
public sealed class LeadWaker : IDueWork
{
    public string Kind => "wake";

    public string Words => "Wake a lead that was on hold";

    public int Batch => 500;

    public async Task<int> Do(LanternDb db, Guid[] keys, DateTime now, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        await db.Run(EventLog.Because(new Why(Why.Woke)), cancel);
        var woken = (
            await db.Rows<Guid>(
                $"""
                update lead set state = 'in_work', wake_at = null, version = version + 1
                where id in (select id from lead where id = any({keys}) and wake_at <= {now} and state = 'on_hold' order by wake_at for update skip locked) returning id as "Value"
                """,
                cancel
            )
        ).ToArray();
        await db.Run(
            $"""
            {EventLog.Because(null):sql};
            insert into task (id, lead_id, owner_id, subject, due_at) select gen_random_uuid(), l.id, l.owner_id, 'Take up again', {now} + interval '1 day' from lead l
              where l.id = any({woken}) and l.owner_id is not null and not exists (select 1 from task t where t.lead_id = l.id and t.done_at is null);
            """
        );
        await FollowUps.Refresh(db, woken);
        await transaction.CommitAsync(cancel);
        return woken.Length;
    }
}
