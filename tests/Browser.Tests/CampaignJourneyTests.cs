using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>Campaigns, and one person's data, as their people go about them.</summary>
public sealed class CampaignJourneyTests(BrowserFixture fixture) : IClassFixture<BrowserFixture>
{
    private readonly Browser _browser = fixture.Browser;

    [Fact]
    public void ACampaignIsBegunPaidForAnsweredAndRetired()
    {
        _browser.Go("/intake");
        _browser.ClickButton("New campaign");
        _browser.Fill("Name", "Tank week");
        _browser.Choose("Kind", "Own event");
        _browser.FillDay("Ends", new DateTime(2020, 1, 1));
        _browser.ClickButton("Begin");
        _browser.See("It ends before it begins.");
        _browser.FillDay("Ends", new DateTime(2030, 1, 1));
        _browser.Fill("New people wanted", "25");
        _browser.Press(Keys.Enter);
        _browser.See("It brought in 0 of 25 new people wanted.");
        _browser.Fill("What the money was for", "Hall");
        _browser.Fill("Amount, €", "1 250,50");
        _browser.Press(Keys.Enter);
        _browser.See("for €\u202f1\u202f251");
        _browser.Click(By.XPath("//button[@aria-label='Take away Hall']"));
        _browser.See("Hall is taken away.");
        _browser.ClickButton("Undo");
        _browser.See("for €\u202f1\u202f251");

        _browser.Go("/leads?text=ragna@fjordnaer.example");
        _browser.Click(By.XPath("//*[@role='row'][contains(., 'Sollid')]"));
        _browser.ClickButton("add a response");
        _browser.Choose("Campaign", "Tank week");
        _browser.Choose("What happened", "Attended");
        _browser.ClickButton("Keep");
        _browser.See("Attended: Tank week");
        _browser.ClickLink("Tank week");
        _browser.See("1 member");
        _browser.Choose("What the email is for", "News and offers by mail");
        _browser.See("may be written to");
        _browser.ClickButton("Retire");
        _browser.See("retired");
        _browser.ClickButton("Undo");
        _browser.See("running");
    }

    [Fact]
    public void APersonIsLookedUpAndErasedOnlyWhenTheirAddressIsTypedAgain()
    {
        using var samir = new Browser(fixture.Server.Address);
        samir.SignIn("Samir Haddow").Go("/setup/persons");
        samir.Fill("Email address, or number of a lead", "nobody@nowhere.example");
        samir.Press(Keys.Enter);
        samir.See("We have nothing about nobody@nowhere.example.");
        samir.Fill("Email address, or number of a lead", "anders.lindqvist@vattervikhamn.example");
        samir.Press(Keys.Enter);
        samir.See("Download all of it");
        samir.Fill("Type anders.lindqvist@vattervikhamn.example again", "somebody@else.example");
        samir.Press(Keys.Enter);
        samir.See("just as above");
        samir.Fill("Type anders.lindqvist@vattervikhamn.example again", "anders.lindqvist@vattervikhamn.example");
        samir.Press(Keys.Enter);
        samir.See("Erased:");
        samir.See("Erasures done");
        samir.Go("/leads?text=anders.lindqvist@vattervikhamn.example");
        samir.See("No lead fits this sentence");
    }
}
