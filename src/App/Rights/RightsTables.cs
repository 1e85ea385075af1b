using DapperLantern.App.Data.Records;

namespace DapperLantern.App.Rights;

/// <summary>The tables of people's rights.</summary>
internal static class RightsTables
{
    public static IReadOnlyList<RecordTable> All { get; } = [new RecordTable("erasure").Tie("person", "person_id"), new RecordTable("contact_reading").Tie("person", "person_id")];
}
