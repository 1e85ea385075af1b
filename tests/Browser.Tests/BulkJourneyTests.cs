using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>Several leads changed at once, and taken back, by keyboard alone.</summary>
public sealed class BulkJourneyTests(BrowserFixture fixture) : IClassFixture<BrowserFixture>
{
    private readonly Browser _browser = fixture.Browser;

    [Fact]
    public void SomeAreTickedChangedAndTakenBackWithoutAMouse()
    {
        _browser.Go("/leads");
        _browser.Find(By.XPath("//button[normalize-space()='Several at once']")).SendKeys(Keys.Enter);
        _browser.See("0 ticked");
        var row = _browser.Find(By.XPath("(//*[@role='grid'][@aria-label='Leads']//*[@role='row'])[1]"));
        row.SendKeys(Keys.Space);
        _browser.See("1 ticked");
        _browser.Press(Keys.ArrowDown);
        _browser.Press(Keys.Space);
        _browser.See("2 ticked");
        _browser.Find(By.XPath("//button[normalize-space()='Change a fact']")).SendKeys(Keys.Enter);
        _browser.Choose("Which fact", "Department");
        _browser.Fill("Department", "Estuary watch");
        _browser.See("2 leads would change.");
        _browser.Press(Keys.Enter);
        _browser.See("Department to Estuary watch: 2 leads changed.");
        _browser.ClickButton("Undo");
        _browser.See("Taken back: 2 leads.");
        _browser.Find(By.XPath("//button[normalize-space()='Done lately']")).SendKeys(Keys.Enter);
        _browser.See("taken back, 2 leads");
        _browser.Press(Keys.Escape);
        _browser.ClickButton("Close");
        _browser.SeeNot("2 ticked");
    }

    [Fact]
    public void AllOfASentenceAreGivenInTurn()
    {
        _browser.Go("/leads?state=new&owner=none");
        _browser.ClickButton("Several at once");
        _browser.ClickButton("All of this list");
        _browser.ClickButton("Give");
        _browser.Choose("To whom", "these people, in turn");
        _browser.Click(By.XPath("//label[contains(., 'Tor Vik')]/input"));
        _browser.Click(By.XPath("//label[contains(., 'Aoife Brannigan')]/input"));
        _browser.See("would change");
        _browser.See("no owner");
        _browser.Press(Keys.Enter);
        _browser.See("Given in turn to 2 people:");
        _browser.ClickButton("Undo");
        _browser.See("Taken back:");
    }

    [Fact]
    public void TwoExchangeTheirOwners()
    {
        _browser.Go("/leads?state=in_work");
        _browser.ClickButton("Several at once");
        var row = _browser.Find(By.XPath("(//*[@role='grid'][@aria-label='Leads']//*[@role='row'])[1]"));
        row.SendKeys(Keys.Space);
        _browser.SeeNot("Exchange owners");
        _browser.Press(Keys.ArrowDown);
        _browser.Press(Keys.Space);
        _browser.ClickButton("Exchange owners");
        _browser.ClickButton("Exchange owners: 2 leads");
        _browser.See("Owners exchanged: 2 leads changed.");
        _browser.ClickButton("Undo");
        _browser.See("Taken back: 2 leads.");
    }

    [Fact]
    public void WhatIsRemovedLeavesTheListAndComesBackWhole()
    {
        _browser.Go("/leads?state=disqualified");
        var name = _browser.Find(By.XPath("(//*[@role='grid'][@aria-label='Leads']//*[@role='row'])[1]//b")).Text;
        _browser.ClickButton("Several at once");
        _browser.Find(By.XPath("(//*[@role='grid'][@aria-label='Leads']//*[@role='row'])[1]")).SendKeys(Keys.Space);
        _browser.See("1 ticked");
        _browser.ClickButton("Remove");
        _browser.See("1 lead would be removed.");
        _browser.ClickButton("Remove: 1 lead");
        _browser.See("Removed: 1 lead.");
        _browser.Wait(_ => _browser.All(By.XPath("//*[@role='grid'][@aria-label='Leads']//b")).All(b => b.Text != name) ? "" : null, $"{name} to leave the list");
        _browser.ClickButton("Undo");
        _browser.See("Taken back: 1 lead.");
        _browser.Find(By.XPath($"//*[@role='grid'][@aria-label='Leads']//b[normalize-space()='{name}']"));
    }
}
