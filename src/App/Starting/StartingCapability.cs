using DapperLantern.App.Data;

namespace DapperLantern.App.Starting;

/// <summary>The first hour of a company: a step at a time, and the starting sets.</summary>
internal sealed class StartingCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder) => builder.Services.AddScoped<StartingDesk>();

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api) => api.MapStart();
}
