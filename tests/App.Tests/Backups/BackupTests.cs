using System.Diagnostics;
using System.Net;
using DapperLantern.App.Backups;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.App.Tests.Backups;

/// <summary>Backups under load, tried, and put back into a fresh place.</summary>
public sealed class BackupTests : IAsyncLifetime
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lantern-backups").FullName;
    private string _trial = "";
    private TestServer _server = null!;

    public async ValueTask InitializeAsync()
    {
        _trial = await TestServer.MakeEmptyDatabase();
        _server = await TestServer.Start($"--Backup:Folder={_folder}", $"--Backup:Trial={_trial}", $"--Backup:Tools={Tools}", "--Backup:Keep=2");
    }

    public async ValueTask DisposeAsync()
    {
        await _server.DisposeAsync();
        await TestServer.DropDatabase(_trial);
        Directory.Delete(_folder, recursive: true);
    }

    // Of whichever server is installed; the newest can read them all.
    private static string Tools => Directory.GetDirectories("/usr/lib/postgresql").Select(d => Path.Combine(d, "bin")).Where(d => File.Exists(Path.Combine(d, "pg_dump"))).Max()!;

    private async Task<(int Code, string Said, string Error)> Command(TestServer server, params string[] args)
    {
        using StringWriter said = new(),
            errors = new();
        var code = await BackupCommand.Run(server.Services, args, said, errors);
        return (code, said.ToString(), errors.ToString());
    }

    [Fact]
    public async Task MadeWhilePeopleWorkItIsOfOneMomentAndRunsInAFreshPlace()
    {
        var ingrid = await _server.SignIn("ingrid.brekke");
        using var stop = new CancellationTokenSource();
        // Each lead is made with its tasks, keys and events in one act: half of one would show.
        var load = Task.Run(async () =>
        {
            var made = new List<Guid>();
            while (!stop.IsCancellationRequested)
                made.Add(await ingrid.MakeLead($"Underload{made.Count}", "NO"));
            return made;
        });
        await Eventually.Holds(async () => await _server.Scalar<int>("select count(*)::int from lead where last_name like 'Underload%'") > 3);
        var file = Path.Combine(_folder, "by-hand.tar");
        var (code, said, error) = await Command(_server, "backup", file);
        error.ShouldBe("");
        (code, said).ShouldSatisfyAllConditions(r => r.code.ShouldBe(0), r => said.ShouldContain("could be put back"));
        var during = await _server.Scalar<int>("select count(*)::int from lead where last_name like 'Underload%'");
        await stop.CancelAsync();
        var all = await load;
        all.Count.ShouldBeGreaterThan(3);
        if (!OperatingSystem.IsWindows())
            File.GetUnixFileMode(file).ShouldBe(UnixFileMode.UserRead | UnixFileMode.UserWrite);

        var place = await TestServer.MakeEmptyDatabase();
        await using var fresh = TestServer.Unserved(place, $"--Backup:Tools={Tools}");
        var restored = await Command(fresh, "restore", file);
        restored.Error.ShouldBe("");
        restored.Code.ShouldBe(0);
        await using var served = await TestServer.Serve(place);
        served.Owns(place);
        (await served.Scalar<int>("select count(*)::int from lead where last_name like 'Underload%'")).ShouldBeInRange(3, during);
        (
            await served.Scalar<int>(
                "select count(*)::int from lead l where last_name like 'Underload%' and owner_id is not null and not exists (select 1 from task t where t.lead_id = l.id)"
            )
        ).ShouldBe(0);
        var again = await served.SignIn("ingrid.brekke");
        (await again.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.OK);
        (await again.MakeLead("Afterwards", "NO")).ShouldNotBe(Guid.Empty);
        // It is put over nothing.
        (await Command(fresh, "restore", file)).Error.ShouldContain("There is data in this place already");
    }

    [Fact]
    public async Task TheAdministratorSeesTheLastOneAndItsTrial()
    {
        var samir = await _server.SignIn("samir.haddow");
        var before = await samir.Read<BackupsView>("/api/setup/backups");
        (before.IsOn, before.IsTried, before.Last, before.Files.Count).ShouldBe((true, true, null, 0));
        for (var i = 1; i <= 3; i++)
        {
            (await samir.Post("/api/setup/backups")).Read<BackupsView>().IsMaking.ShouldBeTrue();
            await Eventually.Holds(async () =>
                (await samir.Read<BackupsView>("/api/setup/backups")) is { IsMaking: false, Last: not null } now && now.Files.Count >= Math.Min(i, 2)
            );
            await Task.Delay(1100);
        }
        var after = await samir.Read<BackupsView>("/api/setup/backups");
        after.Last!.Problem.ShouldBeNull();
        after.Last.Tables!.Value.ShouldBeGreaterThan(50);
        after.Good.ShouldBe(after.Last);
        after.Files.Count.ShouldBe(2);
        var ingrid = await _server.SignIn("ingrid.brekke");
        (await ingrid.Get("/api/setup/backups")).Status.ShouldBe(HttpStatusCode.Forbidden);
    }

    [Fact]
    public async Task OneThatCannotBeMadeOrTriedIsTold()
    {
        await using var broken = await TestServer.Start($"--Backup:Folder={_folder}", "--Backup:Tools=/nowhere");
        var keeper = broken.Services.GetRequiredService<BackupKeeper>();
        await keeper.Make(default);
        var samir = await broken.SignIn("samir.haddow");
        var view = await samir.Read<BackupsView>("/api/setup/backups");
        view.Last!.Problem!.ShouldContain("cannot be run");
        view.Good.ShouldBeNull();
        Directory.EnumerateFiles(_folder).ShouldBeEmpty();
        Worker.Failing.ShouldContainKey("backup");
        Worker.Failing.TryRemove("backup", out _);
        await using var without = await TestServer.Start($"--Backup:Folder={_folder}", $"--Backup:Tools={Tools}", "--Backup:Trial=no_such_database");
        await without.Services.GetRequiredService<BackupKeeper>().Make(default);
        (await (await without.SignIn("samir.haddow")).Read<BackupsView>("/api/setup/backups")).Last!.Problem!.ShouldStartWith("It was made, and could not be tried");
        // Tools that an upgrade of the database left behind.
        var tools = Directory.CreateDirectory(Path.Combine(_folder, "tools")).FullName;
        await Scripts.Make(Path.Combine(tools, "pg_dump"), "echo 'pg_dump: error: aborting because of server version mismatch' >&2\nexit 1");
        await using var old = await TestServer.Start($"--Backup:Folder={_folder}", $"--Backup:Tools={tools}");
        await old.Services.GetRequiredService<BackupKeeper>().Make(default);
        (await (await old.SignIn("samir.haddow")).Read<BackupsView>("/api/setup/backups")).Last!.Problem!.ShouldContain("pg_dump is of an older version than the database server");
        Worker.Failing.TryRemove("backup", out _);
    }

    [Fact]
    public async Task AFileThatIsNoneOrNotWholeChangesNothing()
    {
        var place = await TestServer.MakeEmptyDatabase();
        await using var fresh = TestServer.Unserved(place, $"--Backup:Tools={Tools}");
        async Task Refused(byte[] content, string says)
        {
            var file = Path.Combine(_folder, "given.tar");
            await File.WriteAllBytesAsync(file, content);
            var (code, _, error) = await Command(fresh, "restore", file);
            (code, error).ShouldSatisfyAllConditions(r => r.code.ShouldBe(1), r => error.ShouldContain(says));
        }
        await Refused("no archive"u8.ToArray(), "no backup of ours");
        (await Command(fresh, "restore", Path.Combine(_folder, "nowhere.tar"))).Error.ShouldContain("There is no file");
        (await Command(fresh, "restore")).Code.ShouldBe(2);
        var good = Path.Combine(_folder, "good.tar");
        (await Command(_server, "backup", good)).Code.ShouldBe(0);
        var bytes = await File.ReadAllBytesAsync(good);
        await Refused(bytes[..(bytes.Length / 2)], "not whole");
        // One byte of the dump is another.
        bytes[^20_000] ^= 0x55;
        await Refused(bytes, "");
        await using var connection = new NpgsqlConnection(TestServer.ConnectionTo(place));
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand("select count(*) from pg_class where relkind = 'r' and relnamespace = 'public'::regnamespace", connection);
        (await command.ExecuteScalarAsync()).ShouldBe(0L);
        await TestServer.DropDatabase(place);
    }
}
