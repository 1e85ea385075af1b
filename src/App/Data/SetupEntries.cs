using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Data;

/// <summary>What the program remembers between starts, by key, in the table <c>setup_entry</c>.</summary>
public static class SetupEntries
{
    /// <summary>Reads an entry; null when there is none.</summary>
    /// <exception cref="System.Text.Json.JsonException">It does not have the form of <typeparamref name="T"/>.</exception>
    public static async Task<T?> Read<T>(LanternDb db, string key)
        where T : class => await db.Set<SetupEntry>().Where(x => x.Key == key).Select(x => x.Body).SingleOrDefaultAsync() is { } body ? Json.Read<T>(body) : null;

    /// <summary>Writes an entry, in place of the one there was.</summary>
    /// <param name="body">JSON.</param>
    public static Task Save(LanternDb db, string key, string body) =>
        db.Run($"insert into setup_entry (key, body) values ({key}, {body}::jsonb) on conflict (key) do update set body = excluded.body");
}
