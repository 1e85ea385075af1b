using DapperLantern.App.Data;
using DapperLantern.Core.Rights;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Rights;

/// <summary>A role of the company's own, or a shipped one that was changed.</summary>
public sealed class RoleRow
{
    public string Key { get; set; } = "";

    /// <summary>The <see cref="RoleDefinition"/> as JSON.</summary>
    public string Body { get; set; } = "";

    public int Version { get; set; } = 1;
    public DateTime ChangedAt { get; set; }

    internal static async Task<RoleBook> Load(LanternDb db) => new(await db.Set<RoleRow>().AsNoTracking().OrderBy(r => r.Key).ToListAsync());
}

/// <summary>A role as it holds now.</summary>
/// <param name="Version">Row version; 0 for a shipped role that was never changed.</param>
public sealed record HeldRole(RoleDefinition Definition, int Version);
