using System.Collections.Immutable;

namespace DapperLantern.Core.Routing;

/// <summary>One place in a team's rotation.</summary>
/// <param name="Weight">Share of the leads relative to the others, 1 to 100.</param>
/// <param name="Credit">What the place is owed, in units of the weights; all credits of a team add up to 0.</param>
public sealed record Turn(Guid Rep, int Weight, int Credit);

/// <summary>
/// Smooth weighted rotation: every place available gains its weight in credit, the one owed most is picked and pays the sum of the
/// weights. While the same places are available, after n picks each has had its share n·w/W to within one lead. Places that
/// are away neither gain nor pay, so who comes back is not flooded. Ties go to the earlier place.
/// </summary>
public static class Turns
{
    /// <returns>The place picked, or null when none is available; and the rotation after the pick.</returns>
    /// <exception cref="InvalidOperationException">The credits do not add up to 0: the stored rotation is broken.</exception>
    public static (Guid? Pick, ImmutableArray<Turn> After) Next(ImmutableArray<Turn> turns, Func<Guid, bool> available)
    {
        RequireBalance(turns);
        var whole = turns.Where(t => available(t.Rep)).Sum(t => t.Weight);
        if (whole == 0)
            return (null, turns);

        ImmutableArray<Turn> gained = [.. turns.Select(t => available(t.Rep) ? t with { Credit = t.Credit + t.Weight } : t)];
        var pick = gained.Where(t => available(t.Rep)).MaxBy(t => t.Credit)!;
        return (pick.Rep, gained.Replace(pick, pick with { Credit = pick.Credit - whole }));
    }

    private static void RequireBalance(ImmutableArray<Turn> turns)
    {
        var sum = turns.Sum(t => t.Credit);
        if (sum != 0)
            throw new InvalidOperationException($"the credits of a rotation add up to {sum}, not 0");
    }
}
