using DapperLantern.App.Data;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.Tests.Shared;

/// <summary>Contexts over connections that tests and measurements opened themselves.</summary>
internal static class Databases
{
    /// <summary>A context on the connection and its transaction; the connection stays the caller's.</summary>
    public static LanternDb Over(this NpgsqlConnection connection) => new(new DbContextOptionsBuilder<LanternDb>().UseNpgsql(connection).UseSnakeCaseNamingConvention().Options);

    /// <summary>A service of a scope of its own, with the set-up as it is now.</summary>
    public static T Scoped<T>(this IServiceProvider services)
        where T : notnull => services.CreateScope().ServiceProvider.GetRequiredService<T>();
}
