using System.Net;
using System.Net.Http.Headers;
using DapperLantern.App.Company;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Leads;
using DapperLantern.App.People;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;

namespace DapperLantern.App.Tests.Company;

/// <summary>The company's settings, and where they show.</summary>
public sealed class CompanyTests : IAsyncLifetime
{
    private TestServer _server = null!;
    private TestClient _samir = null!;

    public async ValueTask InitializeAsync()
    {
        _server = await TestServer.Start();
        _samir = await _server.SignIn("samir.haddow");
    }

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    private Task<CompanyView> Read() => _samir.Read<CompanyView>("/api/setup/company");

    private static CompanyOrder Order(CompanyView of) =>
        new(of.Name, of.Street, of.PostalCode, of.City, of.Country, of.Currency, of.TimeZone, of.Dates, of.FiscalMonth, of.TaxNumber, of.Colour);

    private async Task<Answer> Keep(Func<CompanyOrder, CompanyOrder> change) =>
        await Read() is var of ? await _samir.Put("/api/setup/company", change(Order(of)), of.Version) : null!;

    private async Task<string> Page(string path)
    {
        using var visitor = new HttpClient();
        return await visitor.GetStringAsync($"{_server.Address}{path}");
    }

    // A PNG of one pixel.
    private static readonly byte[] Pixel = Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==");

    private async Task<Answer> PutLogo(byte[] bytes)
    {
        using var content = new ByteArrayContent(bytes) { Headers = { ContentType = new MediaTypeHeaderValue("image/png") } };
        return await _samir.Send(HttpMethod.Put, "/api/setup/company/logo", content);
    }

    [Fact]
    public async Task ItsNameAddressColourAndLogoStandOnPublicPages()
    {
        (await Keep(c => c with { Name = "Fjell & Sønner", Street = "Sjøgata 1\n\n", City = "Bodø", PostalCode = "8006", Country = "NO", Colour = "#2f5d3a" })).Status.ShouldBe(
            HttpStatusCode.OK
        );
        var page = await Page("/f/site-survey");
        page.ShouldContain("Fjell &amp; S&#xF8;nner, Sj&#xF8;gata 1, 8006 Bod&#xF8;, Norway");
        (await Page("/f/style.css?v=2F5D3A")).ShouldContain("--slate: #2F5D3A;");
        (await PutLogo(Pixel)).Status.ShouldBe(HttpStatusCode.OK);
        var logo = (await Read()).Logo!;
        (await Page("/f/site-survey")).ShouldContain($"src=\"{logo}\"");
        using var visitor = new HttpClient();
        (await visitor.GetByteArrayAsync($"{_server.Address}{logo}")).ShouldBe(Pixel);
        (await _samir.Delete("/api/setup/company/logo")).Status.ShouldBe(HttpStatusCode.OK);
        (await visitor.GetAsync($"{_server.Address}{logo}")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        // And the demo says that it is one.
        (await Page("/f/site-survey")).ShouldContain("This is a demonstration.");
        _samir.Session.IsDemo.ShouldBeTrue();
    }

    [Fact]
    public async Task WhatCannotBeUsedIsRefusedWithItsPlaceAndNothingIsKept()
    {
        var before = await Read();
        await _samir.MakeLead("Euro", "NO", ("revenue", "4000000"));
        async Task Refused(Func<CompanyOrder, CompanyOrder> change, string problem) => (await Keep(change)).Problem.ShouldBe(problem);
        await Refused(c => c with { Name = " " }, "name-missing");
        await Refused(c => c with { Country = "XX" }, "country-unknown");
        await Refused(c => c with { Currency = "ABC" }, "currency-unfit");
        await Refused(c => c with { TimeZone = "Mars/North" }, "zone-unknown");
        await Refused(c => c with { Colour = "red" }, "colour-unfit");
        await Refused(c => c with { Colour = "#ffee88" }, "colour-pale");
        // There are amounts in euros.
        await Refused(c => c with { Currency = "NOK" }, "currency-in-use");
        (await PutLogo("<svg onload='x'/>"u8.ToArray())).Problem.ShouldBe("logo-unfit");
        (await PutLogo([.. Pixel, .. new byte[400_000]])).Problem.ShouldBe("logo-large");
        (await _samir.Put("/api/setup/company", Order(before), before.Version + 1)).Problem.ShouldBe("stale");
        (await Read() with { Countries = before.Countries }).ShouldBe(before);
    }

    [Fact]
    public async Task WhatItTakesForGrantedIsTakenForGranted()
    {
        (await Keep(c => c with { Dates = DateForm.YearFirst })).Status.ShouldBe(HttpStatusCode.OK);
        var order = new PersonOrder("Per Vik", "per@fjell.example", [ShippedRoles.Rep], "Europe/Oslo");
        var person = (await _samir.Post("/api/setup/people", order)).Read<PersonLine>();
        (await _server.Scalar<string>($"select dates from person where id = '{person.Id}'")).ShouldBe("YearFirst");
        // Amounts without a currency: none is kept in a workspace where the currency can be another.
        await _server.Scalar<int>(
            "with a as (update lead set revenue = null returning 1), b as (update account set facts = facts - 'revenue' returning 1) select count(*)::int from a"
        );
        (await Keep(c => c with { Currency = "NOK" })).Status.ShouldBe(HttpStatusCode.OK);
        (await _samir.Post("/api/setup/pipelines", new { label = "Rentals" })).Status.ShouldBe(HttpStatusCode.Created);
        (await _server.Scalar<string>("select currency from pipeline where key = 'rentals'")).ShouldBe("NOK");
        var lead = await _samir.MakeLead("Krona", "NO", ("revenue", "4000000 NOK"));
        (await _samir.Read<LeadSheet>($"/api/leads/{lead}")).Facts.Single(f => f.Key == "revenue").Stored.ShouldBe("4000000");
    }

    [Fact]
    public async Task OnlyAnAdministratorSaysWhereLettersLeaveAndTheDemoSendsNothing()
    {
        var ingrid = await _server.SignIn("ingrid.brekke");
        (await ingrid.Get("/api/setup/company")).Status.ShouldBe(HttpStatusCode.OK);
        (await ingrid.Get("/api/setup/mail")).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await ingrid.Get("/api/start")).Status.ShouldBe(HttpStatusCode.Forbidden);
        var mail = await _samir.Read<MailView>("/api/setup/mail");
        mail.IsDemo.ShouldBeTrue();
        var order = new MailOrder("Tarn", "lantern@tarnhollow.example", "mail.tarnhollow.example", 25, "", null);
        (await _samir.Put("/api/setup/mail", order, mail.Version)).Problem.ShouldBe("demo-sends-nothing");
        (await _samir.Post("/api/setup/mail/trial", order)).Problem.ShouldBe("demo-sends-nothing");
    }
}
