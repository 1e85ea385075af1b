using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Campaigns;

/// <summary>How somebody stands to a campaign, or what they did about it. A campaign's member is whoever has at least one.</summary>
/// <param name="Key">Stable name.</param>
/// <param name="EventKind">What it counts as for engagement; null for what we do and they do not: sending is no sign of interest.</param>
/// <param name="AlsoCalled">Other spellings in lists, in five languages.</param>
public sealed record CampaignResponse(string Key, string Label, string? EventKind, ImmutableArray<string> AlsoCalled)
{
    /// <summary>Chosen to be addressed, and not addressed yet.</summary>
    public const string Planned = "planned";

    /// <summary>Addressed by us.</summary>
    public const string Sent = "sent";

    /// <summary>True for what they did themselves.</summary>
    public bool IsTheirs => EventKind is not null;

    /// <summary>In the order in which they usually come. A new one is a line here.</summary>
    public static ImmutableArray<CampaignResponse> All { get; } =
    [
        Ours(Planned, "To be addressed", "planned|target|vorgesehen|prevu|previsto|planlagt"),
        Ours(Sent, "Sent", "sent|mailed|delivered|invited|gesendet|verschickt|eingeladen|envoye|invite|enviado|invitado|sendt|invitert"),
        Ours("bounced", "Came back", "bounced|bounce|returned|undeliverable|unzustellbar|zuruck|non distribue|devuelto|rebotado|retur"),
        Theirs("opened", "Opened", "mail.opened", "open|read|geoffnet|gelesen|ouvert|lu|abierto|leido|apnet|lest"),
        Theirs("clicked", "Clicked", "link.clicked", "click|clicks|geklickt|clique|clic|clicado|klikket"),
        Theirs("downloaded", "Downloaded", "asset.downloaded", "download|heruntergeladen|telecharge|descargado|lastet ned"),
        Theirs("registered", "Registered", "event.registered", "registered|signed up|enrolled|registration|angemeldet|registriert|inscrit|inscrito|registrado|pameldt"),
        Theirs("attended", "Attended", "event.attended", "attended|present|participated|joined|teilgenommen|anwesend|participe|present e|asistio|asistido|deltok|deltatt"),
        Theirs("visited", "Visited us", "stand.visit", "visited|visit|stand visit|booth visit|besucht|visite|visito|visitado|besokt"),
        Theirs("answered", "Answered", "campaign.answered", "answered|answer|replied|reply|responded|response|geantwortet|antwort|repondu|respondio|contestado|svart"),
        Theirs("declined", "Declined", "campaign.declined", "declined|refused|not interested|no interest|abgelehnt|kein interesse|decline|refuse|rechazado|sin interes|avslatt"),
    ];

    private static readonly Dictionary<string, CampaignResponse> ByKey = All.ToDictionary(r => r.Key);

    public static CampaignResponse? Find(string? key) => key is null ? null : ByKey.GetValueOrDefault(key);

    /// <summary>As the values of a field.</summary>
    public static ImmutableArray<Choice> Choices { get; } = [.. All.Select(r => new Choice(r.Key, r.Label, r.AlsoCalled))];

    private static CampaignResponse Ours(string key, string label, string also) => new(key, label, null, [.. also.Split('|')]);

    private static CampaignResponse Theirs(string key, string label, string kind, string also) => new(key, label, kind, [.. also.Split('|')]);
}

/// <summary>A kind of campaign, and what somebody who comes in by one has done unless more is said.</summary>
public sealed record CampaignKind(string Key, string Label, string Response)
{
    /// <summary>A new one is a line here.</summary>
    public static ImmutableArray<CampaignKind> All { get; } =
    [
        new("fair", "Trade fair", "visited"),
        new("webinar", "Webinar", "attended"),
        new("event", "Own event", "attended"),
        new("mailing", "Mailing", "answered"),
        new("guide", "Guide or paper", "downloaded"),
        new("search", "Search", "clicked"),
        new("advert", "Advertisement", "answered"),
        new("calls", "Calling round", "answered"),
        new("partner", "With a partner", "answered"),
        new("other", "Other", "answered"),
    ];

    public static CampaignKind? Find(string key) => All.FirstOrDefault(k => k.Key == key);

    /// <summary>The response of an arrival that names none; "answered" for a kind there is not.</summary>
    public static string ResponseOf(string kind) => Find(kind)?.Response ?? "answered";
}
