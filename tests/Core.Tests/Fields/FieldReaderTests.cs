using CsCheck;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Tests.Fields;

public sealed class FieldReaderTests
{
    private static string? Read(string field, string written, string? country = null) => FieldReader.Read(Sample.Catalogue[field], written, country).Value.Text;

    [Theory]
    [InlineData("020 7946 0018", "GB", "+442079460018")]
    [InlineData("+44 (0)1632 960143", null, "+441632960143")]
    [InlineData("0044 1632-960-143", "NO", "+441632960143")]
    [InlineData("4095550123.0", "US", "+14095550123")]
    [InlineData("030 23125 476", "DE", "+493023125476")]
    public void PhonesBecomeE164(string written, string? country, string expected) => Read("phone", written, country).ShouldBe(expected);

    [Theory]
    [InlineData(" Ragna@Fjordnaer.EXAMPLE ", "ragna@fjordnaer.example")]
    [InlineData("mailto:tor@vik.example", "tor@vik.example")]
    [InlineData("<tor@vik.example>;", "tor@vik.example")]
    public void MailAddressesAreTidied(string written, string expected) => Read("email", written).ShouldBe(expected);

    [Theory]
    [InlineData("see card")]
    [InlineData("tor@vik")]
    [InlineData("a@b@c.example")]
    public void WhatIsNoMailAddressIsAProblemThatQuotesIt(string written)
    {
        var read = FieldReader.Read(Sample.Catalogue["email"], written);
        read.Value.IsKnown.ShouldBeFalse();
        read.Problem!.Words.ShouldContain(written);
    }

    [Theory]
    [InlineData("NORGE", "NO")]
    [InlineData("norway ", "NO")]
    [InlineData("Untied Kingdom", "GB")]
    [InlineData("U.S.A.", "US")]
    [InlineData("Deutschland", "DE")]
    [InlineData("España", "ES")]
    [InlineData("dnk", "DK")]
    public void CountriesAreKnownByManySpellings(string written, string expected) => Read("country", written).ShouldBe(expected);

    [Fact]
    public void AMisspeltCountryIsSaidNotGuessed() => FieldReader.Read(Sample.Catalogue["country"], "Swedn").Problem!.Code.ShouldBe("country-unknown");

    [Theory]
    [InlineData("WA", "US", "US-WA")]
    [InlineData("Washington", "US", "US-WA")]
    [InlineData("US-WA", null, "US-WA")]
    [InlineData("British Columbia", "CA", "CA-BC")]
    public void RegionsNeedTheirCountryUnlessFullyCoded(string written, string? country, string expected) => Read("region", written, country).ShouldBe(expected);

    [Theory]
    [InlineData("aquaculture", "fish_farming")]
    [InlineData("FISH FARMING", "fish_farming")]
    [InlineData("port", "port")]
    public void ChoicesAreFoundByKeyLabelAndOtherNames(string written, string expected) => Read("industry", written).ShouldBe(expected);

    [Theory]
    [InlineData("https://www.Fjordnaer.example/no/kontakt?x=1", "fjordnaer.example")]
    [InlineData("www.fjordnaer.example", "fjordnaer.example")]
    public void WebAddressesBecomeDomains(string written, string expected) => Read("website", written).ShouldBe(expected);

    private static readonly FieldDefinition Depth = new("depth", "Depth", FieldType.Number);

    [Theory]
    [InlineData("12.5")]
    [InlineData("-3")]
    public void ANumberOfPeopleIsWholeAndNotUnderNothing(string written) =>
        FieldReader.Read(Sample.Catalogue["employees"], written).Problem.ShouldNotBeNull().Code.ShouldBe("count-unreadable");

    [Theory]
    [InlineData("1 200", 1200)]
    [InlineData("1.200,5", 1200.5)]
    [InlineData("1,200", 1200)]
    [InlineData("12", 12)]
    public void NumbersAreReadInEitherConvention(string written, double expected) => FieldReader.Read(Depth, written).Value.Number.ShouldBe((decimal)expected);

    [Theory]
    [InlineData("")]
    [InlineData("  ")]
    [InlineData("n/a")]
    [InlineData("-")]
    public void BlanksAndWordsForNothingAreUnknownAndNoProblem(string written)
    {
        foreach (var field in Sample.Catalogue.Facts)
            FieldReader.Read(field, written).ShouldBe(default);
    }

    [Fact]
    public void NoInputWhateverMakesAReaderThrowOrGiveBothValueAndProblem() =>
        Gen.Select(Gen.String, Gen.Int[0, Sample.Catalogue.Fields.Length - 1], Gen.OneOfConst("GB", "US", "NO", null!))
            .Sample(
                (text, at, country) =>
                {
                    var read = FieldReader.Read(Sample.Catalogue.Fields[at], text, country);
                    return !(read.Value.IsKnown && read.Problem is not null);
                }
            );

    [Fact]
    public void ReadingWhatWasReadChangesNothing() =>
        Gen.Select(Gen.OneOfConst("ragna@fjordnaer.example", "tor@vik.example"), Gen.OneOfConst("+441632960143", "+14095550123"), Gen.OneOfConst("NO", "GB", "US"))
            .Sample((mail, phone, country) => Read("email", mail) == mail && Read("phone", phone) == phone && Read("country", country) == country);
}
