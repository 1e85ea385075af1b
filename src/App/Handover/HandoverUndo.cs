using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Matching;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handover;

/// <summary>Something done with what a handover made, since.</summary>
public sealed record DoneSince(DateTime At, string Text, string? By);

/// <summary>What taking a handover back would meet.</summary>
/// <param name="Since">What was done with what it made; empty when nothing was, and then all of it is removed.</param>
/// <param name="Along">Names of leads that came along and go back with it.</param>
/// <param name="Stays">What it made and others use by now, which stays.</param>
public sealed record TakeBackLook(string DealName, IReadOnlyList<DoneSince> Since, IReadOnlyList<string> Along, IReadOnlyList<string> Stays);

/// <summary>
/// Takes a handover back: removes what it made, gives back what it changed where nobody changed it since, and the lead is as before. Where somebody
/// worked with what it made, that can be kept instead: only the lead comes back then.
/// </summary>
public sealed class HandoverUndo(Workspace workspace, RecordScope scope, Stories stories, TimeProvider clock)
{
    private const int MostTold = 50;

    /// <summary>Null when the lead is not handed over.</summary>
    public async Task<TakeBackLook?> Look(LanternDb db, Guid lead)
    {
        if (await Open(db, lead, hold: false) is not { } done)
            return null;
        var name = await db.Set<Deal>().TagWith("unscoped: what the lead became").Where(d => d.Id == done.DealId).Select(d => d.Name).SingleAsync();
        var all = await Whole(db, done);
        var ids = all.Where(a => a.Id != done.Id).Select(a => a.LeadId).ToArray();
        var names = await db.Rows<string>($"""select {scope.LeadName("l"):sql} as "Value" from lead l where l.id = any({ids}) and {scope.Sees("lead", "l"):sql}""");
        return new TakeBackLook(name, await Since(db, all), [.. names], await Stays(db, done));
    }

    /// <param name="ownOnly">True when the lead must be the person's own.</param>
    /// <param name="keep">True to keep what it made, when somebody worked with it.</param>
    /// <summary>Null when done; otherwise why not, and nothing is written.</summary>
    public async Task<Problem?> Run(LanternDb db, Guid lead, Guid by, bool ownOnly, bool keep = false)
    {
        if (await Open(db, lead, hold: true) is not { } done)
            return Problem.Of("not-handed-over");
        var owner = await db.Set<Lead>().Where(x => x.Id == lead).Select(x => x.OwnerId).SingleAsync();
        if (ownOnly && owner != by)
            return new Problem("not-yours");
        var all = await Whole(db, done);
        var since = await Since(db, all);
        if (since.Count > 0 && !keep)
            return Problem.Of(
                "worked-on",
                "",
                new Whole(string.Join("; ", since.Take(3).Select(s => s.Text.TrimEnd('.')))),
                (since.Count > 3 ? $"; and {since.Count - 3} more" : "")
            );
        var now = clock.UtcNow();
        foreach (var one in all)
            await Back(db, one, since.Count > 0, now);
        return null;
    }

    private static async Task<HandoverRow?> Open(LanternDb db, Guid lead, bool hold) =>
        await db.Entity<HandoverRow>($"select * from handover where lead_id = {lead} and taken_back_at is null {(hold ? "for update" : ""):sql}");

    // With the one that made the deal go those that came along, before it.
    private static async Task<List<HandoverRow>> Whole(LanternDb db, HandoverRow done) =>
        done.MadeDeal
            ? [.. await db.Set<HandoverRow>().AsNoTracking().Where(x => x.DealId == done.DealId && !x.MadeDeal && x.TakenBackAt == null).OrderBy(x => x.LeadId).ToListAsync(), done]
            : [done];

    // What others use by now stays whatever is taken back.
    private async Task<List<string>> Stays(LanternDb db, HandoverRow done) =>
        await db.Rows<string>(
            $"""
            select 'the account ' || coalesce({scope.NameBeside("account", "a"):sql}, '') as "Value" {RecordScope.Unscoped("what others use is told by its name"):sql}
              from account a where a.id = {done.AccountId} and {done.MadeAccount}
              and (exists (select 1 from deal d where d.account_id = a.id and d.id <> {done.DealId}) or exists (select 1 from contact c where c.account_id = a.id and c.id <> {done.ContactId}
                and not exists (select 1 from handover h where h.deal_id = {done.DealId} and h.contact_id = c.id and h.made_contact)))
            union all select 'the contact ' || coalesce({scope.NameBeside("contact", "c"):sql}, '') from contact c where c.id = {done.ContactId} and {done.MadeContact}
              and (exists (select 1 from deal d where d.contact_id = c.id and d.id <> {done.DealId}) or exists (select 1 from deal_person p where p.contact_id = c.id and p.deal_id <> {done.DealId}))
            """
        );

    // Work on a record leaves a line in its story; a task of the deal's own is seen by itself.
    private async Task<List<DoneSince>> Since(LanternDb db, List<HandoverRow> all)
    {
        var since = new List<DoneSince>();
        foreach (var done in all)
            since.AddRange(await Since(db, done));
        return [.. since.Distinct().OrderBy(s => s.At).Take(MostTold)];
    }

    private async Task<List<DoneSince>> Since(LanternDb db, HandoverRow done)
    {
        var made = new[] { (done.MadeDeal, done.DealId), (done.MadeContact, done.ContactId), (done.MadeAccount, done.AccountId ?? default) };
        var told = await stories.Since(db, [.. made.Where(m => m.Item1).Select(m => m.Item2)], done.At);
        var written = await Written(db, done);
        return [.. written.Concat(told.Select(t => new DoneSince(t.At, t.Text, t.By))).OrderBy(s => s.At).Take(MostTold)];
    }

    private static async Task<List<DoneSince>> Written(LanternDb db, HandoverRow done) =>
        await db.Rows<DoneSince>(
            $"""
            select s.at, s.text, p.display_name as by from story_entry s left join person p on p.id = s.person_id
              where s.at > {done.At} and s.removed_at is null
                and (({done.MadeDeal} and s.deal_id = {done.DealId}) or ({done.MadeContact} and s.contact_id = {done.ContactId}) or ({done.MadeAccount} and s.account_id = {done.AccountId}))
            union all select t.due_at, 'the task ' || t.subject, p.display_name from task t join person p on p.id = t.owner_id where {done.MadeDeal} and t.deal_id = {done.DealId} and t.lead_id is null
            order by 1 limit {MostTold}
            """
        );

    private async Task Back(LanternDb db, HandoverRow done, bool keep, DateTime now)
    {
        var changes = Json.Read<List<RecordFactChange>>(done.Changes);
        if (!keep)
            await Remove(db, done, changes);
        var state = Before(changes, "state") ?? Core.Leads.LeadState.Qualified;
        await db.Run(
            $"""
            update handover set taken_back_at = {now}, key = null where id = {done.Id};
            update deal set lead_id = null where id = {done.DealId} and lead_id = {done.LeadId};
            update lead set state = {state}, wake_at = {Before(changes, "wake_at")}::timestamptz, clock_due_at = {Before(changes, "clock_due_at")}::timestamptz,
              last_touch_at = case when last_touch_at = {done.At} then coalesce({Before(changes, "last_touch_at")}::timestamptz, last_touch_at) else last_touch_at end,
              version = version + 1 where id = {done.LeadId};
            """
        );
        await db.Log(EventLog.Lead, done.LeadId, new HandoverUndone(keep));
        await FollowUps.Refresh(db, [done.LeadId]);
        await DuplicateDetectionWorker.Ask(db, "lead", [done.LeadId]);
    }

    private static string? Before(List<RecordFactChange> changes, string field) => changes.Find(c => c.Record == "lead" && c.Field == field)?.Before;

    private async Task Remove(LanternDb db, HandoverRow done, List<RecordFactChange> changes)
    {
        var links = changes.Where(c => c is { Record: "contact_account", Field: "further" }).Select(c => Guid.Parse(c.After)).ToArray();
        var first = changes.Exists(c => c is { Record: "contact_account", Field: "first" });
        await db.Run(
            $"""
            update story_entry set contact_id = null, account_id = null, deal_id = null where lead_id = {done.LeadId};
            update task set deal_id = null, contact_id = null where lead_id = {done.LeadId};
            delete from deal where id = {done.DealId} and {done.MadeDeal};
            delete from deal_person where deal_id = {done.DealId} and contact_id = {done.ContactId} and at = {done.At};
            delete from contact_account where id = any({links});
            update contact set account_id = null where id = {done.ContactId} and account_id = {done.AccountId} and {first};
            """
        );
        await db.Run(
            $"""
            delete from contact where id = {done.ContactId} and {done.MadeContact} and not exists (select 1 from deal where contact_id = {done.ContactId}) and not exists (select 1 from deal_person where contact_id = {done.ContactId});
            delete from account where id = {done.AccountId} and {done.MadeAccount} and not exists (select 1 from deal where account_id = {done.AccountId}) and not exists (select 1 from contact where account_id = {done.AccountId});
            """
        );
        foreach (var (record, id) in new[] { ("contact", done.ContactId), ("account", done.AccountId ?? default) })
            await Restore(db, record, id, changes.Where(c => c.Record == record).ToList());
        await MatchKeys.WriteContacts(db, [done.ContactId], workspace.Catalogue);
    }

    // What somebody changed since stays theirs.
    private static async Task Restore(LanternDb db, string record, Guid id, List<RecordFactChange> changes)
    {
        if (changes.Count == 0 || await db.Row<string>($"""select facts::text as "Value" from {record:sql} where id = {id} for update""") is not { } held)
            return;
        var facts = Json.Read<Dictionary<string, string>>(held);
        foreach (var change in changes.Where(c => facts.GetValueOrDefault(c.Field) == c.After))
            if (change.Before is null)
                facts.Remove(change.Field);
            else
                facts[change.Field] = change.Before;
        await RecordFacts.WriteFacts(db, record, id, facts);
        await DuplicateDetectionWorker.Ask(db, record, [id]);
    }
}
