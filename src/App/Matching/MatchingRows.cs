using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Matching;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Matching;

/// <summary>How common a value is, see <see cref="ValueShares"/>.</summary>
public sealed record ShareOf(string Comparison, string Value, double Share);

/// <summary>An edition of the matching: its probabilities.</summary>
/// <param name="Pairs">So many pairs of ours were looked at to learn them.</param>
public sealed record MatchingEdition(MatchModel Model, long Pairs);

/// <summary>What matching goes by in this workspace.</summary>
public static class MatchingRows
{
    /// <summary>The matcher of the live edition, among as many leads and contacts as the database believes there are; the shipped model where none was published.</summary>
    public static async Task<Matcher> Live(LanternDb db)
    {
        var records = await db.One<long>(
            $"""select coalesce(sum(greatest(reltuples, 0)), 0)::bigint as "Value" from pg_class where oid in ('lead'::regclass, 'contact'::regclass)"""
        );
        var body = await db.Set<Edition>().Where(x => x.Kind == Edition.Matching && x.State == "live").Select(x => x.Body).SingleOrDefaultAsync();
        var shares = (await ValueCounts.Load(db))?.ToShares();
        return new Matcher(body is null ? MatchModel.Shipped : Json.Read<MatchingEdition>(body).Model, records, shares);
    }
}
