using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handover;

/// <summary>From leads to accounts, contacts and deals.</summary>
internal sealed class HandoverCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        builder.Services.AddScoped<HandoverLookup>();
        builder.Services.AddScoped<HandoverExecutor>();
        builder.Services.AddScoped<HandoverUndo>();
        builder.Services.AddScoped<AccountQueries>();
        builder.Services.AddScoped<ContactQueries>();
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapHandover();
        api.MapAccounts();
        api.MapContacts();
        api.MapRecordFacts();
    }

    public void MapEntities(ModelBuilder model) => model.MapHandoverRows();

    public IReadOnlyList<RecordTable> Tables => HandoverTables.All;
}
