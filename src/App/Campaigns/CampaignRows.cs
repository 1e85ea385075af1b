using DapperLantern.App.Data;
using DapperLantern.Core.Campaigns;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Campaigns;

/// <summary>Something done for some time and for money to bring leads in or back.</summary>
public sealed class CampaignRow
{
    public string Key { get; set; } = "";
    public string Name { get; set; } = "";

    /// <summary>One of <see cref="CampaignKind.All"/>.</summary>
    public string Kind { get; set; } = "other";
    public DateOnly Starts { get; set; }
    public DateOnly Ends { get; set; }

    /// <summary>What it may cost; null while nobody said.</summary>
    public decimal? Budget { get; set; }

    /// <summary>ISO 4217; of the budget and of every cost entry.</summary>
    public string Currency { get; set; } = "EUR";

    /// <summary>How many new people it shall bring; null while nobody said.</summary>
    public int? Target { get; set; }

    /// <summary>Who answers for it.</summary>
    public Guid? OwnerId { get; set; }

    /// <summary>What it is about, for colleagues.</summary>
    public string About { get; set; } = "";

    /// <summary>Offered no more; what came by it keeps it.</summary>
    public bool Retired { get; set; }
    public int Version { get; set; }
}

/// <summary>Money spent on a campaign, in its currency.</summary>
public sealed class CampaignCostRow
{
    public Guid Id { get; set; }
    public string CampaignKey { get; set; } = "";
    public DateOnly SpentOn { get; set; }
    public string What { get; set; } = "";
    public decimal Amount { get; set; }
    public Guid? PersonId { get; set; }
}

/// <summary>One response of one lead to one campaign. Whoever has any is a member.</summary>
public sealed class CampaignResponseRow
{
    public Guid Id { get; set; }
    public string CampaignKey { get; set; } = "";
    public Guid LeadId { get; set; }

    /// <summary>One of <see cref="CampaignResponse.All"/>.</summary>
    public string Response { get; set; } = "";

    /// <summary>True when we knew the lead before this campaign reached it; the same for all of a member's responses.</summary>
    public bool Known { get; set; }
    public DateTime At { get; set; }

    /// <summary>How we know, for people.</summary>
    public string Detail { get; set; } = "";

    /// <summary>The import that brought it, for taking it back.</summary>
    public Guid? ImportId { get; set; }

    /// <summary>Who entered it by hand.</summary>
    public Guid? PersonId { get; set; }

    /// <summary>What was entered by hand at once has the same, for taking it back.</summary>
    public Guid? Entry { get; set; }

    private static readonly BulkTable<CampaignResponseRow> Table = new BulkTable<CampaignResponseRow>("campaign_response")
        .Uuid("id", r => r.Id)
        .Text("campaign_key", r => r.CampaignKey)
        .Uuid("lead_id", r => r.LeadId)
        .Text("response", r => r.Response)
        .Bool("known", r => r.Known)
        .Moment("at", r => r.At)
        .Text("detail", r => r.Detail)
        .Uuid("import_id", r => r.ImportId)
        .Uuid("person_id", r => r.PersonId)
        .Uuid("entry", r => r.Entry);

    /// <summary>Keeps responses within the caller's transaction. A lead that is a member already stays known or new as it was.</summary>
    public static async Task Save(LanternDb db, IReadOnlyList<CampaignResponseRow> responses, CancellationToken cancel)
    {
        if (responses.Count == 0)
            return;
        var members = await Members(db, [.. responses.Where(r => r.Known).Select(r => r.LeadId).Distinct()], cancel);
        foreach (var response in responses)
            if (members.TryGetValue((response.CampaignKey, response.LeadId), out var known))
                response.Known = known;
        await Table.Write(db, responses, cancel);
    }

    // Who just came in is no member of anything yet.
    private static async Task<Dictionary<(string, Guid), bool>> Members(LanternDb db, Guid[] leads, CancellationToken cancel)
    {
        if (leads.Length == 0)
            return [];
        var members = await db.Set<CampaignResponseRow>()
            .Where(r => leads.Contains(r.LeadId))
            .GroupBy(r => new { r.CampaignKey, r.LeadId })
            .Select(g => new
            {
                g.Key.CampaignKey,
                g.Key.LeadId,
                Known = g.All(r => r.Known),
            })
            .ToListAsync(cancel);
        return members.ToDictionary(m => (m.CampaignKey, m.LeadId), m => m.Known);
    }
}
