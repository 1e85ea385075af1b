using System.Text.Json;

namespace DapperLantern.Browser.Tests;

/// <summary>axe (WCAG 2.0 to 2.2, A and AA) on every main view, by day and by night.</summary>
public sealed class AccessibilityTests(BrowserFixture fixture) : IClassFixture<BrowserFixture>
{
    private static readonly string Axe = File.ReadAllText(Path.Combine(TestServer.Root, "src/client/node_modules/axe-core/axe.min.js"));

    private readonly Browser _browser = fixture.Browser;

    /// <summary>Each page with a text that stands on it once it is settled.</summary>
    public static TheoryData<string, string> Views =>
        new()
        {
            { "/desk", "decisions wait" },
            { "/desk/asked", "Nobody asks for anything of yours" },
            { "/desk/follow-ups?who=all", "follow-ups" },
            { "/desk/follow-ups?who=all&show=week", "The week from" },
            { "/intake", "Imports" },
            { "/leads", "leads," },
            { "/leads?show=counts", "has most" },
            { "/leads?show=month&by=created_at", "On the day of" },
            { "/leads?group=owner&dense=1", "Aoife Brannigan" },
            { "/leads?text=ragna@fjordnaer.example", "1 lead" },
            { "/leads/duplicates", "One person, or two?" },
            { "/scoring", "clear both bars" },
            { "/scoring?show=outcomes", "What each part is worth" },
            { "/scoring?show=editions", "What it was for" },
            { "/routing", "Teams and turns" },
            { "/handover", "becomes" },
            { "/deals", "weighted" },
            { "/deals?as=table", "Weighted" },
            { "/deals/accounts", "with everything that belongs to them" },
            { "/deals/contacts", "one directory for all" },
            { "/reports", "in the last 365 days" },
            { "/intake/forms/site-survey", "What a post counts as" },
            { "/intake/waiting", "for your word" },
            { "/intake/campaigns/bloom", "What people did" },
            { "/setup", "What follows by itself" },
            { "/setup/company", "Tax number" },
            { "/setup/templates", "First contact" },
            { "/setup/sent", "The latest 200 messages" },
            { "/setup/matching", "The odds are as shipped." },
            { "/setup/pipelines", "Qualified when" },
            { "/setup/lists", "Reasons deals are lost" },
            { "/setup/sources", "Counts as" },
            { "/setup/tags", "Coined by" },
            { "/setup/barred", "kept as a mark" },
            { "/setup/fields", "Water body" },
            { "/setup/sessions", "How you write dates" },
        };

    [Theory]
    [MemberData(nameof(Views))]
    public void AViewHasNoBarrierByDayNorByNight(string path, string settled) => Check(_browser, path, settled);

    /// <summary>The view of a month gives names where the leads are few, whatever the day of the test.</summary>
    [Fact]
    public void AMonthOfFewLeadsHasNoBarrier()
    {
        var few = Uri.EscapeDataString("""{"field":"country","is":"in","values":["DE"]}""");
        _browser.Go($"/leads?show=month&by=created_at&month={DateTime.UtcNow.AddMonths(-1):yyyy-MM}&where={few}");
        _browser.Find(OpenQA.Selenium.By.CssSelector("td .one"));
        Barriers(_browser).ShouldBeEmpty();
    }

    [Fact]
    public void TheSignInPageHasNoBarrier()
    {
        using var stranger = new Browser(fixture.Server.Address);
        stranger.Go("/");
        stranger.See("Come in as");
        Barriers(stranger).ShouldBeEmpty();
    }

    [Theory]
    [InlineData("/f/site-survey?lang=de", "Ortstermin anfragen")]
    [InlineData("/f/hydrologist", "How much is")]
    [InlineData("/f/hydrologist/thanks", "next good hour")]
    public void APublicPageHasNoBarrier(string path, string settled)
    {
        using var visitor = new Browser(fixture.Server.Address);
        visitor.Go(path);
        visitor.See(settled);
        Barriers(visitor).ShouldBeEmpty();
    }

    [Fact]
    public void AnOpenLeadAndTheSieveHaveNoBarrier()
    {
        _browser.Go("/leads?text=fjordnaer.example");
        _browser.Click(OpenQA.Selenium.By.XPath("//*[@role='row'][contains(., 'Fjordnær Laks')]"));
        _browser.ShowFacts();
        Barriers(_browser).ShouldBeEmpty();
        _browser.ShowReasons();
        _browser.See("Both bars are cleared");
        Barriers(_browser).ShouldBeEmpty();
        _browser.Go("/intake");
        _browser.ClickLink("algae-webinar.csv");
        _browser.See("Nothing is taken in yet");
        Barriers(_browser).ShouldBeEmpty();
    }

    [Fact]
    public void ThePagesOfTheAdministratorHaveNoBarrier()
    {
        using var admin = new Browser(fixture.Server.Address);
        admin.SignIn("Samir Haddow");
        foreach (
            var (path, settled) in new[]
            {
                ("/setup/persons?who=ragna@fjordnaer.example", "Erase them"),
                ("/setup/access", "How to send"),
                ("/setup/roles", "as shipped"),
                ("/setup/provider", "Who comes in"),
            }
        )
            Check(admin, path, settled);
    }

    [Theory]
    [InlineData(1280)]
    [InlineData(390)]
    public void AnAdministratorNarrowsTheLogAndFollowsARecord(int width)
    {
        using var admin = new Browser(fixture.Server.Address, width);
        admin.SignIn("Samir Haddow").Go("/setup/log");
        admin.See("Signed in");
        Barriers(admin).ShouldBeEmpty();
        admin.Choose("About", "Deals");
        admin.SeeNot("Signed in");
        admin.See("Won");
        admin.Click(OpenQA.Selenium.By.XPath("(//a[normalize-space()='its log'])[1]"));
        admin.See("Only what concerns ");
        Barriers(admin).ShouldBeEmpty();
        admin.Script<bool>("return document.documentElement.scrollWidth <= window.innerWidth").ShouldBeTrue();
        admin.ClickButton("Show everything");
        admin.SeeNot("Only what concerns ");
        admin.Go("/setup/failed");
        admin.See("Nothing failed.");
        Barriers(admin).ShouldBeEmpty();
        // What the server does not give to others, their menu does not offer.
        _browser.Go("/setup/log");
        _browser.See("Your role may not do this.");
    }

    [Theory]
    [InlineData(1024)]
    [InlineData(1920)]
    public void NoViewIsWiderThanItsWindow(int width)
    {
        using var browser = new Browser(fixture.Server.Address, width);
        browser.SignIn();
        foreach (var view in Views)
        {
            browser.Go(view.Data.Item1);
            browser.See(view.Data.Item2);
            browser.Script<bool>("return document.documentElement.scrollWidth <= window.innerWidth").ShouldBeTrue(view.Data.Item1);
        }
        browser.Errors.ShouldBeEmpty();
    }

    private static void Check(Browser browser, string path, string settled)
    {
        browser.Go(path);
        browser.See(settled);
        ByDayAndByNight(browser, path);
    }

    /// <summary>Tries the page as it stands: all rules by day, those of colours by night.</summary>
    internal static void ByDayAndByNight(Browser browser, string called)
    {
        foreach (var theme in new[] { "day", "night" })
        {
            browser.Script<object?>("document.documentElement.dataset.theme = arguments[0]", theme);
            Barriers(browser, ofColours: theme == "night").ShouldBeEmpty($"{called} by {theme}");
        }
    }

    /// <summary>What axe finds on the page, each rule with the elements it found.</summary>
    /// <param name="ofColours">True for the rules of colours alone: by night nothing else is other than by day.</param>
    internal static List<string> Barriers(Browser browser, bool ofColours = false)
    {
        // Half a megabyte: once for each page that is loaded.
        if (!browser.Script<bool>("return 'axe' in window"))
            browser.Script<object?>(Axe + ";return null");
        // Every rule: WCAG 2.0 to 2.2, A and AA, and what is good practice. Left out is what was told to readers a moment ago: it names its button, and stays some seconds after that is gone.
        var rules = ofColours ? "{ type: 'rule', values: ['color-contrast', 'link-in-text-block'] }" : "['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice']";
        var json = (string)
            browser.ScriptAsync(
                $"const done = arguments[0]; axe.run({{ exclude: ['[data-live-announcer]'] }}, {{ runOnly: {rules} }}).then(r => done(JSON.stringify(r.violations.map(v => ({{ id: v.id, nodes: v.nodes.map(n => n.html.slice(0, 200)) }})))))"
            );
        return [.. JsonDocument.Parse(json).RootElement.EnumerateArray().Select(v => v.ToString())];
    }
}
