using System.Collections.Immutable;

namespace DapperLantern.Core.Campaigns;

/// <summary>How many people gave a response: of those known before the campaign reached them, and of those it brought in. Each person counts once.</summary>
public readonly record struct ResponseCount(string Response, int Known, int Fresh)
{
    public int People => Known + Fresh;
}

/// <summary>A response with its rates.</summary>
/// <param name="KnownShare">Of all known members, 0 to 1; null when there is none.</param>
/// <param name="FreshShare">Of all members the campaign brought in, 0 to 1; null when there is none.</param>
public sealed record ResponseRate(string Response, int Known, double? KnownShare, int Fresh, double? FreshShare)
{
    public int People => Known + Fresh;
}

/// <summary>Rates of a campaign's responses, in the order in which responses usually come; those nobody gave are left out.</summary>
public static class ResponseRates
{
    /// <param name="members">All members, known and fresh, whatever they did.</param>
    public static ImmutableArray<ResponseRate> Of(ResponseCount members, IEnumerable<ResponseCount> counts)
    {
        var byKey = counts.ToDictionary(c => c.Response);
        return
        [
            .. CampaignResponse
                .All.Where(r => byKey.TryGetValue(r.Key, out var count) && count.People > 0)
                .Select(r => byKey[r.Key])
                .Select(c => new ResponseRate(c.Response, c.Known, Share(c.Known, members.Known), c.Fresh, Share(c.Fresh, members.Fresh))),
        ];
    }

    private static double? Share(int part, int whole) => whole == 0 ? null : (double)part / whole;
}
