using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Matching;

/// <summary>Possible duplicates, and records that are merged.</summary>
internal sealed class MatchingCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        builder.Services.AddScoped<RecordMerger>();
        builder.Services.AddWorker<DuplicateDetectionWorker>();
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapDuplicates();
        api.MapOdds();
        MergeRules.Map(api);
    }

    public void MapEntities(ModelBuilder model) => model.MapMatchingEntities();

    public IReadOnlyList<RecordTable> Tables => MatchingTables.All;
}
