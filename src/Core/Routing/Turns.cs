using System.Collections.Immutable;
using System.Runtime.InteropServices;

namespace DapperLantern.Core.Routing;

/// <summary>One place in a team's rotation.</summary>
/// <param name="Weight">Share of the leads relative to the others, 1 to 100.</param>
/// <param name="Credit">What the place is owed, in billionths of a lead; negative when it is ahead. All credits of a rotation add up to 0.</param>
public readonly record struct Turn(Guid Rep, int Weight, long Credit);

/// <summary>
/// Smooth weighted rotation. Each lead is shared out on paper among the places that could take it, by weight; it goes to the place that is then owed most, which
/// pays for it. A place that cannot take a lead neither gains nor pays, so who comes back is not flooded. Ties go to the earlier place.
/// <para>
/// With n places nobody is ever owed, or ahead by, more than (n - 1) / 2 leads, whatever the weights and whoever was there for which lead; and while the same
/// places are there, nobody is ever a whole lead ahead. docs/turns.md has the proof; properties hold it.
/// </para>
/// </summary>
public static class Turns
{
    /// <summary>One lead, in the unit of <see cref="Turn.Credit"/>.</summary>
    public const long Lead = 1_000_000_000;

    /// <summary>What a place may be owed or ahead by at most, in leads; rounding adds less than a millionth.</summary>
    public static double Bound(int places) => Math.Max(0, (places - 1) / 2.0);

    /// <summary>So many places need no memory of their own to be looked over.</summary>
    internal const int Few = 64;

    /// <inheritdoc cref="Next(ImmutableArray{Turn}, ReadOnlySpan{bool})"/>
    public static (Guid? Pick, ImmutableArray<Turn> After) Next(ImmutableArray<Turn> turns, Func<Guid, bool> available)
    {
        Span<bool> there = turns.Length <= Few ? stackalloc bool[turns.Length] : new bool[turns.Length];
        for (var i = 0; i < turns.Length; i++)
            there[i] = available(turns[i].Rep);
        return Next(turns, there);
    }

    /// <param name="there">By place: whether it can take this lead.</param>
    /// <returns>The place picked, or null when none is available; and the rotation after the pick.</returns>
    /// <exception cref="InvalidOperationException">The credits do not add up to 0: the stored rotation is broken.</exception>
    public static (Guid? Pick, ImmutableArray<Turn> After) Next(ImmutableArray<Turn> turns, ReadOnlySpan<bool> there)
    {
        RequireBalance(turns);
        long whole = 0;
        for (var i = 0; i < turns.Length; i++)
            if (there[i])
                whole += turns[i].Weight;
        if (whole == 0)
            return (null, turns);

        var after = turns.ToArray();
        var (pick, paid) = (-1, 0L);
        for (var i = 0; i < after.Length; i++)
        {
            if (!there[i])
                continue;
            var share = Lead * after[i].Weight / whole;
            paid += share;
            after[i] = after[i] with { Credit = after[i].Credit + share };
            if (pick < 0 || after[i].Credit > after[pick].Credit)
                pick = i;
        }
        // What was shared out, to the last unit, so that the balance stays exact.
        after[pick] = after[pick] with
        {
            Credit = after[pick].Credit - paid,
        };
        return (after[pick].Rep, ImmutableCollectionsMarshal.AsImmutableArray(after));
    }

    /// <summary>A rotation with other places: who stays keeps what is owed, who is new begins at nothing, and what those who left were owed is shared by weight.</summary>
    public static ImmutableArray<Turn> With(ImmutableArray<Turn> turns, IReadOnlyList<(Guid Rep, int Weight)> places)
    {
        if (places.Count == 0)
            return [];
        var owed = turns.ToDictionary(t => t.Rep, t => t.Credit);
        var kept = places.Select(p => new Turn(p.Rep, p.Weight, owed.GetValueOrDefault(p.Rep))).ToArray();
        var over = -kept.Sum(t => t.Credit);
        long whole = kept.Sum(t => t.Weight);
        var shared = kept.Select(t => t with { Credit = t.Credit + over * t.Weight / whole }).ToArray();
        shared[0] = shared[0] with { Credit = shared[0].Credit - shared.Sum(t => t.Credit) };
        return [.. shared];
    }

    private static void RequireBalance(ImmutableArray<Turn> turns)
    {
        long sum = 0;
        foreach (var turn in turns)
            sum += turn.Credit;
        if (sum != 0)
            throw new InvalidOperationException($"the credits of a rotation add up to {sum}, not 0");
    }
}
