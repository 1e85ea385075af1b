using System.Collections.Immutable;
using System.Net;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Intake.Forms;
using DapperLantern.Core.Scoring;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Intake.Forms;

/// <summary>The receipt of a post; says nothing of what we know.</summary>
public sealed record PostReceipt(Guid Id);

/// <summary>An answer that must be put right, by field.</summary>
public sealed record PostProblem(string Field, string Code, string Sentence);

/// <summary>
/// The pages visitors see, without sign-in and without script: a form, its thanks; and the same form as a JSON endpoint. A post is answered
/// only when it is committed. What looks like spam is thanked for like the rest, and waits.
/// </summary>
public static class PublicForms
{
    public const string RateLimit = "public-form";

    public static void MapPublicForms(this WebApplication app)
    {
        var forms = app.MapGroup("/f").AllowAnonymous().ExcludeFromDescription();
        forms.MapGet("/style.css", Style);
        forms.MapGet("/{key}", Show);
        forms.MapGet("/{key}/thanks", Thanks);
        forms.MapPost("/{key}", Post).RequireRateLimiting(RateLimit).DisableAntiforgery();
        forms.MapMethods("/{key}", ["OPTIONS"], Allow);
    }

    private static async Task<IResult> Show(string key, string? lang, HttpContext http, LanternDbFactory databases, Workspace workspace, PageTokens tokens)
    {
        await using var db = await databases.Open();
        if (await LiveForm.Find(db, key) is not { } form)
            return Sentence(404, "en", FormWords.Say("en", "link-dead"));
        var language = FormWords.Choose(form.Sheet, lang, http.Request.Headers.AcceptLanguage);
        if (form.Paused)
            return Sentence(200, language, form.Sheet.In(language).Title, FormWords.Say(language, "paused"));
        Guard(http, form.Sheet);
        var labels = http.Request.Query.Where(q => Label(form.Sheet, q.Key)).ToDictionary(q => q.Key, q => q.Value.ToString());
        if (http.Request.Headers.Referer.ToString() is { Length: > 0 } referrer)
            labels.TryAdd("referrer", referrer);
        var (opened, token) = tokens.Make();
        return Page(200, new ShownForm(form.Sheet, workspace.Catalogue, language, $"/f/{key}", opened, form.Sheet.AsksSum ? token.Sum : null, false, Empty, labels, []));
    }

    private static async Task<IResult> Thanks(string key, string? lang, HttpContext http, LanternDbFactory databases)
    {
        await using var db = await databases.Open();
        if (await LiveForm.Find(db, key) is not { } form)
            return Sentence(404, "en", FormWords.Say("en", "link-dead"));
        Guard(http, form.Sheet);
        var language = FormWords.Choose(form.Sheet, lang, http.Request.Headers.AcceptLanguage);
        var words = form.Sheet.In(language);
        return Sentence(200, language, words.Title, words.Thanks.Trim().Length > 0 ? words.Thanks : FormWords.Say(language, "thanks"));
    }

    // Any site may post to a form; nothing of ours is readable that way.
    private static NoContent Allow(HttpContext http)
    {
        var headers = http.Response.Headers;
        headers.AccessControlAllowOrigin = "*";
        headers.AccessControlAllowMethods = "POST";
        headers.AccessControlAllowHeaders = "Content-Type, Idempotency-Key";
        headers.AccessControlMaxAge = "3600";
        return TypedResults.NoContent();
    }

    private static async Task<IResult> Post(
        string key,
        HttpContext http,
        LanternDbFactory databases,
        Workspace workspace,
        PageTokens tokens,
        FormArrivals arrivals,
        ArrivalCapture capture,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        if (http.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
            limit.MaxRequestBodySize = FormPost.MostBytes;
        var json = http.Request.HasJsonContentType();
        http.Response.Headers.AccessControlAllowOrigin = "*";
        var (posted, status) = await FormPost.Read(http.Request, cancel);
        if (status != 200)
            return Refused(json, status, "en", Unread(status));
        // Given back before the post waits to be written, or those who wait would leave none to write with.
        await using var db = await databases.Open(cancel);
        if (await LiveForm.Find(db, key) is not { } form)
            return Refused(json, 404, "en", FormWords.Say("en", "link-dead"));
        var language = FormWords.Choose(form.Sheet, posted!.GetValueOrDefault("_lang"), http.Request.Headers.AcceptLanguage);
        if (form.Paused)
            return Refused(json, 409, language, FormWords.Say(language, "paused"));
        var token = tokens.Open(posted!.GetValueOrDefault("_t"));
        var reading = FormReader.Read(form.Sheet, posted!, workspace.Catalogue, language);
        // Without the seal of our page a guard tells nothing: the visitor is shown our page, with what they wrote. A program's post to a form that asks a sum waits for a person instead.
        var unsealed = token is null && form.Sheet.IsGuarded;
        var sumWrong = !json && form.Sheet.AsksSum && (token is null || posted!.GetValueOrDefault("_sum")?.Trim() != $"{token.Sum.A + token.Sum.B}");
        if (reading.Problems.Length > 0 || sumWrong || (unsealed && !json))
            return json ? Problems(reading, language) : Again(form, http, workspace, tokens, language, posted!, reading, sumWrong, token);
        var sender = http.Request.Headers["Idempotency-Key"].ToString() is { Length: > 0 } given ? given : token?.Id.ToString();
        var arriving = await arrivals.Of(db, form, posted!, reading, token, language, sender, clock.UtcNow());
        await db.DisposeAsync();
        var captured = await capture.Take(arriving, cancel);
        if (json)
            return TypedResults.Json(new PostReceipt(captured.Arrival), statusCode: 201);
        return new SeeOther(form.Sheet.ThanksAddress is { } thanks ? new Uri(thanks).AbsoluteUri : $"/f/{Uri.EscapeDataString(key)}/thanks?lang={language}");
    }

    private static IResult Again(
        LiveForm form,
        HttpContext http,
        Workspace workspace,
        PageTokens tokens,
        string language,
        Dictionary<string, string> posted,
        FormReading reading,
        bool sumWrong,
        PageToken? before
    )
    {
        Guard(http, form.Sheet);
        // The same page goes on, so that its age and its id stay; one of another site gets ours.
        var (opened, token) = before is null ? tokens.Make() : (posted["_t"], before);
        var asked = posted.ContainsKey("_sum");
        return Page(
            422,
            new ShownForm(
                form.Sheet,
                workspace.Catalogue,
                language,
                $"/f/{form.Key}",
                opened,
                form.Sheet.AsksSum ? token.Sum : null,
                sumWrong && asked,
                posted,
                reading.Labels,
                reading.Problems
            )
        );
    }

    private static IResult Problems(FormReading reading, string language) =>
        TypedResults.Problem(
            FormWords.Say(language, "look-again"),
            statusCode: 422,
            type: "/problems/answers",
            title: FormWords.Say(language, "look-again"),
            extensions: new Dictionary<string, object?> { ["problems"] = reading.Problems.Select(p => new PostProblem(p.Path, p.Code, FormWords.Say(language, p))).ToList() }
        );

    private static string Unread(int status) =>
        status switch
        {
            413 => $"A post has at most {FormPost.MostBytes / 1024} KB and {FormPost.MostNames} answers. Nothing was kept.",
            415 => "A post is a form or one JSON object. Nothing was kept.",
            _ => "This post cannot be read. Nothing was kept.",
        };

    private static IResult Refused(bool json, int status, string language, string sentence) =>
        json ? TypedResults.Problem(sentence, statusCode: status, type: "/problems/post-refused", title: sentence) : Sentence(status, language, sentence);

    /// <summary>The answer to somebody who posts too often, in words where a person reads it.</summary>
    public static async ValueTask TooMany(HttpContext http)
    {
        http.Response.Headers.RetryAfter = "60";
        if (!http.Request.HasFormContentType)
            return;
        var language = FormWords.Languages.FirstOrDefault(http.Request.Headers.AcceptLanguage.ToString().StartsWith) ?? "en";
        await Sentence(429, language, FormWords.Say(language, "too-many")).ExecuteAsync(http);
    }

    internal static IResult Sentence(int status, string language, string title, string sentence = "") =>
        new RazorComponentResult<SentencePage>(
            new Dictionary<string, object?>
            {
                ["Language"] = language,
                ["Title"] = title,
                ["Sentence"] = sentence,
            }
        )
        {
            StatusCode = status,
        };

    private static RazorComponentResult<FormPage> Page(int status, ShownForm shown) => new(new Dictionary<string, object?> { ["Shown"] = shown }) { StatusCode = status };

    private static bool Label(FormSheet form, string name) => form.Labels.Contains(name) || FormReader.StandingLabels.Contains(name);

    // A page within a sandbox, as our own preview of it, is of no origin; to it this is somebody else's file. The company's colour comes last.
    private static ContentHttpResult Style(HttpContext http, Workspace workspace)
    {
        http.Response.Headers["Cross-Origin-Resource-Policy"] = "cross-origin";
        http.Response.Headers.CacheControl = "public, max-age=3600";
        return TypedResults.Text($"{s_style.Value}:root {{ --slate: {workspace.Company.Colour}; }}\n", "text/css");
    }

    private static readonly Lazy<string> s_style = new(() =>
    {
        using var reader = new StreamReader(typeof(PublicForms).Assembly.GetManifestResourceStream("form-style.css")!);
        return reader.ReadToEnd();
    });

    // Other sites may frame a form; a browser counts where a post leads on to as where the form posts to.
    private static void Guard(HttpContext http, FormSheet form)
    {
        // A header holds ASCII only; a host with other letters is named as it is looked up.
        var on = form.ThanksAddress is { } address && new Uri(address) is var uri ? $" {uri.Scheme}://{uri.IdnHost}{(uri.IsDefaultPort ? "" : $":{uri.Port}")}" : "";
        http.Response.Headers.ContentSecurityPolicy = $"default-src 'none'; style-src 'self'; img-src 'self'; form-action 'self'{on}; base-uri 'none'; frame-ancestors *";
        http.Response.Headers.CacheControl = "no-store";
    }

    private static readonly IReadOnlyDictionary<string, string> Empty = ImmutableDictionary<string, string>.Empty;

    // 303: what follows a post is a page of its own, so that reloading it posts nothing (RFC 9110, 15.4.4).
    private sealed class SeeOther(string location) : IResult
    {
        public Task ExecuteAsync(HttpContext httpContext)
        {
            httpContext.Response.StatusCode = (int)HttpStatusCode.SeeOther;
            httpContext.Response.Headers.Location = location;
            return Task.CompletedTask;
        }
    }
}
