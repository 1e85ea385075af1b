namespace DapperLantern.App.Rights;

/// <summary>Tells the services of a request whose it is.</summary>
public static class Viewers
{
    public static void UseViewer(this IApplicationBuilder app) =>
        app.Use(
            (http, next) =>
            {
                http.RequestServices.GetRequiredService<Viewer>().User = http.User;
                return next(http);
            }
        );
}
