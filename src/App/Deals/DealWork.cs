using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;

namespace DapperLantern.App.Deals;

/// <summary>Works on an open deal: holds it, does what is asked, tells it in the story, and gives the deal as it is then.</summary>
public sealed class DealWork(LanternDb db, DealEditor changing, DealQueries queries, TimeProvider clock)
{
    public TimeProvider Clock { get; } = clock;

    public DateTime Now => Clock.UtcNow();

    /// <param name="work">What is done, in a transaction with the deal held: what happened, null where nothing changed; or what is wrong, and then nothing is kept.</param>
    public async Task<Outcome<DealSheet>> Do(Guid id, ClaimsPrincipal user, Func<LanternDb, Deal, Task<(Happening? Told, Problem? Wrong)>> work)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var (deal, no) = await changing.HoldOpen(db, id, user, null);
        if (no is not null)
            return no;
        var (told, wrong) = await work(db, deal!);
        if (wrong is not null)
            return wrong;
        if (told is not null)
        {
            deal!.Version++;
            await db.Log(EventLog.Deal, id, told);
            await db.SaveChangesAsync();
        }
        await transaction.CommitAsync();
        return (await queries.Sheet(db, id, user))!;
    }
}
