using System.Collections.Immutable;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Handing;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Routing;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handing;

/// <summary>Somebody to whom things may be handed on.</summary>
/// <param name="Takes">Keys of the kinds that they may have.</param>
/// <param name="Away">True while they are absent.</param>
public sealed record Receiver(Guid Id, string Name, string SignIn, IReadOnlyList<string> Roles, IReadOnlyList<string> Takes, bool Away);

/// <summary>Everybody who is here beside the one whose things are handed on, and the teams in which turns are taken.</summary>
internal sealed class Receivers
{
    private readonly Dictionary<Guid, Receiver> _people;
    private readonly ILookup<string, TurnRow> _turns;

    private Receivers(IReadOnlyList<Receiver> people, IReadOnlyList<TurnRow> turns, IReadOnlyList<ChoiceView> teams) =>
        (_people, _turns, Teams) = (
            people.ToDictionary(p => p.Id),
            turns.ToLookup(t => t.TeamKey),
            [.. teams.Where(t => turns.Any(x => x.TeamKey == t.Key && people.Any(p => p.Id == x.PersonId && !p.Away)))]
        );

    /// <summary>Teams with somebody in them who is there.</summary>
    public IReadOnlyList<ChoiceView> Teams { get; }

    /// <summary>By name.</summary>
    public IEnumerable<Receiver> All => _people.Values.OrderBy(p => p.Name, StringComparer.Ordinal).ThenBy(p => p.Id);

    public static async Task<Receivers> Read(LanternDb db, RoleBook roles, Person person, DateTime now)
    {
        var away = await db.Set<AbsenceRow>().Where(a => a.Starts <= now && a.Ends > now).Select(a => a.PersonId).ToHashSetAsync();
        var people = await db.Users.AsNoTracking().Where(p => p.Here && p.Id != person.Id).ToListAsync();
        var turns = await db.Set<TurnRow>().AsNoTracking().OrderBy(t => t.TeamKey).ThenBy(t => t.Position).ThenBy(t => t.PersonId).ToListAsync();
        var teams = await db.Set<TeamRow>().OrderBy(t => t.Name).Select(t => new ChoiceView(t.Key, t.Name)).ToListAsync();
        return new Receivers([.. people.Select(p => new Receiver(p.Id, p.DisplayName, p.UserName!, p.Roles, TakenBy(roles.Of(p.Roles)), away.Contains(p.Id)))], turns, teams);
    }

    /// <summary>Keys of the kinds that somebody may have.</summary>
    private static IReadOnlyList<string> TakenBy(UserRights rights) =>
        [
            .. HeldKind
                .All.Where(k =>
                    k.Key switch
                    {
                        HeldKind.Lead => rights.GivenLeads,
                        HeldKind.Account or HeldKind.Contact or HeldKind.Deal => rights.May(Act.WorkDeals),
                        HeldKind.Campaign => rights.May(Act.RunIntake),
                        HeldKind.View => rights.May(Act.SeeLeads),
                        _ => rights.May(Act.WorkLeads),
                    }
                )
                .Select(k => k.Key),
        ];

    public Receiver? Find(Guid id) => _people.GetValueOrDefault(id);

    public string Name(Guid id) => Find(id)?.Name ?? "";

    /// <summary>Why somebody may not have records of a kind; null where they may.</summary>
    public Problem? Unfit(Guid id, string kind) =>
        Find(id) is not { } to ? new Problem("owner-unknown", kind)
        : to.Takes.Contains(kind) ? null
        : Problem.Of("handing-unfit", kind, to.Name, HeldKind.Find(kind)!.Many);

    /// <summary>The rotation of a team among those of it who are there and may have records of a kind; empty where there are none.</summary>
    public ImmutableArray<Turn> Places(string? team, string kind) =>
        team is null ? [] : [.. _turns[team].Where(t => Find(t.PersonId) is { Away: false } to && to.Takes.Contains(kind)).Select(t => new Turn(t.PersonId, t.Weight, 0))];
}
