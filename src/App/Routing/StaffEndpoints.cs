using System.Collections.Immutable;
using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Routing;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace DapperLantern.App.Routing;

public sealed record AbsenceView(Guid Id, Guid Person, string Name, DateTime Starts, DateTime Ends, Guid? StandIn, string? StandInName, string Why);

/// <param name="WorksDays">Bits, Monday is 1.</param>
/// <param name="Open">Open leads now.</param>
public sealed record StaffMember(
    Guid Id,
    string Name,
    string TimeZone,
    TimeOnly WorksFrom,
    TimeOnly WorksTo,
    int WorksDays,
    string? Holidays,
    int Capacity,
    int? CapacityToday,
    IReadOnlyList<string> Languages,
    IReadOnlyList<string> Skills,
    IReadOnlyList<string> Serves,
    bool Here,
    int Open
);

public sealed record HolidayList(string Key, string Name, int Days, DateOnly? From, DateOnly? To);

/// <param name="LeftOut">Events of the list of holidays just read that could not be, each with its line and the reason; null for any other answer.</param>
public sealed record StaffView(
    IReadOnlyList<StaffMember> People,
    IReadOnlyList<AbsenceView> Absences,
    IReadOnlyList<HolidayList> Calendars,
    IReadOnlyList<Named> Languages,
    IReadOnlyList<Named> Skills,
    IReadOnlyList<string>? LeftOut = null
);

public sealed record MemberOrder(
    [Text(100)] string TimeZone,
    TimeOnly WorksFrom,
    TimeOnly WorksTo,
    [Between(0, 127)] int WorksDays,
    [Text(100)] string? Holidays,
    [Between(1, 10_000)] int Capacity,
    [Between(1, 1_000)] int? CapacityToday,
    [Count(200, Each = 100)] IReadOnlyList<string> Languages,
    [Count(100, Each = 100)] IReadOnlyList<string> Skills,
    [Count(1_000, Each = 100)] IReadOnlyList<string> Serves
);

/// <param name="Starts">First day away, in the person's zone.</param>
/// <param name="Ends">Last day away.</param>
public sealed record AbsenceOrder(Guid Person, DateOnly Starts, DateOnly Ends, Guid? StandIn, [Text(200)] string Why = "");

/// <summary>
/// Teams, territories, skills, hours and absences. No change is taken that the live rule sheet could not live with: whom it names stays, and can be reached.
/// </summary>
public static class StaffEndpoints
{
    public static void MapStaff(this IEndpointRouteBuilder api)
    {
        api.MapGet("/staff", Show).Requires(Act.SeeRouting).WithTags("Staff").WithSummary("Reps with their hours, capacity, territories, skills and absences");
        var run = api.MapGroup("/staff").Requires(Act.SetUp).WithTags("Staff");
        run.MapPut("/people/{id:guid}", Member).WithSummary("Change a rep's hours, capacity, territories, languages and skills");
        run.MapTeams();
        run.MapPost("/absences", Away).WithSummary("Enter an absence, with who stands in");
        run.MapDelete("/absences/{id:guid}", Back).WithSummary("Take an absence away");
        run.MapPut("/skills", Skills).WithSummary("The list of skills");
        run.MapPost("/calendars", Calendar).WithSummary("Read holidays from an iCalendar file").Accepts<string>("text/calendar", "application/octet-stream", "application/json");
        run.MapDelete("/calendars/{key}", DropCalendar).WithSummary("Take a list of holidays away");
    }

    private static async Task<Ok<StaffView>> Show(LanternDb db, Workspace workspace, TimeProvider clock) => TypedResults.Ok(await View(db, workspace, clock.UtcNow()));

    private static async Task<StaffView> View(LanternDb db, Workspace workspace, DateTime now)
    {
        var people = await db.Set<Person>().AsNoTracking().Where(Person.HasAny(workspace.Roles.GivenLeads)).OrderBy(p => p.DisplayName).ThenBy(p => p.Id).ToListAsync();
        var open = await db.Set<RepLoadRow>().AsNoTracking().ToDictionaryAsync(r => r.PersonId, r => r.Open);
        var absences = await (
            from a in db.Set<AbsenceRow>()
            where a.Ends > now
            join p in db.Set<Person>() on a.PersonId equals p.Id
            join s in db.Set<Person>() on a.StandInId equals s.Id into standIns
            from s in standIns.DefaultIfEmpty()
            orderby a.Starts, p.DisplayName
            select new AbsenceView(a.Id, a.PersonId, p.DisplayName, a.Starts, a.Ends, a.StandInId, s.DisplayName, a.Why)
        ).ToListAsync();
        var calendars = await (
            from c in db.Set<HolidayCalendarRow>()
            orderby c.Name
            select new HolidayList(
                c.Key,
                c.Name,
                db.Set<HolidayRow>().Count(h => h.CalendarKey == c.Key),
                db.Set<HolidayRow>().Where(h => h.CalendarKey == c.Key).Min(h => (DateOnly?)h.Day),
                db.Set<HolidayRow>().Where(h => h.CalendarKey == c.Key).Max(h => (DateOnly?)h.Day)
            )
        ).ToListAsync();
        return new StaffView(
            [
                .. people.Select(p => new StaffMember(
                    p.Id,
                    p.DisplayName,
                    p.TimeZone,
                    p.WorksFrom,
                    p.WorksTo,
                    p.WorksDays,
                    p.Holidays,
                    p.Capacity,
                    p.CapacityToday,
                    p.Languages,
                    p.Skills,
                    p.Serves,
                    p.Here,
                    open.GetValueOrDefault(p.Id)
                )),
            ],
            [.. absences],
            [.. calendars],
            [.. workspace.Catalogue["language"].Choices.Select(c => new Named(c.Key, c.Label))],
            [.. workspace.Skills.Select(c => new Named(c.Key, c.Label))]
        );
    }

    private static async Task<Results<Ok<StaffView>, ProblemHttpResult>> Member(Guid id, MemberOrder body, LanternDb db, WorkspaceConfiguration configuration, TimeProvider clock)
    {
        var workspace = configuration.Current;
        if (Unfit(body, workspace) is { } unfit)
            return ApiProblems.Of(unfit);
        return await Change(
            db,
            configuration,
            clock,
            db =>
                db.Set<Person>()
                    .Where(Person.HasAny(workspace.Roles.GivenLeads))
                    .Where(p => p.Id == id && (body.Holidays == null || db.Set<HolidayCalendarRow>().Any(c => c.Key == body.Holidays)))
                    .ExecuteUpdateAsync(s =>
                        s.SetProperty(p => p.TimeZone, body.TimeZone)
                            .SetProperty(p => p.WorksFrom, body.WorksFrom)
                            .SetProperty(p => p.WorksTo, body.WorksTo)
                            .SetProperty(p => p.WorksDays, body.WorksDays)
                            .SetProperty(p => p.Holidays, body.Holidays)
                            .SetProperty(p => p.Capacity, body.Capacity)
                            .SetProperty(p => p.CapacityToday, body.CapacityToday)
                            .SetProperty(p => p.Languages, body.Languages.Distinct().ToArray())
                            .SetProperty(p => p.Skills, body.Skills.Distinct().ToArray())
                            .SetProperty(p => p.Serves, body.Serves.Distinct().ToArray())
                    ),
            Problem.NotFound("person or list of holidays")
        );
    }

    private static Problem? Unfit(MemberOrder body, Workspace workspace)
    {
        if (DateTimeZoneProviders.Tzdb.GetZoneOrNull(body.TimeZone) is null)
            return new Problem("zone-unknown", "timeZone", body.TimeZone);
        if (Unfit(body.WorksFrom, body.WorksTo, body.WorksDays) is { } hours)
            return hours;
        if (body.Languages.FirstOrDefault(l => workspace.Catalogue["language"].Choices.All(c => c.Key != l)) is { } language)
            return new Problem("language-not-listed", "languages", language);
        if (body.Skills.FirstOrDefault(s => workspace.Skills.All(c => c.Key != s)) is { } skill)
            return new Problem("skill-unknown", "skills", skill);
        if (body.Serves.FirstOrDefault(s => Countries.NameOf(s) is null && Regions.NameOf(s) is null) is { } place)
            return new Problem("place-unknown", "serves", place);
        return null;
    }

    /// <summary>Why nobody can work like this; null where they can.</summary>
    internal static Problem? Unfit(TimeOnly from, TimeOnly to, int days) =>
        to <= from ? new Problem("hours-reversed", "worksTo")
        : days is < 1 or > WeekDays.All ? new Problem("days-missing", "worksDays")
        : null;

    /// <summary>Changes the staff in one transaction with the rotations held, and only if the live sheet can live with it.</summary>
    /// <param name="change">Gives how many rows it changed.</param>
    /// <param name="nothing">What is wrong where it changed none.</param>
    internal static async Task<Results<Ok<StaffView>, ProblemHttpResult>> Change(
        LanternDb db,
        WorkspaceConfiguration configuration,
        TimeProvider clock,
        Func<LanternDb, Task<int>> change,
        Problem nothing
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var problem = await Try(db, configuration.Current, clock, async () => await change(db) == 0 ? nothing : null);
        if (problem is not null)
            return ApiProblems.Of(problem);
        await transaction.CommitAsync();
        var workspace = await configuration.Changed();
        return TypedResults.Ok(await View(db, workspace, clock.UtcNow()));
    }

    /// <summary>Changes people or teams with the rotations held; what the live sheet could not live with is refused. In the caller's transaction, which must not be committed then.</summary>
    /// <param name="change">Gives why it was not done; null where it was.</param>
    internal static async Task<Problem?> Try(LanternDb db, Workspace workspace, TimeProvider clock, Func<Task<Problem?>> change)
    {
        if (!await workspace.HasRules(db))
            return await change();
        await RoutingContext.Open(db, clock.UtcNow());
        var before = await Faults(db, workspace, clock);
        if (await change() is { } problem)
            return problem;
        return (await Faults(db, workspace, clock)).Except(before).FirstOrDefault() is { } fault ? Problem.Of("sheet-needs-it", "", new Whole(fault)) : null;
    }

    private static async Task<List<string>> Faults(LanternDb db, Workspace workspace, TimeProvider clock)
    {
        var desk = await RoutingContext.Open(db, clock.UtcNow(), hold: false);
        // Who stands in for whom later counts as well as now.
        var now = clock.UtcNow();
        var standIns = (
            await (
                from a in db.Set<AbsenceRow>()
                where a.Ends > now
                join p in db.Set<Person>() on a.PersonId equals p.Id
                join s in db.Set<Person>() on a.StandInId equals s.Id
                select new { Person = p.UserName!, StandIn = s.UserName! }
            )
                .Distinct()
                .ToListAsync()
        ).ToLookup(s => s.Person, s => s.StandIn);
        var faults = SheetCheck
            .Form((await workspace.Rules(db)).Router.Sheet, workspace.Catalogue, SheetWords.Staff(desk, workspace))
            .Where(f => f.Blocks)
            .Select(f => f.Words)
            .ToList();
        foreach (var person in standIns.Select(s => s.Key))
            if (Reaches(person, person, standIns, []))
                faults.Add($"{desk.State.BySignIn(person)?.Name ?? person} is stood in for in a circle.");
        return faults;
    }

    private static bool Reaches(string from, string to, ILookup<string, string> standIns, HashSet<string> seen) =>
        standIns[from].Any(next => next == to || (seen.Add(next) && Reaches(next, to, standIns, seen)));

    private static async Task<Results<Ok<StaffView>, ProblemHttpResult>> Away(AbsenceOrder body, LanternDb db, WorkspaceConfiguration configuration, TimeProvider clock)
    {
        if (body.Ends < body.Starts || body.Ends.DayNumber - body.Starts.DayNumber > 366)
            return ApiProblems.Of("absence-range", "ends");
        if (body.StandIn == body.Person)
            return ApiProblems.Of("stand-in-self", "standIn");
        return await Change(
            db,
            configuration,
            clock,
            async db =>
            {
                if (await db.Set<Person>().Where(x => x.Id == body.Person).Select(x => x.TimeZone).SingleOrDefaultAsync() is not { } zone)
                    return 0;
                await db.Insert(
                    new AbsenceRow
                    {
                        Id = Guid.CreateVersion7(),
                        PersonId = body.Person,
                        Starts = StartOf(body.Starts, zone),
                        Ends = StartOf(body.Ends.AddDays(1), zone),
                        StandInId = await db.Set<Person>().Where(x => x.Id == body.StandIn).Select(x => (Guid?)x.Id).SingleOrDefaultAsync(),
                        Why = body.Why,
                    }
                );
                return 1;
            },
            Problem.NotFound("person")
        );
    }

    /// <summary>The first moment of a day in a zone.</summary>
    internal static DateTime StartOf(DateOnly day, string zone) =>
        LocalDate.FromDateOnly(day).AtStartOfDayInZone(DateTimeZoneProviders.Tzdb.GetZoneOrNull(zone) ?? DateTimeZone.Utc).ToInstant().ToUtc();

    private static Task<Results<Ok<StaffView>, ProblemHttpResult>> Back(Guid id, LanternDb db, WorkspaceConfiguration configuration, TimeProvider clock) =>
        Change(db, configuration, clock, db => db.Set<AbsenceRow>().Where(x => x.Id == id).ExecuteDeleteAsync(), Problem.NotFound("absence"));

    private static async Task<Results<Ok<StaffView>, ProblemHttpResult>> Skills(IReadOnlyList<Named> body, LanternDb db, WorkspaceConfiguration configuration, TimeProvider clock)
    {
        if (body.Count > 100 || body.Any(s => FieldReader.Clean(s.Name) is not { Length: > 0 and <= 60 } || s.Key.Any(char.IsWhiteSpace) || s.Key.Length is 0 or > 60))
            return ApiProblems.Of("skill-unfit");
        var skills = Json.Write(body.DistinctBy(s => s.Key).Select(s => new Choice(s.Key, FieldReader.Clean(s.Name))));
        return await Change(
            db,
            configuration,
            clock,
            db =>
                db.Run(
                    $$"""
                    insert into setup_entry (key, body) values ('value-lists', jsonb_build_object('skills', {{skills}}::jsonb))
                    on conflict (key) do update set body = jsonb_set(setup_entry.body, '{skills}', {{skills}}::jsonb)
                    """
                ),
            Problem.NotFound("list")
        );
    }

    private static async Task<Results<Ok<StaffView>, ProblemHttpResult>> Calendar(
        string name,
        HttpRequest request,
        LanternDb db,
        WorkspaceConfiguration configuration,
        TimeProvider clock
    )
    {
        if (FieldReader.Clean(name) is not { Length: > 0 and <= 60 } title || Folding.Heading(title) is not { Length: > 0 } heading)
            return ApiProblems.Of("name-missing", "name", 60);
        using var reader = new StreamReader(request.Body);
        var (days, leftOut, problem) = HolidayFile.Read(await reader.ReadToEndAsync(), clock.UtcNow());
        if (problem is not null)
            return ApiProblems.Of(problem);
        var changed = await Change(db, configuration, clock, db => HolidayFile.Save(db, heading.Replace(' ', '-'), title, days), Problem.NotFound("list of holidays"));
        return changed.Result is Ok<StaffView> { Value: { } view } ? TypedResults.Ok(view with { LeftOut = leftOut }) : changed;
    }

    private static async Task<Results<Ok<StaffView>, ProblemHttpResult>> DropCalendar(string key, LanternDb db, WorkspaceConfiguration configuration, TimeProvider clock)
    {
        var followers = await db.Set<Person>().Where(x => x.Holidays == key).OrderBy(x => x.DisplayName).Select(x => x.DisplayName).ToListAsync();
        if (followers.Count > 0)
            return ApiProblems.Of("holidays-followed", "", followers.Take(5), (followers.Count > 5 ? $" and {followers.Count - 5} more" : ""));
        return await Change(
            db,
            configuration,
            clock,
            db => db.Set<HolidayCalendarRow>().Where(c => c.Key == key && !db.Set<Person>().Any(p => p.Holidays == key)).ExecuteDeleteAsync(),
            Problem.NotFound("list of holidays")
        );
    }
}
