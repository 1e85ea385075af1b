using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Scoring;

/// <summary>Begins a run that scores leads without a time of scoring, and takes over whatever another one has left to do.</summary>
internal sealed class ScoresAnew(RescoreRunner runner, TimeProvider clock) : IScoresAnew
{
    public Task Hold(LanternDb db) => db.Run($"select id from rescore_run where ended_at is null for update");

    public async Task Begin(LanternDb db)
    {
        if (await db.Set<Edition>().Where(e => e.Kind == Edition.Scoring && e.State == "live").Select(e => (Guid?)e.Id).SingleOrDefaultAsync() is not { } live)
            return;
        var now = clock.UtcNow();
        await db.Run(
            $"""
            with open as (update rescore_run set ended_at = {now}, trouble = 'A later run took it over.' where ended_at is null returning since)
            insert into rescore_run (id, edition, started_at, since, leads, done, moved, after_id, tries)
              select {Guid.CreateVersion7()}, {live}, {now}, (select max(since) from open), count(*)::int, 0, 0, {Guid.Empty}, 0 from lead
            """
        );
    }

    public void Wake() => runner.Wake();
}
