using System.Collections.Concurrent;
using System.Collections.Frozen;
using System.Collections.Immutable;
using DapperLantern.App.Company;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.Core.Campaigns;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Deals;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Matching;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup;

/// <summary>
/// One snapshot of what this workspace is set up as. It never changes: a request, a batch or a job takes the current one from <see cref="WorkspaceConfiguration"/> once and hands it
/// down, so that all its steps read records by one catalogue.
/// </summary>
public sealed class Workspace
{
    // Editions never change, so each is compiled once for this catalogue.
    private readonly ConcurrentDictionary<Guid, LiveModel> _models = [];
    private readonly ConcurrentDictionary<Guid, LiveRules> _rules = [];

    /// <summary>Number of the change of the set-up that this snapshot was read at; 0 before the first.</summary>
    public required long Version { get; init; }

    public required FieldCatalogue Catalogue { get; init; }

    /// <summary>The company that works here.</summary>
    public required CompanyProfile Company { get; init; }

    /// <summary>True while the company is set up for the first time, until an administrator ends that.</summary>
    public required bool IsBeginning { get; init; }

    /// <summary>The roles there are, and what each may.</summary>
    public required RoleBook Roles { get; init; }

    /// <summary>Keys of roles that may do nothing without a second step at the sign-in.</summary>
    public required FrozenSet<string> StrongRoles { get; init; }

    /// <summary>The identity provider by which people sign in.</summary>
    public required LiveProvider Provider { get; init; }

    /// <summary>Hashes by which people are known after their data is gone.</summary>
    public required PersonHash Hashes { get; init; }

    /// <summary>Compares people: by the live matching model, else the shipped one, among as many records as there were when the snapshot was read.</summary>
    public required Matcher Matcher { get; init; }

    /// <summary>When everybody works, by person.</summary>
    public required FrozenDictionary<Guid, WorkingHours> Hours { get; init; }

    /// <summary>By when somebody who gets a lead now is to answer, within their hours; null for nobody.</summary>
    public DateTime? AnswerDue(Guid? person, RuleSheet sheet, DateTime now) =>
        person is { } id && Hours.TryGetValue(id, out var hours) ? hours.After(now.ToInstant(), NodaTime.Duration.FromMinutes(sheet.AnswerWithinMinutes)).ToUtc() : null;

    /// <summary>Who works with whom.</summary>
    public required Circles Circles { get; init; }

    /// <summary>The pipelines in their order; the first is the one leads are qualified for unless another is said.</summary>
    public required ImmutableArray<LivePipeline> Pipelines { get; init; }

    /// <summary>What is sold, in its order.</summary>
    public required ImmutableArray<Product> Products { get; init; }

    /// <summary>Reads products out of people's words.</summary>
    public required ProductWish Wish { get; init; }

    /// <summary>Value lists by key.</summary>
    public required FrozenDictionary<string, ImmutableArray<Choice>> Lists { get; init; }

    /// <summary>Kinds of campaigns by key.</summary>
    public required FrozenDictionary<string, string> CampaignKinds { get; init; }

    /// <summary>What consent is asked for.</summary>
    public ImmutableArray<Choice> ConsentPurposes => Lists.GetValueOrDefault(FieldCatalogue.Purposes, []);

    /// <summary>Skills that rules may ask for and people may have.</summary>
    public ImmutableArray<Choice> Skills => Lists.GetValueOrDefault("skills", []);

    /// <summary>The values of a list that people keep while they work; see <see cref="PickList"/>.</summary>
    public ImmutableArray<Choice> List(string list) => Lists.GetValueOrDefault(list, PickList.Shipped(list));

    /// <summary>A value of such a list by its key; null for no key, and where there is none.</summary>
    public Choice? Value(string list, string? key) => key is null ? null : List(list).FirstOrDefault(v => v.Key == key);

    /// <summary>Names of values that another one stands for by now.</summary>
    public required IReadOnlyDictionary<(string List, string Key), string> GoneValues { get; init; }

    /// <summary>The name of a value, whether it is still there or not; its key where nothing knows it.</summary>
    public string NameOf(string list, string key) => Value(list, key)?.Label ?? GoneValues.GetValueOrDefault((list, key), key);

    /// <summary>The pipeline by its key; the first for none. Null where there is no such one.</summary>
    public LivePipeline? Pipeline(string? key) => key is null ? Pipelines.FirstOrDefault() : Pipelines.FirstOrDefault(p => p.Key == key);

    /// <summary>What somebody who comes in by a campaign has done unless more is said.</summary>
    public string UsualResponse(string campaign) => CampaignKind.ResponseOf(CampaignKinds.GetValueOrDefault(campaign, ""));

    /// <summary>The kind of a campaign; empty when there is none.</summary>
    public string KindOfCampaign(string? campaign) => campaign is null ? "" : CampaignKinds.GetValueOrDefault(campaign, "");

    /// <summary>The scoring model that is live in the caller's transaction, compiled for this catalogue.</summary>
    /// <exception cref="NotSetUpException">None is live.</exception>
    public async Task<LiveModel> Model(LanternDb db)
    {
        var id = await LiveId(db, Edition.Scoring);
        if (_models.TryGetValue(id, out var known))
            return known;
        var (number, body) = await Body(db, id);
        return _models.GetOrAdd(id, LiveModel.Of(id, number, Json.Read<ScoringModel>(body), Catalogue));
    }

    /// <summary>The rule sheet that is live in the caller's transaction, compiled for this catalogue.</summary>
    /// <exception cref="NotSetUpException">None is live.</exception>
    /// <exception cref="SnapshotBehindException">The sheet asks a field that was added after this snapshot was taken.</exception>
    public async Task<LiveRules> Rules(LanternDb db)
    {
        var id = await LiveId(db, Edition.Rules);
        if (_rules.TryGetValue(id, out var known))
            return known;
        var (number, body) = await Body(db, id);
        var sheet = Json.Read<RuleSheet>(body);
        if (!Router.CanRead(sheet, Catalogue))
            throw new SnapshotBehindException();
        return _rules.GetOrAdd(id, new LiveRules(id, number, new Router(sheet, Catalogue)));
    }

    /// <summary>The signs of engagement that the live model counts; none in a workspace that has no model yet.</summary>
    public async Task<ImmutableArray<EngagementSignal>> Signs(LanternDb db) => await Live(db, Edition.Scoring).AnyAsync() ? (await Model(db)).Model.Engagement : [];

    /// <summary>False in a workspace whose rules were never published.</summary>
    public Task<bool> HasRules(LanternDb db) => Live(db, Edition.Rules).AnyAsync();

    private static IQueryable<Edition> Live(LanternDb db, string kind) => db.Set<Edition>().Where(x => x.Kind == kind && x.State == "live");

    private static async Task<Guid> LiveId(LanternDb db, string kind) => await Live(db, kind).Select(x => (Guid?)x.Id).SingleOrDefaultAsync() ?? throw new NotSetUpException(kind);

    private static async Task<(int Number, string Body)> Body(LanternDb db, Guid id)
    {
        var edition = await db.Set<Edition>().AsNoTracking().SingleAsync(e => e.Id == id);
        return (edition.Number, edition.Body);
    }
}

/// <summary>What is live was made for a newer set-up than the snapshot at hand. The work begins again with the current one.</summary>
public sealed class SnapshotBehindException() : Exception("The set-up changed meanwhile; the work begins again with the current one.");

/// <summary>What was asked for needs an edition to be live, and none of its kind was ever published: the workspace is not set up yet.</summary>
public sealed class NotSetUpException(string kind) : Exception($"no {kind} edition is live")
{
    /// <summary>What is missing, for people.</summary>
    public string Missing { get; } = kind == Edition.Rules ? "rule sheet" : "scoring model";
}
