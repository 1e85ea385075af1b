using System.Collections.Immutable;
using CsCheck;
using DapperLantern.Core.Routing;

namespace DapperLantern.Core.Tests.Routing;

public sealed class TurnsTests
{
    private static readonly Gen<ImmutableArray<Turn>> AnyTeam = Gen.Int[1, 5]
        .Array[1, 6]
        .Select(weights => weights.Select((w, i) => new Turn(new Guid(i + 1, 0, 0, new byte[8]), w, 0)).ToImmutableArray());

    [Fact]
    public void EverybodyHasTheirShareToWithinOneLeadAtEveryMoment() =>
        Gen.Select(AnyTeam, Gen.Int[1, 200])
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
                            if (Math.Abs(given[t.Rep] - (double)n * t.Weight / whole) > 1)
                                return false;
                    }
                    return true;
                }
            );

    [Fact]
    public void WhoIsAwayIsNeverPickedAndCreditsStayBalanced() =>
        Gen.Select(AnyTeam, Gen.Bool.Array[40])
            .Sample(
                (team, away) =>
                {
                    foreach (var absent in away)
                    {
                        var gone = absent ? team[0].Rep : Guid.Empty;
                        (var pick, team) = Turns.Next(team, id => id != gone);
                        if ((pick == gone && absent) || team.Sum(t => t.Credit) != 0)
                            return false;
                    }
                    return true;
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
