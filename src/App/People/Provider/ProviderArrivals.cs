using System.Security.Cryptography;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.People;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace DapperLantern.App.People.Provider;

/// <summary>
/// Finds the person that the identity provider tells of: by issuer and subject; at the first time by the email address, where the provider vouches for it; else makes them. Who works
/// here no more is let in by no provider.
/// </summary>
internal sealed class ProviderArrivals(LanternDb db, PeopleDesk desk, OneTimeLinks links, SignInGuard guard, WorkspaceConfiguration configuration, TimeProvider clock)
{
    private const int MostValues = 200;
    private const int LongestValue = 200;

    private ProviderSettings Settings => configuration.Current.Provider.Settings;

    public async Task<Outcome<Person>> Come(ProviderClaim told, HttpContext http)
    {
        if (told.Subject.Length is 0 or > 255 || told.Issuer.Length is 0 or > 500)
            return new Problem("provider-unfit");
        await Note(told.Values);
        // Whoever is known, and stands as they stood, waits for nobody.
        var linked = await Linked(told);
        if (linked is { Here: true } && await StandsAsTold(linked, told))
            return linked;
        // A password that nobody knows, so that whoever came by the provider is one who has been in.
        var hash = linked is null ? await guard.Hash(new Person(), Convert.ToHexString(RandomNumberGenerator.GetBytes(32))) : "";
        db.ChangeTracker.Clear();
        var found = await Settled(told, hash);
        if (found.Problem is null)
        {
            await configuration.Changed();
            return await db.Users.AsNoTracking().SingleAsync(p => p.Id == found.Value!.Id);
        }
        db.ChangeTracker.Clear();
        await db.Log(EventLog.Person, linked?.Id, new SignInFailed(told.Email, Sessions.AddressOf(http)));
        return found;
    }

    private async Task<Outcome<Person>> Settled(ProviderClaim told, string hash)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.LockUntilEnd(PeopleDesk.Lock);
        var found = await Find(told, hash);
        if (found.Problem is null)
            await transaction.CommitAsync();
        return found;
    }

    private bool Follows => Settings is { Follows: true, Maps.Count: > 0 };

    // The roles and teams that the values mean, or why they let nobody in.
    private Outcome<ProviderStanding> Meant(ProviderClaim told)
    {
        var standing = ProviderClaims.Of(Settings.Maps, Settings.Otherwise, told.Values);
        return standing.Roles.Count == 0 ? new Problem("provider-roleless")
            : desk.RolesUnfit(standing.Roles) is { } unfit ? unfit
            : standing;
    }

    private async Task<bool> StandsAsTold(Person person, ProviderClaim told)
    {
        if (!Follows)
            return true;
        var standing = ProviderClaims.Of(Settings.Maps, Settings.Otherwise, told.Values);
        return standing.Roles.Order().SequenceEqual(person.Roles.Order()) && (await Teams(person, person.Roles, standing)).IsSame;
    }

    private async Task<Outcome<Person>> Find(ProviderClaim told, string hash)
    {
        if (await Linked(told) is { } known)
            return known.Here ? await Follow(known, told) : new Problem("provider-left");
        var email = told.Email.ToUpperInvariant();
        var named = email.Length == 0 ? null : await db.Users.SingleOrDefaultAsync(p => p.NormalizedEmail == email);
        if (named is null)
            return Settings.Makes ? await Make(told, hash) : new Problem("provider-unknown", "", told.Email);
        // Somebody else's account there could bear this address, if the provider does not know that it is theirs.
        if (!told.Verified && !Settings.TrustsAddresses)
            return new Problem("provider-unverified", "", told.Email);
        if (await db.Set<IdentityUserLogin<Guid>>().AnyAsync(l => l.UserId == named.Id && l.LoginProvider == told.Issuer))
            return new Problem("provider-other", "", told.Email);
        if (named is { Here: false, PasswordHash: not null })
            return new Problem("provider-left");
        if (!named.Here)
        {
            // The invitation is taken up by this.
            (named.Here, named.PasswordHash) = (true, hash);
            named.Version++;
            await db.SaveChangesAsync();
            await links.EndAll(db, named.Id);
        }
        await Link(named.Id, told);
        return await Follow(named, told);
    }

    private async Task<Person?> Linked(ProviderClaim told) =>
        await db.Set<IdentityUserLogin<Guid>>().Where(l => l.LoginProvider == told.Issuer && l.ProviderKey == told.Subject).Select(l => (Guid?)l.UserId).SingleOrDefaultAsync()
            is { } id
            ? await db.Users.SingleAsync(p => p.Id == id)
            : null;

    private async Task Link(Guid person, ProviderClaim told)
    {
        await db.Insert(
            new IdentityUserLogin<Guid>
            {
                LoginProvider = told.Issuer,
                ProviderKey = told.Subject,
                UserId = person,
            }
        );
        await db.Log(EventLog.Person, person, new ProviderLinked(told.Issuer));
    }

    private async Task<Outcome<Person>> Make(ProviderClaim told, string hash)
    {
        if (!EmailReader.IsAddress(told.Email))
            return new Problem("provider-no-address");
        var meant = Meant(told);
        if (meant.Problem is { } unfit)
            return unfit;
        var (standing, company) = (meant.Value!, configuration.Current.Company);
        var zone = DateTimeZoneProviders.Tzdb.GetZoneOrNull(told.Zone) is null ? company.TimeZone : told.Zone;
        var name = FieldReader.Clean(told.Name) is { Length: > 0 } said ? said : told.Email.Split('@')[0];
        name = name.Length > PeopleDesk.LongestName ? name[..PeopleDesk.LongestName] : name;
        var person = await desk.Make(name, told.Email.ToLowerInvariant(), new PersonOrder(name, told.Email, standing.Roles, zone));
        await db.Users.Where(p => p.Id == person.Id).ExecuteUpdateAsync(s => s.SetProperty(p => p.Here, true).SetProperty(p => p.PasswordHash, hash));
        await Link(person.Id, told);
        return await desk.PutInTeams(person, await Places(person.Roles, standing.Teams)) is { } wrong ? wrong : person;
    }

    // Those who get no leads have no places in teams, whatever their groups mean; a team that is gone means nothing.
    private async Task<IReadOnlyList<string>> Places(string[] roles, IReadOnlyList<string> teams) =>
        !configuration.Current.Roles.Of(roles).GivenLeads ? [] : await db.Set<TeamRow>().Where(t => teams.Contains(t.Key)).Select(t => t.Key).ToListAsync();

    // Takes roles and teams over. Somebody whose groups mean no role any more is not let in; the last administrator stays one.
    private async Task<Outcome<Person>> Follow(Person person, ProviderClaim told)
    {
        if (!Follows)
            return person;
        var meant = Meant(told);
        if (meant.Problem is { } unfit)
            return unfit;
        var standing = meant.Value!;
        string[] roles = [.. standing.Roles.Order()];
        if (!desk.Roles.Of(roles).May(Act.ManagePeople) && await desk.IsLastAdministrator(person))
            roles = person.Roles;
        var (teams, isSame) = await Teams(person, roles, standing);
        if (isSame && roles.Order().SequenceEqual(person.Roles.Order()))
            return person;
        var refused = await desk.Try(async () =>
        {
            person.Roles = roles;
            person.Version++;
            await db.SaveChangesAsync();
            return await desk.PutInTeams(person, teams);
        });
        return refused is null ? person : Problem.Of("provider-sheet", "", refused);
    }

    private async Task<(IReadOnlyList<string> Keys, bool IsSame)> Teams(Person person, string[] roles, ProviderStanding standing)
    {
        var now = await db.Set<TurnRow>().Where(t => t.PersonId == person.Id).Select(t => t.TeamKey).ToListAsync();
        var teams = await Places(roles, ProviderClaims.Teams(Settings.Maps, standing, now));
        return (teams, teams.Order().SequenceEqual(now.Order()));
    }

    private async Task Note(IReadOnlyList<string> values)
    {
        var (now, seen) = (clock.UtcNow(), values.Where(v => v.Length is > 0 and <= LongestValue).Distinct().Take(MostValues).ToArray());
        await db.Run($"insert into provider_value (value, seen_at) select v, {now} from unnest({seen}) v on conflict (value) do update set seen_at = {now}");
    }
}
