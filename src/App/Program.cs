using System.IO.Compression;
using System.Threading.RateLimiting;
using DapperLantern.App.Backups;
using DapperLantern.App.Data;
using DapperLantern.App.Demo;
using DapperLantern.App.Desk;
using DapperLantern.App.Due;
using DapperLantern.App.Events;
using DapperLantern.App.Handover;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Intake.Http;
using DapperLantern.App.Leads;
using DapperLantern.App.Matching;
using DapperLantern.App.People;
using DapperLantern.App.Rights;
using DapperLantern.App.Scoring;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.App.Upkeep;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.RateLimiting;
using Microsoft.AspNetCore.ResponseCompression;
using Serilog;

namespace DapperLantern.App;

/// <summary>
/// The server. Configuration: see <c>docs/configuration.md</c>. Migrations are applied at start.
/// </summary>
public static class Program
{
    public static async Task Main(string[] args)
    {
        Intake.Lists.TextEncoding.Register();
        if (args is ["match", .. var rest])
        {
            Environment.ExitCode = await MatchFile.Run(rest, Console.Out, Console.Error);
            return;
        }
        if (args is ["score", .. var asked])
        {
            Environment.ExitCode = await ScoreFile.Run(asked, Console.Out, Console.Error);
            return;
        }
        try
        {
            if (args is ["way-in", .. var whose])
            {
                await using var idle = Build([]);
                Environment.ExitCode = await WayInCommand.Run(idle.Services, whose, Console.Out, Console.Error);
                return;
            }
            if (args is ["backup" or "restore", ..])
            {
                await using var idle = Build([]);
                Environment.ExitCode = await BackupCommand.Run(idle.Services, args, Console.Out, Console.Error);
                return;
            }
            await using var app = Build(args);
            await Prepare(app);
            await app.RunAsync();
        }
        catch (SettingsException e)
        {
            await Console.Error.WriteLineAsync(e.Message);
            Environment.ExitCode = 2;
        }
    }

    /// <summary>Wires the application without starting it.</summary>
    public static WebApplication Build(string[] args)
    {
        Intake.Lists.TextEncoding.Register();
        var builder = WebApplication.CreateBuilder(new WebApplicationOptions { Args = args, ContentRootPath = AppContext.BaseDirectory });
        Secrets.AddFile(builder.Configuration);
        builder.AddSettings();
        builder.Host.UseSerilog((context, log) => log.ReadFrom.Configuration(context.Configuration).WriteTo.Console());
        builder.WebHost.ConfigureKestrel(o =>
        {
            o.AddServerHeader = false;
            o.Limits.MaxRequestBodySize = 8 * 1024 * 1024;
        });
        builder.Services.Configure<FormOptions>(o => o.MultipartBodyLengthLimit = 8 * 1024 * 1024);
        builder.Services.AddData();
        builder.AddSignIn();
        foreach (var capability in Capabilities.All)
            capability.AddServices(builder);
        AddHttp(builder);
        var app = builder.Build();
        Use(app);
        return app;
    }

    /// <summary>Brings the database up to date, loads the demo where asked, and reads the workspace.</summary>
    public static async Task Prepare(WebApplication app)
    {
        await DatabaseStart.Wait(app.Services.GetRequiredService<Npgsql.NpgsqlDataSource>(), app.Logger);
        await using var scope = app.Services.CreateAsyncScope();
        await DatabaseStart.Migrate(app.Services);
        if (app.Services.GetRequiredService<DemoSettings>() is { Enabled: true } demo)
            await scope.ServiceProvider.GetRequiredService<DemoLoader>().LoadIfEmpty(demo.Folder);
        var configuration = app.Services.GetRequiredService<WorkspaceConfiguration>();
        var workspace = await configuration.Load();
        await using var db = await scope.ServiceProvider.GetRequiredService<LanternDbFactory>().Open();
        await MatchKeys.Ensure(db, workspace.Catalogue);
        if (await ValueCounts.Load(db) is not null)
            return;
        await ValueCounts.Refresh(db, TimeProvider.System.UtcNow());
        await configuration.Load();
    }

    private static void AddHttp(WebApplicationBuilder builder)
    {
        builder.Services.ConfigureHttpJsonOptions(o =>
        {
            Json.Make(o.SerializerOptions);
            // What is missing or null in a body that must have it is a bad request, not a surprise further in.
            o.SerializerOptions.RespectRequiredConstructorParameters = true;
            o.SerializerOptions.RespectNullableAnnotations = true;
        });
        // The refusals of the framework say something, too.
        builder.Services.AddValidation();
        builder.Services.AddSingleton<IProblemDetailsWriter, ShapeProblemWriter>();
        builder.Services.AddProblemDetails(o => o.CustomizeProblemDetails = ApiProblems.Explain);
        builder.Services.AddRazorComponents();
        builder.AddApiDescription();
        // A body that does not bind is told with its place, see Boundary.
        builder.Services.Configure<RouteHandlerOptions>(o => o.ThrowOnBadRequest = true);
        // Work that breaks is begun again by its base; nothing of it ends the host.
        builder.Services.Configure<HostOptions>(o => o.BackgroundServiceExceptionBehavior = BackgroundServiceExceptionBehavior.Ignore);
        builder.AddProxy();
        builder.Services.AddResponseCompression(o =>
        {
            o.EnableForHttps = true;
            o.Providers.Add<BrotliCompressionProvider>();
            o.Providers.Add<GzipCompressionProvider>();
        });
        builder.Services.Configure<BrotliCompressionProviderOptions>(o => o.Level = CompressionLevel.Fastest);
        builder.Services.AddRateLimiter(o =>
        {
            var signIns = Settings.Read<SignInSettings>(builder.Configuration).PerMinute;
            o.RejectionStatusCode = 429;
            o.AddPolicy(
                "sign-in",
                http =>
                    RateLimitPartition.GetFixedWindowLimiter(
                        http.Connection.RemoteIpAddress?.ToString() ?? "",
                        _ => new FixedWindowRateLimiterOptions { PermitLimit = signIns, Window = TimeSpan.FromMinutes(1) }
                    )
            );
            // An office sends from one address; a machine is slowed down.
            var posts = Settings.Read<PublicFormSettings>(builder.Configuration).PostsPerMinute;
            o.AddPolicy(
                PublicForms.RateLimit,
                http =>
                    RateLimitPartition.GetSlidingWindowLimiter(
                        http.Connection.RemoteIpAddress?.ToString() ?? "",
                        _ => new SlidingWindowRateLimiterOptions
                        {
                            PermitLimit = posts,
                            Window = TimeSpan.FromMinutes(1),
                            SegmentsPerWindow = 6,
                        }
                    )
            );
            var calls = Settings.Read<HttpSettings>(builder.Configuration).CallsPerMinute;
            o.AddPolicy(
                MachineEndpoints.RateLimit,
                http =>
                    RateLimitPartition.GetSlidingWindowLimiter(
                        http.User.FindFirst(System.Security.Claims.ClaimTypes.NameIdentifier)?.Value ?? "",
                        _ => new SlidingWindowRateLimiterOptions
                        {
                            PermitLimit = calls,
                            Window = TimeSpan.FromMinutes(1),
                            SegmentsPerWindow = 6,
                        }
                    )
            );
            o.OnRejected = (context, _) => PublicForms.TooMany(context.HttpContext);
        });
    }

    private static void Use(WebApplication app)
    {
        app.UseForwardedHeaders();
        app.UseExceptionHandler(
            new ExceptionHandlerOptions
            {
                ExceptionHandler = http =>
                    http.Features.Get<IExceptionHandlerFeature>()?.Error is { } error && Boundary.Fault(error) is { } fault ? fault.ExecuteAsync(http) : Outage.Handle(http),
                // A request that is at fault is no error of the server's to be looked into; two acts that wait for each other are.
                SuppressDiagnosticsCallback = context => context.Exception is NotSetUpException || Boundary.Fault(context.Exception) is { StatusCode: not 409 },
            }
        );
        app.UseStatusCodePages();
        if (app.Services.GetRequiredService<PublicSettings>().IsBehindTls)
            app.UseHsts();
        app.UseResponseCompression();
        app.UseSecurityHeaders();
        app.UseClient();
        // What nothing answers is not found, signed in or not.
        app.Use((http, next) => http.GetEndpoint() is null && !http.Request.Path.StartsWithSegments("/api") ? http.Answer(404) : next(http));
        app.UseOutage();
        app.UseBoundary();
        app.UseAuthentication();
        app.UseAuthorization();
        // Other programs are signed in by what they may do.
        app.UseActing();
        app.UseViewer();
        app.UseDeskFreshness();
        app.UseReadBound();
        app.UseRateLimiter();
        app.UseRepeatedRequests();
        var api = app.MapGroup("/api").AddEndpointFilter(RequireToken).KeepsUnseen();
        foreach (var capability in Capabilities.All)
            capability.MapEndpoints(app, api);
        app.MapApiPage();
    }

    // What signs somebody in or out needs no token: whoever comes in has none yet.
    private static bool ByAWayIn(PathString path) =>
        path.StartsWithSegments("/api/way-in", StringComparison.Ordinal)
        || path.Equals("/api/session", StringComparison.Ordinal)
        || path.Equals("/api/session/code", StringComparison.Ordinal)
        || path.StartsWithSegments("/api/session/passkey", StringComparison.Ordinal);

    // Every write of a signed-in person carries the token that only our own page can read.
    private static async ValueTask<object?> RequireToken(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        var http = context.HttpContext;
        var writes = !HttpMethods.IsGet(http.Request.Method) && !HttpMethods.IsHead(http.Request.Method);
        if (writes && http.User.Identity?.IsAuthenticated == true && !ByAWayIn(http.Request.Path))
            if (!await http.RequestServices.GetRequiredService<IAntiforgery>().IsRequestValidAsync(http))
                return ApiProblems.Of("token-missing");
        return await next(context);
    }
}
