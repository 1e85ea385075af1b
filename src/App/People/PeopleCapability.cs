using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Due;
using DapperLantern.App.People.Provider;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.People;

/// <summary>The people who work here: how they come, what they may, how they go.</summary>
internal sealed class PeopleCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<OneTimeLinks>();
        builder.Services.AddProvider();
        builder.Services.AddScoped<PeopleDesk>().AddScoped<RolesDesk>().AddScoped<RightsQueries>();
        builder.Services.AddSingleton<IDueWork, ForgottenPasswords>();
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapPeople();
        api.MapRoles();
        api.MapWayIn();
        api.MapProvider();
    }

    public void MapEntities(ModelBuilder model) => OneTimeLinkRow.Map(model);

    public IReadOnlyList<RecordTable> Tables { get; } = [new RecordTable("one_time_link").Tie("person", "person_id").Tie("person", "made_by")];
}
