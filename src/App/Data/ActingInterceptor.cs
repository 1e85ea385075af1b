using System.Data.Common;
using System.Globalization;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Npgsql;
using NpgsqlTypes;

namespace DapperLantern.App.Data;

/// <summary>Tells the database at the start of each transaction who acts, by what, and when, so that its triggers can write it into the log.</summary>
internal sealed class ActingInterceptor(TimeProvider clock) : DbTransactionInterceptor
{
    public override async ValueTask<DbTransaction> TransactionStartedAsync(
        DbConnection connection,
        TransactionEndEventData eventData,
        DbTransaction result,
        CancellationToken cancellationToken = default
    )
    {
        await using var command = Settings(connection);
        await command.ExecuteNonQueryAsync(cancellationToken);
        return result;
    }

    public override DbTransaction TransactionStarted(DbConnection connection, TransactionEndEventData eventData, DbTransaction result)
    {
        using var command = Settings(connection);
        command.ExecuteNonQuery();
        return result;
    }

    private NpgsqlCommand Settings(DbConnection connection)
    {
        var command = (NpgsqlCommand)connection.CreateCommand();
        Tell(command, clock);
        return command;
    }

    /// <summary>Puts before a command the statement that tells who acts. What it sets ends with the transaction.</summary>
    internal static void Tell(DbCommand command, TimeProvider clock)
    {
        var acting = Acting.Current;
        command.CommandText =
            "select set_config('lantern.at', @lantern_at, true), set_config('lantern.by', @lantern_by, true), set_config('lantern.cause', @lantern_cause, true), set_config('lantern.cause_id', @lantern_cause_id, true);"
            + command.CommandText;
        Add("lantern_at", clock.UtcNow().ToString("O", CultureInfo.InvariantCulture));
        Add("lantern_by", $"{acting.By}");
        Add("lantern_cause", acting.Cause);
        Add("lantern_cause_id", $"{acting.CauseId}");
        void Add(string name, string value) => command.Parameters.Add(new NpgsqlParameter<string>(name, NpgsqlDbType.Text) { TypedValue = value });
    }
}

/// <summary>The same for a statement that is a transaction by itself.</summary>
internal sealed class ActingAloneInterceptor(TimeProvider clock) : DbCommandInterceptor
{
    public override InterceptionResult<int> NonQueryExecuting(DbCommand command, CommandEventData eventData, InterceptionResult<int> result)
    {
        if (command.Transaction is null && eventData.CommandSource is CommandSource.ExecuteSqlRaw or CommandSource.ExecuteUpdate or CommandSource.ExecuteDelete)
            ActingInterceptor.Tell(command, clock);
        return result;
    }

    public override ValueTask<InterceptionResult<int>> NonQueryExecutingAsync(
        DbCommand command,
        CommandEventData eventData,
        InterceptionResult<int> result,
        CancellationToken cancellationToken = default
    ) => ValueTask.FromResult(NonQueryExecuting(command, eventData, result));
}
