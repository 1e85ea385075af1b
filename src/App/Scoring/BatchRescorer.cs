using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Scoring;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Scoring;

/// <summary>
/// Scores stored leads anew by the live model, a batch a transaction. A lead that somebody else scores meanwhile is left to them: they did it by the live model too, and
/// a second round looks for any that an older one got in between.
/// </summary>
public sealed class BatchRescorer(LanternDbFactory databases, Workspace workspace, TimeProvider clock)
{
    // Those not scored by the edition, or not since a moment where there is one.
    private static SqlText Due(Guid edition, DateTime? since) => $"(l.model_edition is distinct from {edition} or coalesce(l.scored_at < {since}, l.scored_at is null))";

    private static readonly BulkTable<Row> Table = new BulkTable<Row>("rescored").Uuid("id", r => r.Id).Moment("seen", r => r.Seen).Scores(r => r.Scores);

    private sealed record Row(Guid Id, DateTime? Seen, StoredScores Scores);

    /// <summary>Starts a run by the live model in the caller's transaction; one that is under way gives way to it.</summary>
    /// <param name="again">True to score those as well that were scored by this edition before now.</param>
    public async Task<Guid> Begin(LanternDb db, Guid edition, bool again = false)
    {
        var id = Guid.CreateVersion7();
        DateTime? since = again ? clock.UtcNow() : (DateTime?)null;
        var now = clock.UtcNow();
        await db.Run(
            $"""
            update rescore_run set ended_at = {now}, trouble = 'Another edition was published meanwhile.' where ended_at is null;
            insert into rescore_run (id, edition, started_at, since, leads, done, moved, after_id, tries) select {id}, {edition}, {now}, {since}, count(*)::int, 0, 0, {Guid.Empty}, 0 from lead
            """
        );
        return id;
    }

    /// <summary>Scores every lead, at once and in the caller's transaction; for a base that has just been filled.</summary>
    public async Task All(LanternDb db, DateTime now)
    {
        var live = await workspace.Model(db);
        var stream = new ScoringStream(workspace.Catalogue, [live.Model]);
        for (var after = Guid.Empty; await stream.Next(db, after, now) is { Count: > 0 } leads; after = leads[^1].Id)
            await Write(db, Scored(live, leads, now), default);
    }

    /// <summary>Works a run to its end, going on behind the last batch that was committed. While one batch is written the next is read and scored on a connection of its own.</summary>
    public async Task Run(LanternDb db, Guid run, CancellationToken cancel)
    {
        var begun = await db.Set<RescoreRun>().AsNoTracking().SingleAsync(x => x.Id == run);
        var (after, since) = (begun.AfterId, begun.Since);
        await using var reading = await databases.Open(cancel);
        var next = Read(reading, after, since, cancel);
        try
        {
            while (true)
            {
                var rows = await next;
                // After the last one from the front again, until a round finds none: somebody may have been scored by an older edition meanwhile.
                var over = rows.Count == 0 && after == Guid.Empty;
                after = rows.Count == 0 ? Guid.Empty : rows[^1].Id;
                if (!over && rows.Count > 0)
                    next = Read(reading, after, since, cancel);
                if (!await Save(db, run, rows, after, over, cancel) || over)
                    return;
                if (rows.Count == 0)
                    next = Read(reading, after, since, cancel);
            }
        }
        finally
        {
            await Task.WhenAny(next);
        }
    }

    private async Task<List<Row>> Read(LanternDb db, Guid after, DateTime? since, CancellationToken cancel)
    {
        var now = clock.UtcNow();
        var live = await workspace.Model(db);
        var stream = new ScoringStream(workspace.Catalogue, [live.Model], Due(live.Edition, since));
        return Scored(live, await stream.Next(db, after, now, cancel), now);
    }

    // False where the run was ended by another.
    private async Task<bool> Save(LanternDb db, Guid run, List<Row> rows, Guid after, bool over, CancellationToken cancel)
    {
        var now = clock.UtcNow();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        if (await db.Row<Guid?>($"""select id as "Value" from rescore_run where id = {run} and ended_at is null for update""") is null)
            return false;
        var moved = rows.Count == 0 ? 0 : await Write(db, rows, cancel);
        await db.Run(
            $"update rescore_run set done = least(leads, done + {rows.Count}), moved = moved + {moved}, after_id = {after}, ended_at = case when {over} then {now} end where id = {run}"
        );
        await transaction.CommitAsync(cancel);
        return true;
    }

    private static List<Row> Scored(LiveModel live, List<ScoringLead> leads, DateTime now) => [.. leads.Select(l => new Row(l.Id, l.ScoredAt, live.Score(l.Facts, l.Events, now)))];

    // Gives how many have another next move. Rows are locked in the order of their ids, as everywhere.
    private static async Task<int> Write(LanternDb db, List<Row> rows, CancellationToken cancel)
    {
        await db.Run(
            $"create temp table if not exists rescored on commit delete rows as select id, scored_at as seen, {ScoreColumns.Names:sql} from lead with no data; truncate rescored;"
        );
        await Table.Write(db, rows, cancel);
        return await db.One<int>(
            $"""
            with due as materialized (
              select l.id, l.next_move as was from rescored x join lead l on l.id = x.id where l.scored_at is not distinct from x.seen order by l.id for no key update of l
            ), done as (
              update lead l set {ScoreColumns.Sets("x."):sql} from rescored x, due where l.id = x.id and due.id = x.id returning due.was <> x.next_move as moved
            )
            select count(*) filter (where moved)::int as "Value" from done
            """
        );
    }
}
