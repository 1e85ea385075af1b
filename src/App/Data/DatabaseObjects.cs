using System.Security.Cryptography;
using System.Text;
using Npgsql;

namespace DapperLantern.App.Data;

/// <summary>
/// Functions, triggers, and those indexes and constraints that the model of Entity Framework Core cannot express. They stand in files beside the capability they belong to
/// (<c>*.sql</c>), each statement such that it can be run again. They are applied after the migrations, when a file has changed since.
/// </summary>
/// <remarks>What a file no longer names is dropped by the migration that comes with the change.</remarks>
internal static class DatabaseObjects
{
    private const string Prefix = "sql/";
    private const int MostTries = 20;

    /// <summary>All files, extensions first, else by path; and the functions that C# generates.</summary>
    public static IReadOnlyList<(string Name, string Sql)> Files { get; } =
    [
        .. typeof(DatabaseObjects)
            .Assembly.GetManifestResourceNames()
            .Where(n => n.StartsWith(Prefix, StringComparison.Ordinal))
            .OrderBy(n => n != $"{Prefix}Data/extensions.sql")
            .ThenBy(n => n, StringComparer.Ordinal)
            .Select(n => (n[Prefix.Length..], Read(n))),
        .. Capabilities.All.SelectMany(c => c.Objects),
    ];

    /// <summary>Brings the database to the files, in one transaction. A second process that starts at the same moment waits for the first.</summary>
    public static async Task Apply(LanternDb db)
    {
        // Triggers are made under a lock of their table; a process that works on several tables meanwhile may wait for this one, and this one for it.
        for (var tries = 1; ; tries++)
            try
            {
                await ApplyOnce(db);
                return;
            }
            catch (PostgresException e) when (e.SqlState == PostgresErrorCodes.DeadlockDetected && tries < MostTries) { }
    }

    private static async Task ApplyOnce(LanternDb db)
    {
        var wanted = Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\n', Files.Select(f => f.Sql)))));
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.LockUntilEnd("lantern-objects");
        if (await db.Row<string?>($"""select obj_description('public'::regnamespace, 'pg_namespace') as "Value" """) == wanted)
            return;
        foreach (var (_, sql) in Files)
            await db.Run($"{sql:sql}");
        await db.Run($"comment on schema public is '{wanted:sql}'");
        await transaction.CommitAsync();
    }

    private static string Read(string resource)
    {
        using var stream = typeof(DatabaseObjects).Assembly.GetManifestResourceStream(resource)!;
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    }
}
