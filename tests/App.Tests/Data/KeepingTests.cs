using System.Diagnostics;
using Dapper;
using Npgsql;

namespace DapperLantern.App.Tests.Data;

/// <summary>What keeps the data safe besides us: the server's upkeep, and a backup by PostgreSQL's own tools.</summary>
public sealed class KeepingTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private static readonly string[] All = ["lead", "story_entry", "contact", "account", "deal", "match_key", "lead_event", "edition", "consent", "campaign_response"];

    [Fact]
    public async Task TheServersUpkeepReachesEveryTable()
    {
        // As autovacuum does it: nothing is found by its bare name.
        await using var connection = await fixture.Server.Connect();
        var before = await Looked(connection);
        await connection.ExecuteAsync("set search_path = ''");
        foreach (var table in await connection.QueryAsync<string>("select schemaname || '.' || quote_ident(relname) from pg_catalog.pg_stat_user_tables"))
            await connection.ExecuteAsync($"vacuum (analyze) {table}");
        (await Looked(connection)).ShouldBeGreaterThan(before);
        await connection.ExecuteAsync("reset search_path");
    }

    private static Task<long> Looked(NpgsqlConnection connection) => connection.ExecuteScalarAsync<long>("select sum(analyze_count)::bigint from pg_catalog.pg_stat_user_tables");

    [Fact]
    public async Task ABackupIsRestoredWhole()
    {
        var at = new NpgsqlConnectionStringBuilder(fixture.Server.ConnectionString);
        var (file, other) = (Path.GetTempFileName(), $"{at.Database}_again");
        try
        {
            await Run("pg_dump", at, "-Fc", "-f", file, at.Database!);
            await Run("createdb", at, other);
            await Run("pg_restore", at, "--exit-on-error", "-d", other, file);
        }
        finally
        {
            File.Delete(file);
        }
        at.Database = other;
        await using var restored = new NpgsqlConnection(at.ConnectionString);
        await using var ours = await fixture.Server.Connect();
        foreach (var table in All)
        {
            var count = $"select count(*)::int from {table}";
            (await restored.ExecuteScalarAsync<int>(count)).ShouldBe(await ours.ExecuteScalarAsync<int>(count), table);
        }
        const string Found =
            "select count(*)::int from story_entry where search_note(text) @@ 'trial'::tsquery and kind in ('note', 'call', 'call_missed', 'mail', 'message', 'meeting')";
        (await restored.ExecuteScalarAsync<int>(Found)).ShouldBe(await ours.ExecuteScalarAsync<int>(Found));
    }

    private static async Task Run(string tool, NpgsqlConnectionStringBuilder at, params string[] arguments)
    {
        var start = new ProcessStartInfo(tool, ["-h", at.Host!, "-p", $"{at.Port}", "-U", at.Username!, .. arguments]) { RedirectStandardError = true };
        start.Environment["PGPASSWORD"] = at.Password;
        using var process = Process.Start(start)!;
        var said = await process.StandardError.ReadToEndAsync();
        await process.WaitForExitAsync();
        process.ExitCode.ShouldBe(0, said);
    }
}
