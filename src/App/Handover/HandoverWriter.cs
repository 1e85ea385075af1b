using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Matching;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Matching;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handover;

/// <summary>
/// Writes one lead's handover, record by record, and remembers what it changed of records that were there. What it makes is sent with <see cref="Close"/>, in one trip.
/// </summary>
/// <param name="held">What is there already, locked.</param>
/// <param name="owner">Whose the records are that it makes.</param>
/// <param name="marks">Is told by what the records are found that it writes.</param>
internal sealed class HandoverWriter(
    LanternDb db,
    Workspace workspace,
    HandoverRow done,
    RecordValues lead,
    Core.Handover.HandoverSheet sheet,
    LockedTargets held,
    Guid? owner,
    IReadOnlyCollection<string> take,
    IReadOnlyCollection<string> drop,
    PendingMatchIndex marks
)
{
    private readonly List<RecordFactChange> _changes = [];
    private readonly List<SqlText> _made = [];

    // What the account is found by, and so its people.
    private (string? Name, string? Domain) _account;

    private bool HasChanged(string record) => _changes.Exists(c => c.Record == record);

    /// <summary>Makes the account, or fills what is blank in it and puts what was taken.</summary>
    /// <param name="name">For a new one.</param>
    public async Task Account(string? name)
    {
        if (done.AccountId is not { } id)
            return;
        var facts = Merged("account", held.Account?.Facts, TargetRecord.Account);
        _account = (held.Account?.CompanyKey, held.Account?.Domain);
        if (done.MadeAccount)
            Make(name, facts);
        else if (HasChanged("account"))
        {
            await RecordFacts.WriteFacts(db, "account", id, facts);
            _account = (facts.GetValueOrDefault("company") is { } company ? Folding.Company(company) : _account.Name, facts.GetValueOrDefault("website") ?? _account.Domain);
        }
        if (!done.MadeAccount && !HasChanged("account"))
            return;
        marks.Account(id, _account.Name, _account.Domain);
        _made.Add(DuplicateDetectionWorker.AskSql("account", [id]));
    }

    private void Make(string? name, Dictionary<string, string> facts)
    {
        var organisation = Organisation.Of(lead);
        var household = sheet.Makes == AccountKind.Household;
        _account = household ? default : (Folding.Company(name), organisation.Domain);
        _made.Add(
            $"""
            insert into account (id, name, household, company_key, domain, country, owner_id, created_at, facts)
            values ({done.AccountId}, {name}, {household}, nullif({_account.Name}, ''), nullif({_account.Domain}, ''), nullif({organisation.Country}, ''), {owner}, {done.At},
              {Json.Write(facts)}::jsonb)
            """
        );
    }

    /// <summary>Makes the contact, or fills what is blank in it and puts what was taken. One that has another account keeps it, and has this one beside.</summary>
    public async Task Contact()
    {
        var facts = Merged("contact", held.Contact?.Facts, TargetRecord.Contact);
        if (done.MadeContact)
            _made.Add(
                $"""
                insert into contact (id, account_id, name, email, phone, owner_id, created_at, facts)
                values ({done.ContactId}, {done.AccountId}, {LeadRecord.NameOf(lead)}, {facts.GetValueOrDefault("email")}, {facts.GetValueOrDefault("phone")},
                  {owner}, {done.At}, {Json.Write(facts)}::jsonb)
                """
            );
        else if (HasChanged("contact"))
            await RecordFacts.WriteFacts(db, "contact", done.ContactId, facts);
        if (!done.MadeContact && done.AccountId is { } account && held.Contact?.AccountId != account)
            await At(account);
        if (done.MadeContact || HasChanged("contact") || HasChanged("contact_account"))
            Keys(facts);
        _made.Add(DuplicateDetectionWorker.AskSql("contact", [done.ContactId]));
    }

    // A known contact is at the account from now on: as its first, or beside the one it has.
    private async Task At(Guid account)
    {
        if (held.Contact?.AccountId is null)
        {
            _made.Add($"update contact set account_id = {account} where id = {done.ContactId}");
            _changes.Add(new RecordFactChange("contact_account", "first", null, account.ToString()));
        }
        else if (!await db.Set<ContactAccountRow>().AnyAsync(c => c.ContactId == done.ContactId && c.AccountId == account && c.Until == null))
        {
            var further = Guid.CreateVersion7();
            var (title, since) = (lead.Text("job_title") ?? "", DateOnly.FromDateTime(done.At));
            _made.Add($"insert into contact_account (id, contact_id, account_id, title, since) values ({further}, {done.ContactId}, {account}, {title}, {since})");
            _changes.Add(new RecordFactChange("contact_account", "further", null, further.ToString()));
        }
    }

    // The account says the company where the contact does not.
    private void Keys(Dictionary<string, string> facts)
    {
        var keepsItsOwn = held.Contact?.AccountId is { } own && own != done.AccountId;
        var (company, domain) = keepsItsOwn ? (held.Contact!.CompanyKey, held.Contact.Domain) : _account;
        var who = new ContactIdentity
        {
            Email = facts.GetValueOrDefault("email"),
            Phone = facts.GetValueOrDefault("phone"),
            Facts = Json.Write(facts),
            CompanyKey = company,
            Domain = domain,
        };
        if (!done.MadeContact)
            _made.Add($"delete from match_key where record_id = {done.ContactId}");
        var identity = who.Identity(workspace.Catalogue);
        var keys = BlockKeys.Kept(identity).ToArray();
        marks.Contact(done.ContactId, identity, keys);
        _made.Add($"insert into match_key (key, record_id) select k, {done.ContactId} from unnest({keys}) k");
    }

    /// <summary>Makes the deal with its products, at its first stage.</summary>
    public void Deal(HandoverOrder order, string stage)
    {
        var facts = sheet
            .Lines.Where(l => l.On == TargetRecord.Deal && l.Field is not ("source" or "campaign") && !drop.Contains(l.Field))
            .ToDictionary(l => l.Field, l => l.Stored);
        _made.Add(
            $"""
            insert into deal (id, name, pipeline_key, stage_key, amount, currency, expected_close, account_id, contact_id, owner_id, lead_id, source, campaign, created_at, stage_since, facts)
            values ({done.DealId}, {order.DealName.Trim()}, {order.Pipeline}, {stage}, {order.Amount}, {order.Currency}, {order.ExpectedClose}, {done.AccountId}, {done.ContactId}, {owner},
              {done.LeadId}, {lead.Text("source") ?? ""}, {lead.Text("campaign")}, {done.At}, {done.At}, {Json.Write(facts)}::jsonb)
            """
        );
        _made.Add($"insert into deal_stage (id, deal_id, stage_key, since, person_id) values (gen_random_uuid(), {done.DealId}, {stage}, {done.At}, {done.PersonId})");
        if (order.Products.Count > 0)
            _made.Add(DealTerms.Put(done.DealId, order.Products));
    }

    /// <summary>Gives the contact its part in the deal.</summary>
    public void Join(string role) =>
        _made.Add($"insert into deal_person (id, deal_id, contact_id, role, at) values (gen_random_uuid(), {done.DealId}, {done.ContactId}, {role}, {done.At})");

    /// <summary>Sends what is made, counts what arrived, writes the handover down, and closes the lead: its story and tasks go along.</summary>
    /// <exception cref="InvalidOperationException">A fact neither arrived nor was left by a choice. Nothing may be kept then.</exception>
    /// <param name="deal">Name of the deal.</param>
    /// <param name="along">True where the lead went along with another.</param>
    public async Task Close(string deal, bool along = false)
    {
        var carried = HandoverPlanner.Count(lead, sheet, await Written(), take, drop);
        if (!carried.IsWhole)
            throw new InvalidOperationException($"of {carried.Known} facts of a lead {carried.Found} arrived and {carried.Left.Length} were left on purpose");
        var dropped = carried.Left.Where(l => l.How == Settled.Dropped).Select(l => l.Label.ToLowerInvariant()).ToList();
        List<SqlText> closing =
        [
            $"""
                insert into handover (id, lead_id, account_id, contact_id, deal_id, made_account, made_contact, made_deal, key, changes, carried, at, person_id)
                  values ({done.Id}, {done.LeadId}, {done.AccountId}, {done.ContactId}, {done.DealId}, {done.MadeAccount}, {done.MadeContact}, {done.MadeDeal}, {done.Key},
                    {Json.Write(_changes)}::jsonb || (select jsonb_agg(jsonb_build_object('record', 'lead', 'field', x.field, 'before', x.before, 'after', '')) from lead l
                      cross join lateral (values ('state', l.state), ('wake_at', l.wake_at::text), ('clock_due_at', l.clock_due_at::text), ('last_touch_at', l.last_touch_at::text)) x(field, before) where l.id = {done.LeadId}),
                    {Json.Write(carried)}::jsonb, {done.At}, {done.PersonId});
                update story_entry set contact_id = {done.ContactId}, account_id = {done.AccountId}, deal_id = {done.DealId} where lead_id = {done.LeadId};
                update task set deal_id = {done.DealId}, contact_id = {done.ContactId} where lead_id = {done.LeadId};
                delete from duplicate where state = 'open' and (a = {done.LeadId} or b = {done.LeadId});
                update lead set state = 'handed_over', wake_at = null, clock_due_at = null, last_touch_at = {done.At}, version = version + 1 where id = {done.LeadId}
                """,
            EventLog.Sql(EventLog.Lead, [done.LeadId], new HandedOver(done.DealId, done.ContactId, done.AccountId, carried.Found, carried.Known, [.. dropped], along, deal)),
        ];
        await db.Run(SqlText.Joined(closing));
    }

    private sealed record WrittenFacts(string? Account, string Contact, string Deal, string Source, string? Campaign);

    // As it stands in the database now, not as we meant it.
    private async Task<IReadOnlyDictionary<TargetRecord, IReadOnlyDictionary<string, string>>> Written()
    {
        _made.Add(
            $"""
            select (select facts::text from account where id = {done.AccountId}) as account, (select facts::text from contact where id = {done.ContactId}) as contact, d.facts::text as deal, d.source, d.campaign
            from deal d where d.id = {done.DealId}
            """
        );
        var row = await db.One<WrittenFacts>(SqlText.Joined(_made));
        var written = new Dictionary<TargetRecord, IReadOnlyDictionary<string, string>>();
        if (row.Account is not null)
            written[TargetRecord.Account] = Json.Read<Dictionary<string, string>>(row.Account);
        written[TargetRecord.Contact] = Json.Read<Dictionary<string, string>>(row.Contact);
        var deal = Json.Read<Dictionary<string, string>>(row.Deal);
        deal["source"] = row.Source;
        if (row.Campaign is not null)
            deal["campaign"] = row.Campaign;
        written[TargetRecord.Deal] = deal;
        return written;
    }

    // Blanks are filled; where both say something, ours stays unless the person took the lead's.
    private Dictionary<string, string> Merged(string table, Dictionary<string, string>? existing, TargetRecord on)
    {
        var facts = existing is null ? [] : new Dictionary<string, string>(existing);
        foreach (var line in sheet.Lines.Where(l => l.On == on && !drop.Contains(l.Field)))
        {
            var before = facts.GetValueOrDefault(line.Field);
            if (before is not null && !(line.Differs && take.Contains(line.Field)))
                continue;
            facts[line.Field] = line.Stored;
            if (existing is not null)
                _changes.Add(new RecordFactChange(table, line.Field, before, line.Stored));
        }
        return facts;
    }
}
