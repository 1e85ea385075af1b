using DapperLantern.App.Data;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handover;

/// <summary>An organisation or household.</summary>
public sealed class Account
{
    public Guid Id { get; set; }
    public string Name { get; set; } = "";

    /// <summary>True for people who live together, false for an organisation.</summary>
    public bool Household { get; set; }

    /// <summary>Keys in the list "contact-kinds": one account may be customer and supplier.</summary>
    public string[] Kinds { get; set; } = [];

    /// <summary>Keys in the list "segments".</summary>
    public string[] Segments { get; set; } = [];

    /// <summary>The account it is a branch of.</summary>
    public Guid? ParentId { get; set; }
    public string? CompanyKey { get; set; }
    public string? Domain { get; set; }
    public string? Country { get; set; }
    public Guid? OwnerId { get; set; }
    public DateTime CreatedAt { get; set; }

    /// <summary>JSON: catalogue key to stored value.</summary>
    public string Facts { get; set; } = "{}";
}

/// <summary>An address of an account beside the one among its facts.</summary>
public sealed class AccountAddressRow
{
    public Guid Id { get; set; }
    public Guid AccountId { get; set; }

    /// <summary>billing, delivery or other.</summary>
    public string Kind { get; set; } = "other";
    public string Street { get; set; } = "";
    public string PostalCode { get; set; } = "";
    public string City { get; set; } = "";
    public string Region { get; set; } = "";

    /// <summary>ISO 3166-1 alpha-2; empty for unknown.</summary>
    public string Country { get; set; } = "";
}

/// <summary>A person, with or without an account.</summary>
public sealed class Contact
{
    public Guid Id { get; set; }
    public Guid? AccountId { get; set; }

    /// <summary>Key in the list "contact-kinds"; empty for none.</summary>
    public string Kind { get; set; } = "";

    /// <summary>The contact this one reports to.</summary>
    public Guid? ReportsTo { get; set; }
    public string Name { get; set; } = "";
    public string? Email { get; set; }
    public string? Phone { get; set; }
    public Guid? OwnerId { get; set; }
    public DateTime CreatedAt { get; set; }
    public string Facts { get; set; } = "{}";
}

/// <summary>An account a contact belonged to, or belongs to beside its first.</summary>
public sealed class ContactAccountRow
{
    public Guid Id { get; set; }
    public Guid ContactId { get; set; }
    public Guid AccountId { get; set; }
    public string Title { get; set; } = "";
    public DateOnly? Since { get; set; }

    /// <summary>Null while it lasts.</summary>
    public DateOnly? Until { get; set; }
}

/// <summary>One handover as it was done, with what is needed to take it back.</summary>
public sealed class HandoverRow
{
    public Guid Id { get; set; }
    public Guid LeadId { get; set; }
    public Guid? AccountId { get; set; }
    public Guid ContactId { get; set; }
    public Guid DealId { get; set; }
    public bool MadeAccount { get; set; }
    public bool MadeContact { get; set; }

    /// <summary>False for a lead that came along with another, whose deal it is.</summary>
    public bool MadeDeal { get; set; } = true;

    /// <summary>By which a repeated request is known; null for none.</summary>
    public string? Key { get; set; }

    /// <summary>JSON list of <see cref="RecordFactChange"/>: what it wrote on records that were there.</summary>
    public string Changes { get; set; } = "[]";

    /// <summary>JSON of <see cref="Core.Handover.Carried"/>: what arrived and what was left.</summary>
    public string? Carried { get; set; }

    public DateTime At { get; set; }
    public Guid PersonId { get; set; }
    public DateTime? TakenBackAt { get; set; }
}

/// <summary>A fact of a record that was there, changed by a handover.</summary>
/// <param name="Record">contact or account.</param>
/// <param name="Before">Null where nothing stood.</param>
public sealed record RecordFactChange(string Record, string Field, string? Before, string After);

internal static class HandoverMapping
{
    public static void MapHandoverRows(this ModelBuilder builder)
    {
        builder.Map<Account>(
            "account",
            a =>
            {
                a.Property(x => x.Facts).HasColumnType("jsonb");
                a.Property(x => x.Household).HasDefaultValue(false);
                a.Property(x => x.Kinds).HasDefaultValueSql("'{}'");
                a.Property(x => x.Segments).HasDefaultValueSql("'{}'");
                a.HasIndex(x => x.Domain);
                a.HasIndex(x => x.CompanyKey);
                a.HasIndex(x => x.ParentId).HasFilter("parent_id is not null");
                a.HasIndex(x => new { x.Name, x.Id });
                a.HasOne<Account>().WithMany().HasForeignKey(x => x.ParentId).OnDelete(DeleteBehavior.SetNull);
            }
        );
        builder.Map<AccountAddressRow>(
            "account_address",
            a =>
            {
                a.HasIndex(x => x.AccountId);
                a.HasOne<Account>().WithMany().HasForeignKey(x => x.AccountId).OnDelete(DeleteBehavior.Cascade);
            }
        );
        builder.Map<Contact>(
            "contact",
            c =>
            {
                c.Property(x => x.Facts).HasColumnType("jsonb");
                c.Property(x => x.Kind).HasDefaultValue("");
                c.HasIndex(x => x.Email);
                c.HasIndex(x => x.AccountId);
                c.HasIndex(x => new { x.Name, x.Id });
                c.HasIndex(x => x.ReportsTo).HasFilter("reports_to is not null");
                c.HasOne<Contact>().WithMany().HasForeignKey(x => x.ReportsTo).OnDelete(DeleteBehavior.SetNull);
            }
        );
        builder.Map<ContactAccountRow>(
            "contact_account",
            c =>
            {
                c.HasIndex(x => x.ContactId);
                c.HasIndex(x => x.AccountId);
                c.HasOne<Contact>().WithMany().HasForeignKey(x => x.ContactId).OnDelete(DeleteBehavior.Cascade);
                c.HasOne<Account>().WithMany().HasForeignKey(x => x.AccountId).OnDelete(DeleteBehavior.Cascade);
            }
        );
        builder.Map<HandoverRow>(
            "handover",
            h =>
            {
                h.HasIndex(x => x.LeadId).IsUnique().HasFilter("taken_back_at is null");
                h.HasIndex(x => x.DealId);
                h.HasIndex(x => x.ContactId);
                h.HasIndex(x => x.AccountId).HasFilter("account_id is not null");
                h.HasIndex(x => x.Key).IsUnique().HasFilter("key is not null");
                h.Property(x => x.MadeDeal).HasDefaultValue(true);
                h.Property(x => x.Changes).HasColumnType("jsonb").HasDefaultValueSql("'[]'::jsonb");
                h.Property(x => x.Carried).HasColumnType("jsonb");
            }
        );
    }
}
