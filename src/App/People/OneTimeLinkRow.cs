using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.People;

/// <summary>What a one-time address is for.</summary>
public enum LinkKind
{
    /// <summary>Makes the first administrator of a workspace that has none.</summary>
    Begin,

    /// <summary>Lets somebody in who was invited.</summary>
    Invitation,

    /// <summary>Gives somebody another password.</summary>
    Password,
}

/// <summary>An address that opens once. Only its hash is kept: nobody who reads the database can use it.</summary>
public sealed class OneTimeLinkRow
{
    /// <summary>SHA-256 of the key in the address.</summary>
    public byte[] Hash { get; set; } = [];
    public LinkKind Kind { get; set; }

    /// <summary>Whom it lets in; null for <see cref="LinkKind.Begin"/>.</summary>
    public Guid? PersonId { get; set; }

    /// <summary>The person who made it; null for the command line, and for somebody who forgot their own password.</summary>
    public Guid? MadeBy { get; set; }
    public DateTime MadeAt { get; set; }
    public DateTime EndsAt { get; set; }

    /// <summary>When it was used, or another took its place; null while it opens.</summary>
    public DateTime? EndedAt { get; set; }

    internal static void Map(ModelBuilder model) =>
        model.Map<OneTimeLinkRow>(
            "one_time_link",
            l =>
            {
                l.HasKey(x => x.Hash);
                l.Property(x => x.Kind).HasConversion<string>();
                l.HasOne<Person>().WithMany().HasForeignKey(x => x.PersonId).OnDelete(DeleteBehavior.Cascade);
                l.HasOne<Person>().WithMany().HasForeignKey(x => x.MadeBy).OnDelete(DeleteBehavior.SetNull);
                l.HasIndex(x => x.PersonId);
            }
        );
}
