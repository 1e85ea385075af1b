using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Scoring;

/// <summary>Models, scores, and what they are held against.</summary>
internal sealed class ScoringCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        builder.Services.AddWorker<EngagementDecayWorker>();
        builder.Services.AddScoped<BatchRescorer>();
        builder.Services.AddSingleton<IScoresAnew, ScoresAnew>();
        builder.Services.AddSingleton<ModelTrials>();
        builder.Services.AddSingleton<ScoreMaps>();
        builder.Services.AddScoped<OutcomeReader>();
        builder.Services.AddSingleton<OutcomeReports>();
        builder.Services.AddWorker<RescoreRunner>();
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapScoring();
        api.MapEditions();
        api.MapTrials();
        api.MapOutcomes();
        api.MapFitAsk();
    }

    public void MapEntities(ModelBuilder model) => model.MapScoringEntities();

    public IReadOnlyList<(string Name, string Sql)> Objects => [("Scoring/engagement_at.sql", EngagementDecaySql.Functions())];
}
