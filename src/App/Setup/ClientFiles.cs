using Microsoft.Extensions.FileProviders;

namespace DapperLantern.App.Setup;

/// <summary>Serves the built client: hashed files for a year, the page itself never from a cache; and the headers that keep it in its place.</summary>
public static class ClientFiles
{
    private const string Policy =
        "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; font-src 'self'; img-src 'self' data:; connect-src 'self'; form-action 'none'; base-uri 'none'; frame-ancestors 'none'";

    // Answered by the server itself.
    private static readonly string[] OwnPages = ["/api", "/health", "/f", "/consent"];

    public static void UseSecurityHeaders(this WebApplication app) =>
        app.Use(
            (http, next) =>
            {
                var headers = http.Response.Headers;
                headers.ContentSecurityPolicy = Policy;
                headers.XContentTypeOptions = "nosniff";
                headers["Referrer-Policy"] = "no-referrer";
                return next();
            }
        );

    /// <summary>Any path that is neither the API nor a file is a page of the client.</summary>
    public static void UseClient(this WebApplication app)
    {
        var folder = Path.GetFullPath(app.Configuration["Client:Folder"] ?? "src/client/dist");
        if (!Directory.Exists(folder))
            return;
        app.Use(
            (http, next) =>
            {
                var path = http.Request.Path;
                if (HttpMethods.IsGet(http.Request.Method) && !OwnPages.Any(p => path.StartsWithSegments(p)) && !Path.HasExtension(path))
                    http.Request.Path = "/index.html";
                return next();
            }
        );
        app.UseStaticFiles(
            new StaticFileOptions
            {
                FileProvider = new PhysicalFileProvider(folder),
                OnPrepareResponse = file =>
                    file.Context.Response.Headers.CacheControl = file.Context.Request.Path.StartsWithSegments("/assets") ? "public, max-age=31536000, immutable" : "no-cache",
            }
        );
    }
}
