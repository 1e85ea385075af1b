using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Matching;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Matching;

/// <summary>A pair that waits for a person.</summary>
/// <param name="Kind">lead, contact or account.</param>
/// <param name="Sure">True when the evidence is over the upper bar.</param>
public sealed record DuplicateItem(Guid Id, string Kind, string A, string B, double Bits, bool Sure, string Words);

/// <param name="Ask">The lower bar, in bits.</param>
/// <param name="Link">The upper bar.</param>
public sealed record DuplicateList(IReadOnlyList<DuplicateItem> Duplicates, int All, double Ask, double Link, HuntProgress Looking, string? Odds);

/// <param name="CreatedAt">When it came in.</param>
public sealed record DuplicateHead(Guid Id, string Name, string Line, DateTime CreatedAt);

/// <summary>A field where the two differ, or have the same to say.</summary>
/// <param name="Take">keep, go, or both where they say the same.</param>
/// <param name="Why">Why that value is proposed.</param>
public sealed record DuplicateFact(string Field, string Label, string? Keep, string? Go, string Take, string Why);

/// <summary>A pair side by side, with the evidence as it is now.</summary>
public sealed record DuplicateSheet(
    Guid Id,
    string Kind,
    string State,
    DuplicateHead Keep,
    DuplicateHead Go,
    double Bits,
    double Ask,
    double Link,
    IReadOnlyList<Evidence> Evidence,
    IReadOnlyList<DuplicateFact> Facts
);

/// <param name="Keep">Which of the two is kept; the longer known one where it is not said.</param>
/// <param name="Take">By field key: keep or go; what is not named is as proposed.</param>
public sealed record MergeOrder(Guid? Keep = null, [Count(1_000, Each = 10)] Dictionary<string, string>? Take = null);

public sealed record MergeDone(Guid Merge, Guid Kept);

/// <summary>A merge that can be taken back.</summary>
public sealed record MergeItem(Guid Id, string Kind, Guid Kept, string KeptName, string GoneName, DateTime At, string? By);

public static class DuplicateEndpoints
{
    private const int Shown = 200;
    private const int Recent = 50;

    public static void MapDuplicates(this IEndpointRouteBuilder api)
    {
        var settle = api.MapGroup("").Requires(Act.SettleDuplicates).WithTags("Duplicates");
        settle.MapGet("/duplicates", List).WithSummary("Pairs that wait for a person, most evidence first");
        settle.MapGet("/duplicates/{id}", Open).WithSummary("A pair side by side");
        settle.MapPost("/duplicates/{id}/merge", Merge).TakesTurns().WithSummary("Make one record of the two");
        settle.MapPost("/duplicates/{id}/distinct", Distinct).WithSummary("Say that the two are not the same");
        settle.MapPost("/duplicates/{id}/ask", AskAgain).WithSummary("Ask again what was said to be two");
        settle.MapPost("/duplicates/look", Look).WithSummary("Look through the whole base");
        settle.MapGet("/merges", Merges).WithSummary("The last merges");
        settle.MapPost("/merges/{id}/take-apart", TakeApart).TakesTurns().WithSummary("Take two merged records apart again");
    }

    private static async Task<Ok<DuplicateList>> List(string? kind, LanternDb db, RecordScope scope, Workspace workspace)
    {
        var rows = await db.Rows<OpenDuplicate>(
            $"""
            select t.id, t.kind, {scope.AnyName("la", "ca", "aa"):sql} as a,
              {scope.AnyName("lb", "cb", "ab"):sql} as b,
              t.bits, t.sure, t.evidence::text as evidence, count(*) over ()::int as all from duplicate t
            left join lead la on la.id = t.a and t.kind = 'lead' left join lead lb on lb.id = t.b and t.kind = 'lead'
            left join contact ca on ca.id = t.a and t.kind = 'contact' left join contact cb on cb.id = t.b and t.kind = 'contact'
            left join account aa on aa.id = t.a and t.kind = 'account' left join account ab on ab.id = t.b and t.kind = 'account'
            where t.state = 'open' and ({kind}::text is null or t.kind = {kind}) and {scope.SeesNamed("t.kind", "t.a", "t.b"):sql} order by t.bits desc, t.id limit {Shown}
            """
        );
        var odds = await db.Set<Edition>().Where(x => x.Kind == Edition.Matching && x.State == "live").Select(x => (int?)x.Number).SingleOrDefaultAsync();
        return TypedResults.Ok(
            new DuplicateList(
                [.. rows.Select(r => new DuplicateItem(r.Id, r.Kind, r.A ?? "", r.B ?? "", (double)r.Bits, r.Sure, WordsOf(r.Evidence)))],
                rows.Count == 0 ? 0 : rows[0].All,
                workspace.Matcher.Bars.Ask,
                workspace.Matcher.Bars.Link,
                await DuplicateDetectionWorker.Progress(db),
                odds is { } number ? $"edition {number}" : null
            )
        );
    }

    private static string WordsOf(string evidence) =>
        string.Join(", ", Json.Read<List<Evidence>>(evidence).Where(e => e.Bits > 0).OrderByDescending(e => e.Bits).Take(3).Select(e => e.Words));

    private static async Task<Results<Ok<DuplicateSheet>, ProblemHttpResult>> Open(Guid id, Guid? keep, LanternDb db, RecordScope scope, Workspace workspace, RecordMerger merger)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var duplicate = await db.Entity<DuplicateRow>($"select * from duplicate where id = {id}");
        if (duplicate is null)
            return ApiProblems.NotFound("pair");
        var (kept, gone) = await Sides(db, duplicate, keep, workspace);
        if (kept is null || gone is null)
            return ApiProblems.Of(duplicate.State == DuplicateRow.Merged ? "merged-already" : "gone");
        var lines = (await merger.Propose(db, duplicate.Kind, kept, gone)).ToDictionary(l => l.Field.Key);
        var match = workspace.Matcher.Compare(await Who(db, duplicate.Kind, kept, workspace), await Who(db, duplicate.Kind, gone, workspace));
        // What the reader is not shown of one is shown of neither: the other's value would tell it.
        var shows = await scope.ShowsContactDataOf(db, duplicate.Kind, kept.Id) && await scope.ShowsContactDataOf(db, duplicate.Kind, gone.Id);
        var facts = DuplicateRecords
            .FieldsOf(duplicate.Kind, workspace.Catalogue)
            .Where(f => !scope.Hides(f, shows) && (kept.Values[f.Key].IsKnown || gone.Values[f.Key].IsKnown))
            .Select(f =>
            {
                var line = lines.GetValueOrDefault(f.Key);
                return new DuplicateFact(
                    f.Key,
                    f.Label,
                    Shows(f, kept.Values),
                    Shows(f, gone.Values),
                    line is null ? "both"
                        : line.Theirs ? "go"
                        : "keep",
                    line?.Why ?? ""
                );
            });
        return TypedResults.Ok(
            new DuplicateSheet(id, duplicate.Kind, duplicate.State, Head(kept, shows), Head(gone, shows), match.Bits, match.Bars.Ask, match.Bars.Link, match.Evidence, [.. facts])
        );
    }

    private static async Task<Identity> Who(LanternDb db, string kind, DuplicateSide side, Workspace workspace) =>
        (await DuplicateRecords.Identities(db, kind, [side.Id], workspace.Catalogue)).Select(i => i.Who).FirstOrDefault() ?? Identity.Of(side.Values);

    private static string? Shows(FieldDefinition field, RecordValues values) => values[field.Key] is { IsKnown: true } value ? field.Show(value.ToString()) : null;

    private static DuplicateHead Head(DuplicateSide side, bool showsContactData) => new(side.Id, Called(side.Name, showsContactData), side.Line, side.CreatedAt);

    // Some go by their address or number.
    private static string Called(string name, bool showsContactData) => showsContactData || !RecordScope.IsContactData(name) ? name : "Without a name";

    // The one kept first: as said, else the one known longer.
    private static async Task<(DuplicateSide? Keep, DuplicateSide? Go)> Sides(LanternDb db, DuplicateRow duplicate, Guid? keep, Workspace workspace)
    {
        var sides = await DuplicateRecords.Sides(db, duplicate.Kind, duplicate.A, duplicate.B, workspace.Catalogue);
        if (sides[0] is not { } a || sides[1] is not { } b)
            return (sides[0], sides[1]);
        return keep == b.Id || (keep != a.Id && b.CreatedAt < a.CreatedAt) ? (b, a) : (a, b);
    }

    private static async Task<Results<Ok<MergeDone>, ProblemHttpResult>> Merge(
        Guid id,
        MergeOrder body,
        ClaimsPrincipal user,
        LanternDb db,
        Workspace workspace,
        RecordMerger merger,
        TimeProvider clock
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        await Admission.Lock(db);
        var duplicate = await db.Entity<DuplicateRow>($"select * from duplicate where id = {id} for update");
        if (duplicate is null)
            return ApiProblems.NotFound("pair");
        if (duplicate.State != DuplicateRow.Open)
            return ApiProblems.Of(duplicate.State == DuplicateRow.Merged ? "merged-already" : "said-two");
        if (body.Keep is { } kept && kept != duplicate.A && kept != duplicate.B)
            return ApiProblems.Of("keep-unknown", "keep");
        if (body.Take?.FirstOrDefault(t => t.Value is not ("keep" or "go") || workspace.Catalogue.Find(t.Key) is null) is { Key: not null } wrong)
            return ApiProblems.Of("take-unknown", "take", wrong.Key, wrong.Value);
        var (keep, go) = await Sides(db, duplicate, body.Keep, workspace);
        if (keep is null || go is null)
            return ApiProblems.Of("gone");
        if (keep.State == LeadState.HandedOver || go.State == LeadState.HandedOver)
            return ApiProblems.Of("duplicate-handed-over");
        if (!await WorksOn(db, user, duplicate.Kind, keep.Id, go.Id))
            return ApiProblems.Of("not-yours");
        var take = (body.Take ?? []).ToDictionary(t => t.Key, t => t.Value == "go");
        var merge = await merger.Merge(db, duplicate.Kind, keep, go, take, user.Id(), clock.UtcNow());
        await transaction.CommitAsync();
        return TypedResults.Ok(new MergeDone(merge, keep.Id));
    }

    private static Task<Results<NoContent, ProblemHttpResult>> Distinct(Guid id, ClaimsPrincipal user, LanternDb db, TimeProvider clock) =>
        Say(id, DuplicateRow.Open, DuplicateRow.Distinct, user, db, clock);

    private static Task<Results<NoContent, ProblemHttpResult>> AskAgain(Guid id, ClaimsPrincipal user, LanternDb db, TimeProvider clock) =>
        Say(id, DuplicateRow.Distinct, DuplicateRow.Open, user, db, clock);

    private static async Task<Results<NoContent, ProblemHttpResult>> Say(Guid id, string from, string to, ClaimsPrincipal user, LanternDb db, TimeProvider clock)
    {
        if (await db.Set<DuplicateRow>().AsNoTracking().SingleOrDefaultAsync(x => x.Id == id) is not { } pair)
            return ApiProblems.NotFound("pair");
        if (!await WorksOn(db, user, pair.Kind, pair.A, pair.B))
            return ApiProblems.Of("not-yours");
        var (at, by) = to == DuplicateRow.Open ? ((DateTime?)null, (Guid?)null) : (clock.UtcNow(), user.Id());
        var said = await db.Set<DuplicateRow>()
            .Where(x => x.Id == id && x.State == from)
            .ExecuteUpdateAsync(s => s.SetProperty(x => x.State, to).SetProperty(x => x.SettledAt, at).SetProperty(x => x.SettledBy, by));
        if (said > 0)
            return TypedResults.NoContent();
        var state = await db.Set<DuplicateRow>().Where(x => x.Id == id).Select(x => x.State).SingleOrDefaultAsync();
        return state is null ? ApiProblems.NotFound("pair")
            : state == to ? TypedResults.NoContent()
            : ApiProblems.Of("settled");
    }

    // Somebody who works only on their own records settles nothing of another's.
    private static async Task<bool> WorksOn(LanternDb db, ClaimsPrincipal user, string kind, params Guid[] ids)
    {
        var me = user.Id();
        return !user.WorksOwnOnly() || await db.One<bool>($"""select not exists (select 1 from {kind:sql} where id = any({ids}) and owner_id is distinct from {me}) as "Value" """);
    }

    private static async Task<Accepted<HuntProgress>> Look(LanternDb db)
    {
        await DuplicateDetectionWorker.AskAll(db);
        return TypedResults.Accepted("/api/duplicates", await DuplicateDetectionWorker.Progress(db));
    }

    private static async Task<Ok<List<MergeItem>>> Merges(LanternDb db, RecordScope scope)
    {
        var rows = await db.Rows<RecentMerge>(
            $"""
            select m.id, m.kind, m.kept_id as kept, {scope.AnyName("l", "c", "a"):sql} as kept_name, (m.gone->m.kind)::text as gone, m.at, p.display_name as by
            from record_merge m left join lead l on l.id = m.kept_id left join contact c on c.id = m.kept_id left join account a on a.id = m.kept_id left join person p on p.id = m.person_id
            where m.apart_at is null and {scope.SeesNamed("m.kind", "m.kept_id"):sql} order by m.at desc limit {Recent}
            """
        );
        return TypedResults.Ok(
            rows.Select(r => new MergeItem(r.Id, r.Kind, r.Kept, r.KeptName ?? "", Called(NameOf(r.Kind, r.Gone), !scope.HidesContactData), r.At, r.By)).ToList()
        );
    }

    private static string NameOf(string kind, string row)
    {
        var fields = Json.Read<Dictionary<string, System.Text.Json.JsonElement>>(row);
        string Text(string key) => fields.TryGetValue(key, out var value) && value.ValueKind == System.Text.Json.JsonValueKind.String ? value.GetString()! : "";
        return kind != "lead" ? Text("name")
            : $"{Text("first_name")} {Text("last_name")}".Trim() is { Length: > 0 } name ? name
            : Text("company");
    }

    private static async Task<Results<Ok<ApartResult>, ProblemHttpResult>> TakeApart(Guid id, ClaimsPrincipal user, LanternDb db, RecordMerger merger, TimeProvider clock)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        await Admission.Lock(db);
        var merge = await db.Entity<MergeRow>($"select * from record_merge where id = {id} for update");
        if (merge is null)
            return ApiProblems.NotFound("merge");
        if (merge.ApartAt is not null)
            return ApiProblems.Of("apart");
        if (await db.Set<MergeRow>().AnyAsync(m => m.GoneId == merge.KeptId && m.ApartAt == null))
            return ApiProblems.Of("merged-on");
        if (await db.One<bool>($"""select not exists (select 1 from {merge.Kind:sql} where id = {merge.KeptId}) as "Value" """))
            return ApiProblems.Of("kept-gone");
        if (merge.Kind == "lead" && await db.One<string>($"""select state as "Value" from lead where id = {merge.KeptId} for update""") == LeadState.HandedOver)
            return ApiProblems.Of("merge-handed-over");
        if (!await WorksOn(db, user, merge.Kind, merge.KeptId))
            return ApiProblems.Of("not-yours");
        var result = await merger.TakeApart(db, merge, user.Id(), clock.UtcNow());
        await transaction.CommitAsync();
        return TypedResults.Ok(result);
    }

    private sealed record OpenDuplicate(Guid Id, string Kind, string? A, string? B, decimal Bits, bool Sure, string Evidence, int All);

    private sealed record RecentMerge(Guid Id, string Kind, Guid Kept, string? KeptName, string Gone, DateTime At, string? By);
}
