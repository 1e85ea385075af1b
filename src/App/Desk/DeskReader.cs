using DapperLantern.App.Data;
using DapperLantern.App.Due;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Scoring;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;

namespace DapperLantern.App.Desk;

/// <summary>What waits, with the deals that are late.</summary>
internal sealed record DeskState(DeskView View, int LateDeals);

/// <summary>Reads what waits for a decision.</summary>
internal static class DeskReader
{
    private const int Shown = 6;

    // A lead in work that nobody touched for so long wants a decision.
    private const int SilentDays = 30;

    /// <summary>The groups: key, title, cost of delay, statement. Each statement gives kind, id, title, line, at, count over all.</summary>
    private static readonly (string Key, string Title, string Delay, Act Needs, Func<DeskAsk, SqlText> Sql)[] Groups =
    [
        (
            "clock",
            "Clocks running out",
            "An answer within the promised time is what the customer remembers.",
            Act.SeeLeads,
            a =>
                Lead(
                    a,
                    $"concat_ws(', ', p.display_name, s.name)",
                    $"l.clock_due_at",
                    $"l.clock_due_at < {a.Now.AddHours(3)} and l.state = 'new' and {a.IsMine:sql}",
                    $"l.clock_due_at"
                )
        ),
        (
            "unrouted",
            "Without a rule",
            "Nobody answers these until you give them to somebody.",
            Act.GiveLeads,
            a => Lead(a, $"'@' || coalesce(l.country, '') || '@' || s.name", $"l.created_at", $"l.owner_id is null and l.state in ('new', 'in_work')", $"l.created_at")
        ),
        (
            "qualified",
            "Qualified, to hand over",
            "A qualified lead that waits looks elsewhere.",
            Act.HandOver,
            a => Lead(a, $"concat_ws(', ', l.company, p.display_name)", $"l.last_touch_at", $"l.state = 'qualified' and {a.IsMine:sql}", $"l.last_touch_at")
        ),
        (
            "cleared",
            "Cleared the bar",
            "Both scores say these are worth a call today.",
            Act.SeeLeads,
            a =>
                Lead(
                    a,
                    $"'fit ' || l.fit || ', engagement ' || engagement_at(l.decay, {a.Day}) || coalesce(', ' || p.display_name, '')",
                    $"l.last_touch_at",
                    $"l.next_move = 'hand_over' and {EngagementDecaySql.StillAt($"{a.Now}"):sql} and l.state in ('new', 'in_work') and {a.IsMine:sql}",
                    $"l.band desc, engagement_at(l.decay, {a.Day}) desc"
                )
        ),
        (
            "woke",
            "Came back to life",
            "Silent for months, then a sign: worth more than a fresh name.",
            Act.SeeLeads,
            a =>
                Lead(
                    a,
                    $"'a sign after ' || l.silent_days || ' silent days'",
                    $"l.last_sign_at",
                    $"l.silent_days >= 90 and l.last_sign_at > {a.Now.AddDays(-7)} and l.state in ('new', 'in_work', 'on_hold', 'disqualified') and {a.IsMine:sql}",
                    $"l.last_sign_at desc"
                )
        ),
        (
            "asked",
            "Colleagues ask for these",
            "Whoever asks has the customer before them, and waits for your word.",
            Act.SeeLeads,
            a =>
                $"""
                    select 'asked' as kind, x.id, x.title, p.display_name || coalesce(nullif(': ' || x.word, ': '), '') as line, x.asked_at as at, count(*) over ()::int as count from (
                      select k.id, k.person_id, k.word, k.asked_at, {a.Scope.LeadName("r"):sql} as title from known_answer k join lead r on r.id = k.lead_id where {a.IsAsked(
                        "lead"
                    ):sql}
                      union all select k.id, k.person_id, k.word, k.asked_at, r.name from known_answer k join contact r on r.id = k.contact_id where {a.IsAsked("contact"):sql}
                      union all select k.id, k.person_id, k.word, k.asked_at, r.name from known_answer k join account r on r.id = k.account_id where {a.IsAsked("account"):sql}) x
                    join person p on p.id = x.person_id order by x.asked_at limit 6
                    """
        ),
        ("duplicates", "Possible duplicates", "One customer called twice by two of us, each knowing half.", Act.SettleDuplicates, a => Duplicates(a.Scope)),
        ("waiting", "Arrivals that wait", "Among what looks like spam there may be somebody who asks.", Act.RunIntake, _ => Arrivals),
        (
            "unsent",
            "Messages that could not be sent",
            "Whoever should have had these does not know it.",
            Act.SetUp,
            _ =>
                $"select 'message' as kind, o.id, o.subject as title, coalesce(p.display_name, o.to_email, '') || ': ' || coalesce(o.problem, '') as line, o.given_up_at as at, count(*) over ()::int as count from outbox o left join person p on p.id = o.person_id where o.given_up_at is not null and o.sent_at is null order by o.given_up_at limit 6"
        ),
        (
            "failed",
            "Work that failed",
            "What follows by itself did not: nobody does it until you let it be tried again, or leave it out.",
            Act.SeeLog,
            _ =>
                $"""
                    select x.*, count(*) over ()::int as count from (
                      select 'failed' as kind, d.key as id, d.kind as title, coalesce(d.problem, '') as line, d.given_up_at as at
                      from due d where d.given_up_at is not null
                      union all select 'import', i.id, i.file_name, coalesce(i.trouble, ''), i.created_at from import i where i.state in ('sifting', 'taking', 'taking_back') and i.tries >= {ImportRunner.MostTries}) x
                    order by x.at limit 6
                    """
        ),
        ("mend", "Rows to mend", "People in these rows are not reached until the row is mended.", Act.RunIntake, _ => Rows),
        (
            "sieve",
            "Imports in the sieve",
            "Nothing of these is taken in yet.",
            Act.RunIntake,
            _ =>
                $"select 'import' as kind, d.id, d.file_name as title, d.rows_read || ' rows read, ' || d.rows_new || ' would be new' as line, d.created_at as at, count(*) over ()::int as count from import d where d.state = 'sifted' order by d.created_at limit 6"
        ),
        (
            "undecided",
            "Undecided and silent",
            "In work for weeks without a word or a decision: qualify them, put them on hold, or let them go.",
            Act.SeeLeads,
            a =>
                Lead(
                    a,
                    $"concat_ws(', ', l.company, p.display_name)",
                    $"l.last_touch_at",
                    $"l.state = 'in_work' and l.last_touch_at < {a.Now.AddDays(-SilentDays)} and {a.IsMine:sql}",
                    $"l.last_touch_at"
                )
        ),
        (
            "idle",
            "No next step",
            "In work, and nobody has anything planned.",
            Act.SeeLeads,
            a =>
                Lead(a, $"concat_ws(', ', l.company, p.display_name)", $"l.last_touch_at", $"l.state = 'in_work' and l.next_step_at is null and {a.IsMine:sql}", $"l.last_touch_at")
        ),
    ];

    private static SqlText Rows =>
        $"""
            select 'import' as kind, d.id, d.file_name as title, d.rows_mend || ' of ' || d.rows_read || ' rows to mend' as line, d.created_at as at, (sum(d.rows_mend) over ())::int as count
            from import d where d.state = 'taken' and d.rows_mend > 0 order by d.created_at desc limit 6
            """;

    // Whoever compares two has to see both.
    private static SqlText Duplicates(RecordScope scope)
    {
        var seen = scope.SeesNamed("t.kind", "t.a", "t.b");
        return $"""
            select 'duplicate' as kind, t.id, {scope.AnyName("l", "c", "a"):sql} as title,
              case when t.sure then 'as good as sure: ' else '' end || coalesce((select string_agg(e->>'words', ', ') from (select e from jsonb_array_elements(t.evidence) e
                where (e->>'bits')::numeric > 0 order by (e->>'bits')::numeric desc limit 2) x), '') as line,
              t.found_at as at, (select count(*)::int from duplicate t where t.state = 'open' and {seen:sql}) as count
            from (select * from duplicate t where t.state = 'open' and {seen:sql} order by bits desc, id limit 6) t
            left join lead l on l.id = t.a and t.kind = 'lead' left join contact c on c.id = t.a and t.kind = 'contact' left join account a on a.id = t.a and t.kind = 'account' order by t.bits desc, t.id
            """;
    }

    private static SqlText Arrivals =>
        $"""
            select 'arrival' as kind, a.id, coalesce(nullif(trim(concat_ws(' ', a.raw->>'first_name', a.raw->>'last_name')), ''), a.raw->>'company', a.raw->>'from', a.raw->>'email', s.name) as title,
              s.name || ': ' || (select string_agg(r->>'words', ' ') from jsonb_array_elements(a.reasons) r) as line, a.at, count(*) over ()::int as count
            from single_arrival a join source s on s.key = a.source where a.state = 'waiting' order by a.at limit 6
            """;

    // The six by their order, and all of them counted by themselves: counted together, every one of a hundred thousand would be read whole.
    private static SqlText Lead(DeskAsk ask, SqlText line, SqlText at, SqlText where, SqlText order) =>
        $"""
            select x.*, (select count(*)::int from lead l where {ask.Scope.Sees("lead", "l"):sql} and {where:sql}) as count
            from (select 'lead' as kind, l.id, {ask.Scope.LeadName("l"):sql} as title, {line:sql} as line, {at:sql} as at
              from lead l join source s on s.key = l.source left join person p on p.id = l.owner_id
              where {ask.Scope.Sees("lead", "l"):sql} and {where:sql} order by {order:sql} limit {Shown}) x
            """;

    /// <param name="Mine">The only person whose leads are asked for; null for everybody's.</param>
    private sealed record DeskAsk(Guid? Mine, DateTime Now, RecordScope Scope, Guid Me, bool Gives)
    {
        /// <summary>That a record over the alias r was asked for of the reader, by the answer over the alias k; or of those who give out what nobody owns.</summary>
        public SqlText IsAsked(string kind) =>
            $"k.asked_at is not null and k.outcome is null and k.person_id <> {Me} and (r.owner_id = {Me} or r.owner_id is null and {Gives}) and {Scope.Sees(kind, "r"):sql}";

        public double Day => Core.Scoring.EngagementDecay.DayOf(Now.ToInstant());

        public SqlText IsMine => $"({Mine}::uuid is null or l.owner_id = {Mine})";
    }

    /// <summary>What waits for a person of these rights, in one trip to the database.</summary>
    /// <param name="mine">The only person whose leads are asked for; null for everybody's.</param>
    public static async Task<DeskState> Read(LanternDb db, UserRights rights, Guid me, Guid? mine, RecordScope scope, DueWorks works, DateTime now)
    {
        var ask = new DeskAsk(mine, now, scope, me, rights.May(Act.GiveLeads));
        var asked = Groups.Where(g => rights.May(g.Needs)).ToList();
        var statements = asked.ConvertAll(g => g.Sql(ask));
        if (rights.May(Act.SeeDeals))
            statements.Add(Late(ask));
        var groups = new List<DeskGroup>();
        await using var row = await db.Together(statements);
        foreach (var group in asked)
        {
            var (items, count) = (new List<DeskItem>(), 0);
            while (await row.ReadAsync())
            {
                items.Add(
                    new DeskItem(
                        row.GetString(0),
                        row.GetGuid(1),
                        row.IsDBNull(2) ? ""
                            : row.GetString(0) == "failed" ? works.Words(row.GetString(2))
                            : row.GetString(2),
                        row.IsDBNull(3) ? "" : Words(row.GetString(3)),
                        row.GetDateTime(4)
                    )
                );
                count = row.GetInt32(5);
            }
            if (items.Count > 0)
                groups.Add(new DeskGroup(group.Key, group.Title, count, group.Delay, items));
            await row.NextResultAsync();
        }
        var late = await row.ReadAsync() ? row.GetInt32(0) : 0;
        return new DeskState(new DeskView(groups, groups.Sum(g => g.Count)), late);
    }

    private static SqlText Late(DeskAsk ask) =>
        $"""
            select count(*)::int from deal d join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key
            where d.expected_close < {DateOnly.FromDateTime(ask.Now)} and s.counts = 'open' and {ask.Scope.Sees("deal", "d"):sql}
            """;

    // "@NO@Price guide" carries a country's code; its name is ours, not the database's.
    private static string Words(string line) => line.Split('@', 3) is ["", var code, var source] ? $"{Core.Fields.Countries.NameOf(code) ?? "country not known"}, {source}" : line;
}
