using System.Runtime.CompilerServices;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;

namespace DapperLantern.App.Leads;

/// <summary>
/// Leads as a table: every field of the catalogue, tags, and how each stands to each purpose of consent. Who is on the list of whom not
/// to contact goes out without address and numbers. Our own reader gives the values back.
/// </summary>
public sealed class LeadExport(Workspace workspace, RecordScope scope, TimeProvider clock)
{
    private const int Chunk = 2000;

    /// <summary>The headings of the columns. Columns of moments name the time zone they are shown in, where there is one.</summary>
    /// <param name="zone">Null where every moment carries its own zone.</param>
    public IReadOnlyList<string> Headings(DateTimeZone? zone) =>
        ["Number", .. Fields.Select(f => zone is not null && IsMoment(f) ? $"{f.Label} ({zone.Id})" : f.Label), "Tags", .. workspace.ConsentPurposes.Select(p => p.Label)];

    private IEnumerable<FieldDefinition> Fields => workspace.Catalogue.OfLead;

    /// <summary>All leads the conditions hold for, in the order of their numbers; by pages, so that memory does not grow with them.</summary>
    public async IAsyncEnumerable<object?[]> Rows(LanternDb db, Condition where, [EnumeratorCancellation] CancellationToken cancel)
    {
        var fields = Fields.ToList();
        for (var after = 0; ; )
        {
            var leads = await Page(db, where, after, cancel);
            if (leads.Count == 0)
                yield break;
            after = leads[^1].Number;
            var tags = await Tags(db, leads);
            var book = await ConsentBook.Load(db, [.. leads.Select(l => l.Keys)]);
            foreach (var lead in leads)
                yield return [.. Cells(lead, fields, tags, book)];
        }
    }

    private IEnumerable<object?> Cells(Exported lead, List<FieldDefinition> fields, ILookup<Guid, string> tags, ConsentBook book)
    {
        var barred = book.IsBarred(lead.Keys);
        return fields
            .Select(f => barred && RecordScope.IsContactData(f) ? null : Shown(f, lead.Facts[f.Ordinal]))
            .Prepend($"L-{lead.Number}")
            .Append(string.Join(", ", tags[lead.Id]))
            .Concat(workspace.ConsentPurposes.Select(p => book.StateOf(lead.Keys, p.Key)));
    }

    // What people say is a day; what the product notes is a moment.
    private static bool IsMoment(FieldDefinition field) => field.Type == FieldType.Date && field.Origin is FieldOrigin.System or FieldOrigin.Related;

    // Numbers, amounts, days and moments as they are, the rest as people read it. A moment in a column of days keeps its zone as text.
    private static object? Shown(FieldDefinition field, FieldValue value) =>
        !value.IsKnown ? null
        : field.IsNumeric || IsMoment(field) ? value
        : field.Type == FieldType.Date
            ? value.Moment.InUtc() is { TimeOfDay: var time } at && time == LocalTime.Midnight ? at.Date
                : value.ToString()
        : field.Type == FieldType.Phone ? value.ToString()
        : field.Show(value.ToString());

    private async Task<List<Exported>> Page(LanternDb db, Condition where, int after, CancellationToken cancel)
    {
        var now = clock.UtcNow();
        var sql = new ConditionSql(workspace.Catalogue, now, scope);
        return await db.Read(
            $"select {LeadRecord.Columns:sql}, l.id, l.number, {sql.Part(sql.ShowsContactData):sql} as shows_contact_data from lead l where l.number > {after} and {sql.Part(sql.Write(where)):sql} order by l.number limit {Chunk}",
            row => Exported.Of((Guid)row["id"], (int)row["number"], LeadRecord.Read(row, workspace.Catalogue, now), (bool)row["shows_contact_data"], workspace.Hashes, scope),
            cancel
        );
    }

    private static async Task<ILookup<Guid, string>> Tags(LanternDb db, List<Exported> leads) =>
        (
            await (
                from l in db.Set<LeadTagRow>()
                where leads.Select(x => x.Id).ToArray().Contains(l.LeadId)
                join m in db.Set<TagRow>() on l.TagKey equals m.Key
                join t in db.Set<TagRow>() on m.MergedInto ?? m.Key equals t.Key
                select new { Lead = l.LeadId, Tag = t.Name }
            )
                .Distinct()
                .OrderBy(t => t.Tag)
                .ToListAsync()
        ).ToLookup(t => t.Lead, t => t.Tag);

    private sealed record Exported(Guid Id, int Number, RecordValues Facts, PersonKeys Keys)
    {
        public static Exported Of(Guid id, int number, RecordValues facts, bool showsContactData, PersonHash hashes, RecordScope scope)
        {
            // The person is known by what is kept from the reader, too.
            var keys = PersonKeys.Of(hashes, facts);
            scope.HideIn(facts, showsContactData);
            return new Exported(id, number, facts, keys);
        }
    }
}
