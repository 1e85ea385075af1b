using System.Collections.Immutable;
using CsCheck;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Routing;
using NodaTime;

namespace DapperLantern.Core.Tests.Routing;

/// <summary>Leads of before played through a sheet: what is counted is what was decided.</summary>
public sealed class ReplayTests
{
    private static readonly Rep Tor = new(Guid.NewGuid(), "tor", "Tor", true, 90, 60) { AwayUntil = Sample.Now + Duration.FromDays(9), Working = false };
    private static readonly Rep Aoife = new(Guid.NewGuid(), "aoife", "Aoife", false, 0, 60) { Today = 9, CapacityToday = 3 };
    private static readonly Team Sea = new("sea", "Sea", [new Turn(Tor.Id, 1, 0), new Turn(Aoife.Id, 1, 5 * Turns.Lead)]) { OnlyInHours = true };

    private static readonly RuleSheet Sheet = new(
        ["country"],
        [
            new("sea", "Sea", Condition.Where("country", TestOperator.In, "NO"), new RuleOutcome(Team: "sea")),
            new("tor", "Tor", Condition.Where("country", TestOperator.In, "GB"), new RuleOutcome(Person: "tor")),
            new("held", "Held", Condition.Where("country", TestOperator.In, "FR"), new RuleOutcome(Hold: "not yet")),
        ],
        480,
        "Call"
    );

    private static Replay Begun() =>
        new(new Router(Sheet, Sample.Catalogue), new RoutingState(new[] { Tor, Aoife }.ToDictionary(r => r.Id), new Dictionary<string, Team> { ["sea"] = Sea }));

    private static ReplayLead Lead(string? country, Guid? then = null, bool owned = false, int fit = 0, string move = "park") =>
        new(
            Guid.NewGuid(),
            Sample.Record(("country", country), ("fit", fit), ("engagement", 10), ("next_move", move)),
            Sample.Now,
            owned ? [new ExistingOwner(Aoife.Id, Guard.Account, "owns the account")] : [],
            then
        );

    private static readonly Gen<ReplayLead> Any = Gen.Select(
            Gen.OneOfConst("NO", "GB", "FR", "US", null),
            Gen.OneOfConst<Guid?>(Tor.Id, Aoife.Id, null),
            Gen.Bool,
            Gen.Int[0, 100],
            Gen.OneOfConst("hand_over", "park")
        )
        .Select((country, then, owned, fit, move) => Lead(country, then, owned, fit, move));

    [Fact]
    public void EveryLeadIsCountedOnceAndTheSharesAreWhatWasDecided() =>
        Any.Array[0, 300]
            .Sample(leads =>
            {
                var replay = Begun();
                var decided = leads.Select(l => (Lead: l, Decision: replay.Play(l))).ToList();
                var result = replay.Result();
                result.Leads.ShouldBe(leads.Length);
                (result.Hits.Sum() + result.Guarded + result.NoRule).ShouldBe(leads.Length);
                result.Held.ShouldBe(decided.Count(d => d.Decision.Rule is not null && d.Decision.Owner is null));
                result.Changed.ShouldBe(decided.Count(d => d.Decision.Owner != d.Lead.Owner));
                result.Changes.Length.ShouldBe(Math.Min(result.Changed, Replay.MostChanges));
                foreach (var share in result.Shares)
                {
                    var got = decided.Where(d => d.Decision.Owner == share.Rep).Select(d => d.Lead.Facts).ToList();
                    share.Now.ShouldBe(got.Count);
                    share.Then.ShouldBe(leads.Count(l => l.Owner == share.Rep));
                    share.Ready.ShouldBe(got.Count(f => f.Text("next_move") == "hand_over"));
                    share.MeanFit.ShouldBe(got.Count == 0 ? 0 : got.Average(f => (double)f["fit"].Number), 1e-9);
                }
                result.Shares.Sum(s => s.Now).ShouldBe(decided.Count(d => d.Decision.Owner is not null));
            });

    [Fact]
    public void NobodyIsAwayOrFullAndNobodyIsOwedAnything()
    {
        var replay = Begun();
        for (var i = 0; i < 200; i++)
            replay.Play(Lead("NO"));
        // In turn from the first on, though one is away, over the limit and not at work, and the other had her share of today and is far ahead in the turn of now.
        replay.Result().Shares.Select(s => (s.Rep, s.Now)).ShouldBe([(Tor.Id, 100), (Aoife.Id, 100)], ignoreOrder: true);
        replay.Play(Lead("GB")).Owner.ShouldBe(Tor.Id);
    }

    [Fact]
    public void WhoOwnsSomethingAlreadyIsAskedBeforeTheRules()
    {
        var replay = Begun();
        replay.Play(Lead("GB", Tor.Id, owned: true)).Owner.ShouldBe(Aoife.Id);
        var result = replay.Result();
        (result.Guarded, result.Hits.Sum(), result.From).ShouldBe((1, 0, Sample.Now));
        result.Changes.ShouldHaveSingleItem().ShouldBe(new ReplayChange(result.Changes[0].Lead, Tor.Id, Aoife.Id, null));
    }

    [Fact]
    public void NothingPlayedIsNothingCounted()
    {
        var result = Begun().Result();
        (result.Leads, result.From, result.Changed).ShouldBe((0, (Instant?)null, 0));
        result.Hits.ShouldBe([0, 0, 0]);
        result.Shares.ShouldBeEmpty();
    }
}
