using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;

namespace DapperLantern.Core.Tests.Intake;

public sealed class ListTests
{
    private static string?[] Targets(string[] headings, params string[][] rows) => [.. ColumnMatcher.Match(Sample.Catalogue, headings, rows).Select(m => m.Target)];

    [Fact]
    public void HeadingsInFiveLanguagesFindTheirField() =>
        Targets(["Vorname", "Apellido", "E-Mail ", "Tel.", "Land", "Société", "Stilling"])
            .ShouldBe(["first_name", "last_name", "email", "phone", "country", "company", "job_title"]);

    [Fact]
    public void AHeadingThatSaysNothingIsMatchedByWhatTheValuesLookLike() =>
        Targets(["X1", "X2"], ["tor@vik.example", "Norway"], ["a@b.example", "Sweden"]).ShouldBe(["email", "country"]);

    [Fact]
    public void AFieldIsGivenToOneColumnOnlyTheSurerOne() => Targets(["Mail", "E-mail"], ["", "tor@vik.example"]).Count(t => t == "email").ShouldBe(1);

    [Fact]
    public void WhatIsNotUnderstoodIsKeptWithTheRowNotGuessed() => Targets(["Scanned at"], ["18.11.2026 11:05"]).ShouldBe([null]);

    private static RowReading Read(string[] headings, params string[] cells) =>
        new RowReader(Sample.Catalogue, new SiftPlan(ColumnMatcher.Match(Sample.Catalogue, headings, [cells]))).Read(cells);

    [Theory]
    [InlineData("SOLLID, RAGNA", "Ragna", "Sollid")]
    [InlineData("  ragna   sollid ", "Ragna", "Sollid")]
    [InlineData("Madonna", null, "Madonna")]
    [InlineData("Íker de la Cruz", "Íker", "de la Cruz")]
    public void AFullNameIsTakenApart(string written, string? first, string last)
    {
        var values = Read(["Name", "Mail"], written, "a@b.example").Values;
        values.Text("first_name").ShouldBe(first);
        values.Text("last_name").ShouldBe(last);
    }

    [Fact]
    public void APhoneIsReadInTheCountryOfItsRow() => Read(["Name", "Phone", "Country"], "Tor", "030 23125 476", "Deutschland").Values.Text("phone").ShouldBe("+493023125476");

    [Fact]
    public void ARowWithoutAWayToReachThePersonIsUnfitAndKeepsItsProblems()
    {
        var row = Read(["Name", "Mail"], "Tor Vik", "see card");
        row.Unfit!.Code.ShouldBe("no-way-to-reach");
        row.Problems.ShouldHaveSingleItem().Code.ShouldBe("email-unreadable");
    }

    [Fact]
    public void AnAddressWithoutAnyNameIsUnfit() => Read(["Name", "Mail"], "", "a@b.example").Unfit!.Code.ShouldBe("no-name");

    [Fact]
    public void ABadValueOnlyLeavesItsFieldBlank()
    {
        var row = Read(["Name", "Mail", "Country"], "Tor Vik", "a@b.example", "Swedn");
        row.Unfit.ShouldBeNull();
        row.Values["country"].IsKnown.ShouldBeFalse();
        row.Problems.ShouldHaveSingleItem().Path.ShouldBe("country");
    }

    [Fact]
    public void TooManyCellsAreSaid() =>
        new RowReader(Sample.Catalogue, new SiftPlan(ColumnMatcher.Match(Sample.Catalogue, ["Name"], [])))
            .Read(["Tor", "x", "y"])
            .Unfit!.Words.ShouldContain("3 cells instead of 1");

    [Fact]
    public void SeveralColumnsAreGatheredIntoOneFieldOfFreeText()
    {
        Targets(["Name", "Mail", "Address line 1", "Address line 2"]).ShouldBe(["full_name", "email", "street", "street"]);
        Read(["Name", "Mail", "Address line 1", "Address line 2"], "Tor Vik", "a@b.example", "Kaiveien 2", "3rd floor").Values.Text("street").ShouldBe("Kaiveien 2, 3rd floor");
    }

    [Theory]
    [InlineData("Springfield, IL 62704", "US", "Springfield", "US-IL", "62704")]
    [InlineData("5003 Bergen", "NO", "Bergen", null, "5003")]
    [InlineData("SW1A 1AA London", "GB", "London", null, "SW1A 1AA")]
    [InlineData("Austin, Texas", "US", "Austin", "US-TX", null)]
    [InlineData("Tromsø", "NO", "Tromsø", null, null)]
    public void ALineOfPlaceRegionAndPostalCodeIsTakenApart(string written, string country, string city, string? region, string? code)
    {
        var values = Read(["Name", "Mail", "Country", "City, State ZIP"], "Tor Vik", "a@b.example", country, written).Values;
        (values.Text("city"), values.Text("region"), values.Text("postal_code")).ShouldBe((city, region, code));
    }

    [Fact]
    public void APostalCodeFillsThePlaceTheRowLeavesOut()
    {
        var values = Read(["Name", "Mail", "Zip", "Country"], "Tor Vik", "a@b.example", "62704", "USA").Values;
        (values.Text("city"), values.Text("region")).ShouldBe(("Springfield", "US-IL"));
    }

    [Fact]
    public void BesideFirstNamesAColumnCalledNameHoldsLastNames()
    {
        Targets(["Vorname", "Name", "E-Mail"]).ShouldBe(["first_name", "last_name", "email"]);
        Targets(["Vorname", "Nachname", "Name"])[2].ShouldBeNull();
    }

    [Fact]
    public void AHeadingWithASlipIsFound() => Targets(["Compnay", "E-mial adress"], ["Fjordnær", "a@b.example"]).ShouldBe(["company", "email"]);

    [Fact]
    public void TitlesAreNoFirstNames() => Read(["Name", "Mail"], "Dr. Åse Nærum", "a@b.example").Values.Text("first_name").ShouldBe("Åse");

    [Fact]
    public void TheHeadingsAreFoundBelowTitlesAndDataIsNotTakenForThem()
    {
        HeadingFinder
            .Find(
                Sample.Catalogue,
                [
                    ["Autumn fair", ""],
                    ["Name", "Mail"],
                    ["Tor", "t@v.example"],
                ]
            )
            .ShouldBe(1);
        HeadingFinder
            .Find(
                Sample.Catalogue,
                [
                    ["Tor", "t@v.example"],
                    ["Ase", "a@v.example"],
                ]
            )
            .ShouldBe(-1);
        HeadingFinder
            .Find(
                Sample.Catalogue,
                [
                    ["x1", "x2"],
                    ["Ase", "a@v.example"],
                ]
            )
            .ShouldBe(0);
    }

    private static ColumnMatch Settled(FieldType type, string? country, params string[] cells)
    {
        var habits = new ColumnHabits(type);
        foreach (var cell in cells)
            habits.Add(cell);
        return habits.Settle(new ColumnMatch(0, "x", "x", 90, "", []), country);
    }

    [Fact]
    public void OneDateThatCanOnlyBeReadOneWayDecidesForItsColumn()
    {
        Settled(FieldType.Date, null, "03/04/2026", "04/25/2026").Dates.ShouldBe(DateOrder.MonthFirst);
        Settled(FieldType.Date, "US", "03/04/2026", "25/04/2026").Dates.ShouldBe(DateOrder.DayFirst);
        Settled(FieldType.Date, "US", "03/04/2026").Dates.ShouldBe(DateOrder.MonthFirst);
        Settled(FieldType.Date, null, "03/04/2026").Note!.ShouldContain("cannot be told");
        Settled(FieldType.Date, null, "03/04/2026", "04/25/2026", "25/04/2026").Note!.ShouldStartWith("1 dates can only have the day first and 1 only the month");
        Settled(FieldType.Date, null, "2026-04-03").Note.ShouldBeNull();
    }

    [Fact]
    public void TheDecimalMarkIsTheColumnsAndAPersonsWordHolds()
    {
        Settled(FieldType.Number, null, "1.234", "12,5").Decimals.ShouldBe(DecimalMark.Comma);
        Settled(FieldType.Money, null, "1,234", "12.5").Decimals.ShouldBe(DecimalMark.Point);
        Settled(FieldType.Number, null, "12", "1,234").Decimals.ShouldBe(DecimalMark.Either);
        var said = new ColumnMatch(0, "x", "x", 90, "", [], Decimals: DecimalMark.Point, Said: true);
        var habits = new ColumnHabits(FieldType.Number);
        habits.Add("12,5");
        habits.Settle(said, null).ShouldBe(said);
    }

    [Fact]
    public void AMendOfOneRowHoldsOverOneForAllAlikeAndMayFillAFieldNoColumnGoesTo()
    {
        var plan = new SiftPlan(ColumnMatcher.Match(Sample.Catalogue, ["Name", "Country"], []));
        var reader = new RowReader(Sample.Catalogue, plan, new Mends([new(null, "country", "Swedn", "SE"), new(2, "country", "", "NO"), new(2, "email", "", "t@v.example")]));
        reader.Read(["Tor", "Swedn"], 1).Values.Text("country").ShouldBe("SE");
        reader.Read(["Tor", " Swedn "], 1).Values.Text("country").ShouldBe("SE");
        var second = reader.Read(["Tor", "Swedn"], 2);
        (second.Values.Text("country"), second.Values.Text("email"), second.Unfit).ShouldBe(("NO", "t@v.example", null));
        reader.Broken("a quote", 1).Unfit!.Code.ShouldBe("row-unreadable");
        reader.Broken("a quote", 2).Unfit!.Code.ShouldBe("no-name");
    }
}
