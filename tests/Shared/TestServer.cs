using DapperLantern.App;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Setup;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.Tests.Shared;

/// <summary>
/// A whole workspace on a real PostgreSQL: its own database, copied from one in which the demo was loaded once, and a real web server
/// on a port of its own. <c>LANTERN_TEST_SERVER</c> names the database server; <c>./lantern test</c> sets it.
/// </summary>
public sealed class TestServer : IAsyncDisposable
{
    private static readonly SemaphoreSlim Gate = new(1, 1);
    private static readonly string Run = Guid.NewGuid().ToString("N")[..8];
    private static bool _templateMade;

    private const string Owner = "lantern_owner";
    private const string Worker = "lantern_app";
    private const string RolePassword = "of-the-tests-alone";

    /// <summary>The key of every workspace of the tests.</summary>
    public const string Key = "b2YtdGhlLXRlc3RzLWFsb25lLTMyLWJ5dGVzLW9mLWE=";

    private readonly WebApplication _app;

    // Named when the database goes with the server.
    private string? _own;

    private TestServer(WebApplication app, string connection)
    {
        _app = app;
        ConnectionString = connection;
        Address = app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.SingleOrDefault() ?? "";
    }

    public string Address { get; }
    public string ConnectionString { get; }
    public IServiceProvider Services => _app.Services;

    public static string Root { get; } = FindRoot();

    private static string Server =>
        Environment.GetEnvironmentVariable("LANTERN_TEST_SERVER") ?? throw new InvalidOperationException("LANTERN_TEST_SERVER is not set; run ./lantern test");

    /// <summary>A fresh workspace with the demo company.</summary>
    /// <param name="settings">Configuration of its own, as --Key=Value.</param>
    public static async Task<TestServer> Start(params string[] settings)
    {
        var name = $"lantern_{Run}_{Guid.NewGuid():N}"[..40];
        await Gate.WaitAsync();
        try
        {
            if (!_templateMade)
                await MakeTemplate();
            _templateMade = true;
            await Execute("postgres", $"create database {name} template lantern_demo_{Run} owner {Owner}");
        }
        finally
        {
            Gate.Release();
        }
        var server = await Serve(name, settings);
        server._own = name;
        return server;
    }

    /// <summary>A workspace from a dump, brought up to date as it is served.</summary>
    /// <param name="sql">Without commands of psql.</param>
    public static async Task<TestServer> Restore(string sql, params string[] settings)
    {
        // Whoever restores is the owner of what comes; the roles are made with the template.
        await (await Start()).DisposeAsync();
        var name = $"lantern_{Run}_{Guid.NewGuid():N}"[..40];
        await Execute("postgres", $"create database {name} owner {Owner}");
        await using (var connection = new NpgsqlConnection($"{As(Owner, name)};Pooling=false;Command Timeout=300"))
        {
            await connection.OpenAsync();
            await using var command = new NpgsqlCommand(sql, connection);
            await command.ExecuteNonQueryAsync();
        }
        var server = await Serve(name, settings);
        server._own = name;
        return server;
    }

    /// <summary>A workspace with nothing in it: no demo, nobody, nothing set up.</summary>
    public static async Task<TestServer> StartEmpty(params string[] settings)
    {
        // The roles are made with the template.
        await (await Start()).DisposeAsync();
        var name = $"lantern_{Run}_{Guid.NewGuid():N}"[..40];
        await Execute("postgres", $"create database {name} owner {Owner}");
        var server = await Serve(name, ["--Demo:Enabled=false", .. settings]);
        server._own = name;
        return server;
    }

    /// <summary>A database of the owner's with nothing in it, and no server on it. Gives its name.</summary>
    public static async Task<string> MakeEmptyDatabase()
    {
        // The roles are made with the template.
        await (await Start()).DisposeAsync();
        var name = $"lantern_{Run}_{Guid.NewGuid():N}"[..40];
        await Execute("postgres", $"create database {name} owner {Owner}");
        return name;
    }

    public static Task DropDatabase(string name) => Execute("postgres", $"drop database {name} with (force)");

    /// <summary>A program that is not started, for its commands.</summary>
    public static TestServer Unserved(string database, params string[] settings) => new(Build(database, settings), ConnectionTo(database));

    /// <summary>Drops the database with this server.</summary>
    public void Owns(string database) => _own = database;

    /// <summary>A second process on the same database.</summary>
    public Task<TestServer> Beside(params string[] settings) => Serve(new NpgsqlConnectionStringBuilder(ConnectionString).Database!, settings);

    /// <summary>What a page of a form carries that was opened a minute ago.</summary>
    public string SealOfPage() =>
        Services
            .GetRequiredService<IDataProtectionProvider>()
            .CreateProtector("form-page")
            .Protect(DapperLantern.App.Data.Json.Write(new PageToken(DateTime.UtcNow.AddMinutes(-1), Guid.NewGuid(), new Sum(2, 3))));

    /// <summary>A connection as one who may do everything, which brings along what those of the server bring.</summary>
    public async Task<NpgsqlConnection> Connect()
    {
        var ofServer = new NpgsqlConnectionStringBuilder(Services.GetRequiredService<NpgsqlDataSource>().ConnectionString);
        var connection = new NpgsqlConnection(new NpgsqlConnectionStringBuilder(ConnectionString) { Options = ofServer.Options }.ConnectionString);
        await connection.OpenAsync();
        return connection;
    }

    /// <summary>The one value a statement gives.</summary>
    public async Task<T> Scalar<T>(string sql)
    {
        await using var connection = await Connect();
        await using var command = new NpgsqlCommand(sql, connection);
        return (T)Convert.ChangeType((await command.ExecuteScalarAsync())!, typeof(T), System.Globalization.CultureInfo.InvariantCulture);
    }

    /// <summary>Waits until what happened so far was heard by all listeners, such as the one that writes messages to us.</summary>
    public Task Heard() => Eventually.Holds(async () => await Scalar<bool>("select not exists (select 1 from due d join event_listener l on l.listener = d.kind)"));

    /// <summary>Somebody signed in.</summary>
    public async Task<TestClient> SignIn(string name)
    {
        var client = new TestClient(Address);
        await client.SignIn(name, SessionEndpoints.DemoPassword);
        return client;
    }

    public async ValueTask DisposeAsync()
    {
        await _app.StopAsync();
        await _app.DisposeAsync();
        // Each is a copy of the demo: hundreds of them would be written to disk for nothing.
        if (_own is not null)
            await Execute("postgres", $"drop database {_own} with (force)");
    }

    // The server works as a role that owns nothing, as it does where it is put to work; the tables are another's.
    private static async Task MakeTemplate()
    {
        await Execute(
            "postgres",
            $"""
            do $$ begin
              perform pg_advisory_xact_lock(71);
              if not exists (select from pg_roles where rolname = '{Owner}') then create role {Owner} login password '{RolePassword}'; end if;
              if not exists (select from pg_roles where rolname = '{Worker}') then create role {Worker} login password '{RolePassword}'; end if;
            end $$
            """
        );
        await Execute("postgres", $"create database lantern_demo_{Run} owner {Owner}");
        var app = Build($"lantern_demo_{Run}");
        await Program.Prepare(app);
        await app.DisposeAsync();
        NpgsqlConnection.ClearAllPools();
    }

    /// <summary>A process on a database that is there.</summary>
    public static async Task<TestServer> Serve(string database, params string[] settings)
    {
        var app = Build(database, settings);
        await Program.Prepare(app);
        await app.StartAsync();
        return new TestServer(app, ConnectionTo(database));
    }

    private static WebApplication Build(string database, params string[] settings) =>
        Program.Build([
            "--urls=http://127.0.0.1:0",
            $"--ConnectionStrings:Lantern={As(Worker, database)}",
            $"--ConnectionStrings:Migrations={As(Owner, database)}",
            $"--Secrets:Key={Key}",
            "--Demo:Enabled=true",
            $"--Demo:Folder={Path.Combine(Root, "demo")}",
            $"--Client:Folder={Path.Combine(Root, "src", "client", "dist")}",
            "--Serilog:MinimumLevel:Default=Warning",
            "--Forms:PostsPerMinute=100000",
            "--SignIn:PerMinute=100000",
            // Clocks that run out by the hour of the day are looked at when a test says so, not while another compares what stands.
            "--Clocks:LookSeconds=86400",
            // Work by the calendar is done when a test says so.
            "--Upkeep:Runs=false",
            // What a test writes by itself is seen at once.
            "--Desk:SharedSeconds=0",
            // What an answer says is not decided by how long it took.
            "--Patience=20",
            .. settings,
        ]);

    /// <summary>How one of the roles of the tests connects.</summary>
    public static string As(string role, string database) =>
        new NpgsqlConnectionStringBuilder(ConnectionTo(database)) { Username = role, Password = RolePassword }.ConnectionString;

    internal static string ConnectionTo(string database) => $"{Server};Database={database};Maximum Pool Size=20;Include Error Detail=true";

    private static async Task Execute(string database, string sql)
    {
        await using var connection = new NpgsqlConnection($"{Server};Database={database};Pooling=false");
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }

    private static string FindRoot()
    {
        var folder = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(folder, "DapperLantern.slnx")))
            folder = Path.GetDirectoryName(folder)!;
        return folder;
    }
}
