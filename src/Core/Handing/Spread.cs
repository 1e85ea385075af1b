using System.Collections.Immutable;
using DapperLantern.Core.Routing;

namespace DapperLantern.Core.Handing;

/// <summary>A record that is handed on.</summary>
/// <param name="Along">The owner of the record that it belongs to, where they may take it; null for none.</param>
public sealed record HeldRecord(string Id, Guid? Along = null);

/// <summary>How the records of one kind are handed on.</summary>
/// <param name="How">One of <see cref="HandingWay"/>, but not the rules: these look at each lead by itself.</param>
/// <param name="Person">Who gets them; of those that go along, who gets the ones that belong to nothing of anybody.</param>
/// <param name="Places">The rotation, for turns. Its credits are not counted: many records at once are spread by the weights alone.</param>
public sealed record SpreadOrder(string How, Guid? Person, ImmutableArray<Turn> Places);

/// <summary>Says who gets which record of somebody.</summary>
public static class Spread
{
    /// <summary>The receiver of each record, in their order; null where there is none. Whoever is named for a record by itself gets it, and takes no turn by that.</summary>
    /// <param name="singly">Receivers of records that are decided one by one.</param>
    public static ImmutableArray<Guid?> Of(IReadOnlyList<HeldRecord> held, SpreadOrder order, IReadOnlyDictionary<string, Guid> singly)
    {
        var places = order.Places.IsDefault ? [] : order.Places.Select(p => p with { Credit = 0 }).ToImmutableArray();
        var to = ImmutableArray.CreateBuilder<Guid?>(held.Count);
        foreach (var record in held)
            if (singly.TryGetValue(record.Id, out var named))
                to.Add(named);
            else if (order.How == HandingWay.Turn)
            {
                var (pick, after) = Turns.Next(places, _ => true);
                places = after;
                to.Add(pick);
            }
            else
                to.Add(order.How == HandingWay.Along ? record.Along ?? order.Person : order.Person);
        return to.MoveToImmutable();
    }
}
