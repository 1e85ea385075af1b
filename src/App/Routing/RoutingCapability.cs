using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Due;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Routing;

/// <summary>Rules, teams, turns and clocks.</summary>
internal sealed class RoutingCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        builder.Services.AddScoped<RoutingTrials>();
        builder.Services.AddScoped<Rerouter>();
        builder.Services.AddWorker<ResponseDeadlineWorker>();
        builder.Services.AddSingleton<IDueWork, ClockRunOut>();
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapRouting();
        api.MapSheets();
        api.MapTries();
        api.MapStaff();
        api.MapHands();
        api.MapAnswers();
    }

    public void MapEntities(ModelBuilder model) => model.MapRoutingRows();

    public IReadOnlyList<RecordTable> Tables => RoutingTables.All;
}
