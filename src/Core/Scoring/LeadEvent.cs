using NodaTime;

namespace DapperLantern.Core.Scoring;

/// <summary>Something a lead did, or that was done with it.</summary>
/// <param name="Kind">As recorded, for instance <c>form.survey</c>.</param>
/// <param name="Detail">The words that identify it: the form, page or asset; empty when there are none.</param>
/// <param name="Direction"><see cref="In"/> or <see cref="Out"/>.</param>
/// <param name="CampaignKind">Kind of the campaign it belongs to; empty for none.</param>
public readonly record struct LeadEvent(string Kind, Instant At, string Detail = "", string Direction = LeadEvent.In, string CampaignKind = "")
{
    /// <summary>True for what shows that somebody is there; taking a consent back does not.</summary>
    public bool IsSign => Kind != Withdrew;

    public const string In = "in";
    public const string Out = "out";

    /// <summary>When somebody withdraws a consent.</summary>
    public const string Withdrew = "consent.withdrawn";
}
