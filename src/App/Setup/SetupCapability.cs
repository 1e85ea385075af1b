using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Setup.SignIn;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup;

/// <summary>The set-up, people and their sessions, messages, the health of the program.</summary>
internal sealed class SetupCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        // Every request asks whose it is, by one statement.
        builder.Services.AddPlanned(Sessions.Source, onePlan: true, most: 8);
        builder.Services.AddSingleton<WorkspaceConfiguration>();
        builder.Services.AddScoped(WorkspaceConfiguration.Snapshot);
        builder.Services.AddScoped<PickListDesk>().AddScoped<ValueMerger>().AddScoped<ValueMoves>();
        builder.Services.AddHostedService<OutboxSender>();
        builder.Services.AddHostedService<ConfigurationWatcher>();
        builder.Services.AddWorker<DatabasePulse>();
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapSession();
        api.MapSecondSteps();
        api.MapKeptLists();
        api.MapCustomFields();
        app.MapHealth();
    }

    public void MapEntities(ModelBuilder model)
    {
        model.MapSetupEntities();
        model.MapSecondStepRows();
        ProviderRow.Map(model);
        ValueMergeRow.Map(model);
    }

    public IReadOnlyList<RecordTable> Tables { get; } = [.. SetupTables.All, .. SecondStepMapping.Tables];
}
