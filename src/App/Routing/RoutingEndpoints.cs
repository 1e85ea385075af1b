using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Routing;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Routing;

/// <param name="Cells">What the rule wants of each column, in words; blank where it does not ask.</param>
/// <param name="Hits">Leads of the last 90 days this rule decided.</param>
public sealed record RuleView(string Key, string Name, IReadOnlyList<string> Cells, string To, int AnswerWithinMinutes, int Hits);

public sealed record MemberView(Guid Id, string Name, int Weight, int Open, int Capacity, bool Away, int Last30Days, bool Next);

public sealed record TeamView(string Key, string Name, IReadOnlyList<MemberView> Members);

public sealed record WaitingLead(Guid Id, int Number, string Name, string? Country, DateTime Since);

public sealed record RoutingView(
    int Edition,
    IReadOnlyList<string> Columns,
    IReadOnlyList<RuleView> Rules,
    IReadOnlyList<TeamView> Teams,
    int GuardHits,
    int NoRule,
    IReadOnlyList<WaitingLead> Waiting
);

public static class RoutingEndpoints
{
    public static void MapRouting(this IEndpointRouteBuilder api) =>
        api.MapGet("/routing", Live).Requires(Act.SeeRouting).WithTags("Routing").WithSummary("The live rule sheet, the teams and what waits");

    private static async Task<Ok<RoutingView>> Live(LanternDb db, Installation installation, TimeProvider clock)
    {
        var now = clock.UtcNow();
        var connection = await db.Connection();
        var live = await installation.Rules(connection);
        var desk = await RoutingDesk.Open(connection, now, hold: false);
        var hits = (
            await connection.QueryAsync<(string? Rule, bool Owned, int Count)>(
                "select rule, owner_id is not null, count(*)::int from routing_decision where at > @since group by 1, 2",
                new { since = now.AddDays(-90) }
            )
        ).ToList();
        var recent = (
            await connection.QueryAsync<(Guid Owner, int Count)>(
                "select owner_id, count(*)::int from routing_decision where at > @since and owner_id is not null group by 1",
                new { since = now.AddDays(-30) }
            )
        ).ToDictionary(r => r.Owner, r => r.Count);
        var waiting = await connection.QueryAsync<WaitingLead>(
            """
            select id, number, coalesce(nullif(trim(concat_ws(' ', first_name, last_name)), ''), company, email, phone) as name, country, created_at as since
            from lead where owner_id is null and state in ('new', 'in_work') order by created_at limit 50
            """
        );
        var sheet = live.Router.Sheet;
        var rules = sheet.Rules.Select(r => new RuleView(
            r.Key,
            r.Name,
            [.. sheet.Columns.Select(c => Cell(r.When, c, installation.Catalogue))],
            To(r.To, desk),
            r.AnswerWithinMinutes ?? sheet.AnswerWithinMinutes,
            hits.Where(h => h.Rule == r.Key).Sum(h => h.Count)
        ));
        var teams = desk.Teams.Values.OrderBy(t => t.Name).Select(t => Team(t, desk, recent));
        return TypedResults.Ok(
            new RoutingView(
                live.Number,
                [.. sheet.Columns.Select(c => installation.Catalogue[c].Label)],
                [.. rules],
                [.. teams],
                hits.Where(h => h.Rule is null && h.Owned).Sum(h => h.Count),
                hits.Where(h => h.Rule is null && !h.Owned).Sum(h => h.Count),
                [.. waiting.Select(w => w with { Country = w.Country is null ? null : Countries.NameOf(w.Country) })]
            )
        );
    }

    private static string Cell(Condition when, string column, FieldCatalogue catalogue)
    {
        var parts = when is AllOf all ? all.Parts : [when];
        var own = parts.Where(p => ConditionFields.Of(p).ToList() is [var only] && only == column);
        var label = catalogue[column].Label.ToLowerInvariant();
        return string.Join(
            ", ",
            own.Select(p => ConditionWords.Sentence(p, catalogue).Replace($"{label} is ", "", StringComparison.Ordinal).Replace($"{label} ", "", StringComparison.Ordinal))
        );
    }

    private static string To(Outcome to, RoutingDesk desk) =>
        to switch
        {
            { Person: { } signIn } => desk.Reps.Values.FirstOrDefault(r => r.SignIn == signIn)?.Name ?? $"{signIn}, who is no longer here",
            { Team: { } key } => desk.Teams.TryGetValue(key, out var team) ? $"{team.Name}, in turn" : $"{key}, which no longer exists",
            _ => $"The Desk: {to.Hold}",
        };

    private static TeamView Team(Team team, RoutingDesk desk, Dictionary<Guid, int> recent)
    {
        var next = Turns.Next(team.Turns, id => desk.Reps[id].Available).Pick;
        return new TeamView(
            team.Key,
            team.Name,
            [
                .. team
                    .Turns.Select(t => (Turn: t, Rep: desk.Reps[t.Rep]))
                    .Select(m => new MemberView(m.Rep.Id, m.Rep.Name, m.Turn.Weight, m.Rep.Open, m.Rep.Capacity, m.Rep.Away, recent.GetValueOrDefault(m.Rep.Id), m.Rep.Id == next)),
            ]
        );
    }
}
