using System.Collections.Frozen;
using System.Collections.Immutable;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Routing;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace DapperLantern.App.Routing;

/// <summary>
/// What routing needs to know of the moment: reps with their load, rotations, and who owns what is already there. Opening it locks the
/// rotations until the transaction ends, so that two processes never take the same turn.
/// </summary>
public sealed class RoutingContext
{
    /// <summary>Key of the transaction lock under which rotations move; rows alone would not keep two from making the same new rotation.</summary>
    private const long TurnsLock = 0x4C414E545455;

    private readonly Dictionary<Guid, Rep> _reps = [];
    private readonly Dictionary<string, Team> _teams = [];
    private readonly Dictionary<string, Team> _opened = [];
    private readonly HashSet<string> _moved = [];
    private readonly Dictionary<(Guid, DateTime, Duration), DateTime> _due = [];

    private RoutingContext() => State = new RoutingState(_reps, _teams);

    public RoutingState State { get; private set; }
    public IReadOnlyDictionary<Guid, Rep> Reps => _reps;

    /// <summary>The teams people made; the rotations of those who serve a country are in <see cref="State"/>.</summary>
    public IEnumerable<Team> Teams => _teams.Values.Where(t => !t.Key.StartsWith(Team.ServingPrefix, StringComparison.Ordinal)).OrderBy(t => t.Name);

    public Dictionary<Guid, WorkingHours> Hours { get; } = [];

    /// <summary>Who owns what leads belong to; filled for a batch by <see cref="ExistingOwners.Find"/>.</summary>
    public ExistingOwners Standing { get; } = new();

    /// <summary>Reads and, to <paramref name="hold"/> the turns, locks; that requires an open transaction.</summary>
    public static async Task<RoutingContext> Open(LanternDb db, DateTime now, bool hold = true)
    {
        var desk = new RoutingContext();
        if (hold)
            await db.Run($"select pg_advisory_xact_lock({TurnsLock})");
        var turns = (await db.Entities<TurnRow>($"select * from turn order by team_key, position, person_id {(hold ? "for update" : ""):sql}")).ToLookup(t => t.TeamKey);
        var teams = await db.Set<TeamRow>().AsNoTracking().ToListAsync();
        var open = await db.Set<RepLoadRow>().AsNoTracking().ToDictionaryAsync(o => o.PersonId, o => o.Open);
        var people = await db.Set<Person>().AsNoTracking().OrderBy(p => p.DisplayName).ThenBy(p => p.Id).ToListAsync();
        var absences = await db.Set<AbsenceRow>().AsNoTracking().Where(a => a.Starts <= now && a.Ends > now).OrderByDescending(a => a.Ends).ToListAsync();
        var away = absences.DistinctBy(a => a.PersonId).ToDictionary(a => a.PersonId);
        var free = await db.Set<HolidayRow>().AsNoTracking().ToListAsync();
        var holidays = free.GroupBy(h => h.CalendarKey).ToDictionary(g => g.Key, g => g.Select(h => LocalDate.FromDateOnly(h.Day)).ToFrozenSet());
        var today = people.Exists(p => p.CapacityToday is not null) ? await Today(db, now) : [];
        foreach (var person in people)
        {
            var hours = desk.Hours[person.Id] = person.Hours(person.Holidays is { } key ? holidays.GetValueOrDefault(key, []) : []);
            desk._reps[person.Id] = RepOf(person, away.GetValueOrDefault(person.Id)) with
            {
                Open = open.GetValueOrDefault(person.Id),
                Today = today.GetValueOrDefault(person.Id),
                Working = hours.At(now.ToInstant()),
            };
        }
        foreach (var team in teams)
            desk.Put(new Team(team.Key, team.Name, [.. turns[team.Key].Select(TurnOf)]) { OnlyInHours = team.OnlyInHours });
        foreach (var country in people.SelectMany(p => p.Serves).Select(s => s[..2]).Distinct())
            desk.Put(desk.Serving(country, [.. turns[Team.ServingPrefix + country].Select(TurnOf)]));
        desk.State = new RoutingState(desk._reps, desk._teams);
        return desk;
    }

    // What was given to each person since their own midnight.
    private static async Task<Dictionary<Guid, int>> Today(LanternDb db, DateTime now) =>
        (
            await db.Rows<GivenToday>(
                $"""
                select p.id, count(*)::int as count from person p
                join routing_decision d on d.owner_id = p.id and d.at >= (date_trunc('day', {now} at time zone p.time_zone) at time zone p.time_zone)
                where p.capacity_today is not null group by p.id
                """
            )
        ).ToDictionary(t => t.Id, t => t.Count);

    private sealed record GivenToday(Guid Id, int Count);

    private static Turn TurnOf(TurnRow row) => new(row.PersonId, row.Weight, row.Credit);

    private static Rep RepOf(Person person, AbsenceRow? absence) =>
        new(person.Id, person.UserName!, person.DisplayName, absence is not null, 0, person.Capacity)
        {
            Here = person.Here,
            AwayUntil = absence?.Ends.ToInstant(),
            StandIn = absence?.StandInId,
            CapacityToday = person.CapacityToday,
            Languages = [.. person.Languages],
            Skills = [.. person.Skills],
            Serves = [.. person.Serves],
        };

    private void Put(Team team) => _teams[team.Key] = _opened[team.Key] = team;

    // All who serve a part of a country; who began or ceased to since the last turn comes and goes here.
    private Team Serving(string country, ImmutableArray<Turn> turns)
    {
        var members = _reps.Values.Where(r => r.Here && r.ServesPlace(country, null)).Select(r => (r.Id, 1)).ToList();
        return new Team(Team.ServingPrefix + country, $"Everyone who serves {Countries.NameOf(country) ?? country}", Turns.With(turns, members));
    }

    /// <summary>Notes a decision, so that the next lead of the batch sees the load, the rotation and the company's owner as they are now.</summary>
    public void Taken(RoutingDecision decision, Organisation organisation)
    {
        if (decision.Team is { } team)
        {
            _teams[team.Key] = team;
            _moved.Add(team.Key);
        }
        if (decision.Owner is not { } owner || decision.Kept)
            return;
        _reps[owner] = _reps[owner].WithOneMore();
        Standing.Taken(owner, organisation);
    }

    /// <summary>By when an owner must answer what came at a moment.</summary>
    public DateTime DueAt(Guid owner, DateTime at, Duration within)
    {
        var key = (owner, at, within);
        if (!_due.TryGetValue(key, out var due))
            _due[key] = due = Hours[owner].After(at.ToInstant(), within).ToUtc();
        return due;
    }

    /// <summary>What each place's credit changed by since the desk was opened, where it did.</summary>
    public IEnumerable<(string Team, Guid Rep, long Credit)> Moves =>
        from key in _moved
        from place in _opened[key].Turns.Zip(_teams[key].Turns)
        where place.First.Credit != place.Second.Credit
        select (key, place.First.Rep, place.Second.Credit - place.First.Credit);

    /// <summary>Writes the rotations back.</summary>
    public Task Close(LanternDb db)
    {
        var places = _moved.SelectMany(key => _teams[key].Turns.Select((t, i) => (Key: key, Turn: t, Position: i))).ToList();
        return places.Count == 0
            ? Task.CompletedTask
            : db.Run(
                $"""
                insert into turn (team_key, person_id, position, weight, credit)
                select * from unnest({places.Select(p => p.Key).ToArray()}, {places.Select(p => p.Turn.Rep).ToArray()}, {places.Select(p => p.Position).ToArray()}, {places.Select(
                    p => p.Turn.Weight
                ).ToArray()}, {places.Select(p => p.Turn.Credit).ToArray()})
                on conflict (team_key, person_id) do update set credit = excluded.credit;
                delete from turn t where t.team_key = any({_moved.Where(k =>
                    k.StartsWith(Team.ServingPrefix, StringComparison.Ordinal)
                ).ToArray()}) and not exists (select 1 from unnest({places.Select(p => p.Key).ToArray()}, {places.Select(p =>
                    p.Turn.Rep
                ).ToArray()}) x(key, rep) where x.key = t.team_key and x.rep = t.person_id);
                """
            );
    }
}
