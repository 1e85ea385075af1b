using System.Globalization;
using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Leads.Bulk;
using DapperLantern.Core.Rights;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Leads.Bulk;

/// <summary>A change as the preview shows it.</summary>
public sealed record BulkSample(int Number, string Name, string Before, string After);

/// <summary>Why leads are left as they are, and how many.</summary>
public sealed record BulkReason(string Why, int Leads);

/// <summary>What an order would do.</summary>
/// <param name="Leads">All it is about.</param>
/// <param name="Looked">So many were looked at; the first by number, where there are more.</param>
/// <param name="Changed">Of those, so many would be changed.</param>
/// <param name="Same">And so many are so already.</param>
public sealed record BulkPreview(string Words, int Leads, int Looked, int Changed, int Same, IReadOnlyList<BulkReason> Left, IReadOnlyList<BulkSample> Samples);

/// <summary>What was done to many leads.</summary>
/// <param name="State">doing, done, undoing or undone.</param>
/// <param name="Looked">Leads the work under way has looked at.</param>
/// <param name="Left">Why leads were left as they are, or not restored.</param>
public sealed record BulkEditView(
    Guid Id,
    string Words,
    string By,
    bool Mine,
    string State,
    DateTime CreatedAt,
    int Leads,
    int Looked,
    int Changed,
    int LeftAlone,
    int Restored,
    string? Trouble,
    IReadOnlyList<BulkReason> Left
);

/// <summary>Previews, opens and reads what is done to many leads at once.</summary>
public sealed class BulkEdits(Workspace workspace, BulkBatch batch, RecordScope scope, TimeProvider clock)
{
    private const int MostPreviewed = 5000;
    private const int Samples = 6;
    private const int Lately = 30;

    /// <summary>What an order would do, told from its first leads. Nothing is written.</summary>
    public async Task<BulkPreview> Preview(LanternDb db, BulkOrdered order, ClaimsPrincipal user)
    {
        var now = clock.UtcNow();
        var sql = new ConditionSql(workspace.Catalogue, now, scope);
        var which = BulkOrders.Which(order, sql);
        var all = await Count(db, which);
        var field = order.Act.Kind == BulkAct.Fact ? workspace.Catalogue[order.Act.Field!] : null;
        var (changed, same, left, samples) = (0, 0, new Dictionary<string, int>(), new List<BulkSample>());
        var people = await Person.Names(db);
        foreach (var ids in (await First(db, which)).Chunk(BulkExecutor.Batch))
        {
            var found = await batch.Load(db, ids, order.Act, order.OwnOnly ? user.Id() : null, hold: false, clock.UtcNow());
            var act = order.Act.Exchanging(ids.Select(i => found.GetValueOrDefault(i)?.Now.Owner));
            foreach (var lead in ids.Select(i => found.GetValueOrDefault(i)).OfType<BulkFound>())
            {
                var outcome = BulkChange.Decide(act, field, lead.Now, now.ToInstant());
                if (outcome.Verdict == BulkVerdict.Left)
                    left[outcome.Why] = left.GetValueOrDefault(outcome.Why) + 1;
                else if (outcome.Verdict == BulkVerdict.Same)
                    same++;
                else if (++changed <= Samples)
                    samples.Add(Sample(act, field, lead, outcome, changed - 1, people));
            }
        }
        var reasons = left.OrderByDescending(l => l.Value).Select(l => new BulkReason(l.Key, l.Value)).ToList();
        return new BulkPreview(order.Words, all, Math.Min(all, MostPreviewed), changed, same, reasons, samples);
    }

    private BulkSample Sample(BulkAct act, FieldDefinition? field, BulkFound lead, BulkOutcome outcome, int turn, Dictionary<Guid, string> people)
    {
        var (before, after) = act.Kind switch
        {
            BulkAct.Fact => (Shown(field!, lead.Known.Facts[field!.Ordinal]), Shown(field!, outcome.Value)),
            BulkAct.Give => (NameOf(lead.Now.Owner), act.ByRules ? "by the rules" : NameOf(act.To is { Length: > 0 } to ? to[turn % to.Length] : null)),
            BulkAct.Move => (StateLabel(lead.Now.State), StateLabel(act.State!)),
            _ => ("", ""),
        };
        return new BulkSample(lead.Number, LeadRecord.NameOf(lead.Known.Facts, lead.Number, !scope.HidesContactData), before, after);

        string NameOf(Guid? owner) => owner is { } id ? people.GetValueOrDefault(id, "somebody") : "no owner";
    }

    private static string StateLabel(string state) => LeadState.Choices.FirstOrDefault(c => c.Key == state)?.Label ?? state;

    private static string Shown(FieldDefinition field, FieldValue value) =>
        !value.IsKnown ? "blank"
        : field.Type == FieldType.Date ? value.Moment.ToUtc().ToString("d MMM yyyy", CultureInfo.InvariantCulture)
        : field.Show(value.ToString());

    private static Task<int> Count(LanternDb db, SqlText which) => db.One<int>($"""select count(*)::int as "Value" from lead l where {which:sql}""");

    private static Task<List<Guid>> First(LanternDb db, SqlText which) =>
        db.Rows<Guid>($"""select l.id as "Value" from lead l where {which:sql} order by l.number limit {MostPreviewed}""");

    /// <summary>Keeps an order with its leads frozen, to be done in the background. A request sent twice gives the same id.</summary>
    /// <param name="key">By which a repeated request is known; null for none.</param>
    public async Task<Guid> Open(LanternDb db, BulkOrdered order, ClaimsPrincipal user, string? key)
    {
        var (now, id) = (clock.UtcNow(), Guid.CreateVersion7());
        var me = user.Id();
        var made = await db.Run(
            $"""
            insert into bulk_edit (id, person_id, act, words, own_only, state, request_key, created_at, leads, looked, changed, left_alone, restored, tries)
            values ({id}, {me}, {Json.Write(order.Act)}::jsonb, {order.Words}, {order.OwnOnly}, 'doing', {key}, {now}, 0, 0, 0, 0, 0, 0)
            on conflict (person_id, request_key) where request_key is not null do nothing
            """
        );
        if (made == 0)
            return await db.Set<BulkEdit>().Where(b => b.PersonId == me && b.RequestKey == key).Select(b => b.Id).SingleAsync();
        var sql = new ConditionSql(workspace.Catalogue, now, scope);
        var which = BulkOrders.Which(order, sql);
        await db.Run(
            $"""
            with frozen as (insert into bulk_lead (bulk_id, position, lead_id) select {id}, row_number() over (order by l.number), l.id from lead l where {which:sql} returning 1)
            update bulk_edit set leads = (select count(*) from frozen) where id = {id}
            """
        );
        return id;
    }

    /// <summary>One, or the latest: everybody's for who may give leads, else one's own.</summary>
    public static async Task<List<BulkEditView>> List(LanternDb db, ClaimsPrincipal user, Guid? id = null)
    {
        var (me, all) = (user.Id(), user.May(Act.GiveLeads));
        var edits = await (
            from e in db.Set<BulkEdit>().AsNoTracking()
            join p in db.Users on e.PersonId equals p.Id
            where (all || e.PersonId == me) && (id == null || e.Id == id)
            orderby e.CreatedAt descending
            select new { Edit = e, By = p.DisplayName }
        )
            .Take(Lately)
            .ToListAsync();
        var ids = edits.Select(e => e.Edit.Id).ToArray();
        var reasons = (
            await db.Set<BulkLeadRow>()
                .Where(l => ids.Contains(l.BulkId) && l.Why != null)
                .GroupBy(l => new { l.BulkId, l.Why })
                .Select(g => new
                {
                    g.Key.BulkId,
                    g.Key.Why,
                    Leads = g.Count(),
                })
                .OrderByDescending(r => r.Leads)
                .ToListAsync()
        ).ToLookup(r => r.BulkId, r => new BulkReason(r.Why!, r.Leads));
        return [.. edits.Select(e => View(e.Edit, e.By, user, [.. reasons[e.Edit.Id]]))];
    }

    private static BulkEditView View(BulkEdit e, string by, ClaimsPrincipal user, List<BulkReason> left) =>
        new(e.Id, e.Words, by, e.PersonId == user.Id(), e.State, e.CreatedAt, e.Leads, e.Looked, e.Changed, e.LeftAlone, e.Restored, e.Trouble, left);

    /// <summary>Orders the undoing. False when there is nothing to undo.</summary>
    public static async Task<bool> Undo(LanternDb db, Guid id) =>
        await db.Set<BulkEdit>()
            .Where(x => x.Id == id && x.State == "done")
            .ExecuteUpdateAsync(s => s.SetProperty(x => x.State, "undoing").SetProperty(x => x.Looked, 0).SetProperty(x => x.Tries, 0)) > 0;
}
