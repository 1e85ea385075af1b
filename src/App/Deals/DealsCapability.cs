using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Deals;

/// <summary>Deals and their pipelines.</summary>
internal sealed class DealsCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        builder.Services.AddScoped<DealQueries>();
        builder.Services.AddScoped<PipelineQueries>();
        builder.Services.AddScoped<DealEditor>();
        builder.Services.AddScoped<DealWork>();
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapPipelineSetup();
        api.MapDeals();
    }

    public void MapEntities(ModelBuilder model) => model.MapDealRows();

    public IReadOnlyList<RecordTable> Tables => DealTables.All;
}
