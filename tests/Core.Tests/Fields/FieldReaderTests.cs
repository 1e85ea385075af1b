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
    [InlineData("+39 (0)6 1234 5678", null, "+390612345678")]
    [InlineData("+39 (0)348 123 4567", null, "+393481234567")]
    [InlineData("+48 (0)22 123 45 67", null, "+48221234567")]
    [InlineData("+420 (0)224 123 456", null, "+420224123456")]
    [InlineData("+852 (0)2123 4567", null, "+85221234567")]
    [InlineData("+49 (0)30 23125 476", null, "+493023125476")]
    [InlineData("4915112345678", "DE", "+4915112345678")]
    [InlineData("4722550143", "NO", "+4722550143")]
    [InlineData("Tel.: +47 22 55 01 43", null, "+4722550143")]
    public void TheZeroInBracketsAndALostPlusAreReadAsTheCountryDials(string written, string? country, string expected) => Read("phone", written, country).ShouldBe(expected);

    [Theory]
    [InlineData("555-1234", "US")]
    [InlineData("23125 476", "DE")]
    [InlineData("+44 1999 999999", null)]
    public void ANumberThatMayLackDigitsIsKeptAsWrittenAndLinksNobody(string written, string? country)
    {
        var read = Read("phone", written, country)!;
        read.ShouldBe(written);
        PhoneReader.IsWhole(read).ShouldBeFalse();
        PhoneReader.Show(read).ShouldEndWith("(not a whole number)");
        DapperLantern.Core.Matching.Identity.Of(Sample.Record(("phone", read))).Numbers.ShouldBeEmpty();
    }

    [Theory]
    [InlineData("112", "DE", "phone-unreadable")]
    [InlineData("+49 171 123456O", null, "phone-letters")]
    [InlineData("1-800-FLOWERS", "US", "phone-letters")]
    [InlineData("10.0.12.7", "DE", "phone-unreadable")]
    public void WhatIsNoNumberIsAProblem(string written, string? country, string code)
    {
        var read = FieldReader.Read(Sample.Catalogue["phone"], written, country);
        (read.Value.IsKnown, read.Problem?.Code).ShouldBe((false, code));
    }

    [Fact]
    public void ALetterOTakenForAZeroIsProposedNotPutThere() => NearMiss.For(Sample.Catalogue["phone"], "+49 171 123456O").First().Stored.ShouldBe("+491711234560");

    [Theory]
    [InlineData("+49 30 23125-476 ext. 12", "+493023125476", "12")]
    [InlineData("+1 409 555 0123 x45", "+14095550123", "45")]
    [InlineData("+44 1632 960143;ext=7", "+441632960143", "7")]
    public void AnExtensionStandsBesideTheNumber(string written, string number, string extension)
    {
        var read = FieldReader.Read(Sample.Catalogue["phone"], written, default(string));
        (read.Value.Text, read.Beside).ShouldBe((number, extension));
    }

    [Theory]
    [InlineData(" Ragna@Fjordnaer.EXAMPLE ", "ragna@fjordnaer.example")]
    [InlineData("mailto:tor@vik.example", "tor@vik.example")]
    [InlineData("<tor@vik.example>;", "tor@vik.example")]
    [InlineData("Anna Berg anna.berg@fjordtech.example", "anna.berg@fjordtech.example")]
    [InlineData("Anna Berg <a@b.example>", "a@b.example")]
    [InlineData("a@b.example (Anna Berg)", "a@b.example")]
    [InlineData("\"Berg, Anna\" <a@b.example>", "a@b.example")]
    [InlineData("a@io", "a@io")]
    [InlineData("info@xn--mller-kva.xn--p1ai", "info@xn--mller-kva.xn--p1ai")]
    [InlineData("o'neill+list@vik.example", "o'neill+list@vik.example")]
    [InlineData("jürgen@müller.example", "jürgen@müller.example")]
    [InlineData("tor@vik.example.", "tor@vik.example")]
    [InlineData("mailto:tor@vik.example?subject=Hei", "tor@vik.example")]
    public void MailAddressesAreTidied(string written, string expected) => Read("email", written).ShouldBe(expected);

    [Theory]
    [InlineData("see card")]
    [InlineData("tor@vik")]
    [InlineData("a@b@c.example")]
    [InlineData(".test@vik.example")]
    [InlineData("test.@vik.example")]
    [InlineData("te..st@vik.example")]
    [InlineData("tor@10.0.12.7")]
    [InlineData("tor@-vik.example")]
    [InlineData("anna.berg @fjordtech.example")]
    [InlineData("a@b.example; c@d.example")]
    [InlineData("a@b.example, c@d.example")]
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
    [InlineData("D", "DE")]
    [InlineData("F", "FR")]
    [InlineData("A", "AT")]
    [InlineData("CH", "CH")]
    [InlineData("UK", "GB")]
    [InlineData("USA", "US")]
    [InlineData("Vereinigte Staaten", "US")]
    [InlineData("Côte d’Ivoire", "CI")]
    [InlineData("Allemagne", "DE")]
    [InlineData("Países Bajos", "NL")]
    [InlineData("Sveits", "CH")]
    public void CountriesAreKnownByManySpellings(string written, string expected) => Read("country", written).ShouldBe(expected);

    // The names that a trading company's lists hold most, in four languages.
    [Theory]
    [InlineData(
        "Deutschland|Österreich|Schweiz|Frankreich|Italien|Spanien|Portugal|Niederlande|Belgien|Luxemburg|Dänemark|Schweden|Norwegen|Finnland|Polen|Tschechien|Slowakei|Ungarn|Slowenien|Kroatien|Griechenland|Irland|Großbritannien|Vereinigtes Königreich|Rumänien|Bulgarien|Estland|Lettland|Litauen|Türkei|Russland|Ukraine|USA|Kanada|Brasilien|China|Japan|Indien|Südkorea|Australien"
    )]
    [InlineData(
        "Allemagne|Autriche|Suisse|France|Italie|Espagne|Portugal|Pays-Bas|Belgique|Luxembourg|Danemark|Suède|Norvège|Finlande|Pologne|République tchèque|Hongrie|Grèce|Irlande|Royaume-Uni|Roumanie|Turquie|Russie|États-Unis|Etats Unis|Canada|Brésil|Chine|Japon|Inde|Maroc|Algérie|Tunisie"
    )]
    [InlineData(
        "Alemania|Austria|Suiza|Francia|Italia|España|Portugal|Países Bajos|Bélgica|Dinamarca|Suecia|Noruega|Finlandia|Polonia|Hungría|Grecia|Irlanda|Reino Unido|Turquía|Rusia|Estados Unidos|EE.UU.|Canadá|México|Brasil|Marruecos"
    )]
    [InlineData(
        "Tyskland|Østerrike|Sveits|Frankrike|Italia|Spania|Portugal|Nederland|Belgia|Danmark|Sverige|Norge|Finland|Polen|Tsjekkia|Ungarn|Hellas|Irland|Storbritannia|Tyrkia|Russland|USA|Canada|Island|Kina|Japan"
    )]
    public void CountriesAreKnownInTheLanguagesOfLists(string names)
    {
        names.Split('|').Where(n => Countries.Find(n) is null).ShouldBeEmpty();
        Countries.Find("Georgia").ShouldBe("GE");
    }

    [Theory]
    [InlineData("Deutschland (DE)", "DE")]
    [InlineData("Norway/Norge", "NO")]
    [InlineData("FR - France", "FR")]
    [InlineData("Les Pays-Bas", "NL")]
    [InlineData("The UK", "GB")]
    [InlineData("L'Espagne", "ES")]
    [InlineData("Corea del Sur", "KR")]
    [InlineData("NO / SE", null)]
    [InlineData("Congo (Kinshasa)", "CD")]
    [InlineData("Germany - Bavaria", null)]
    [InlineData("DE LA", null)]
    [InlineData("Les", null)]
    public void ACountryMayHaveItsArticleAndItsOtherName(string written, string? code) => Countries.Find(written).ShouldBe(code);

    [Theory]
    [InlineData("Deutchland", "DE")]
    [InlineData("Norvegen", "NO")]
    [InlineData("Östereich", "AT")]
    [InlineData("Schweitz", "CH")]
    [InlineData("Fankreich", "FR")]
    public void ANearCountryIsProposedFirst(string written, string code) => NearMiss.For(Sample.Catalogue["country"], written).First().Stored.ShouldBe(code);

    [Fact]
    public void TheNameBesideAnAddressIsKept()
    {
        foreach (var written in new[] { "Anna Berg anna.berg@fjordtech.example", "Anna Berg <anna.berg@fjordtech.example>", "anna.berg@fjordtech.example (Anna Berg)" })
            FieldReader.Read(Sample.Catalogue["email"], written).Beside.ShouldBe("Anna Berg", written);
        FieldReader.Read(Sample.Catalogue["email"], "privat: anna@vik.example").Beside.ShouldBeNull();
    }

    // Addresses as programs write them are read as they are, and nothing that is no address becomes one by leaving letters out.
    [Fact]
    public void AnAddressThatIsReadStoodInTheTextAsItIs() =>
        Gen.Select(Gen.String[Gen.Char["ab.@ <>,;-_1é\""], 1, 24], Gen.OneOfConst("", "Anna ", "<", "mailto:"))
            .Sample(
                (text, before) =>
                    FieldReader.Read(Sample.Catalogue["email"], before + text).Value.Text is not { } read || (before + text).Contains(read, StringComparison.OrdinalIgnoreCase)
            );

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

    [Theory]
    [InlineData("12,000", 12000, 12)]
    [InlineData("12.000", 12000, 12)]
    [InlineData("-1,250", -1250, -1.25)]
    public void ANumberThatCanBeReadInTwoWaysIsAskedAboutUnlessItsMarkIsKnown(string written, double thousands, double decimals)
    {
        var read = FieldReader.Read(Depth, written, default(string));
        (read.Value.IsKnown, read.Problem?.Code).ShouldBe((false, "number-two-readings"));
        NearMiss.For(Depth, written).Select(p => p.Stored).ShouldBe([FieldValue.Of((decimal)thousands).ToString(), FieldValue.Of((decimal)decimals).ToString()]);
        NumberReader.Readings(written, DecimalMark.Either).ShouldBe([(decimal)thousands, (decimal)decimals]);
        var thousandsMark = written.Contains(',', StringComparison.Ordinal) ? DecimalMark.Point : DecimalMark.Comma;
        FieldReader.Read(Depth, written, null, thousandsMark).Value.Number.ShouldBe((decimal)thousands);
    }

    // Written in either convention and read back: never another number without a word.
    [Fact]
    public void NoWrittenNumberIsReadAsAnotherOne() =>
        Gen.Int[-90_000_000, 90_000_000]
            .Select(Gen.Int[0, 3], Gen.Bool, Gen.Bool)
            .Sample(
                (units, places, comma, grouped) =>
                {
                    var number = units / (decimal)Math.Pow(10, places);
                    var text = number.ToString((grouped ? "#,##0" : "0") + (places > 0 ? "." + new string('0', places) : ""), System.Globalization.CultureInfo.InvariantCulture);
                    if (comma)
                        text = text.Replace(',', '_').Replace('.', ',').Replace('_', '.');
                    var readings = NumberReader.Readings(text, DecimalMark.Either);
                    return readings.Contains(number) && NumberReader.Readings(text, comma ? DecimalMark.Comma : DecimalMark.Point) is [var one] && one == number;
                }
            );

    private static readonly FieldDefinition Depth = new("depth", "Depth", FieldType.Number);

    [Theory]
    [InlineData("12.5")]
    [InlineData("-3")]
    public void ANumberOfPeopleIsWholeAndNotUnderNothing(string written) =>
        FieldReader.Read(Sample.Catalogue["employees"], written).Problem.ShouldNotBeNull().Code.ShouldBe("count-unreadable");

    [Theory]
    [InlineData("1 200", 1200)]
    [InlineData("1.200,5", 1200.5)]
    [InlineData("0,125", 0.125)]
    [InlineData("12,50", 12.5)]
    [InlineData("1,200,000", 1200000)]
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
