using CsCheck;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Matching;

namespace DapperLantern.Core.Tests.Intake;

public sealed class SifterTests
{
    private static readonly RowReading Fit = new(Sample.Record(("last_name", "Vik"), ("email", "tor@vik.example")), [], null);
    private static readonly Identity Tor = new("tor@vik.example", "", "tor", "vik", "");

    private static KnownPerson Known(KnownKind kind, string name = "1204 Tor Vik") => new(kind, Guid.Empty, 3, name, Tor);

    [Fact]
    public void ALeadWeHaveComesBeforeAnEarlierRowAndThatBeforeAContact()
    {
        KnownPerson[] all = [Known(KnownKind.Contact), Known(KnownKind.EarlierRow), Known(KnownKind.Lead)];
        Sifter.Decide(Fit, Tor, null, all, null, false, Matcher.Shipped).Outcome.ShouldBe(SiftOutcome.Adds);
        Sifter.Decide(Fit, Tor, null, all[..2], null, false, Matcher.Shipped).Outcome.ShouldBe(SiftOutcome.Duplicate);
        Sifter.Decide(Fit, Tor, null, all[..1], "Vik AS", false, Matcher.Shipped).Outcome.ShouldBe(SiftOutcome.Contact);
        Sifter.Decide(Fit, Tor, null, [], "Vik AS", false, Matcher.Shipped).ShouldBe(new SiftVerdict(SiftOutcome.Account, "A new lead from the account Vik AS."));
    }

    [Fact]
    public void WhoIsBarredDoesNotComeInHoweverWellKnown() =>
        Sifter.Decide(Fit, Tor, "On the do-not-contact list.", [Known(KnownKind.Lead)], null, false, Matcher.Shipped).Outcome.ShouldBe(SiftOutcome.Barred);

    [Fact]
    public void TooLittleForALeadIsEnoughToKnowOneBy()
    {
        var bare = new RowReading(Fit.Values, [], new Problem("no-name", ""));
        Sifter.Decide(bare, Tor, null, [Known(KnownKind.Lead)], null, false, Matcher.Shipped).Outcome.ShouldBe(SiftOutcome.Adds);
        Sifter.Decide(bare, Tor, null, [], null, false, Matcher.Shipped).Outcome.ShouldBe(SiftOutcome.Mend);
    }

    [Fact]
    public void DoubtfulEvidenceIsSaidAndMakesNoDuplicate()
    {
        var brother = new Identity("", "+441632960143", "ola", "vik", "");
        var known = new KnownPerson(KnownKind.Lead, Guid.Empty, 0, "7 Tor Vik", new Identity("", "+441632960143", "", "vik", ""));
        var verdict = Sifter.Decide(Fit, brother, null, [known], null, false, Matcher.Shipped);
        verdict.Outcome.ShouldBe(SiftOutcome.New);
        verdict.Reason.ShouldBe("May be the same as lead 7 Tor Vik: same last name, same telephone number, and a first name is missing.");
    }

    [Fact]
    public void EveryRowHasExactlyOneOutcomeSoReadIsTheirSum() =>
        Gen.Int[0, 6]
            .Array[0, 200]
            .Sample(picks =>
            {
                var counts = picks.Aggregate(SiftCounts.None, (c, p) => c.With(SiftOutcome.All[p], 1));
                var back = picks.Aggregate(counts, (c, p) => c.With(SiftOutcome.All[p], -1));
                return counts.Balances && counts.Read == picks.Length && back == SiftCounts.None;
            });
}

public sealed class MergingTests
{
    private static readonly MergePolicy[] Policies = Enum.GetValues<MergePolicy>();

    private static Dictionary<string, string> After(MergePolicy policy, int theirs, int ours, RecordValues known, RecordValues incoming) =>
        FactMerger
            .Changes(known, incoming, _ => policy, Sample.Now + NodaTime.Duration.FromDays(theirs), _ => Sample.Now + NodaTime.Duration.FromDays(ours))
            .ToDictionary(c => c.Field.Key, c => c.After.ToString());

    [Fact]
    public void BlanksAreFilledAndNothingIsOverwrittenByDefault()
    {
        var known = Sample.Record(("first_name", "Ragna"), ("country", "NO"));
        var incoming = Sample.Record(("first_name", "R."), ("phone", "+441632960143"), ("state", "disqualified"));
        After(MergePolicy.FillBlanks, 1, 0, known, incoming).Keys.ShouldBe(["phone"]);
        After(MergePolicy.KeepOurs, 1, 0, known, incoming).ShouldBeEmpty();
        After(MergePolicy.TakeTheirs, -1, 0, known, incoming).Keys.ShouldBe(["first_name", "phone"]);
        After(MergePolicy.NewestWins, 1, 0, known, incoming).Keys.ShouldBe(["first_name", "phone"]);
        After(MergePolicy.NewestWins, 0, 0, known, incoming).Keys.ShouldBe(["phone"]);
    }

    [Fact]
    public void MergingEmptiesNothingRepeatsToNothingAndIsUndoneByItsChanges() =>
        Gen.Select(Gen.Int[0, 3].Array[4], Gen.Int[0, 3].Array[4], Gen.Int[0, 3])
            .Sample(
                (ours, theirs, policy) =>
                {
                    string[] fields = ["first_name", "city", "industry", "interest"];
                    RecordValues Record(int[] values) => Sample.Record([.. fields.Zip(values).Where(v => v.Second > 0).Select(v => (v.First, (object?)$"v{v.Second}"))]);
                    var (known, incoming) = (Record(ours), Record(theirs));
                    var before = known.Copy();
                    var changes = FactMerger.Changes(known, incoming, _ => Policies[policy], Sample.Now, _ => Sample.Now).ToList();
                    foreach (var change in changes)
                        known[change.Field.Ordinal] = change.After;
                    var again = FactMerger.Changes(known, incoming, _ => Policies[policy], Sample.Now, _ => Sample.Now).Any();
                    var emptied = before.Known().Any(k => !known[k.Field.Ordinal].IsKnown);
                    foreach (var change in changes)
                        known[change.Field.Ordinal] = change.Before;
                    return !again && !emptied && fields.All(f => known[f] == before[f]);
                }
            );
}
