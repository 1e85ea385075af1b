using DapperLantern.App.Data;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Intake.Http;
using DapperLantern.App.Intake.Letters;
using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>The entities of what comes in.</summary>
internal static class IntakeEntities
{
    public static void MapIntakeEntities(this ModelBuilder builder)
    {
        builder.Map<SourceRow>(
            "source",
            s =>
            {
                s.HasKey(x => x.Key);
                s.Property(x => x.Trust).HasDefaultValue(0);
                s.Property(x => x.Position).HasDefaultValue(0);
            }
        );
        builder.Map<Import>(
            "import",
            d =>
            {
                foreach (var json in new[] { nameof(Import.Reading), nameof(Import.Plan), nameof(Import.Constants), nameof(Import.Policies), nameof(Import.Turns) })
                    d.Property<string>(json).HasColumnType("jsonb").HasDefaultValueSql("'{}'::jsonb");
                d.Ignore(x => x.Counts).Ignore(x => x.AtWork).Ignore(x => x.Waiting);
                d.HasIndex(x => x.ContentHash);
                d.HasIndex(x => x.HeadingsHash);
                d.HasIndex(x => x.State).HasFilter("state in ('sifting', 'taking', 'taking_back')");
            }
        );
        builder.Map<ImportChunk>("import_chunk", c => c.HasKey(x => new { x.ImportId, x.Position }));
        builder.Map<Arrival>(
            "arrival",
            a =>
            {
                a.HasKey(x => new { x.ImportId, x.RowNumber });
                a.Property(x => x.Problems).HasColumnType("jsonb");
                a.Property(x => x.Changed).HasColumnType("jsonb");
                // Rows by outcome, where most are new; rows with problems; rows left; duplicates within a file.
                a.HasIndex(x => new
                    {
                        x.ImportId,
                        x.Outcome,
                        x.RowNumber,
                    })
                    .HasFilter("outcome <> 'new'");
                a.HasIndex(x => new { x.ImportId, x.RowNumber }, "ix_arrival_problems").HasFilter("problems is not null");
                a.HasIndex(x => new { x.ImportId, x.RowNumber }, "ix_arrival_left").HasFilter("left_because is not null");
                a.HasIndex(x => x.EmailKey).HasFilter("email_key is not null");
                a.HasIndex(x => x.NameKey).HasFilter("name_key is not null");
                a.HasIndex(x => x.PhoneKey).HasFilter("phone_key is not null");
            }
        );
        builder.Map<MendRow>("mend", m => m.HasIndex(x => x.ImportId));
        builder.Map<SingleArrival>(
            "single_arrival",
            a =>
            {
                foreach (var json in new[] { nameof(SingleArrival.Raw), nameof(SingleArrival.Labels), nameof(SingleArrival.Reasons) })
                    a.Property<string?>(json).HasColumnType("jsonb");
                a.HasIndex(x => x.Key).IsUnique().HasFilter("key is not null");
                a.HasIndex(x => new { x.FormKey, x.At }).HasFilter("form_key is not null");
                a.HasIndex(x => new { x.State, x.At }).HasFilter("state = 'waiting'");
                a.HasIndex(x => x.LeadId).HasFilter("lead_id is not null");
                a.HasIndex(x => new { x.TextKey, x.At }).HasFilter("text_key is not null");
            }
        );
        builder.Map<FormRow>(
            "form",
            f =>
            {
                f.HasKey(x => x.Key);
                f.Property(x => x.Draft).HasColumnType("jsonb");
                f.Property(x => x.Version).HasDefaultValue(1);
            }
        );
        builder.Map<ArrivalFileRow>("arrival_file", f => f.HasIndex(x => new { x.ArrivalId, x.Position }));
        builder.Map<AccessTokenRow>(
            "access_token",
            t =>
            {
                t.HasIndex(x => x.Hash).IsUnique();
                t.HasOne<Person>().WithMany().HasForeignKey(x => x.ReadsAsId).OnDelete(DeleteBehavior.Cascade);
            }
        );
        builder.Map<BackfillRow>("backfill", b => b.Property(x => x.Changes).HasColumnType("jsonb"));
        builder.HasSequence<long>("people_change");
    }
}
