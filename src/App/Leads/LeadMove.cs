using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.Core.Events;
using DapperLantern.Core.Leads.Bulk;

namespace DapperLantern.App.Leads;

/// <summary>The one statement that puts leads in a state, with what the state needs: when it wakes, or why.</summary>
/// <param name="State">See <see cref="Core.Leads.LeadState"/>.</param>
/// <param name="Wakes">When a lead on hold wakes; null for other states.</param>
/// <param name="Reason">Why a lead is disqualified.</param>
/// <param name="LostTo">The competitor a disqualified lead chose.</param>
/// <param name="Because">Why a lead is qualified below the threshold.</param>
internal sealed record LeadMove(string? State, DateTime? Wakes, string? Reason, string? LostTo = null, string? Because = null)
{
    public static LeadMove Of(BulkAct act) => new(act.State, act.WakeAt?.UtcDateTime, act.Reason);

    public Task Write(LanternDb db, Guid[] ids, DateTime now, Why why) =>
        db.Run(
            $"""
            {EventLog.Because(why):sql};
            update lead set state = {State}, version = version + 1, last_touch_at = {now}, clock_due_at = case when {State} = 'new' then clock_due_at end,
              wake_at = case when {State} = 'on_hold' then {Wakes}::timestamptz end, state_reason = case when {State} = 'disqualified' then {Reason}::text end,
              lost_to = case when {State} = 'disqualified' then {LostTo}::text end, qualified_because = case when {State} = 'qualified' then {Because}::text end
            where id = any({ids});
            {EventLog.Because(null):sql};
            """
        );
}
