using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Data;

/// <summary>Opens contexts where no request brings one: for background work, and for a second connection beside the caller's.</summary>
public sealed class LanternDbFactory(NpgsqlDataSource source, TimeProvider clock) : IDbContextFactory<LanternDb>
{
    private readonly DbContextOptions<LanternDb> _options = LanternDb.On(new DbContextOptionsBuilder<LanternDb>(), source, clock, alone: false).Options;

    public LanternDb CreateDbContext() => new(_options);

    /// <summary>A context whose connection is open until the context is disposed of, so that settings and locks of the session last as long.</summary>
    public async Task<LanternDb> Open(CancellationToken cancel = default)
    {
        var db = CreateDbContext();
        try
        {
            await db.Database.OpenConnectionAsync(cancel);
            return db;
        }
        catch
        {
            await db.DisposeAsync();
            throw;
        }
    }
}
