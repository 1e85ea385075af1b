using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;
using NodaTime;
using Npgsql;

namespace DapperLantern.App.Leads;

/// <summary>Somebody who is to become a lead.</summary>
/// <param name="Facts">Catalogue values; source and campaign are set from the arguments beside it.</param>
/// <param name="Events">What the lead did, the arrival itself included.</param>
/// <param name="CameIn">The first line of the story.</param>
public sealed record Newcomer(Guid Id, RecordValues Facts, string Source, string? Campaign, Guid? Delivery, DateTime At, IReadOnlyList<LeadEvent> Events, string CameIn);

/// <summary>
/// The one way in. Scores and routes newcomers and writes lead, events, story, routing reasons, first task, turns and outbox with set
/// operations in the caller's transaction: all of it commits together or not at all.
/// </summary>
public sealed class Admission(Installation installation)
{
    /// <summary>Key of the transaction lock that lets one admission match and write at a time, so that two cannot make the same person twice.</summary>
    public const long LockKey = 0x4C414E5445524E;

    public static Task Lock(NpgsqlConnection connection) => connection.ExecuteAsync("select pg_advisory_xact_lock(@LockKey)", new { LockKey });

    /// <summary>Admits a batch, in order. Requires an open transaction and <see cref="Lock"/>.</summary>
    public async Task Admit(NpgsqlConnection connection, IReadOnlyList<Newcomer> newcomers, RoutingDesk desk, CancellationToken cancel)
    {
        var model = await installation.Model(connection);
        var rules = await installation.Rules(connection);
        await desk.FindStanding(connection, newcomers.Select(n => n.Facts));
        var batch = new AdmissionBatch();
        var hits = new int[model.Fit.Criteria];
        foreach (var newcomer in newcomers)
        {
            var row = Score(newcomer, model, hits);
            var decision = rules.Router.Route(newcomer.Facts, desk.Reps, desk.Teams, desk.StandingFor(newcomer.Facts), newcomer.At.ToInstant());
            Route(batch, row, decision, rules, desk);
            batch.Add(newcomer, row);
        }
        await batch.Write(connection, cancel);
    }

    private static LeadRow Score(Newcomer newcomer, LiveModel live, int[] hits)
    {
        var (facts, now) = (newcomer.Facts, newcomer.At.ToInstant());
        facts["source"] = FieldValue.Of(newcomer.Source);
        facts["campaign"] = FieldValue.Of(newcomer.Campaign);
        facts["state"] = FieldValue.Of("new");
        facts["created_at"] = FieldValue.Of(now);
        facts["last_touch_at"] = FieldValue.Of(now);
        var fit = live.Fit.Explain(facts, now);
        var engagement = EngagementScore.Explain(live.Model, newcomer.Events, now);
        var move = NextMove.For(fit.Score, engagement.Score, live.Model.Bars);
        facts["fit"] = FieldValue.Of(fit.Score);
        facts["engagement"] = FieldValue.Of(engagement.Score);
        facts["next_move"] = FieldValue.Of(move);
        return new LeadRow(newcomer.Id, facts)
        {
            Source = newcomer.Source,
            Campaign = newcomer.Campaign,
            DeliveryId = newcomer.Delivery,
            FitLow = fit.Low,
            FitHigh = fit.High,
            Fit = fit.Score,
            Engagement = engagement.Score,
            NextMove = move,
            ModelEdition = live.Edition,
            CreatedAt = newcomer.At,
        };
    }

    private static void Route(AdmissionBatch batch, LeadRow row, RoutingDecision decision, LiveRules rules, RoutingDesk desk)
    {
        if (decision.Owner is { } owner)
        {
            row.OwnerId = owner;
            row.ClockStartedAt = row.CreatedAt;
            row.ClockDueAt = desk.Hours[owner].After(row.CreatedAt.ToInstant(), decision.AnswerWithin!.Value).ToUtc();
            batch.Add(
                new TaskRow
                {
                    Id = Guid.CreateVersion7(),
                    LeadId = row.Id,
                    OwnerId = owner,
                    Subject = rules.Router.Sheet.Task,
                    DueAt = row.ClockDueAt.Value,
                }
            );
            batch.Add(Message(row, owner));
        }
        desk.Taken(decision, row.Facts);
        batch.Add(
            new RoutingDecisionRow
            {
                Id = Guid.CreateVersion7(),
                LeadId = row.Id,
                At = row.CreatedAt,
                Edition = rules.Edition,
                Rule = decision.Rule,
                OwnerId = decision.Owner,
                Trace = Json.Write(decision.Trace),
            }
        );
    }

    private static OutboxRow Message(LeadRow row, Guid owner) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            Kind = "lead-given",
            PersonId = owner,
            Subject = $"New lead: {LeadRecord.NameOf(row.Facts)}",
            Text = $"A lead was given to you. Answer by {row.ClockDueAt:yyyy-MM-dd HH:mm} UTC.",
            CreatedAt = row.CreatedAt,
        };
}
