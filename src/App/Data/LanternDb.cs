using DapperLantern.App.Setup;
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

    /// <summary>True where the connection is kept from the first statement on until the context goes, or closes it; else each statement outside of a transaction takes one of its own.</summary>
    public bool KeepsConnection { get; set; }

    public DbSet<DataProtectionKey> DataProtectionKeys => Set<DataProtectionKey>();

    /// <summary>How contexts are set up on a data source, wherever they come from.</summary>
    /// <param name="alone">True where statements outside of a transaction are told who acts, too, also those of LINQ: it costs each statement a little, which the busiest ways do without.</param>
    internal static TBuilder On<TBuilder>(TBuilder options, NpgsqlDataSource source, TimeProvider clock, bool alone)
        where TBuilder : DbContextOptionsBuilder
    {
        options.UseNpgsql(source).UseSnakeCaseNamingConvention().AddInterceptors(new ActingInterceptor(clock), new ReadInterceptor());
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
            p.Property(x => x.Dates).HasConversion<string>().HasDefaultValue(DateForm.DayFirst);
            p.HasOne<Person>().WithMany().HasForeignKey(x => x.ManagerId).OnDelete(DeleteBehavior.SetNull);
            p.Property(x => x.Version).HasDefaultValue(1);
            p.HasIndex(x => x.NormalizedEmail).IsUnique();
            p.HasIndex(x => x.CalendarHash).IsUnique().HasFilter("calendar_hash is not null");
        });
        builder.Entity<IdentityUserClaim<Guid>>().ToTable("person_claim");
        builder.Entity<IdentityUserLogin<Guid>>().ToTable("person_login");
        builder.Entity<IdentityUserToken<Guid>>().ToTable("person_token");
        builder.Entity<IdentityUserPasskey<Guid>>(k =>
        {
            k.ToTable("passkey");
            k.HasKey(x => x.CredentialId);
            k.HasIndex(x => x.UserId);
            k.HasOne<Person>().WithMany().HasForeignKey(x => x.UserId).OnDelete(DeleteBehavior.Cascade);
            k.Property(x => x.Data).HasColumnType("jsonb").HasConversion(d => Json.Write(d), text => Json.Read<IdentityPasskeyData>(text));
        });
        builder.Entity<DataProtectionKey>().ToTable("data_protection_key");

        foreach (var capability in Capabilities.All)
            capability.MapEntities(builder);
    }
}

/// <summary>What holds for the reads of a scope; set before its context is made. Many requests need none.</summary>
public sealed class ReadTerms
{
    /// <summary>See <see cref="LanternDb.Aborted"/>.</summary>
    public CancellationToken Aborted { get; set; }

    /// <summary>See <see cref="LanternDb.KeepsConnection"/>.</summary>
    public bool KeepsConnection { get; set; }

    /// <summary>How long a statement may take; null for as long as any.</summary>
    public TimeSpan? Most { get; set; }

    internal LanternDb Open(DbContextOptions<LanternDb> options)
    {
        var db = new LanternDb(options) { Aborted = Aborted, KeepsConnection = KeepsConnection };
        if (Most is { } most)
            db.Database.SetCommandTimeout(most);
        return db;
    }
}

/// <summary>How capabilities map their entities.</summary>
internal static class EntityMapping
{
    /// <summary>Maps an entity to its table.</summary>
    internal static void Map<T>(this ModelBuilder builder, string table, Action<EntityTypeBuilder<T>> map)
        where T : class
    {
        var entity = builder.Entity<T>();
        entity.ToTable(table);
        map(entity);
    }
}
