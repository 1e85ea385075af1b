using System.Collections.Immutable;
using DapperLantern.App.Data;
using DapperLantern.Core.Intake;

namespace DapperLantern.App.Intake;

/// <summary>Where leads come from. The channel says how: list, form, mail, phone, http.</summary>
public sealed class SourceRow
{
    public string Key { get; set; } = "";
    public string Name { get; set; } = "";
    public string Channel { get; set; } = "";

    /// <summary>The kind of event an arrival through this source is, for engagement.</summary>
    public string EventKind { get; set; } = "";
    public string? Campaign { get; set; }
}

public sealed class CampaignRow
{
    public string Key { get; set; } = "";
    public string Name { get; set; } = "";
    public decimal Cost { get; set; }
    public string Currency { get; set; } = "EUR";
    public DateOnly Starts { get; set; }
    public DateOnly Ends { get; set; }
}

/// <summary>One batch that came through a channel, with the file as it came.</summary>
public sealed class Delivery
{
    public Guid Id { get; set; }
    public string FileName { get; set; } = "";
    public string Source { get; set; } = "";

    /// <summary>sifted, taken, taken_back.</summary>
    public string State { get; set; } = "sifted";
    public DateTime CreatedAt { get; set; }
    public DateTime? TakenAt { get; set; }
    public DateTime? TakenBackAt { get; set; }
    public Guid PersonId { get; set; }
    public byte[] Content { get; set; } = [];

    /// <summary>SHA-256 of the content, to recognise the same file again.</summary>
    public byte[] ContentHash { get; set; } = [];
    public string Encoding { get; set; } = "";
    public string Separator { get; set; } = "";

    /// <summary>JSON list of column matches.</summary>
    public string Matching { get; set; } = "[]";
    public int RowsRead { get; set; }
    public int RowsNew { get; set; }
    public int RowsAdds { get; set; }
    public int RowsAside { get; set; }

    /// <summary>A list as it came, with how it is read and matched; not sifted yet.</summary>
    public static Delivery Of(string fileName, byte[] content, ListReading reading, ImmutableArray<ColumnMatch> matching, string source, Guid person, DateTime at) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            FileName = fileName,
            Source = source,
            CreatedAt = at,
            PersonId = person,
            Content = content,
            ContentHash = ListFile.Hash(content),
            Encoding = reading.Encoding,
            Separator = reading.Separator.ToString(),
            Matching = Json.Write(matching),
        };
}

/// <summary>One row of a delivery, kept as it came, with what was read from it and what it becomes.</summary>
public sealed class Arrival
{
    public Guid DeliveryId { get; set; }

    /// <summary>Position among the rows after the heading, from 1.</summary>
    public int RowNumber { get; set; }
    public string Raw { get; set; } = "";

    /// <summary>JSON: field key to stored value.</summary>
    public string Values { get; set; } = "{}";

    /// <summary>JSON list of problems; a row may carry several.</summary>
    public string Problems { get; set; } = "[]";
    public string Outcome { get; set; } = "";

    /// <summary>For people: why this outcome.</summary>
    public string Reason { get; set; } = "";

    /// <summary>An earlier row of the same file that is the same person.</summary>
    public int? SameAsRow { get; set; }

    /// <summary>The lead it adds to or, once taken in, became.</summary>
    public Guid? LeadId { get; set; }

    /// <summary>JSON: facts this row filled on a lead that was known, so that taking back empties them again.</summary>
    public string? Filled { get; set; }
}
