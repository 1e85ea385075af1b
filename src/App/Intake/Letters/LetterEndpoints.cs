using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Intake.Letters;

/// <summary>A file that came with a lead's arrivals.</summary>
public sealed record ArrivalFileView(Guid Id, string Name, string Type, int Size, DateTime At);

public static class LetterEndpoints
{
    private const int MostLetters = 200;

    public static void MapLetters(this IEndpointRouteBuilder api)
    {
        api.MapPost("/letters", Drop).Requires(Act.RunIntake).DisableAntiforgery().WithTags("Intake").WithSummary("Take in dropped letters (.eml)");
        var see = api.MapGroup("").Requires(Act.SeeLeads).WithTags("Leads");
        see.MapGet("/leads/{id:guid}/files", Files).WithSummary("Files that came with a lead");
        see.MapGet("/files/{id:guid}", Download).WithSummary("One of these files").Produces<byte[]>(200, "application/octet-stream");
    }

    private static async Task<Results<Ok<List<LetterResult>>, ProblemHttpResult>> Drop(IFormFileCollection files, LetterArrivals arrivals, CancellationToken cancel)
    {
        if (files.Count is 0 or > MostLetters)
            return Trouble.Invalid("letters-missing", $"Drop 1 to {MostLetters} letters.");
        var results = new List<LetterResult>();
        foreach (var file in files)
        {
            using var bytes = new MemoryStream();
            await file.CopyToAsync(bytes, cancel);
            results.Add(await arrivals.Take(file.FileName, bytes.ToArray(), cancel));
        }
        return TypedResults.Ok(results);
    }

    private static async Task<Ok<List<ArrivalFileView>>> Files(Guid id, LanternDb db) =>
        TypedResults.Ok(
            (
                await (await db.Connection()).QueryAsync<ArrivalFileView>(
                    """
                    select f.id, case when f.position = 0 then coalesce(nullif(a.raw->>'subject', ''), 'letter') || '.eml' else f.name end as name, f.type, f.size, a.at
                    from single_arrival a join arrival_file f on f.arrival_id = a.id where a.lead_id = @id order by a.at desc, f.position
                    """,
                    new { id }
                )
            ).ToList()
        );

    // Never shown by the browser as a page of ours: what came from outside is only ever saved.
    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> Download(Guid id, LanternDb db)
    {
        var file = await (await db.Connection()).QuerySingleOrDefaultAsync<ArrivalFileRow>("select * from arrival_file where id = @id", new { id });
        return file is null ? Trouble.NotFound("file") : TypedResults.File(file.Bytes, "application/octet-stream", file.Name);
    }
}
