using System.Collections.Immutable;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Lists;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Campaigns;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;

namespace DapperLantern.App.Intake;

/// <summary>How a list shall be read. What does not fit its format is passed over.</summary>
/// <param name="HeadingRow">From 1; 0 for none; null to have it found.</param>
public sealed record ReadingChange([Text(100)] string Encoding = "", [Text(10)] string Separator = "", [Text(200)] string Sheet = "", [Between(0, 1_000)] int? HeadingRow = null);

/// <summary>Where a column goes: a target or empty for none; and how it writes dates and numbers, null for as the column shows.</summary>
public sealed record ColumnChange([Text(100)] string Target, DateOrder? Dates = null, DecimalMark? Decimals = null);

/// <summary>A changed matching, a line for each column.</summary>
/// <param name="Country">Taken where a row names none; empty for none.</param>
public sealed record MatchingChange([Count(250)] IReadOnlyList<ColumnChange> Columns, [Text(100)] string Country = "", bool AsideUnread = false);

/// <summary>What holds for all rows.</summary>
public sealed record TermsChange([Text(100)] string Source, ImportConstants Constants, ImportPolicies Policies);

/// <summary>How a list that is not taken in is read, matched and taken: each change sifts it anew, or says what is wrong with it.</summary>
internal static class ImportTerms
{
    public static void MapImportTerms(this IEndpointRouteBuilder run)
    {
        run.MapPut("/imports/{id}/reading", ReadOtherwise).WithSummary("Read the file in another way; matches and sifts anew");
        run.MapPut("/imports/{id}/matching", Rematch).WithSummary("Change the matching; sifts anew");
        run.MapPut("/imports/{id}/terms", Terms).WithSummary("Source, constants and policies of an import not taken in yet");
        run.MapPost("/imports/{id}/sift", SiftOnceMore).WithSummary("Sift an import that was taken back, to take it in anew");
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> ReadOtherwise(
        Guid id,
        ReadingChange change,
        LanternDb db,
        Imports imports,
        ImportAnswers answers,
        Workspace workspace,
        CancellationToken cancel
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var import = await Imports.Lock(db, id);
        if (Refused(import) is { } refused)
            return ApiProblems.Of(refused);
        var old = Json.Read<ListReading>(import!.Reading);
        if (Check(change, old) is { } wrong)
            return ApiProblems.Of(wrong);
        var reading = old with
        {
            Encoding = old.Encoding.Length > 0 ? change.Encoding : "",
            Separator = old.Separator.Length > 0 ? change.Separator : "",
            Sheet = old.Sheet.Length > 0 ? change.Sheet : "",
            HeadingRow = change.HeadingRow ?? 1,
            Doubt = null,
        };
        await using (var content = await ImportContent.Open(db, id, cancel))
        {
            if (change.HeadingRow is null)
                reading = ListFile.WithHeading(content, reading, workspace.Catalogue);
            if (ListFile.Check(content, reading) is { } trouble)
                return ApiProblems.Of(trouble);
            await imports.Match(db, import, content, reading);
        }
        return await SiftAnew(import, db, transaction, answers, cancel);
    }

    private static Problem? Check(ReadingChange change, ListReading old)
    {
        if (old.Encoding.Length > 0 && !TextEncoding.Known.Contains(change.Encoding))
            return Problem.Of("encoding-unknown", "encoding", TextEncoding.Known);
        if (old.Separator.Length > 0 && (change.Separator.Length != 1 || change.Separator[0] is '"' or '\r' or '\n'))
            return Problem.Of("separator-unfit", "separator");
        if (old.Sheet.Length > 0 && old.Sheets.All(s => s.Name != change.Sheet))
            return Problem.Of("sheet-unknown", "sheet", change.Sheet);
        return null;
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> Rematch(
        Guid id,
        MatchingChange change,
        LanternDb db,
        ImportAnswers answers,
        Workspace workspace,
        CancellationToken cancel
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var import = await Imports.Lock(db, id);
        if (Refused(import) is { } refused)
            return ApiProblems.Of(refused);
        var plan = Json.Read<SiftPlan>(import!.Plan);
        if (Check(change, plan.Columns, workspace.Catalogue) is { } wrong)
            return ApiProblems.Of(wrong);
        import.Plan = Json.Write(
            plan with
            {
                Columns = [.. plan.Columns.Zip(change.Columns, Changed)],
                Country = change.Country.Length > 0 ? change.Country : null,
                AsideUnread = change.AsideUnread,
            }
        );
        return await SiftAnew(import, db, transaction, answers, cancel);
    }

    private static ColumnMatch Changed(ColumnMatch old, ColumnChange to)
    {
        var column = (old.Target ?? "") == to.Target ? old : old with { Target = to.Target.Length > 0 ? to.Target : null, Confidence = 100, Why = "you said so", Note = null };
        var said = to.Dates is not null || to.Decimals is not null;
        return said ? column with { Dates = to.Dates ?? column.Dates, Decimals = to.Decimals ?? column.Decimals, Said = true, Note = null } : column with { Said = false };
    }

    private static Problem? Check(MatchingChange change, ImmutableArray<ColumnMatch> old, FieldCatalogue catalogue)
    {
        if (change.Columns.Count != old.Length)
            return Problem.Of("targets-count", "columns", old.Length, change.Columns.Count);
        if (change.Country.Length > 0 && Countries.NameOf(change.Country) is null)
            return Problem.Of("country-unknown", "country", change.Country);
        var used = change.Columns.Select(c => c.Target).Where(t => t.Length > 0).ToList();
        if (used.FirstOrDefault(t => Composites.Find(t) is null && catalogue.Columns.All(f => f.Key != t)) is { } unknown)
            return Problem.Of("field-unknown", "columns", unknown);
        if (used.Where(t => !ColumnMatcher.MayGather(catalogue.Find(t))).GroupBy(t => t).FirstOrDefault(g => g.Count() > 1) is { } twice)
            return Problem.Of("target-twice", "columns", ColumnMatcher.LabelOf(catalogue, twice.Key).ToLowerInvariant());
        return null;
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> Terms(
        Guid id,
        TermsChange change,
        LanternDb db,
        Workspace workspace,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var import = await Imports.Lock(db, id);
        if (Refused(import) is { } refused)
            return ApiProblems.Of(refused);
        if (await Check(change, db, workspace) is { } wrong)
            return ApiProblems.Of(wrong);
        import!.Source = change.Source.Length > 0 ? change.Source : null;
        import.Constants = Json.Write(change.Constants);
        import.Policies = Json.Write(change.Policies);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return TypedResults.Ok((await ImportQueries.Open(db, id, workspace, clock.UtcNow()))!);
    }

    private static async Task<Problem?> Check(TermsChange change, LanternDb db, Workspace workspace)
    {
        var (constants, catalogue) = (change.Constants, workspace.Catalogue);
        // Nothing said yet stays nothing; it is asked for at taking in.
        if (change.Source.Length > 0 && !await db.Set<SourceRow>().AnyAsync(x => x.Key == change.Source))
            return Problem.Of("source-unknown", "source");
        if (constants.Campaign is { } campaign && catalogue["campaign"].Choices.All(c => c.Key != campaign))
            return Problem.Of("campaign-unknown", "campaign", campaign);
        if (constants.Response is { } response && CampaignResponse.Find(response) is null)
            return Problem.Of("response-unknown", "response", response);
        if (constants is { Owner: not null, Team: not null })
            return Problem.Of("owner-and-team", "team");
        if (constants.Owner is { } owner && !await db.Set<TurnRow>().AnyAsync(x => x.PersonId == owner))
            return Problem.Of("worker-unknown", "owner");
        if (constants.Team is { } team && !await db.Set<TeamRow>().AnyAsync(x => x.Key == team))
            return Problem.Of("team-unknown", "team", team);
        if (constants.Consent is { } consent && (consent.Wording.Trim().Length == 0 || workspace.ConsentPurposes.All(p => p.Key != consent.Purpose)))
            return Problem.Of("consent-incomplete", "consent");
        var known = await db.Set<TagRow>().Where(x => !x.Retired).Select(x => x.Key).ToHashSetAsync();
        if (constants.Tags.FirstOrDefault(t => !known.Contains(t)) is { } tag)
            return Problem.Of("tag-unknown", "tags", tag);
        return change.Policies.Fields?.Keys.FirstOrDefault(k => catalogue.Facts.All(f => f.Key != k)) is { } field ? Problem.Of("field-unknown", "policies", field) : null;
    }

    private static async Task<Results<Ok<SieveView>, ProblemHttpResult>> SiftOnceMore(Guid id, LanternDb db, ImportAnswers answers, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var import = await Imports.Lock(db, id);
        if (Refused(import) is { } refused)
            return ApiProblems.Of(refused);
        return await SiftAnew(import!, db, transaction, answers, cancel);
    }

    // Commits what was changed, and answers when it is sifted by it.
    private static async Task<Ok<SieveView>> SiftAnew(Import import, LanternDb db, IDbContextTransaction transaction, ImportAnswers answers, CancellationToken cancel)
    {
        (import.State, import.Epoch, import.Through, import.Done, import.ToDo, import.Tries, import.Trouble) = (Import.Sifting, import.Epoch + 1, 0, 0, import.RowsRead, 0, null);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return await answers.Settled(import.Id, cancel);
    }

    private static Problem? Refused(Import? import) =>
        import switch
        {
            null => Problem.NotFound("import"),
            { State: Import.Sifted or Import.Sifting or Import.TakenBack } => null,
            _ => Problem.Of("already-taken"),
        };
}
