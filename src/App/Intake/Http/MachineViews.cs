namespace DapperLantern.App.Intake.Http;

/// <summary>A consent as it was given elsewhere.</summary>
/// <param name="Purpose">Key of a purpose of this workspace.</param>
/// <param name="Wording">The words agreed to.</param>
public sealed record SentConsent(string Purpose, string Wording);

/// <summary>A person, as another system sends one.</summary>
/// <param name="Facts">Written values by field key, read like those of a list: "Norge" is a country, "406 12 345" with it a number.</param>
/// <param name="Campaign">Key or name of a campaign; the source's own when null.</param>
/// <param name="Labels">What came along: page, referrer, link parameters; at most 40.</param>
/// <param name="Detail">A line for the story on what they did.</param>
/// <param name="Response">What they did about the campaign: opened, clicked, downloaded, registered, attended, visited, answered or declined; what its kind suggests when null.</param>
public sealed record SentLead(
    IReadOnlyDictionary<string, string> Facts,
    string? Campaign = null,
    IReadOnlyDictionary<string, string>? Labels = null,
    IReadOnlyList<SentConsent>? Consents = null,
    string? Detail = null,
    string? Response = null
);

/// <summary>What became of a sent person. <see cref="State"/>: taken or waiting. <see cref="Outcome"/>: new, contact, account, adds or barred.</summary>
/// <param name="Lead">The lead made or found; null while it waits.</param>
public sealed record SentResult(Guid Arrival, string State, string Outcome, string Reason, Guid? Lead, int? Number);

/// <summary>Something a person did.</summary>
/// <param name="Lead">The lead, or</param>
/// <param name="Email">its email address, or</param>
/// <param name="Phone">its number with country code.</param>
/// <param name="Kind">As the scoring model knows it, for instance page.viewed: small letters, digits, dot, underscore. May be null where <paramref name="Response"/> is given: then the response says what it counts as.</param>
/// <param name="At">When; now when null. Not in the future, not older than ten years.</param>
/// <param name="Campaign">Key or name of the campaign it is about.</param>
/// <param name="Response">How they stand to that campaign: planned, sent, bounced, opened, clicked, downloaded, registered, attended, visited, answered or declined. The first three are no deeds of theirs and count nothing.</param>
public sealed record SentEvent(
    string? Kind = null,
    Guid? Lead = null,
    string? Email = null,
    string? Phone = null,
    DateTimeOffset? At = null,
    string? Detail = null,
    string? Campaign = null,
    string? Response = null
);

/// <summary>The lead an event was kept with.</summary>
public sealed record EventKept(Guid Lead, bool Again);

/// <summary>One of both.</summary>
public sealed record BatchItem(SentLead? Lead = null, SentEvent? Event = null);

/// <summary>Up to 1,000 items.</summary>
public sealed record SentBatch(IReadOnlyList<BatchItem> Items);

/// <summary>What is wrong with an item: a stable code, the field, a sentence.</summary>
public sealed record ItemProblem(string Code, string? Field, string Sentence);

/// <summary>The result of the item at the same place. <see cref="Status"/> is what it would have been as a call of its own.</summary>
public sealed record ItemResult(int Status, SentResult? Lead = null, EventKept? Event = null, ItemProblem? Problem = null);

public sealed record BatchResult(IReadOnlyList<ItemResult> Results);
