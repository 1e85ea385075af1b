using CsCheck;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Tests.Fields;

/// <summary>Numbers, money, dates and yes or no, as people in five languages write them.</summary>
public sealed class ValueReadersTests
{
    [Theory]
    [InlineData("1,200", 1200)]
    [InlineData("1.200,50", 1200.5)]
    [InlineData("1,200.50", 1200.5)]
    [InlineData("1 200,5", 1200.5)]
    [InlineData("1'200.5", 1200.5)]
    [InlineData("12,5", 12.5)]
    [InlineData("-3", -3)]
    [InlineData("2.5 mio", 2500000)]
    [InlineData("15k", 15000)]
    [InlineData("4.4163E+11", 441630000000)]
    public void ANumberIsReadWithEitherMark(string written, double expected) => NumberReader.Number(written, DecimalMark.Either).ShouldBe((decimal)expected);

    [Theory]
    [InlineData("50-100")]
    [InlineData("about ten")]
    [InlineData("1.2.3")]
    [InlineData("")]
    [InlineData("99999999999999999999999999")]
    public void WhatIsNoNumberIsNotGuessed(string written) => NumberReader.Number(written, DecimalMark.Either).ShouldBeNull();

    [Theory]
    [InlineData("1.234", DecimalMark.Comma, 1234)]
    [InlineData("1.234", DecimalMark.Point, 1.234)]
    [InlineData("1,234", DecimalMark.Comma, 1.234)]
    [InlineData("1,234", DecimalMark.Point, 1234)]
    public void TheColumnsMarkDecidesWhatOneNumberLeavesOpen(string written, DecimalMark mark, double expected) => NumberReader.Number(written, mark).ShouldBe((decimal)expected);

    [Fact]
    public void ANumberWrittenWithItsColumnsMarkIsReadBack() =>
        Gen.Int[-900_000_000, 900_000_000]
            .Select(Gen.Bool)
            .Sample(
                (cents, comma) =>
                {
                    var number = cents / 100m;
                    var text = number.ToString("#,##0.00", System.Globalization.CultureInfo.InvariantCulture);
                    if (comma)
                        text = text.Replace(',', '_').Replace('.', ',').Replace('_', '.');
                    return NumberReader.Number(text, comma ? DecimalMark.Comma : DecimalMark.Point) == number
                        && NumberReader.MarkOf(text) == (comma ? DecimalMark.Comma : DecimalMark.Point);
                }
            );

    [Theory]
    [InlineData("€ 1.200.000,50", 1200000.5)]
    [InlineData("EUR 84,600", 84600)]
    [InlineData("12.5 mio EUR", 12500000)]
    [InlineData("300", 300)]
    public void AnAmountInTheFieldsCurrencyIsRead(string written, double expected) => NumberReader.Money(written, DecimalMark.Either, "EUR").ShouldBe(((decimal?)expected, false));

    [Theory]
    [InlineData("$ 300")]
    [InlineData("300 NOK")]
    [InlineData("£1,000")]
    public void AnAmountInAnotherCurrencyIsSaidNotConverted(string written) => NumberReader.Money(written, DecimalMark.Either, "EUR").ShouldBe((null, true));

    [Theory]
    [InlineData("2026-11-17")]
    [InlineData("17.11.2026")]
    [InlineData("17/11/2026")]
    [InlineData("17-11-26")]
    [InlineData("17 November 2026")]
    [InlineData("17. november 2026")]
    [InlineData("November 17th, 2026")]
    [InlineData("17 novembre 2026")]
    [InlineData("17 de noviembre de 2026")]
    [InlineData("Tue, 17 Nov 2026")]
    [InlineData("2026/11/17 00:00:00")]
    public void ADateIsReadInWhateverForm(string written) => DateReader.Read(written, DateOrder.DayFirst).ShouldBe(Instant.FromUtc(2026, 11, 17, 0, 0));

    [Theory]
    [InlineData("17.11.2026 15:44", 15, 44)]
    [InlineData("2026-11-17T09:05:00Z", 9, 5)]
    [InlineData("17/11/2026 3:44 pm", 15, 44)]
    public void ATimeOfDayIsKept(string written, int hour, int minute) => DateReader.Read(written, DateOrder.DayFirst).ShouldBe(Instant.FromUtc(2026, 11, 17, hour, minute));

    [Theory]
    [InlineData("2026-11-17T09:05:00+01:00", 8, 5)]
    [InlineData("2026-11-17T09:05:00.250+0100", 8, 5)]
    [InlineData("2026-11-17 09:05-05:30", 14, 35)]
    [InlineData("2026-11-17T09:05Z", 9, 5)]
    [InlineData("17.11.2026 09:05 +02", 7, 5)]
    public void AnOffsetIsTakenOff(string written, int hour, int minute) =>
        (DateReader.Read(written, DateOrder.DayFirst) - Instant.FromUtc(2026, 11, 17, hour, minute) < Duration.FromSeconds(1)).ShouldBe(true);

    [Theory]
    [InlineData("2026-11-17T09:05:00+25:00")]
    [InlineData("2026-11-17T09:05:00+01:75")]
    public void AnOffsetThatIsNoneMakesNoDate(string written) => DateReader.Read(written, DateOrder.DayFirst).ShouldBeNull();

    [Theory]
    [InlineData("12 500 CZK", "CZK", 12500)]
    [InlineData("CZK 12500", "CZK", 12500)]
    [InlineData("12 500 Kč", "CZK", 12500)]
    [InlineData("R$ 1.250,50", "BRL", 1250.5)]
    [InlineData("BRL 1250", "BRL", 1250)]
    [InlineData("1250 huf", "HUF", 1250)]
    public void AnAmountNamesAnyCurrencyThereIs(string written, string currency, double amount) =>
        NumberReader.Money(written, DecimalMark.Either, currency).ShouldBe(((decimal)amount, false));

    [Theory]
    [InlineData("CZK 100", "BRL")]
    [InlineData("100 JPY", "EUR")]
    public void AnAmountInAnotherCurrencyIsNoAmount(string written, string currency) => NumberReader.Money(written, DecimalMark.Either, currency).ShouldBe((null, true));

    [Fact]
    public void MinorUnitsHaveTheDecimalsOfTheStandard()
    {
        Iso4217.Codes.ShouldAllBe(c => c.Length == 3 && c.All(char.IsAsciiLetterUpper));
        (Iso4217.Digits("EUR"), Iso4217.Digits("JPY"), Iso4217.Digits("TND")).ShouldBe((2, 0, 3));
        Iso4217.IsCode("euro").ShouldBeFalse();
        Iso4217.IsCode("XXX").ShouldBeFalse();
    }

    [Theory]
    [InlineData("31.02.2026")]
    [InlineData("2026-13-01")]
    [InlineData("17.11")]
    [InlineData("soon")]
    [InlineData("11/17/2026")]
    public void WhatIsNoDateIsNotBent(string written) => DateReader.Read(written, DateOrder.DayFirst).ShouldBeNull();

    [Fact]
    public void EveryDayIsReadBackInTheOrderItWasWritten() =>
        Gen.Int[0, 80_000]
            .Select(Gen.Bool)
            .Sample(
                (days, dayFirst) =>
                {
                    var date = new LocalDate(1900, 1, 1).PlusDays(days);
                    var text = dayFirst ? $"{date.Day:00}/{date.Month:00}/{date.Year:0000}" : $"{date.Month}/{date.Day}/{date.Year:0000}";
                    var order = dayFirst ? DateOrder.DayFirst : DateOrder.MonthFirst;
                    return DateReader.Read(text, order) == date.AtStartOfDayInZone(DateTimeZone.Utc).ToInstant() && (DateReader.OrderOf(text).Order ?? order) == order;
                }
            );

    [Theory]
    [InlineData("ja", "yes")]
    [InlineData("Oui", "yes")]
    [InlineData("SÍ", "yes")]
    [InlineData("x", "yes")]
    [InlineData("Nein", "no")]
    [InlineData("non", "no")]
    [InlineData("nei", "no")]
    [InlineData("0", "no")]
    public void YesAndNoAreReadInFiveLanguages(string written, string expected) => FieldReader.Read(Sample.Catalogue["decides"], written).Value.Text.ShouldBe(expected);

    [Theory]
    [InlineData("#REF!")]
    [InlineData("#N/A")]
    public void WhatASheetShowsForAFailedFormulaIsNoValue(string written) => FieldReader.Read(Sample.Catalogue["company"], written).Problem!.Code.ShouldBe("cell-error");

    [Fact]
    public void ACleanTextIsGivenBackItselfAndADirtyOneCleaned()
    {
        const string clean = "Fjordnær Laks";
        FieldReader.Clean(clean).ShouldBeSameAs(clean);
        FieldReader.Clean(" \u00a0Fjordnær \t\u200b Laks\0\n").ShouldBe("Fjordnær Laks");
    }

    [Theory]
    [InlineData("country", "Swedn", "SE")]
    [InlineData("country", "Untied Kingdoom", "GB")]
    [InlineData("industry", "aquacultre", "fish_farming")]
    [InlineData("email", "tor@vik,example", "tor@vik.example")]
    [InlineData("email", "tor at vik.example", "tor@vik.example")]
    [InlineData("decides", "yess", "yes")]
    public void WhatWasProbablyMeantIsProposedFirst(string field, string written, string stored) => NearMiss.For(Sample.Catalogue[field], written).First().Stored.ShouldBe(stored);

    [Fact]
    public void NothingIsProposedWhereNothingIsNear() => NearMiss.For(Sample.Catalogue["country"], "see the card").ShouldBeEmpty();

    [Fact]
    public void TheDistanceIsSymmetricZeroForEqualsAndNeverMoreThanTheLongerText() =>
        Gen.Char["abcd"]
            .Array[0, 8]
            .Select(c => new string(c))
            .Array[2]
            .Sample(t =>
            {
                var away = TypingDistance.Within(t[0], t[1], 100);
                return away == TypingDistance.Within(t[1], t[0], 100) && (away == 0) == (t[0] == t[1]) && away <= Math.Max(t[0].Length, t[1].Length);
            });

    [Theory]
    [InlineData("US", "62704-1234", "Springfield", "US-IL")]
    [InlineData("CA", "T1X 0A1", null, null)]
    public void APostalCodeTellsPlaceAndRegionWhereTheDataKnowsIt(string country, string code, string? city, string? region)
    {
        if (city is null)
            Places.Of("NO", code).ShouldBeNull();
        else
            Places.Of(country, code).ShouldBe((city, region!));
    }

    [Theory]
    [InlineData("Bavaria", "DE", "DE-BY")]
    [InlineData("CA", "US", "US-CA")]
    [InlineData("california", "US", "US-CA")]
    public void ARegionIsFoundByCodeNameOrForeignName(string written, string country, string expected) => Regions.Find(written, country).ShouldBe(expected);
}
