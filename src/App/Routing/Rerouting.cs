using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Bulk;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Routing;
using Npgsql;

namespace DapperLantern.App.Routing;

/// <summary>A lead that was looked at by the rules again.</summary>
/// <param name="Before">Who had it; null for nobody.</param>
/// <param name="Words">Where it went, to stand in the story.</param>
public sealed record Rerouted(Guid Lead, Guid? Before, Guid? Owner, LeadsGiven Given, string Words);

/// <summary>Asks the live sheet about leads that are already kept: as they are given back, as their time runs out, on clearing the bar, or when somebody wants it.</summary>
public sealed class Rerouting(Installation installation)
{
    /// <summary>In the caller's transaction, with <see cref="Admission.Lock"/> taken and then the leads locked. Who has a lead is not asked again where <paramref name="again"/> is false.</summary>
    /// <param name="moment">One of <see cref="RoutingMoment"/>.</param>
    /// <param name="again">True to let the present owner get it again.</param>
    public async Task<List<Rerouted>> Run(NpgsqlConnection connection, Guid[] leads, string moment, bool again, DateTime now)
    {
        var rules = await installation.Rules(connection);
        var desk = await RoutingDesk.Open(connection, now);
        var found = await Read(connection, leads, now);
        var keys = found.ToDictionary(f => f.Id, f => StandingKeys.Of(f.Facts));
        await desk.Standing.Find(connection, [.. keys.Values], leads);
        var done = new List<Rerouted>();
        foreach (var (id, facts) in found.OrderBy(f => Array.IndexOf(leads, f.Id)))
            done.Add(await Route(connection, id, facts, keys[id], rules, desk, moment, again, now));
        await desk.Close(connection);
        return done;
    }

    /// <summary>Who is to have what comes of a lead, such as its deal; null to leave it with the lead's owner. In the caller's transaction, under <see cref="Admission.Lock"/>.</summary>
    public async Task<Guid?> OwnerAt(NpgsqlConnection connection, Guid lead, string moment, DateTime now)
    {
        var rules = await installation.Rules(connection);
        if (!rules.Router.AskedAt(moment) || (await Read(connection, [lead], now)) is not [var (id, facts)])
            return null;
        var desk = await RoutingDesk.Open(connection, now);
        var keys = StandingKeys.Of(facts);
        await desk.Standing.Find(connection, [keys], [lead]);
        var owner = Guid.TryParse(facts.Text("owner"), out var known) ? known : (Guid?)null;
        var decision = rules.Router.Decide(
            new RoutingAsk(facts, now.ToInstant())
            {
                Moment = moment,
                Standing = desk.Standing.For(keys),
                Owner = owner,
            },
            desk.State
        );
        desk.Taken(decision with { Owner = null }, keys.Organisation);
        await desk.Close(connection);
        await Keep(connection, id, facts, decision, rules, moment, now);
        return decision.Owner;
    }

    private async Task<List<(Guid Id, RecordValues Facts)>> Read(NpgsqlConnection connection, Guid[] leads, DateTime now)
    {
        await using var command = new NpgsqlCommand($"select l.id, {LeadRecord.Columns} from lead l where l.id = any(@leads)", connection);
        command.Parameters.AddWithValue("leads", leads);
        var found = new List<(Guid, RecordValues)>();
        await using var row = await command.ExecuteReaderAsync();
        while (await row.ReadAsync())
            found.Add((row.GetGuid(0), LeadRecord.Read(row, installation.Catalogue, now)));
        return found;
    }

    private static async Task<Rerouted> Route(
        NpgsqlConnection connection,
        Guid id,
        RecordValues facts,
        StandingKeys keys,
        LiveRules rules,
        RoutingDesk desk,
        string moment,
        bool again,
        DateTime now
    )
    {
        var before = Guid.TryParse(facts.Text("owner"), out var owner) ? owner : (Guid?)null;
        var ask = new RoutingAsk(facts, now.ToInstant())
        {
            Moment = moment,
            Standing = desk.Standing.For(keys),
            Owner = moment == RoutingMoment.Arrival ? null : before,
            NotAgain = again ? null : before,
        };
        var decision = rules.Router.Decide(ask, desk.State);
        desk.Taken(decision, keys.Organisation);
        var due = decision is { Owner: { } to, AnswerWithin: { } within } ? desk.DueAt(to, now, within) : (DateTime?)null;
        var given =
            decision.Owner == before
                ? new LeadsGiven(Array.Empty<TaskOwner>().ToLookup(_ => id), new Dictionary<Guid, Guid>())
                : await LeadGiving.Give(connection, [new Giving(id, decision.Owner, due)], decision.Task, now);
        await Keep(connection, id, facts, decision, rules, moment, now);
        var name = decision.Owner is { } who ? desk.Reps[who].Name : null;
        if (decision.Owner is { } taker && taker != before)
            await Notice(connection, taker, id, $"New lead: {LeadRecord.NameOf(facts)}", LeadGiving.Words(due, decision.Message), now);
        return new Rerouted(
            id,
            before,
            decision.Owner,
            given,
            name is null ? "waits on the Desk"
                : decision.Owner == before ? $"stays with {name}"
                : $"given to {name}"
        );
    }

    private static Task Keep(NpgsqlConnection connection, Guid lead, RecordValues facts, RoutingDecision decision, LiveRules rules, string moment, DateTime now) =>
        connection.ExecuteAsync(
            """
            insert into routing_decision (id, lead_id, at, edition, rule, owner_id, trace, moment, asked)
            values (@id, @lead, @now, @Edition, @Rule, @Owner, @trace::jsonb, @moment, @asked::jsonb)
            """,
            new
            {
                id = Guid.CreateVersion7(),
                lead,
                now,
                rules.Edition,
                decision.Rule,
                decision.Owner,
                trace = Json.Write(rules.Router.Tell(decision, facts)),
                moment,
                asked = rules.Snapshot(facts),
            }
        );

    /// <summary>A message to one of us, sent once the transaction holds.</summary>
    public static Task Notice(NpgsqlConnection connection, Guid person, Guid lead, string subject, string text, DateTime now) =>
        connection.ExecuteAsync(
            "insert into outbox (id, kind, person_id, lead_id, subject, text, created_at, tries) values (@id, 'lead-given', @person, @lead, @subject, @text, @now, 0)",
            new
            {
                id = Guid.CreateVersion7(),
                person,
                lead,
                subject,
                text,
                now,
            }
        );
}
