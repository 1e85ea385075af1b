using System.Security.Claims;
using System.Text;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Intake;

public sealed record ValueView(string Key, string Label, string Value);

/// <summary>A fact of a known lead that a row changes; before is empty where a blank is filled.</summary>
public sealed record ChangeView(string Label, string Before, string After);

/// <summary>Something that could not be read, with what was probably meant.</summary>
public sealed record RowProblem(string Field, string Label, string Found, string Words, IReadOnlyList<Proposal> Proposals);

/// <param name="Known">What is told of the lead that the row belongs to where the reader does not see it; null where they do.</param>
/// <param name="Left">Why taking back left its lead, or a part of it; null when it did not.</param>
public sealed record RowView(
    int Number,
    string Outcome,
    string Reason,
    IReadOnlyList<ValueView> Values,
    IReadOnlyList<RowProblem> Problems,
    IReadOnlyList<ChangeView> Changes,
    string Raw,
    Guid? LeadId,
    string? Left,
    KnownView? Known = null
);

public sealed record RowPage(IReadOnlyList<RowView> Rows, int? Next);

/// <summary>A value put right: in one row, or (row 0) in all rows whose field holds <paramref name="Found"/>.</summary>
/// <param name="Put">What is read instead; empty leaves the field blank.</param>
public sealed record MendOrder([Text(100)] string Field, [Text(10_000)] string Put, [Between(0, 1_000_000_000)] int Row = 0, [Text(100_000)] string Found = "");

/// <summary>The rows of an import: looked at, mended, downloaded.</summary>
public static class RowEndpoints
{
    private const int RowsAPage = 100;

    public static void MapImportRows(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("").Requires(Act.SeeIntake).WithTags("Intake");
        see.MapGet("/imports/{id}/rows", Rows).WithSummary("Rows of an import by outcome; \"left\" for those that taking back left");
        see.MapGet("/imports/{id}/problems", Problems).WithSummary("Values that could not be read, alike ones together");
        see.MapGet("/imports/{id}/rows.csv", Download).WithSummary("Rows as they came, with a column that says why they have their outcome");
        var run = api.MapGroup("").Requires(Act.RunIntake).WithTags("Intake");
        run.MapPost("/imports/{id}/mends", Mend).WithSummary("Put a value right, in one row or in all alike");
        run.MapDelete("/imports/{id}/mends/{mend}", Undo).WithSummary("Undo a mend");
    }

    private static async Task<Ok<RowPage>> Rows(
        Guid id,
        string? outcome,
        int? after,
        ClaimsPrincipal user,
        LanternDb db,
        RecordScope scope,
        KnownAnswers answers,
        Workspace workspace
    )
    {
        var rows = await db.Entities<Arrival>(
            $"select * from arrival where import_id = {id} and row_number > {(after ?? 0)} and {Which(outcome):sql} order by row_number limit {RowsAPage}"
        );
        var import = await db.Set<Import>()
            .Where(x => x.Id == id)
            .Select(x => new Import
            {
                State = x.State,
                Policies = x.Policies,
                Constants = x.Constants,
                CreatedAt = x.CreatedAt,
                Source = x.Source,
            })
            .SingleOrDefaultAsync();
        var changes = import is null ? [] : await Changes(db, import, rows, workspace.Catalogue);
        var leads = rows.Where(r => r.LeadId is not null).Select(r => r.LeadId!.Value).Distinct().ToArray();
        var (unseen, bare) = ((await scope.Unseen(db, EventLog.Lead, leads)).ToHashSet(), await Bare(db, scope, leads));
        // A lead that the list makes, and nobody sees but the coordinator, was not there before.
        var known = await answers.Tell(
            db,
            user,
            "lead",
            [.. rows.Where(r => r.LeadId is { } l && unseen.Contains(l) && SiftOutcome.AddToLead.Contains(r.Outcome)).Select(r => r.LeadId!.Value)]
        );
        var views = rows.Select(r => RowOf(r, Shown(changes.GetValueOrDefault(r.RowNumber) ?? [], r), workspace.Catalogue)).Select(Masked).ToList();
        return TypedResults.Ok(new RowPage(views, rows.Count == RowsAPage ? rows[^1].RowNumber : null));

        // What stands with a lead is told as the reader is shown it.
        List<ChangeView> Shown(List<ChangeView> all, Arrival row) =>
            row.LeadId is { } lead && bare.Contains(lead) || scope.HidesFields
                ?
                [
                    .. all.Where(c =>
                        workspace.Catalogue.Facts.FirstOrDefault(f => f.Label == c.Label) is not { } f || !scope.Hides(f, row.LeadId is not { } l || !bare.Contains(l))
                    ),
                ]
                : all;

        RowView Masked(RowView row) =>
            row.LeadId is { } lead && unseen.Contains(lead) && SiftOutcome.AddToLead.Contains(row.Outcome)
                ? row with
                {
                    LeadId = null,
                    Changes = [],
                    Reason = known.GetValueOrDefault(lead)?.Words ?? KnownAnswers.NoMore,
                    Known = known.GetValueOrDefault(lead),
                }
                : row with
                {
                    Reason = ReasonFor(scope, row.Outcome, row.Reason),
                };
    }

    // Why a row became what it did, without the names of records that the reader may not see.
    private static string ReasonFor(RecordScope scope, string outcome, string reason) =>
        reason.Length == 0 || RecordScope.Kinds.All(scope.SeesAll)
            ? reason
            : outcome switch
            {
                SiftOutcome.Contact => "A new lead of a contact that we know.",
                SiftOutcome.Account => "A new lead from an account that we know.",
                SiftOutcome.New => "May be the same as somebody whom we know.",
                _ => reason,
            };

    // The leads among these whose contact data the reader is not shown.
    private static async Task<HashSet<Guid>> Bare(LanternDb db, RecordScope scope, Guid[] leads) =>
        scope.HidesContactData
            ?
            [
                .. await db.Rows<Guid>(
                    $"""select l.id as "Value" from lead l where l.id = any({leads}) and {scope.Sees("lead", "l"):sql} and not {scope.ShowsContactData("lead", "l"):sql}"""
                ),
            ]
            : [];

    private static SqlText Which(string? outcome) =>
        outcome switch
        {
            null => $"true",
            "left" => $"left_because is not null",
            _ => $"outcome = {outcome}",
        };

    // What rows that add would change now, or did change when they were taken in.
    private static async Task<Dictionary<int, List<ChangeView>>> Changes(LanternDb db, Import import, List<Arrival> rows, FieldCatalogue catalogue)
    {
        var adds = rows.Where(r => SiftOutcome.AddToLead.Contains(r.Outcome) && r.LeadId is not null).ToList();
        var done = adds.Where(r => r.Changed is not null).ToDictionary(r => r.RowNumber, r => Json.Read<List<KeptChange>>(r.Changed!).Select(c => ViewOf(c, catalogue)).ToList());
        var open = adds.Where(r => r.Changed is null).ToList();
        if (open.Count == 0)
            return done;
        var leads = await LeadStore.LoadMany(db, [.. open.Select(r => r.LeadId!.Value).Distinct()], catalogue, hold: false);
        var saidAt = (Json.Read<ImportConstants>(import.Constants).SaidAt ?? import.CreatedAt).ToInstant();
        var terms = new MergeTerms(import.Source ?? "", null, import.CreatedAt, saidAt, Json.Read<ImportPolicies>(import.Policies).Of);
        foreach (var row in open)
            if (leads.TryGetValue(row.LeadId!.Value, out var known))
                done[row.RowNumber] =
                [
                    .. ArrivalMerger
                        .Preview(known, Json.ToRecord(row.Values, catalogue), terms)
                        .Select(c => new ChangeView(c.Field.Label, c.Before.IsKnown ? c.Field.Show(c.Before.ToString()) : "", c.Field.Show(c.After.ToString()))),
                ];
        return done;
    }

    private static ChangeView ViewOf(KeptChange change, FieldCatalogue catalogue) =>
        catalogue.Find(change.Field) is { } field
            ? new ChangeView(field.Label, change.Before.Length > 0 ? field.Show(change.Before) : "", field.Show(change.After))
            : new ChangeView(change.Field, change.Before, change.After);

    private static RowView RowOf(Arrival row, List<ChangeView> changes, FieldCatalogue catalogue)
    {
        var record = Json.ToRecord(row.Values, catalogue);
        var values = record.Known().Select(k => new ValueView(k.Field.Key, k.Field.Label, k.Field.Show(k.Value.ToString())));
        var problems = (row.Problems is null ? [] : Json.Problems(row.Problems)).Select(p => ProblemOf(p, catalogue, record.Text("country")));
        return new RowView(row.RowNumber, row.Outcome, row.Reason, [.. values], [.. problems], changes, string.Join(" \u00b7 ", row.Cells), row.LeadId, row.LeftBecause);
    }

    private static RowProblem ProblemOf(Problem problem, FieldCatalogue catalogue, string? country) =>
        catalogue.Find(problem.Path) is { } field
            ? new RowProblem(field.Key, field.Label, problem.Found, problem.Words, [.. NearMiss.For(field, problem.Found, country)])
            : new RowProblem("", "", problem.Found, problem.Words, []);

    private static async Task<Ok<List<ProblemGroup>>> Problems(Guid id, LanternDb db, RowMender mender) => TypedResults.Ok(await mender.Groups(db, id));

    private static async Task<Results<Ok<MendResult>, ProblemHttpResult>> Mend(
        Guid id,
        MendOrder order,
        ClaimsPrincipal user,
        LanternDb db,
        RowMender mender,
        Workspace workspace,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var import = await Imports.Lock(db, id);
        if (Refused(import) is { } refused)
            return ApiProblems.Of(refused);
        if (workspace.Catalogue.Find(order.Field) is not { Origin: not (FieldOrigin.System or FieldOrigin.Finding) } field)
            return ApiProblems.Of("field-unknown", "field", order.Field);
        var country = order.Row > 0 ? await CountryOf(db, id, order.Row) : Json.Read<SiftPlan>(import!.Plan).Country;
        // For all alike a telephone may be read by each row's own country, so only what no row could read is refused.
        if (FieldReader.Read(field, order.Put, country).Problem is { } problem && !(order.Row == 0 && field.Type is FieldType.Phone or FieldType.Region))
            return ApiProblems.Of(problem, "put");
        if (order.Row == 0 && order.Found.Length == 0)
            return ApiProblems.Of("found-missing", "found");
        var mend = new Mend(order.Row > 0 ? order.Row : null, order.Field, order.Row > 0 ? "" : order.Found, order.Put);
        var result = await mender.Put(db, import!, mend, user.Id(), clock.UtcNow(), cancel);
        await transaction.CommitAsync(cancel);
        return TypedResults.Ok(result);
    }

    private static async Task<string?> CountryOf(LanternDb db, Guid id, int row)
    {
        var values = await db.Set<Arrival>().Where(x => x.ImportId == id && x.RowNumber == row).Select(x => x.Values).SingleOrDefaultAsync();
        return values is null ? null : Json.Read<Dictionary<string, string>>(values).GetValueOrDefault("country");
    }

    private static async Task<Results<Ok<MendResult>, ProblemHttpResult>> Undo(Guid id, long mend, LanternDb db, RowMender mender, TimeProvider clock, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var import = await Imports.Lock(db, id);
        if (Refused(import) is { } refused)
            return ApiProblems.Of(refused);
        var result = await mender.Undo(db, import!, mend, clock.UtcNow(), cancel);
        await transaction.CommitAsync(cancel);
        return result is null ? ApiProblems.NotFound("mend") : TypedResults.Ok(result);
    }

    private static Problem? Refused(Import? import) =>
        import switch
        {
            null => Problem.NotFound("import"),
            { State: Import.Sifted or Import.Taken } => null,
            { State: Import.TakenBack } => Problem.Of("taken-back"),
            _ => Problem.Of("at-work"),
        };

    private static async Task<Results<PushStreamHttpResult, ProblemHttpResult>> Download(Guid id, string? outcome, LanternDb db, RecordScope scope, LanternDbFactory databases)
    {
        var head = await db.Set<Import>().Where(x => x.Id == id).Select(x => new { File = x.FileName, x.Plan }).SingleOrDefaultAsync();
        if (head is not { } import)
            return ApiProblems.NotFound("import");
        var headings = Json.Read<SiftPlan>(import.Plan).Columns.Select(c => c.Heading).Append("Why").ToList();
        var name = $"{Path.GetFileNameWithoutExtension(import.File)}-{outcome ?? "all"}.csv";
        await db.Log(EventLog.Import, id, new Exported($"rows of {import.File}"));
        return TypedResults.Stream(stream => WriteRows(stream, databases, scope, id, outcome, headings), "text/csv; charset=utf-8", name);
    }

    private static async Task WriteRows(Stream stream, LanternDbFactory databases, RecordScope scope, Guid id, string? outcome, List<string> headings)
    {
        await using var text = new StreamWriter(stream, new UTF8Encoding(true));
        await text.WriteAsync(Csv.Line(headings));
        await using var db = await databases.Open();
        var rows = db.Stream(
            $"""
            select cells, case when outcome = any({SiftOutcome.AddToLead.ToArray()}) and lead_id is not null and not {scope.SeesTied(
                "lead",
                "lead_id"
            ):sql} then 'Known already.' else reason end, problems::text, outcome
            from arrival where import_id = {id} and {Which(outcome):sql} order by row_number
            """,
            row =>
                (
                    Cells: (string[])row[0],
                    Reason: ReasonFor(scope, row.GetString(3), row.GetString(1)),
                    Problems: row.IsDBNull(2) ? [] : Json.Problems(row.GetString(2)).Select(p => p.Words)
                )
        );
        await foreach (var (cells, reason, problems) in rows)
        {
            var why = string.Join(' ', problems.Prepend(reason).Where(w => w.Length > 0).Distinct());
            await text.WriteAsync(Csv.Line([.. Enumerable.Range(0, headings.Count - 1).Select(i => i < cells.Length ? cells[i] : ""), why]));
        }
    }
}
