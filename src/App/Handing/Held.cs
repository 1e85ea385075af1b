using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.Core.Handing;

namespace DapperLantern.App.Handing;

/// <summary>A record that somebody holds.</summary>
/// <param name="Amount">What it is worth; null where it is not money.</param>
/// <param name="Currency">ISO 4217.</param>
/// <param name="Along">Owner of the record that it belongs to.</param>
internal sealed record HeldLine(string Id, string Name, decimal? Amount, string? Currency, Guid? Along);

/// <summary>What is open of somebody, by kind: how it is found, and how it goes to somebody else.</summary>
internal static class Held
{
    // Whoever lets a person go decides on all they hold, whatever they see otherwise.
    internal static readonly SqlText Whole = RecordScope.Unscoped("an administrator hands on all that somebody holds");

    /// <summary>Open records of a kind, by name.</summary>
    /// <param name="hold">True to hold them until the transaction ends.</param>
    public static async Task<List<HeldLine>> Of(LanternDb db, string kind, Guid person, DateTime now, bool hold = false)
    {
        SqlText none = $"";
        SqlText locking = $"for update of x";
        var rows = await db.Rows<Row>(
            $"""
            select h.id, h.name, h.amount, h.currency, h.along
            from ({Rows(kind, person, now):sql} {(hold ? locking : none):sql}) h order by h.name, h.id {Whole:sql}
            """
        );
        return rows.ConvertAll(r => new HeldLine(r.Id, r.Name, r.Amount, r.Currency, r.Along));
    }

    // Rows over the alias x: id, name, amount, currency, along.
    private static SqlText Rows(string kind, Guid person, DateTime now) =>
        kind switch
        {
            HeldKind.Lead => $"""
                select x.id::text as id, {LeadRecord.NameSql:sql} as name, null::numeric as amount, null as currency, null::uuid as along from lead x
                where x.owner_id = {person} and x.state in ('new', 'in_work', 'on_hold', 'qualified')
                """,
            HeldKind.Account => $"select x.id::text as id, x.name, null::numeric as amount, null as currency, null::uuid as along from account x where x.owner_id = {person}",
            HeldKind.Contact => $"""
                select x.id::text as id, x.name, null::numeric as amount, null as currency,
                  (select a.owner_id from account a where a.id = x.account_id) as along from contact x where x.owner_id = {person}
                """,
            HeldKind.Deal => $"""
                select x.id::text as id, x.name, x.amount, x.currency, (select a.owner_id from account a where a.id = x.account_id) as along
                from deal x where x.owner_id = {person} and x.closed_at is null
                """,
            HeldKind.Task => $"""
                select x.id::text as id, x.subject as name, null::numeric as amount, null as currency,
                  coalesce((select l.owner_id from lead l where l.id = x.lead_id), (select d.owner_id from deal d where d.id = x.deal_id), (select c.owner_id from contact c where c.id = x.contact_id)) as along
                from task x where x.owner_id = {person} and x.done_at is null
                """,
            HeldKind.Meeting => $"""
                select x.id::text as id, x.subject as name, null::numeric as amount, null as currency, (select l.owner_id from lead l where l.id = x.lead_id) as along
                from meeting x where {person} = any(x.people) and x.starts_at > {now} and x.cancelled_at is null
                """,
            HeldKind.Campaign =>
                $"select x.key as id, x.name, null::numeric as amount, null as currency, null::uuid as along from campaign x where x.owner_id = {person} and not x.retired",
            HeldKind.View =>
                $"select x.id::text as id, x.name, null::numeric as amount, null as currency, null::uuid as along from lead_view x where x.owner_id = {person} and x.scope = 'shared'",
            _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, null),
        };

    /// <summary>Gives records to somebody else, where they are still whose they were; those of leads change with their clocks, see <see cref="OwnerAssigner"/>.</summary>
    /// <returns>Ids of those that went over.</returns>
    public static async Task<HashSet<string>> Pass(LanternDb db, string kind, IReadOnlyList<(string Id, Guid From, Guid To)> records)
    {
        var (ids, from, to) = (records.Select(r => r.Id).ToArray(), records.Select(r => r.From).ToArray(), records.Select(r => r.To).ToArray());
        SqlText passed = $"""unnest({ids}, {from}, {to}) p(id, "from", "to")""";
        return
        [
            .. await db.Rows<string>(
                kind switch
                {
                    HeldKind.Deal =>
                        $"""update deal x set owner_id = p."to", version = version + 1 from {passed:sql} where x.id = p.id::uuid and x.owner_id = p."from" returning p.id as "Value" """,
                    HeldKind.Meeting => $"""
                    update meeting x set people = array_append(array_remove(array_remove(people, p."from"), p."to"), p."to"), version = version + 1
                      from {passed:sql} where x.id = p.id::uuid and p."from" = any(x.people) returning p.id as "Value"
                    """,
                    HeldKind.Campaign => $"""update campaign x set owner_id = p."to" from {passed:sql} where x.key = p.id and x.owner_id = p."from" returning p.id as "Value" """,
                    HeldKind.Account or HeldKind.Contact or HeldKind.Task or HeldKind.View =>
                        $"""update {TableOf(kind):sql} x set owner_id = p."to" from {passed:sql} where x.id = p.id::uuid and x.owner_id = p."from" returning p.id as "Value" """,
                    _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, null),
                }
            ),
        ];
    }

    private static string TableOf(string kind) => kind == HeldKind.View ? "lead_view" : kind;

    private sealed record Row
    {
        public string Id { get; init; } = "";
        public string Name { get; init; } = "";
        public decimal? Amount { get; init; }
        public string? Currency { get; init; }
        public Guid? Along { get; init; }
    }
}
