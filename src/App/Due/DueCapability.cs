using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Due;

/// <summary>What is to happen at a time.</summary>
internal sealed class DueCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        builder.Services.AddHostedService<DueWorker>();
        builder.Services.AddSingleton<DueWorks>();
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapDue();
    }

    public void MapEntities(ModelBuilder model) => model.MapDueRows();

    public IReadOnlyList<RecordTable> Tables => DueTables.All;
}
