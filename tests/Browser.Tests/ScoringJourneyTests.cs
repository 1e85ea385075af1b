using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>The scoring model as its owner works on it: a bar moved on the map, who moves read, a criterion mended, published, gone back from.</summary>
public sealed class ScoringJourneyTests(BrowserFixture fixture) : IClassFixture<BrowserFixture>
{
    private readonly Browser _browser = fixture.Browser;

    private IWebElement Bar(string which) => _browser.Find(By.XPath($"//*[@role='slider'][@aria-label='Bar of {which}']"));

    private void Row(string label) => _browser.Click(By.XPath($"//button[@aria-pressed][.//span[starts-with(normalize-space(), '{label}')]]"));

    private int Counted(string text) =>
        int.Parse(System.Text.RegularExpressions.Regex.Match(_browser.Body, text).Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture);

    [Fact]
    public void ABarIsMovedWhoMovesIsReadPublishedAndGoneBackFrom()
    {
        _browser.Go("/scoring");
        _browser.See("How it is read");
        var before = Counted(@"(\d+) clear both bars");
        // By key alone.
        Bar("fit").SendKeys(string.Concat(Enumerable.Repeat(Keys.ArrowLeft, 12)));
        _browser.See("What this draft would change");
        _browser.See("Park → Nurture");
        Bar("fit").GetAttribute("aria-valuenow").ShouldBe("48");
        _browser.See("The draft is kept.");

        // A reload half-way loses nothing.
        _browser.Go("/scoring");
        _browser.See("Draft after edition 1 · not live");
        Bar("fit").GetAttribute("aria-valuenow").ShouldBe("48");
        // And by the mouse.
        _browser.Drag(Bar("engagement"), 0, 40);
        _browser.Wait(_ => int.Parse(Bar("engagement").GetAttribute("aria-valuenow")!, null) is > 35 and < 50 ? "" : null, "the bar of engagement to be lower");
        _browser.See("Park → Check");
        _browser.ClickButton("Undo");
        _browser.See("The draft is kept.");
        _browser.Click(By.XPath("//button[@aria-expanded][contains(., 'Park → Nurture')]"));
        _browser.Find(By.XPath("//aside[@aria-label='Why']//a[starts-with(@href, '/leads/')]")).Text.ShouldNotBeEmpty();
        _browser.ClickButton("As it is now");
        _browser.All(By.XPath("//*[@role='slider']")).Count.ShouldBe(0);
        _browser.ClickButton("By the draft");

        _browser.Fill("What it is for", "Smaller fits are worth a call");
        _browser.See("The draft is kept.");
        _browser.ClickButton("Publish edition 2");
        _browser.See("Edition 2 is live");
        _browser.See("How it is read");
        _browser.See("Edition 2, live since");
        _browser.Wait(_ => Counted(@"(\d+) clear both bars") >= before ? "" : null, "as many to clear the bars as before or more");

        _browser.ClickButton("Editions");
        _browser.See("Smaller fits are worth a call");
        _browser.ClickButton("Go back to it");
        _browser.ClickButton("Yes, make it live");
        _browser.See("Edition 1 is live again");
        _browser.See("Back to edition 1");
        _browser.ClickButton("Map");
        Bar("fit").GetAttribute("aria-valuenow").ShouldBe("60");
    }

    [Fact]
    public void WhatIsWrongStandsNextToItsLineAndIsTakenBack()
    {
        _browser.Go("/scoring");
        Row("Sites");
        _browser.See("What sites is worth");
        _browser.Fill("Points for 5 to 20 sites", "200");
        _browser.See("-100 to 100");
        _browser.Fill("Points for 5 to 20 sites", "25");
        // A line that can never count.
        _browser.Click(By.XPath("//button[normalize-space()='sites is 1']"));
        _browser.Choose("Test", "is between");
        _browser.Fill("From", "6");
        _browser.Fill("To", "9");
        _browser.ClickButton("Set");
        _browser.See("This line never counts: whatever it holds of is taken by “5 to 20 sites” above it.");
        _browser.See("look");
        _browser.ClickButton("What this draft would change");
        _browser.ClickButton("Undo");
        _browser.Wait(_ => _browser.Body.Contains("\nlook\n", StringComparison.Ordinal) ? null : "", "the mark to go");

        // A signal that cannot be computed cannot go live.
        Row("Call reached");
        _browser.Fill("Kind of event", " ");
        _browser.See("This needs a name of up to 60 letters, and a signal its kind.");
        _browser.ClickButton("What this draft would change");
        _browser.See("Before it can be tried or go live:");
        _browser.Find(By.XPath("//button[starts-with(normalize-space(), 'Publish edition')]")).Enabled.ShouldBeFalse();
        _browser.ClickButton("Drop the draft");
        _browser.ClickButton("Yes, drop it");
        _browser.See("The draft is gone");
        _browser.See("How it is read");
    }

    [Fact]
    public void TheModelIsHeldAgainstOutcomesAndPointsAreTakenOneByOne()
    {
        _browser.Go("/scoring?show=outcomes");
        _browser.See("Won by fit");
        _browser.See("How well it ranks");
        _browser.See("What each part is worth");
        _browser.ClickButton("Suggest points");
        _browser.See("Points the outcomes speak for");
        _browser.Click(By.XPath("(//input[@type='checkbox'][not(@disabled)])[1]"));
        _browser.ClickButton("Put 1 into the draft");
        _browser.See("not live");
        _browser.See("Won by fit");
        _browser.See("The draft is kept.");
        _browser.ClickButton("Drop the draft");
        _browser.ClickButton("Yes, drop it");
        _browser.See("The draft is gone");
    }

    [Fact]
    public void OnTheTelephoneTheFactToAskNextIsAnsweredWhereItStands()
    {
        _browser.Go("/desk");
        _browser.ClickButton("New lead");
        _browser.Fill("Job title", "Harbour master");
        _browser.See("Fit 20, could be");
        _browser.Choose("Ask next: industry", "Port or harbour");
        _browser.See("Fit 42, could be");
        _browser.SeeNot("Ask next: industry");
        _browser.Press(Keys.Escape);
    }
}
