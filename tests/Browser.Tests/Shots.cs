using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>
/// One picture of each main view. In a test run they go to a folder that is thrown away and only must not fail; <c>./lantern shots</c>
/// sets <c>LANTERN_SHOTS</c> to keep them.
/// </summary>
public sealed class Shots(BrowserFixture fixture) : IClassFixture<BrowserFixture>
{
    private readonly Browser _browser = fixture.Browser;
    private readonly string _folder = Environment.GetEnvironmentVariable("LANTERN_SHOTS") ?? Directory.CreateTempSubdirectory("lantern-shots").FullName;

    [Fact]
    public void EveryMainViewMakesAPicture()
    {
        Take("desk", "/desk", "decisions wait");
        Take("follow-ups", "/desk/follow-ups?who=all&show=week", "The week from");
        _browser.Go("/leads");
        _browser.ClickButton("Several at once");
        _browser.Click(By.XPath("(//*[@role='grid'][@aria-label='Leads']//*[@role='row'])[1]"));
        _browser.Click(By.XPath("(//*[@role='grid'][@aria-label='Leads']//*[@role='row'])[3]"));
        _browser.See("2 ticked");
        Keep("several");
        Take("intake", "/intake", "Sources, the last 30 days");
        _browser.All(By.CssSelector("input[type=file]"))[0].SendKeys(Path.Combine(TestServer.Root, "demo/lists/northern-waters-expo.xlsx"));
        _browser.See("61 rows read");
        Keep("sieve");
        _browser.Go("/intake/forms/hydrologist");
        _browser.Wait(_ => _browser.Script<bool>("return (document.querySelector('iframe')?.srcdoc ?? '').length > 1000") ? "" : null, "the preview");
        Keep("form");
        Take("form-page", "/f/site-survey?lang=de", "Ortstermin anfragen");
        Take("campaign", "/intake/campaigns/bloom", "What people did");
        Take("leads", "/leads?country=NO,SE&fit=40&order=-engagement", "leads");
        Take("counts", "/leads?state=any&show=counts&rows=created_at:month&across=source", "has most");
        _browser.Go("/leads?country=NO,SE&order=-engagement");
        _browser.Click(By.XPath("//*[@role='row'][contains(., 'Fjordnær Laks')]"));
        _browser.See("Both bars are cleared");
        Keep("lead");
        Take("duplicates", "/leads/duplicates", "One person, or two?");
        Take("outcomes", "/scoring?show=outcomes", "What each part is worth");
        _browser.Go("/scoring");
        _browser.Find(By.XPath("//*[@role='slider'][@aria-label='Bar of fit']")).SendKeys(string.Concat(Enumerable.Repeat(Keys.ArrowLeft, 10)));
        _browser.See("Park → Nurture");
        _browser.See("The draft is kept.");
        Keep("scoring");
        Take("routing", "/routing", "Teams and turns");
        _browser.Go("/handover");
        _browser.ClickLink("Ragna Sollid");
        _browser.See("becomes an account");
        Keep("handover");
        _browser.Go("/deals");
        _browser.Click(By.XPath("//*[@role='group'][starts-with(@aria-label, 'Site survey')]//button[2]"));
        _browser.See("In this stage for");
        Keep("deals");
        Take("reports", "/reports", "in the last 365 days");
        _browser.Script<object?>("localStorage.setItem('lantern-theme', 'night')");
        Take("desk-night", "/desk", "decisions wait");
        Directory.GetFiles(_folder, "*.png").Length.ShouldBeGreaterThanOrEqualTo(19);
    }

    private void Take(string name, string path, string settled)
    {
        _browser.Go(path);
        _browser.See(settled);
        Keep(name);
    }

    private void Keep(string name)
    {
        _browser.ScriptAsync("document.fonts.ready.then(() => setTimeout(arguments[0], 400))");
        var picture = _browser.Picture();
        picture.Length.ShouldBeGreaterThan(10_000);
        File.WriteAllBytes(Path.Combine(_folder, $"{name}.png"), picture);
    }
}
