using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup;

/// <summary>An edition, for the list of them.</summary>
/// <param name="State">draft, live or old.</param>
public sealed record EditionLine(int Number, string State, DateTime? PublishedAt, string? By, string Note);

/// <summary>A draft as it is kept.</summary>
public sealed record DraftBody(int Number, int Version, string Note, string Body);

/// <summary>An edition that is held.</summary>
public sealed record EditionBody(Guid Id, string Kind, string Body);

/// <summary>
/// The editions of one kind: drafted, published, gone back to. A published edition is never changed; going back publishes an old one's body anew, so that numbers
/// only rise.
/// </summary>
public static class Editions
{
    private const int LongestNote = 300;

    public static Task<List<EditionLine>> List(LanternDb db, string kind) =>
        (
            from e in db.Set<Edition>()
            join p in db.Users on e.PublishedBy equals p.Id into people
            from p in people.DefaultIfEmpty()
            where e.Kind == kind
            orderby e.Number descending
            select new EditionLine(e.Number, e.State, e.PublishedAt, p.DisplayName, e.Note)
        ).ToListAsync();

    /// <summary>The body of an edition; null when there is none of the number.</summary>
    public static Task<string?> Body(LanternDb db, string kind, int number) =>
        db.Set<Edition>().Where(e => e.Kind == kind && e.Number == number).Select(e => (string?)e.Body).SingleOrDefaultAsync();

    /// <summary>When a live edition was published, and by whom.</summary>
    public static async Task<(DateTime At, string? By)> Published(LanternDb db, Guid edition)
    {
        var found = await (
            from e in db.Set<Edition>()
            where e.Id == edition
            join p in db.Users on e.PublishedBy equals p.Id into people
            from p in people.DefaultIfEmpty()
            select new { At = e.PublishedAt!.Value, By = (string?)p.DisplayName }
        ).SingleAsync();
        return (found.At, found.By);
    }

    public static Task<DraftBody?> Draft(LanternDb db, string kind) =>
        db.Set<Edition>().Where(e => e.Kind == kind && e.State == "draft").Select(e => new DraftBody(e.Number, e.Version, e.Note, e.Body)).SingleOrDefaultAsync();

    /// <summary>Keeps a draft. One there is at most: who begins one while another has begun is told so, as is who changes one that has changed.</summary>
    /// <param name="version">Of the draft this changes; 0 for a new one.</param>
    /// <returns>False when there is another draft than that.</returns>
    public static async Task<bool> Write(LanternDb db, string kind, string body, string? note, int version, ClaimsPrincipal user)
    {
        var (text, by) = (Shortened(note), user.Id());
        if (version == 0)
            return await db.Run(
                    $"""
                    insert into edition (id, kind, number, state, body, note, version, published_by)
                    select {Guid.CreateVersion7()}, {kind}, coalesce(max(number), 0) + 1, 'draft', {body}::jsonb, {text}, 1, {by} from edition where kind = {kind}
                    on conflict do nothing
                    """
                ) == 1;
        return await db.Set<Edition>()
                .Where(e => e.Kind == kind && e.State == "draft" && e.Version == version)
                .ExecuteUpdateAsync(e =>
                    e.SetProperty(x => x.Body, body).SetProperty(x => x.Note, text).SetProperty(x => x.Version, x => x.Version + 1).SetProperty(x => x.PublishedBy, by)
                ) == 1;
    }

    private static string Shortened(string? note) => FieldReader.Clean(note ?? "") is var text && text.Length > LongestNote ? text[..LongestNote] : text;

    public static Task Drop(LanternDb db, string kind) => db.Set<Edition>().Where(e => e.Kind == kind && e.State == "draft").ExecuteDeleteAsync();

    /// <summary>The draft of a version, held until the transaction ends; null when it is not that one any more.</summary>
    public static Task<EditionBody?> Find(LanternDb db, string kind, int version) =>
        db.Row<EditionBody>($"select id, kind, body::text as body from edition where kind = {kind} and state = 'draft' and version = {version} for update");

    /// <summary>The body of an edition that was live once; null when there is none.</summary>
    public static Task<string?> Old(LanternDb db, string kind, int number) =>
        db.Set<Edition>().Where(e => e.Kind == kind && e.Number == number && e.State == "old").Select(e => (string?)e.Body).SingleOrDefaultAsync();

    /// <summary>A body as an edition under the next number; not live yet.</summary>
    public static async Task<Guid> Add(LanternDb db, string kind, string body, string note)
    {
        var (id, text) = (Guid.CreateVersion7(), Shortened(note));
        await db.Run(
            $"insert into edition (id, kind, number, state, body, note, version) select {id}, {kind}, coalesce(max(number), 0) + 1, 'old', {body}::jsonb, {text}, 1 from edition where kind = {kind}"
        );
        return id;
    }

    /// <summary>An old edition once more, under a new number; not live yet.</summary>
    public static async Task<Guid> Again(LanternDb db, string kind, int number) => await Add(db, kind, (await Body(db, kind, number))!, $"Back to edition {number}");

    /// <summary>
    /// Holds the live edition of a kind until the transaction ends, with the workspace read as it is from then on: what an edition asks cannot be removed between its check and its
    /// going live.
    /// </summary>
    /// <returns>That workspace.</returns>
    public static async Task<Workspace> HoldLive(LanternDb db, string kind, WorkspaceConfiguration configuration)
    {
        // The row alone is not enough: after the wait another one is the live one.
        await db.LockUntilEnd($"edition {kind}");
        await db.Run($"select 1 from edition where kind = {kind} and state = 'live' for update");
        return await configuration.Load();
    }

    /// <summary>True where the live edition says the same as an old one, so that there is nothing to go back to. The caller holds the live edition.</summary>
    public static Task<bool> IsLive(LanternDb db, string kind, int number) =>
        db.Set<Edition>()
            .AnyAsync(live => live.Kind == kind && live.State == "live" && db.Set<Edition>().Any(old => old.Kind == kind && old.Number == number && old.Body == live.Body));

    /// <summary>What asks a field now: "the live rule sheet", "the live scoring model". They are held until the transaction ends, so that no other goes live meanwhile.</summary>
    public static async Task<IReadOnlyList<string>> Asking(LanternDb db, string field)
    {
        string[] kinds = [Edition.Rules, Edition.Scoring];
        var live = await db.Rows<EditionBody>($"select id, kind, body::text as body from edition where state = 'live' and kind = any({kinds}) order by kind for update");
        return
        [
            .. live.Where(e => (e.Kind == Edition.Rules ? Json.Read<RuleSheet>(e.Body).Fields : Json.Read<ScoringModel>(e.Body).Fields).Contains(field))
                .Select(e => e.Kind == Edition.Rules ? "the live rule sheet" : "the live scoring model"),
        ];
    }

    /// <summary>Makes an edition the live one of its kind.</summary>
    public static async Task GoLive(LanternDb db, string kind, Guid edition, Guid? by, DateTime now)
    {
        await db.Set<Edition>().Where(e => e.Kind == kind && e.State == "live").ExecuteUpdateAsync(e => e.SetProperty(x => x.State, "old"));
        await db.Set<Edition>()
            .Where(e => e.Id == edition)
            .ExecuteUpdateAsync(e => e.SetProperty(x => x.State, "live").SetProperty(x => x.PublishedAt, now).SetProperty(x => x.PublishedBy, by));
    }
}
