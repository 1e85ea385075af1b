using Microsoft.AspNetCore.StaticFiles;
using Microsoft.Extensions.FileProviders;

namespace DapperLantern.App.Setup;

/// <summary>Serves the built client: hashed files for a year, the page itself never from a cache; and the headers that keep it in its place.</summary>
public static class ClientFiles
{
    private const string Policy =
        "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; font-src 'self'; img-src 'self' data:; connect-src 'self'; form-action 'none'; base-uri 'none'; frame-ancestors 'none'";

    // First parts of the paths in the client's routes (src/client/frame/routes.tsx); a test holds the two together.
    internal static readonly string[] Pages = ["desk", "intake", "leads", "scoring", "routing", "handover", "deals", "reports", "setup", "way-in"];

    public static void UseSecurityHeaders(this WebApplication app) =>
        app.Use(
            (http, next) =>
            {
                var headers = http.Response.Headers;
                headers.ContentSecurityPolicy = Policy;
                headers.XContentTypeOptions = "nosniff";
                headers["Referrer-Policy"] = "no-referrer";
                headers["Permissions-Policy"] = "camera=(), microphone=(), geolocation=(), payment=(), usb=(), interest-cohort=()";
                headers["Cross-Origin-Opener-Policy"] = "same-origin";
                headers["Cross-Origin-Resource-Policy"] = "same-origin";
                // Data is of this moment and of this person; no cache keeps it. Files of the client say their own.
                http.Response.OnStarting(() =>
                {
                    if (headers.CacheControl.Count == 0)
                        headers.CacheControl = "no-store";
                    return Task.CompletedTask;
                });
                return next();
            }
        );

    /// <summary>The paths of the client's pages lead to its one page; any other that is no file is 404.</summary>
    public static void UseClient(this WebApplication app)
    {
        var folder = Path.GetFullPath(app.Services.GetRequiredService<ClientSettings>().Folder);
        if (!Directory.Exists(folder))
            return;
        app.Use(
            (http, next) =>
            {
                var path = http.Request.Path;
                if (HttpMethods.IsGet(http.Request.Method) && (path == "/" || Pages.Any(p => path.StartsWithSegments("/" + p))))
                    http.Request.Path = "/index.html";
                return next();
            }
        );
        var files = new PhysicalFileProvider(folder);
        app.Use(
            (http, next) =>
            {
                // What is sent packed is packed once, at build; the packer of answers leaves it as it is.
                if (Packed(http.Request, files) is { } packed)
                {
                    http.Request.Path += packed.Ending;
                    http.Response.Headers.ContentEncoding = packed.Encoding;
                    http.Response.Headers.Vary = "Accept-Encoding";
                }
                return next();
            }
        );
        app.UseStaticFiles(
            new StaticFileOptions
            {
                FileProvider = files,
                ContentTypeProvider = new TypeOfPacked(),
                OnPrepareResponse = file =>
                    file.Context.Response.Headers.CacheControl = file.Context.Request.Path.StartsWithSegments("/assets") ? "public, max-age=31536000, immutable" : "no-cache",
            }
        );
    }

    // Best first. The client's build puts a file with this ending beside each of its text files.
    private static readonly (string Encoding, string Ending)[] Packings = [("br", ".br"), ("gzip", ".gz")];

    private static (string Encoding, string Ending)? Packed(HttpRequest request, PhysicalFileProvider files)
    {
        // A file has an ending; most of what is asked of the API has none, and is not looked for on the disk.
        if (!HttpMethods.IsGet(request.Method) || request.Headers.Range.Count > 0 || request.Path.Value is not { } path || !Path.HasExtension(path))
            return null;
        var accepted = request.GetTypedHeaders().AcceptEncoding.Where(e => e.Quality is not 0).Select(e => e.Value.ToString()).ToHashSet(StringComparer.OrdinalIgnoreCase);
        foreach (var packing in Packings)
            if (accepted.Contains(packing.Encoding) && files.GetFileInfo(path + packing.Ending).Exists)
                return packing;
        return null;
    }

    // The type of a packed file is that of the file it was packed from.
    private sealed class TypeOfPacked : IContentTypeProvider
    {
        private readonly FileExtensionContentTypeProvider _types = new();

        public bool TryGetContentType(string subpath, [System.Diagnostics.CodeAnalysis.MaybeNullWhen(false)] out string contentType)
        {
            var ending = Packings.FirstOrDefault(p => subpath.EndsWith(p.Ending, StringComparison.Ordinal)).Ending ?? "";
            return _types.TryGetContentType(subpath[..^ending.Length], out contentType);
        }
    }
}
