using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Events;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Rights;

/// <summary>
/// Erases a person: the records that are them go, what came in that names them is emptied where it stands, their deals stay as the company's
/// business without them. What they withdrew, and that they are not to be contacted, stays as hashes. Cannot be undone; that is its purpose.
/// </summary>
public sealed class Erasure(Workspace workspace, TimeProvider clock)
{
    /// <summary>Stands where a name was.</summary>
    public const string Mark = "(erased)";

    private const int Patience = 600;
    private const int ShortestName = 5;

    /// <summary>Does it in the caller's transaction.</summary>
    /// <param name="bar">True when they shall not come in again: their addresses and numbers are barred.</param>
    /// <returns>How many records of each kind there were.</returns>
    public async Task<Dictionary<string, int>> Erase(LanternDb db, PersonTrail trail, bool bar, Guid person, CancellationToken cancel)
    {
        using var patient = db.Patient(Patience);
        var counts = await PersonRecords.Count(db, trail);
        var now = clock.UtcNow();
        await EmptyRows(db, trail, cancel);
        foreach (var statement in Statements(trail))
            await db.Run(statement);
        await EmptyDeals(db, trail);
        await ForgetNames(db, trail);
        if (bar)
            foreach (var value in trail.Emails.Concat(trail.Numbers))
            {
                var row = BarredRow.Of(workspace.Hashes, BarredRow.Person, value, "do_not_contact", now);
                await db.Run(
                    $"""
                    insert into barred (id, kind, hash, hash_key, why, at) values ({row.Id}, {row.Kind}, {row.Hash}, {row.HashKey}, {row.Why}, {row.At})
                    on conflict (kind, hash) do nothing
                    """
                );
            }
        await db.Insert(
            new ErasureRow
            {
                Id = Guid.CreateVersion7(),
                At = now,
                PersonId = person,
                Counts = Json.Write(counts),
            }
        );
        await db.Log(new Erased(counts));
        await PeopleChange.Tell(db);
        return counts;
    }

    // In the order of what hangs on what. Withdrawn consents stay, by their hashes, and so does the do-not-contact list.
    internal static IReadOnlyList<SqlText> Statements(PersonTrail p) =>
        [
            $"delete from bulk_edit b using bulk_lead l where l.bulk_id = b.id and l.lead_id = any({p.Leads}) and b.leads = 1",
            $"delete from consent where (lead_id = any({p.Leads}) or person_key = any({p.Keys})) and state <> 'withdrawn'",
            $"update consent set lead_id = null, place = '', wording = '', ask = null where lead_id = any({p.Leads}) or person_key = any({p.Keys})",
            $"delete from outbox where lead_id = any({p.Leads}) or lower(to_email) = any({p.Emails.ToArray()})",
            $"delete from arrival_file where arrival_id = any({p.Arrivals})",
            $$"""
                update single_arrival set raw = '{}', labels = '{}', reasons = null, reason = '', lead_id = null, text_key = null, key = case when key is not null then gen_random_uuid() end,
                  state = case when state = 'waiting' then 'set_aside' else state end where id = any({{p.Arrivals}})
                """,
            $"""
                update backfill b set changes = coalesce((select jsonb_agg(c) from jsonb_array_elements(b.changes) c where not (c->>'lead')::uuid = any({p.Leads})), '[]')
                where exists (select 1 from jsonb_array_elements(b.changes) c where (c->>'lead')::uuid = any({p.Leads}))
                """,
            $"delete from match_key k using record_merge m where k.record_id = m.gone_id and (m.kept_id = any({p.Leads}) or m.gone_id = any({p.Leads}) or m.kept_id = any({p.Contacts}) or m.gone_id = any({p.Contacts}))",
            $"delete from record_merge where kept_id = any({p.Leads}) or gone_id = any({p.Leads}) or kept_id = any({p.Contacts}) or gone_id = any({p.Contacts})",
            $"delete from duplicate where a = any({p.Leads}) or b = any({p.Leads}) or a = any({p.Contacts}) or b = any({p.Contacts})",
            .. RecordRegistry.Delete("lead", t => t.Erasure, p.Leads),
            .. RecordRegistry.Delete("contact", t => t.Erasure, p.Contacts),
        ];

    // A row keeps its place and number; it can neither come in nor be taken back.
    private static async Task EmptyRows(LanternDb db, PersonTrail trail, CancellationToken cancel)
    {
        foreach (var rows in trail.Rows.GroupBy(r => r.Import))
        {
            var numbers = rows.Select(r => r.Row).ToArray();
            await db.Run(
                $$"""
                with gone as (
                  update arrival a set cells = array[{{Mark}}], broken = null, values = '{}', problems = null, outcome = 'barred', reason = 'Erased at the person''s wish.', same_as_row = null,
                    lead_id = null, email_key = null, phone_key = null, name_key = null, changed = null, left_because = null
                  from arrival b where a.import_id = {{rows.Key}} and a.row_number = any({{numbers}}) and b.import_id = a.import_id and b.row_number = a.row_number
                  returning b.outcome as was),
                n as (select count(*) filter (where was = 'new') as new, count(*) filter (where was = 'contact') as contact, count(*) filter (where was = 'account') as account,
                  count(*) filter (where was = 'adds') as adds, count(*) filter (where was = 'duplicate') as duplicate, count(*) filter (where was = 'mend') as mend,
                  count(*) filter (where was <> 'barred') as barred, count(*) filter (where was not in ('mend', 'barred')) as takeable from gone)
                update import d set rows_new = rows_new - n.new, rows_contact = rows_contact - n.contact, rows_account = rows_account - n.account, rows_adds = rows_adds - n.adds,
                  rows_duplicate = rows_duplicate - n.duplicate, rows_mend = rows_mend - n.mend, rows_barred = rows_barred + n.barred,
                  rows_taken = case when d.state = 'taken' then greatest(0, d.rows_taken - n.takeable) else d.rows_taken end
                from n where d.id = {{rows.Key}}
                """
            );
            await db.Run(
                $"delete from mend where import_id = {rows.Key} and (row_number = any({numbers}) or exists (select 1 from unnest({trail.Emails.ToArray()}) e where position(e in lower(found || ' ' || put)) > 0))"
            );
            await ErasedList.Rewrite(db, rows.Key, cancel);
        }
    }

    // The contact stays as nobody where deals hang on it; facts about people go from the deals, the rest is the company's.
    private async Task EmptyDeals(LanternDb db, PersonTrail trail)
    {
        var personal = workspace.Catalogue.All.Where(f => f.Personal).Select(f => f.Key).ToArray();
        var (leads, contacts) = (trail.Leads, trail.Contacts);
        await db.Run(
            $$"""
            update deal set facts = facts - {{personal}}, lead_id = null, version = version + 1 where contact_id = any({{contacts}}) or lead_id = any({{leads}});
            delete from contact where id = any({{contacts}}) and not exists (select 1 from deal where contact_id = contact.id);
            update contact set name = {{Mark}}, email = null, phone = null, owner_id = null, facts = '{}' where id = any({{contacts}});
            delete from lead where id = any({{leads}});
            """
        );
    }

    // What is left that spells them out: names of deals, lines in the stories of others, messages among us, answers kept for a repeated request.
    private static async Task ForgetNames(LanternDb db, PersonTrail trail)
    {
        foreach (var word in trail.Emails.Concat(trail.Numbers).Concat(trail.Names.Where(n => n.Length >= ShortestName && n.Contains(' ', StringComparison.Ordinal))))
            await db.Run(
                $"""
                update story_entry set text = replace(text, {word}, {Mark}) where position({word} in text) > 0;
                update task set subject = replace(subject, {word}, {Mark}) where position({word} in subject) > 0;
                update deal set name = replace(name, {word}, {Mark}) where position({word} in name) > 0;
                delete from outbox where position({word} in subject) > 0 or position({word} in text) > 0;
                delete from request_key where position(convert_to({word}, 'UTF8') in body) > 0;
                """
            );
        string[] words = [.. trail.Emails, .. trail.Numbers, .. trail.Names.Where(n => n.Length >= ShortestName && n.Contains(' ', StringComparison.Ordinal))];
        await db.Run($"select event_blank({(Guid[])[.. trail.Leads, .. trail.Contacts]}, {words}, {Mark})");
        // What names are guessed from; a word that others have stays.
        await db.Run(
            $"""
            delete from search_word w using (select distinct word, quote_literal(word)::tsquery as ask from unnest({trail.Names.ToArray()}) x cross join lateral unnest(tsvector_to_array(search_words(x, null, null, null))) word) n
            where w.word = n.word and not exists (select 1 from lead where search_words(first_name, last_name, company, email) @@ n.ask)
              and not exists (select 1 from contact where search_words(name, email, null, null) @@ n.ask) and not exists (select 1 from account where search_words(name, domain, null, null) @@ n.ask)
            """
        );
    }
}
