using DapperLantern.App.Data;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake.Forms;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Campaigns;

/// <summary>
/// The pages behind the links of mails: confirming a consent, and withdrawing. Looking at one changes nothing, since programs follow links;
/// only its button does. Withdrawing takes the one-click post of RFC 8058 too.
/// </summary>
public static class ConsentPages
{
    public static void MapConsentPages(this WebApplication app)
    {
        var pages = app.MapGroup("/consent").AllowAnonymous().ExcludeFromDescription();
        pages.MapGet("/confirm/{token}", ShowAsked);
        pages.MapPost("/confirm/{token}", Confirm).RequireRateLimiting(PublicForms.RateLimit).DisableAntiforgery();
        pages.MapGet("/withdraw/{token}", ShowGiven);
        pages.MapPost("/withdraw/{token}", Withdraw).RequireRateLimiting(PublicForms.RateLimit).DisableAntiforgery();
    }

    private static async Task<IResult> ShowAsked(string token, HttpContext http, PublicLinks links, LanternDbFactory databases)
    {
        if (links.Open(token) is not { Ask: { } ask, Language: var language })
            return Dead();
        await using var db = await databases.Open();
        var asked = await db.Set<ConsentRow>().Where(c => c.Ask == ask).Select(c => new Agreed(c.Purpose, c.Wording)).Distinct().ToListAsync();
        Guard(http);
        return Page(
            language,
            "confirm-title",
            "",
            "confirm-button",
            false,
            [.. asked.OrderBy(a => a.Purpose, StringComparer.Ordinal).Select(a => new Choice(a.Purpose, a.Wording))]
        );
    }

    private static async Task<IResult> Confirm(string token, HttpContext http, PublicLinks links, LanternDbFactory databases, TimeProvider clock)
    {
        if (links.Open(token) is not { Ask: { } ask, Language: var language })
            return Dead();
        await using var db = await databases.Open();
        await using var transaction = await db.Database.BeginTransactionAsync();
        // Asked rows locked, so that a double click confirms once; what was withdrawn after it was asked for stays withdrawn until asked again.
        var now = clock.UtcNow();
        await db.Run($"select 1 from consent where ask = {ask} for update");
        var given = await db.Rows<ConsentOfLead>(
            $"""
            insert into consent (id, lead_id, person_hash, person_key, purpose, state, at, wording, place)
            select gen_random_uuid(), a.lead_id, a.person_hash, a.person_key, a.purpose, 'given', {now}, a.wording, a.place || ', confirmed by email' from consent a
            where a.ask = {ask} and a.state = 'asked' and not exists (
              select 1 from consent c where c.person_key = a.person_key and c.person_hash = a.person_hash and c.purpose = a.purpose and c.state in ('given', 'withdrawn') and c.at >= a.at)
            returning lead_id, purpose
            """
        );
        await ConsentRow.Tell(db, given, ConsentRow.Given, "Confirmed by email");
        await transaction.CommitAsync();
        Guard(http);
        return PublicForms.Sentence(200, language, FormWords.Say(language, "confirm-done"));
    }

    private static async Task<IResult> ShowGiven(string token, HttpContext http, PublicLinks links, LanternDbFactory databases, Workspace workspace)
    {
        if (links.Open(token) is not { Person: { } person, Language: var language })
            return Dead();
        await using var db = await databases.Open();
        var given = (await Given(db, person)).Select(g => new Choice(g.Purpose, g.Wording.Length > 0 ? g.Wording : NameOf(workspace, g.Purpose))).ToList();
        Guard(http);
        return given.Count == 0
            ? PublicForms.Sentence(200, language, FormWords.Say(language, "withdraw-title"), FormWords.Say(language, "withdraw-none"))
            : Page(language, "withdraw-title", "withdraw-intro", "withdraw-button", true, given);
    }

    private static async Task<IResult> Withdraw(
        string token,
        HttpContext http,
        PublicLinks links,
        LanternDbFactory databases,
        Workspace workspace,
        LeadRescore rescore,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        if (links.Open(token) is not { Person: { } person, Language: var language })
            return Dead();
        var (posted, status) = await FormPost.Read(http.Request, cancel);
        if (status != 200)
            return PublicForms.Sentence(status, language, FormWords.Say(language, "unreadable"));
        await using var db = await databases.Open(cancel);
        var given = await Given(db, person);
        // One click from the mail program ends everything; the page ends what was ticked.
        var ended = posted!.ContainsKey("List-Unsubscribe") ? [.. given.Select(g => g.Purpose)] : posted.GetValueOrDefault("purpose", "").Split(", ");
        var purposes = given.Select(g => g.Purpose).Intersect(ended).ToArray();
        var now = clock.UtcNow();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        foreach (var lead in await ConsentRow.Withdraw(db, person, purposes, "By the link in a mail", now))
            await rescore.Run(db, lead, now);
        await transaction.CommitAsync(cancel);
        Guard(http);
        return PublicForms.Sentence(200, language, FormWords.Say(language, purposes.Length > 0 ? "withdraw-done" : "withdraw-none"));
    }

    private static string NameOf(Workspace workspace, string purpose) => workspace.ConsentPurposes.FirstOrDefault(p => p.Key == purpose)?.Label ?? purpose;

    private static Task<List<Agreed>> Given(LanternDb db, byte[] person)
    {
        var key = PersonHash.KeyOf(person);
        // The latest word for each purpose.
        return db.Rows<Agreed>(
            $"""
            select purpose, wording from (select distinct on (purpose) purpose, wording, state from consent
              where person_key = {key} and person_hash = {person} and state <> 'asked' order by purpose, at desc) c where state = 'given' order by purpose
            """
        );
    }

    private sealed record Agreed(string Purpose, string Wording);

    private static IResult Dead() => PublicForms.Sentence(404, "en", FormWords.Say("en", "link-dead"));

    private static void Guard(HttpContext http)
    {
        http.Response.Headers.ContentSecurityPolicy = "default-src 'none'; style-src 'self'; img-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";
        http.Response.Headers.CacheControl = "no-store";
    }

    private static RazorComponentResult<ConsentPage> Page(string language, string title, string intro, string button, bool ticks, IReadOnlyList<Choice> statements) =>
        new(
            new Dictionary<string, object?>
            {
                ["Language"] = language,
                ["Title"] = FormWords.Say(language, title),
                ["Intro"] = intro.Length > 0 ? FormWords.Say(language, intro) : "",
                ["Button"] = FormWords.Say(language, button),
                ["Ticks"] = ticks,
                ["Statements"] = statements,
            }
        );
}
