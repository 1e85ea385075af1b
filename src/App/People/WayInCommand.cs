using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.People;

/// <summary>
/// The way in from the command line, for those who run the machine: <c>way-in first</c> prints the one-time address that makes the first administrator, <c>way-in</c> lists who administers,
/// <c>way-in NAME</c> makes somebody an administrator who is here and prints a one-time address for them.
/// </summary>
internal static class WayInCommand
{
    /// <summary>What <c>first</c> ends with where somebody administers the workspace already.</summary>
    public const int Begun = 3;

    /// <returns>The exit code: 0, <see cref="Begun"/>, or 2 where there is nobody by the name.</returns>
    public static async Task<int> Run(IServiceProvider services, string[] args, TextWriter output, TextWriter errors)
    {
        await using var db = await services.GetRequiredService<LanternDbFactory>().Open();
        var links = services.GetRequiredService<OneTimeLinks>();
        return args switch
        {
            ["first"] => await First(db, links, output),
            [var name] => await For(
                db,
                links,
                new SecondSteps(db, services.GetRequiredService<IDataProtectionProvider>(), services.GetRequiredService<TimeProvider>()),
                name,
                output,
                errors
            ),
            _ => await List(db, output),
        };
    }

    private static async Task<int> First(LanternDb db, OneTimeLinks links, TextWriter output)
    {
        if (await PeopleDesk.HasAdministrator(db, await RoleRow.Load(db)))
            return Begun;
        await output.WriteLineAsync((await links.Make(db, LinkKind.Begin, person: null, by: null)).Address);
        return 0;
    }

    private static async Task<int> For(LanternDb db, OneTimeLinks links, SecondSteps steps, string name, TextWriter output, TextWriter errors)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await Person.Named(db, name).AsNoTracking().SingleOrDefaultAsync() is not { } person)
        {
            await errors.WriteLineAsync($"Nobody signs in as \u201c{name}\u201d.");
            await List(db, errors);
            return 2;
        }
        var been = person.PasswordHash is not null;
        var roles = person.Roles.Append(ShippedRoles.Administrator).Distinct().ToArray();
        await db
            .Users.Where(p => p.Id == person.Id)
            .ExecuteUpdateAsync(s => s.SetProperty(p => p.Roles, roles).SetProperty(p => p.Here, p => p.Here || been).SetProperty(p => p.Version, p => p.Version + 1));
        // Whoever runs the machine lets in somebody who lost their device, too.
        await steps.EndAll(person.Id);
        var link = await links.Make(db, been ? LinkKind.Password : LinkKind.Invitation, person.Id, by: null);
        await transaction.CommitAsync();
        await errors.WriteLineAsync($"{person.DisplayName} is an administrator. This address opens once, until {link.EndsAt:yyyy-MM-dd HH:mm} UTC:");
        await output.WriteLineAsync(link.Address);
        return 0;
    }

    private static async Task<int> List(LanternDb db, TextWriter to)
    {
        var people = await PeopleDesk.Administrators(db, await RoleRow.Load(db)).AsNoTracking().OrderBy(p => p.DisplayName).ToListAsync();
        await to.WriteLineAsync(people.Count == 0 ? "Nobody administers this workspace." : "These administer this workspace:");
        foreach (var p in people)
            await to.WriteLineAsync($"  {p.UserName}  {p.DisplayName}{(p.Here ? "" : ", not here")}");
        return 0;
    }
}
