using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Deals;

/// <summary>What of a deal decides whether it may enter a stage.</summary>
/// <param name="Roles">Keys of the roles people have on it.</param>
/// <param name="Facts">Keys of the deal's fields that are known.</param>
public sealed record DealSnapshot(decimal Amount, int Products, bool HasNextStep, IReadOnlySet<string> Roles, bool HasCompetitor, IReadOnlySet<string> Facts);

/// <summary>
/// What must be known before a deal enters a stage: one of the needs here, <c>role:KEY</c> for somebody with that role, or <c>fact:KEY</c>
/// for a field of the deal.
/// </summary>
public static class StageNeeds
{
    public const string Amount = "amount";
    public const string Products = "products";
    public const string NextStep = "next_step";
    public const string Competitor = "competitor";
    private const string Role = "role:";
    private const string Fact = "fact:";

    private static readonly ImmutableArray<Choice> Ours =
    [
        new(Amount, "An amount over 0"),
        new(Products, "At least one product"),
        new(NextStep, "A next step"),
        new(Competitor, "A competitor named"),
    ];

    /// <summary>All that a stage may need.</summary>
    public static ImmutableArray<Choice> All(IEnumerable<Choice> roles, IEnumerable<FieldDefinition> facts) =>
        [.. Ours, .. roles.Select(r => new Choice(Role + r.Key, $"Somebody as {r.Label.ToLowerInvariant()}")), .. facts.Select(f => new Choice(Fact + f.Key, $"{f.Label} known"))];

    /// <summary>What is missing, as it is called in <paramref name="all"/>. A need nobody can meet any more, since its role or field is gone, is passed over.</summary>
    public static IReadOnlyList<string> Missing(IEnumerable<string> needs, DealSnapshot deal, IReadOnlyCollection<Choice> all) =>
        [.. needs.Where(n => !Met(n, deal)).Select(n => all.FirstOrDefault(c => c.Key == n)?.Label).OfType<string>()];

    private static bool Met(string need, DealSnapshot deal) =>
        need switch
        {
            Amount => deal.Amount > 0,
            Products => deal.Products > 0,
            NextStep => deal.HasNextStep,
            Competitor => deal.HasCompetitor,
            _ when need.StartsWith(Role, StringComparison.Ordinal) => deal.Roles.Contains(need[Role.Length..]),
            _ when need.StartsWith(Fact, StringComparison.Ordinal) => deal.Facts.Contains(need[Fact.Length..]),
            _ => true,
        };
}
