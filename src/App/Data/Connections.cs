using DapperLantern.App.Setup;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.DataProtection.KeyManagement;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Data;

/// <summary>The connections of a process: most for what people do, and a few that keep the plans of what is done over and over.</summary>
internal static class Connections
{
    // Two processes with their few planned connections fit into a server's hundred, as it comes; Maximum Pool Size in the connection string says otherwise. A caller that finds none free waits.
    private const int Most = 40;

    /// <summary>Name of the connection string of the role the program works as: it owns nothing.</summary>
    public const string Working = "Lantern";

    /// <summary>Name of the connection string of the role that owns the tables and changes them when the program is a newer one; without it the working one does.</summary>
    public const string Owning = "Migrations";

    /// <summary>Registers the data sources and what stands on them. Configuration: <c>ConnectionStrings:Lantern</c>, <c>Secrets:Key</c>.</summary>
    public static void AddData(this IServiceCollection services)
    {
        // Planned each time, for its values.
        services.AddSingleton(s => NpgsqlDataSource.Create(Prepared(Read(s, Working), "force_custom_plan")));
        // The options are the same for all, and dear to make.
        services.AddDbContext<LanternDb>(
            (s, o) => LanternDb.On(o, s.GetRequiredService<NpgsqlDataSource>(), s.GetRequiredService<TimeProvider>(), alone: true),
            optionsLifetime: ServiceLifetime.Singleton
        );
        services.AddScoped<ReadTerms>();
        services.AddScoped(s => s.GetRequiredService<ReadTerms>().Open(s.GetRequiredService<DbContextOptions<LanternDb>>()));
        services.AddSingleton<LanternDbFactory>();
        services.AddSingleton(s => Secrets.Of(s.GetRequiredService<IConfiguration>()));
        services.AddSingleton(s => new PersonHash(PersonKey(s)));
        services.AddSingleton<KeyWrapping>();
        services.AddDataProtection().SetApplicationName("dapper-lantern").PersistKeysToDbContext<LanternDb>();
        services.AddOptions<KeyManagementOptions>().Configure<KeyWrapping>((o, wrapping) => o.XmlEncryptor = wrapping);
        services.AddSingleton(TimeProvider.System);
        services.AddSingleton<Patience>();
    }

    // A statement that a connection is given again and again is read once.
    private static NpgsqlConnectionStringBuilder Prepared(NpgsqlConnectionStringBuilder connection, string plans)
    {
        connection.MaxAutoPrepare = 100;
        connection.Options += $" -c plan_cache_mode={plans}";
        return connection;
    }

    /// <summary>Registers, by a name, a few connections of their own that keep the plans of their statements.</summary>
    /// <param name="onePlan">True for one plan for all values: where each statement looks up a few rows by their keys, thinking of a better one would take longer than doing it.</param>
    internal static void AddPlanned(this IServiceCollection services, string name, bool onePlan, int most = 2) =>
        services.AddKeyedSingleton(
            name,
            (s, _) =>
            {
                var connection = Prepared(Read(s, Working), onePlan ? "force_generic_plan" : "auto");
                (connection.AutoPrepareMinUsages, connection.MaxPoolSize) = (2, most);
                return new LanternDbFactory(NpgsqlDataSource.Create(connection), s.GetRequiredService<TimeProvider>());
            }
        );

    /// <summary>How the scheduler connects: few connections of its own, as the role that works.</summary>
    /// <exception cref="InvalidOperationException">It is not set.</exception>
    public static string ForScheduler(IConfiguration configuration) =>
        new NpgsqlConnectionStringBuilder(configuration.GetConnectionString(Working) ?? throw new InvalidOperationException($"ConnectionStrings:{Working} is not set"))
        {
            MaxPoolSize = 4,
            ApplicationName = "lantern-scheduler",
        }.ConnectionString;

    private static byte[] PersonKey(IServiceProvider services) => services.GetRequiredService<Secrets>().For("person-hash");

    /// <summary>How a role connects.</summary>
    /// <exception cref="InvalidOperationException">It is not set.</exception>
    public static NpgsqlConnectionStringBuilder Read(IServiceProvider services, string name)
    {
        var configuration = services.GetRequiredService<IConfiguration>();
        var connection = new NpgsqlConnectionStringBuilder(
            configuration.GetConnectionString(name) ?? configuration.GetConnectionString(Working) ?? throw new InvalidOperationException($"ConnectionStrings:{Working} is not set")
        )
        {
            // Compiling a statement costs more than the short ones we ask take. The key of hashes lies nowhere in the database; a connection brings it along.
            Options = $"-c jit=off -c {PersonHash.Setting}={Convert.ToHexString(PersonKey(services))}",
        };
        // Waiting longer for a connection, or for an answer of a dead one, is worse than being told.
        if (!connection.ShouldSerialize("Timeout"))
            connection.Timeout = (int)Math.Ceiling(services.GetRequiredService<Patience>().For(TimeSpan.FromSeconds(3)).TotalSeconds);
        if (!connection.ShouldSerialize("Keepalive"))
            (connection.KeepAlive, connection.TcpKeepAlive, connection.TcpKeepAliveTime, connection.TcpKeepAliveInterval) = (10, true, 10, 3);
        if (!connection.ShouldSerialize("Maximum Pool Size"))
            connection.MaxPoolSize = Most;
        return connection;
    }
}
