using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handing;

/// <summary>Somebody handed on what they held, for good or for a time.</summary>
public sealed class HandingRow
{
    public Guid Id { get; set; }

    /// <summary>Whose it was.</summary>
    public Guid PersonId { get; set; }
    public Guid? ById { get; set; }
    public DateTime At { get; set; }

    /// <summary>True where the person left with it.</summary>
    public bool Leaves { get; set; }

    /// <summary>When they have it back, of a leave; null for good.</summary>
    public DateTime? EndsAt { get; set; }

    /// <summary>When it was given back, by hand or at its end; null while it holds.</summary>
    public DateTime? BackAt { get; set; }
    public string Note { get; set; } = "";

    /// <summary>JSON of a <see cref="HandingAside"/>.</summary>
    public string Aside { get; set; } = "{}";
}

/// <summary>One record of a handing.</summary>
public sealed class HandingItemRow
{
    public Guid HandingId { get; set; }

    /// <summary>Key of a <see cref="Core.Handing.HeldKind"/>.</summary>
    public string Kind { get; set; } = "";

    /// <summary>Id or key of the record.</summary>
    public string Record { get; set; } = "";

    /// <summary>Who got it; null for nobody.</summary>
    public Guid? ToId { get; set; }

    /// <summary>JSON of a <see cref="Leads.Bulk.BulkKept"/>, of a lead.</summary>
    public string? Kept { get; set; }

    /// <summary>True once its first owner has it again; false where it was changed since and stayed.</summary>
    public bool? Restored { get; set; }
}

/// <summary>What somebody had beside records, as it was.</summary>
/// <param name="Places">Places in turns: key of the team with the place.</param>
/// <param name="PlacesTo">Who got them; null for nobody.</param>
/// <param name="PlacesNew">Keys of the teams in which that person had no place before.</param>
/// <param name="Rules">Id of the edition of the rule sheet that was live before the person's places in it were given away; null where there were none.</param>
/// <param name="RulesAfter">Id of the one that is live since.</param>
/// <param name="Reports">Who reported to them.</param>
/// <param name="ReportsTo">To whom they report since; null for nobody.</param>
/// <param name="Absence">Id of the absence that was entered with a leave.</param>
public sealed record HandingAside(
    IReadOnlyList<HeldPlace>? Places = null,
    Guid? PlacesTo = null,
    IReadOnlyList<string>? PlacesNew = null,
    Guid? Rules = null,
    Guid? RulesAfter = null,
    IReadOnlyList<Guid>? Reports = null,
    Guid? ReportsTo = null,
    Guid? Absence = null
);

/// <param name="Position">From 0.</param>
public sealed record HeldPlace(string Team, int Position, int Weight);

internal static class HandingMapping
{
    public static void MapHandingRows(this ModelBuilder builder)
    {
        builder.Map<HandingRow>(
            "handing",
            h =>
            {
                h.Property(x => x.Aside).HasColumnType("jsonb");
                h.HasIndex(x => new { x.PersonId, x.At });
                h.HasOne<Person>().WithMany().HasForeignKey(x => x.PersonId).OnDelete(DeleteBehavior.Cascade);
            }
        );
        builder.Map<HandingItemRow>(
            "handing_item",
            i =>
            {
                i.HasKey(x => new
                {
                    x.HandingId,
                    x.Kind,
                    x.Record,
                });
                i.Property(x => x.Kept).HasColumnType("jsonb");
                i.HasOne<HandingRow>().WithMany().HasForeignKey(x => x.HandingId).OnDelete(DeleteBehavior.Cascade);
            }
        );
    }

    public static IReadOnlyList<RecordTable> Tables { get; } =
    [new RecordTable("handing").Tie("person", "person_id").Tie("person", "by_id"), new RecordTable("handing_item").Tie("handing", "handing_id").Tie("person", "to_id")];
}
