using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Deals;

/// <summary>Changes a deal: where it stands, when it closes, what it is worth. Every change is told in its story.</summary>
public sealed class DealEditor(Workspace workspace, TimeProvider clock)
{
    /// <summary>Locks the deal and says why this person may not write it; gives it when they may.</summary>
    public static async Task<(Deal? Deal, Problem? WhyNot)> Lock(LanternDb db, Guid id, ClaimsPrincipal user, int? version)
    {
        var deal = await db.Set<Deal>().FromSql($"select * from deal where id = {id} for update").SingleOrDefaultAsync();
        if (deal is null)
            return (null, Problem.NotFound("deal"));
        if (user.WorksOwnOnly() && deal.OwnerId != user.Id())
            return (null, new Problem("not-yours"));
        return version is { } v && v != deal.Version ? (null, new Problem("stale")) : (deal, null);
    }

    /// <summary>The same of one that is open: a closed deal is read-only until it is opened again.</summary>
    public async Task<(Deal? Deal, Problem? WhyNot)> HoldOpen(LanternDb db, Guid id, ClaimsPrincipal user, int? version)
    {
        var (deal, no) = await Lock(db, id, user, version);
        return deal is not null && !IsOpen(deal) ? (null, Closed()) : (deal, no);
    }

    private bool IsOpen(Deal deal) => workspace.Pipeline(deal.PipelineKey)!.Stage(deal.StageKey) is { IsOpen: true };

    private static Problem Closed() => Problem.Of("deal-closed");

    /// <summary>Does it, in the caller's transaction with the deal held; or says why not.</summary>
    public async Task<Problem?> Change(LanternDb db, Deal deal, DealChange change, ClaimsPrincipal user)
    {
        var (pipeline, now) = (workspace.Pipeline(deal.PipelineKey)!, clock.UtcNow());
        var stage = change.Stage is null ? null : pipeline.Stage(change.Stage);
        if (change.Stage is not null && stage is null)
            return Problem.Of("stage-unknown", "stage");
        if (!IsOpen(deal) && stage is not { IsOpen: true })
            return Closed();
        if (Wrong(change, stage, user) is { } wrong)
            return wrong;
        if (change.Owner is { } owner && !await Person.IsHere(db, owner))
            return Problem.Of("owner-unknown", "owner");
        var changed = await Apply(db, deal, change, now);
        await db.SaveChangesAsync();
        if (stage is not null && stage.Key != deal.StageKey)
        {
            // Asked of the deal as it is with the rest of the change.
            if (stage.Counts != "lost" && await DealSnapshots.WhyNot(db, deal.Id, stage, workspace) is { } lacks)
                return lacks;
            Enter(deal, stage, change, now);
            changed = true;
            await db.Insert(
                new DealStageRow
                {
                    Id = Guid.CreateVersion7(),
                    DealId = deal.Id,
                    StageKey = stage.Key,
                    Since = now,
                    PersonId = user.Id(),
                }
            );
        }
        if (!changed)
            return null;
        deal.Version++;
        await db.SaveChangesAsync();
        return null;
    }

    private Problem? Wrong(DealChange change, LiveStage? stage, ClaimsPrincipal user)
    {
        if (stage is { Counts: "lost" } && workspace.Value(PickList.LostReasons, change.LostReason) is null)
            return Problem.Of("reason-missing", "lostReason");
        if (change.LostTo is not null && workspace.Value(PickList.Competitors, change.LostTo) is null)
            return Problem.Of("competitor-unknown", "lostTo");
        if (DealTerms.Wrong(change.Name, change.Amount, change.Currency, change.ExpectedClose) is { } unfit)
            return unfit;
        return change.Owner is not null && user.WorksOwnOnly() ? new Problem("not-yours") : null;
    }

    private static void Enter(Deal deal, LiveStage stage, DealChange change, DateTime now)
    {
        (deal.StageKey, deal.StageSince) = (stage.Key, now);
        deal.ClosedAt = stage.IsOpen ? null : now;
        deal.LostReason = stage.Counts == "lost" ? change.LostReason : null;
        deal.LostTo = stage.Counts == "lost" ? change.LostTo : null;
        if (!stage.IsOpen)
            deal.Probability = null;
    }

    // Stage, close, amount and owner log themselves.
    private static async Task<bool> Apply(LanternDb db, Deal deal, DealChange change, DateTime now)
    {
        var changed = false;
        if (change.Name?.Trim() is { } name && name != deal.Name)
        {
            await db.Log(EventLog.Deal, deal.Id, new DealNamed(deal.Name, name));
            (deal.Name, changed) = (name, true);
        }
        if (change.ExpectedClose is { } date && date != deal.ExpectedClose)
            (deal.ExpectedClose, changed) = (date, true);
        var (amount, currency) = (change.Amount ?? deal.Amount, change.Currency ?? deal.Currency);
        if ((amount, currency) != (deal.Amount, deal.Currency))
            (deal.Amount, deal.Currency, changed) = (amount, currency, true);
        if (change.Probability is { } said && (said < 0 ? null : (int?)said) is var probability && probability != deal.Probability)
        {
            await db.Log(EventLog.Deal, deal.Id, new ProbabilitySaid(probability));
            (deal.Probability, changed) = (probability, true);
        }
        if (change.Owner is { } owner && owner != deal.OwnerId)
            (deal.OwnerId, changed) = (owner, true);
        return changed;
    }

    /// <summary>Writes what somebody typed into the story of a deal, its contact and its account; gives the id of the entry.</summary>
    public static async Task<Guid> AppendActivity(LanternDb db, Deal deal, string kind, string text, Guid person, DateTime now)
    {
        var id = Guid.CreateVersion7();
        await db.Insert(
            new StoryEntry
            {
                Id = id,
                DealId = deal.Id,
                AccountId = deal.AccountId,
                ContactId = deal.ContactId,
                At = now,
                Kind = kind,
                Text = text,
                PersonId = person,
            }
        );
        return id;
    }
}
