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
}
