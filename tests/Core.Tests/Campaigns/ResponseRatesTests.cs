using CsCheck;
using DapperLantern.Core.Campaigns;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Tests.Campaigns;

/// <summary>Rates of responses, and how lists spell them.</summary>
public class ResponseRatesTests
{
    private static readonly Gen<ResponseCount[]> Counts = Gen.Select(
            Gen.Shuffle(CampaignResponse.All.Select(r => r.Key).ToArray()),
            Gen.Int[0, 40].Array[0, 11],
            Gen.Int[0, 40].Array[11]
        )
        .Select((keys, known, fresh) => known.Select((k, i) => new ResponseCount(keys[i], k, fresh[i])).ToArray());

    [Fact]
    public void EachRateIsItsPeopleOfThoseWhoCouldHaveGivenIt() =>
        Counts.Sample(counts =>
        {
            var members = new ResponseCount("", 40, 40);
            foreach (var rate in ResponseRates.Of(members, counts))
            {
                var count = counts.Single(c => c.Response == rate.Response);
                rate.People.ShouldBe(count.People);
                rate.KnownShare.ShouldBe(count.Known / 40.0);
                rate.FreshShare!.Value.ShouldBeInRange(0, 1);
            }
        });

    [Fact]
    public void ResponsesStandInTheOrderInWhichTheyComeAndNobodysIsLeftOut() =>
        Counts.Sample(counts =>
        {
            var rates = ResponseRates.Of(new ResponseCount("", 40, 40), counts);
            var usual = CampaignResponse.All.Select(r => r.Key).ToList();
            rates.Select(r => usual.IndexOf(r.Response)).ShouldBeInOrder();
            rates.Select(r => r.Response).ShouldBe(counts.Where(c => c.People > 0).Select(c => c.Response), ignoreOrder: true);
        });

    [Fact]
    public void WithNobodyKnownThereIsNoRateOfTheKnown()
    {
        var rate = ResponseRates.Of(new ResponseCount("", 0, 3), [new ResponseCount("attended", 0, 2)]).Single();
        rate.KnownShare.ShouldBeNull();
        rate.FreshShare!.Value.ShouldBe(2 / 3.0);
    }

    [Theory]
    [InlineData("Attended", "attended")]
    [InlineData("TEILGENOMMEN", "attended")]
    [InlineData("inscrit", "registered")]
    [InlineData("sendt", "sent")]
    [InlineData("clic", "clicked")]
    public void AListSpellsResponsesInFiveLanguages(string written, string key) =>
        FieldReader.Read(FieldCatalogue.Build()[FieldCatalogue.Response], written, default(string)).Value.Text.ShouldBe(key);

    [Fact]
    public void NoSpellingMeansTwoResponses()
    {
        var spellings = CampaignResponse.All.SelectMany(r => r.AlsoCalled.Append(r.Key).Append(r.Label).Select(Folding.Heading).Distinct().Select(s => (Spelling: s, r.Key)));
        spellings.GroupBy(s => s.Spelling).Where(g => g.Count() > 1).Select(g => g.Key).ShouldBeEmpty();
    }

    [Fact]
    public void EveryKindOfCampaignHasAUsualResponseThatIsTheirs() => CampaignKind.All.ShouldAllBe(k => CampaignResponse.Find(k.Response)!.IsTheirs);
}
