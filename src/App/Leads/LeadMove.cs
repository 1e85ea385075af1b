using DapperLantern.Core.Leads.Bulk;

namespace DapperLantern.App.Leads;

/// <summary>The one statement that puts leads in a state, with what the state needs: when it wakes, or why.</summary>
public static class LeadMove
{
    /// <param name="which">The condition on the table <c>lead</c> that says which leads.</param>
    public static string Statement(string which) =>
        $"""
            update lead set state = @State, version = version + 1, last_touch_at = @now, clock_due_at = case when @State = 'new' then clock_due_at end,
              wake_at = case when @State = 'on_hold' then @wakes::timestamptz end, state_reason = case when @State = 'disqualified' then @Reason::text end,
              lost_to = case when @State = 'disqualified' then @LostTo::text end, qualified_because = case when @State = 'qualified' then @Because::text end where {which}
            """;

    /// <summary>Its parameters for many.</summary>
    public static object Of(BulkAct act, Guid[] ids, DateTime now) =>
        new
        {
            ids,
            now,
            act.State,
            act.Reason,
            wakes = act.WakeAt?.UtcDateTime,
            LostTo = (string?)null,
            Because = (string?)null,
        };
}
