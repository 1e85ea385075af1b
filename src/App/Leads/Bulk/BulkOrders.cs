using System.Collections.Immutable;
using System.Security.Claims;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Campaigns;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Leads.Bulk;
using DapperLantern.Core.Rights;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Leads.Bulk;

/// <summary>Orders something for several leads: exactly one of <see cref="Leads"/> and <see cref="Where"/> says which.</summary>
/// <param name="Leads">These, up to 5 000.</param>
/// <param name="Where">All a condition holds of, as JSON in the condition language.</param>
/// <param name="View">The fixed view in which one works, where it lets one do more than one's role.</param>
public sealed record BulkOrder(BulkAct Act, [Count(100_000)] IReadOnlyList<Guid>? Leads = null, [Text(20_000)] string? Where = null, Guid? View = null);

/// <summary>An order that may be done.</summary>
/// <param name="Which">Leads it is about.</param>
/// <param name="OwnOnly">True when only those of whoever orders may be changed.</param>
public sealed record BulkOrdered(BulkAct Act, string Words, Condition Which, ImmutableArray<Guid>? Leads, bool OwnOnly);

/// <summary>Checks orders: that the act makes sense, and that whoever orders may. Nothing unchecked goes on.</summary>
public sealed class BulkOrders(Workspace workspace, RecordScope scope, TimeProvider clock)
{
    private const int MostNamed = 5000;

    public async Task<(BulkOrdered?, Problem?)> Check(LanternDb db, BulkOrder order, ClaimsPrincipal user)
    {
        if (order.Leads is null == order.Where is null)
            return (null, Problem.Of("which-leads", "leads"));
        if (order.Leads is { Count: 0 or > MostNamed })
            return (null, Problem.Of("named-count", "leads", MostNamed));
        if (order.Act.Swap && order.Leads?.Distinct().Count() != 2)
            return (null, Problem.Of("swap-two", "leads"));
        var (which, problem) = LeadAsk.Condition(order.Where, workspace.Catalogue, user);
        if (problem is not null)
            return (null, problem with { Path = "where" });
        var act = Plain(order.Act);
        // Contact data is changed in many leads by those who see it of all they change.
        var shown = !scope.HidesContactData || user.WorksOwnOnly() && user.Rights().ContactData.HasFlag(Reach.Own);
        if (act.Kind == BulkAct.Fact && workspace.Catalogue.Find(act.Field ?? "") is { } field && (scope.Hides(field, shown) || scope.Keeps(field)))
            return (null, Problem.Of("field-locked", "field", field.Label));
        var (named, wrong) = await Wrong(db, act);
        if (wrong is not null)
            return (null, wrong);
        var (within, may) = await May(db, act, order.View, user);
        if (!may)
            return (null, new Problem("not-yours"));
        which = within is null ? which : new AllOf([which!, within]);
        var own = within is null && act.Kind is not (BulkAct.Give or BulkAct.Remove) && user.WorksOwnOnly();
        return (new BulkOrdered(act, BulkWords.Of(act, workspace.Catalogue, named), which!, order.Leads?.Distinct().ToImmutableArray(), own), null);
    }

    // Only what the act needs, so that it can be compared later; moments to the second.
    private static BulkAct Plain(BulkAct act) =>
        act with
        {
            To = act.To is { IsDefault: false } to ? [.. to.Distinct()] : null,
            Reason = act.State == LeadState.Disqualified ? act.Reason : null,
            WakeAt = act is { State: LeadState.OnHold, WakeAt: { } at } ? DateTimeOffset.FromUnixTimeSeconds(at.ToUnixTimeSeconds()) : null,
            Response = act.Kind == BulkAct.Campaign ? act.Response ?? CampaignResponse.Planned : null,
        };

    // Who may not by their role may where a view of their team lets them, with what it holds.
    private async Task<(Condition? Within, bool May)> May(LanternDb db, BulkAct act, Guid? view, ClaimsPrincipal user)
    {
        if (act.Kind == BulkAct.Campaign && user.May(Act.RunIntake))
            return (null, true);
        var (right, lent) = act.Kind switch
        {
            BulkAct.Give => (Act.GiveLeads, ViewAct.Give),
            BulkAct.Remove => (Act.GiveLeads, ViewAct.Delete),
            BulkAct.HandOver => (Act.HandOver, ViewAct.HandOver),
            _ => (Act.WorkLeads, null),
        };
        if (user.May(right))
            return (null, true);
        if (lent is null || await ViewEndpoints.Lets(db, view, lent, user) is not { } within)
            return (null, false);
        return (LeadAsk.Condition(within, workspace.Catalogue, user).Item1, true);
    }

    // The name of what the act names, or what is wrong.
    private async Task<(string Named, Problem? Wrong)> Wrong(LanternDb db, BulkAct act) =>
        act.Kind switch
        {
            BulkAct.Fact => ("", WrongFact(act)),
            BulkAct.Move => ("", WrongState(act)),
            BulkAct.Give => await Receivers(db, workspace, act),
            BulkAct.Tag or BulkAct.Untag => await Name(
                db.Set<TagRow>().Where(t => t.Key == act.Key && t.MergedInto == null && (!t.Retired || act.Kind == BulkAct.Untag)).Select(t => t.Name),
                "tag"
            ),
            BulkAct.Campaign when CampaignResponse.Find(act.Response) is not { IsTheirs: false } => ("", Problem.Of("response-not-ours", "response")),
            BulkAct.Remove => ("", null),
            BulkAct.HandOver => await Name(db.Set<PipelineRow>().Where(p => p.Key == act.Key).Select(p => p.Name), "pipeline"),
            BulkAct.Campaign => await Name(db.Set<CampaignRow>().Where(c => c.Key == act.Key).Select(c => c.Name), "campaign"),
            _ => ("", Problem.Of("act-unknown", "act", act.Kind)),
        };

    private Problem? WrongFact(BulkAct act)
    {
        if (act.Field is null || workspace.Catalogue.Find(act.Field) is not { Origin: FieldOrigin.Fact or FieldOrigin.Custom } field)
            return Problem.Of("fact-unfit", "field");
        // What depends on each lead's country is read with each lead.
        return field.Type is not (FieldType.Phone or FieldType.Region) && FieldReader.Read(field, act.Value, default(Conventions)).Problem is { } problem
            ? problem with
            {
                Path = "value",
            }
            : null;
    }

    private Problem? WrongState(BulkAct act)
    {
        if (!LeadState.MayMove(LeadState.New, act.State ?? ""))
            return Problem.Of("state-unfit", "state");
        var wakes = act.WakeAt is { } at ? NodaTime.Instant.FromDateTimeOffset(at) : (NodaTime.Instant?)null;
        return LeadState.Lacks(act.State!, act.Reason, wakes, workspace.Catalogue["state_reason"].Choices, clock.UtcNow().ToInstant()) is { } lacks ? lacks : null;
    }

    private static async Task<(string, Problem?)> Receivers(LanternDb db, Workspace workspace, BulkAct act)
    {
        if (act.To is not { Length: > 0 } to)
            return ("", null);
        var names = await db.Set<Person>().Where(Person.HasAny(workspace.Roles.GivenLeads)).Where(p => to.Contains(p.Id)).Select(p => p.DisplayName).ToListAsync();
        return names.Count == to.Length ? (names[0], null) : ("", Problem.Of("worker-unknown", "to"));
    }

    private static async Task<(string, Problem?)> Name(IQueryable<string> named, string what) =>
        await named.SingleOrDefaultAsync() is { } name ? (name, null) : ("", Problem.Of("not-in-use", "key", what));

    /// <summary>The SQL of the leads an order is about, over <c>lead l</c>.</summary>
    internal static SqlText Which(BulkOrdered order, ConditionSql sql)
    {
        var holds = sql.Part(sql.Write(order.Which));
        return order.Leads is { } ids ? $"(l.id = any({ids.ToArray()}) and {holds:sql})" : holds;
    }
}
