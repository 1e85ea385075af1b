using DapperLantern.App.Campaigns;
using DapperLantern.App.Deals;
using DapperLantern.App.Due;
using DapperLantern.App.Events;
using DapperLantern.App.Handover;
using DapperLantern.App.Intake;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Intake.Http;
using DapperLantern.App.Intake.Letters;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Leads.Bulk;
using DapperLantern.App.Matching;
using DapperLantern.App.Rights;
using DapperLantern.App.Routing;
using DapperLantern.App.Scoring;
using DapperLantern.App.Search;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using Microsoft.AspNetCore.DataProtection.EntityFrameworkCore;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Npgsql;

namespace DapperLantern.App.Data;

/// <summary>The database. Entities stand with their capability; keys, indexes and types that all share are set here.</summary>
public sealed class LanternDb : IdentityUserContext<Person, Guid>, IDataProtectionKeyContext
{
    // Each write is a transaction that was told who acts.
    public LanternDb(DbContextOptions<LanternDb> options)
        : base(options) => Database.AutoTransactionBehavior = AutoTransactionBehavior.Always;

    /// <summary>Cancelled when nobody waits any more for what is read; never, where acts are done.</summary>
    public CancellationToken Aborted { get; set; }

    public DbSet<DataProtectionKey> DataProtectionKeys => Set<DataProtectionKey>();
    public DbSet<Lead> Leads => Set<Lead>();
    public DbSet<Deal> Deals => Set<Deal>();
    public DbSet<TaskRow> Tasks => Set<TaskRow>();
    public DbSet<StoryEntry> Story => Set<StoryEntry>();
    public DbSet<LeadEventRow> Events => Set<LeadEventRow>();
    public DbSet<Import> Imports => Set<Import>();
    public DbSet<Account> Accounts => Set<Account>();
    public DbSet<Contact> Contacts => Set<Contact>();
    public DbSet<HandoverRow> Handovers => Set<HandoverRow>();
    public DbSet<Edition> Editions => Set<Edition>();

    /// <summary>How contexts are set up on a data source, wherever they come from.</summary>
    /// <param name="alone">True where statements outside of a transaction are told who acts, too, also those of LINQ: it costs each statement a little, which the busiest ways do without.</param>
    internal static TBuilder On<TBuilder>(TBuilder options, NpgsqlDataSource source, TimeProvider clock, bool alone)
        where TBuilder : DbContextOptionsBuilder
    {
        options.UseNpgsql(source).UseSnakeCaseNamingConvention().AddInterceptors(new ActingInterceptor(clock), new AbortInterceptor());
        if (alone)
            options.AddInterceptors(new ActingAloneInterceptor(clock));
        return options;
    }

    protected override void OnModelCreating(ModelBuilder builder)
    {
        base.OnModelCreating(builder);
        builder.Entity<Person>(p =>
        {
            p.ToTable("person");
            p.Property(x => x.Role).HasConversion<string>();
            p.HasOne<Person>().WithMany().HasForeignKey(x => x.ManagerId).OnDelete(DeleteBehavior.SetNull);
            p.HasIndex(x => x.CalendarHash).IsUnique().HasFilter("calendar_hash is not null");
        });
        builder.Entity<IdentityUserClaim<Guid>>().ToTable("person_claim");
        builder.Entity<IdentityUserLogin<Guid>>().ToTable("person_login");
        builder.Entity<IdentityUserToken<Guid>>().ToTable("person_token");
        builder.Entity<DataProtectionKey>().ToTable("data_protection_key");

        builder.ApplyConfiguration(new LeadMapping());
        var signIn = new SignInMapping();
        builder.ApplyConfiguration<SessionRow>(signIn).ApplyConfiguration<KnownDeviceRow>(signIn).ApplyConfiguration<SignInFailureRow>(signIn);
        Map<ViewRow>(
            builder,
            "lead_view",
            v =>
            {
                v.Property(x => x.Body).HasColumnType("jsonb");
                v.Property(x => x.Version).HasDefaultValue(1).IsConcurrencyToken();
                v.HasIndex(x => x.OwnerId);
            }
        );
        Map<LeadEventRow>(
            builder,
            "lead_event",
            e =>
            {
                e.HasIndex(x => new { x.LeadId, x.At });
                e.Property(x => x.Direction).HasDefaultValue("in");
                e.Property(x => x.CampaignKind).HasDefaultValue("");
            }
        );
        Map<CrossingRow>(builder, "crossing", c => c.HasIndex(x => new { x.LeadId, x.At }));
        Map<RescoreRun>(builder, "rescore_run", r => r.HasIndex(x => x.StartedAt));
        Map<TaskRow>(builder, "task", t => t.HasIndex(x => new { x.OwnerId, x.DueAt }).HasFilter("done_at is null"));
        builder.Entity<TaskRow>().HasIndex(t => t.LeadId);
        MapStory(builder);
        MapBulk(builder);
        MapActivities(builder);
        Map<SearchWord>(builder, "search_word", w => w.HasKey(x => x.Word));
        builder.MapRoutingRows();
        MapIntake(builder);
        MapCampaigns(builder);
        MapSetup(builder);
        builder.MapDealRows();
        builder.MapHandoverRows();
        MapMatching(builder);
        builder.MapEventRows();
        builder.MapDueRows();
    }

    private static void MapStory(ModelBuilder builder) =>
        Map<StoryEntry>(
            builder,
            "story_entry",
            s =>
            {
                s.HasIndex(x => new { x.LeadId, x.At });
                s.Property(x => x.Detail).HasColumnType("jsonb");
                s.Property(x => x.Was).HasColumnType("jsonb").HasDefaultValueSql("'[]'::jsonb");
                s.Property(x => x.Pinned).HasDefaultValue(false);
                s.HasIndex(x => new { x.DealId, x.At }).HasFilter("deal_id is not null");
                s.HasIndex(x => new { x.AccountId, x.At }).HasFilter("account_id is not null");
            }
        );

    private static void MapActivities(ModelBuilder builder)
    {
        Map<MeetingRow>(
            builder,
            "meeting",
            m =>
            {
                m.HasIndex(x => x.LeadId);
                m.HasIndex(x => new { x.StartsAt, x.EndsAt });
                m.Property(x => x.Version).HasDefaultValue(1);
            }
        );
        Map<LeadFileRow>(builder, "lead_file", f => f.HasIndex(x => x.LeadId));
        Map<ResourceRow>(builder, "resource", r => r.HasKey(x => x.Key));
        Map<BookingRow>(builder, "booking", b => b.HasKey(x => new { x.MeetingId, x.ResourceKey }));
    }

    private static void MapBulk(ModelBuilder builder)
    {
        Map<BulkEdit>(
            builder,
            "bulk_edit",
            b =>
            {
                b.Property(x => x.Act).HasColumnType("jsonb");
                b.HasIndex(x => new { x.PersonId, x.RequestKey }).IsUnique().HasFilter("request_key is not null");
                b.HasIndex(x => x.State).HasFilter("state in ('doing', 'undoing')");
                b.HasIndex(x => x.CreatedAt).IsDescending();
            }
        );
        Map<BulkLeadRow>(
            builder,
            "bulk_lead",
            l =>
            {
                l.HasKey(x => new { x.BulkId, x.Position });
                l.HasIndex(x => x.LeadId);
                l.Property(x => x.Kept).HasColumnType("jsonb");
                l.HasOne<BulkEdit>().WithMany().HasForeignKey(x => x.BulkId).OnDelete(DeleteBehavior.Cascade);
            }
        );
    }

    private static void MapIntake(ModelBuilder builder)
    {
        Map<SourceRow>(
            builder,
            "source",
            s =>
            {
                s.HasKey(x => x.Key);
                s.Property(x => x.Trust).HasDefaultValue(0);
            }
        );
        Map<Import>(
            builder,
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
        Map<ImportChunk>(builder, "import_chunk", c => c.HasKey(x => new { x.ImportId, x.Position }));
        Map<Arrival>(
            builder,
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
        Map<MendRow>(builder, "mend", m => m.HasIndex(x => x.ImportId));
        Map<SingleArrival>(
            builder,
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
        Map<FormRow>(
            builder,
            "form",
            f =>
            {
                f.HasKey(x => x.Key);
                f.Property(x => x.Draft).HasColumnType("jsonb");
                f.Property(x => x.Version).HasDefaultValue(1);
            }
        );
        Map<ArrivalFileRow>(builder, "arrival_file", f => f.HasIndex(x => new { x.ArrivalId, x.Position }));
        Map<AccessTokenRow>(builder, "access_token", t => t.HasIndex(x => x.Hash).IsUnique());
        Map<BackfillRow>(builder, "backfill", b => b.Property(x => x.Changes).HasColumnType("jsonb"));
        builder.HasSequence<long>("people_change");
    }

    private static void MapMatching(ModelBuilder builder)
    {
        Map<MatchKeyRow>(
            builder,
            "match_key",
            k =>
            {
                k.HasKey(x => new { x.Key, x.RecordId });
                k.HasIndex(x => x.RecordId);
            }
        );
        Map<DuplicateDueRow>(
            builder,
            "duplicate_due",
            d =>
            {
                d.HasKey(x => x.RecordId);
                d.Property(x => x.Asked).HasDefaultValueSql("gen_random_uuid()");
            }
        );
        Map<DuplicateRow>(
            builder,
            "duplicate",
            t =>
            {
                t.Property(x => x.Evidence).HasColumnType("jsonb");
                t.HasIndex(x => new { x.A, x.B }).IsUnique();
                t.HasIndex(x => x.B);
                t.HasIndex(x => new { x.Kind, x.Bits }).HasFilter("state = 'open'");
            }
        );
        Map<MergeRow>(
            builder,
            "record_merge",
            m =>
            {
                foreach (var json in new[] { nameof(MergeRow.Gone), nameof(MergeRow.Changes), nameof(MergeRow.Moved), nameof(MergeRow.Added) })
                    m.Property<string>(json).HasColumnType("jsonb");
                m.HasIndex(x => x.KeptId);
                m.HasIndex(x => x.NowId);
                m.HasIndex(x => x.GoneId).IsUnique().HasFilter("apart_at is null");
            }
        );
    }

    private static void MapCampaigns(ModelBuilder builder)
    {
        Map<CampaignRow>(
            builder,
            "campaign",
            c =>
            {
                c.HasKey(x => x.Key);
                c.Property(x => x.Kind).HasDefaultValue("other");
                c.Property(x => x.About).HasDefaultValue("");
                c.Property(x => x.Version).HasDefaultValue(1);
            }
        );
        Map<CampaignCostRow>(builder, "campaign_cost", c => c.HasIndex(x => new { x.CampaignKey, x.SpentOn }));
        Map<CampaignResponseRow>(
            builder,
            "campaign_response",
            r =>
            {
                // Holds all that the rates are counted from, in the order in which they are counted.
                r.HasIndex(x => new
                {
                    x.CampaignKey,
                    x.Response,
                    x.LeadId,
                    x.Known,
                });
                r.HasIndex(x => x.LeadId);
            }
        );
        Map<ConsentRow>(
            builder,
            "consent",
            c =>
            {
                c.HasIndex(x => x.LeadId).HasFilter("lead_id is not null");
                c.HasIndex(x => x.PersonKey);
                c.HasIndex(x => x.Ask).HasFilter("ask is not null");
            }
        );
        Map<BarredRow>(builder, "barred", b => b.HasIndex(x => x.HashKey));
        builder.Entity<BarredRow>().HasIndex(x => new { x.Kind, x.Hash }).IsUnique();
        Map<TagRow>(
            builder,
            "tag",
            t =>
            {
                t.HasKey(x => x.Key);
                t.Property(x => x.GroupName).HasDefaultValue("");
                t.Property(x => x.Colour).HasDefaultValue("slate");
            }
        );
        Map<LeadTagRow>(builder, "lead_tag", t => t.HasKey(x => new { x.LeadId, x.TagKey }));
        builder.Entity<LeadTagRow>().HasIndex(t => t.TagKey);
    }

    private static void MapSetup(ModelBuilder builder)
    {
        Map<Edition>(
            builder,
            "edition",
            e =>
            {
                e.Property(x => x.Body).HasColumnType("jsonb");
                e.HasIndex(x => x.Kind).IsUnique().HasFilter("state = 'live'");
                e.Property(x => x.Note).HasDefaultValue("");
                e.Property(x => x.Version).HasDefaultValue(1);
            }
        );
        Map<SetupEntry>(
            builder,
            "setup_entry",
            s =>
            {
                s.HasKey(x => x.Key);
                s.Property(x => x.Body).HasColumnType("jsonb");
            }
        );
        Map<RequestKeyRow>(
            builder,
            "request_key",
            r =>
            {
                r.HasKey(x => x.Key);
                r.HasIndex(x => x.At);
            }
        );
        Map<ContactReadRow>(builder, "contact_reading", r => r.HasKey(x => new { x.PersonId, x.Hour }));
        Map<RecordShareRow>(
            builder,
            "record_share",
            s =>
            {
                s.HasIndex(x => new { x.PersonId, x.LeadId }).HasFilter("lead_id is not null");
                s.HasIndex(x => new { x.PersonId, x.ContactId }).HasFilter("contact_id is not null");
                s.HasIndex(x => new { x.PersonId, x.AccountId }).HasFilter("account_id is not null");
                s.HasIndex(x => new { x.PersonId, x.DealId }).HasFilter("deal_id is not null");
                s.HasIndex(x => x.LeadId).HasFilter("lead_id is not null");
            }
        );
        Map<ErasureRow>(builder, "erasure", e => e.Property(x => x.Counts).HasColumnType("jsonb"));
        Map<OutboxRow>(
            builder,
            "outbox",
            o =>
            {
                o.HasIndex(x => x.CreatedAt).HasFilter("sent_at is null");
                o.HasIndex(x => new { x.ToEmail, x.CreatedAt }).HasFilter("to_email is not null");
                o.HasIndex(x => x.GivenUpAt).HasFilter("given_up_at is not null");
                o.HasIndex(x => new { x.PersonId, x.CreatedAt }).HasFilter("person_id is not null");
            }
        );
    }

    internal static void Map<T>(ModelBuilder builder, string table, Action<EntityTypeBuilder<T>> map)
        where T : class
    {
        var entity = builder.Entity<T>();
        entity.ToTable(table);
        map(entity);
    }
}
