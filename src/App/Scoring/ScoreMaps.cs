using System.Diagnostics;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Scoring;

namespace DapperLantern.App.Scoring;

/// <summary>How many open leads stand where.</summary>
public sealed record ScoreMapCounts(DateTime At, List<MapCell> Cells, Dictionary<string, int> Quarters);

/// <summary>
/// The map of all open leads. Counted anew each time while that is quick; where it takes long, the last count is shown for twenty times as long as it took, a minute at most, and a new
/// one made in the background.
/// </summary>
public sealed class ScoreMaps(LanternDbFactory databases, WorkspaceConfiguration configuration, Patience patience, TimeProvider clock)
{
    private static readonly TimeSpan Quick = TimeSpan.FromMilliseconds(50);
    private static readonly TimeSpan LongestFresh = TimeSpan.FromMinutes(1);
    private ScoreMapCounts? _last;
    private Guid _edition;
    private TimeSpan _took;
    private Task _renewing = Task.CompletedTask;

    // Counting takes a twentieth of one core at most, however often the map is looked at.
    private TimeSpan Fresh => _took * 20 < LongestFresh ? _took * 20 : LongestFresh;

    public async Task<ScoreMapCounts> Of(LanternDb db, RecordScope scope)
    {
        if (!scope.SeesAll("lead"))
            return await Count(db, scope);
        var edition = (await configuration.Current.Model(db)).Edition;
        if (_took < patience.For(Quick) || _last is not { } last || _edition != edition)
            return await Count(db, edition);
        if (last.At < clock.UtcNow() - Fresh && _renewing.IsCompleted)
            _renewing = Task.Run(async () =>
            {
                await using var own = await databases.Open();
                await Count(own, edition);
            });
        return last;
    }

    private async Task<ScoreMapCounts> Count(LanternDb db, Guid edition)
    {
        var watch = Stopwatch.StartNew();
        var counts = await Count(db, RecordScope.Everything);
        (_took, _edition) = (watch.Elapsed, edition);
        return _last = counts;
    }

    private async Task<ScoreMapCounts> Count(LanternDb db, RecordScope scope)
    {
        var now = clock.UtcNow();
        var day = EngagementDecay.DayOf(now.ToInstant());
        var counted = await db.Rows<CountedCell>(
            $"""
            select least(l.fit / 5, 19) as fit, least(case when l.look_again_at <= {now} then engagement_at(l.decay, {day}) / 5 else l.band end, 19) as band,
              {EngagementDecaySql.MoveAt($"{now}"):sql} as move, count(*)::int as leads
            from lead l where {ScoringStream.Open:sql} and {scope.Sees("lead", "l"):sql} group by 1, 2, 3
            """
        );
        return new ScoreMapCounts(
            now,
            [.. counted.GroupBy(c => (c.Fit, c.Band)).OrderBy(g => g.Key).Select(g => new MapCell(g.Key.Fit * 5, g.Key.Band * 5, g.Sum(c => c.Leads)))],
            counted.GroupBy(c => c.Move).ToDictionary(g => g.Key, g => g.Sum(c => c.Leads))
        );
    }

    private sealed record CountedCell(int Fit, int Band, string Move, int Leads);
}
