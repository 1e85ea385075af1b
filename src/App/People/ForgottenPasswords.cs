using System.Security.Cryptography;
using System.Text;
using DapperLantern.App.Data;
using DapperLantern.App.Due;
using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.People;

/// <summary>
/// Sends a one-time address to those who forgot their password. It is asked for in the same time and with the same answer whether there is such a person or not: only
/// what is due afterwards knows.
/// </summary>
public sealed class ForgottenPasswords(OneTimeLinks links) : IDueWork
{
    // Somebody who asks again and again gets no letter more.
    private static readonly TimeSpan Between = TimeSpan.FromMinutes(5);

    private const string Asked = "password_asked";

    public string Kind => Asked;

    public string Words => "Send an address for another password";

    public int Batch => 20;

    /// <summary>Notes that somebody asks.</summary>
    public static async Task Ask(LanternDb db, string name, DateTime now)
    {
        var person = await Person.Named(db, name).Select(p => (Guid?)p.Id).SingleOrDefaultAsync();
        var key = person ?? new Guid(SHA256.HashData(Encoding.UTF8.GetBytes(name.Trim().ToUpperInvariant())).AsSpan(0, 16));
        await db.Run($"insert into due (kind, key, at) values ({Asked}, {key}, {now}) on conflict (kind, key) do nothing");
    }

    public async Task<int> Do(LanternDb db, Guid[] keys, DateTime now, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var taken = await db.Rows<Guid>(
            $"""delete from due where kind = {Kind} and key in (select key from due where kind = {Kind} and key = any({keys}) for update skip locked) returning key as "Value" """,
            cancel
        );
        var lately = now - Between;
        var people = await db
            .Users.AsNoTracking()
            .Where(p => taken.Contains(p.Id) && p.Here && p.Email != null && !db.Set<OneTimeLinkRow>().Any(l => l.PersonId == p.Id && l.MadeBy == null && l.MadeAt > lately))
            .ToListAsync(cancel);
        foreach (var person in people)
            await PeopleDesk.Letter(db, person, LinkKind.Password, await links.Make(db, LinkKind.Password, person.Id, by: null, asked: true), now);
        await transaction.CommitAsync(cancel);
        return taken.Count;
    }
}
