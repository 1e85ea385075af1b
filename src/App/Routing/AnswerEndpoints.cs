using DapperLantern.App.Data;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Routing;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Routing;

public sealed record AnswerLine(string Key, string Name, AnswerTimes Times);

/// <param name="Days">Of leads that were given in so many days.</param>
public sealed record AnswerView(int Days, AnswerTimes All, IReadOnlyList<AnswerLine> Reps, IReadOnlyList<AnswerLine> Teams, IReadOnlyList<AnswerLine> Sources);

/// <summary>How soon leads are answered, in the working hours of who has them.</summary>
public static class AnswerEndpoints
{
    private const int MostDays = 366;

    public static void MapAnswers(this IEndpointRouteBuilder api) =>
        api.MapGet("/routing/answers", Answers)
            .Requires(Act.SeeReports)
            .WithTags("Routing")
            .WithSummary("Median and 90th percentile of the time to answer, and the share kept, by rep, team and source");

    private static async Task<Ok<AnswerView>> Answers(int? days, LanternDb db, RecordScope scope, Workspace workspace, TimeProvider clock)
    {
        var (asked, now) = (Math.Clamp(days ?? 90, 1, MostDays), clock.UtcNow());
        var leads = await db.Rows<GivenLead>(
            $"""
            select l.owner_id as owner, l.source, l.clock_started_at as started, l.answered_at as answered, coalesce(l.answered_in_time, case when l.clock_due_at < {now} then false end) as in_time
              from lead l where l.clock_started_at > {now.AddDays(
                -asked
            )} and l.owner_id is not null and (l.answered_at is not null or l.clock_due_at is not null) and {scope.Sees("lead", "l"):sql}
            """
        );
        var names = await Person.Names(db);
        var sources = await db.Set<SourceRow>().Select(x => new { x.Key, x.Name }).ToDictionaryAsync(s => s.Key, s => s.Name);
        var teams = await db.Set<TeamRow>()
            .Join(
                db.Set<TurnRow>(),
                t => t.Key,
                m => m.TeamKey,
                (t, m) =>
                    new
                    {
                        t.Key,
                        t.Name,
                        Person = m.PersonId,
                    }
            )
            .ToListAsync();
        var times = leads.ConvertAll(l => (Lead: l, Time: (Minutes(l, workspace), l.InTime)));
        return TypedResults.Ok(
            new AnswerView(
                asked,
                AnswerTimes.Of(times.Select(t => t.Time)),
                Lines(times.GroupBy(t => t.Lead.Owner).Select(g => (g.Key.ToString(), names.GetValueOrDefault(g.Key, ""), g.Select(t => t.Time)))),
                Lines(
                    teams
                        .GroupBy(t => (t.Key, t.Name))
                        .Select(team => (team.Key.Key, team.Key.Name, times.Where(t => team.Any(m => m.Person == t.Lead.Owner)).Select(t => t.Time)))
                        .Where(team => team.Item3.Any())
                ),
                Lines(times.GroupBy(t => t.Lead.Source).Select(g => (g.Key, sources.GetValueOrDefault(g.Key, g.Key), g.Select(t => t.Time))))
            )
        );
    }

    private static double? Minutes(GivenLead lead, Workspace workspace) =>
        lead.Answered is { } answered && workspace.Hours.TryGetValue(lead.Owner, out var hours)
            ? Math.Max(0, hours.Between(lead.Started.ToInstant(), answered.ToInstant()).TotalMinutes)
            : null;

    private static List<AnswerLine> Lines(IEnumerable<(string Key, string Name, IEnumerable<(double?, bool?)> Times)> groups) =>
        [.. groups.Select(g => new AnswerLine(g.Key, g.Name, AnswerTimes.Of(g.Times))).OrderBy(l => l.Name, StringComparer.CurrentCulture)];

    private sealed record GivenLead
    {
        public Guid Owner { get; init; }
        public string Source { get; init; } = "";
        public DateTime Started { get; init; }
        public DateTime? Answered { get; init; }
        public bool? InTime { get; init; }
    }
}
