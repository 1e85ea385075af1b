using System.Collections.Frozen;
using DapperLantern.App.Data;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Rights;

/// <summary>Who works with whom: the people of each person's teams, and those who report to them.</summary>
public sealed class Circles
{
    private readonly FrozenDictionary<Guid, Guid[]> _teams;
    private readonly FrozenDictionary<Guid, Guid[]> _reports;

    /// <param name="turns">Teams with their people.</param>
    /// <param name="managers">People with whom they report to.</param>
    public Circles(IEnumerable<(string Team, Guid Person)> turns, IEnumerable<(Guid Person, Guid Manager)> managers)
    {
        var byTeam = turns.ToLookup(t => t.Team, t => t.Person);
        _teams = byTeam
            .SelectMany(t => t.Select(person => (Person: person, Others: t.Where(o => o != person))))
            .GroupBy(t => t.Person)
            .ToFrozenDictionary(g => g.Key, g => g.SelectMany(t => t.Others).Distinct().ToArray());
        var direct = managers.ToLookup(m => m.Manager, m => m.Person);
        _reports = direct.ToFrozenDictionary(m => m.Key, m => Under(m.Key, direct));
    }

    /// <summary>The others in the person's teams.</summary>
    public Guid[] TeamOf(Guid person) => _teams.GetValueOrDefault(person, []);

    /// <summary>Those who report to the person, also over others.</summary>
    public Guid[] ReportsTo(Guid person) => _reports.GetValueOrDefault(person, []);

    // A circle, which would be a mistake of the set-up, ends where it began.
    private static Guid[] Under(Guid manager, ILookup<Guid, Guid> direct)
    {
        var (under, open) = (new HashSet<Guid>(), new Stack<Guid>(direct[manager]));
        while (open.TryPop(out var person))
            if (person != manager && under.Add(person))
                foreach (var next in direct[person])
                    open.Push(next);
        return [.. under];
    }

    internal static async Task<Circles> Load(LanternDb db)
    {
        var turns = await db.Set<TurnRow>().Where(t => db.Set<TeamRow>().Any(x => x.Key == t.TeamKey)).Select(t => new { t.TeamKey, t.PersonId }).ToListAsync();
        var managers = await db.Set<Person>().Where(p => p.ManagerId != null).Select(p => new { p.Id, Manager = p.ManagerId!.Value }).ToListAsync();
        return new Circles(turns.Select(t => (t.TeamKey, t.PersonId)), managers.Select(m => (m.Id, m.Manager)));
    }
}
