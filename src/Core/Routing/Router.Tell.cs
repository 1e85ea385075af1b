using System.Collections.Immutable;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Routing;

/// <summary>What a rule that was asked says of a lead.</summary>
/// <param name="Failed">What kept it from holding, in words; null where it holds.</param>
public sealed record RuleVerdict(int Rule, string Key, string Name, string? Failed);

/// <summary>The words of a decision. They tell the steps that were taken, so they cannot say anything else than what happened.</summary>
public sealed partial class Router
{
    private ImmutableArray<Func<RecordValues, Instant, string?>> _failures;

    /// <summary>The reasons, in the order in which they were met; the last one decided.</summary>
    public ImmutableArray<TraceLine> Explain(RoutingDecision decision, RecordValues lead)
    {
        var last = decision.Steps.Length - 1;
        return [.. decision.Steps.Select((step, i) => new TraceLine(Words(step, lead), i == last, step.Kind, step.Rep?.Id))];
    }

    /// <summary>The rules in order up to the first that holds: why each of those before it did not.</summary>
    public IEnumerable<RuleVerdict> Verdicts(RecordValues lead, string moment, Instant now)
    {
        if (_failures.IsDefault)
            _failures = [.. Sheet.Rules.Select(r => ConditionWords.FirstFailure(r.When, Catalogue))];
        for (var i = 0; i < Sheet.Rules.Length; i++)
        {
            var rule = Sheet.Rules[i];
            var failed = rule.HoldsAt(moment) ? _failures[i](lead, now) : $"holds {string.Join(" or ", rule.Moments.Select(MomentWords))} only";
            yield return new RuleVerdict(i, rule.Key, rule.Name, failed);
            if (failed is null)
                yield break;
        }
    }

    private static string MomentWords(string moment) => RoutingMoment.Choices.FirstOrDefault(c => c.Key == moment)?.Label.ToLowerInvariant() ?? moment;

    private string Words(TraceStep step, RecordValues lead) =>
        step switch
        {
            { Kind: TraceKind.Guard, Rep: { } owner } => step.Why == PassOver.No ? $"{owner.Name} {step.Words}." : $"{owner.Name} {step.Words}, but {Why(step.Why, owner)}.",
            { Kind: TraceKind.Rule, Rule: >= 0 } => $"Rule {step.Rule + 1}, {Sheet.Rules[step.Rule].Name}, fits{Met(Sheet.Rules[step.Rule], lead)}.",
            { Kind: TraceKind.Candidate, Rep: { } rep, Words.Length: > 0 } => step.Why == PassOver.No
                ? $"{rep.Name} {step.Words}."
                : $"{rep.Name} {step.Words}, but {Why(step.Why, rep)}.",
            { Kind: TraceKind.Candidate, Rep: { } rep } => $"{rep.Name} {Why(step.Why, rep)} and is passed over.",
            { Team: { } team, Rep: { } rep } => $"{team.Name} in turn, and it is {rep.Name}\u2019s turn.",
            { Team: { } team } => $"Nobody in {team.Name} can take it.",
            { Words.Length: > 0 } => step.Words,
            { Rep: { } rep } => $"To {rep.Name}.",
            _ => "",
        };

    // "country Norway, fit 82": the values the rule asked for.
    private string Met(Rule rule, RecordValues lead)
    {
        var met = ConditionFields
            .Of(rule.When)
            .Select(key => Catalogue.Find(key))
            .OfType<FieldDefinition>()
            .Select(f => $"{ConditionWords.LabelOf(f)} {(lead[f.Ordinal] is { IsKnown: true } value ? f.Show(value.ToString()) : "not known")}");
        return string.Join(", ", met) is { Length: > 0 } words ? $" ({words})" : "";
    }

    /// <summary>Why somebody is passed over, to stand behind the name.</summary>
    public static string Why(PassOver why, Rep rep) =>
        why switch
        {
            PassOver.Gone => "is no longer here",
            PassOver.HadIt => "had it before",
            PassOver.Away => rep.AwayUntil is { } until ? $"is away until {until.InUtc().Date:uuuu-MM-dd}" : "is away",
            PassOver.Place => "does not serve the place",
            PassOver.Language => "does not speak the language",
            PassOver.Skill => "lacks a skill it needs",
            PassOver.Full => $"has {rep.Open} of {rep.Capacity} leads",
            PassOver.FullToday => $"got {rep.Today} today",
            PassOver.OffHours => "is not at work just now",
            _ => "",
        };
}
