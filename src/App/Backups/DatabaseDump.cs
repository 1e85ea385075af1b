using System.Data;
using System.Diagnostics;
using System.Globalization;
using DapperLantern.App.Data;
using Npgsql;

namespace DapperLantern.App.Backups;

/// <summary>Dumps a database and puts a dump into another, by the tools of PostgreSQL.</summary>
/// <param name="tools">The folder of pg_dump and pg_restore; null where they are found without.</param>
internal sealed class DatabaseDump(string? tools)
{
    /// <summary>Dumps what the database held at one moment, whoever writes meanwhile.</summary>
    /// <returns>The last migration, and the rows by table at that moment.</returns>
    /// <exception cref="BackupException">It could not be dumped.</exception>
    public async Task<(string Migration, IReadOnlyDictionary<string, long> Rows)> Write(NpgsqlConnectionStringBuilder from, string file, CancellationToken cancel)
    {
        await using var connection = new NpgsqlConnection(Alone(from));
        await connection.OpenAsync(cancel);
        await using var transaction = await connection.BeginTransactionAsync(IsolationLevel.RepeatableRead, cancel);
        var snapshot = (string)(await One(connection, "select pg_export_snapshot()", cancel))!;
        var migration = (string)(await One(connection, "select max(migration_id) from \"__EFMigrationsHistory\"", cancel))!;
        await Run("pg_dump", from, cancel, "--format=custom", "--no-owner", "--no-acl", $"--snapshot={snapshot}", $"--file={file}");
        return (migration, await Count(connection, cancel));
    }

    /// <summary>Puts a dump into an empty database.</summary>
    /// <exception cref="BackupException">It could not be put there.</exception>
    public Task Read(NpgsqlConnectionStringBuilder into, string file, CancellationToken cancel) =>
        Run("pg_restore", into, cancel, "--no-owner", "--no-acl", "--exit-on-error", "--single-transaction", file);

    /// <summary>Rows by table.</summary>
    public static async Task<IReadOnlyDictionary<string, long>> Count(NpgsqlConnectionStringBuilder of, CancellationToken cancel)
    {
        await using var connection = new NpgsqlConnection(Alone(of));
        await connection.OpenAsync(cancel);
        return await Count(connection, cancel);
    }

    /// <summary>Empties a database of all that is in it.</summary>
    public static async Task Empty(NpgsqlConnectionStringBuilder database, CancellationToken cancel)
    {
        await using var connection = new NpgsqlConnection(Alone(database));
        await connection.OpenAsync(cancel);
        await One(connection, "drop schema public cascade; create schema public; select 1", cancel);
    }

    /// <summary>Bytes of a database; and whether it holds any table.</summary>
    public static async Task<(long Bytes, bool HasTables)> Look(NpgsqlConnectionStringBuilder database, CancellationToken cancel)
    {
        await using var connection = new NpgsqlConnection(Alone(database));
        await connection.OpenAsync(cancel);
        return (
            (long)(await One(connection, "select pg_database_size(current_database())", cancel))!,
            (bool)(await One(connection, "select exists (select 1 from pg_class where relkind = 'r' and relnamespace = 'public'::regnamespace)", cancel))!
        );
    }

    private static async Task<IReadOnlyDictionary<string, long>> Count(NpgsqlConnection connection, CancellationToken cancel)
    {
        var rows = new Dictionary<string, long>();
        foreach (var table in await Tables(connection, cancel))
            rows[table] = (long)(await One(connection, $"select count(*) from {new NpgsqlCommandBuilder().QuoteIdentifier(table)}", cancel))!;
        return rows;
    }

    private static async Task<List<string>> Tables(NpgsqlConnection connection, CancellationToken cancel)
    {
        await using var command = new NpgsqlCommand("select relname::text from pg_class where relkind = 'r' and relnamespace = 'public'::regnamespace order by 1", connection);
        await using var reader = await command.ExecuteReaderAsync(cancel);
        var tables = new List<string>();
        while (await reader.ReadAsync(cancel))
            tables.Add(reader.GetString(0));
        return tables;
    }

    private static async Task<object?> One(NpgsqlConnection connection, string sql, CancellationToken cancel)
    {
        await using var command = new NpgsqlCommand(sql, connection) { CommandTimeout = 0 };
        return await command.ExecuteScalarAsync(cancel);
    }

    private static string Alone(NpgsqlConnectionStringBuilder of) => new NpgsqlConnectionStringBuilder(of.ConnectionString) { Pooling = false }.ConnectionString;

    private async Task Run(string tool, NpgsqlConnectionStringBuilder on, CancellationToken cancel, params string[] arguments)
    {
        var path = tools is { Length: > 0 } ? Path.Combine(tools, tool) : tool;
        var start = new ProcessStartInfo(path) { RedirectStandardError = true };
        foreach (var argument in (string[])[$"--host={on.Host}", $"--port={on.Port.ToString(CultureInfo.InvariantCulture)}", $"--username={on.Username}", $"--dbname={on.Database}", "--no-password", .. arguments])
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
            if (process.ExitCode != 0)
                throw new BackupException($"{tool}: {said.Trim().Split('\n')[0]}");
        }
        catch (System.ComponentModel.Win32Exception e)
        {
            throw new BackupException($"{path} cannot be run ({e.Message}). It comes with PostgreSQL; Backup:Tools says where it lies.");
        }
    }
}
