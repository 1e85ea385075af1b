using System.Collections.Frozen;
using System.Collections.Immutable;
using System.Data.Common;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Routing;
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
        // Asked for with every batch of arrivals, so all of it comes in one trip.
        await using var rows = await db.Together(Asked(now, hold));
        await Next(rows, _ => 0);
        var turns = (await Next(rows, TurnRowOf)).ToLookup(t => t.TeamKey);
        var teams = await Next(rows, r => (Key: r.GetString(0), Name: r.GetString(1), OnlyInHours: r.GetBoolean(2)));
        var open = (await Next(rows, r => (Person: r.GetGuid(0), Open: r.GetInt32(1)))).ToDictionary(o => o.Person, o => o.Open);
        var people = await Next(rows, PersonOf);
        var away = (await Next(rows, AbsenceOf)).ToDictionary(a => a.PersonId);
        var free = await Next(rows, r => (Calendar: r.GetString(0), Day: LocalDate.FromDateOnly(r.GetFieldValue<DateOnly>(1))));
        var holidays = free.GroupBy(h => h.Calendar).ToDictionary(g => g.Key, g => g.Select(h => h.Day).ToFrozenSet());
        var today = (await Next(rows, r => (Person: r.GetGuid(0), Count: r.GetInt32(1)))).ToDictionary(t => t.Person, t => t.Count);
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

    // The lock first: what is read after it is what its last holder wrote. At the end what was given to each person since their own midnight.
    private static SqlText[] Asked(DateTime now, bool hold)
    {
        SqlText locking = $"select pg_advisory_xact_lock({TurnsLock})";
        SqlText looking = $"select 0";
        return
        [
            hold ? locking : looking,
            $"select team_key, person_id, position, weight, credit from turn order by team_key, position, person_id {(hold ? "for update" : ""):sql}",
            $"select key, name, only_in_hours from team",
            $"select person_id, open from rep_load",
            $"""
                select id, user_name, display_name, time_zone, works_from, works_to, works_days, holidays, capacity, capacity_today, languages, skills, serves, here
                from person order by display_name, id
                """,
            $"select distinct on (person_id) person_id, ends, stand_in_id from absence where starts <= {now} and ends > {now} order by person_id, ends desc",
            $"select calendar_key, day from holiday",
            $"""
                select p.id, count(*)::int from person p
                join routing_decision d on d.owner_id = p.id and d.at >= (date_trunc('day', {now} at time zone p.time_zone) at time zone p.time_zone)
                where p.capacity_today is not null group by p.id
                """,
        ];
    }

    // The rows of the current result; goes on to the next one.
    private static async Task<List<T>> Next<T>(DbDataReader rows, Func<DbDataReader, T> read)
    {
        var all = new List<T>();
        while (await rows.ReadAsync())
            all.Add(read(rows));
        await rows.NextResultAsync();
        return all;
    }

    private static TurnRow TurnRowOf(DbDataReader row) =>
        new()
        {
            TeamKey = row.GetString(0),
            PersonId = row.GetGuid(1),
            Position = row.GetInt32(2),
            Weight = row.GetInt32(3),
            Credit = row.GetInt64(4),
        };

    private static Person PersonOf(DbDataReader row) =>
        new()
        {
            Id = row.GetGuid(0),
            UserName = row.GetString(1),
            DisplayName = row.GetString(2),
            TimeZone = row.GetString(3),
            WorksFrom = row.GetFieldValue<TimeOnly>(4),
            WorksTo = row.GetFieldValue<TimeOnly>(5),
            WorksDays = row.GetInt32(6),
            Holidays = row.IsDBNull(7) ? null : row.GetString(7),
            Capacity = row.GetInt32(8),
            CapacityToday = row.IsDBNull(9) ? null : row.GetInt32(9),
            Languages = row.GetFieldValue<string[]>(10),
            Skills = row.GetFieldValue<string[]>(11),
            Serves = row.GetFieldValue<string[]>(12),
            Here = row.GetBoolean(13),
        };

    private static AbsenceRow AbsenceOf(DbDataReader row) =>
        new()
        {
            PersonId = row.GetGuid(0),
            Ends = row.GetDateTime(1),
            StandInId = row.IsDBNull(2) ? null : row.GetGuid(2),
        };

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
        if (places.Count == 0)
            return Task.CompletedTask;
        var (keys, reps, positions) = (places.Select(p => p.Key).ToArray(), places.Select(p => p.Turn.Rep).ToArray(), places.Select(p => p.Position).ToArray());
        var (weights, credits) = (places.Select(p => p.Turn.Weight).ToArray(), places.Select(p => p.Turn.Credit).ToArray());
        var serving = _moved.Where(k => k.StartsWith(Team.ServingPrefix, StringComparison.Ordinal)).ToArray();
        return db.Run(
            $"""
            insert into turn (team_key, person_id, position, weight, credit)
            select * from unnest({keys}, {reps}, {positions}, {weights}, {credits})
            on conflict (team_key, person_id) do update set credit = excluded.credit;
            delete from turn t where t.team_key = any({serving}) and not exists (select 1 from unnest({keys}, {reps}) x(key, rep) where x.key = t.team_key and x.rep = t.person_id);
            """
        );
    }
}
