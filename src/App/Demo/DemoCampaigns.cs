using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.Core.Campaigns;
using DapperLantern.Core.Rights;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Demo;

/// <summary>What people did about the demo's campaigns: those they brought in, and those we knew and wrote to.</summary>
internal static class DemoCampaigns
{
    public static async Task KeepResponses(LanternDb db, DemoSetup setup, DateTime now)
    {
        var leads = await db.Set<Lead>().Select(x => new LeadOf(x.Id, x.Number, x.Campaign, x.CreatedAt)).ToListAsync();
        var kinds = setup.Campaigns.ToDictionary(c => c.Key, c => CampaignKind.ResponseOf(c.Kind));
        var came = leads.Where(l => l.Campaign is not null).Select(l => Said(l.Campaign!, l.Id, kinds[l.Campaign!], false, l.At, "As they came in"));
        var reached = setup.Campaigns.Where(c => c.Reach is not null).SelectMany(c => Reached(c, now.AddDays(-c.Reach!.DaysAgo), leads));
        await CampaignResponseRow.Save(db, [.. came, .. reached], default);
    }

    // By the lead's number, so that the same day gives the same demo.
    private static IEnumerable<CampaignResponseRow> Reached(DemoCampaign campaign, DateTime at, List<LeadOf> leads)
    {
        var reach = campaign.Reach!;
        foreach (var lead in leads.Where(l => l.At < at && l.Campaign != campaign.Key))
        {
            var turn = lead.Number * 37 % 100;
            if (turn >= reach.Sent)
                continue;
            yield return Said(campaign.Key, lead.Id, CampaignResponse.Sent, true, at, "Sending");
            foreach (var (response, share, hours) in new[] { ("opened", reach.Opened, 9), ("clicked", reach.Clicked, 10), ("answered", reach.Answered, 50) })
                if (turn < share)
                    yield return Said(campaign.Key, lead.Id, response, true, at.AddHours(hours + (turn % 30)), "Told by the sending");
            if (turn >= reach.Sent - reach.Declined)
                yield return Said(campaign.Key, lead.Id, "declined", true, at.AddHours(30), "Told by the sending");
        }
    }

    private static CampaignResponseRow Said(string campaign, Guid lead, string response, bool known, DateTime at, string detail) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            CampaignKey = campaign,
            LeadId = lead,
            Response = response,
            Known = known,
            At = at,
            Detail = detail,
        };

    private sealed record LeadOf(Guid Id, int Number, string? Campaign, DateTime At);
}
