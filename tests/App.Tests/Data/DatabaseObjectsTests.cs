using System.Text.RegularExpressions;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.Tests.Shared;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;
using Shouldly;
using Xunit;

namespace DapperLantern.App.Tests.Data;

/// <summary>The database has the functions, triggers and indexes that the files name, and no others.</summary>
public sealed partial class DatabaseObjectsTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private TestServer Server => fixture.Server;
    private static string Sql => string.Join('\n', DatabaseObjects.Files.Select(f => f.Sql));

    [Fact]
    public async Task TheDatabaseHasTheFunctionsOfTheFilesAndNoOthers() =>
        (
            await Names(
                """
                select p.proname from pg_proc p where p.pronamespace = 'public'::regnamespace
                  and not exists (select 1 from pg_depend d where d.classid = 'pg_proc'::regclass and d.objid = p.oid and d.deptype = 'e')
                """
            )
        ).ShouldBe(Function().Matches(Sql).Select(m => m.Groups[1].Value).Order(StringComparer.Ordinal));

    [Fact]
    public void TheModelIsWhatTheMigrationsMake()
    {
        using var scope = Server.Services.CreateScope();
        scope.ServiceProvider.GetRequiredService<LanternDb>().Database.HasPendingModelChanges().ShouldBeFalse("run ./lantern migration NAME");
    }

    [Fact]
    public async Task TheDatabaseHasTheTriggersOfTheFilesAndNoOthers() =>
        (await Names("select tgname || ' on ' || tgrelid::regclass from pg_trigger where not tgisinternal and tgparentid = 0")).ShouldBe(
            Trigger().Matches(Sql).Select(m => $"{m.Groups[1].Value} on {m.Groups[2].Value}").Order(StringComparer.Ordinal)
        );

    [Fact]
    public async Task EachIndexAndConstraintOfTheFilesIsThere()
    {
        var there = (await Names("select relname::text from pg_class where relkind = 'i' and relnamespace = 'public'::regnamespace")).ToHashSet();
        var named = Index().Matches(Sql).Select(m => m.Groups[1].Value).ToList();
        named.Count.ShouldBeGreaterThan(10);
        named.Where(n => !there.Contains(n)).ShouldBeEmpty();
        there.ShouldContain("one_place_at_a_time");
    }

    [Fact]
    public async Task AnAlteredFunctionIsMendedByTheNextApplicationOfTheFiles()
    {
        await using var connection = new NpgsqlConnection(Server.ConnectionString);
        await connection.OpenAsync();
        const string body = "select prosrc from pg_proc where proname = 'task_changed'";
        var before = await connection.QuerySingleAsync<string>(body);
        var applied = await connection.QuerySingleAsync<string>("select obj_description('public'::regnamespace, 'pg_namespace')");
        await connection.ExecuteAsync("create or replace function task_changed() returns trigger language plpgsql as 'begin return new; end'; comment on schema public is 'older'");
        await DatabaseObjects.Apply(connection.Over());
        (await connection.QuerySingleAsync<string>(body)).ShouldBe(before);
        (await connection.QuerySingleAsync<string>("select obj_description('public'::regnamespace, 'pg_namespace')")).ShouldBe(applied);
    }

    private async Task<List<string>> Names(string sql)
    {
        await using var connection = await Server.Connect();
        return [.. (await connection.QueryAsync<string>(sql)).Order(StringComparer.Ordinal)];
    }

    [GeneratedRegex(@"create or replace function (\w+)")]
    private static partial Regex Function();

    [GeneratedRegex(@"create or replace trigger (\w+) [^;]*? on (\w+)")]
    private static partial Regex Trigger();

    [GeneratedRegex(@"create (?:unique )?index if not exists (\w+)")]
    private static partial Regex Index();
}
