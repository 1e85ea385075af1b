using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Rights;

/// <summary>What a person may see, and the rights of those we have something about.</summary>
internal sealed class RightsCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        builder.Services.AddScoped<Erasure>();
        builder.Services.AddSingleton<ContactReadLimit>();
        builder.Services.AddSingleton<RecordScopes>();
        builder.Services.AddSingleton<KnownAnswers>();
        builder.Services.AddScoped<KnownDesk>();
        builder.Services.AddScoped<Viewer>();
        builder.Services.AddScoped(Viewers.ScopeOf);
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapRights();
        api.MapKnown();
    }

    public void MapEntities(ModelBuilder model) => model.MapRightsEntities();

    public IReadOnlyList<RecordTable> Tables => RightsTables.All;
}
