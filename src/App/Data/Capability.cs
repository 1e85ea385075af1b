using DapperLantern.App.Data.Records;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Data;

/// <summary>
/// A capability of the product registers itself: what it needs of the program stands in one file of its folder, and is found there. What a capability has none of, it leaves out.
/// </summary>
public interface ICapability
{
    /// <summary>Its services and background work.</summary>
    void AddServices(WebApplicationBuilder builder) { }

    /// <summary>Its addresses: those of signed-in people under <paramref name="api"/>, any other on the application.</summary>
    void MapEndpoints(WebApplication app, IEndpointRouteBuilder api) { }

    /// <summary>Its entities: tables, keys, indexes.</summary>
    void MapEntities(ModelBuilder model) { }

    /// <summary>Its tables with what their rows belong to.</summary>
    IReadOnlyList<RecordTable> Tables => [];

    /// <summary>Database functions that it generates, each with the name of the file it would be; the others are <c>.sql</c> files beside it.</summary>
    IReadOnlyList<(string Name, string Sql)> Objects => [];

    /// <summary>What it writes into the database beyond that at each start, as the role that owns it.</summary>
    /// <param name="services">Those of the program.</param>
    Task BringUp(LanternDb db, IServiceProvider services) => Task.CompletedTask;

    /// <summary>Takes from the role that the program works as what it must not do to its tables. In a transaction.</summary>
    /// <param name="role">Quoted.</param>
    Task Protect(LanternDb db, string role) => Task.CompletedTask;
}

/// <summary>All capabilities of this program.</summary>
public static class Capabilities
{
    public static IReadOnlyList<ICapability> All { get; } =
    [
        .. typeof(Capabilities)
            .Assembly.GetTypes()
            .Where(t => t.IsAssignableTo(typeof(ICapability)) && !t.IsInterface)
            .OrderBy(t => t.FullName, StringComparer.Ordinal)
            .Select(t => (ICapability)Activator.CreateInstance(t)!),
    ];

    /// <summary>Registers a worker that others ask for, too.</summary>
    internal static void AddWorker<TWorker>(this IServiceCollection services)
        where TWorker : class, IHostedService => services.AddSingleton<TWorker>().AddHostedService(s => s.GetRequiredService<TWorker>());
}
