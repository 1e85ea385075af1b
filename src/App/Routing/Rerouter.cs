using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Bulk;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Routing;

namespace DapperLantern.App.Routing;

/// <summary>A lead that was looked at by the rules again.</summary>
/// <param name="Before">Who had it; null for nobody.</param>
public sealed record RerouteResult(Guid Lead, Guid? Before, Guid? Owner, OwnersAssigned Given);

/// <summary>Asks the live sheet about leads that are already kept: as they are given back, as their time runs out, on clearing the bar, or when somebody wants it.</summary>
public sealed class Rerouter(Workspace workspace)
{
    /// <summary>In the caller's transaction, with <see cref="Admission.Lock"/> taken and then the leads locked. Who has a lead is not asked again where <paramref name="again"/> is false.</summary>
    /// <param name="moment">One of <see cref="RoutingMoment"/>.</param>
    /// <param name="again">True to let the present owner get it again.</param>
    /// <param name="why">Why they are looked at, for the story of those that change hands.</param>
    public async Task<List<RerouteResult>> Run(LanternDb db, Guid[] leads, string moment, bool again, DateTime now, Why? why = null)
    {
        var rules = await workspace.Rules(db);
        var desk = await RoutingContext.Open(db, now);
        var found = (await Read(db, leads, now)).OrderBy(f => Array.IndexOf(leads, f.Id)).ToList();
        var keys = found.ConvertAll(f => ExistingOwnerKeys.Of(f.Facts));
        await desk.Standing.Find(db, keys, leads);
        var taken = found.Zip(keys, (lead, key) => Decide(lead.Id, lead.Facts, key, rules, desk, moment, again, now)).ToList();
        await desk.Close(db);
        var given = await OwnerAssigner.Give(
            db,
            [.. taken.Where(t => t.Moves).Select(t => new OwnerAssignment(t.Lead, t.Decision.Owner, t.Due, t.Decision.Task, t.Decision.Urgent, t.Decision.Message))],
            now,
            why ?? new Why(Why.ByRule)
        );
        await Save(db, taken, rules, moment, now);
        return taken.ConvertAll(t => new RerouteResult(t.Lead, t.Before, t.Decision.Owner, given));
    }

    /// <summary>Who is to have what comes of a lead, such as its deal; null to leave it with the lead's owner. In the caller's transaction, under <see cref="Admission.Lock"/>.</summary>
    /// <param name="facts">The lead as it stands at <paramref name="now"/>.</param>
    /// <param name="look">True to only look: nothing is written and no turn is taken.</param>
    public async Task<Guid?> OwnerAt(LanternDb db, Guid lead, RecordValues facts, string moment, DateTime now, LiveRules rules, bool look = false)
    {
        if (!rules.Router.AskedAt(moment))
            return null;
        var desk = await RoutingContext.Open(db, now);
        var keys = ExistingOwnerKeys.Of(facts);
        await desk.Standing.Find(db, [keys], [lead]);
        var decision = rules.Router.Decide(
            new RoutingAsk(facts, now.ToInstant())
            {
                Moment = moment,
                Standing = desk.Standing.For(keys),
                Owner = OwnerOf(facts),
            },
            desk.State
        );
        if (look)
            return decision.Owner;
        desk.Taken(decision with { Owner = null }, keys.Organisation);
        await desk.Close(db);
        await Save(db, [new Taken(lead, facts, decision, null, null)], rules, moment, now);
        return decision.Owner;
    }

    /// <summary>Whose the lead is; null for nobody's.</summary>
    public static Guid? OwnerOf(RecordValues facts) => Guid.TryParse(facts.Text("owner"), out var known) ? known : null;

    private Task<List<(Guid Id, RecordValues Facts)>> Read(LanternDb db, Guid[] leads, DateTime now) =>
        db.Read($"select l.id, {LeadRecord.Columns:sql} from lead l where l.id = any({leads})", row => (row.GetGuid(0), LeadRecord.Read(row, workspace.Catalogue, now)));

    private static Taken Decide(Guid lead, RecordValues facts, ExistingOwnerKeys keys, LiveRules rules, RoutingContext desk, string moment, bool again, DateTime now)
    {
        var before = OwnerOf(facts);
        var ask = new RoutingAsk(facts, now.ToInstant())
        {
            Moment = moment,
            Standing = desk.Standing.For(keys),
            Owner = moment == RoutingMoment.Arrival ? null : before,
            NotAgain = again ? null : before,
        };
        var decision = rules.Router.Decide(ask, desk.State);
        desk.Taken(decision, keys.Organisation);
        return new Taken(lead, facts, decision, before, decision is { Owner: { } to, AnswerWithin: { } within } ? desk.DueAt(to, now, within) : null);
    }

    private static Task Save(LanternDb db, IReadOnlyList<Taken> taken, LiveRules rules, string moment, DateTime now)
    {
        var (ids, leads) = (taken.Select(_ => Guid.CreateVersion7()).ToArray(), taken.Select(t => t.Lead).ToArray());
        var (keys, owners) = (taken.Select(t => t.Decision.Rule).ToArray(), taken.Select(t => t.Decision.Owner).ToArray());
        var traces = taken.Select(t => Json.Write(rules.Router.Explain(t.Decision, t.Facts))).ToArray();
        var asked = taken.Select(t => rules.Snapshot(t.Facts)).ToArray();
        return db.Run(
            $"""
            insert into routing_decision (id, lead_id, at, edition, rule, owner_id, trace, moment, asked)
            select x.id, x.lead, {now}, {rules.Edition}, x.rule, x.owner, x.trace::jsonb, {moment}, x.asked::jsonb
              from unnest({ids}, {leads}, {keys}, {owners}, {traces}, {asked}) x(id, lead, rule, owner, trace, asked)
            """
        );
    }

    // What was decided on a lead and is to be written.
    private sealed record Taken(Guid Lead, RecordValues Facts, RoutingDecision Decision, Guid? Before, DateTime? Due)
    {
        public bool Moves => Decision.Owner != Before;
    }
}
