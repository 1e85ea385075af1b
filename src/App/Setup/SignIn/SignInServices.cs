using DapperLantern.App.Data;
using DapperLantern.App.Intake.Http;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;

namespace DapperLantern.App.Setup.SignIn;

internal static class SignInServices
{
    /// <summary>People, their sessions and cookies, the rights they are asked for, and the token that guards writes.</summary>
    public static void AddSignIn(this WebApplicationBuilder builder)
    {
        builder
            .Services.AddIdentityCore<Person>(o =>
            {
                // Rules of our own stand in PasswordRule.
                (o.Password.RequiredLength, o.Password.RequiredUniqueChars) = (Passwords.Shortest, 1);
                (o.Password.RequireDigit, o.Password.RequireLowercase, o.Password.RequireUppercase, o.Password.RequireNonAlphanumeric) = (false, false, false, false);
            })
            .AddPasswordValidator<PasswordRule>()
            .AddEntityFrameworkStores<LanternDb>();
        builder.Services.AddSingleton<Sessions>();
        builder.Services.AddSingleton<SessionWatcher>();
        builder.Services.AddHostedService(s => s.GetRequiredService<SessionWatcher>());
        builder.Services.AddSingleton<IPasswordHasher<Person>, PasswordHasher<Person>>();
        builder.Services.AddSingleton<SignInGuard>();
        builder.Services.AddScoped<SecondSteps>().AddScoped<SecondStepDesk>().AddScoped<Passkeys>().AddScoped<IPasskeyHandler<Person>, PasskeyHandler<Person>>();
        builder.Services.Configure<IdentityPasskeyOptions>(o =>
        {
            // The device asks for finger, face or number each time, and keeps who it is of, so that no name is typed.
            (o.UserVerificationRequirement, o.ResidentKeyRequirement) = ("required", "required");
            o.ServerDomain = new Uri(Settings.Read<PublicSettings>(builder.Configuration).Address).Host;
        });
        // Behind TLS the names are bound to the host; a demo on loopback has no TLS, and no browser keeps such cookies without.
        var secure = Settings.Read<PublicSettings>(builder.Configuration).IsBehindTls;
        var prefix = secure ? "__Host-" : "";
        var policy = secure ? CookieSecurePolicy.Always : CookieSecurePolicy.SameAsRequest;
        var authentication = builder.Services.AddAuthentication(IdentityConstants.ApplicationScheme);
        authentication.AddCookie(
            IdentityConstants.ApplicationScheme,
            o =>
            {
                o.Cookie.Name = prefix + "lantern";
                (o.Cookie.Path, o.Cookie.HttpOnly, o.Cookie.SameSite, o.Cookie.SecurePolicy) = ("/", true, SameSiteMode.Strict, policy);
                // How long it holds is decided by the session in the database, not by the cookie.
                (o.ExpireTimeSpan, o.SlidingExpiration) = (TimeSpan.FromDays(400), false);
                o.Events.OnValidatePrincipal = Sessions.Validate;
                o.Events.OnRedirectToLogin = c => c.HttpContext.Answer(StatusCodes.Status401Unauthorized);
                o.Events.OnRedirectToAccessDenied = c =>
                    c.HttpContext.User.FindFirst(Requests.WeakClaim) is null
                        ? c.HttpContext.Answer(StatusCodes.Status403Forbidden)
                        : ApiProblems.Of("second-step-missing").ExecuteAsync(c.HttpContext);
            }
        );
        authentication.AddScheme<AuthenticationSchemeOptions, TokenSignIn>(TokenSignIn.SchemeName, null);
        var authorization = builder.Services.AddAuthorizationBuilder();
        authorization.SetFallbackPolicy(new AuthorizationPolicyBuilder().RequireAuthenticatedUser().Build());
        foreach (var act in Enum.GetValues<Act>())
            authorization.AddPolicy(act.ToString(), p => p.RequireAuthenticatedUser().RequireAssertion(c => c.User.May(act)));
        foreach (var scope in TokenScopes.All)
            authorization.AddPolicy(scope, p => p.AddAuthenticationSchemes(TokenSignIn.SchemeName).RequireAuthenticatedUser().RequireClaim("scope", scope));
        builder.Services.AddAntiforgery(o =>
        {
            o.HeaderName = "X-Lantern-Token";
            o.Cookie.Name = prefix + "lantern-guard";
            (o.Cookie.Path, o.Cookie.SameSite, o.Cookie.SecurePolicy) = ("/", SameSiteMode.Strict, policy);
        });
    }
}
