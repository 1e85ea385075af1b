using DapperLantern.App.Intake;
using DapperLantern.App.Leads.Bulk;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Data;

/// <summary>The connections of a process: most for what people do, and a few that keep the plans of what is done over and over.</summary>
internal static class Connections
{
    // Two processes with their few planned connections fit into a server's hundred, as it comes; Maximum Pool Size in the connection string says otherwise. A caller that finds none free waits.
    private const int Most = 40;

    /// <summary>Registers the data sources and what stands on them. Configuration: <c>ConnectionStrings:Lantern</c>.</summary>
    public static void AddData(this IServiceCollection services)
    {
        services.AddSingleton(s => NpgsqlDataSource.Create(Read(s)));
        // What comes in by itself is written by the same few statements all day. One plan for all: each looks up a few by their keys, and thinking of a better one would take longer than doing it.
        AddPlanned(services, Capturing.Source, " -c plan_cache_mode=force_generic_plan");
        // So does what is done to many, a few statements for each of thousands.
        AddPlanned(services, BulkRunner.Source, "");
        services.AddDbContext<LanternDb>((s, o) => o.UseNpgsql(s.GetRequiredService<NpgsqlDataSource>()).UseSnakeCaseNamingConvention());
        services.AddDataProtection().SetApplicationName("dapper-lantern").PersistKeysToDbContext<LanternDb>();
        services.AddSingleton(TimeProvider.System);
    }

    // A few connections that keep the plans of their statements.
    private static void AddPlanned(IServiceCollection services, string name, string options) =>
        services.AddKeyedSingleton(
            name,
            (s, _) =>
            {
                var connection = Read(s);
                (connection.MaxAutoPrepare, connection.AutoPrepareMinUsages, connection.MaxPoolSize) = (100, 2, 2);
                connection.Options += options;
                return NpgsqlDataSource.Create(connection);
            }
        );

    private static NpgsqlConnectionStringBuilder Read(IServiceProvider services)
    {
        var connection = new NpgsqlConnectionStringBuilder(
            services.GetRequiredService<IConfiguration>().GetConnectionString("Lantern") ?? throw new InvalidOperationException("ConnectionStrings:Lantern is not set")
        )
        {
            // Compiling a statement costs more than the short ones we ask take.
            Options = "-c jit=off",
        };
        // Waiting longer for a connection, or for an answer of a dead one, is worse than being told.
        if (!connection.ShouldSerialize("Timeout"))
            connection.Timeout = 3;
        if (!connection.ShouldSerialize("Keepalive"))
            (connection.KeepAlive, connection.TcpKeepAlive, connection.TcpKeepAliveTime, connection.TcpKeepAliveInterval) = (10, true, 10, 3);
        if (!connection.ShouldSerialize("Maximum Pool Size"))
            connection.MaxPoolSize = Most;
        return connection;
    }
}
