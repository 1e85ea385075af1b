using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace DapperLantern.App.Setup.SignIn;

/// <summary>One sign-in of one person in one browser. The cookie names it; whether it holds is decided here at every request.</summary>
public sealed class SessionRow
{
    public Guid Id { get; set; }
    public Guid PersonId { get; set; }

    /// <summary>Keys of the roles it began with; other roles end it.</summary>
    public string[] Roles { get; set; } = [];
    public DateTime StartedAt { get; set; }

    /// <summary>The last request, to the minute.</summary>
    public DateTime SeenAt { get; set; }

    /// <summary>When it ends whatever is done.</summary>
    public DateTime EndsAt { get; set; }

    /// <summary>True when the person chose to stay signed in.</summary>
    public bool Stays { get; set; }

    /// <summary>True where it began with a second step, or one was made in it.</summary>
    public bool Strong { get; set; }

    /// <summary>The session at the identity provider (its claim sid); null where it names none, and for a session that began otherwise.</summary>
    public string? ProviderSession { get; set; }

    /// <summary>The provider's token of the sign-in, sealed: by it a session there is ended. Null for a session that began otherwise.</summary>
    public string? ProviderToken { get; set; }
    public string Address { get; set; } = "";
    public string Agent { get; set; } = "";
    public DateTime? EndedAt { get; set; }

    /// <summary>Why it ended: signed-out, ended, left, role, password, provider.</summary>
    public string? EndedBecause { get; set; }
}

/// <summary>A browser in which somebody signed in before. Its cookie lets them in while strangers who try their name must wait.</summary>
public sealed class KnownDeviceRow
{
    /// <summary>SHA-256 of the cookie and the person.</summary>
    public byte[] Hash { get; set; } = [];
    public Guid PersonId { get; set; }
    public DateTime SeenAt { get; set; }
}

/// <summary>Failed tries at signing in, counted by what they have in common.</summary>
public sealed class SignInFailureRow
{
    /// <summary>SHA-256 of the kind of count and the name, address or device it is of.</summary>
    public byte[] Key { get; set; } = [];
    public int Failures { get; set; }
    public DateTime LastAt { get; set; }
}

internal sealed class SignInMapping : IEntityTypeConfiguration<SessionRow>, IEntityTypeConfiguration<KnownDeviceRow>, IEntityTypeConfiguration<SignInFailureRow>
{
    public void Configure(EntityTypeBuilder<SessionRow> builder)
    {
        builder.ToTable("session");
        builder.HasIndex(s => new { s.PersonId, s.SeenAt });
        builder.HasOne<Person>().WithMany().HasForeignKey(s => s.PersonId).OnDelete(DeleteBehavior.Cascade);
    }

    public void Configure(EntityTypeBuilder<KnownDeviceRow> builder)
    {
        builder.ToTable("known_device").HasKey(d => d.Hash);
        builder.HasOne<Person>().WithMany().HasForeignKey(d => d.PersonId).OnDelete(DeleteBehavior.Cascade);
    }

    public void Configure(EntityTypeBuilder<SignInFailureRow> builder)
    {
        builder.ToTable("sign_in_failure").HasKey(f => f.Key);
        builder.HasIndex(f => f.LastAt);
    }
}
