namespace DapperLantern.App.Handover;

/// <summary>An organisation or household.</summary>
public sealed class Account
{
    public Guid Id { get; set; }
    public string Name { get; set; } = "";
    public string? CompanyKey { get; set; }
    public string? Domain { get; set; }
    public string? Country { get; set; }
    public Guid? OwnerId { get; set; }
    public DateTime CreatedAt { get; set; }

    /// <summary>JSON: catalogue key to stored value.</summary>
    public string Facts { get; set; } = "{}";
}

/// <summary>A person, with or without an account.</summary>
public sealed class Contact
{
    public Guid Id { get; set; }
    public Guid? AccountId { get; set; }
    public string Name { get; set; } = "";
    public string? Email { get; set; }
    public string? Phone { get; set; }
    public Guid? OwnerId { get; set; }
    public DateTime CreatedAt { get; set; }
    public string Facts { get; set; } = "{}";
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

    /// <summary>Facts of the account before, when it existed; JSON.</summary>
    public string? AccountBefore { get; set; }
    public string? ContactBefore { get; set; }
    public DateTime At { get; set; }
    public Guid PersonId { get; set; }
    public DateTime? TakenBackAt { get; set; }
}
