using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Campaigns;

/// <summary>Campaigns, tags, consents, do not contact.</summary>
internal sealed class CampaignsCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        builder.Services.AddSingleton<PublicLinks>();
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapTags();
        api.MapCampaigns();
        api.MapConsents();
        app.MapConsentPages();
    }

    public void MapEntities(ModelBuilder model) => model.MapCampaignEntities();

    public IReadOnlyList<RecordTable> Tables => CampaignTables.All;
}
