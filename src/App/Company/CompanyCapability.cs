using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Company;

/// <summary>The company that works here: what stands on its letters and public pages, what it takes for granted, by which server its letters leave.</summary>
internal sealed class CompanyCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder) => builder.Services.AddSingleton<MailDoors>();

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapCompany();
        api.MapMail();
        app.MapLogo();
    }

    public void MapEntities(ModelBuilder model) => CompanyRow.Map(model);

    public IReadOnlyList<RecordTable> Tables { get; } = [new RecordTable("company")];
}
