using System.Net;
using System.Text;
using DapperLantern.App.Intake;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Intake.Forms;

namespace DapperLantern.App.Tests.Setup;

/// <summary>Fields of one's own: everywhere at once, in every process, without a restart.</summary>
public sealed class CustomFieldTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    [Fact]
    public async Task AFieldAddedIsInListsFormsConditionsAndOnLeadsInEveryProcessAtOnce()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var beside = await fixture.Server.Beside();
        (await ingrid.Post("/api/custom-fields", new { label = "Depth in metres", type = "number" })).Status.ShouldBe(HttpStatusCode.Created);
        (
            await ingrid.Post(
                "/api/custom-fields",
                new
                {
                    label = "Mooring",
                    type = "choice",
                    choices = new[] { "Single point", "Two anchors" },
                }
            )
        ).Status.ShouldBe(HttpStatusCode.Created);

        // A list with that heading is matched, and a near miss of a choice is not taken for one.
        var list = "Name,Mail,Depth in metres,Mooring\nEli Strand,eli@strand.example,42.5,single point\nOla Strand,ola@strand.example,deep,Three\n"u8.ToArray();
        var sieve = (await ingrid.Drop("depths.csv", list)).Read<SieveView>();
        sieve.Matching.Select(m => m.Target).ShouldBe(["full_name", "email", "depth_in_metres", "mooring"]);
        await ingrid.Post($"/api/imports/{sieve.Import.Id}/take-in");

        // The other process knows it, for conditions as for a lead's facts.
        var elsewhere = new TestClient(beside.Address);
        await elsewhere.SignIn("ingrid.brekke", SessionEndpoints.DemoPassword);
        var where = Uri.EscapeDataString("""{"field":"depth_in_metres","is":"at-least","values":["40"]}""");
        Answer found = null!;
        for (var i = 0; i < 50 && (found = await elsewhere.Get($"/api/leads?where={where}")).Status != HttpStatusCode.OK; i++)
            await Task.Delay(100);
        var lead = found.Read<LeadPage>().Leads.ShouldHaveSingleItem();
        var sheet = await elsewhere.Read<LeadSheet>($"/api/leads/{lead.Id}");
        sheet.Facts.Single(f => f.Key == "mooring").Value.ShouldBe("Single point");

        // And a form may ask for it.
        var form = (await ingrid.Post("/api/forms", new { name = "Depths" })).Read<FormView>();
        var draft = form.Draft with { Fields = [.. form.Draft.Fields, new FormField("mooring", true)] };
        (await ingrid.Put($"/api/forms/{form.Key}/draft", draft, form.Version)).Read<FormKept>().Problems.ShouldBeEmpty();

        // It is renamed with its values, and goes only while nobody has it.
        (await ingrid.Put("/api/custom-fields/mooring", new { label = "Moored by", choices = new[] { "Two anchors", "One anchor" } })).Status.ShouldBe(HttpStatusCode.NoContent);
        (await ingrid.Read<List<CustomFieldView>>("/api/custom-fields")).Single(f => f.Key == "mooring").Choices.Select(c => c.Label).ShouldBe(["Two anchors", "One anchor"]);
        (await ingrid.Delete("/api/custom-fields/mooring")).Problem.ShouldBe("field-used");
        (await ingrid.Post("/api/custom-fields", new { label = "Never used", type = "yesNo" })).Status.ShouldBe(HttpStatusCode.Created);
        (await ingrid.Delete("/api/custom-fields/never_used")).Status.ShouldBe(HttpStatusCode.NoContent);
    }

    [Fact]
    public async Task WhatCannotBeAFieldIsSaid()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        (await ingrid.Post("/api/custom-fields", new { label = "  ", type = "text" })).Problem.ShouldBe("field-name-unfit");
        (await ingrid.Post("/api/custom-fields", new { label = "Company", type = "text" })).Problem.ShouldBe("field-exists");
        (await ingrid.Post("/api/custom-fields", new { label = "Kind of rope", type = "choice" })).Problem.ShouldBe("choices-missing");
        (
            await ingrid.Post(
                "/api/custom-fields",
                new
                {
                    label = "Kind of rope",
                    type = "choice",
                    choices = new[] { "Same", "same" },
                }
            )
        ).Problem.ShouldBe("choices-missing");
        (
            await ingrid.Post(
                "/api/custom-fields",
                new
                {
                    label = "Budget",
                    type = "money",
                    currency = "kroner",
                }
            )
        ).Problem.ShouldBe("currency-unknown");
        (await ingrid.Post("/api/custom-fields", new { label = "Budget", type = "shoes" })).Status.ShouldBe(HttpStatusCode.BadRequest);
        (await (await fixture.Server.SignIn("lucie.armand")).Get("/api/custom-fields")).Status.ShouldBe(HttpStatusCode.Forbidden);
    }
}
