using System.Security.Claims;
using DapperLantern.App.Company;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Starting;

/// <summary>The steps of the first hour, in their order.</summary>
public static class StartStep
{
    public const string Company = "company";
    public const string Mail = "mail";
    public const string People = "people";
    public const string Ways = "ways";
    public const string Set = "set";
    public const string Leads = "leads";
    public const string Handover = "handover";

    public static IReadOnlyList<string> All { get; } = [Company, Mail, People, Ways, Set, Leads, Handover];
}

/// <param name="Done">True where what it asks for is there.</param>
/// <param name="Left">True where it was left for later.</param>
public sealed record StepView(string Key, bool Done, bool Left);

/// <summary>A starting set that can be chosen.</summary>
/// <param name="Holds">What it brings, for people: "1 pipeline with 6 stages".</param>
/// <param name="Teams">Teams that its rules give leads to.</param>
public sealed record SetOffer(string Key, string Name, string About, IReadOnlyList<string> Holds, IReadOnlyList<ChoiceView> Teams);

/// <summary>How far the first hour has come.</summary>
/// <param name="Ended">True once it was ended, and in a workspace that never had one.</param>
/// <param name="Chosen">Keys of the ways in that were chosen; all before anything was said.</param>
/// <param name="Set">Key of the set in place; null for none.</param>
/// <param name="CanTakeBack">True while the set can be taken back.</param>
/// <param name="People">Others than the one who began, invited or here.</param>
/// <param name="Workers">Those who work leads, invited or here; <paramref name="AtWork"/>: those of them who have come in.</param>
/// <param name="Unowned">Open leads without an owner, counted up to a hundred.</param>
/// <param name="Leads">Leads there are, counted up to a hundred.</param>
/// <param name="FirstLead">The lead to go the whole way with; null while there is none.</param>
/// <param name="FirstForm">A form that can be tried; null while there is none.</param>
public sealed record StartView(
    bool Ended,
    IReadOnlyList<StepView> Steps,
    IReadOnlyList<ChoiceView> Ways,
    IReadOnlyList<string> Chosen,
    IReadOnlyList<SetOffer> Sets,
    IReadOnlyList<ChoiceView> Teams,
    string? Set,
    bool CanTakeBack,
    int People,
    int Workers,
    int AtWork,
    int Leads,
    int Unowned,
    Guid? FirstLead,
    string? FirstForm
);

public sealed record LeaveOrder([Text(40)] string Step);

public sealed record WaysOrder([Count(20, Each = 40)] IReadOnlyList<string> Ways);

/// <param name="Teams">The company's own team by key of the set's; those left out are made.</param>
public sealed record SetOrder([Text(60)] string Set, [Count(20, Each = 100)] IReadOnlyDictionary<string, string> Teams);

/// <summary>The first hour of a company: a step at a time, each can be left and taken up.</summary>
public static class StartEndpoints
{
    internal static void MapStart(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("/start").Requires(Act.ManagePeople).WithTags("Setup");
        group.MapGet("", Open).WithSummary("How far the first hour has come");
        group.MapPost("/leave", Leave).WithSummary("Leave a step for later");
        group.MapPut("/ways", Choose).WithSummary("Say where leads come from");
        group.MapPost("/set", Put).WithSummary("Put a starting set in place");
        group.MapDelete("/set", TakeBack).WithSummary("Take the starting set back, while nothing was done with it");
        group.MapPost("/end", End).WithSummary("End the first hour");
    }

    private static async Task<Ok<StartView>> Open(LanternDb db, StartingDesk desk, Workspace workspace, MailDoors doors) => TypedResults.Ok(await View(db, desk, workspace, doors));

    private static async Task<StartView> View(LanternDb db, StartingDesk desk, Workspace workspace, MailDoors doors)
    {
        var hour = await FirstHour.Read(db);
        var given = workspace.Roles.GivenLeads;
        var facts = await db.One<StartFacts>(
            $"""
            select (select count(*)::int - 1 from person) as people, (select count(*)::int from person where roles && {given}) as workers,
              (select count(*)::int from person where roles && {given} and here) as at_work,
              (select count(*)::int from (select 1 from lead where owner_id is null and state in ('new', 'in_work') limit 100) x) as unowned,
              (select count(*)::int from (select 1 from lead limit 100) x) as leads, exists (select 1 from deal where lead_id is not null) as handed,
              (select id from lead where state <> 'handed_over' order by number limit 1) as first_lead, (select key from form where not paused order by created_at, key limit 1) as first_form
              {RecordScope.Unscoped("how far the set-up has come, for an administrator"):sql}
            """
        );
        var teams = await db.Set<Routing.TeamRow>().OrderBy(t => t.Name).Select(t => new ChoiceView(t.Key, t.Name)).ToListAsync();
        bool Done(string step) =>
            step switch
            {
                StartStep.Company => workspace.Company.Name.Length > 0,
                StartStep.Mail => doors.Current() is { Sender: not null },
                StartStep.People => facts.Workers > 0,
                StartStep.Ways => hour?.Ways is not null,
                StartStep.Set => workspace.Pipelines.Length > 0,
                StartStep.Leads => facts.Leads > 0,
                _ => facts.Handed,
            };
        return new StartView(
            hour is not { Ended: false },
            [.. StartStep.All.Select(s => new StepView(s, Done(s), hour?.Left.Contains(s) == true))],
            [.. Ways.All.Select(w => new ChoiceView(w.Key, w.Label))],
            [.. hour?.Ways ?? [.. Ways.All.Select(w => w.Key)]],
            s_offers.Value,
            teams,
            hour?.Set,
            hour is not null && await desk.CanTakeBack(hour),
            facts.People,
            facts.Workers,
            facts.AtWork,
            facts.Leads,
            facts.Unowned,
            facts.FirstLead,
            facts.FirstForm
        );
    }

    // The files do not change while the program runs.
    private static readonly Lazy<IReadOnlyList<SetOffer>> s_offers = new(() => [.. StartingSets.Keys.Select(k => Offer(StartingSets.Find(k, null)!))]);

    private static SetOffer Offer(StartingSet set) =>
        new(
            set.Key,
            set.Name,
            set.About,
            [
                .. set.Pipelines.Select(p => $"{p.Name}: {string.Join(", ", p.Stages.Where(s => s.Counts == "open").Select(s => s.Name))}"),
                $"forms: {string.Join(", ", set.Forms.Select(f => f.Name))}",
                $"{set.Views.Count} views, {set.Templates.Count} templates, {StartingDesk.Model(set).Fit.Length} questions of fit, {set.Rules.Rules.Length} rules",
            ],
            [.. set.Teams.Select(t => new ChoiceView(t.Key, t.Name))]
        );

    private static async Task<Results<Ok<StartView>, ProblemHttpResult>> Leave(LeaveOrder body, LanternDb db, StartingDesk desk, Workspace workspace, MailDoors doors) =>
        StartStep.All.Contains(body.Step)
            ? await Note(db, hour => hour with { Left = [.. hour.Left.Append(body.Step).Distinct()] }, desk, workspace, doors)
            : ApiProblems.Of("step-unknown", "step", body.Step);

    private static async Task<Results<Ok<StartView>, ProblemHttpResult>> Choose(WaysOrder body, LanternDb db, StartingDesk desk, Workspace workspace, MailDoors doors)
    {
        if (body.Ways.Count == 0)
            return ApiProblems.Of("way-in-missing", "ways");
        if (body.Ways.FirstOrDefault(w => Ways.All.All(x => x.Key != w)) is { } unknown)
            return ApiProblems.Of("way-in-unknown", "ways", unknown);
        return await Note(db, hour => hour with { Ways = [.. body.Ways.Distinct()], Left = [.. hour.Left.Where(s => s != StartStep.Ways)] }, desk, workspace, doors);
    }

    // Two administrators at once: each finds the other's word.
    private static async Task<Results<Ok<StartView>, ProblemHttpResult>> Note(
        LanternDb db,
        Func<FirstHour, FirstHour> change,
        StartingDesk desk,
        Workspace workspace,
        MailDoors doors
    )
    {
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            await db.LockUntilEnd("starting");
            if (await FirstHour.Read(db) is not { } hour)
                return ApiProblems.Of("set-up-already");
            await change(hour).Save(db);
            await transaction.CommitAsync();
        }
        return TypedResults.Ok(await View(db, desk, workspace, doors));
    }

    private static async Task<Results<Ok<StartView>, ProblemHttpResult>> Put(
        SetOrder body,
        ClaimsPrincipal user,
        LanternDb db,
        StartingDesk desk,
        WorkspaceConfiguration configuration,
        MailDoors doors
    ) => await desk.Put(body.Set, body.Teams, user.Id()) is { } problem ? ApiProblems.Of(problem) : TypedResults.Ok(await View(db, desk, configuration.Current, doors));

    private static async Task<Results<Ok<StartView>, ProblemHttpResult>> TakeBack(LanternDb db, StartingDesk desk, WorkspaceConfiguration configuration, MailDoors doors) =>
        await desk.TakeBack() is { } problem ? ApiProblems.Of(problem) : TypedResults.Ok(await View(db, desk, configuration.Current, doors));

    private static async Task<Results<Ok<StartView>, ProblemHttpResult>> End(LanternDb db, StartingDesk desk, WorkspaceConfiguration configuration, MailDoors doors)
    {
        var ended = await Note(db, hour => hour with { Ended = true }, desk, configuration.Current, doors);
        await configuration.Changed();
        return ended;
    }

    private sealed record StartFacts(int People, int Workers, int AtWork, int Leads, int Unowned, bool Handed, Guid? FirstLead, string? FirstForm);
}
