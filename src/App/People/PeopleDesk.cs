using DapperLantern.App.Company;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.App.Starting;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace DapperLantern.App.People;

/// <summary>Somebody of us as an administrator writes them.</summary>
/// <param name="Roles">Keys of their roles; one at least.</param>
/// <param name="Manager">The person they report to; null for nobody.</param>
/// <param name="Teams">Keys of the teams they are in; null to leave that as it is.</param>
/// <param name="Ways">How they write and when they work; null to leave that as it is.</param>
public sealed record PersonOrder(
    [Text(100)] string Name,
    [Text(254)] string Email,
    [Count(20, Each = 60)] IReadOnlyList<string> Roles,
    [Text(100)] string TimeZone,
    Guid? Manager = null,
    [Count(50, Each = 100)] IReadOnlyList<string>? Teams = null,
    PersonWays? Ways = null
);

/// <summary>How somebody writes, and when they work.</summary>
/// <param name="WorksDays">The working days, as bits; see <see cref="WeekDays"/>.</param>
/// <param name="Signature">Stands under the messages they send; empty for none.</param>
public sealed record PersonWays(DateForm Dates, DecimalMark Numbers, TimeOnly WorksFrom, TimeOnly WorksTo, [Between(0, 127)] int WorksDays, [Text(1_000)] string Signature)
{
    internal static PersonWays Of(Person p) => new(p.Dates, Enum.Parse<DecimalMark>(p.Numbers), p.WorksFrom, p.WorksTo, p.WorksDays, p.Signature);

    internal void PutOn(Person p) =>
        (p.Dates, p.Numbers, p.WorksFrom, p.WorksTo, p.WorksDays, p.Signature) = (Dates, Numbers.ToString(), WorksFrom, WorksTo, WorksDays, Signature.Trim());

    internal Problem? Unfit() => StaffEndpoints.Unfit(WorksFrom, WorksTo, WorksDays);
}

/// <summary>Invites people, changes them, lets them go and come back. There is always somebody left who administers; the live rule sheet never names somebody it cannot reach.</summary>
public sealed class PeopleDesk(LanternDb db, OneTimeLinks links, Sessions sessions, WorkspaceConfiguration configuration, MailDoors doors, TimeProvider clock)
{
    internal const string Lock = "people";
    internal const int LongestName = 100;

    // A company that takes its first list in has few people; each gives themselves less under their team.
    private const int UsualCapacity = 250;

    /// <summary>True where letters go somewhere.</summary>
    public bool Sends => doors.Sends;

    /// <summary>Makes somebody who comes in by a one-time address, and works here from then on.</summary>
    public async Task<Outcome<Guid>> Invite(PersonOrder order)
    {
        var made = await InviteAll([order]);
        return made.Problem is { } problem ? problem : made.Value![0];
    }

    /// <summary>Makes several, all or none; of one that cannot be made, says which.</summary>
    public async Task<Outcome<IReadOnlyList<Guid>>> InviteAll(IReadOnlyList<PersonOrder> orders)
    {
        var made = new List<Guid>();
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.LockUntilEnd(Lock);
        foreach (var order in orders)
        {
            var read = Read(order);
            if (read.Problem is not null)
                return read.Problem;
            if (await Taken(read.Email, null) is { } taken)
                return taken;
            if (await ManagerUnfit(null, order.Manager) is { } unfit)
                return unfit;
            if (RolesUnfit(order.Roles) is { } roleless)
                return roleless;
            var person = await Make(read.Name, read.Email, order);
            if (await PutInTeams(person, order.Teams) is { } wrong)
                return wrong;
            made.Add(person.Id);
        }
        await transaction.CommitAsync();
        await configuration.Changed();
        return made;
    }

    // Their place in each of these teams, and in no other; a place they have stays as it is.
    internal async Task<Problem?> PutInTeams(Person person, IReadOnlyList<string>? teams)
    {
        if (teams is null)
            return null;
        var known = await db.Set<TeamRow>().Select(t => t.Key).ToListAsync();
        if (teams.FirstOrDefault(t => !known.Contains(t)) is { } unknown)
            return new Problem("team-unknown", "teams", unknown);
        if (teams.Count > 0 && !Roles.Of(person.Roles).GivenLeads)
            return new Problem("worker-unknown", "teams");
        await db.Set<TurnRow>().Where(t => t.PersonId == person.Id && known.Contains(t.TeamKey) && !teams.Contains(t.TeamKey)).ExecuteDeleteAsync();
        var (id, wanted) = (person.Id, teams.Distinct().ToArray());
        await db.Run(
            $"""
            insert into turn (team_key, person_id, position, weight, credit)
            select k, {id}, (select coalesce(max(position), -1) + 1 from turn where team_key = k), 1, 0 from unnest({wanted}) k on conflict do nothing
            """
        );
        return null;
    }

    /// <summary>Makes the first administrator, by the one address that begins a workspace. Refused where somebody administers it already. In the caller's transaction.</summary>
    internal async Task<Outcome<Person>> First(PersonOrder order)
    {
        var read = Read(order);
        if (read.Problem is not null)
            return read.Problem;
        await db.LockUntilEnd(Lock);
        if (await HasAdministrator(db, Roles))
            return new Problem("begun");
        await FirstHour.Begin(db);
        return await Make(read.Name, read.Email, order with { Roles = [ShippedRoles.Administrator], Manager = null });
    }

    /// <summary>True where somebody who is here administers the workspace.</summary>
    public static Task<bool> HasAdministrator(LanternDb db, RoleBook roles) => Administrators(db, roles).AnyAsync(p => p.Here);

    /// <summary>Those whose roles let them keep people, whether they are here or not.</summary>
    public static IQueryable<Person> Administrators(LanternDb db, RoleBook roles) => db.Users.Where(Person.HasAny(roles.With(Act.ManagePeople)));

    internal RoleBook Roles => configuration.Current.Roles;

    internal async Task<Person> Make(string name, string email, PersonOrder order)
    {
        var signIn = await FreeSignInName(name);
        var person = new Person
        {
            Id = Guid.CreateVersion7(),
            UserName = signIn,
            NormalizedUserName = signIn.ToUpperInvariant(),
            Email = email,
            NormalizedEmail = email.ToUpperInvariant(),
            DisplayName = name,
            Roles = [.. order.Roles.Distinct()],
            TimeZone = order.TimeZone,
            Dates = configuration.Current.Company.Dates,
            Capacity = UsualCapacity,
            ManagerId = order.Manager,
            SecurityStamp = Guid.NewGuid().ToString("N"),
            Here = false,
        };
        await db.Insert(person);
        return person;
    }

    /// <summary>Changes somebody. Another role ends their sessions.</summary>
    /// <param name="version">The version that was changed.</param>
    public async Task<Problem?> Change(Guid id, PersonOrder order, int version)
    {
        var read = Read(order);
        if (read.Problem is not null)
            return read.Problem;
        return await InTheSheet(
            id,
            async person =>
            {
                if (person.Version != version)
                    return new Problem("stale");
                if (await Taken(read.Email, id) is { } taken)
                    return taken;
                if (await ManagerUnfit(id, order.Manager) is { } unfit)
                    return unfit;
                if (RolesUnfit(order.Roles) is { } roleless)
                    return roleless;
                if (!Roles.Of([.. order.Roles]).May(Act.ManagePeople) && await IsLastAdministrator(person))
                    return new Problem("last-administrator", "roles");
                (person.DisplayName, person.Email, person.NormalizedEmail) = (read.Name, read.Email, read.Email.ToUpperInvariant());
                (person.Roles, person.TimeZone, person.ManagerId) = ([.. order.Roles.Distinct()], order.TimeZone, order.Manager);
                order.Ways?.PutOn(person);
                person.Version++;
                await db.SaveChangesAsync();
                return await PutInTeams(person, order.Teams);
            }
        );
    }

    /// <summary>Lets somebody go: they cannot sign in, and get no leads. What they hold stays theirs until it is handed on.</summary>
    public async Task<Problem?> Suspend(Guid id)
    {
        var problem = await InTheSheet(id, LetGo);
        if (problem is null)
            await EndSessions(id);
        return problem;
    }

    /// <summary>Lets somebody sign in no more. In the caller's transaction, under the lock.</summary>
    internal async Task<Problem?> LetGo(Person person)
    {
        if (!person.Here)
            return null;
        if (await IsLastAdministrator(person))
            return new Problem("last-administrator");
        person.Here = false;
        person.Version++;
        await db.SaveChangesAsync();
        await links.EndAll(db, person.Id);
        return null;
    }

    /// <summary>Ends what streams to somebody who left; their requests are refused by themselves.</summary>
    internal Task EndSessions(Guid id) => sessions.EndAll(db, id, "left");

    /// <summary>Lets somebody in again who has a password; who has none comes by an invitation.</summary>
    public Task<Problem?> Return(Guid id) =>
        InTheSheet(
            id,
            async person =>
            {
                if (person.PasswordHash is null)
                    return new Problem("not-been-in");
                person.Here = true;
                person.Version++;
                await db.SaveChangesAsync();
                return null;
            }
        );

    /// <summary>A one-time address for somebody: an invitation for who has not been in yet, another password for who has. Also sent to them where asked.</summary>
    public async Task<Outcome<OneTimeLink>> Link(Guid id, Guid? by, bool send)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.LockUntilEnd(Lock);
        if (await db.Users.AsNoTracking().SingleOrDefaultAsync(p => p.Id == id) is not { } person)
            return Problem.NotFound("person");
        if (person is { Here: false, PasswordHash: not null })
            return new Problem("person-left");
        if (send && !Sends)
            return new Problem("no-mail-server");
        if (!configuration.Current.Provider.LetsInOtherwise(Roles.Of(person.Roles)))
            return await ByProvider(person, send, transaction);
        var kind = person.PasswordHash is null ? LinkKind.Invitation : LinkKind.Password;
        var link = await links.Make(db, kind, id, by);
        if (send)
            await Letter(db, person, kind, link, clock.UtcNow());
        await transaction.CommitAsync();
        return link;
    }

    // Who comes in by the provider alone needs no key: they are known by their address there.
    private async Task<OneTimeLink> ByProvider(Person person, bool send, Microsoft.EntityFrameworkCore.Storage.IDbContextTransaction transaction)
    {
        var (now, name) = (clock.UtcNow(), configuration.Current.Provider.Settings.Name);
        if (send)
            await db.Insert(
                LetterTo(
                    person,
                    "You are invited to Dapper Lantern",
                    $"You are to work with Dapper Lantern. Open this address, and press \u201cSign in with {name}\u201d:\n\n{links.Door}\n\nYou are known there by {person.Email}.",
                    now
                )
            );
        await transaction.CommitAsync();
        return new OneTimeLink(links.Door, now + OneTimeLinks.Holds(LinkKind.Invitation));
    }

    /// <summary>Writes the letter with a one-time address.</summary>
    internal static Task Letter(LanternDb db, Person person, LinkKind kind, OneTimeLink link, DateTime now)
    {
        var until = Core.Events.MomentText.Of(link.EndsAt);
        var (subject, text) =
            kind == LinkKind.Invitation
                ? (
                    "You are invited to Dapper Lantern",
                    $"You are to work with Dapper Lantern. Open this address once, by {until}, and choose a password:\n\n{link.Address}\n\nYour sign-in name is {person.UserName}."
                )
                : (
                    "Another password for Dapper Lantern",
                    $"Open this address once, by {until}, and choose another password:\n\n{link.Address}\n\nIf you did not ask for this, do nothing: your password stays as it is."
                );
        return db.Insert(LetterTo(person, subject, text, now));
    }

    private static OutboxRow LetterTo(Person person, string subject, string text, DateTime now) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            Kind = OutboxRow.WayIn,
            PersonId = person.Id,
            Subject = subject,
            Text = text,
            CreatedAt = now,
        };

    // Changes somebody in one transaction; what the live sheet could not live with is refused.
    private async Task<Problem?> InTheSheet(Guid id, Func<Person, Task<Problem?>> change)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.LockUntilEnd(Lock);
        var problem = await Try(async () => await db.Users.SingleOrDefaultAsync(p => p.Id == id) is { } person ? await change(person) : Problem.NotFound("person"));
        if (problem is not null)
            return problem;
        await transaction.CommitAsync();
        await configuration.Changed();
        return null;
    }

    /// <summary>Changes people in the caller's transaction, under the lock; what the live sheet could not live with is refused.</summary>
    internal Task<Problem?> Try(Func<Task<Problem?>> change) => StaffEndpoints.Try(db, configuration.Current, clock, change);

    /// <summary>True where nobody else who is here administers. Under the lock.</summary>
    internal async Task<bool> IsLastAdministrator(Person person) =>
        person.Here && Roles.Of(person.Roles).May(Act.ManagePeople) && !await Administrators(db, Roles).AnyAsync(p => p.Id != person.Id && p.Here);

    // Only of an order that has been read otherwise.
    internal Problem? RolesUnfit(IReadOnlyList<string> roles) =>
        roles.Count == 0 ? new Problem("role-missing", "roles")
        : roles.FirstOrDefault(r => Roles.Find(r) is null) is { } unknown ? new Problem("role-unknown", "roles", unknown)
        : null;

    private async Task<Problem?> Taken(string email, Guid? but)
    {
        var normalized = email.ToUpperInvariant();
        return await db.Users.Where(p => p.NormalizedEmail == normalized && p.Id != but).Select(p => p.DisplayName).FirstOrDefaultAsync() is { } name
            ? new Problem("person-exists", "email", name)
            : null;
    }

    private async Task<Problem?> ManagerUnfit(Guid? person, Guid? manager)
    {
        if (manager is null)
            return null;
        if (!await db.Users.AnyAsync(p => p.Id == manager))
            return new Problem("owner-unknown", "manager");
        return person == manager || person is { } below && (await Above(db, manager.Value)).Contains(below) ? new Problem("report-circle", "manager") : null;
    }

    /// <summary>Those above somebody, the nearest first.</summary>
    internal static async Task<IReadOnlyList<Guid>> Above(LanternDb db, Guid person)
    {
        var managers = await db.Users.Where(p => p.ManagerId != null).ToDictionaryAsync(p => p.Id, p => p.ManagerId!.Value);
        List<Guid> above = [];
        // What was a circle before there was this check ends, too.
        for (var at = person; managers.TryGetValue(at, out var next) && !above.Contains(next); at = next)
            above.Add(next);
        return above;
    }

    /// <summary>A name to sign in by that nobody has: tor.vik, tor.vik2.</summary>
    private async Task<string> FreeSignInName(string name)
    {
        var plain = Folding.Heading(name).Replace(' ', '.');
        if (plain.Length == 0)
            plain = "person";
        var taken = await db.Users.Where(p => p.UserName!.StartsWith(plain)).Select(p => p.UserName!).ToHashSetAsync();
        return Enumerable.Range(1, int.MaxValue).Select(i => i == 1 ? plain : $"{plain}{i}").First(n => !taken.Contains(n));
    }

    private static (string Name, string Email, Problem? Problem) Read(PersonOrder order)
    {
        var name = FieldReader.Clean(order.Name);
        if (name.Length is 0 or > LongestName)
            return ("", "", Problem.Of("name-missing", "name", LongestName));
        var email = order.Email.Trim();
        if (!EmailReader.IsAddress(email))
            return ("", "", new Problem("email-unreadable", "email", email));
        if (order.Ways?.Unfit() is { } unfit)
            return ("", "", unfit);
        return DateTimeZoneProviders.Tzdb.GetZoneOrNull(order.TimeZone) is null
            ? ("", "", new Problem("zone-unknown", "timeZone", order.TimeZone))
            : (name, email.ToLowerInvariant(), null);
    }
}
