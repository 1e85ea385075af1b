using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Due;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Leads.Bulk;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads;

/// <summary>Leads, and what is done with them.</summary>
internal sealed class LeadsCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        // What is done to many is a few statements for each of thousands.
        builder.Services.AddPlanned(BulkRunner.Source, onePlan: false);
        builder.Services.AddScoped<Admission>();
        builder.Services.AddSingleton<AdmissionGate>();
        builder.Services.AddSingleton<CompanyDirectory>();
        builder.Services.AddScoped<LeadRescore>();
        builder.Services.AddScoped<ArrivalMerger>();
        builder.Services.AddScoped<LeadEditor>();
        builder.Services.AddScoped<LeadQueries>();
        builder.Services.AddWorker<LeadLive>();
        builder.Services.AddScoped<Worklist>();
        builder.Services.AddScoped<LeadGroups>();
        builder.Services.AddScoped<LeadExport>();
        builder.Services.AddScoped<BulkBatch>();
        builder.Services.AddScoped<LeadRemoval>();
        builder.Services.AddScoped<BulkExecutor>();
        builder.Services.AddScoped<BulkUndo>();
        builder.Services.AddScoped<BulkOrders>();
        builder.Services.AddScoped<BulkEdits>();
        builder.Services.AddWorker<BulkRunner>();
        builder.Services.AddSingleton<IDueWork, LeadWaker>();
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapLeads();
        api.MapWorklist();
        api.MapViews();
        api.MapBulk();
        api.MapTasks();
        api.MapNotes();
        api.MapFiles();
        api.MapMeetings();
        api.MapMessages();
        api.MapFollowUps();
        api.MapCalendar();
        app.MapCalendarFeed();
    }

    public void MapEntities(ModelBuilder model) => model.MapLeadEntities();

    public IReadOnlyList<RecordTable> Tables => LeadTables.All;
}
