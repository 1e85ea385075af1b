using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup.SignIn;

/// <summary>The key from which somebody's device makes codes (RFC 6238).</summary>
public sealed class CodeKeyRow
{
    public Guid PersonId { get; set; }

    /// <summary>Sealed; see <see cref="SecondSteps"/>.</summary>
    public string Secret { get; set; } = "";

    /// <summary>When the first code was right; null before, when no code is asked for yet.</summary>
    public DateTime? ConfirmedAt { get; set; }

    /// <summary>The time step of the last code that was used: no code is taken twice.</summary>
    public long LastStep { get; set; }
}

/// <summary>A code for the day on which the device is lost. Each is taken once.</summary>
public sealed class RecoveryCodeRow
{
    public Guid PersonId { get; set; }

    /// <summary>SHA-256 of the code, which is 80 random bits.</summary>
    public byte[] Hash { get; set; } = [];
    public DateTime? UsedAt { get; set; }
}

internal static class SecondStepMapping
{
    public static void MapSecondStepRows(this ModelBuilder builder)
    {
        builder.Map<CodeKeyRow>(
            "code_key",
            c =>
            {
                c.HasKey(x => x.PersonId);
                c.HasOne<Person>().WithMany().HasForeignKey(x => x.PersonId).OnDelete(DeleteBehavior.Cascade);
            }
        );
        builder.Map<RecoveryCodeRow>(
            "recovery_code",
            r =>
            {
                r.HasKey(x => new { x.PersonId, x.Hash });
                r.HasOne<Person>().WithMany().HasForeignKey(x => x.PersonId).OnDelete(DeleteBehavior.Cascade);
            }
        );
    }

    public static IReadOnlyList<RecordTable> Tables { get; } =
    [new RecordTable("code_key").Tie("person", "person_id"), new RecordTable("recovery_code").Tie("person", "person_id"), new RecordTable("passkey").Tie("person", "user_id")];
}
