using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;

namespace DapperLantern.Core.Tests.Intake;

public sealed class ListTests
{
    private static string?[] Targets(string[] headings, params string[][] rows) => [.. ColumnMatcher.Match(Sample.Catalogue, headings, rows).Select(m => m.Target)];

    [Theory]
    [InlineData("Imię|Nazwisko|Nr telefonu|Miejscowość|Kod pocztowy|Kraj", "first_name|last_name|phone|city|postal_code|country")]
    [InlineData("Имя|Фамилия|Эл. почта|Компания|Город|Индекс", "first_name|last_name|email|company|city|postal_code")]
    [InlineData("姓|名|メールアドレス|電話番号|会社名|国", "last_name|first_name|email|phone|company|country")]
    [InlineData("Nome|Cognome|Società|Telefono|Città|Paese", "first_name|last_name|company|phone|city|country")]
    [InlineData("Jméno|Příjmení|Společnost|Město|PSČ|Země", "first_name|last_name|company|city|postal_code|country")]
    [InlineData("Prénom|Nom|N° de téléphone|CP", "first_name|last_name|phone|postal_code")]
    [InlineData("Nombre|Tfno.|C.P.", "first_name|phone|postal_code")]
    public void HeadingsOfOtherLandsFindTheirField(string headings, string fields) =>
        Targets(headings.Split('|'), [.. headings.Split('|').Select(_ => "")]).Select(t => t ?? "").ShouldBe(fields.Split('|'));

    [Fact]
    public void NoHeadingOfOtherLandsMeansTwoFields()
    {
        ForeignHeadings.Fields.ShouldAllBe(f => BuiltInFields.Facts.Any(b => b.Key == f));
        foreach (var field in ForeignHeadings.Fields)
        foreach (var heading in ForeignHeadings.Of(field))
            BuiltInFields.Facts.Where(f => f.Headings.Contains(heading)).Select(f => f.Key).ShouldBe([field], heading);
    }

    [Fact]
    public void HeadingsInFiveLanguagesFindTheirField() =>
        Targets(["Vorname", "Apellido", "E-Mail ", "Tel.", "Land", "Société", "Stilling"])
            .ShouldBe(["first_name", "last_name", "email", "phone", "country", "company", "job_title"]);

    [Fact]
    public void UnderAnUnknownHeadingOnlyEmailAddressesAreTakenByTheirLooks()
    {
        var found = ColumnMatcher.Match(
            Sample.Catalogue,
            ["X1", "X2", "X3", "X4"],
            [
                ["tor@vik.example", "Norway", "+44 1632 960143", "https://vik.example"],
                ["a@b.example", "Sweden", "+44 1632 960144", "www.b.example"],
            ]
        );
        found.Select(m => m.Target).ShouldBe(["email", null, null, "website"]);
        found.Select(m => m.Proposed).ShouldBe([null, "country", "phone", null]);
    }

    // Each column holds what several programs write; none of it says by its heading what it is, and none is anybody's telephone, country or place.
    [Theory]
    [InlineData("Erstkontakt", "03.04.2026", "17.11.2025", "01.02.2026")]
    [InlineData("Kundennr", "10023456", "10023457", "10023501")]
    [InlineData("Seen", "2026-04-03 10:15", "2026-04-04 11:20", "2026-05-01 08:00")]
    [InlineData("Founded", "1987", "2004", "2019")]
    [InlineData("Volume", "1.234,50", "12.000,00", "980,00")]
    [InlineData("Limit", "€ 12.000", "€ 4.500", "€ 900")]
    [InlineData("IP", "10.0.12.7", "192.168.1.20", "172.16.4.1")]
    [InlineData("Opt-in", "yes", "no", "yes")]
    [InlineData("DOI", "No", "No", "No")]
    [InlineData("Kürzel", "NO", "NO", "NO")]
    [InlineData("Vorname des Gastes", "Ada", "Bo", "Cy")]
    [InlineData("Ref", "A-10023", "B-20044", "C-30012")]
    [InlineData("EAN", "4006381333931", "4006381333948", "4006381333955")]
    [InlineData("Ticket", "20260403-0017", "20260403-0018", "20260404-0001")]
    [InlineData("Duration", "12:30", "08:15", "00:45")]
    [InlineData("Lat", "60.39299", "59.91273", "63.43049")]
    public void LooksAloneMakeNoTelephoneCountryOrPlace(string heading, params string[] values)
    {
        var match = ColumnMatcher.Match(Sample.Catalogue, ["Mail", heading], [.. values.Select((v, i) => new[] { $"p{i}@b.example", v })])[1];
        (match.Target, match.Proposed).ShouldBe((null, null));
    }

    [Fact]
    public void FirstNamesUnderFirstAreNoCountries() =>
        Targets(["First", "Last", "Organization Name"], ["Ada", "Lie", "A"], ["Bo", "Vik", "B"], ["Cy", "Moe", "C"]).ShouldBe(["first_name", "last_name", "company"]);

    [Theory]
    [InlineData("Contact")]
    [InlineData("Name")]
    [InlineData("Phone")]
    public void AColumnOfAddressesIsTheMailWhateverItsHeadingSays(string heading)
    {
        var match = ColumnMatcher.Match(
            Sample.Catalogue,
            ["Company", heading],
            [
                ["A", "tor@vik.example"],
                ["B", "a@b.example"],
            ]
        )[1];
        match.Target.ShouldBe("email");
        match.Why.ShouldContain("but the values are email addresses");
    }

    [Fact]
    public void DatesUnderAHeadingThatSaysTelephoneAreAskedAbout()
    {
        var match = ColumnMatcher.Match(
            Sample.Catalogue,
            ["Mail", "Tel"],
            [
                ["a@b.example", "03.04.2026"],
                ["b@b.example", "17.11.2025"],
            ]
        )[1];
        match.Target.ShouldBeNull();
        match.Why.ShouldBe("the heading says phone, but the values are dates");
    }

    [Theory]
    [InlineData("Bemerkungen", "note")]
    [InlineData("Notes", "note")]
    [InlineData("Mitarbeiterzahl", "employees")]
    [InlineData("Organization Name", "company")]
    [InlineData("Umsatz (EUR)", "revenue")]
    [InlineData("Umsatz in EUR", "revenue")]
    [InlineData("Umsatz (USD)", null)]
    [InlineData("Umsatz in TEUR", null)]
    [InlineData("Umsatz T\u20ac", null)]
    [InlineData("Omsetning (MNOK)", null)]
    [InlineData("Revenue ($M)", null)]
    [InlineData("Revenue (k)", null)]
    [InlineData("Revenue (in thousands)", null)]
    [InlineData("Revenue (EUR m)", null)]
    [InlineData("Staff (thousands)", null)]
    [InlineData("Staff (Mio., Germany)", null)]
    [InlineData("Revenue (EUR, monthly)", "revenue")]
    [InlineData("E-Mail *", "email")]
    [InlineData("Tel 2", "phone")]
    [InlineData("Fon", "phone")]
    public void HeadingsAreKnownWithTheirUnits(string heading, string? target) => Targets(["Name", heading], ["Tor", ""])[1].ShouldBe(target);

    [Theory]
    [InlineData("Titel", "Dr.", "Prof. Dr.")]
    [InlineData("Title", "Mr", "")]
    [InlineData("Job title", "Herr Dipl.-Ing.", "Frau")]
    public void FormsOfAddressAreNoJob(string heading, string first, string second)
    {
        var match = ColumnMatcher.Match(
            Sample.Catalogue,
            ["Name", heading],
            [
                ["Tor Vik", first],
                ["Ada Lund", second],
            ]
        )[1];
        match.Target.ShouldBeNull();
        match.Why.ShouldContain("forms of address");
        ColumnMatcher
            .Match(
                Sample.Catalogue,
                ["Name", heading],
                [
                    ["Tor Vik", first],
                    ["Ada Lund", "Head of Sales"],
                ]
            )[1]
            .Target.ShouldBe("job_title");
    }

    [Fact]
    public void ACompanyByANearHeadingIsNoNumber()
    {
        string[] numbers = ["73282932000074", "52201234500018"];
        ColumnMatcher.Match(Sample.Catalogue, ["Name", "Compnay"], [.. numbers.Select(n => new[] { "Tor", n })])[1].Target.ShouldBeNull();
        ColumnMatcher.Match(Sample.Catalogue, ["Name", "SIRET"], [.. numbers.Select(n => new[] { "Tor", n })])[1].Target.ShouldBeNull();
        ColumnMatcher
            .Match(
                Sample.Catalogue,
                ["Name", "Compnay"],
                [
                    ["Tor", "Reef AS"],
                    ["Ada", "Fjord AS"],
                ]
            )[1]
            .Target.ShouldBe("company");
    }

    [Fact]
    public void ARegionWithoutACountrySaysWhatItLacks()
    {
        Read(["Name", "Provincia", "Land"], "Tor Vik", "Girona", "").Problems.Single().Code.ShouldBe("region-landless");
        Read(["Name", "Provincia", "Land"], "Tor Vik", "Girona", "Spain").Values.Text("region").ShouldBe("ES-GI");
        Read(["Name", "Provincia", "Land"], "Tor Vik", "Girona", "Norway").Problems.Single().Code.ShouldBe("region-unknown");
    }

    [Fact]
    public void ACountryThatCannotBeReadIsNotTheOneSaidForRowsThatNameNone()
    {
        var plan = new SiftPlan(ColumnMatcher.Match(Sample.Catalogue, ["Name", "Mail", "Land", "Telefon"], []), "DE");
        var row = new RowReader(Sample.Catalogue, plan).Read(["Anne Roy", "a@b.example", "Frankrich an der Loire", "02 40 12 34 56"]);
        (row.Values.Text("country"), row.Values.Text("phone")).ShouldBe((null, null));
        row.Problems.Select(p => p.Code).ShouldBe(["country-unknown", "phone-unreadable"]);
        new RowReader(Sample.Catalogue, plan).Read(["Anne Roy", "a@b.example", "Frankreich", "02 40 12 34 56"]).Values.Text("phone").ShouldBe("+33240123456");
        new RowReader(Sample.Catalogue, plan).Read(["Anne Roy", "a@b.example", "", "030 23125 476"]).Values.Text("phone").ShouldBe("+493023125476");
    }

    [Fact]
    public void OfTwoTelephonesTheWholeOneIsTakenAndTheOtherIsTheMobile()
    {
        var plan = new SiftPlan(ColumnMatcher.Match(Sample.Catalogue, ["Name", "Telefon", "Telefon 2"], []));
        plan.Columns.Select(c => c.Target).ShouldBe(["full_name", "phone", "phone"]);
        var reader = new RowReader(Sample.Catalogue, plan with { Country = "US" });
        var row = reader.Read(["Tor Vik", "555-1234", "+44 1632 960143"]).Values;
        row.Text("phone").ShouldBe("+441632960143");
        row.Text("mobile").ShouldBe("555-1234");
    }

    [Fact]
    public void AnAddressWithANameNamesThePersonWhereTheRowDoesNot()
    {
        var plan = new SiftPlan(ColumnMatcher.Match(Sample.Catalogue, ["E-Mail", "Vorname", "Nachname"], []));
        var reader = new RowReader(Sample.Catalogue, plan);
        var row = reader.Read(["Anna Berg <anna.berg@fjordtech.example>", "", ""]).Values;
        (row.Text("email"), row.Text("first_name"), row.Text("last_name")).ShouldBe(("anna.berg@fjordtech.example", "Anna", "Berg"));
        reader.Read(["Anna Berg <anna.berg@fjordtech.example>", "", "Lund"]).Values.Text("last_name").ShouldBe("Lund");
    }

    [Fact]
    public void AnExtensionHasItsPlace()
    {
        var row = Read(["Name", "Telefon", "Land"], "Tor Vik", "030 23125 476 Durchwahl 12", "D").Values;
        (row.Text("phone"), row.Text("extension")).ShouldBe(("+493023125476", "12"));
    }

    [Theory]
    [InlineData("row-headings", "Name", "E-Mail", "Land")]
    [InlineData("row-total", "Summe", "", "118")]
    [InlineData("row-total", "Total: 42", "", "")]
    [InlineData("row-remark", "Stand der Liste vom 3. April", "", "")]
    public void HeadingsAgainTotalsAndRemarksAreCalledWhatTheyAre(string code, params string[] cells)
    {
        var row = Read(["Name", "E-Mail", "Land"], cells);
        row.Unfit!.Code.ShouldBe(code);
        row.Problems.ShouldBeEmpty();
    }

    [Theory]
    [InlineData("1005 Congress Avenue", null)]
    [InlineData("1005 Broadway", "US")]
    [InlineData("12345 Old Mill Rd, Springfield, IL", "US")]
    public void AStaffNumberIsNoPostalCode(string written, string? country)
    {
        var values = Read(["Name", "Mail", "Country", "City, State ZIP"], "Tor Vik", "a@b.example", country ?? "", written).Values;
        (values.Text("postal_code"), values.Text("street")).ShouldBe((null, written));
    }

    [Fact]
    public void AFieldIsGivenToOneColumnOnlyTheSurerOne() => Targets(["Country", "Land"], ["", "Norge"], ["", "Sverige"]).ShouldBe([null, "country"]);

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
    public void InAColumnOfBothFormsEachDateIsReadByItselfAndWhatCanBeTwoIsLeft()
    {
        Settled(FieldType.Date, null, "03/04/2026", "04/25/2026", "25/04/2026").Dates.ShouldBe(DateOrder.Either);
        // One in fifty is a slip.
        Settled(FieldType.Date, null, [.. Enumerable.Repeat("25/04/2026", 49), "04/25/2026"]).Dates.ShouldBe(DateOrder.DayFirst);
        var field = Sample.Catalogue["needed_by"];
        string? Read(string written) =>
            FieldReader.Read(field, written, new Conventions(Dates: DateOrder.Either)) is { Value: { IsKnown: true } value } ? value.ToString()[..10] : null;
        (Read("12/31/2026"), Read("25/12/2026"), Read("04/04/2026")).ShouldBe(("2026-12-31", "2026-12-25", "2026-04-04"));
        FieldReader.Read(field, "03/04/2026", new Conventions(Dates: DateOrder.Either)).Problem!.Code.ShouldBe("date-doubtful");
        FieldReader.Read(field, "31/31/2026", new Conventions(Dates: DateOrder.Either)).Problem!.Code.ShouldBe("date-unreadable");
    }

    [Fact]
    public void BesideAContactPersonNameIsTheCompanys()
    {
        Targets(["Name", "Ansprechpartner", "Ort"], ["Küstenfisch GmbH", "Jörg Möller", "26382 Wilhelmshaven"], ["Fördeaal KG", "Änne Größ", "24103 Kiel"])
            .ShouldBe(["company", "full_name", "place_line"]);
        var asked = ColumnMatcher.Match(
            Sample.Catalogue,
            ["Name", "Contact"],
            [
                ["Reef", "Ada Lund"],
                ["Fjord", "Bo Berg"],
            ]
        );
        asked.Select(m => (m.Target, m.Proposed)).ShouldBe([(null, "company"), ("full_name", null)]);
        Targets(["Name", "PLZ", "Ort"], ["Ada Lund", "24103", "24103 Kiel"], ["Bo Berg", "26382", "26382 Jever"])[2].ShouldBe("city");
    }

    [Fact]
    public void CompaniesUnderAHeadingNobodyKnowsAreProposed() =>
        ColumnMatcher
            .Match(
                Sample.Catalogue,
                ["Mail", "Kunde"],
                [
                    ["a@b.example", "Seehof GmbH"],
                    ["c@d.example", "Rheingas AG"],
                ]
            )[1]
            .Proposed.ShouldBe("company");

    [Theory]
    [InlineData("Reef Ltd", null, "Reef Ltd")]
    [InlineData("Sjøglimt AS", null, "Sjøglimt AS")]
    [InlineData("Per As", "As", null)]
    [InlineData("ADA AS", "As", null)]
    public void ACompanyAmongPersonsIsNoPerson(string written, string? last, string? company)
    {
        var values = Read(["Name", "E-Mail"], written, "a@b.example").Values;
        (values.Text("last_name"), values.Text("company")).ShouldBe((last, company));
        // The same beside an address.
        values = Read(["E-Mail"], $"{written} <a@b.example>").Values;
        (values.Text("last_name"), values.Text("company")).ShouldBe((last, company));
    }

    [Fact]
    public void BesideAnAddressACompanyIsKeptWhereThePersonIsKnown()
    {
        var values = Read(["First name", "E-Mail"], "Eva", "Reef Ltd <a@b.example>").Values;
        (values.Text("first_name"), values.Text("last_name"), values.Text("company")).ShouldBe(("Eva", null, "Reef Ltd"));
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
