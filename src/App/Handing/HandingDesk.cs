using System.Collections.Immutable;
using DapperLantern.App.Data;
using DapperLantern.App.Due;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Bulk;
using DapperLantern.App.People;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Handing;
using DapperLantern.Core.Routing;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace DapperLantern.App.Handing;

/// <summary>How records of one kind are handed on.</summary>
/// <param name="Kind">Key of a <see cref="HeldKind"/>.</param>
/// <param name="How">One of <see cref="HandingWay"/>.</param>
/// <param name="Person">Who gets them; of those that go along with another record, who gets the rest.</param>
/// <param name="Team">Key of the team whose turn it is.</param>
public sealed record KindOrder([Text(20)] string Kind, [Text(20)] string How, Guid? Person = null, [Text(100)] string? Team = null);

/// <summary>A record that is decided by itself.</summary>
public sealed record SingleOrder([Text(20)] string Kind, [Text(100)] string Record, Guid To);

/// <summary>Hands on all that somebody holds.</summary>
/// <param name="PlacesTo">Who gets their places in turns; null for nobody. Only with leaving, as are the next three.</param>
/// <param name="RulesTo">Who stands in the rule sheet in their place; null for nobody, or a team.</param>
/// <param name="RulesTeam">Key of the team that stands there.</param>
/// <param name="ReportsTo">To whom those report who reported to them; null for nobody.</param>
/// <param name="Leaves">True where they work here no more, or not for now.</param>
/// <param name="LastDay">The last day of their leave, in their zone; null where they leave, or for good.</param>
/// <param name="Note">For those who get something.</param>
public sealed record HandingOrder(
    [Count(20)] IReadOnlyList<KindOrder> Kinds,
    [Count(5_000)] IReadOnlyList<SingleOrder> Singly,
    Guid? PlacesTo = null,
    Guid? RulesTo = null,
    [Text(100)] string? RulesTeam = null,
    Guid? ReportsTo = null,
    bool Leaves = false,
    DateOnly? LastDay = null,
    [Text(1_000)] string Note = ""
);

/// <param name="Kind">Key of a <see cref="HeldKind"/>.</param>
/// <param name="Words">"3 deals".</param>
public sealed record HeldCount(string Kind, int Count, string Words);

/// <param name="Currency">ISO 4217.</param>
public sealed record HeldMoney(string Currency, decimal Amount);

/// <summary>What one person gets.</summary>
/// <param name="Person">Null for nobody: leads that the rules give to nobody wait for an owner.</param>
public sealed record HandingShare(Guid? Person, string Name, IReadOnlyList<HeldCount> Counts, IReadOnlyList<HeldMoney> Money);

/// <summary>What a handing does, or did.</summary>
/// <param name="Id">Null where it was only looked at.</param>
/// <param name="Rules">Names of the rules that name somebody else now.</param>
/// <param name="Tokens">Access tokens that end.</param>
public sealed record HandingView(Guid? Id, IReadOnlyList<HandingShare> Shares, IReadOnlyList<string> Rules, int Places, int Reports, int Tokens);

/// <summary>Hands on what somebody holds, in one act.</summary>
internal sealed class HandingDesk(LanternDb db, WorkspaceConfiguration configuration, PeopleDesk people, HandingAsides asides, Rerouter rerouter, TimeProvider clock)
{
    private const int LongestLeave = 366;

    /// <summary>Looks at what a handing would do, or does it.</summary>
    /// <param name="look">True to only look: all is done and taken back, so that the answer is what would be.</param>
    public async Task<Outcome<HandingView>> Do(Guid id, HandingOrder order, Guid by, bool look)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.LockUntilEnd(PeopleDesk.Lock);
        // In the order in which all others take them: who comes in first, then rotations.
        await Admission.Lock(db);
        HandingView? view = null;
        var problem = await StaffEndpoints.Try(
            db,
            configuration.Current,
            clock,
            async () =>
            {
                var done = await Hand(id, order, by);
                view = done.Value;
                return done.Problem;
            }
        );
        if (problem is not null)
            return problem;
        if (look)
            return view! with { Id = null };
        await transaction.CommitAsync();
        await configuration.Changed();
        if (order.Leaves)
            await people.EndSessions(id);
        return view!;
    }

    private async Task<Outcome<HandingView>> Hand(Guid id, HandingOrder order, Guid by)
    {
        var now = clock.UtcNow();
        if (await db.Users.SingleOrDefaultAsync(p => p.Id == id) is not { } person)
            return Problem.NotFound("person");
        if (EndOf(order, person, now, out var ends) is { } wrong)
            return wrong;
        var receivers = await Receivers.Read(db, configuration.Current.Roles, person, now);
        if (await Unfit(order, receivers) is { } unfit)
            return unfit;
        var handing = new HandingRow
        {
            Id = Guid.CreateVersion7(),
            PersonId = id,
            ById = by,
            At = now,
            Leaves = order.Leaves,
            EndsAt = ends,
            Note = order.Note.Trim(),
        };
        using var acting = Acting.Through(Acting.Handing, handing.Id, by);
        await db.TellActing();
        await db.Insert(handing);
        if (ends is { } end)
            await db.Insert(
                new DueRow
                {
                    Kind = LeaveEnd.Key,
                    Key = handing.Id,
                    At = end,
                }
            );
        // Places in the sheet first: what goes by the rules goes by those that hold from now on.
        var done = await asides.Give(person, order, receivers, handing, by, now);
        if (done.Problem is { } refused)
            return refused;
        var passed = new List<Passed>();
        foreach (var kind in HeldKind.All)
        {
            var taken = await Pass(handing, person, kind, order, receivers, now);
            if (taken.Problem is { } problem)
                return problem;
            passed.AddRange(taken.Value!);
        }
        await Tell(handing, passed);
        if (order.Leaves && await people.LetGo(person) is { } last)
            return last;
        return new HandingView(handing.Id, Shares(passed, receivers), done.Value!.Rules, done.Value.Places, done.Value.Reports, done.Value.Tokens);
    }

    private static Problem? EndOf(HandingOrder order, Person person, DateTime now, out DateTime? ends)
    {
        ends = null;
        if (order.LastDay is not { } last)
            return null;
        var today = now.ToInstant().InZone(person.Zone).Date;
        if (order.Leaves || LocalDate.FromDateOnly(last) < today || Period.DaysBetween(today, LocalDate.FromDateOnly(last)) > LongestLeave)
            return Problem.Of("leave-range", "lastDay", LongestLeave);
        ends = StaffEndpoints.StartOf(last.AddDays(1), person.TimeZone);
        return null;
    }

    // What can be said before anything is done.
    private async Task<Problem?> Unfit(HandingOrder order, Receivers receivers)
    {
        if (order.Kinds.GroupBy(k => k.Kind).FirstOrDefault(g => g.Count() > 1 || HeldKind.Find(g.Key) is not { } kind || !kind.Ways.Contains(g.Single().How)) is { } odd)
            return Problem.Of("handing-way", "kinds", odd.Key);
        foreach (var kind in order.Kinds)
        {
            if (kind.How == HandingWay.Person && kind.Person is null)
                return Problem.Of("handing-nobody", kind.Kind, HeldKind.Find(kind.Kind)!.Many);
            if (kind.How == HandingWay.Turn && receivers.Places(kind.Team, kind.Kind).Length == 0)
                return Problem.Of("handing-team", kind.Kind, HeldKind.Find(kind.Kind)!.Many);
            if (kind.Person is { } to && kind.How != HandingWay.Turn && receivers.Unfit(to, kind.Kind) is { } unfit)
                return unfit;
            if (kind.How == HandingWay.Rules && !await configuration.Current.HasRules(db))
                return new Problem("handing-rules", kind.Kind);
        }
        foreach (var one in order.Singly)
            if (HeldKind.Find(one.Kind) is null)
                return Problem.Of("handing-way", "singly", one.Kind);
            else if (receivers.Unfit(one.To, one.Kind) is { } unfit)
                return unfit;
        return null;
    }

    private async Task<Outcome<IReadOnlyList<Passed>>> Pass(HandingRow handing, Person person, HeldKind kind, HandingOrder order, Receivers receivers, DateTime now)
    {
        var singly = order.Singly.Where(s => s.Kind == kind.Key).GroupBy(s => s.Record).ToDictionary(g => g.Key, g => g.Last().To);
        var way = order.Kinds.FirstOrDefault(k => k.Kind == kind.Key);
        var held = await Held.Of(db, kind.Key, person.Id, now, hold: true);
        if (held.Count > 0 && way is null && order.Leaves)
            return Problem.Of("handing-nobody", kind.Key, HeldKind.Words(kind.Key, held.Count));
        // Without a way only what is decided singly goes; what is gone meanwhile is not missed.
        if (way is null)
            held = [.. held.Where(h => singly.ContainsKey(h.Id))];
        if (held.Count == 0)
            return Array.Empty<Passed>();
        var byRules = way?.How == HandingWay.Rules ? held.Where(h => !singly.ContainsKey(h.Id)).ToList() : [];
        List<Passed> passed = byRules.Count > 0 ? await ByRules(handing, byRules, now) : [];
        var rest = held.Except(byRules).ToList();
        var to = Spread.Of(
            rest.ConvertAll(h => new HeldRecord(h.Id, h.Along is { } along && receivers.Unfit(along, kind.Key) is null ? along : null)),
            new SpreadOrder(way?.How ?? HandingWay.Person, way?.Person, receivers.Places(way?.Team, kind.Key)),
            singly
        );
        if (to.Count(t => t is null) is > 0 and var without)
            return Problem.Of("handing-without", kind.Key, HeldKind.Words(kind.Key, without));
        var others = rest.Zip(to, (h, t) => new Passed(kind.Key, h, t)).ToList();
        if (others.Count > 0)
            passed.AddRange(kind.Key == HeldKind.Lead ? await GiveLeads(handing, others, now) : await Write(handing, kind.Key, others));
        return passed;
    }

    private async Task<List<Passed>> ByRules(HandingRow handing, List<HeldLine> leads, DateTime now)
    {
        var ids = leads.Select(l => Guid.Parse(l.Id)).ToArray();
        var before = await Clocks(ids);
        var routed = (await rerouter.Run(db, ids, RoutingMoment.Arrival, again: false, now)).ToDictionary(r => r.Lead);
        return await KeepLeads(handing, [.. leads.Zip(ids, (l, id) => new Passed(HeldKind.Lead, l, routed[id].Owner))], before, routed.Values.First().Given);
    }

    private async Task<List<Passed>> GiveLeads(HandingRow handing, List<Passed> passed, DateTime now)
    {
        var ids = passed.Select(p => Guid.Parse(p.Record.Id)).ToArray();
        var before = await Clocks(ids);
        var workspace = configuration.Current;
        var sheet = await workspace.HasRules(db) ? (await workspace.Rules(db)).Router.Sheet : RuleSheet.Empty;
        var due = passed.Select(p => p.To!.Value).Distinct().ToDictionary(p => p, p => workspace.AnswerDue(p, sheet, now));
        var given = await OwnerAssigner.Give(db, [.. passed.Zip(ids, (p, id) => new OwnerAssignment(id, p.To, due[p.To!.Value], sheet.Task))], now);
        return await KeepLeads(handing, passed, before, given);
    }

    // Tasks of theirs on these leads went along with the leads, and count as handed on like the others.
    private async Task<List<Passed>> KeepLeads(HandingRow handing, List<Passed> leads, Dictionary<Guid, LeadClock> before, OwnersAssigned given)
    {
        await Keep(handing, HeldKind.Lead, [.. leads.Select(p => (p.Record.Id, p.To, (BulkKept?)KeptOf(before[Guid.Parse(p.Record.Id)], p.To, given, handing.PersonId)))]);
        var tasks = leads
            .Where(p => p.To is not null)
            .SelectMany(p =>
                given
                    .Open[Guid.Parse(p.Record.Id)]
                    .Where(t => t.Owner == handing.PersonId)
                    .Select(t => new Passed(HeldKind.Task, new HeldLine($"{t.Task}", "", null, null, null), p.To))
            )
            .ToList();
        await Keep(handing, HeldKind.Task, [.. tasks.Select(t => (t.Record.Id, t.To, (BulkKept?)null))]);
        return [.. leads, .. tasks];
    }

    private async Task<List<Passed>> Write(HandingRow handing, string kind, List<Passed> passed)
    {
        // Who takes part in a meeting anyway gets no place a second time.
        var there = kind == HeldKind.Meeting ? await TakePart(passed) : [];
        await Held.Pass(db, kind, [.. passed.Select(p => (p.Record.Id, handing.PersonId, p.To!.Value))]);
        await Keep(handing, kind, [.. passed.Select(p => (p.Record.Id, there.Contains(p.Record.Id) ? null : p.To, (BulkKept?)null))]);
        return passed;
    }

    private async Task<HashSet<string>> TakePart(List<Passed> passed)
    {
        var (ids, to) = (passed.Select(p => p.Record.Id).ToArray(), passed.Select(p => p.To!.Value).ToArray());
        return [.. await db.Rows<string>($"""select p.id as "Value" from unnest({ids}, {to}) p(id, "to") join meeting m on m.id = p.id::uuid where p."to" = any(m.people)""")];
    }

    private async Task<Dictionary<Guid, LeadClock>> Clocks(Guid[] leads) =>
        (await db.Rows<LeadClock>($"select id, owner_id, clock_started_at, clock_due_at from lead where id = any({leads}) {Held.Whole:sql}")).ToDictionary(l => l.Id);

    private static BulkKept KeptOf(LeadClock before, Guid? owner, OwnersAssigned given, Guid person) =>
        new()
        {
            OwnerBefore = before.OwnerId,
            OwnerAfter = owner,
            ClockStarted = before.ClockStartedAt,
            ClockDue = before.ClockDueAt,
            Tasks = [.. given.Open[before.Id].Where(t => t.Owner != person)],
            TaskMade = given.Made.TryGetValue(before.Id, out var made) ? made : null,
        };

    private Task Keep(HandingRow handing, string kind, IReadOnlyList<(string Id, Guid? To, BulkKept? Kept)> items)
    {
        var (ids, to, kept) = (items.Select(i => i.Id).ToArray(), items.Select(i => i.To).ToArray(), items.Select(i => i.Kept is null ? null : Json.Write(i.Kept)).ToArray());
        return db.Run(
            $"insert into handing_item (handing_id, kind, record, to_id, kept) select {handing.Id}, {kind}, x.id, x.receiver, x.kept::jsonb from unnest({ids}, {to}, {kept}) x(id, receiver, kept)"
        );
    }

    // Each receiver is told once.
    private Task Tell(HandingRow handing, List<Passed> passed) =>
        db.Log(
            EventLog.Person,
            [
                .. passed
                    .Where(p => p.To is not null)
                    .GroupBy(p => p.To!.Value)
                    .Select(g =>
                        (
                            g.Key,
                            (Happening)
                                new HandedOn(
                                    handing.PersonId,
                                    g.GroupBy(p => p.Kind).ToDictionary(k => k.Key, k => k.Count()),
                                    MoneyOf(g).ToDictionary(m => m.Currency, m => m.Amount),
                                    handing.EndsAt,
                                    handing.Note.Length > 0 ? handing.Note : null
                                )
                        )
                    ),
            ]
        );

    internal static IReadOnlyList<HeldMoney> Money(IEnumerable<HeldLine> held) =>
        [
            .. held.Where(h => h.Currency is not null)
                .GroupBy(h => h.Currency!)
                .Select(g => new HeldMoney(g.Key, g.Sum(h => h.Amount ?? 0)))
                .Where(m => m.Amount != 0)
                .OrderBy(m => m.Currency, StringComparer.Ordinal),
        ];

    private static IReadOnlyList<HeldMoney> MoneyOf(IEnumerable<Passed> passed) => Money(passed.Select(p => p.Record));

    private static IReadOnlyList<HandingShare> Shares(List<Passed> passed, Receivers receivers) =>
        [
            .. passed
                .GroupBy(p => p.To)
                .Select(g => new HandingShare(
                    g.Key,
                    g.Key is { } to ? receivers.Name(to) : "Nobody yet",
                    [
                        .. HeldKind
                            .All.Select(k => new HeldCount(k.Key, g.Count(p => p.Kind == k.Key), HeldKind.Words(k.Key, g.Count(p => p.Kind == k.Key))))
                            .Where(c => c.Count > 0),
                    ],
                    MoneyOf(g)
                ))
                .OrderBy(s => s.Person is null)
                .ThenBy(s => s.Name, StringComparer.Ordinal),
        ];

    // A record with its receiver.
    private sealed record Passed(string Kind, HeldLine Record, Guid? To);

    private sealed record LeadClock
    {
        public Guid Id { get; init; }
        public Guid? OwnerId { get; init; }
        public DateTime? ClockStartedAt { get; init; }
        public DateTime? ClockDueAt { get; init; }
    }
}
