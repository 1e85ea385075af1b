using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>axe on every dialog and on what opens over a page, by day and by night; Escape leaves each with nothing done and the focus where it was.</summary>
public sealed class DialogTests(BrowserFixture fixture) : IClassFixture<BrowserFixture>
{
    private readonly Browser _browser = fixture.Browser;

    // How each is opened from its page, by its title.
    private static readonly Dictionary<string, (string Path, Action<Browser> Open)> All = new()
    {
        ["New lead"] = ("/desk", b => Pressed(b, "decisions wait", "n")),
        ["Keys"] = ("/desk", b => Pressed(b, "decisions wait", "?")),
        ["New campaign"] = ("/intake", b => b.ClickButton("New campaign")),
        ["New form"] = ("/intake", b => b.ClickButton("New form")),
        ["Change Bloom"] = ("/intake/campaigns/bloom", b => b.ClickButton("Change")),
        ["An absence"] = ("/routing?show=teams", b => b.ClickButton("Enter an absence")),
        ["A new team"] = ("/routing?show=teams", b => b.ClickButton("Make a team")),
        ["Iberia"] = ("/routing?show=teams", b => b.Click(By.XPath("//button[@aria-label='Change Iberia']"))),
        ["Mateo Ruvio"] = ("/routing?show=teams", b => b.Click(By.XPath("//button[normalize-space()='Mateo Ruvio']"))),
        ["Follow-ups in your calendar"] = ("/desk/follow-ups?who=all", b => b.ClickButton("In your calendar")),
        ["New account"] = ("/deals/accounts", b => b.ClickButton("New account")),
        ["Keep as a new view"] = ("/leads?country=NO", b => b.ClickButton("Keep as a new view")),
        ["Response to a campaign"] = (Lead, b => Opened(b, "add a response")),
        ["Done to several at once"] = ("/leads", b => Several(b, "Done lately")),
        ["Give"] = ("/leads", b => Several(b, "Give")),
        ["Leave this page?"] = (Lead, Leaving),
    };

    private const string Lead = "/leads?text=ragna@fjordnaer.example";

    // What opens beside its button.
    private static readonly Dictionary<string, (string Path, Action<Browser> Open)> Beside = new()
    {
        ["the search"] = ("/desk", Search),
        ["the person's menu"] = ("/desk", b => b.Click(By.XPath("//button[contains(@aria-label, ', menu')]"))),
        ["a list to choose from"] = (Lead, b => Opened(b, null)),
        ["a condition"] = ("/leads?country=NO", b => b.ClickButton("add a condition")),
    };

    public static TheoryData<string, string> Titles => Both(All.Keys);
    public static TheoryData<string, string> Names => Both(Beside.Keys);

    private static TheoryData<string, string> Both(IEnumerable<string> names)
    {
        var data = new TheoryData<string, string>();
        foreach (var name in names)
        foreach (var theme in new[] { "day", "night" })
            data.Add(name, theme);
        return data;
    }

    [Theory]
    [MemberData(nameof(Titles))]
    public void ADialogHasNoBarrierAndIsLeftByEscape(string title, string theme)
    {
        Open(All[title], theme);
        _browser.Find(By.XPath($"//*[@role='dialog']//h2[normalize-space()=\"{title}\"] | //*[@role='dialog'][starts-with(., \"{title}\")]"));
        AccessibilityTests.Barriers(_browser).ShouldBeEmpty();
        // Where nothing was written, Escape leaves at once.
        _browser.Press(Keys.Escape);
        _browser.Wait(_ => _browser.All(By.XPath("//*[@role='dialog']")).Count == 0 ? "" : null, $"{title} to close");
        Done();
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void WhatOpensBesideItsButtonHasNoBarrier(string name, string theme)
    {
        Open(Beside[name], theme);
        _browser.Find(By.XPath("//*[@role='listbox'] | //*[@role='menu'] | //*[@role='dialog']"));
        AccessibilityTests.Barriers(_browser).ShouldBeEmpty(name);
        _browser.Press(Keys.Escape);
        Done();
    }

    private void Open((string Path, Action<Browser> Open) what, string theme)
    {
        _browser.Script<object?>("localStorage.setItem('lantern-theme', arguments[0])", theme);
        _browser.Go(what.Path);
        what.Open(_browser);
    }

    private void Done()
    {
        _browser.Script<object?>("localStorage.removeItem('lantern-theme')");
        _browser.ForgetTyped();
    }

    private static void Pressed(Browser browser, string settled, string key)
    {
        browser.See(settled);
        browser.Press(key);
    }

    private static void Search(Browser browser)
    {
        browser.See("decisions wait");
        browser.Press("/", "kinnaird");
        browser.See("Found");
    }

    private static void Opened(Browser browser, string? button)
    {
        browser.ChooseRagna();
        if (button is not null)
            browser.ClickButton(button);
        else
            browser.Click(By.XPath("//button[@aria-haspopup='listbox'][.//*[contains(., 'Tor Vik')] or contains(., 'Tor Vik')]"));
    }

    private static void Several(Browser browser, string button)
    {
        browser.ClickButton("Several at once");
        browser.ClickButton("All of this list");
        browser.ClickButton(button);
    }

    private static void Leaving(Browser browser)
    {
        Opened(browser, null);
        browser.Press(Keys.Escape);
        browser.Fill("Note", "Half a sentence");
        browser.ClickLink("Reports");
    }
}
