using System.Net;
using System.Text;
using Dapper;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;

namespace DapperLantern.App.Tests.Leads;

/// <summary>Leads out as a file.</summary>
public sealed class LeadExportTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private TestClient _ingrid = null!;

    public async ValueTask InitializeAsync() => _ingrid = await fixture.Server.SignIn("ingrid.brekke");

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private static string Of(string field, string value) => Uri.EscapeDataString($$"""{"field":"{{field}}","is":"in","values":["{{value}}"]}""");

    private async Task<string[][]> Export(string where) =>
        [.. (await _ingrid.Get($"/api/leads.csv?where={where}")).Body.TrimStart('\ufeff').Split("\r\n", StringSplitOptions.RemoveEmptyEntries).Select(l => l.Split(','))];

    private async Task TakeIn(string list)
    {
        var sieve = (await _ingrid.Drop("list.csv", Encoding.UTF8.GetBytes(list))).Read<SieveView>();
        (await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-in")).Read<ImportView>().State.ShouldBe("taken");
    }

    [Fact]
    public async Task EveryLeadTheConditionsHoldForStandsOnceWithEveryField()
    {
        var rows = await Export(Of("country", "NO"));
        rows.Length.ShouldBe(1 + (int)await fixture.Server.Scalar<long>("select count(*) from lead where country = 'NO'"));
        rows[0].ShouldContain("Fit");
        rows[0].ShouldContain("News and offers by mail");
        rows.Skip(1).Select(r => r[0]).Distinct().Count().ShouldBe(rows.Length - 1);
    }

    [Fact]
    public async Task AWorkbookHoldsWhatTheSeparatedValuesHold()
    {
        var rows = (await Export(Of("country", "SE"))).Where(r => !r.Any(c => c.Contains('"', StringComparison.Ordinal))).ToList();
        using var http = await _ingrid.Raw($"/api/leads.xlsx?where={Of("country", "SE")}");
        http.Content.Headers.ContentType!.MediaType.ShouldBe("application/vnd.openxmlformats-officedocument.spreadsheetml.sheet");
        using var reader = ExcelDataReader.ExcelReaderFactory.CreateReader(new MemoryStream(await http.Content.ReadAsByteArrayAsync()));
        var sheet = new List<object?[]>();
        while (reader.Read())
            sheet.Add([.. Enumerable.Range(0, reader.FieldCount).Select(reader.GetValue)]);
        // Cells of a workbook hold no zone, so the heading says it.
        sheet[0].Select(h => ((string)h!).Replace(" (Europe/London)", "", StringComparison.Ordinal)).ShouldBe(rows[0]);
        sheet[0].ShouldContain("Came in (Europe/London)");
        var london = TimeZoneInfo.FindSystemTimeZoneById("Europe/London");
        sheet.Count.ShouldBe(1 + (int)await fixture.Server.Scalar<long>("select count(*) from lead where country = 'SE'"));
        var byNumber = sheet.Skip(1).ToDictionary(r => (string)r[0]!);
        foreach (var row in rows.Skip(1).Take(40))
        foreach (var (heading, text, cell) in rows[0].Zip(row, byNumber[row[0]]))
            (
                heading switch
                {
                    "Fit" or "Engagement" or "Sites" or "Employees" => $"{cell}",
                    "Came in" => cell is DateTime at
                        ? TimeZoneInfo.ConvertTimeToUtc(at, london).ToString("yyyy-MM-ddTHH:mm", System.Globalization.CultureInfo.InvariantCulture)
                        : "",
                    "Company" or "Country" or "Email" => cell as string ?? "",
                    _ => null,
                } ?? text
            ).ShouldBe(heading == "Came in" ? text[..16] : text, $"{row[0]} {heading}");
    }

    [Fact]
    public async Task MomentsCarryTheirZoneAndDaysStayDays()
    {
        (await _ingrid.Post("/api/custom-fields", new { label = "Licence until", type = "date" })).Status.ShouldBe(HttpStatusCode.Created);
        await TakeIn("First name,Last name,Mail,Licence until\nDag,Day,dag@day.example,2027-03-09\n");
        var rows = await Export(Of("email", "dag@day.example"));
        rows[1][Array.IndexOf(rows[0], "Licence until")].ShouldBe("2027-03-09");
        rows[1][Array.IndexOf(rows[0], "Came in")].ShouldMatch(@"^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?Z$");
        using var http = await _ingrid.Raw($"/api/leads.xlsx?where={Of("email", "dag@day.example")}");
        using var reader = ExcelDataReader.ExcelReaderFactory.CreateReader(new MemoryStream(await http.Content.ReadAsByteArrayAsync()));
        reader.Read();
        var at = Enumerable.Range(0, reader.FieldCount).Single(i => reader.GetString(i) == "Licence until");
        reader.Read();
        reader.GetDateTime(at).ShouldBe(new DateTime(2027, 3, 9));
    }

    [Fact]
    public async Task CountsGoOutAsTheyStandOnTheScreen()
    {
        var view = await _ingrid.Read<GroupsView>("/api/leads/groups?rows=country&columns=state");
        var lines = (await _ingrid.Get("/api/leads/groups.csv?rows=country&columns=state")).Body.TrimStart('\ufeff').Split("\r\n", StringSplitOptions.RemoveEmptyEntries);
        lines[0].ShouldBe("Country," + string.Join(',', view.Columns.Select(c => c.Label)));
        lines.Length.ShouldBe(view.Rows.Count + 1);
        lines
            .Skip(1)
            .SelectMany(l => l.Split(',').Skip(1))
            .Select(c => c.Trim('"'))
            .Where(c => c.Length > 0)
            .Sum(c => int.Parse(c, System.Globalization.CultureInfo.InvariantCulture))
            .ShouldBe(view.Total);
        (await _ingrid.Get("/api/leads/groups.csv?rows=luck")).Problem.ShouldBe("group-unknown");
        (await _ingrid.Get("/api/leads.pdf")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task AFieldAddedIsInTheFileAtOnce()
    {
        (await _ingrid.Post("/api/custom-fields", new { label = "Tank volume", type = "number" })).Status.ShouldBe(HttpStatusCode.Created);
        await TakeIn("First name,Last name,Mail,Tank volume\nTove,Tank,tove@tank.example,1200.5\n");
        var rows = await Export(Of("email", "tove@tank.example"));
        rows[1][Array.IndexOf(rows[0], "Tank volume")].ShouldBe("1200.5");
    }

    [Fact]
    public async Task WhatSpreadsheetsTakeForAFormulaGoesOutAsTextAndComesBackAsItWas()
    {
        await TakeIn("First name,Last name,Mail,Company\nEvil,Cell,evil@cell.example,=1+1 AS\n");
        var file = (await _ingrid.Get($"/api/leads.csv?where={Of("email", "evil@cell.example")}")).Body;
        file.ShouldContain("'=1+1 AS");
        var again = (await _ingrid.Drop("back.csv", Encoding.UTF8.GetBytes(file))).Read<SieveView>();
        (again.Import.Counts.Adds, again.Import.Counts.Mend).ShouldBe((1, 0));
        (await fixture.Server.Scalar<string>($"select values::jsonb->>'company' from arrival where import_id = '{again.Import.Id}'")).ShouldBe("=1+1 AS");
    }

    [Fact]
    public async Task WhoIsNotToBeContactedGoesOutWithoutWaysToReachThem()
    {
        await TakeIn("First name,Last name,Mail,Phone,Extension,Country\nLeave,Alone,leave@alone.example,07700 900 888,4711,GB\n");
        await _ingrid.Post(
            "/api/barred",
            new
            {
                kind = "person",
                value = "leave@alone.example",
                why = "do_not_contact",
            }
        );
        var where = Of("last_name", "Alone");
        var file = (await _ingrid.Get($"/api/leads.csv?where={where}")).Body;
        file.ShouldContain("Leave");
        file.ShouldNotContain("leave@alone");
        file.ShouldNotContain("7700900888");
        file.ShouldNotContain("4711");
    }

    [Fact]
    public async Task AWithdrawnConsentStandsBesideTheName()
    {
        await TakeIn("First name,Last name,Mail\nWill,Draw,will@draw.example\n");
        var id = await fixture.Server.Scalar<Guid>("select id from lead where email = 'will@draw.example'");
        await _ingrid.Post(
            $"/api/leads/{id}/consents",
            new
            {
                purpose = "news",
                state = "given",
                wording = "Yes",
            }
        );
        await _ingrid.Post($"/api/leads/{id}/consents", new { purpose = "news", state = "withdrawn" });
        var rows = await Export(Of("email", "will@draw.example"));
        rows[1][Array.IndexOf(rows[0], "News and offers by mail")].ShouldBe("withdrawn");
    }

    [Fact]
    public async Task ItTakesTheRightToTakeLeadsOut()
    {
        (await (await fixture.Server.SignIn("tor.vik")).Get("/api/leads.csv")).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await _ingrid.Get("/api/leads.csv?where=nonsense")).Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
    }
}
