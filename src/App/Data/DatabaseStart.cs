using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql;

namespace DapperLantern.App.Data;

/// <summary>From a database that may still be starting to one that this program can work with.</summary>
internal static class DatabaseStart
{
    // Of the migrations that were made one before anything was released.
    private const string FirstOfOld = "20261123141632_First";

    /// <summary>Waits until the database answers, also while it recovers; a wrong password or name is no matter of waiting, and is thrown.</summary>
    public static async Task Wait(NpgsqlDataSource source, ILogger log)
    {
        for (var pause = TimeSpan.FromMilliseconds(250); ; pause = pause * 2 < TimeSpan.FromSeconds(10) ? pause * 2 : TimeSpan.FromSeconds(10))
            try
            {
                await using var connection = await source.OpenConnectionAsync();
                return;
            }
            // 3D000: there is no such database yet; migrating makes it.
            catch (PostgresException e) when (e.SqlState == "3D000")
            {
                return;
            }
            catch (Exception e) when (Outage.IsOutage(e) && e is not PostgresException { SqlState: "28P01" or "28000" })
            {
                log.LogWarning("The database does not answer yet ({Problem}); it is asked again in {Seconds} s", e.Message, pause.TotalSeconds);
                await Task.Delay(pause);
            }
    }

    /// <summary>Brings the database up to date, as the role that owns it, and gives the one the program works as what it needs.</summary>
    /// <exception cref="InvalidOperationException">A newer program has changed it, or it is kept by another key.</exception>
    public static async Task Migrate(IServiceProvider services)
    {
        var (owning, working) = (Connections.Read(services, Connections.Owning), Connections.Read(services, Connections.Working));
        // Used now and then no more; an index over millions takes its time.
        (owning.Pooling, owning.CommandTimeout) = (false, 0);
        await using var source = NpgsqlDataSource.Create(owning);
        await using var db = new LanternDbFactory(source, services.GetRequiredService<TimeProvider>()).CreateDbContext();
        await Migrate(db.Database);
        await db.Database.OpenConnectionAsync();
        await DatabaseObjects.Apply(db);
        foreach (var capability in Capabilities.All)
            await capability.BringUp(db, services);
        if (owning.Username != working.Username)
            await Grant(db, working.Username!);
        await services.GetRequiredService<Secrets>().Check(db);
        await services.GetRequiredService<KeyWrapping>().WrapKept(db);
    }

    // Reading and writing rows, and nothing else: it can neither change nor drop a table, nor make the history of migrations another.
    private static async Task Grant(LanternDb db, string role)
    {
        var quoted = new NpgsqlCommandBuilder();
        var (to, database) = (quoted.QuoteIdentifier(role), quoted.QuoteIdentifier(db.Database.GetDbConnection().Database));
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.Run(
            $"""
            select pg_advisory_xact_lock(hashtext('lantern-grants'));
            revoke all on database {database:sql} from public;
            grant connect, temporary on database {database:sql} to {to:sql};
            grant usage on schema public to {to:sql};
            grant select, insert, update, delete on all tables in schema public to {to:sql};
            grant usage, select, update on all sequences in schema public to {to:sql};
            revoke insert, update, delete on "__EFMigrationsHistory" from {to:sql};
            """
        );
        foreach (var capability in Capabilities.All)
            await capability.Protect(db, to);
        await transaction.CommitAsync();
    }

    private static async Task Migrate(DatabaseFacade database)
    {
        // A database that has none yet would be asked for a table it does not have.
        var begun = await database.CanConnectAsync() && await database.GetService<IHistoryRepository>().ExistsAsync();
        var newer = begun ? (await database.GetAppliedMigrationsAsync()).Except(database.GetMigrations()).ToList() : [];
        if (newer.Contains(FirstOfOld))
            throw new InvalidOperationException(
                "The database is from before its tables got their present names, and cannot be carried over. Nothing was changed; ./lantern reset makes the demo's anew."
            );
        if (newer.Count > 0)
            throw new InvalidOperationException($"The database was brought to {newer[^1]} by a newer program than this one; start that one. Nothing was changed.");
        await database.MigrateAsync();
    }
}
