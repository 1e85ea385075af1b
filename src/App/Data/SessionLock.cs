namespace DapperLantern.App.Data;

/// <summary>A lock that belongs to a database connection: free again the moment its process or connection is gone, so that whoever claims it goes on where another stopped.</summary>
public static class SessionLock
{
    /// <summary>Key of a record's lock. The first half of the id is time; the second is chance.</summary>
    public static long KeyOf(Guid id) => BitConverter.ToInt64(id.ToByteArray(), 8);

    /// <summary>Works under a lock. False, and nothing is done, where somebody else has it.</summary>
    public static async Task<bool> With(LanternDb db, long key, Func<Task> work)
    {
        if (!await db.One<bool>($"""select pg_try_advisory_lock({key}) as "Value" """))
            return false;
        try
        {
            await work();
            return true;
        }
        finally
        {
            // The connection goes back to a pool, so the lock must not wait for the connection's end.
            if (db.IsConnected())
                await db.Run($"select pg_advisory_unlock({key})");
        }
    }
}
