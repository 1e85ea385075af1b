using System.Data;
using System.Diagnostics;
using System.Globalization;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Backups;

/// <summary>Dumps a database and puts a dump into another, by the tools of PostgreSQL.</summary>
/// <param name="tools">The folder of pg_dump and pg_restore; null where they are found without.</param>
internal sealed class DatabaseDump(string? tools, TimeProvider clock)
{
    /// <summary>Dumps what the database held at one moment, whoever writes meanwhile.</summary>
    /// <returns>The last migration, and the rows by table at that moment.</returns>
    /// <exception cref="BackupException">It could not be dumped.</exception>
    public async Task<(string Migration, IReadOnlyDictionary<string, long> Rows)> Write(NpgsqlConnectionStringBuilder from, string file, CancellationToken cancel)
    {
        await using var source = Alone(from);
        await using var db = await Open(source, cancel);
        await using var transaction = await db.Database.BeginTransactionAsync(IsolationLevel.RepeatableRead, cancel);
        var snapshot = await db.One<string>($"""select pg_export_snapshot() as "Value" """, cancel);
        var migration = (await db.Database.GetAppliedMigrationsAsync(cancel)).Last();
        await Run("pg_dump", from, cancel, "--format=custom", "--no-owner", "--no-acl", $"--snapshot={snapshot}", $"--file={file}");
        return (migration, await Count(db, cancel));
    }

    /// <summary>Puts a dump into an empty database.</summary>
    /// <exception cref="BackupException">It could not be put there.</exception>
    public Task Read(NpgsqlConnectionStringBuilder into, string file, CancellationToken cancel) =>
        Run("pg_restore", into, cancel, "--no-owner", "--no-acl", "--exit-on-error", "--single-transaction", file);

    /// <summary>Rows by table.</summary>
    public async Task<IReadOnlyDictionary<string, long>> Count(NpgsqlConnectionStringBuilder of, CancellationToken cancel)
    {
        await using var source = Alone(of);
        await using var db = await Open(source, cancel);
        return await Count(db, cancel);
    }

    /// <summary>Empties a database of all that is in it.</summary>
    public async Task Empty(NpgsqlConnectionStringBuilder database, CancellationToken cancel)
    {
        await using var source = Alone(database);
        await using var db = await Open(source, cancel);
        await db.Run($"drop schema public cascade; create schema public", cancel);
    }

    /// <summary>Bytes of a database; and whether it holds any table.</summary>
    public async Task<(long Bytes, bool HasTables)> Look(NpgsqlConnectionStringBuilder database, CancellationToken cancel)
    {
        await using var source = Alone(database);
        await using var db = await Open(source, cancel);
        return (
            await db.One<long>($"""select pg_database_size(current_database()) as "Value" """, cancel),
            await db.One<bool>($"""select exists (select 1 from pg_class where relkind = 'r' and relnamespace = 'public'::regnamespace) as "Value" """, cancel)
        );
    }

    private static async Task<IReadOnlyDictionary<string, long>> Count(LanternDb db, CancellationToken cancel)
    {
        var tables = await db.Rows<string>(
            $"""select quote_ident(relname) as "Value" from pg_class where relkind = 'r' and relnamespace = 'public'::regnamespace order by 1""",
            cancel
        );
        var rows = new Dictionary<string, long>();
        foreach (var table in tables)
            rows[table] = await db.One<long>($"""select count(*) as "Value" from {table:sql} {RecordScope.Unscoped("how many rows a backup holds"):sql}""", cancel);
        return rows;
    }

    private static NpgsqlDataSource Alone(NpgsqlConnectionStringBuilder of) =>
        NpgsqlDataSource.Create(new NpgsqlConnectionStringBuilder(of.ConnectionString) { Pooling = false, CommandTimeout = 0 });

    private Task<LanternDb> Open(NpgsqlDataSource source, CancellationToken cancel) => new LanternDbFactory(source, clock).Open(cancel);

    private async Task Run(string tool, NpgsqlConnectionStringBuilder on, CancellationToken cancel, params string[] arguments)
    {
        var path = tools is null ? tool : Path.Combine(tools, tool);
        var start = new ProcessStartInfo(path) { RedirectStandardError = true };
        foreach (
            var argument in (string[])
                [
                    $"--host={on.Host}",
                    $"--port={on.Port.ToString(CultureInfo.InvariantCulture)}",
                    $"--username={on.Username}",
                    $"--dbname={on.Database}",
                    "--no-password",
                    .. arguments,
                ]
        )
            start.ArgumentList.Add(argument);
        // Neither is seen in the list of processes.
        (start.Environment["PGPASSWORD"], start.Environment["PGOPTIONS"]) = (on.Password, on.Options);
        try
        {
            using var process = Process.Start(start) ?? throw new BackupException($"{tool} did not start.");
            await using var stopping = cancel.Register(() => process.Kill());
            var said = await process.StandardError.ReadToEndAsync(CancellationToken.None);
            await process.WaitForExitAsync(CancellationToken.None);
            cancel.ThrowIfCancellationRequested();
            if (said.Contains("server version mismatch", StringComparison.Ordinal))
                throw new BackupException($"{tool} is of an older version than the database server. Backup:Tools says where the tools of its version lie.");
            if (process.ExitCode != 0)
                throw new BackupException($"{tool}: {said.Trim().Split('\n')[0]}");
        }
        catch (System.ComponentModel.Win32Exception e)
        {
            throw new BackupException($"{path} cannot be run ({e.Message}). It comes with PostgreSQL; Backup:Tools says where it lies.");
        }
    }
}
