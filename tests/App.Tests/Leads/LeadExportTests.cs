using System.Net;
using System.Text;
using Dapper;
using DapperLantern.App.Intake;

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
        (await _ingrid.Post($"/api/deliveries/{sieve.Delivery.Id}/take-in")).Read<DeliveryView>().State.ShouldBe("taken");
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
        (again.Delivery.Counts.Adds, again.Delivery.Counts.Mend).ShouldBe((1, 0));
        (await fixture.Server.Scalar<string>($"select values::jsonb->>'company' from arrival where delivery_id = '{again.Delivery.Id}'")).ShouldBe("=1+1 AS");
    }

    [Fact]
    public async Task WhoIsNotToBeContactedGoesOutWithoutWaysToReachThem()
    {
        await TakeIn("First name,Last name,Mail,Phone,Country\nLeave,Alone,leave@alone.example,07700 900 888,GB\n");
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
