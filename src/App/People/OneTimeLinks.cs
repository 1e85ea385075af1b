using System.Buffers.Text;
using System.Security.Cryptography;
using System.Text;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.People;

/// <summary>Makes addresses that open once, and opens them. The key stands behind the # of the address, so that no server on the way writes it down.</summary>
public sealed class OneTimeLinks(PublicSettings settings, TimeProvider clock)
{
    private const int KeyBytes = 32;

    /// <summary>Where everybody comes in.</summary>
    public string Door => settings.Of("/");

    /// <summary>How long an address opens.</summary>
    public static TimeSpan Holds(LinkKind kind, bool asked = false) =>
        kind switch
        {
            LinkKind.Password => asked ? TimeSpan.FromHours(1) : TimeSpan.FromDays(1),
            LinkKind.Begin => TimeSpan.FromDays(7),
            _ => TimeSpan.FromDays(14),
        };

    /// <summary>Makes an address; an older one of the same kind for the same person opens no more.</summary>
    /// <param name="person">Whom it lets in; null for <see cref="LinkKind.Begin"/>.</param>
    /// <param name="by">The person who makes it; null for the command line, and for somebody who forgot their own password.</param>
    /// <param name="asked">True where a stranger may have asked for it: it opens for a shorter time.</param>
    public async Task<OneTimeLink> Make(LanternDb db, LinkKind kind, Guid? person, Guid? by, bool asked = false)
    {
        var now = clock.UtcNow();
        var key = Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(KeyBytes));
        await db.Set<OneTimeLinkRow>().Where(x => x.Kind == kind && x.PersonId == person && x.EndedAt == null).ExecuteUpdateAsync(s => s.SetProperty(x => x.EndedAt, now));
        var row = new OneTimeLinkRow
        {
            Hash = HashOf(key),
            Kind = kind,
            PersonId = person,
            MadeBy = by,
            MadeAt = now,
            EndsAt = now + Holds(kind, asked),
        };
        await db.Insert(row);
        if (person is { } id)
            await db.Log(EventLog.Person, id, new WayInMade(kind.ToString()));
        return new OneTimeLink(settings.Of($"/way-in#{key}"), row.EndsAt);
    }

    /// <summary>What a key opens; null where it opens nothing, or nothing any more.</summary>
    public Task<OneTimeLinkRow?> Find(LanternDb db, string key)
    {
        var (hash, now) = (HashOf(key), clock.UtcNow());
        return db.Set<OneTimeLinkRow>().AsNoTracking().SingleOrDefaultAsync(x => x.Hash == hash && x.EndedAt == null && x.EndsAt > now);
    }

    /// <summary>Uses a key up. False where somebody else was first. In the transaction of what it is used for.</summary>
    public async Task<bool> Use(LanternDb db, OneTimeLinkRow link)
    {
        var now = clock.UtcNow();
        return await db.Set<OneTimeLinkRow>().Where(x => x.Hash == link.Hash && x.EndedAt == null && x.EndsAt > now).ExecuteUpdateAsync(s => s.SetProperty(x => x.EndedAt, now))
            == 1;
    }

    /// <summary>Ends all addresses that let somebody in.</summary>
    public Task EndAll(LanternDb db, Guid person)
    {
        var now = clock.UtcNow();
        return db.Set<OneTimeLinkRow>().Where(x => x.PersonId == person && x.EndedAt == null).ExecuteUpdateAsync(s => s.SetProperty(x => x.EndedAt, now));
    }

    private static byte[] HashOf(string key) => SHA256.HashData(Encoding.UTF8.GetBytes(key));
}

/// <summary>An address that opens once, until a moment.</summary>
public sealed record OneTimeLink(string Address, DateTime EndsAt);
