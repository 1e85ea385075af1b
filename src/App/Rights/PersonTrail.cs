using DapperLantern.App.Data;
using DapperLantern.App.Intake;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Rights;

/// <summary>A row of a list.</summary>
public sealed record TrailRow(Guid Import, int Row);

/// <summary>
/// Where we have something about one person: the records that are them, and what came in that names them. Found from an email address or a lead's
/// number; a lead's other addresses, its contact and the other leads of that contact are followed. A shared telephone number is not.
/// </summary>
/// <param name="Keys">The hashes under which consents and bars of this person are kept.</param>
public sealed record PersonTrail(
    IReadOnlyList<string> Emails,
    IReadOnlyList<string> Numbers,
    IReadOnlyList<string> Names,
    Guid[] Leads,
    Guid[] Contacts,
    Guid[] Arrivals,
    IReadOnlyList<TrailRow> Rows,
    long[] Keys
)
{
    // Looking through what came in raw has no index to go by.
    private const int Patience = 600;

    public bool IsEmpty => Leads.Length + Contacts.Length + Arrivals.Length + Rows.Count == 0;

    /// <summary>The trail of whoever an email address, or a lead's number ("L-1103" or "1103"), names; null when it is neither.</summary>
    public static async Task<PersonTrail?> Find(LanternDb db, string who, Workspace workspace)
    {
        var emails = new HashSet<string>();
        var leads = new HashSet<Guid>();
        var contacts = new HashSet<Guid>();
        var written = FieldReader.Clean(who);
        if (FieldReader.Read(workspace.Catalogue["email"], written, default(string)).Value is { IsKnown: true } mail)
            emails.Add(mail.Text!);
        else if (int.TryParse(written.TrimStart('L', 'l').TrimStart('-'), out var number))
            leads.UnionWith(
                await db.Rows<Guid>(
                    $"""select id as "Value" from lead where number = {number} union select lead_id from bulk_lead where kept ? 'gone' and (kept->'gone'->'lead'->0->>'number')::int = {number}"""
                )
            );
        else
            return null;
        // Each round may find another address of the same person; there are seldom more than two.
        for (var size = -1; size != emails.Count + leads.Count + contacts.Count; )
        {
            size = emails.Count + leads.Count + contacts.Count;
            await Follow(db, emails, leads, contacts);
        }
        return await Gather(db, emails, [.. leads], [.. contacts], workspace.Hashes);
    }

    private static async Task Follow(LanternDb db, HashSet<string> emails, HashSet<Guid> leads, HashSet<Guid> contacts)
    {
        var found = await db.Rows<FoundPerson>(
            $"""
            select 'lead' as kind, id, email from lead where email = any({emails.ToArray()}) or id = any({leads.ToArray()})
            union select 'contact', id, email from contact where email = any({emails.ToArray()}) or id = any({contacts.ToArray()})
            union select m.kind, x.id, m.gone->m.kind->>'email' from record_merge m cross join lateral (values (m.kept_id), (m.gone_id)) x(id)
              where m.kind in ('lead', 'contact') and (m.gone->m.kind->>'email' = any({emails.ToArray()}) or m.kept_id = any({leads.ToArray()}) or m.gone_id = any({leads.ToArray()}) or m.kept_id = any({contacts.ToArray()}) or m.gone_id = any({contacts.ToArray()}))
            union select 'lead', b.lead_id, b.kept->'gone'->'lead'->0->>'email' from bulk_lead b
              where b.kept ? 'gone' and b.restored is not true and (b.kept->'gone'->'lead'->0->>'email' = any({emails.ToArray()}) or b.lead_id = any({leads.ToArray()}))
            union select 'contact', c.id, c.email from handover h join contact c on c.id = h.contact_id where h.lead_id = any({leads.ToArray()}) and h.taken_back_at is null
            union select 'lead', l.id, l.email from handover h join lead l on l.id = h.lead_id where h.contact_id = any({contacts.ToArray()}) and h.taken_back_at is null
            """
        );
        foreach (var (kind, id, email) in found)
        {
            (kind == "lead" ? leads : contacts).Add(id);
            if (email is not null)
                emails.Add(email);
        }
    }

    private static async Task<PersonTrail> Gather(LanternDb db, HashSet<string> emails, Guid[] leads, Guid[] contacts, PersonHash hashes)
    {
        var said = await db.Rows<SaidOfPerson>(
            $"""
            select nullif(trim(concat_ws(' ', first_name, last_name)), '') as name, phone, mobile from lead where id = any({leads})
            union select name, phone, facts->>'mobile' from contact where id = any({contacts})
            """
        );
        var imports = await db.Set<Import>().Select(x => x.Id).ToListAsync();
        var (addresses, keys) = (emails.ToArray(), imports.SelectMany(d => emails.Select(e => MatchKey.Of(d, e)!.Value)).ToArray());
        using var patient = db.Patient(Patience);
        var arrivals = await db.Rows<Guid>(
            $"""
            select id as "Value" from single_arrival where lead_id = any({leads}) or exists (select 1 from unnest({addresses}) e where position(e in lower(raw::text)) > 0)
            """
        );
        var rows = await db.Rows<TrailRow>(
            $"""
            select import_id as import, row_number as row from arrival where lead_id = any({leads}) or email_key = any({keys})
              or exists (select 1 from unnest({addresses}) e where position(e in lower(array_to_string(cells, ' '))) > 0) order by import_id, row_number
            """
        );
        List<string> numbers = [.. said.SelectMany(s => new[] { s.Phone, s.Mobile }).OfType<string>().Distinct().Order()];
        return new PersonTrail(
            [.. emails.Order()],
            numbers,
            [.. said.Select(s => s.Name).OfType<string>().Distinct().Order()],
            leads,
            contacts,
            [.. arrivals],
            [.. rows],
            [.. emails.Concat(numbers).Select(hashes.KeyOf)]
        );
    }

    private sealed record FoundPerson(string Kind, Guid Id, string? Email);

    private sealed record SaidOfPerson(string? Name, string? Phone, string? Mobile);
}
