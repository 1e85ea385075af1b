using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>A list of values put in order by a coordinator, as those who choose from it see it; and the page of the API.</summary>
public sealed class ListsJourneyTests(BrowserFixture fixture) : IClassFixture<BrowserFixture>
{
    private readonly Browser _browser = fixture.Browser;

    [Fact]
    public void AListIsPutInOrderAndEachStepIsTakenBack()
    {
        _browser.Go("/setup/lists");
        _browser.Fill("A new value", "Priced out");
        _browser.Click(By.XPath("//form[@aria-label='New: reasons leads are disqualified']//button[.='Add']"));
        _browser.See("Priced out can be chosen.");
        _browser.Click(By.XPath("//table[@aria-label='Reasons leads are disqualified']//button[@aria-label='Change Priced out']"));
        _browser.Find(By.XPath("//*[@role='dialog']//h2[.='Priced out']"));
        AccessibilityTests.Barriers(_browser).ShouldBeEmpty();
        _browser.Fill("Name", "Too dear");
        _browser.Click(By.XPath("//*[@role='dialog']//button[.='Keep']"));
        _browser.See("There is \u201cToo dear\u201d in the list already.");
        _browser.Fill("Name", "Beyond the budget");
        _browser.Fill("Also read as", "priced out, over budget");
        _browser.Click(By.XPath("//*[@role='dialog']//button[.='Keep']"));
        _browser.See("also read as priced out, over budget");
        _browser.Click(By.XPath("//button[@aria-label='Up: Beyond the budget']"));
        _browser.See("Beyond the budget stands higher.");
        _browser.Click(By.XPath("//button[@aria-label='Retire Beyond the budget']"));
        _browser.See("Retired. Whatever has it keeps it.");
        _browser.Click(By.XPath("//button[@aria-label='Bring back Beyond the budget']"));
        _browser.See("Offered again.");
        _browser.Choose("Let another value stand for Beyond the budget", "Too dear");
        _browser.See("\u201cToo dear\u201d stands for \u201cBeyond the budget\u201d");
        AccessibilityTests.Barriers(_browser).ShouldBeEmpty();
        _browser.Click(By.XPath("//button[starts-with(@aria-label, 'Part them')]"));
        _browser.See("Beyond the budget is there again.");
        _browser.Click(By.XPath("//button[@aria-label='Take away Beyond the budget']"));
        _browser.See("Beyond the budget is gone.");
        using var narrow = new Browser(fixture.Server.Address, 390);
        narrow.SignIn().Go("/setup/lists");
        narrow.See("Industries");
        narrow.Script<bool>("return document.documentElement.scrollWidth <= window.innerWidth").ShouldBeTrue();
    }

    [Fact]
    public void SourcesArePutInOrderAndTwoBecomeOne()
    {
        _browser.Go("/setup/sources");
        foreach (var name in new[] { "Slipway days", "Slipways" })
        {
            _browser.Fill("A new source", name);
            _browser.Choose("Comes by", "a list");
            _browser.Choose("Counts as", "Counts nothing");
            _browser.ClickButton("Add");
            _browser.See($"{name} is there.");
        }
        _browser.Click(By.XPath("//button[@aria-label='Change Slipway days']"));
        _browser.Find(By.XPath("//*[@role='dialog']//h2[.='Slipway days']"));
        AccessibilityTests.Barriers(_browser).ShouldBeEmpty();
        _browser.Fill("Name", "slipways");
        _browser.Click(By.XPath("//*[@role='dialog']//button[.='Keep']"));
        _browser.See("There is a source like \u201cslipways\u201d already.");
        _browser.Fill("Name", "Slipway days, spring");
        _browser.Choose("Trusted when records merge", "less than others");
        _browser.Click(By.XPath("//*[@role='dialog']//button[.='Keep']"));
        _browser.See("trusted less than others");
        _browser.Click(By.XPath("//button[@aria-label='Down: Slipway days, spring']"));
        _browser.See("Slipway days, spring stands lower.");
        _browser.Choose("Let another source stand for Slipway days, spring", "Slipways");
        _browser.See("\u201cSlipways\u201d stands for \u201cSlipway days, spring\u201d");
        AccessibilityTests.Barriers(_browser).ShouldBeEmpty();
        _browser.Click(By.XPath("//button[starts-with(@aria-label, 'Part them')]"));
        _browser.See("Slipway days, spring is there again.");
        _browser.Click(By.XPath("//button[@aria-label='Retire Slipway days, spring']"));
        _browser.See("Retired. What came from it keeps it.");
    }

    [Fact]
    public async Task ASubStateOfOnesOwnIsChosenOnALead()
    {
        _browser.Go("/setup/lists");
        var form = "//form[@aria-label='New: sub-states of leads']";
        _browser.Find(By.XPath($"{form}//input")).SendKeys("Tried twice");
        _browser.Click(By.XPath($"{form}//button[contains(@aria-label, 'Of the state') or contains(., 'New')]"));
        _browser.Click(By.XPath("//*[@role='option'][normalize-space()='In work']"));
        _browser.Click(By.XPath($"{form}//button[.='Add']"));
        _browser.See("Tried twice can be chosen.");
        var lead = await fixture.Server.Scalar<string>("select id::text from lead where state = 'in_work' and owner_id is not null order by number limit 1");
        _browser.Go($"/leads/{lead}");
        _browser.Choose("Sub-state", "Tried twice");
        _browser.See("It is at \u201cTried twice\u201d now.");
        AccessibilityTests.Barriers(_browser).ShouldBeEmpty();
        _browser.ClickButton("Undo");
        _browser.Find(By.XPath("//button[contains(., 'none')]"));
    }

    [Fact]
    public void TheApiIsReadOnAPageThatAsksNobodyOutside()
    {
        using var other = new Browser(fixture.Server.Address);
        other.SignIn().Go("/api/reference");
        other.See("The interface that the pages use");
        other.See("For other systems");
        other.Script<bool>("return performance.getEntriesByType('resource').every(e => new URL(e.name).origin === location.origin)").ShouldBeTrue();
        other.Errors.ShouldBeEmpty();
    }
}
