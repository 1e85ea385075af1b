using System.Data.Common;
using System.Runtime.CompilerServices;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Data;

/// <summary>
/// Reads rows whose columns are known only as the program runs, such as those of the field catalogue, and statements that go to the server together. The context cannot map these; they go
/// by its own connection and transaction.
/// </summary>
internal static class DynamicRows
{
    /// <summary>The rows of a statement one after another, as they come in.</summary>
    /// <param name="read">Makes a value of the current row.</param>
    public static async IAsyncEnumerable<T> Stream<T>(this LanternDb db, SqlText sql, Func<DbDataReader, T> read, [EnumeratorCancellation] CancellationToken cancel = default)
    {
        await using var rows = await db.Together([sql], cancel);
        while (await rows.ReadAsync(cancel))
            yield return read(rows);
    }

    /// <summary>All rows of a statement.</summary>
    public static async Task<List<T>> Read<T>(this LanternDb db, SqlText sql, Func<DbDataReader, T> read, CancellationToken cancel = default)
    {
        var all = new List<T>();
        await using var rows = await db.Together([sql], cancel);
        while (await rows.ReadAsync(cancel))
            all.Add(read(rows));
        return all;
    }

    /// <summary>Sends statements in one trip; the reader gives their results one after another. Outside of a transaction they make one.</summary>
    public static async Task<DbDataReader> Together(this LanternDb db, IEnumerable<SqlText> statements, CancellationToken cancel = default)
    {
        await using var batch = new NpgsqlBatch(await db.Connection());
        foreach (var statement in statements)
            batch.BatchCommands.Add(statement.ForBatch());
        if (db.Database.GetCommandTimeout() is { } seconds)
            batch.Timeout = seconds;
        return await batch.ExecuteReaderAsync(cancel.CanBeCanceled ? cancel : db.Aborted);
    }
}
