using DapperLantern.App.Data;

namespace DapperLantern.App.Demo;

/// <summary>The made-up company that the product is shown with. Nothing else knows it.</summary>
internal sealed class DemoCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder) => builder.Services.AddScoped<DemoLoader>();
}
