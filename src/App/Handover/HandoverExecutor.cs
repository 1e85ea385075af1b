using System.Collections.Immutable;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Leads;
using DapperLantern.App.Matching;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Deals;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Routing;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handover;

/// <summary>Does handovers: account, contact and deal are written, the lead points to them, and what arrived is counted.</summary>
public sealed class HandoverExecutor(Workspace workspace, HandoverLookup desk, Rerouter rerouter, TimeProvider clock)
{
    /// <summary>Does it in the caller's transaction, or says why not and has written nothing that may stay. Under <see cref="Admission.Lock"/>, with the lead locked and free to be written.</summary>
    /// <param name="ownOnly">True when only leads of <paramref name="person"/> may come along.</param>
    /// <param name="key">By which a repeated request is known.</param>
    public async Task<Problem?> Do(LanternDb db, Guid lead, HandoverOrder order, Guid person, bool ownOnly = false, string? key = null)
    {
        if (HandoverCheck.Wrong(order, workspace) is { } wrong)
            return wrong;
        // What the lead is laid out against stays so until it is written.
        var wish = new HandoverWish(order.AccountId, order.ContactId, order.Makes, order.NewAccount, order.NewContact);
        var look = (await desk.Look(db, lead, wish, hold: true))!;
        // As the sheet would have proposed, had the account been there when it was laid out: the colleague's lead of the same company that was handed over meanwhile made it.
        if (Joins(look, order) is { } account)
        {
            var ofAccount = look.Sheet.Lines.Where(l => l.On == TargetRecord.Account).Select(l => l.Field).ToHashSet();
            order = order with { AccountId = account, Take = [.. order.Take.Where(f => !ofAccount.Contains(f))] };
            look = (await desk.Look(db, lead, wish with { Account = account }, hold: true))!;
        }
        return await Do(db, lead, order, person, ownOnly, key, look, await workspace.Rules(db), new PendingMatchIndex(workspace.Matcher));
    }

    private async Task<Problem?> Do(
        LanternDb db,
        Guid lead,
        HandoverOrder order,
        Guid person,
        bool ownOnly,
        string? key,
        HandoverLook look,
        LiveRules rules,
        PendingMatchIndex marks
    )
    {
        if (look.Lead.Text("state") != LeadState.Qualified)
            return Problem.Of("handover-unqualified");
        if (workspace.Pipeline(order.Pipeline ?? "") is not { First: { } stage } pipeline)
            return Problem.Of("pipeline-unknown", "pipeline");
        if (order.AccountId is not null && look.Held.Account is null)
            return Problem.Of("account-unknown", "accountId");
        if (order.ContactId is not null && look.Held.Contact is null)
            return Problem.Of("contact-unknown", "contactId");
        if (WhyNot(look, order) is { } no)
            return no;
        if (ownOnly && await WhyNotTheirs(db, look, order, person) is { } theirs)
            return theirs;
        if (await WhyNotAlong(db, lead, order, ownOnly ? person : null) is { } alone)
            return alone;

        if (await WhyNotStage(db, lead, look.Sheet, order, stage) is { } lacks)
            return lacks;

        var now = clock.UtcNow();
        var hasAccount = order.AccountId is not null || look.Sheet.Makes != AccountKind.None;
        var done = new HandoverRow
        {
            Id = Guid.CreateVersion7(),
            LeadId = lead,
            At = now,
            PersonId = person,
            DealId = Guid.CreateVersion7(),
            AccountId = hasAccount ? order.AccountId ?? Guid.CreateVersion7() : null,
            ContactId = order.ContactId ?? Guid.CreateVersion7(),
            MadeAccount = hasAccount && order.AccountId is null,
            MadeContact = order.ContactId is null,
            Key = key,
        };
        var owner = await rerouter.OwnerAt(db, lead, look.Lead, RoutingMoment.Handover, now, rules) ?? Rerouter.OwnerOf(look.Lead);
        var name = order.DealName.Trim();
        var writing = new HandoverWriter(db, workspace, done, look.Lead, look.Sheet, look.Held, owner, order.Take, order.Drop, marks);
        await writing.Account(order.AccountName?.Trim() ?? look.Sheet.AccountName);
        await writing.Contact();
        writing.Deal(order, stage.Key);
        writing.Join(order.Role);
        await writing.Close(name);
        foreach (var along in order.Along)
            await TakeAlong(db, along, done, look.Sheet.Makes, name, owner, now, marks);
        return null;
    }

    /// <summary>Does each as its sheet proposes: to the account and contact that are the same beyond doubt, else to new ones, with an amount to be said later where the price list knows none. As <see cref="Do"/>.</summary>
    /// <param name="leads">Read and locked.</param>
    /// <returns>Of each in its order why not; null where it is done.</returns>
    public async Task<IReadOnlyList<Problem?>> DoAsProposed(LanternDb db, IReadOnlyList<(Guid Id, RecordValues Facts)> leads, string pipeline, Guid person)
    {
        var rules = await workspace.Rules(db);
        var found = await desk.Find(db, [.. leads.Select(l => l.Facts)]);
        var (marks, answers) = (new PendingMatchIndex(workspace.Matcher), new List<Problem?>());
        foreach (var ((id, facts), there) in leads.Zip(found))
            answers.Add(await DoAsProposed(db, id, await Lay(db, facts, there, marks), pipeline, person, rules, marks));
        return answers;
    }

    // What was found for all of them together is looked for again where one of them wrote something it might be found by, or what was found is gone.
    private async Task<HandoverLook> Lay(LanternDb db, RecordValues facts, AlreadyThere there, PendingMatchIndex marks)
    {
        var look = marks.MayConcern(facts, there) ? null : await desk.Lay(db, facts, there, new HandoverWish(), hold: true);
        return look is null || (there.SameAccount is not null && look.Held.Account is null) || (there.SameContact is not null && look.Held.Contact is null)
            ? await desk.Lay(db, facts, (await desk.Find(db, [facts]))[0], new HandoverWish(), hold: true)
            : look;
    }

    private async Task<Problem?> DoAsProposed(LanternDb db, Guid lead, HandoverLook look, string pipeline, Guid person, LiveRules rules, PendingMatchIndex marks)
    {
        if (look.Proposals.FirstOrDefault(p => p.Pipeline == pipeline) is not { } proposal)
            return Problem.Of("pipeline-unknown", "pipeline");
        var order = new HandoverOrder(
            look.There.SameAccount?.Id,
            false,
            look.There.SameContact?.Id,
            [],
            pipeline,
            proposal.Name,
            proposal.Amount ?? 0,
            proposal.Currency,
            proposal.ExpectedClose
        )
        {
            Role = RoleOf(look.Lead, workspace),
            Products = [.. proposal.Products.Select(p => new OrderedProduct(p.Product, p.Quantity, p.Price ?? 0))],
        };
        return HandoverCheck.Wrong(order, workspace) ?? await Do(db, lead, order, person, ownOnly: false, key: null, look, rules, marks);
    }

    /// <summary>The part a lead would have in its deal by what it says of itself; empty for none in particular.</summary>
    public static string RoleOf(RecordValues lead, Workspace workspace) =>
        lead.Text("decides") == "yes" && workspace.List(PickList.Roles).FirstOrDefault() is { Key: { } first } ? first : "";

    // What the deal would be is known before it is made.
    private async Task<Problem?> WhyNotStage(LanternDb db, Guid lead, Core.Handover.HandoverSheet sheet, HandoverOrder order, LiveStage stage)
    {
        if (stage.Needs.Length == 0)
            return null;
        var hasStep = await db.Set<TaskRow>().AnyAsync(x => x.LeadId == lead && x.DoneAt == null);
        var facts = sheet.Lines.Where(l => l.On == TargetRecord.Deal && !order.Drop.Contains(l.Field)).Select(l => l.Field).ToHashSet();
        var roles = order.Along.Select(a => a.Role).Append(order.Role).ToHashSet();
        return DealSnapshots.WhyNot(new DealSnapshot(order.Amount, order.Products.Count, hasStep, roles, HasCompetitor: false, facts), stage, workspace);
    }

    private async Task TakeAlong(LanternDb db, AlongOrder along, HandoverRow main, AccountKind makes, string dealName, Guid? owner, DateTime now, PendingMatchIndex marks)
    {
        var kind =
            main.AccountId is null ? AccountKind.None
            : makes == AccountKind.None ? AccountKind.Organisation
            : makes;
        var look = (await desk.LookAlong(db, along, main.AccountId, kind))!;
        var done = new HandoverRow
        {
            Id = Guid.CreateVersion7(),
            LeadId = along.LeadId,
            At = now,
            PersonId = main.PersonId,
            DealId = main.DealId,
            AccountId = main.AccountId,
            ContactId = look.Contact ?? Guid.CreateVersion7(),
            MadeContact = look.Contact is null,
            MadeDeal = false,
        };
        var writing = new HandoverWriter(db, workspace, done, look.Lead, look.Sheet, look.Held, owner, [], [], marks);
        await writing.Account(null);
        await writing.Contact();
        writing.Join(along.Role);
        await writing.Close(dealName, along: true);
    }

    // The account that is the same beyond doubt, where the order neither names one nor says that it is another one; only its blanks are filled.
    private static Guid? Joins(HandoverLook look, HandoverOrder order) =>
        order.AccountId is null && !order.NewAccount && look.Sheet.Makes != AccountKind.None ? look.There.SameAccount?.Id : null;

    private static Problem? WhyNot(HandoverLook look, HandoverOrder order)
    {
        if (order.ContactId is null && !order.NewContact && look.There.SameContact is { } person)
            return Problem.Of("contact-exists", "", person.Name, person.Evidence);
        return null;
    }

    // Who works only what they own may link a lead to a record of somebody else that is found for it beyond doubt or in doubt, and fill its blanks; they overwrite nothing
    // in it, and link to no other.
    private static async Task<Problem?> WhyNotTheirs(LanternDb db, HandoverLook look, HandoverOrder order, Guid me)
    {
        foreach (var (kind, id, found) in new[] { ("account", order.AccountId, look.There.Accounts), ("contact", order.ContactId, look.There.Contacts) })
        {
            if (id is not { } record || await db.Row<Guid?>($"""select owner_id as "Value" from {kind:sql} where id = {record}""") is not { } owner || owner == me)
                continue;
            if (found.All(f => f.Id != record))
                return Problem.Of("not-yours-chosen", "", kind);
            if (
                look.Sheet.Lines.FirstOrDefault(l => l.On == (kind == "account" ? TargetRecord.Account : TargetRecord.Contact) && l.Differs && order.Take.Contains(l.Field)) is
                { } line
            )
                return Problem.Of("not-yours-fact", "", kind, line.Label.ToLowerInvariant());
        }
        return null;
    }

    // Locks those that come along, in one order for everybody.
    private static async Task<Problem?> WhyNotAlong(LanternDb db, Guid lead, HandoverOrder order, Guid? ownOnly)
    {
        if (order.Along.Count == 0)
            return null;
        var ids = order.Along.Select(a => a.LeadId).ToArray();
        var rows = await db.Rows<AlongLead>($"select id, state, owner_id as owner, company_key as company from lead where id = any({ids}) order by id for update");
        if (rows.Count < order.Along.Count || rows.Any(r => r.Id == lead || !LeadState.IsOpen(r.State)))
            return Problem.Of("along-gone");
        var company = await db.Set<Lead>().Where(x => x.Id == lead).Select(x => x.CompanyKey).SingleAsync();
        if (company is null || rows.Any(r => r.Company != company))
            return Problem.Of("along-other", "along");
        return ownOnly is { } own && rows.Any(r => r.Owner != own) ? new Problem("not-yours") : null;
    }

    private sealed record AlongLead(Guid Id, string State, Guid? Owner, string? Company);
}
