using DapperLantern.App.Data;
using DapperLantern.App.Setup.SignIn;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup;

/// <summary>The entities of the set-up, of sessions and of messages.</summary>
internal static class SetupEntities
{
    public static void MapSetupEntities(this ModelBuilder builder)
    {
        var signIn = new SignInMapping();
        builder.ApplyConfiguration<SessionRow>(signIn).ApplyConfiguration<KnownDeviceRow>(signIn).ApplyConfiguration<SignInFailureRow>(signIn);
        builder.Map<Edition>(
            "edition",
            e =>
            {
                e.Property(x => x.Body).HasColumnType("jsonb");
                e.HasIndex(x => x.Kind).IsUnique().HasFilter("state = 'live'");
                e.Property(x => x.Note).HasDefaultValue("");
                e.Property(x => x.Version).HasDefaultValue(1);
            }
        );
        builder.Map<SetupEntry>(
            "setup_entry",
            s =>
            {
                s.HasKey(x => x.Key);
                s.Property(x => x.Body).HasColumnType("jsonb");
            }
        );
        builder.Map<RequestKeyRow>(
            "request_key",
            r =>
            {
                r.HasKey(x => x.Key);
                r.HasIndex(x => x.At);
            }
        );
        builder.Map<OutboxRow>(
            "outbox",
            o =>
            {
                o.HasIndex(x => x.CreatedAt).HasFilter("sent_at is null");
                o.HasIndex(x => new { x.ToEmail, x.CreatedAt }).HasFilter("to_email is not null");
                o.HasIndex(x => x.GivenUpAt).HasFilter("given_up_at is not null");
                o.HasIndex(x => new { x.PersonId, x.CreatedAt }).HasFilter("person_id is not null");
                o.HasIndex(x => new { x.EventId, x.PersonId }).IsUnique().HasFilter("event_id is not null");
            }
        );
    }
}
