using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Due;

/// <summary>Something that is to happen at a time, or that is tried again then. It is deleted in the transaction in which it happens.</summary>
public sealed class DueRow
{
    /// <summary>Which work it is, see <see cref="IDueWork.Kind"/>.</summary>
    public string Kind { get; set; } = "";

    /// <summary>The record it is of.</summary>
    public Guid Key { get; set; }

    /// <summary>When it is due; after a failure, when it is tried again.</summary>
    public DateTime At { get; set; }

    /// <summary>How often it failed.</summary>
    public int Tries { get; set; }

    /// <summary>Why it failed the last time; null where it did not.</summary>
    public string? Problem { get; set; }

    /// <summary>When it was given up; null while it is tried. It waits for an administrator then.</summary>
    public DateTime? GivenUpAt { get; set; }
}

internal static class DueMapping
{
    public static void MapDueRows(this ModelBuilder builder) =>
        builder.Map<DueRow>(
            "due",
            d =>
            {
                d.HasKey(x => new { x.Kind, x.Key });
                d.Property(x => x.Tries).HasDefaultValue(0);
                d.HasIndex(x => new { x.Kind, x.At }).HasFilter("given_up_at is null");
                d.HasIndex(x => x.GivenUpAt).HasFilter("given_up_at is not null");
            }
        );
}

/// <summary>What is due. It follows from the records, whose triggers keep it.</summary>
internal static class DueTables
{
    public static IReadOnlyList<RecordTable> All { get; } = [new RecordTable("due").Not("key")];
}
