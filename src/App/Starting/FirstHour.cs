using DapperLantern.App.Data;

namespace DapperLantern.App.Starting;

/// <summary>Keys of what a starting set made.</summary>
public sealed record MadeBySet(IReadOnlyList<string> Sources, IReadOnlyList<string> Forms, IReadOnlyList<string> Tags);

/// <summary>How far a company has come in its first hour, beside what its records say.</summary>
/// <param name="Ended">True once an administrator has ended it.</param>
/// <param name="Left">Steps that were left for later.</param>
/// <param name="Ways">Keys of <see cref="Starting.Ways"/>; null before it was said.</param>
/// <param name="Set">Key of the starting set that was put in place; null for none.</param>
/// <param name="Teams">Teams that the set made.</param>
public sealed record FirstHour(bool Ended, IReadOnlyList<string> Left, IReadOnlyList<string>? Ways, string? Set, IReadOnlyList<string> Teams)
{
    /// <summary>Keys of what the set made, and not the company before it.</summary>
    public MadeBySet Made { get; init; } = new([], [], []);

    /// <summary>Setup entries before the set was put in place, by key, as JSON; those that were not there are left out.</summary>
    public IReadOnlyDictionary<string, string> Before { get; init; } = new Dictionary<string, string>();

    /// <summary>The same as the set left them.</summary>
    public IReadOnlyDictionary<string, string> After { get; init; } = new Dictionary<string, string>();

    private const string Entry = "first-hour";

    private static FirstHour Begun { get; } = new(false, [], null, null, []);

    /// <summary>Begins the first hour, with the first administrator. In the caller's transaction.</summary>
    internal static Task Begin(LanternDb db) => db.Run($"insert into setup_entry (key, body) values ({Entry}, {Json.Write(Begun)}::jsonb) on conflict (key) do nothing");

    /// <summary>Null in a workspace that never had one, as the demo.</summary>
    internal static Task<FirstHour?> Read(LanternDb db) => SetupEntries.Read<FirstHour>(db, Entry);

    /// <summary>True while the company is being set up for the first time.</summary>
    /// <param name="entries">All setup entries.</param>
    internal static bool IsOn(IReadOnlyDictionary<string, string> entries) => entries.TryGetValue(Entry, out var body) && !Json.Read<FirstHour>(body).Ended;

    internal Task Save(LanternDb db) => SetupEntries.Save(db, Entry, Json.Write(this));
}
