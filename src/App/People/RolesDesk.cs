using System.Collections.Immutable;
using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.People;

/// <summary>Whose records of each kind are seen, as parts of a reach.</summary>
public sealed record RoleSight(
    [Count(6)] IReadOnlyList<Reach> Lead,
    [Count(6)] IReadOnlyList<Reach> Account,
    [Count(6)] IReadOnlyList<Reach> Contact,
    [Count(6)] IReadOnlyList<Reach> Deal
)
{
    internal static RoleSight Of(RoleDefinition role) => new(Parts(role.SeesOf("lead")), Parts(role.SeesOf("account")), Parts(role.SeesOf("contact")), Parts(role.SeesOf("deal")));

    internal ImmutableSortedDictionary<string, Reach> Whole() =>
        ImmutableSortedDictionary.CreateRange([
            KeyValuePair.Create("lead", Joined(Lead)),
            new("account", Joined(Account)),
            new("contact", Joined(Contact)),
            new("deal", Joined(Deal)),
        ]);

    internal static IReadOnlyList<Reach> Parts(Reach reach) => [.. Enum.GetValues<Reach>().Where(part => part != Reach.None && reach.HasFlag(part))];

    internal static Reach Joined(IEnumerable<Reach> parts) => parts.Aggregate(Reach.None, (reach, part) => reach | part);
}

/// <summary>A role as an administrator writes it. See <see cref="RoleDefinition"/>.</summary>
/// <param name="ContactData">Of whose records addresses and numbers are shown, as parts of a reach.</param>
public sealed record RoleOrder(
    [Text(60)] string Name,
    [Count(64)] IReadOnlyList<Act> May,
    RoleSight Sees,
    bool OwnOnly,
    bool GivenLeads,
    bool ToldOfMissed,
    [Count(6)] IReadOnlyList<Reach> ContactData,
    bool ChangesContactData,
    bool PersonalData,
    bool ChangesPersonalData,
    bool CostData,
    bool ChangesCostData
)
{
    internal RoleDefinition As(string key) =>
        new()
        {
            Key = key,
            Name = FieldReader.Clean(Name),
            May = [.. May.Distinct().Order()],
            Sees = Sees.Whole(),
            OwnOnly = OwnOnly,
            GivenLeads = GivenLeads,
            ToldOfMissed = ToldOfMissed,
            ContactData = RoleSight.Joined(ContactData),
            ChangesContactData = ChangesContactData,
            PersonalData = PersonalData,
            ChangesPersonalData = ChangesPersonalData,
            CostData = CostData,
            ChangesCostData = ChangesCostData,
        };
}

/// <summary>Keeps the roles. Nobody changes one so that they, or everybody, can keep people no more.</summary>
internal sealed class RolesDesk(LanternDb db, WorkspaceConfiguration configuration, TimeProvider clock)
{
    // A company has a dozen; more are a mistake.
    private const int Most = 100;

    /// <summary>Makes a role of the company's own. Gives its key.</summary>
    public async Task<Outcome<string>> Make(ClaimsPrincipal user, RoleOrder order)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var book = await Hold();
        if (book.All.Length >= Most)
            return Problem.Of("roles-many", "name", Most);
        var key = FreeKey(book, order.Name);
        if (await Keep(user, book, order.As(key), 0) is { } problem)
            return problem;
        await transaction.CommitAsync();
        await configuration.Changed();
        return key;
    }

    /// <param name="version">The version that was changed; 0 for a shipped role that never was.</param>
    public async Task<Problem?> Change(ClaimsPrincipal user, string key, RoleOrder order, int version)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var book = await Hold();
        if (book.Find(key) is not { } held)
            return Problem.NotFound("role");
        if (held.Version != version)
            return new Problem("stale");
        if (await Keep(user, book, order.As(key), version) is { } problem)
            return problem;
        await transaction.CommitAsync();
        await configuration.Changed();
        return null;
    }

    /// <summary>Puts a shipped role back to how it is shipped; takes one of the company's own away, which nobody may have.</summary>
    public async Task<Problem?> Drop(ClaimsPrincipal user, string key)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var book = await Hold();
        if (book.Find(key) is not { Version: > 0 } held)
            return Problem.NotFound("role");
        if (ShippedRoles.Find(key) is { } shipped)
        {
            if (await LocksOut(user, book, shipped) is { } locked)
                return locked;
        }
        else if (await db.Users.Where(Person.HasAny([key])).OrderBy(p => p.DisplayName).Select(p => p.DisplayName).Take(4).ToListAsync() is { Count: > 0 } having)
            return Problem.Of("role-held", "", held.Definition.Name, having);
        else if (configuration.Current.StrongRoles.Contains(key))
            await SetupEntries.Save(db, StrongSignIn.Key, Json.Write(new StrongSignIn([.. configuration.Current.StrongRoles.Where(r => r != key).Order()])));
        await db.Set<RoleRow>().Where(r => r.Key == key).ExecuteDeleteAsync();
        await transaction.CommitAsync();
        await configuration.Changed();
        return null;
    }

    // The roles as they are now, which nobody changes meanwhile.
    private async Task<RoleBook> Hold()
    {
        await db.LockUntilEnd(PeopleDesk.Lock);
        return await RoleRow.Load(db);
    }

    private async Task<Problem?> Keep(ClaimsPrincipal user, RoleBook book, RoleDefinition role, int version)
    {
        if (role.Check() is { } problem)
            return problem;
        if (book.All.Any(r => r.Definition.Key != role.Key && string.Equals(r.Definition.Name, role.Name, StringComparison.OrdinalIgnoreCase)))
            return new Problem("role-exists", "name", role.Name);
        if (await LocksOut(user, book, role) is { } locked)
            return locked;
        if (await TeamsWouldLose(book, role) is { } lose)
            return lose;
        var (body, now) = (Json.Write(role), clock.UtcNow());
        await db.Run(
            $"""
            insert into role (key, body, version, changed_at) values ({role.Key}, {body}::jsonb, {version + 1}, {now})
            on conflict (key) do update set body = excluded.body, version = excluded.version, changed_at = excluded.changed_at
            """
        );
        return null;
    }

    // Whoever changes a role can still keep people afterwards, so that it can be changed back.
    private async Task<Problem?> LocksOut(ClaimsPrincipal user, RoleBook book, RoleDefinition role)
    {
        if (role.IsGiven(Act.ManagePeople))
            return null;
        var me = user.Id();
        var mine = await db.Users.Where(p => p.Id == me).Select(p => p.Roles).SingleAsync();
        return mine.Any(r => r != role.Key && book.Find(r)?.Definition.IsGiven(Act.ManagePeople) == true) ? null : new Problem("role-locks-out", "may");
    }

    // People keep their places in teams; whoever is given leads no more has none.
    private async Task<Problem?> TeamsWouldLose(RoleBook book, RoleDefinition role)
    {
        if (role.GivenLeads || book.Find(role.Key)?.Definition.GivenLeads != true)
            return null;
        string[] others = [.. book.GivenLeads.Where(r => r != role.Key)];
        string[] one = [role.Key];
        var placed = await db
            .Users.Where(Person.HasAny(one))
            .Where(p => !p.Roles.Any(r => others.Contains(r)) && db.Set<Routing.TurnRow>().Any(t => t.PersonId == p.Id))
            .OrderBy(p => p.DisplayName)
            .Select(p => p.DisplayName)
            .Take(4)
            .ToListAsync();
        return placed.Count == 0 ? null : Problem.Of("role-in-turns", "givenLeads", placed);
    }

    private static string FreeKey(RoleBook book, string name)
    {
        var plain = Folding.Heading(name).Replace(' ', '-');
        if (plain.Length == 0)
            plain = "role";
        return Enumerable.Range(1, int.MaxValue).Select(i => i == 1 ? plain : $"{plain}-{i}").First(k => book.Find(k) is null);
    }
}
