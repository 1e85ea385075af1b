using System.Collections.Immutable;
using CsCheck;
using DapperLantern.Core.Routing;

namespace DapperLantern.Core.Tests.Routing;

public sealed class TurnsTests
{
    private const double Rounding = 1e-6;

    private static readonly Gen<ImmutableArray<Turn>> AnyTeam = Gen.OneOf(Gen.Int[1, 5], Gen.Int[1, 100])
        .Array[1, 9]
        .Select(weights => weights.Select((w, i) => new Turn(new Guid(i + 1, 0, 0, new byte[8]), w, 0)).ToImmutableArray());

    [Fact]
    public void WhileAllAreThereNobodyIsEverAWholeLeadAheadOrOwedMoreThanTheBound() =>
        Gen.Select(AnyTeam, Gen.Int[1, 300])
            .Sample(
                (team, picks) =>
                {
                    var whole = team.Sum(t => t.Weight);
                    var given = team.ToDictionary(t => t.Rep, _ => 0);
                    for (var n = 1; n <= picks; n++)
                    {
                        (var pick, team) = Turns.Next(team, _ => true);
                        given[pick!.Value]++;
                        foreach (var t in team)
                        {
                            var ahead = given[t.Rep] - (double)n * t.Weight / whole;
                            ahead.ShouldBeLessThan(1);
                            ahead.ShouldBeGreaterThanOrEqualTo(-Turns.Bound(team.Length) - Rounding);
                        }
                    }
                },
                iter: 2000
            );

    [Fact]
    public void NobodyIsOwedOrAheadByMoreThanHalfOfTheOthers() =>
        Gen.Select(AnyTeam, Gen.Int[1, 511].Array[1, 300])
            .Sample(
                (team, there) =>
                {
                    var owed = team.ToDictionary(t => t.Rep, _ => 0.0);
                    foreach (var bits in there)
                    {
                        var present = team.Where((_, i) => (bits & (1 << i)) != 0).ToList();
                        (var pick, team) = Turns.Next(team, id => present.Any(p => p.Rep == id));
                        (pick is null).ShouldBe(present.Count == 0);
                        foreach (var p in present)
                            owed[p.Rep] += (double)p.Weight / present.Sum(o => o.Weight) - (p.Rep == pick ? 1 : 0);
                        team.Sum(t => t.Credit).ShouldBe(0);
                        foreach (var t in team)
                        {
                            (t.Credit / (double)Turns.Lead).ShouldBe(owed[t.Rep], Rounding);
                            Math.Abs(owed[t.Rep]).ShouldBeLessThanOrEqualTo(Turns.Bound(team.Length) + Rounding);
                        }
                    }
                },
                iter: 2000
            );

    [Fact]
    public void WhoIsAwayIsNeverPickedNeitherGainsNorPays() =>
        Gen.Select(AnyTeam, Gen.Int[1, 511].Array[1, 40])
            .Sample(
                (team, away) =>
                {
                    foreach (var bits in away)
                    {
                        var gone = team.Where((_, i) => (bits & (1 << i)) != 0).ToList();
                        (var pick, team) = Turns.Next(team, id => gone.All(g => g.Rep != id));
                        gone.ShouldAllBe(g => g.Rep != pick && team.Contains(g));
                    }
                }
            );

    [Fact]
    public void NobodyGetsTwoInARowWhileOthersOfTheirWeightWait() =>
        Gen.Int[2, 9]
            .Sample(size =>
            {
                ImmutableArray<Turn> team = [.. Enumerable.Range(0, size).Select(_ => new Turn(Guid.NewGuid(), 3, 0))];
                var picks = new List<Guid>();
                for (var i = 0; i < size * 4; i++)
                {
                    (var pick, team) = Turns.Next(team, _ => true);
                    picks.Add(pick!.Value);
                }
                picks.Chunk(size).ShouldAllBe(round => round.Distinct().Count() == size);
            });

    [Fact]
    public void ARotationWithOtherPlacesKeepsItsBalanceAndWhatEachIsOwed() =>
        Gen.Select(AnyTeam, Gen.Int[1, 40], Gen.Int[1, 9], Gen.Int[0, 3])
            .Sample(
                (team, picks, leaving, joining) =>
                {
                    for (var i = 0; i < picks; i++)
                        (_, team) = Turns.Next(team, _ => true);
                    List<(Guid, int)> places = [.. team.Skip(leaving).Select(t => (t.Rep, t.Weight)), .. Enumerable.Range(0, joining).Select(_ => (Guid.NewGuid(), 2))];
                    var after = Turns.With(team, places);
                    after.Length.ShouldBe(places.Count);
                    after.Sum(t => t.Credit).ShouldBe(0);
                    if (leaving >= team.Length && joining > 0)
                        after.ShouldAllBe(t => t.Credit == 0);
                    if (places.Count == team.Length && joining == 0)
                        after.ShouldBe(team);
                }
            );

    [Fact]
    public void WhoComesBackIsNotFlooded()
    {
        ImmutableArray<Turn> team = [new(Guid.NewGuid(), 1, 0), new(Guid.NewGuid(), 1, 0)];
        var back = team[0].Rep;
        for (var i = 0; i < 30; i++)
            (_, team) = Turns.Next(team, id => id != back);
        var picks = new List<Guid>();
        for (var i = 0; i < 6; i++)
        {
            (var pick, team) = Turns.Next(team, _ => true);
            picks.Add(pick!.Value);
        }
        picks.Count(p => p == back).ShouldBe(3);
    }

    [Fact]
    public void NobodyAvailableTakesNoTurn()
    {
        ImmutableArray<Turn> team = [new(Guid.NewGuid(), 1, 0)];
        var (pick, after) = Turns.Next(team, _ => false);
        pick.ShouldBeNull();
        after.ShouldBe(team);
    }

    [Fact]
    public void ABrokenRotationIsNotUsed() => Should.Throw<InvalidOperationException>(() => Turns.Next([new(Guid.NewGuid(), 1, 3)], _ => true));
}
