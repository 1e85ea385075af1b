using DapperLantern.App.Intake.Http;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Scalar.AspNetCore;

namespace DapperLantern.App.Setup;

/// <summary>The page on which the API description is read and tried, by the parts of Scalar that ship with its package. Nothing of it is asked of another server.</summary>
internal static class ApiPage
{
    private const string Address = "/api/reference";
    private const string Files = Address + "/files";

    // The package's own page starts itself by a script within it, which the policy of all our pages forbids.
    private const string Page = $$"""
        <!doctype html>
        <html lang="en">
        <head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>Dapper Lantern: the API</title></head>
        <body><div id="app"></div><script src="{{Files}}/scalar.js"></script><script src="{{Address}}/start.js"></script></body>
        </html>
        """;

    private const string Start = """
        Scalar.createApiReference("#app", {
          url: "/api/lantern.json",
          withDefaultFonts: false,
          telemetry: false,
          hideClientButton: true,
          showDeveloperTools: "never",
          agent: { disabled: true },
          mcp: { disabled: true },
          documentDownloadType: "json",
          persistAuth: false
        });
        """;

    public static void MapApiPage(this WebApplication app)
    {
        app.MapScalarApiReference(Files).RequireAuthorization(Readers);
        app.MapGet(Address, () => Results.Content(Page, "text/html; charset=utf-8")).RequireAuthorization(Readers).ExcludeFromDescription();
        app.MapGet(Address + "/start.js", () => Results.Content(Start, "text/javascript; charset=utf-8")).RequireAuthorization(Readers).ExcludeFromDescription();
        // Read by people who are signed in, and by other systems with their token.
        app.MapOpenApi("/api/{documentName}.json").RequireAuthorization(Readers);
    }

    private static void Readers(AuthorizationPolicyBuilder policy) =>
        policy.AddAuthenticationSchemes(IdentityConstants.ApplicationScheme, TokenSignIn.SchemeName).RequireAuthenticatedUser();
}
