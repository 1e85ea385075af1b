using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Due;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Events;

/// <summary>The log, and the stories told from it.</summary>
internal sealed class EventsCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        builder.Services.AddScoped<Stories>();
        builder.Services.AddHostedService<EventListenerWorker>();
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapLog();
    }

    public void MapEntities(ModelBuilder model) => model.MapEventRows();

    public IReadOnlyList<RecordTable> Tables => EventTables.All;

    public async Task BringUp(LanternDb db, IServiceProvider services)
    {
        await EventMonths.Make(db, services.GetRequiredService<TimeProvider>().UtcNow());
        await EventListenerWorker.Register(db, services.GetServices<IDueWork>().OfType<EventListener>());
    }

    public Task Protect(LanternDb db, string role) => EventMonths.Protect(db, role);
}
