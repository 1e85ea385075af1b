using System.Collections.Frozen;
using System.Collections.Immutable;
using System.Globalization;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Company;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Matching;
using DapperLantern.App.Rights;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.App.Starting;
using DapperLantern.Core.Deals;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup;

/// <summary>Publishes the current <see cref="Workspace"/> of this process by one reference, and tells the other processes when the set-up changes.</summary>
public sealed class WorkspaceConfiguration(LanternDbFactory databases, PersonHash hashes)
{
    /// <summary>On which processes tell each other that something was set up.</summary>
    public const string Channel = "lantern_setup";

    private const string VersionEntry = "setup-version";

    private readonly string _self = Guid.NewGuid().ToString("N");

    // One read at a time, so that none publishes over a newer one.
    private readonly SemaphoreSlim _one = new(1);
    private volatile Workspace? _current;

    /// <summary>The snapshot at this moment. Take it once for a piece of work.</summary>
    /// <exception cref="InvalidOperationException"><see cref="Load"/> has not been called.</exception>
    public Workspace Current => _current ?? throw new InvalidOperationException("the workspace is not loaded");

    /// <summary>The snapshot for a request or a piece of background work, which takes it once.</summary>
    internal static Workspace Snapshot(IServiceProvider services) => services.GetRequiredService<WorkspaceConfiguration>().Current;

    /// <summary>Reads the set-up and publishes it; call at start and after setting up.</summary>
    public async Task<Workspace> Load(CancellationToken cancel = default)
    {
        await _one.WaitAsync(cancel);
        try
        {
            return _current = await Read(cancel);
        }
        finally
        {
            _one.Release();
        }
    }

    private async Task<Workspace> Read(CancellationToken cancel)
    {
        await using var db = await databases.Open(cancel);
        // Before all else, with the version among them: a change made while the rest is read has a higher version, and is read again.
        var entries = await db.Set<SetupEntry>().AsNoTracking().ToDictionaryAsync(e => e.Key, e => e.Body, cancel);
        var lists = entries.TryGetValue("value-lists", out var body) ? Json.Read<Dictionary<string, ImmutableArray<Choice>>>(body) : [];
        foreach (var group in (await Named(db)).GroupBy(n => n.Field))
            lists[group.Key] = [.. group.Select(n => new Choice(n.Key, n.Name) { Retired = n.Retired })];
        var (pipelines, products) = (await LivePipeline.Rows(db), await LivePipeline.Sold(db));
        lists[FieldCatalogue.OwnQuestions] = [.. pipelines.SelectMany(p => p.Own).DistinctBy(q => q.Key).Select(q => new Choice(q.Key, q.Label))];
        var custom = entries.TryGetValue("custom-fields", out var fields) ? Json.Read<List<CustomField>>(fields) : [];
        // Signs and next moves go by the live model's words; before there is one, by ours.
        var live = await db.Set<Edition>().Where(x => x.Kind == Edition.Scoring && x.State == "live").Select(x => x.Body).SingleOrDefaultAsync(cancel);
        var words = live is null ? null : Json.Read<ScoringModel>(live);
        lists["event"] = [.. (words?.Engagement ?? []).DistinctBy(s => s.Kind).Select(s => new Choice(s.Kind, s.Label))];
        lists["next_move"] = NextMove.Named(words?.Names ?? MoveNames.Usual);
        var kinds = await db.Set<CampaignRow>().Select(x => new { x.Key, x.Kind }).ToListAsync(cancel);
        var company = await CompanyProfile.Read(db);
        var catalogue = FieldCatalogue.Build(lists, custom, company.Currency);
        return new Workspace
        {
            Version = VersionOf(entries.GetValueOrDefault(VersionEntry)),
            Catalogue = catalogue,
            Company = company,
            IsBeginning = FirstHour.IsOn(entries),
            Roles = await RoleRow.Load(db),
            StrongRoles = StrongSignIn.Of(entries),
            Provider = await LiveProvider.Load(db),
            Hashes = hashes,
            Matcher = await MatchingRows.Live(db),
            Hours = await WorkHours.All(db),
            Circles = await Circles.Load(db),
            Pipelines = [.. pipelines.Select(p => p.Compile(catalogue))],
            Products = products,
            Wish = new ProductWish(products),
            Lists = lists.ToFrozenDictionary(),
            GoneValues = await ValueMergeRow.Names(db),
            CampaignKinds = kinds.ToFrozenDictionary(c => c.Key, c => c.Kind),
        };
    }

    private static Task<List<NamedChoice>> Named(LanternDb db) =>
        db.Rows<NamedChoice>(
            $"""
            (select 'source' as field, key, name, retired from source where merged_into is null order by position, name) union all
            select 'campaign', key, name, false from campaign union all
            select 'owner', id::text, display_name, false from person union all
            select 'team', key, name, false from team union all
            select 'in_campaign', key, name, false from campaign union all
            (select 'tag', key, name, false from tag where merged_into is null order by name)
            """
        );

    /// <summary>Reads the set-up anew after a change of it, here and in every other process. Gives the new snapshot.</summary>
    public async Task<Workspace> Changed()
    {
        await using (var db = await databases.Open())
            await db.Run(
                $$"""
                insert into setup_entry (key, body) values ('{{VersionEntry:sql}}', '1') on conflict (key) do update set body = to_jsonb((setup_entry.body #>> '{}')::bigint + 1);
                notify {{Channel:sql}}, '{{_self:sql}}';
                """
            );
        return await Load();
    }

    /// <summary>True where the set-up changed since it was read: a process whose connection died without a word sees by the version that it is behind.</summary>
    public async Task<bool> IsBehind(CancellationToken cancel)
    {
        await using var db = await databases.Open(cancel);
        return VersionOf(await db.Set<SetupEntry>().Where(e => e.Key == VersionEntry).Select(e => e.Body).SingleOrDefaultAsync(cancel)) != Current.Version;
    }

    private static long VersionOf(string? body) => body is null ? 0 : long.Parse(body.Trim('"'), CultureInfo.InvariantCulture);

    /// <summary>True for a change that this process made itself.</summary>
    public bool IsOwn(string payload) => payload == _self;

    private sealed record NamedChoice(string Field, string Key, string Name, bool Retired);
}
