using DapperLantern.App.Data;
using DapperLantern.App.Due;

namespace DapperLantern.App.Notices;

/// <summary>What we are told while at work.</summary>
internal sealed class NoticesCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        builder.Services.AddWorker<Notices>();
        builder.Services.AddSingleton<IDueWork, NoticeListener>();
    }

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api) => api.MapNotices();
}
