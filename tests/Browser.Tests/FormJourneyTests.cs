using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>A form from its first word to the lead it brings.</summary>
public sealed class FormJourneyTests(BrowserFixture fixture) : IClassFixture<BrowserFixture>
{
    private readonly Browser _browser = fixture.Browser;

    private Browser Visitor() => new(fixture.Server.Address);

    private void Begin(string name)
    {
        _browser.Go("/intake");
        _browser.ClickButton("New form");
        _browser.Fill("Name", name);
        _browser.Press(Keys.Enter);
        _browser.See("Not published yet");
    }

    [Fact]
    public void AFormIsBuiltPublishedFilledWithoutScriptAndBecomesALead()
    {
        Begin("Winter check");
        _browser.Fill("Title", "Is your water ready for winter?");
        _browser.Choose("Ask for one more", "Sites");
        _browser.Fill("Question for Sites", "How many ponds?");
        // This visitor is faster than a person.
        _browser.Fill("Least seconds a person takes", "0");
        _browser.Fill("Words for Answering the enquiry", "You may answer me.");
        _browser.See("all kept");
        _browser.ClickButton("Publish");
        _browser.See("edition 1");

        using var visitor = Visitor();
        visitor.Go("/f/winter-check?utm_campaign=bloom");
        visitor.See("Is your water ready for winter?");
        visitor.Script<long>("return document.scripts.length").ShouldBe(0);
        visitor.Fill("Last name", "Dalgaard");
        visitor.Labelled("Email").SendKeys("not yet" + Keys.Enter);
        visitor.See("This is not an email address");
        visitor.See("Without this we cannot take your request");
        visitor.Fill("Email", "dalgaard@damme.example");
        visitor.Find(By.Id("sites")).SendKeys("3");
        visitor.Click(By.Name("consent.answer"));
        visitor.ClickButton("Send");
        visitor.See("Thank you. We have it.");
        visitor.Reload();
        visitor.See("Thank you. We have it.");
        visitor.Errors.ShouldBeEmpty();

        _browser.Go("/leads?text=dalgaard@damme.example");
        _browser.See("1 lead");
        _browser.Click(By.XPath("//*[@role='row'][contains(., 'Dalgaard')]"));
        _browser.See("Came in through Winter check (utm_campaign bloom)");
        _browser.Errors.ShouldBeEmpty();
    }

    [Fact]
    public void WhatIsWrongIsSaidAndADraftSurvivesAReload()
    {
        Begin("Half done");
        _browser.Click(By.XPath("//button[@aria-label='Leave out Email']"));
        _browser.See("without one nobody can be answered");
        _browser.Find(By.XPath("//button[normalize-space()='Publish']")).Enabled.ShouldBeFalse();
        _browser.See("all kept");
        _browser.Reload();
        _browser.See("without one nobody can be answered");
        _browser.All(By.XPath("//button[@aria-label='Leave out Email']")).ShouldBeEmpty();
    }

    [Fact]
    public void WhatWaitsIsTakenInOrSetAsideWithTheWayBack()
    {
        _browser.Go("/intake/forms/price-guide");
        _browser.See("A web address where a name belongs.");
        _browser.ClickButton("Set aside");
        _browser.See("Set aside. It stays as it came.");
        _browser.ClickButton("Undo");
        _browser.See("It waits again.");
        _browser.Go("/intake/waiting");
        _browser.See("Glen Orrin Estate");
        _browser.Click(By.XPath("//li[contains(., 'Glen Orrin')]//button[normalize-space()='Take in']"));
        _browser.See("Taken in, scored and routed.");
        _browser.Go("/leads?text=moira@glenorrin.example");
        _browser.See("1 lead");
    }

    [Fact]
    public void ALaterQuestionIsFilledFromEarlierPostsAndUndone()
    {
        _browser.Go("/intake/forms/price-guide");
        _browser.Choose("Ask for one more", "Water body");
        _browser.See("had it unasked");
        _browser.ClickButton("Fill them");
        _browser.See("Filled for");
        _browser.ClickButton("Undo");
        _browser.See("had it unasked");
    }

    [Fact]
    public void ALetterIsDroppedAndALeadIsTaggedAndItsConsentRecorded()
    {
        _browser.Go("/intake");
        _browser.See("Choose a list");
        _browser.All(By.CssSelector("input[type=file]"))[0].SendKeys(Path.Combine(TestServer.Root, "demo", "letters", "05-weser.eml"));
        _browser.See("Jürgen Weißhaupt");
        _browser.See("Hafenplan.pdf");
        _browser.ShowFacts();
        _browser.See("the company directory");
        _browser.Choose("Add a tag", "partner: referred");
        _browser.See("Tagged partner: referred");
        _browser.Click(By.XPath("//button[contains(., 'Calls about products')]"));
        _browser.Fill("They agreed in these words", "Call me any morning");
        _browser.ClickButton("They agreed");
        _browser.See("Consent given: Calls about products");
        _browser.Click(By.XPath("//button[@aria-label='Take partner: referred off']"));
        _browser.See("Tag taken off: partner: referred");
    }

    [Fact]
    public void AFieldAddedStandsOnEveryLeadAtOnce()
    {
        _browser.Go("/setup/fields");
        _browser.Fill("A new field", "Tide gauge");
        _browser.Press(Keys.Enter);
        _browser.See("Tide gauge is there, everywhere.");
        _browser.Go("/leads?text=ragna@fjordnaer.example");
        _browser.Click(By.XPath("//*[@role='row'][contains(., 'Sollid')]"));
        _browser.ShowFacts();
        _browser.See("tide gauge");
    }
}
