using DapperLantern.App.People;
using DapperLantern.Core.Rights;
using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>A record that exists and is a colleague's: whoever makes it is told that it is known, asks, and is answered.</summary>
public sealed class KnownJourneyTests
{
    [Fact]
    public async Task WhoMakesAKnownRecordAsksAndTheColleagueSharesIt()
    {
        await using var server = await TestServer.Start();
        var lead = await Prepare(server);

        using var aoife = new Browser(server.Address);
        aoife.SignIn("Aoife Brannigan");
        aoife.Press("n");
        aoife.Fill("Last name", "Knoll");
        aoife.Fill("Email", "kari@knoll.example");
        aoife.See("Known already, and with Tor Vik.");
        aoife.SeeNot("Kari");
        aoife.ClickButton("Ask for it");
        aoife.Fill("What you want it for", "She rang me about the survey");
        AccessibilityTests.Barriers(aoife).ShouldBeEmpty();
        aoife.Click(By.XPath("//button[.='Ask']"));
        aoife.See("You asked for it.");

        using var owner = new Browser(server.Address);
        owner.Go("/");
        owner.Fill("Name or email address", "tor.vik");
        owner.Fill("Password", "lantern-demo-1");
        owner.ClickButton("Sign in");
        owner.See("Desk");
        owner.Go("/desk/asked");
        owner.See("She rang me about the survey");
        owner.Click(By.XPath("//button[@aria-label='Share: Kari Knoll, for Aoife Brannigan']"));
        owner.See("Aoife Brannigan sees Kari Knoll now.");
        AccessibilityTests.Barriers(owner).ShouldBeEmpty();

        aoife.Go("/desk/asked");
        aoife.ClickLink("Kari Knoll");
        aoife.WaitForPath($"/leads/{lead}");
        aoife.See("kari@knoll.example");
        // Taken back, it is not there any more.
        owner.ClickButton("Take back");
        owner.See("The answer is taken back.");
        aoife.Go($"/leads/{lead}");
        aoife.SeeNot("kari@knoll.example");
        // Whoever administers sees that somebody was told.
        using var samir = new Browser(server.Address);
        samir.SignIn("Samir Haddow").Go("/setup/roles");
        samir.Find(By.XPath("//table[@aria-label='Told of records']//tr[contains(., 'Aoife Brannigan')]"));
    }

    // Aoife sees what is hers, and what is shared with her; the lead is Tor's.
    private static async Task<Guid> Prepare(TestServer server)
    {
        var samir = await server.SignIn("samir.haddow");
        Reach[] own = [Reach.Own, Reach.Shared];
        var rep = (await samir.Read<RolesView>("/api/setup/roles")).Roles.Single(r => r.Key == ShippedRoles.Rep).Role;
        await samir.Post("/api/setup/roles", rep with { Name = "Narrow", Sees = new RoleSight(own, own, own, own), ContactData = own });
        var tor = await server.SignIn("tor.vik");
        var lead = await samir.MakeLead("Knoll", "NO", ("email", "kari@knoll.example"), ("first_name", "Kari"));
        await server.Scalar<int>(
            $$"""
            with given as (update lead set owner_id = '{{tor.Session.Id}}' where id = '{{lead}}' returning 1),
            narrowed as (update person set roles = '{narrow}' where user_name = 'aoife.brannigan' returning 1) select (select count(*) from given) + (select count(*) from narrowed)
            """
        );
        return lead;
    }
}
