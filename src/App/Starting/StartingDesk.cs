using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Intake;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Rights;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Starting;

/// <summary>Puts a starting set in place, and takes it back while nothing was done with it.</summary>
public sealed class StartingDesk(LanternDb db, WorkspaceConfiguration configuration, TimeProvider clock)
{
    private const string Lock = "starting";
    private const string Lists = "value-lists";
    private const string Fields = "custom-fields";
    private static readonly string[] s_entries = [Lists, Fields, MessageTemplates.Entry, StepPlan.Entry];

    /// <summary>
    /// Puts a set in place: value lists, fields, sources of the ways that were chosen, pipelines, the live scoring model and rule sheet, forms, templates, views. Its teams are made, each
    /// with everybody who works leads, unless one of the company's own is named in place of it.
    /// </summary>
    /// <param name="own">Key of the company's own team by key of the set's.</param>
    public async Task<Problem?> Put(string key, IReadOnlyDictionary<string, string> own, Guid by)
    {
        if (StartingSets.Find(key, configuration.Current.Company.Country) is not { } set)
            return Problem.NotFound("starting set");
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.LockUntilEnd(Lock);
        if (await FirstHour.Read(db) is not { } hour || await IsSetUp())
            return new Problem("set-up-already");
        var teams = await db.Set<TeamRow>().Select(t => t.Key).ToListAsync();
        if (own.Values.FirstOrDefault(t => !teams.Contains(t)) is { } unknown)
            return new Problem("team-unknown", "teams", unknown);
        var made = await MakeTeams([.. set.Teams.Where(t => !own.ContainsKey(t.Key) && !teams.Contains(t.Key))]);
        var written = await Write(set, hour.Ways, own, by);
        await db.SaveChangesAsync();
        var (before, after) = await Entries(set);
        hour = hour with { Set = key, Teams = made, Made = written, Before = before, After = after, Left = [.. hour.Left.Where(s => s != StartStep.Set)] };
        await hour.Save(db);
        await transaction.CommitAsync();
        await configuration.Changed();
        return null;
    }

    /// <summary>Takes the set back, so that another can be chosen. Refused once there are leads, deals or forms of one's own: from then on it is changed piece by piece.</summary>
    public async Task<Problem?> TakeBack()
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.LockUntilEnd(Lock);
        if (await FirstHour.Read(db) is not { Set: { } key } hour || StartingSets.Find(key, null) is not { } set)
            return Problem.NotFound("starting set");
        if (await IsInUse(set, hour))
            return new Problem("set-in-use");
        await db.Run(
            $"""
            delete from edition where kind in ({Edition.Rules}, {Edition.Scoring}) or kind = any({hour.Made.Forms.Select(FormRow.EditionKind).ToArray()});
            delete from form where key = any({hour.Made.Forms.ToArray()});
            delete from source where key = any({hour.Made.Sources.ToArray()});
            delete from stage; delete from pipeline;
            delete from tag where key = any({hour.Made.Tags.ToArray()});
            delete from lead_view where owner_id is null;
            delete from turn where team_key = any({hour.Teams.ToArray()});
            delete from team where key = any({hour.Teams.ToArray()});
            delete from setup_entry where key = any({s_entries})
            """
        );
        foreach (var (entry, body) in hour.Before)
            await SetupEntries.Save(db, entry, body);
        await (hour with { Set = null, Teams = [], Before = new Dictionary<string, string>(), After = new Dictionary<string, string>() }).Save(db);
        await transaction.CommitAsync();
        await configuration.Changed();
        return null;
    }

    /// <summary>True while nothing was done with the set.</summary>
    public async Task<bool> CanTakeBack(FirstHour hour) => hour.Set is { } key && StartingSets.Find(key, null) is { } set && !await IsInUse(set, hour);

    private Task<bool> IsSetUp() =>
        db.One<bool>($"""select exists (select 1 from pipeline) or exists (select 1 from edition where kind in ({Edition.Rules}, {Edition.Scoring})) as "Value" """);

    // Anything that was taken in, made or changed by hand since would be lost with it.
    private async Task<bool> IsInUse(StartingSet set, FirstHour hour)
    {
        var now = await Bodies();
        return s_entries.Any(e => now.GetValueOrDefault(e) != hour.After.GetValueOrDefault(e)) || await IsWorkedWith(set, hour.Made);
    }

    private Task<bool> IsWorkedWith(StartingSet set, MadeBySet made) =>
        db.One<bool>(
            $"""
            select exists (select 1 from lead) or exists (select 1 from deal) or exists (select 1 from import) or exists (select 1 from single_arrival)
              or exists (select 1 from form where key <> all({made.Forms.ToArray()}) or version > 1)
              or exists (select 1 from source where key <> all({made.Sources.ToArray()}))
              or exists (select 1 from pipeline where key <> all({set.Pipelines.Select(p => p.Key).ToArray()}) or version > 1)
              or exists (select 1 from edition where kind in ({Edition.Rules}, {Edition.Scoring}) and number > 1)
              as "Value" {RecordScope.Unscoped("whether anything was begun"):sql}
            """
        );

    // Whoever works leads is in each of them: the company sorts them out as it knows them.
    private async Task<IReadOnlyList<string>> MakeTeams(IReadOnlyList<SetTeam> teams)
    {
        var people = await db.Users.Where(Person.HasAny(configuration.Current.Roles.GivenLeads)).OrderBy(p => p.DisplayName).ThenBy(p => p.Id).Select(p => p.Id).ToListAsync();
        foreach (var team in teams)
        {
            db.Add(new TeamRow { Key = team.Key, Name = team.Name });
            db.AddRange(
                people.Select(
                    (p, i) =>
                        new TurnRow
                        {
                            TeamKey = team.Key,
                            PersonId = p,
                            Position = i,
                            Weight = 1,
                        }
                )
            );
        }
        return [.. teams.Select(t => t.Key)];
    }

    // The company's own values and fields stay beside those of the set; its own templates and plans in place of them.
    private async Task<(IReadOnlyDictionary<string, string> Before, IReadOnlyDictionary<string, string> After)> Entries(StartingSet set)
    {
        var before = await Bodies();
        var fields = before.TryGetValue(Fields, out var kept) ? Json.Read<List<CustomField>>(kept) : [];
        await db.Run(
            $"""
            insert into setup_entry (key, body) values ({Lists}, {Json.Write(set.ValueLists)}::jsonb) on conflict (key) do update set body = excluded.body || setup_entry.body;
            insert into setup_entry (key, body) values ({MessageTemplates.Entry}, {Json.Write(set.Templates)}::jsonb), ({StepPlan.Entry}, {Json.Write(
                set.StepPlans
            )}::jsonb) on conflict (key) do nothing
            """
        );
        await SetupEntries.Save(db, Fields, Json.Write(fields.Concat(set.CustomFields.Where(f => fields.All(x => x.Key != f.Key)))));
        return (before, await Bodies());
    }

    private async Task<Dictionary<string, string>> Bodies() =>
        await db.Set<SetupEntry>().AsNoTracking().Where(e => s_entries.Contains(e.Key)).ToDictionaryAsync(e => e.Key, e => e.Body);

    private async Task<MadeBySet> Write(StartingSet set, IReadOnlyList<string>? ways, IReadOnlyDictionary<string, string> own, Guid by)
    {
        var writer = new SetWriter(db, clock.UtcNow());
        // A form that somebody has begun already stays, with its source.
        var there = await db.Set<SourceRow>()
            .Select(s => s.Key)
            .Concat(db.Set<FormRow>().Select(f => f.Source))
            .Concat(db.Set<FormRow>().Select(f => "form-" + f.Key))
            .ToListAsync();
        var sources = set.Sources.Where(s => (ways is null || s.Way.Length == 0 || ways.Contains(s.Way)) && !there.Contains(s.Key)).ToList();
        var forms = await db.Set<FormRow>().Select(f => f.Key).ToListAsync();
        writer.Sources(sources);
        var tags = await db.Set<TagRow>().Select(t => t.Key).ToListAsync();
        var newTags = set.Tags.Where(t => !tags.Contains(t.Key)).ToList();
        writer.Tags(newTags);
        writer.Pipelines(set.Pipelines, configuration.Current.Company.Currency);
        writer.Live(Edition.Scoring, Json.Write(Model(set)), by);
        writer.Live(Edition.Rules, Json.Write(set.Rules with { Rules = [.. set.Rules.Rules.Select(r => r with { To = Named(r.To, own) })] }), by);
        var newForms = set.Forms.Where(f => sources.Any(s => s.Key == f.Source) && !forms.Contains(f.Key)).ToList();
        writer.Forms(newForms);
        writer.Views(set.Views);
        return new MadeBySet([.. sources.Select(s => s.Key)], [.. newForms.Select(f => f.Key)], [.. newTags.Select(t => t.Key)]);
    }

    /// <exception cref="InvalidDataException">The file of the set has a mistake.</exception>
    internal static ScoringModel Model(StartingSet set)
    {
        var reading = ModelFile.Read(set.Model.ToJsonString());
        return reading is { Model: { } model, Problems: [] } ? model : throw new InvalidDataException($"{set.Key}: {string.Join(" ", reading.Problems.Select(p => p.Words))}");
    }

    private static RuleOutcome Named(RuleOutcome to, IReadOnlyDictionary<string, string> own) =>
        to with
        {
            Team = to.Team is { } team ? own.GetValueOrDefault(team, team) : null,
            Else = to.Else is { } other ? Named(other, own) : null,
        };
}
