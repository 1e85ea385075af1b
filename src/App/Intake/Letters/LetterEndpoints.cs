using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Intake.Letters;

public static class LetterEndpoints
{
    private const int MostLetters = 200;

    public static void MapLetters(this IEndpointRouteBuilder api)
    {
        api.MapPost("/letters", Drop).Requires(Act.RunIntake).DisableAntiforgery().WithTags("Intake").WithSummary("Take in dropped letters (.eml)");
    }

    private static async Task<Results<Ok<List<LetterResult>>, ProblemHttpResult>> Drop(IFormFileCollection files, LetterArrivals arrivals, CancellationToken cancel)
    {
        if (files.Count is 0 or > MostLetters)
            return ApiProblems.Of("letters-missing", "", MostLetters);
        var results = new List<LetterResult>();
        foreach (var file in files)
        {
            using var bytes = new MemoryStream();
            await file.CopyToAsync(bytes, cancel);
            results.Add(await arrivals.Take(file.NameOr("letter.eml"), bytes.ToArray(), cancel));
        }
        return TypedResults.Ok(results);
    }
}
