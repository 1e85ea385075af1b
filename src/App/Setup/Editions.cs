using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;

namespace DapperLantern.App.Setup;

/// <summary>An edition, for the list of them.</summary>
/// <param name="State">draft, live or old.</param>
public sealed record EditionLine(int Number, string State, DateTime? PublishedAt, string? By, string Note);

/// <summary>A draft as it is kept.</summary>
public sealed record DraftBody(int Number, int Version, string Note, string Body);

/// <summary>
/// The editions of one kind: drafted, published, gone back to. A published edition is never changed; going back publishes an old one's body anew, so that numbers
/// only rise.
/// </summary>
public static class Editions
{
    private const int LongestNote = 300;

    public static async Task<List<EditionLine>> List(LanternDb db, string kind) =>
        (
            await db.QueryAsync<EditionLine>(
                "select e.number, e.state, e.published_at, p.display_name as by, e.note from edition e left join person p on p.id = e.published_by where e.kind = @kind order by e.number desc",
                new { kind }
            )
        ).ToList();

    /// <summary>The body of an edition; null when there is none of the number.</summary>
    public static Task<string?> Body(LanternDb db, string kind, int number) =>
        db.QuerySingleOrDefaultAsync<string?>("select body::text from edition where kind = @kind and number = @number", new { kind, number });

    public static Task<DraftBody?> Draft(LanternDb db, string kind) =>
        db.QuerySingleOrDefaultAsync<DraftBody?>("select number, version, note, body::text as body from edition where kind = @kind and state = 'draft'", new { kind });

    /// <summary>Keeps a draft. One there is at most: who begins one while another has begun is told so, as is who changes one that has changed.</summary>
    /// <param name="version">Of the draft this changes; 0 for a new one.</param>
    /// <returns>False when there is another draft than that.</returns>
    public static async Task<bool> Write(LanternDb db, string kind, string body, string? note, int version, ClaimsPrincipal user) =>
        await db.ExecuteAsync(
            version == 0
                ? """
                insert into edition (id, kind, number, state, body, note, version, published_by)
                select @id, @kind, coalesce(max(number), 0) + 1, 'draft', @body::jsonb, @note, 1, @by from edition where kind = @kind
                on conflict do nothing
                """
                : "update edition set body = @body::jsonb, note = @note, version = version + 1, published_by = @by where kind = @kind and state = 'draft' and version = @version",
            new
            {
                id = Guid.CreateVersion7(),
                kind,
                body,
                note = Shortened(note),
                version,
                by = user.Id(),
            }
        ) == 1;

    private static string Shortened(string? note) => FieldReader.Clean(note ?? "") is var text && text.Length > LongestNote ? text[..LongestNote] : text;

    public static Task Drop(LanternDb db, string kind) => db.ExecuteAsync("delete from edition where kind = @kind and state = 'draft'", new { kind });

    /// <summary>The draft of a version, held until the transaction ends; null when it is not that one any more.</summary>
    public static Task<(Guid Id, string Body)?> Find(LanternDb db, string kind, int version) =>
        db.QuerySingleOrDefaultAsync<(Guid, string)?>(
            "select id, body::text from edition where kind = @kind and state = 'draft' and version = @version for update",
            new { kind, version }
        );

    /// <summary>The body of an edition that was live once; null when there is none.</summary>
    public static Task<string?> Old(LanternDb db, string kind, int number) =>
        db.QuerySingleOrDefaultAsync<string?>("select body::text from edition where kind = @kind and number = @number and state = 'old'", new { kind, number });

    /// <summary>An old edition once more, under a new number; not live yet.</summary>
    public static async Task<Guid> Again(LanternDb db, string kind, int number)
    {
        var id = Guid.CreateVersion7();
        await db.ExecuteAsync(
            """
            insert into edition (id, kind, number, state, body, note, version)
            select @id, @kind, (select max(number) + 1 from edition where kind = @kind), 'old', body, @note, 1 from edition where kind = @kind and number = @number
            """,
            new
            {
                id,
                kind,
                number,
                note = $"Back to edition {number}",
            }
        );
        return id;
    }

    /// <summary>
    /// Holds the live edition of a kind until the transaction ends, with the workspace read as it is from then on: what an edition asks cannot be removed between its check and its
    /// going live.
    /// </summary>
    public static async Task HoldLive(LanternDb db, string kind, WorkspaceConfiguration workspace)
    {
        // The row alone is not enough: after the wait another one is the live one.
        await db.ExecuteAsync("select pg_advisory_xact_lock(hashtext('edition ' || @kind))", new { kind });
        await db.ExecuteAsync("select 1 from edition where kind = @kind and state = 'live' for update", new { kind });
        await workspace.Load();
    }

    /// <summary>True where the live edition says the same as an old one, so that there is nothing to go back to. The caller holds the live edition.</summary>
    public static Task<bool> IsLive(LanternDb db, string kind, int number) =>
        db.QuerySingleAsync<bool>(
            """
            select exists (select 1 from edition live join edition old on old.kind = live.kind and old.body = live.body
              where live.kind = @kind and live.state = 'live' and old.number = @number)
            """,
            new { kind, number }
        );

    /// <summary>What asks a field now: "the live rule sheet", "the live scoring model". They are held until the transaction ends, so that no other goes live meanwhile.</summary>
    public static async Task<IReadOnlyList<string>> Asking(LanternDb db, string field)
    {
        var live = await db.QueryAsync<(string Kind, string Body)>(
            "select kind, body::text from edition where state = 'live' and kind = any(@kinds) order by kind for update",
            new { kinds = new[] { Edition.Rules, Edition.Scoring } }
        );
        return
        [
            .. live.Where(e => (e.Kind == Edition.Rules ? Json.Read<RuleSheet>(e.Body).Fields : Json.Read<ScoringModel>(e.Body).Fields).Contains(field))
                .Select(e => e.Kind == Edition.Rules ? "the live rule sheet" : "the live scoring model"),
        ];
    }

    /// <summary>Makes an edition the live one of its kind.</summary>
    public static Task GoLive(LanternDb db, string kind, Guid edition, ClaimsPrincipal user, DateTime now) =>
        db.ExecuteAsync(
            """
            update edition set state = 'old' where kind = @kind and state = 'live';
            update edition set state = 'live', published_at = @now, published_by = @by where id = @edition;
            """,
            new
            {
                kind,
                edition,
                now,
                by = user.Id(),
            }
        );
}
