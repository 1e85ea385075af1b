using DapperLantern.App.Data;

namespace DapperLantern.App.Desk;

/// <summary>What waits for a decision.</summary>
internal sealed class DeskCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<DeskCounts>();
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapDesk();
    }
}
