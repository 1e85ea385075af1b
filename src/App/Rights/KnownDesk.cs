using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Routing;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Rights;

/// <summary>Asking for a record that one does not see, and the answer of whoever has it.</summary>
internal sealed class KnownDesk(LanternDb db, Workspace workspace, RecordScope scope, TimeProvider clock)
{
    private const int LongestWord = 300;

    /// <summary>Asks for a record that one was told of. Asking again takes the place of what was said before.</summary>
    public async Task<Problem?> Ask(ClaimsPrincipal user, Guid id, string word)
    {
        var (me, said, now) = (user.Id(), FieldReader.Clean(word), clock.UtcNow());
        if (said.Length > LongestWord)
            return Problem.Of("too-long", "word", LongestWord);
        await using var transaction = await db.Database.BeginTransactionAsync();
        var asked = await db.Set<KnownAnswerRow>().FromSql($"select * from known_answer where id = {id} for update").SingleOrDefaultAsync(k => k.PersonId == me);
        if (asked is null || await Named(asked) is not { } record)
            return Problem.NotFound("answer");
        (asked.AskedAt, asked.Word, asked.Outcome, asked.AnsweredAt, asked.AnsweredById) = (now, said, null, null, null);
        await db.SaveChangesAsync();
        await db.Log(record.Kind, record.Id, new AskedFor(record.Owner, record.Name, said.Length > 0 ? said : null));
        await transaction.CommitAsync();
        return null;
    }

    /// <summary>Answers: shares the record with whoever asked, gives it to them, or declines.</summary>
    public async Task<Problem?> Answer(ClaimsPrincipal user, Guid id, string how, string word)
    {
        var (said, now) = (FieldReader.Clean(word), clock.UtcNow());
        if (said.Length > LongestWord)
            return Problem.Of("too-long", "word", LongestWord);
        if (how is not (KnownAnswerRow.Shared or KnownAnswerRow.Given or KnownAnswerRow.Declined))
            return Problem.Of("ask-answer-unknown", "how", how);
        await using var transaction = await db.Database.BeginTransactionAsync();
        var (asked, record, unfit) = await Mine(user, id);
        if (unfit is not null)
            return unfit;
        if (asked!.Outcome is not null)
            return new Problem("ask-answered");
        var asker = await db.Users.SingleAsync(p => p.Id == asked.PersonId);
        if (how != KnownAnswerRow.Declined && Unfit(asker, record!.Kind, how) is { } cannot)
            return cannot;
        (asked.Outcome, asked.AnsweredAt, asked.AnsweredById, asked.OwnerBeforeId) = (how, now, user.Id(), record!.Owner);
        await db.SaveChangesAsync();
        if (how == KnownAnswerRow.Shared)
            await db.Run(
                $"""
                insert into record_share (id, person_id, {record.Kind:sql}_id, at) select gen_random_uuid(), {asker.Id}, {record.Id}, {now}
                where not exists (select 1 from record_share where person_id = {asker.Id} and {record.Kind:sql}_id = {record.Id})
                """
            );
        else if (how == KnownAnswerRow.Given)
            await Give(record, asker.Id, now);
        await db.Log(record.Kind, record.Id, new AskAnswered(asker.Id, how, how == KnownAnswerRow.Declined ? null : record.Name, said.Length > 0 ? said : null));
        await transaction.CommitAsync();
        return null;
    }

    /// <summary>Takes one's answer back: what was shared is shared no more, what was given comes back where whoever got it has it still.</summary>
    public async Task<Problem?> Undo(ClaimsPrincipal user, Guid id)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var asked = await db.Set<KnownAnswerRow>().FromSql($"select * from known_answer where id = {id} for update").SingleOrDefaultAsync();
        if (asked is not { Outcome: { } outcome } || asked.AnsweredById != user.Id() || await Named(asked) is not { } record)
            return Problem.NotFound("answer");
        if (outcome == KnownAnswerRow.Given && record.Owner != asked.PersonId)
            return new Problem("ask-moved-on");
        var before = asked.OwnerBeforeId;
        (asked.Outcome, asked.AnsweredAt, asked.AnsweredById, asked.OwnerBeforeId) = (null, null, null, null);
        await db.SaveChangesAsync();
        if (outcome == KnownAnswerRow.Shared)
            await db.Run($"delete from record_share where person_id = {asked.PersonId} and {record.Kind:sql}_id = {record.Id}");
        else if (outcome == KnownAnswerRow.Given)
            await Give(record, before, clock.UtcNow());
        await db.Log(record.Kind, record.Id, new AskAnswered(asked.PersonId, "open"));
        await transaction.CommitAsync();
        return null;
    }

    private sealed record Record(string Kind, Guid Id, string Name, Guid? Owner);

    private sealed record NamedRecord(string? Name, Guid? OwnerId);

    // The ask, held, where the caller may answer it: the record is theirs, or nobody's and they give records out.
    private async Task<(KnownAnswerRow?, Record?, Problem?)> Mine(ClaimsPrincipal user, Guid id)
    {
        var asked = await db.Set<KnownAnswerRow>().FromSql($"select * from known_answer where id = {id} for update").SingleOrDefaultAsync(k => k.AskedAt != null);
        if (asked is null || await Named(asked) is not { } record)
            return (null, null, Problem.NotFound("question"));
        var may = record.Owner == user.Id() || user.May(Act.GiveLeads) && await Sees(record);
        return may ? (asked, record, null) : (null, null, Problem.NotFound("question"));
    }

    private Task<bool> Sees(Record record) =>
        db.One<bool>($"""select exists (select 1 from {record.Kind:sql} r where r.id = {record.Id} and {scope.Sees(record.Kind, "r"):sql}) as "Value" """);

    // The record as it is now; null where it is gone.
    private async Task<Record?> Named(KnownAnswerRow asked)
    {
        var (kind, id) =
            asked.LeadId is { } lead ? (EventLog.Lead, lead)
            : asked.ContactId is { } contact ? (EventLog.Contact, contact)
            : (EventLog.Account, asked.AccountId!.Value);
        var name = kind == EventLog.Lead ? RecordScope.Everything.LeadName("r") : $"r.name";
        var found = await db.Row<NamedRecord>(
            $"select {name:sql} as name, r.owner_id from {kind:sql} r where r.id = {id} for update {RecordScope.Unscoped("of whom is asked is told to who has it"):sql}"
        );
        return found is null ? null : new Record(kind, id, found.Name ?? "", found.OwnerId);
    }

    private Problem? Unfit(Person asker, string kind, string how)
    {
        var rights = workspace.Roles.Of(asker.Roles);
        if (!asker.Here)
            return new Problem("owner-unknown", "how");
        if (how == KnownAnswerRow.Shared)
            return (rights.Sees(kind) & (Reach.Shared | Reach.All)) == 0 ? Problem.Of("ask-not-shared", "how", asker.DisplayName) : null;
        var takes = kind == EventLog.Lead ? rights.GivenLeads : rights.May(Act.WorkDeals);
        return takes && (rights.Sees(kind) & (Reach.Own | Reach.All)) != 0 ? null : Problem.Of("ask-not-given", "how", asker.DisplayName);
    }

    private async Task Give(Record record, Guid? to, DateTime now)
    {
        if (record.Kind != EventLog.Lead)
        {
            await db.Run($"update {record.Kind:sql} set owner_id = {to} where id = {record.Id}");
            return;
        }
        var sheet = await workspace.HasRules(db) ? (await workspace.Rules(db)).Router.Sheet : RuleSheet.Empty;
        await OwnerAssigner.Give(db, [new OwnerAssignment(record.Id, to, workspace.AnswerDue(to, sheet, now), sheet.Task)], now);
    }
}
