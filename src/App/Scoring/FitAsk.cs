using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Scoring;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Scoring;

/// <param name="Facts">Field key to what is written in it.</param>
public sealed record FitOrder([Count(1_000, Each = 10_000)] IReadOnlyDictionary<string, string> Facts);

/// <summary>Fit of what is known so far.</summary>
/// <param name="Ask">The fact to ask next; null when nothing more would tell.</param>
public sealed record FitSoFar(int Fit, int Low, int High, int Bar, OpenQuestion? Ask);

/// <summary>The fit of somebody who is not kept yet: what to ask while one talks.</summary>
public static class FitAsk
{
    public static void MapFitAsk(this IEndpointRouteBuilder api) =>
        api.MapPost("/scoring/fit", Ask).Requires(Act.WorkLeads).WithTags("Scoring").WithSummary("Fit of facts as they are written, and the fact to ask next; nothing is kept");

    private static async Task<Ok<FitSoFar>> Ask(FitOrder body, LanternDb db, Workspace workspace, TimeProvider clock)
    {
        var live = await workspace.Model(db);
        var facts = new RecordValues(workspace.Catalogue);
        var country = body.Facts.GetValueOrDefault("country");
        // What cannot be read yet, since it is half written, is not known yet.
        foreach (var (key, text) in body.Facts.Where(f => f.Value.Length <= 500))
            if (workspace.Catalogue.Find(key) is { Origin: FieldOrigin.Fact or FieldOrigin.Custom } field)
                facts[field.Ordinal] = FieldReader.Read(field, text, country).Value;
        var fit = live.Fit.Explain(facts, clock.UtcNow().ToInstant());
        return TypedResults.Ok(new FitSoFar(fit.Score, fit.Low, fit.High, live.Model.Bars.Fit, fit.Unknown.FirstOrDefault()));
    }
}
