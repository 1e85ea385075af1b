using DapperLantern.App.Data;

namespace DapperLantern.App.Fields;

/// <summary>What a written value can mean.</summary>
internal sealed class FieldsCapability : ICapability
{
    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api)
    {
        api.MapNumbers();
    }
}
