using DapperLantern.App.Data;

namespace DapperLantern.App.Events;

/// <summary>The parts of the log, one for each month. They are made ahead of time, since an event without its month cannot be added.</summary>
public static class EventMonths
{
    // What is loaded may be from so long ago; nothing is logged later than now.
    private const int Back = 24;
    private const int Ahead = 13;

    /// <summary>Makes the months around a moment that are not there yet.</summary>
    public static Task Make(LanternDb db, DateTime now)
    {
        var (first, last) = (DateOnly.FromDateTime(now.AddMonths(-Back)), DateOnly.FromDateTime(now.AddMonths(Ahead)));
        return db.Run($"select event_months({first}, {last})");
    }

    /// <summary>Leaves a role reading the log and adding to it, and nothing else.</summary>
    /// <param name="role">Quoted.</param>
    internal static async Task Protect(LanternDb db, string role)
    {
        await db.Run($"revoke update, delete, truncate on event from {role:sql}");
        var parts = await db.Rows<string>(
            $"""select quote_ident(c.relname) as "Value" from pg_inherits i join pg_class c on c.oid = i.inhrelid where i.inhparent = 'event'::regclass"""
        );
        await db.Run($"revoke all on {string.Join(", ", parts):sql} from {role:sql}");
    }
}
