using System.Text.Json.Serialization;
using DapperLantern.App.Data;

namespace DapperLantern.App.Intake.Http;

/// <summary>A consent as it was given elsewhere.</summary>
/// <param name="Purpose">Key of a purpose of this workspace.</param>
/// <param name="Wording">The words agreed to.</param>
public sealed record SentConsent([Text(100)] string Purpose, [Text(2_000)] string Wording);

/// <summary>A person, as another system sends one.</summary>
/// <param name="Facts">Written values by field key, read like those of a list: "Norge" is a country, "406 12 345" with it a number.</param>
/// <param name="Campaign">Key or name of a campaign; the source's own when null.</param>
/// <param name="Labels">What came along: page, referrer, link parameters; at most 40.</param>
/// <param name="Detail">A line for the story on what they did.</param>
/// <param name="Response">What they did about the campaign: opened, clicked, downloaded, registered, attended, visited, answered or declined; what its kind suggests when null.</param>
public sealed record SentLead(
    [Count(1_000, Each = 10_000)] IReadOnlyDictionary<string, string> Facts,
    [Text(200)] string? Campaign = null,
    [Count(40, Each = 500)] IReadOnlyDictionary<string, string>? Labels = null,
    [Count(100)] IReadOnlyList<SentConsent>? Consents = null,
    [Text(500)] string? Detail = null,
    [Text(100)] string? Response = null
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
    [Text(60)] string? Kind = null,
    Guid? Lead = null,
    [Text(500)] string? Email = null,
    [Text(100)] string? Phone = null,
    DateTimeOffset? At = null,
    [Text(500)] string? Detail = null,
    [Text(200)] string? Campaign = null,
    [Text(100)] string? Response = null
);

/// <summary>The lead an event was kept with.</summary>
public sealed record EventKept(Guid Lead, bool Again);

/// <summary>One of both. Each item is checked by itself, so that a wrong one costs that one.</summary>
public sealed record BatchItem(SentLead? Lead = null, SentEvent? Event = null);

/// <summary>Up to 1,000 items.</summary>
public sealed record SentBatch([Count(1_000)] IReadOnlyList<BatchItem> Items);

/// <summary>What is wrong with an item: a stable code, the field, a sentence.</summary>
public sealed record ItemProblem(string Code, string? Field, string Sentence)
{
    public static ItemProblem Of(Problem problem) => new(problem.Code, problem.Path.Length > 0 ? problem.Path : null, problem.Words);
}

/// <summary>The result of the item at the same place. <see cref="Status"/> is what it would have been as a call of its own.</summary>
public sealed record ItemResult(int Status, SentResult? Lead = null, EventKept? Event = null, ItemProblem? Problem = null)
{
    /// <summary>Null unless the item was refused.</summary>
    [JsonIgnore]
    internal Core.Problems.Problem? Refusal { get; private init; }

    public static ItemResult Of(Core.Problems.Problem problem) => new(ApiProblems.StatusOf(problem.Kind), Problem: ItemProblem.Of(problem)) { Refusal = problem };
}

public sealed record BatchResult(IReadOnlyList<ItemResult> Results);
