using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Deals;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Events;

/// <summary>One entry of the log: something happened. Entries are added and read, never changed; the table is partitioned by month.</summary>
public sealed class EventRow
{
    /// <summary>Given by the database, growing. Not in the order of commit.</summary>
    public long Id { get; set; }
    public DateTime At { get; set; }

    /// <summary>Key of the kind, see <see cref="Core.Events.Happening"/>.</summary>
    public string Kind { get; set; } = "";

    /// <summary>lead, deal, account, contact, person, import or edition; null where it concerns no record.</summary>
    public string? RecordKind { get; set; }
    public Guid? Record { get; set; }

    /// <summary>Who did it; null for the program itself and for visitors.</summary>
    public Guid? ById { get; set; }

    /// <summary>By what it was done, see <see cref="Acting"/>.</summary>
    public string Cause { get; set; } = "";
    public Guid? CauseId { get; set; }

    /// <summary>JSON of what the event says, without personal values.</summary>
    public string Said { get; set; } = "{}";

    /// <summary>JSON of its personal values, which erasure blanks; null for none.</summary>
    public string? Personal { get; set; }
}

/// <summary>What a lead was from one moment to another. Spans of a lead adjoin each other; the last has no end.</summary>
public sealed class LeadSpan
{
    public Guid LeadId { get; set; }
    public DateTime Since { get; set; }

    /// <summary>Null while it holds.</summary>
    public DateTime? Until { get; set; }
    public string State { get; set; } = "";
    public Guid? OwnerId { get; set; }
}

/// <summary>What a deal was from one moment to another, as <see cref="LeadSpan"/>.</summary>
public sealed class DealSpan
{
    public Guid DealId { get; set; }
    public DateTime Since { get; set; }
    public DateTime? Until { get; set; }
    public string PipelineKey { get; set; } = "";
    public string StageKey { get; set; } = "";
    public Guid? OwnerId { get; set; }
    public decimal Amount { get; set; }
    public string Currency { get; set; } = "";
    public DateOnly ExpectedClose { get; set; }
}

internal static class EventMapping
{
    public static void MapEventRows(this ModelBuilder builder)
    {
        // Entity Framework Core cannot make partitioned tables; a migration does it in SQL.
        builder.Entity<EventRow>(e =>
        {
            e.ToTable("event", t => t.ExcludeFromMigrations());
            e.HasKey(x => new { x.At, x.Id });
            e.Property(x => x.Id).ValueGeneratedOnAdd();
            e.Property(x => x.Said).HasColumnType("jsonb");
            e.Property(x => x.Personal).HasColumnType("jsonb");
        });
        builder.Map<EventListenerRow>("event_listener", l => l.HasKey(x => new { x.Kind, x.Listener }));
        builder.Map<LeadSpan>("lead_span", s => s.HasKey(x => new { x.LeadId, x.Since }));
        builder.Map<DealSpan>(
            "deal_span",
            s =>
            {
                s.HasKey(x => new { x.DealId, x.Since });
                s.HasOne<Deal>().WithMany().HasForeignKey(x => x.DealId).OnDelete(DeleteBehavior.Cascade);
            }
        );
    }
}

/// <summary>The log and what follows from it.</summary>
internal static class EventTables
{
    public static IReadOnlyList<RecordTable> All { get; } =
    [
        // A record's events stay when it goes; its story finds those of records that were merged into it.
        new RecordTable("event")
            .Bulk()
            .Tie("lead", "record", erasure: Fate.ByItself)
            .Give("log", "entries of the log about them", "'by', (select display_name from person where id = t.by_id)")
            .Not("by_id", "cause_id"),
        new RecordTable("event_listener"),
        new RecordTable("lead_span").Bulk().Tie("lead", "lead_id", Fate.Goes, Fate.Goes, Fate.Goes, Fate.Goes).Tie("person", "owner_id").Give("spans", "states they were in"),
        new RecordTable("deal_span").Tie("deal", "deal_id").Tie("person", "owner_id").Tie("pipeline", "pipeline_key").Not("stage_key"),
    ];
}
