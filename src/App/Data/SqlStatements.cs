using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Data;

/// <summary>
/// Statements in SQL through the context, for those whose plan or shape LINQ cannot express; see <see cref="SqlText"/>. Columns of a row are found by the snake-case names of the
/// properties of <c>T</c>; the one column of a scalar is called "Value".
/// </summary>
internal static class SqlStatements
{
    /// <summary>All rows that the statement gives, in its order.</summary>
    public static Task<List<T>> Rows<T>(this LanternDb db, SqlText sql, CancellationToken cancel = default) => db.Database.SqlQuery<T>(sql.ForContext()).ToListAsync(cancel);

    /// <summary>The one row that the statement gives; the default of <typeparamref name="T"/> where it gives none.</summary>
    /// <exception cref="InvalidOperationException">It gives several.</exception>
    public static async Task<T?> Row<T>(this LanternDb db, SqlText sql, CancellationToken cancel = default) =>
        // Not SingleOrDefault on the query: that would wrap the statement into another, which "returning" and "for update" do not allow.
        (await db.Rows<T>(sql, cancel)).SingleOrDefault();

    /// <summary>The one row that the statement always gives.</summary>
    /// <exception cref="InvalidOperationException">It gives none, or several.</exception>
    public static async Task<T> One<T>(this LanternDb db, SqlText sql, CancellationToken cancel = default) => (await db.Rows<T>(sql, cancel)).Single();

    /// <summary>Rows of a table, all its columns, as the statement selects and locks them. The context does not track them.</summary>
    public static Task<List<T>> Entities<T>(this LanternDb db, SqlText sql, CancellationToken cancel = default)
        where T : class => db.Set<T>().FromSql(sql.ForContext()).AsNoTracking().ToListAsync(cancel);

    /// <summary>The one row of a table that the statement selects; null where it selects none.</summary>
    /// <exception cref="InvalidOperationException">It selects several.</exception>
    public static async Task<T?> Entity<T>(this LanternDb db, SqlText sql, CancellationToken cancel = default)
        where T : class => (await db.Entities<T>(sql, cancel)).SingleOrDefault();

    /// <summary>Runs a statement, or several in one trip; gives the number of rows changed.</summary>
    public static Task<int> Run(this LanternDb db, SqlText sql, CancellationToken cancel = default) => db.Database.ExecuteSqlAsync(sql.ForContext(), cancel);

    /// <summary>Waits for the lock of a name and holds it until the transaction ends.</summary>
    public static Task LockUntilEnd(this LanternDb db, string name) => db.Run($"select pg_advisory_xact_lock(hashtext({name}))");

    /// <summary>Waits for the lock of a key and holds it until the transaction ends.</summary>
    public static Task LockUntilEnd(this LanternDb db, long key) => db.Run($"select pg_advisory_xact_lock({key})");

    /// <summary>Lets statements of the context take so many seconds, until it is disposed of.</summary>
    public static IDisposable Patient(this LanternDb db, int seconds)
    {
        var before = db.Database.GetCommandTimeout();
        db.Database.SetCommandTimeout(seconds);
        return new AtEnd(() => db.Database.SetCommandTimeout(before));
    }

    private sealed class AtEnd(Action act) : IDisposable
    {
        public void Dispose() => act();
    }

    /// <summary>Writes one new row at once, with whatever else the context has changed. The context does not keep it: what is read later comes from the database.</summary>
    public static async Task Insert<T>(this LanternDb db, T row)
        where T : class
    {
        var entry = db.Add(row);
        try
        {
            await db.SaveChangesAsync();
        }
        finally
        {
            entry.State = EntityState.Detached;
        }
    }
}
