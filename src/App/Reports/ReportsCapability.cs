using DapperLantern.App.Data;

namespace DapperLantern.App.Reports;

/// <summary>What came of what.</summary>
internal sealed class ReportsCapability : ICapability
{
    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapReports();
    }
}
