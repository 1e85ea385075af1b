using System.Collections.Concurrent;
using System.Collections.Frozen;
using System.Collections.Immutable;
using DapperLantern.App.Data;
using DapperLantern.Core.Rights;

namespace DapperLantern.App.Rights;

/// <summary>The roles of a workspace: the shipped ones as the company changed them, then its own by name. Immutable.</summary>
public sealed class RoleBook
{
    private readonly FrozenDictionary<string, HeldRole> _byKey;

    // By the keys together: few sets of roles are held.
    private readonly ConcurrentDictionary<string, UserRights> _together = [];

    public RoleBook(IReadOnlyList<RoleRow> rows)
    {
        var kept = rows.ToDictionary(r => r.Key, r => new HeldRole(Json.Read<RoleDefinition>(r.Body), r.Version));
        All =
        [
            .. ShippedRoles.All.Select(r => kept.GetValueOrDefault(r.Key, new HeldRole(r, 0))),
            .. kept.Values.Where(r => ShippedRoles.Find(r.Definition.Key) is null).OrderBy(r => r.Definition.Name, StringComparer.OrdinalIgnoreCase).ThenBy(r => r.Definition.Key),
        ];
        _byKey = All.ToFrozenDictionary(r => r.Definition.Key);
    }

    public ImmutableArray<HeldRole> All { get; }

    public HeldRole? Find(string key) => _byKey.GetValueOrDefault(key);

    /// <summary>What the roles with these keys give together; a key of no role gives nothing.</summary>
    public UserRights Of(IReadOnlyCollection<string> keys) =>
        _together.GetOrAdd(string.Join(',', keys.Order()), _ => new UserRights([.. All.Where(r => keys.Contains(r.Definition.Key)).Select(r => r.Definition)]));

    /// <summary>Keys of the roles that give an act.</summary>
    public string[] With(Act act) => Where(r => r.IsGiven(act));

    /// <summary>Keys of the roles whose people are given leads.</summary>
    public string[] GivenLeads => Where(r => r.GivenLeads);

    public string[] Where(Func<RoleDefinition, bool> which) => [.. All.Select(r => r.Definition).Where(which).Select(r => r.Key)];

    /// <summary>Names of the roles with these keys, in their order.</summary>
    public string Names(IReadOnlyCollection<string> keys) => string.Join(", ", All.Where(r => keys.Contains(r.Definition.Key)).Select(r => r.Definition.Name));
}
