using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Scoring;
using Npgsql;

namespace DapperLantern.App.Leads;

/// <summary>Both scores of a lead with their reasons, at a moment.</summary>
public sealed record LeadScore(FitResult Fit, EngagementResult Engagement, string NextMove, NodaTime.Instant? DropsUnder, LiveModel By);

/// <summary>Computes the scores of stored leads and keeps them with the lead.</summary>
public sealed class LeadRescore(Installation installation)
{
    public async Task<LeadScore> Compute(NpgsqlConnection connection, Core.Fields.RecordValues record, IReadOnlyList<LeadEvent> events, DateTime now)
    {
        var live = await installation.Model(connection);
        var moment = now.ToInstant();
        var fit = live.Fit.Explain(record, moment);
        var engagement = EngagementScore.Explain(live.Model, events, moment);
        return new LeadScore(fit, engagement, NextMove.For(fit.Score, engagement.Score, live.Model.Bars), EngagementScore.DropsUnder(live.Model, events, moment), live);
    }

    /// <summary>Rescores one lead; nothing happens when there is no such lead.</summary>
    public async Task Run(NpgsqlConnection connection, Guid lead, DateTime now)
    {
        if (await LeadStore.Load(connection, lead, installation.Catalogue) is not { } record)
            return;
        var events = await LeadStore.Events(connection, lead);
        var score = await Compute(connection, record, events, now);
        var signs = Signs.Of(events);
        await connection.ExecuteAsync(
            """
            update lead set fit = @fit, fit_low = @low, fit_high = @high, engagement = @engagement, next_move = @move, model_edition = @edition,
              last_sign_at = @sign, silent_days = @silent where id = @lead
            """,
            new
            {
                lead,
                fit = score.Fit.Score,
                low = score.Fit.Low,
                high = score.Fit.High,
                engagement = score.Engagement.Score,
                move = score.NextMove,
                edition = score.By.Edition,
                sign = signs.Last?.ToUtc(),
                silent = signs.SilentDays,
            }
        );
    }

    /// <summary>
    /// Brings the stored engagement of all leads that have any up to the moment (it only falls by itself), so that lists sorted or filtered
    /// by it are right to the hour. Returns how many changed.
    /// </summary>
    public async Task<int> Decay(NpgsqlConnection connection, DateTime now)
    {
        var live = await installation.Model(connection);
        var leads = (await connection.QueryAsync<(Guid Id, int Fit, int Engagement)>("select id, fit, engagement from lead where engagement > 0")).ToList();
        var changed = 0;
        foreach (var batch in leads.Chunk(2000))
        {
            var events = await LeadStore.EventsOf(connection, [.. batch.Select(l => l.Id)]);
            var scored = batch.Select(l => (l.Id, l.Fit, Old: l.Engagement, New: EngagementScore.Explain(live.Model, events.GetValueOrDefault(l.Id) ?? [], now.ToInstant()).Score));
            var moved = scored.Where(s => s.Old != s.New).ToList();
            changed += await connection.ExecuteAsync(
                "update lead l set engagement = x.e, next_move = x.m from unnest(@ids, @scores, @moves) as x(id, e, m) where l.id = x.id",
                new
                {
                    ids = moved.Select(m => m.Id).ToArray(),
                    scores = moved.Select(m => m.New).ToArray(),
                    moves = moved.Select(m => NextMove.For(m.Fit, m.New, live.Model.Bars)).ToArray(),
                }
            );
        }
        return changed;
    }
}
