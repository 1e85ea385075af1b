using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace DapperLantern.App.Intake.Http;

/// <summary>A token without itself. Scopes with a space between.</summary>
/// <param name="SourceName">Null for a token that sends nothing.</param>
/// <param name="ReadsAs">Name of the person whose rights it reads by; null for a machine, which reads everything.</param>
/// <param name="EndsAt">From when it opens nothing more; null for no such time.</param>
public sealed record TokenView(
    Guid Id,
    string Name,
    string? SourceName,
    string Scopes,
    string? ReadsAs,
    string Ending,
    DateTime CreatedAt,
    DateTime? UsedAt,
    DateTime? EndsAt,
    DateTime? RevokedAt
);

/// <param name="Source">Key of a source of the channel http; null for a token that sends nothing.</param>
/// <param name="ReadsAs">The person whose rights it reads by, and with whom it ends; null for a machine, which reads everything.</param>
/// <param name="LastDay">The last day on which it opens anything, in the maker's zone; null for no such day.</param>
public sealed record NewToken(
    [Text(60)] string Name,
    [Text(100)] string? Source,
    [Count(20, Each = 100)] IReadOnlyList<string> Scopes,
    Guid? ReadsAs = null,
    DateOnly? LastDay = null
);

/// <summary>The one time the token itself is shown.</summary>
public sealed record TokenMade(TokenView View, string Token);

/// <summary>Access for other systems: made, listed, revoked.</summary>
public static class TokenEndpoints
{
    private const string Select = """
        select t.id, t.name, s.name as source_name, array_to_string(t.scopes, ' ') as scopes, r.display_name as reads_as, t.ending, t.created_at, t.used_at, t.ends_at, t.revoked_at
        from access_token t left join source s on s.key = t.source left join person r on r.id = t.reads_as_id
        """;

    private static readonly Duration Longest = Duration.FromDays(3653);

    public static void MapTokens(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("/tokens").Requires(Act.KeepTokens).WithTags("Setup");
        group.MapGet("", List).WithSummary("Access tokens");
        group.MapPost("", Make).AnswersOnce().WithSummary("Make a token; it is shown this once");
        group.MapDelete("/{id:guid}", Revoke).WithSummary("Revoke a token at once");
    }

    private static async Task<Ok<List<TokenView>>> List(LanternDb db) =>
        TypedResults.Ok(await db.Rows<TokenView>($"{Select:sql} order by t.revoked_at nulls first, t.created_at desc"));

    private static async Task<Results<Ok<TokenMade>, ProblemHttpResult>> Make(NewToken body, ClaimsPrincipal user, LanternDb db, TimeProvider clock)
    {
        var name = FieldReader.Clean(body.Name);
        if (name.Length is 0 or > 60)
            return ApiProblems.Of("name-missing", "name", 60);
        if (body.Scopes.Count == 0 || body.Scopes.Except(TokenScopes.All).Any())
            return ApiProblems.Of("token-scope-unknown", "scopes", TokenScopes.All);
        // What comes in by it comes from somewhere; who only reads sends nothing.
        var sends = body.Scopes.Any(s => s != TokenScopes.Read);
        if (sends && !await db.Set<SourceRow>().AnyAsync(x => x.Key == body.Source && x.Channel == "http"))
            return ApiProblems.Of("source-not-http", "source");
        if (body.ReadsAs is { } person && (sends || !await Person.IsHere(db, person)))
            return ApiProblems.Of(sends ? "token-person-reads" : "owner-unknown", "readsAs");
        var zone = DateTimeZoneProviders.Tzdb.GetZoneOrNull(user.Zone()) ?? DateTimeZone.Utc;
        var ends = body.LastDay is { } last ? LocalDate.FromDateOnly(last).PlusDays(1).AtStartOfDayInZone(zone).ToInstant() : (Instant?)null;
        if (ends is { } end && (end <= clock.UtcNow().ToInstant() || end > clock.UtcNow().ToInstant() + Longest))
            return ApiProblems.Of("token-day", "lastDay");
        var (token, hash) = AccessTokenRow.Make();
        var id = Guid.CreateVersion7();
        await db.Insert(
            new AccessTokenRow
            {
                Id = id,
                Name = name,
                Source = sends ? body.Source : null,
                Scopes = [.. body.Scopes.Distinct()],
                Hash = hash,
                Ending = token[^4..],
                CreatedAt = clock.UtcNow(),
                PersonId = body.ReadsAs ?? user.Id(),
                ReadsAsId = body.ReadsAs,
                EndsAt = ends?.ToUtc(),
            }
        );
        return TypedResults.Ok(new TokenMade(await db.One<TokenView>($"{Select:sql} where t.id = {id}"), token));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Revoke(Guid id, LanternDb db, TimeProvider clock) =>
        await db.Set<AccessTokenRow>().Where(x => x.Id == id && x.RevokedAt == null).ExecuteUpdateAsync(s => s.SetProperty(x => x.RevokedAt, clock.UtcNow())) == 0
            ? ApiProblems.NotFound("token in use")
            : TypedResults.NoContent();
}
