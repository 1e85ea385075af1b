using DapperLantern.App.Data;

namespace DapperLantern.App.Qualifying;

/// <summary>What is found out, and when it is enough.</summary>
internal sealed class QualifyingCapability : ICapability
{
    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapQualifying();
    }
}
