using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Routing;
using Npgsql;

namespace DapperLantern.App.Routing;

/// <summary>
/// What routing needs to know of the moment: reps with their load, rotations, and who owns what is already there. Opening it locks the
/// rotations until the transaction ends, so that two processes never take the same turn.
/// </summary>
public sealed class RoutingDesk
{
    private readonly Dictionary<Guid, Rep> _reps = [];
    private readonly Dictionary<string, Team> _teams = [];
    private readonly Dictionary<string, Team> _opened = [];
    private readonly HashSet<string> _moved = [];
    private readonly Dictionary<(Guid, DateTime, NodaTime.Duration), DateTime> _due = [];
    private readonly Dictionary<string, StandingOwner> _standing = [];

    private RoutingDesk() { }

    public IReadOnlyDictionary<Guid, Rep> Reps => _reps;
    public IReadOnlyDictionary<string, Team> Teams => _teams;
    public Dictionary<Guid, WorkingHours> Hours { get; } = [];

    /// <summary>Reads and, to <paramref name="hold"/> the turns, locks; that requires an open transaction.</summary>
    public static async Task<RoutingDesk> Open(NpgsqlConnection connection, DateTime now, bool hold = true)
    {
        var desk = new RoutingDesk();
        await using var read = await connection.QueryMultipleAsync(
            $"""
            select * from turn order by team_key, position {(hold ? "for update" : "")};
            select * from team;
            select * from rep_load;
            select id, user_name, display_name, time_zone, works_from, works_to, away_until, capacity from person;
            """
        );
        var turns = await read.ReadAsync<TurnRow>();
        var names = (await read.ReadAsync<TeamRow>()).ToDictionary(t => t.Key, t => t.Name);
        foreach (var team in turns.GroupBy(t => t.TeamKey))
            desk._teams[team.Key] = desk._opened[team.Key] = new Team(team.Key, names[team.Key], [.. team.Select(t => new Turn(t.PersonId, t.Weight, t.Credit))]);

        var open = (await read.ReadAsync<RepLoadRow>()).ToDictionary(o => o.PersonId, o => o.Open);
        foreach (var person in await read.ReadAsync<Person>())
        {
            desk._reps[person.Id] = new Rep(person.Id, person.UserName!, person.DisplayName, person.AwayUntil > now, open.GetValueOrDefault(person.Id), person.Capacity);
            desk.Hours[person.Id] = person.Hours();
        }
        return desk;
    }

    /// <summary>Looks up, for a batch at once, who owns the contact, the account or the company's other open leads.</summary>
    public async Task FindStanding(NpgsqlConnection connection, IReadOnlyList<(string? Email, Organisation Organisation)> organisations)
    {
        var found = await connection.QueryAsync<(string Key, Guid Owner, string Words)>(
            """
            select 'company:' || company_key, (array_agg(owner_id order by created_at))[1], 'has the other open leads of this company'
              from lead where company_key = any(@names) and owner_id is not null and state in ('new', 'in_work', 'qualified') group by company_key
            union all
            select 'domain:' || domain, owner_id, 'owns the account ' || name from account where domain = any(@domains) and owner_id is not null
            union all
            select 'email:' || email, owner_id, 'owns the contact ' || name from contact where email = any(@emails) and owner_id is not null
            """,
            new
            {
                names = Distinct(organisations.Select(o => o.Organisation.Name)),
                domains = Distinct(organisations.Select(o => o.Organisation.Domain)),
                emails = Distinct(organisations.Select(o => o.Email ?? "")),
            }
        );
        foreach (var (key, owner, words) in found)
            _standing[key] = new StandingOwner(owner, words);
    }

    /// <summary>The strongest standing owner: of the contact, then of the account, then of the company's other leads.</summary>
    public StandingOwner? StandingFor(string? email, Organisation organisation) =>
        _standing.Count == 0
            ? null
            : _standing.GetValueOrDefault($"email:{email}")
                ?? _standing.GetValueOrDefault($"domain:{organisation.Domain}")
                ?? _standing.GetValueOrDefault($"company:{organisation.Name}");

    /// <summary>Notes a decision, so that the next lead of the batch sees the load, the rotation and the company's owner as they are now.</summary>
    public void Taken(RoutingDecision decision, Organisation organisation)
    {
        if (decision.Team is { } team)
        {
            _teams[team.Key] = team;
            _moved.Add(team.Key);
        }
        if (decision.Owner is not { } owner)
            return;
        _reps[owner] = _reps[owner] with { Open = _reps[owner].Open + 1 };
        if (organisation.Name.Length > 0)
            _standing.TryAdd($"company:{organisation.Name}", new StandingOwner(owner, "has the other open leads of this company"));
    }

    /// <summary>By when an owner must answer what came at a moment.</summary>
    public DateTime DueAt(Guid owner, DateTime at, NodaTime.Duration within)
    {
        var key = (owner, at, within);
        if (!_due.TryGetValue(key, out var due))
            _due[key] = due = Hours[owner].After(at.ToInstant(), within).ToUtc();
        return due;
    }

    /// <summary>What each place's credit changed by since the desk was opened, where it did.</summary>
    public IEnumerable<(string Team, Guid Rep, int Credit)> Moves =>
        from key in _moved
        from place in _opened[key].Turns.Zip(_teams[key].Turns)
        where place.First.Credit != place.Second.Credit
        select (key, place.First.Rep, place.Second.Credit - place.First.Credit);

    /// <summary>Writes the rotations back.</summary>
    public Task Close(NpgsqlConnection connection)
    {
        var places = _moved.SelectMany(key => _teams[key].Turns.Select(t => (Key: key, t.Rep, t.Credit))).ToList();
        return places.Count == 0
            ? Task.CompletedTask
            : connection.ExecuteAsync(
                "update turn t set credit = x.credit from unnest(@keys, @reps, @credits) x(key, rep, credit) where t.team_key = x.key and t.person_id = x.rep",
                new
                {
                    keys = places.Select(p => p.Key).ToArray(),
                    reps = places.Select(p => p.Rep).ToArray(),
                    credits = places.Select(p => p.Credit).ToArray(),
                }
            );
    }

    private static string[] Distinct(IEnumerable<string> values) => [.. values.Where(v => v.Length > 0).Distinct()];
}
