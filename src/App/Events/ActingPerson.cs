using DapperLantern.App.Data;
using DapperLantern.App.Intake.Http;

namespace DapperLantern.App.Events;

/// <summary>Says who acts in a request: the person signed in, the program whose token it is, or a visitor.</summary>
internal static class ActingPerson
{
    public static void UseActing(this IApplicationBuilder app) =>
        app.Use(
            async (http, next) =>
            {
                using var acting = Acting.As(Of(http));
                await next(http);
            }
        );

    private static Acting Of(HttpContext http) =>
        http.User.Identity?.IsAuthenticated != true ? new Acting(null, Acting.Visitor)
        : http.User.Identity.AuthenticationType == TokenSignIn.SchemeName ? new Acting(null, Acting.Token, http.User.Id())
        : new Acting(http.User.Id(), Acting.Person);
}
