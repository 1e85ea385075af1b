using System.Security.Claims;
using DapperLantern.App.Setup;

namespace DapperLantern.App.Rights;

/// <summary>The person whose request a service scope belongs to; null for work that no request begins.</summary>
public sealed class Viewer
{
    public ClaimsPrincipal? User { get; set; }
}

/// <summary>Tells the services of a request whose it is.</summary>
internal static class Viewers
{
    /// <summary>What the person sees whose request it is; everything for work that no request begins.</summary>
    public static RecordScope ScopeOf(IServiceProvider services) =>
        services.GetRequiredService<Viewer>().User is { } user
            ? services.GetRequiredService<RecordScopes>().Of(user, services.GetRequiredService<Workspace>())
            : RecordScope.Everything;

    public static void UseViewer(this IApplicationBuilder app) =>
        app.Use(
            (http, next) =>
            {
                http.RequestServices.GetRequiredService<Viewer>().User = http.User;
                return next(http);
            }
        );
}
