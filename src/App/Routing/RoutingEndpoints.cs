using System.Collections.Frozen;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Routing;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Routing;

/// <param name="Cells">What the rule wants of each column, in words; blank where it does not ask.</param>
/// <param name="To">Where it sends them, in words.</param>
public sealed record RuleWords(IReadOnlyList<string> Cells, string To);

/// <summary>A sheet with its rules in words.</summary>
public sealed record SheetView(RuleSheet Sheet, IReadOnlyList<RuleWords> Words);

/// <summary>A sheet being worked on.</summary>
/// <param name="Version">Row version, for If-Match.</param>
public sealed record DraftSheet(int Number, int Version, string Note, SheetView Shown);

/// <param name="Given30Days">Leads given in the last 30 days, with the mean of their fit and engagement as they are now.</param>
/// <param name="Next">True for whose turn it is.</param>
public sealed record MemberView(
    Guid Id,
    string Name,
    int Weight,
    int Open,
    int Capacity,
    bool Away,
    DateTime? AwayUntil,
    string? StandIn,
    int Given30Days,
    double MeanFit,
    double MeanEngagement,
    bool Next,
    IReadOnlyList<string> Languages,
    IReadOnlyList<string> Skills,
    IReadOnlyList<string> Serves
);

public sealed record TeamView(string Key, string Name, bool OnlyInHours, IReadOnlyList<MemberView> Members);

public sealed record WaitingLead(Guid Id, int Number, string Name, string? Country, DateTime Since);

/// <summary>Somebody or something a rule may name.</summary>
public sealed record Named([Text(100)] string Key, [Text(60)] string Name);

/// <summary>What rules may name.</summary>
public sealed record RuleNames(
    IReadOnlyList<Named> Persons,
    IReadOnlyList<Named> Teams,
    IReadOnlyList<Named> Skills,
    IReadOnlyList<Named> Moments,
    IReadOnlyList<Named> Guards,
    IReadOnlyList<Named> OnExpiry
);

/// <param name="Hits">Leads of the last 90 days by key of the rule that decided.</param>
/// <param name="Draft">Null where nobody works on one.</param>
public sealed record RoutingView(
    int Edition,
    DateTime PublishedAt,
    string? PublishedBy,
    SheetView Live,
    DraftSheet? Draft,
    IReadOnlyDictionary<string, int> Hits,
    int GuardHits,
    int NoRule,
    IReadOnlyList<TeamView> Teams,
    IReadOnlyList<WaitingLead> Waiting,
    RuleNames Names
);

public static class RoutingEndpoints
{
    public static void MapRouting(this IEndpointRouteBuilder api) =>
        api.MapGet("/routing", Show).Requires(Act.SeeRouting).WithTags("Routing").WithSummary("The live rule sheet, its draft, the teams and what waits");

    private static async Task<Ok<RoutingView>> Show(LanternDb db, RecordScope scope, Workspace workspace, TimeProvider clock) =>
        TypedResults.Ok(await View(db, scope, workspace, clock.UtcNow()));

    internal static async Task<RoutingView> View(LanternDb db, RecordScope scope, Workspace workspace, DateTime now)
    {
        var live = await workspace.Rules(db);
        var desk = await RoutingContext.Open(db, now, hold: false);
        var (published, by) = await Editions.Published(db, live.Edition);
        var since = now.AddDays(-90);
        var hits = await db.Set<RoutingDecisionRow>()
            .Where(d => d.At > since && d.Moment != "hand")
            .GroupBy(d => new { d.Rule, Owned = d.OwnerId != null })
            .Select(g => new
            {
                g.Key.Rule,
                g.Key.Owned,
                Count = g.Count(),
            })
            .ToListAsync();
        return new RoutingView(
            live.Number,
            published,
            by,
            SheetWords.Of(live.Router.Sheet, workspace.Catalogue, desk),
            await Draft(db, workspace, desk),
            hits.Where(h => h.Rule is not null).GroupBy(h => h.Rule!).ToDictionary(g => g.Key, g => g.Sum(h => h.Count)),
            hits.Where(h => h.Rule is null && h.Owned).Sum(h => h.Count),
            hits.Where(h => h.Rule is null && !h.Owned).Sum(h => h.Count),
            await Teams(db, desk, now),
            await Waiting(db, scope),
            Names(desk, workspace)
        );
    }

    internal static async Task<DraftSheet?> Draft(LanternDb db, Workspace workspace, RoutingContext desk) =>
        await Editions.Draft(db, Edition.Rules) is { } d
            ? new DraftSheet(d.Number, d.Version, d.Note, SheetWords.Of(Json.Read<RuleSheet>(d.Body), workspace.Catalogue, desk))
            : null;

    private static async Task<List<WaitingLead>> Waiting(LanternDb db, RecordScope scope)
    {
        var waiting = await db.Rows<WaitingLead>(
            $"""
            select l.id, l.number, {scope.LeadName("l"):sql} as name, l.country, l.created_at as since
            from lead l where l.owner_id is null and l.state in ('new', 'in_work') and {scope.Sees("lead", "l"):sql} order by l.created_at limit 50
            """
        );
        return [.. waiting.Select(w => w with { Country = w.Country is null ? null : Countries.NameOf(w.Country) })];
    }

    private static RuleNames Names(RoutingContext desk, Workspace workspace) =>
        new(
            [.. desk.Reps.Values.Where(r => r.Here).OrderBy(r => r.Name).Select(r => new Named(r.SignIn, r.Name))],
            [.. desk.Teams.Select(t => new Named(t.Key, t.Name))],
            [.. workspace.Skills.Select(s => new Named(s.Key, s.Label))],
            [.. RoutingMoment.Choices.Select(c => new Named(c.Key, c.Label))],
            [.. Guard.Kinds.Select(c => new Named(c.Key, c.Label))],
            [.. ClockTerms.Choices.Select(c => new Named(c.Key, c.Label))]
        );

    private static async Task<List<TeamView>> Teams(LanternDb db, RoutingContext desk, DateTime now)
    {
        var since = now.AddDays(-30);
        var recent = await db.Set<RoutingDecisionRow>()
            .Where(d => d.At > since && d.OwnerId != null)
            .Join(
                db.Set<Lead>().TagWith("unscoped: means of what teams were given"),
                d => d.LeadId,
                l => l.Id,
                (d, l) =>
                    new
                    {
                        Owner = d.OwnerId!.Value,
                        l.Fit,
                        l.Engagement,
                    }
            )
            .GroupBy(d => d.Owner)
            .Select(g => new GivenLately(g.Key, g.Count(), g.Average(d => (double?)d.Fit) ?? 0, g.Average(d => (double?)d.Engagement) ?? 0))
            .ToDictionaryAsync(r => r.Owner);
        return [.. desk.Teams.Select(team => ViewOf(team, desk, recent))];
    }

    private static TeamView ViewOf(Team team, RoutingContext desk, Dictionary<Guid, GivenLately> recent)
    {
        var needs = LeadNeeds.None with { InHours = team.OnlyInHours };
        var next = Turns.Next(team.Turns, id => needs.Refuses(desk.Reps.GetValueOrDefault(id)) == PassOver.No).Pick;
        return new TeamView(team.Key, team.Name, team.OnlyInHours, [.. team.Turns.Where(t => desk.Reps.ContainsKey(t.Rep)).Select(Member)]);

        MemberView Member(Turn turn)
        {
            var rep = desk.Reps[turn.Rep];
            var got = recent.GetValueOrDefault(rep.Id);
            return new MemberView(
                rep.Id,
                rep.Name,
                turn.Weight,
                rep.Open,
                rep.Capacity,
                rep.Away,
                rep.AwayUntil?.ToUtc(),
                rep.StandIn is { } id ? desk.Reps.GetValueOrDefault(id)?.Name : null,
                got?.Count ?? 0,
                got?.Fit ?? 0,
                got?.Engagement ?? 0,
                rep.Id == next,
                [.. rep.Languages.Order()],
                [.. rep.Skills.Order()],
                [.. rep.Serves.Order()]
            );
        }
    }

    private sealed record GivenLately(Guid Owner, int Count, double Fit, double Engagement);
}
