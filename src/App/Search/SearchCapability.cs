using DapperLantern.App.Data;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Search;

/// <summary>One box that finds everything.</summary>
internal sealed class SearchCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<SearchQueries>();
        builder.Services.AddHostedService<SearchWords>();
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapSearch();
    }

    public void MapEntities(ModelBuilder model) => model.MapSearchEntities();
}
