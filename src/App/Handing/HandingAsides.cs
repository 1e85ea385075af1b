using DapperLantern.App.Data;
using DapperLantern.App.Intake.Http;
using DapperLantern.App.People;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Handing;
using DapperLantern.Core.Routing;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handing;

/// <summary>What somebody has beside records: places in turns and in the rule sheet, people who report to them, access tokens, the address of their calendar.</summary>
internal sealed class HandingAsides(LanternDb db, WorkspaceConfiguration configuration)
{
    /// <summary>Counts of what somebody has.</summary>
    /// <param name="Rules">Names of the rules that name them.</param>
    /// <param name="Places">Names of the teams in which they have a place.</param>
    public sealed record Standing(IReadOnlyList<string> Rules, IReadOnlyList<string> Places, IReadOnlyList<string> Reports, int Tokens, bool HasCalendar);

    /// <summary>What was given away.</summary>
    public sealed record Given(IReadOnlyList<string> Rules, int Places, int Reports, int Tokens);

    public async Task<Standing> Of(Person person) =>
        new(
            await Sheet() is { } sheet ? SheetNames.Of(sheet, person.UserName!) : [],
            await db.Set<TurnRow>().Where(t => t.PersonId == person.Id).Join(db.Set<TeamRow>(), t => t.TeamKey, t => t.Key, (_, team) => team.Name).OrderBy(n => n).ToListAsync(),
            await db.Users.Where(p => p.ManagerId == person.Id).OrderBy(p => p.DisplayName).Select(p => p.DisplayName).ToListAsync(),
            await Tokens(person.Id).CountAsync(),
            person.CalendarHash is not null
        );

    private async Task<RuleSheet?> Sheet() => await configuration.Current.HasRules(db) ? (await configuration.Current.Rules(db)).Router.Sheet : null;

    private IQueryable<AccessTokenRow> Tokens(Guid person) => db.Set<AccessTokenRow>().Where(t => t.PersonId == person && t.RevokedAt == null);

    /// <summary>Gives it all away where the person leaves; enters the absence of a leave. What was there is kept with the handing.</summary>
    public async Task<Outcome<Given>> Give(Person person, HandingOrder order, Receivers receivers, HandingRow handing, Guid by, DateTime now)
    {
        if (!order.Leaves)
        {
            if (handing.EndsAt is { } ends)
                await Note(handing, new HandingAside(Absence: await Absent(person.Id, now, ends)));
            return new Given([], 0, 0, 0);
        }
        if (new[] { order.PlacesTo, order.RulesTo }.OfType<Guid>().Select(to => receivers.Unfit(to, HeldKind.Lead)).OfType<Problem>().FirstOrDefault() is { } unfit)
            return unfit;
        if (order.ReportsTo is { } above)
        {
            if (receivers.Find(above) is null)
                return new Problem("owner-unknown", "reportsTo");
            // Who reports to one of those that report to the person: these could not report to them in turn.
            if ((await PeopleDesk.Above(db, above)).Skip(1).Contains(person.Id))
                return new Problem("report-circle", "reportsTo");
        }
        var rules = await GiveRules(person, order, receivers, by, now);
        if (rules.Problem is { } wrong)
            return wrong;
        var (places, taken) = await GivePlaces(person.Id, order.PlacesTo);
        var reports = await GiveReports(person.Id, order.ReportsTo);
        var tokens = await Tokens(person.Id).ExecuteUpdateAsync(s => s.SetProperty(t => t.RevokedAt, now));
        person.CalendarHash = null;
        await db.SaveChangesAsync();
        await Note(handing, new HandingAside(places, order.PlacesTo, taken, rules.Value!.Before, rules.Value.After, reports, order.ReportsTo));
        return new Given(rules.Value.Names, places.Count, reports.Count, tokens);
    }

    private Task Note(HandingRow handing, HandingAside aside)
    {
        var text = Json.Write(aside);
        return db.Set<HandingRow>().Where(h => h.Id == handing.Id).ExecuteUpdateAsync(s => s.SetProperty(h => h.Aside, text));
    }

    // The absence that keeps new leads from them meanwhile; null where one is entered already.
    private async Task<Guid?> Absent(Guid person, DateTime now, DateTime ends)
    {
        if (await db.Set<AbsenceRow>().AnyAsync(a => a.PersonId == person && a.Starts <= now && a.Ends >= ends))
            return null;
        var absence = new AbsenceRow
        {
            Id = Guid.CreateVersion7(),
            PersonId = person,
            Starts = now,
            Ends = ends,
            Why = "on leave",
        };
        await db.Insert(absence);
        return absence.Id;
    }

    private async Task<Outcome<GivenRules>> GiveRules(Person person, HandingOrder order, Receivers receivers, Guid by, DateTime now)
    {
        var workspace = await Editions.HoldLive(db, Edition.Rules, configuration);
        if (!await workspace.HasRules(db))
            return new GivenRules([], null, null);
        var live = await workspace.Rules(db);
        var names = SheetNames.Of(live.Router.Sheet, person.UserName!);
        if (names.Count == 0)
            return new GivenRules([], null, null);
        var to =
            order.RulesTo is { } heir ? new RuleOutcome(Person: receivers.Find(heir)!.SignIn)
            : order.RulesTeam is { } team && receivers.Teams.Any(t => t.Key == team) ? new RuleOutcome(Team: team)
            : null;
        if (to is null)
            return Problem.Of("handing-sheet", "rulesTo", names);
        var edition = await Editions.Add(db, Edition.Rules, Json.Write(SheetNames.With(live.Router.Sheet, person.UserName!, to)), $"{person.DisplayName} left");
        await Editions.GoLive(db, Edition.Rules, edition, by, now);
        return new GivenRules(names, live.Edition, edition);
    }

    // The teams where the heir is new come with it.
    private async Task<(IReadOnlyList<HeldPlace> Places, IReadOnlyList<string> New)> GivePlaces(Guid person, Guid? to)
    {
        var teams = await db.Set<TeamRow>().Select(t => t.Key).ToListAsync();
        var turns = (await db.Set<TurnRow>().AsNoTracking().Where(t => teams.Contains(t.TeamKey)).OrderBy(t => t.Position).ThenBy(t => t.PersonId).ToListAsync()).ToLookup(t =>
            t.TeamKey
        );
        List<HeldPlace> places = [];
        List<string> fresh = [];
        foreach (var team in turns.Where(t => t.Any(x => x.PersonId == person)))
        {
            var order = team.ToList();
            var index = order.FindIndex(t => t.PersonId == person);
            places.Add(new HeldPlace(team.Key, index, order[index].Weight));
            var isNew = to is not null && order.All(t => t.PersonId != to);
            if (isNew)
                fresh.Add(team.Key);
            await TeamEndpoints.Places(
                db,
                team.Key,
                [.. order.Where(t => t.PersonId != person || isNew).Select(t => new PlaceOrder(t.PersonId == person ? to!.Value : t.PersonId, t.Weight))],
                1
            );
        }
        return (places, fresh);
    }

    private async Task<IReadOnlyList<Guid>> GiveReports(Guid person, Guid? to)
    {
        var reports = await db.Users.Where(p => p.ManagerId == person).Select(p => p.Id).ToListAsync();
        // Who is to be above the others cannot be below themselves.
        await db.Users.Where(p => reports.Contains(p.Id)).ExecuteUpdateAsync(s => s.SetProperty(p => p.ManagerId, p => p.Id == to ? null : to));
        return reports;
    }

    /// <summary>Gives back what nobody changed since. In the caller's transaction, with the rotations held.</summary>
    /// <returns>What could not be given back, in words.</returns>
    public async Task<IReadOnlyList<string>> Back(HandingRow handing, Guid? by, DateTime now)
    {
        var aside = Json.Read<HandingAside>(handing.Aside);
        List<string> left = [];
        foreach (var place in aside.Places ?? [])
            await PlaceBack(handing.PersonId, place, aside.PlacesNew?.Contains(place.Team) == true ? aside.PlacesTo : null);
        if (aside.Reports is { Count: > 0 } reports)
            await db
                .Users.Where(p => reports.Contains(p.Id) && (p.ManagerId == aside.ReportsTo || p.ManagerId == null))
                .ExecuteUpdateAsync(s => s.SetProperty(p => p.ManagerId, handing.PersonId));
        if (aside.Absence is { } absence)
            await db.Set<AbsenceRow>().Where(a => a.Id == absence).ExecuteUpdateAsync(s => s.SetProperty(a => a.Ends, a => a.Ends > now && a.Starts < now ? now : a.Ends));
        if (aside is { Rules: { } before, RulesAfter: { } after } && !await RulesBack(before, after, by, now))
            left.Add("The rule sheet was changed since and stays as it is.");
        return left;
    }

    private async Task PlaceBack(Guid person, HeldPlace place, Guid? instead)
    {
        if (!await db.Set<TeamRow>().AnyAsync(t => t.Key == place.Team))
            return;
        var order = await db.Set<TurnRow>()
            .AsNoTracking()
            .Where(t => t.TeamKey == place.Team && t.PersonId != instead)
            .OrderBy(t => t.Position)
            .ThenBy(t => t.PersonId)
            .ToListAsync();
        if (order.Any(t => t.PersonId == person))
            return;
        var places = order.ConvertAll(t => new PlaceOrder(t.PersonId, t.Weight));
        places.Insert(Math.Min(place.Position, places.Count), new PlaceOrder(person, place.Weight));
        await TeamEndpoints.Places(db, place.Team, places, 1);
    }

    private async Task<bool> RulesBack(Guid before, Guid after, Guid? by, DateTime now)
    {
        await Editions.HoldLive(db, Edition.Rules, configuration);
        if (!await db.Set<Edition>().AnyAsync(e => e.Id == after && e.State == "live"))
            return false;
        var number = await db.Set<Edition>().Where(e => e.Id == before).Select(e => e.Number).SingleAsync();
        await Editions.GoLive(db, Edition.Rules, await Editions.Again(db, Edition.Rules, number), by, now);
        return true;
    }

    private sealed record GivenRules(IReadOnlyList<string> Names, Guid? Before, Guid? After);
}
