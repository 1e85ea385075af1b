using System.Collections.Frozen;
using System.Collections.Immutable;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Leads;
using DapperLantern.App.Matching;
using DapperLantern.App.Routing;
using DapperLantern.Core.Campaigns;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Deals;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Matching;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup;

/// <summary>A live scoring model, compiled.</summary>
public sealed record LiveModel(Guid Edition, int Number, ScoringModel Model, FitScore Fit, EngagementScore Engagement)
{
    public static LiveModel Of(Guid edition, int number, ScoringModel model, FieldCatalogue catalogue) =>
        new(edition, number, model, new FitScore(model, catalogue), new EngagementScore(model));

    /// <summary>What is kept with a lead, computed from its facts and events at a moment. What it had cleared before is read from its next move.</summary>
    public StoredScores Score(RecordValues facts, IReadOnlyList<LeadEvent> events, DateTime now)
    {
        var moment = now.ToInstant();
        var before = Cleared.Of(facts.Text("next_move"));
        return new StoredScores(LeadScoreState.Of(Fit.Measure(facts, moment), Engagement.At(events, moment), before, Model.Bars, moment), Edition, Signs.Of(events), now);
    }
}

/// <summary>A live rule sheet, compiled.</summary>
public sealed record LiveRules(Guid Edition, int Number, Router Router)
{
    private readonly FieldDefinition[] _asked =
    [
        .. Router.Sheet.Fields.Concat(["country", "region", "language"]).Distinct().Select(k => Router.Catalogue.Find(k)).OfType<FieldDefinition>(),
    ];

    /// <summary>Keys of the fields that the rules ask.</summary>
    public IEnumerable<string> Asked => _asked.Select(f => f.Key);

    /// <summary>What the rules asked of a lead, as JSON: the known values by field.</summary>
    public string Snapshot(RecordValues lead) => Json.Facts(_asked.Select(f => (f, lead[f.Ordinal])).Where(f => f.Item2.IsKnown));
}

/// <summary>
/// What this workspace is set up as: the field catalogue with its value lists, and the live editions, compiled once and kept until
/// another edition goes live.
/// </summary>
public sealed class WorkspaceConfiguration(LanternDbFactory databases, PersonHash hashes)
{
    /// <summary>On which processes tell each other that something was set up.</summary>
    public const string Channel = "lantern_setup";

    private readonly string _self = Guid.NewGuid().ToString("N");
    private FieldCatalogue? _catalogue;
    private Dictionary<string, string> _campaignKinds = [];
    private LiveModel? _model;
    private LiveRules? _rules;

    /// <exception cref="InvalidOperationException"><see cref="Load"/> has not been called.</exception>
    public FieldCatalogue Catalogue => _catalogue ?? throw new InvalidOperationException("the workspace is not loaded");

    /// <summary>By which people are known after their data is gone.</summary>
    public PersonHash Hashes => hashes;

    /// <summary>Compares people: by the live matching model, else the shipped one, among as many records as there were when the workspace was read.</summary>
    public Matcher Matcher { get; private set; } = Matcher.Shipped;

    /// <summary>When everybody works, by person.</summary>
    public FrozenDictionary<Guid, WorkingHours> Hours { get; private set; } = FrozenDictionary<Guid, WorkingHours>.Empty;

    /// <summary>What consent is asked for.</summary>
    public ImmutableArray<Choice> ConsentPurposes { get; private set; } = [];

    /// <summary>The pipelines in their order; the first is the one leads are qualified for unless another is said.</summary>
    public ImmutableArray<LivePipeline> Pipelines { get; private set; } = [];

    /// <summary>What is sold, in its order.</summary>
    public ImmutableArray<Product> Products { get; private set; } = [];

    /// <summary>Reads products out of people's words.</summary>
    public ProductWish Wish { get; private set; } = new([]);

    /// <summary>The values of a list that people keep while they work; see <see cref="PickList"/>.</summary>
    public ImmutableArray<Choice> List(string list) => _lists.GetValueOrDefault(list, PickList.Shipped(list));

    /// <summary>A value of such a list by its key; null for no key, and where there is none.</summary>
    public Choice? Value(string list, string? key) => key is null ? null : List(list).FirstOrDefault(v => v.Key == key);

    private Dictionary<string, ImmutableArray<Choice>> _lists = [];

    /// <summary>The pipeline by its key; the first for none. Null where there is no such one.</summary>
    public LivePipeline? Pipeline(string? key) => key is null ? Pipelines.FirstOrDefault() : Pipelines.FirstOrDefault(p => p.Key == key);

    /// <summary>Skills that rules may ask for and people may have.</summary>
    public ImmutableArray<Choice> Skills { get; private set; } = [];

    /// <summary>What somebody who comes in by a campaign has done unless more is said.</summary>
    public string UsualResponse(string campaign) => CampaignKind.ResponseOf(_campaignKinds.GetValueOrDefault(campaign, ""));

    /// <summary>The kind of a campaign; empty when there is none.</summary>
    public string KindOfCampaign(string? campaign) => campaign is null ? "" : _campaignKinds.GetValueOrDefault(campaign, "");

    /// <summary>Reads value lists and custom fields; call at start and after setting up.</summary>
    public async Task Load(CancellationToken cancel = default)
    {
        await using var db = await databases.Open(cancel);
        // Before all else, with the version among them: what changes while the rest is read is read again.
        var entries = (await db.Set<SetupEntry>().Select(x => new { x.Key, x.Body }).ToListAsync()).ToDictionary(e => e.Key, e => e.Body);
        var lists = entries.TryGetValue("value-lists", out var body) ? Json.Read<Dictionary<string, ImmutableArray<Choice>>>(body) : [];
        var named = await db.Rows<NamedChoice>(
            $"""
            select 'source' as field, key, name from source union all
            select 'campaign', key, name from campaign union all
            select 'owner', id::text, display_name from person union all
            select 'team', key, name from team union all
            select 'in_campaign', key, name from campaign union all
            (select 'tag', key, name from tag where merged_into is null order by name)
            """
        );
        foreach (var group in named.GroupBy(n => n.Field))
            lists[group.Key] = [.. group.Select(n => new Choice(n.Key, n.Name))];
        var (pipelines, products) = (await LivePipeline.Rows(db), await LivePipeline.Sold(db));
        lists[FieldCatalogue.OwnQuestions] = [.. pipelines.SelectMany(p => p.Own).DistinctBy(q => q.Key).Select(q => new Choice(q.Key, q.Label))];
        var custom = entries.TryGetValue("custom-fields", out var fields) ? Json.Read<List<CustomField>>(fields) : [];
        // Signs and next moves go by the live model's words; before there is one, by ours.
        var live = await db.Set<Edition>().Where(x => x.Kind == Edition.Scoring && x.State == "live").Select(x => x.Body).SingleOrDefaultAsync();
        var words = live is null ? null : Json.Read<ScoringModel>(live);
        lists["event"] = [.. (words?.Engagement ?? []).DistinctBy(s => s.Kind).Select(s => new Choice(s.Kind, s.Label))];
        lists["next_move"] = NextMove.Named(words?.Names ?? MoveNames.Usual);
        _campaignKinds = (await db.Set<CampaignRow>().Select(x => new { x.Key, x.Kind }).ToListAsync()).ToDictionary(c => c.Key, c => c.Kind);
        Matcher = await MatchingRows.Live(db);
        Hours = await WorkHours.All(db);
        Skills = lists.GetValueOrDefault("skills", []);
        ConsentPurposes = lists.GetValueOrDefault(FieldCatalogue.Purposes, []);
        var catalogue = FieldCatalogue.Build(lists, custom);
        Pipelines = [.. pipelines.Select(p => p.Compile(catalogue))];
        (Products, Wish, _lists) = (products, new ProductWish(products), lists);
        (_catalogue, _model, _rules, _version) = (catalogue, null, null, entries.GetValueOrDefault(VersionEntry, ""));
    }

    /// <summary>Reads it anew, here and in every other process of the workspace.</summary>
    public async Task Changed()
    {
        await Load();
        await using var db = await databases.Open();
        await db.Run(
            $$"""
            insert into setup_entry (key, body) values ('{{VersionEntry:sql}}', '1') on conflict (key) do update set body = to_jsonb((setup_entry.body #>> '{}')::bigint + 1);
            notify {{Channel:sql}}, '{{_self:sql}}';
            """
        );
    }

    private const string VersionEntry = "setup-version";

    /// <summary>Which change of the set-up was read last; a process whose connection died without a word sees by it that it is behind.</summary>
    public async Task<bool> IsBehind(CancellationToken cancel)
    {
        await using var db = await databases.Open(cancel);
        return await VersionIn(db) != _version;
    }

    private static async Task<string> VersionIn(LanternDb db) =>
        await db.Row<string>($$"""select body #>> '{}' as "Value" from setup_entry where key = '{{VersionEntry:sql}}'""") ?? "";

    private string _version = "";

    /// <summary>True for a change that this process made itself.</summary>
    public bool IsOwn(string payload) => payload == _self;

    /// <summary>The live scoring model.</summary>
    /// <exception cref="InvalidOperationException">None is live.</exception>
    public async Task<LiveModel> Model(LanternDb db)
    {
        var id = await LiveId(db, Edition.Scoring);
        if (_model?.Edition == id)
            return _model;
        var (number, body) = await Body(db, id);
        var model = Json.Read<ScoringModel>(body);
        return _model = LiveModel.Of(id, number, model, Catalogue);
    }

    /// <summary>The live rule sheet.</summary>
    /// <exception cref="InvalidOperationException">None is live.</exception>
    public async Task<LiveRules> Rules(LanternDb db)
    {
        var id = await LiveId(db, Edition.Rules);
        if (_rules?.Edition == id)
            return _rules;
        var (number, body) = await Body(db, id);
        return _rules = new LiveRules(id, number, new Router(Json.Read<RuleSheet>(body), Catalogue));
    }

    private static async Task<Guid> LiveId(LanternDb db, string kind) =>
        await db.Set<Edition>().Where(x => x.Kind == kind && x.State == "live").Select(x => (Guid?)x.Id).SingleOrDefaultAsync()
        ?? throw new InvalidOperationException($"no {kind} edition is live");

    private static async Task<(int Number, string Body)> Body(LanternDb db, Guid id)
    {
        var edition = await db.Editions.AsNoTracking().SingleAsync(e => e.Id == id);
        return (edition.Number, edition.Body);
    }

    private sealed record NamedChoice(string Field, string Key, string Name);
}
