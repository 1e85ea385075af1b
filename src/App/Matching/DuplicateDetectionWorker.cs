using System.Diagnostics;
using DapperLantern.App.Data;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Bulk;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Matching;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Matching;

/// <summary>How far the looking is.</summary>
/// <param name="Done">Leads looked at.</param>
public sealed record HuntProgress(int Done, int All, int Due);

/// <summary>
/// Looks for duplicates in the background: of each lead as it comes in, of each record whose identifying facts changed, and of the whole base when told so. Writes down what a person
/// is to be asked (<see cref="DuplicateRow"/>); what was once said not to be the same is not asked again. One process does it at a time, half of the time at most, and hardly at all while
/// somebody waits for what was ordered for many leads.
/// </summary>
public sealed class DuplicateDetectionWorker(LanternDbFactory databases, WorkspaceConfiguration configuration, TimeProvider clock, ILogger<DuplicateDetectionWorker> log)
    : Worker(log)
{
    private const long LockKey = 0x4C414E5457494E;
    private const string Marker = "duplicate-hunt";
    private const int BatchRecords = 1000;
    private static readonly TimeSpan LookAgain = TimeSpan.FromSeconds(2);
    private static readonly TimeSpan CountAgain = TimeSpan.FromMinutes(10);

    private DateTime _counted;

    protected override Task Work(CancellationToken stop) =>
        Every(
            LookAgain,
            async cancel =>
            {
                await using var db = await databases.Open(cancel);
                await SessionLock.With(db, LockKey, () => Look(db, stop));
            },
            stop
        );

    private async Task Look(LanternDb db, CancellationToken stop)
    {
        // While people come in, those of two seconds are looked at together.
        await Work(db, StepLeads, stop);
        await Work(db, StepDue, stop);
        if (clock.UtcNow() - _counted > CountAgain)
            await CountValues(db);
    }

    // Rests as long as each batch took: half of the time the machine is there for those who wait for something.
    private static async Task Work(LanternDb db, Func<LanternDb, Task<int>> step, CancellationToken stop)
    {
        while (!stop.IsCancellationRequested)
        {
            var began = Stopwatch.GetTimestamp();
            if (await step(db) < BatchRecords || await BulkRunner.IsAtWork(db))
                return;
            await Task.Delay(Stopwatch.GetElapsedTime(began), stop);
        }
    }

    private async Task CountValues(LanternDb db)
    {
        _counted = clock.UtcNow();
        if (!await ValueCounts.AreStale(db, _counted))
            return;
        await ValueCounts.Refresh(db, _counted);
        await configuration.Changed();
    }

    /// <summary>Puts records in line to be looked at, in the caller's transaction.</summary>
    /// <param name="kind">lead, contact or account.</param>
    public static Task Ask(LanternDb db, string kind, IEnumerable<Guid> records) => db.Run(AskSql(kind, [.. records]));

    /// <summary>The same as one statement among others.</summary>
    internal static SqlText AskSql(string kind, Guid[] records) =>
        $"insert into duplicate_due (record_id, kind) select distinct id, {kind} from unnest({records}) id order by id on conflict (record_id) do update set asked = gen_random_uuid()";

    /// <summary>Begins anew with the whole base.</summary>
    public static async Task AskAll(LanternDb db)
    {
        await SaveProgress(db, 0);
        await db.Run(
            $"""
            insert into duplicate_due (record_id, kind) select id, 'account' from account on conflict (record_id) do nothing;
            insert into duplicate_due (record_id, kind) select id, 'contact' from contact on conflict (record_id) do nothing;
            """
        );
    }

    public static async Task<HuntProgress> Progress(LanternDb db)
    {
        var last = await db.Set<Lead>().TagWith("unscoped: how far the looking is").MaxAsync(l => (int?)l.Number) ?? 0;
        var due = await db.Set<DuplicateDueRow>().CountAsync();
        return new HuntProgress(Math.Min(await Through(db), last), last, due);
    }

    // Who comes in waits only while something is written down.
    private async Task<int> StepLeads(LanternDb db)
    {
        var (through, workspace) = (await Through(db), configuration.Current);
        var leads = await MatchKeys.Leads(db, through, workspace.Catalogue, BatchRecords);
        if (leads.Count == 0)
            return 0;
        var found = await Near(db, workspace, "lead", [.. leads.Select(l => (l.Id, l.Who))]);
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (found.Count > 0)
        {
            await Admission.Lock(db);
            await WriteDown(db, "lead", found);
        }
        // Told to begin anew meanwhile, it does.
        await db.Run(
            $"insert into setup_entry (key, body) values ({Marker}, to_jsonb({leads[^1].Number})) on conflict (key) do update set body = excluded.body where setup_entry.body = to_jsonb({through})"
        );
        await transaction.CommitAsync();
        return leads.Count;
    }

    // Who is looked for is compared first and written down then, so that nobody who comes in waits for the comparing. Who was put in line again meanwhile stays in line.
    private async Task<int> StepDue(LanternDb db)
    {
        var due = await db.Set<DuplicateDueRow>().AsNoTracking().Take(BatchRecords).ToListAsync();
        if (due.Count == 0)
            return 0;
        var workspace = configuration.Current;
        var found = new List<(string Kind, List<(Guid, Guid, MatchResult)> Pairs)>();
        foreach (var kind in due.GroupBy(d => d.Kind))
            found.Add((kind.Key, await Near(db, workspace, kind.Key, await DuplicateRecords.Identities(db, kind.Key, [.. kind.Select(d => d.RecordId)], workspace.Catalogue))));
        await using var transaction = await db.Database.BeginTransactionAsync();
        await Admission.Lock(db);
        var ids = due.Select(d => d.RecordId).ToArray();
        await db.Run($"delete from duplicate_due d using unnest({ids}, {due.Select(d => d.Asked).ToArray()}) x(id, asked) where d.record_id = x.id and d.asked = x.asked");
        // Of a record that changed, what was asked and no longer holds is asked no more.
        var ones = found.SelectMany(f => f.Pairs).Select(f => f.Item1).ToArray();
        var others = found.SelectMany(f => f.Pairs).Select(f => f.Item2).ToArray();
        await db.Run(
            $"delete from duplicate where state = 'open' and (a = any({ids}) or b = any({ids})) and not exists (select 1 from unnest({ones}, {others}) f(x, y) where f.x = duplicate.a and f.y = duplicate.b)"
        );
        foreach (var (kind, pairs) in found)
            await WriteDown(db, kind, pairs);
        await transaction.CommitAsync();
        return due.Count;
    }

    private static Task<List<(Guid A, Guid B, MatchResult Match)>> Near(LanternDb db, Workspace workspace, string kind, IReadOnlyList<(Guid Id, Identity Who)> records) =>
        kind == "account" ? Accounts(db, workspace, records) : People(db, workspace, kind, records);

    // Only of records that are still there, and can be merged: a lead that was handed over is read-only.
    private Task WriteDown(LanternDb db, string kind, List<(Guid A, Guid B, MatchResult Match)> found)
    {
        var open = kind == "lead" ? "and state <> 'handed_over'" : "";
        var (ones, others) = (found.Select(f => f.A).ToArray(), found.Select(f => f.B).ToArray());
        var evidence = found.Select(f => Json.Write(f.Match.Evidence)).ToArray();
        var bits = found.Select(f => (decimal)f.Match.Bits).ToArray();
        var sure = found.Select(f => f.Match.Same).ToArray();
        return db.Run(
            $"""
            insert into duplicate (id, kind, a, b, bits, sure, evidence, state, found_at)
              select gen_random_uuid(), {kind}, f.a, f.b, f.bits, f.sure, f.evidence::jsonb, 'open', {clock.UtcNow()}
              from unnest({ones}, {others}, {bits}, {sure}, {evidence}) as f(a, b, bits, sure, evidence)
              where exists (select 1 from {kind:sql} where id = f.a {open:sql}) and exists (select 1 from {kind:sql} where id = f.b {open:sql})
              on conflict (a, b) do update set bits = excluded.bits, sure = excluded.sure, evidence = excluded.evidence where duplicate.state = 'open'
            """
        );
    }

    private static async Task<List<(Guid A, Guid B, MatchResult Match)>> People(LanternDb db, Workspace workspace, string kind, IReadOnlyList<(Guid Id, Identity Who)> records)
    {
        var asked = records.Select(r => (r.Id, Asked: new Asked(0, new RowReading(new RecordValues(workspace.Catalogue), [], null), r.Who))).ToList();
        var known = await KnownPeople.LoadNear(db, [.. asked.Select(a => a.Asked)], workspace.Catalogue);
        var of = kind == "lead" ? KnownKind.Lead : KnownKind.Contact;
        var pairs = new Dictionary<(Guid, Guid), MatchResult>();
        foreach (var (id, ask) in asked)
        foreach (var other in known.Near(ask).Where(p => p.Kind == of && p.Id != id))
            if (workspace.Matcher.Compare(ask.Identity, other.Identity) is var match && (match.Same || match.Duplicate))
                pairs.TryAdd(InOrder(id, other.Id), match);
        return [.. pairs.Select(p => (p.Key.Item1, p.Key.Item2, p.Value))];
    }

    private static async Task<List<(Guid A, Guid B, MatchResult Match)>> Accounts(LanternDb db, Workspace workspace, IReadOnlyList<(Guid Id, Identity Who)> records)
    {
        var ids = records.Select(r => r.Id).ToArray();
        var pairs = await db.Rows<NearAccounts>(
            $"select a.id as of, b.id as other from account a join account b on b.id <> a.id and (b.domain = a.domain or b.company_key = a.company_key) where a.id = any({ids})"
        );
        var others = (await DuplicateRecords.Identities(db, "account", [.. pairs.Select(p => p.Other).Distinct()], workspace.Catalogue)).ToDictionary(o => o.Id, o => o.Who);
        var own = records.ToDictionary(r => r.Id, r => r.Who);
        return
        [
            .. pairs
                .Where(p => own.ContainsKey(p.Of) && others.ContainsKey(p.Other))
                .Select(p => (Pair: InOrder(p.Of, p.Other), Match: workspace.Matcher.Compare(own[p.Of], others[p.Other])))
                .Where(p => p.Match.Same || p.Match.Duplicate)
                .DistinctBy(p => p.Pair)
                .Select(p => (p.Pair.Item1, p.Pair.Item2, p.Match)),
        ];
    }

    /// <summary>The two in the order in which a pair is kept: as the database sorts them.</summary>
    public static (Guid A, Guid B) InOrder(Guid a, Guid b) => string.CompareOrdinal(a.ToString(), b.ToString()) < 0 ? (a, b) : (b, a);

    private static async Task<int> Through(LanternDb db) => await db.Row<int?>($$"""select (body #>> '{}')::int as "Value" from setup_entry where key = {{Marker}}""") ?? 0;

    private static Task SaveProgress(LanternDb db, int through) => SetupEntries.Save(db, Marker, $"{through}");

    private sealed record NearAccounts(Guid Of, Guid Other);
}
