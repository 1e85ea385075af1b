using System.Globalization;
using System.IO.Compression;
using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>What holds on every page alike: it stands still while it comes, fits a narrow and a magnified window, and is moved about by keyboard.</summary>
public sealed class GroundTests(BrowserFixture fixture, ITestOutputHelper output) : IClassFixture<BrowserFixture>
{
    private const double MostShift = 0.05;
    private const int MostScript = 200_000;

    private readonly Browser _browser = fixture.Browser;

    private void OpenALead()
    {
        // Another test may have left something written here.
        _browser.ForgetTyped();
        _browser.OpenRagna();
    }

    [Fact]
    public void PagesStandStillWhileTheyCome()
    {
        var shifts = new List<(string Path, double Shift)>();
        foreach (var view in AccessibilityTests.Views)
        {
            _browser.Go(view.Data.Item1);
            _browser.See(view.Data.Item2);
            shifts.Add((view.Data.Item1, _browser.Shift()));
        }
        OpenALead();
        _browser.Reload();
        _browser.Find(By.XPath("//section[@aria-label='Record and plan']"));
        shifts.Add(("a lead", _browser.Shift()));
        foreach (var (path, shift) in shifts.OrderByDescending(s => s.Shift).Take(8))
            output.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{shift:0.000} {path}"));
        shifts.Where(s => s.Shift >= MostShift).ShouldBeEmpty();
    }

    /// <summary>A window of 1280 pixels magnified four times is 320 wide.</summary>
    [Fact]
    public void NoPageScrollsSidewaysAt320()
    {
        using var narrow = new Browser(fixture.Server.Address);
        narrow.SignIn();
        narrow.Narrow(320, 640);
        var wide = new List<string>();
        foreach (var view in AccessibilityTests.Views)
        {
            narrow.Go(view.Data.Item1);
            narrow.Wait(d => d.FindElements(By.CssSelector("main, article")).FirstOrDefault(), $"the page {view.Data.Item1}");
            narrow.See(view.Data.Item2);
            if (narrow.Script<long>("return document.documentElement.scrollWidth") is var width and > 320)
                wide.Add($"{view.Data.Item1}: {width}");
        }
        wide.ShouldBeEmpty();
    }

    /// <summary>In a browser that is never idle, so that what is loaded for later does not count; what is asked for by then comes all the same.</summary>
    [Fact]
    public void TheFirstScreenTakesLittleScript()
    {
        using var browser = new Browser(fixture.Server.Address);
        browser.SignIn();
        browser.BeforeEachPage("window.requestIdleCallback = () => 0");
        browser.Go("/desk");
        browser.Find(By.CssSelector("main h1"));
        browser.ScriptAsync("setTimeout(arguments[0], 800)");
        var assets = Path.Combine(TestServer.Root, "src/client/dist/assets");
        var needed = browser.Loaded(".js").Select(Path.GetFileName).Distinct().Select(f => Path.Combine(assets, f!)).ToList();
        long Sum(string ending) => needed.Sum(f => new FileInfo(f + ending).Length);
        output.WriteLine($"{needed.Count} files, {Sum("")} bytes, {Sum(".gz")} as gzip, {Sum(".br")} as brotli");
        needed.Count.ShouldBeGreaterThan(2);
        Sum(".gz").ShouldBeLessThan(MostScript);
        Sum(".br").ShouldBeLessThan(Sum(".gz"));
        // The packed file is the file.
        using var packed = new BrotliStream(File.OpenRead(needed[0] + ".br"), CompressionMode.Decompress);
        new StreamReader(packed).ReadToEnd().ShouldBe(File.ReadAllText(needed[0]));

        browser.Press("/");
        browser.Press("sol");
        browser.Find(By.XPath("//*[@role='option'][contains(., 'Sollid')]"));
        browser.Press(Keys.Escape);
        browser.Click(By.XPath("//header//button[contains(@aria-label, 'menu')]"));
        browser.Find(By.XPath("//*[@role='menuitem'][contains(., 'Sign out')]"));
        browser.Loaded(".js").Count.ShouldBeGreaterThan(needed.Count);
    }

    [Fact]
    public void TheComposerAndTheNewestEntryAreSeenWithoutScrolling()
    {
        OpenALead();
        foreach (var selector in new[] { "section[aria-label='Record and plan'] textarea", "section[aria-label='Story'] ol li" })
            _browser
                .Script<bool>(
                    "const r = document.querySelector(arguments[0]).getBoundingClientRect(); return r.top >= 0 && r.top + Math.min(r.height, 24) <= innerHeight",
                    selector
                )
                .ShouldBeTrue(selector);
    }

    [Fact]
    public void ANoteAsksForNothingButItsRecord()
    {
        OpenALead();
        _browser.ScriptAsync("setTimeout(arguments[0], 500)");
        _browser.Script<object?>("performance.clearResourceTimings()");
        _browser.Fill("Note", "Asked for the depth chart" + Keys.Control + Keys.Enter);
        _browser.See("Noted.");
        _browser.Find(By.XPath("//div[@class='entry'][contains(., 'depth chart')]"));
        _browser.ScriptAsync("setTimeout(arguments[0], 1000)");
        var asked = _browser
            .Script<string>("return performance.getEntriesByType('resource').map(e => new URL(e.name).pathname).filter(p => p.startsWith('/api/')).join(' ')")
            .Split(' ');
        output.WriteLine(string.Join('\n', asked));
        asked.Count(p => p.EndsWith("/touches", StringComparison.Ordinal)).ShouldBe(1);
        // What others do is told over a line of its own, and the lead itself is asked once by each.
        asked.Where(p => !p.StartsWith("/api/leads/", StringComparison.Ordinal)).ShouldBeEmpty();
        asked.Length.ShouldBeLessThanOrEqualTo(3);
    }

    [Fact]
    public void TheListAndTheComposerAreWithinThreeKeys()
    {
        _browser.Go("/leads");
        _browser.Find(By.XPath("//*[@role='grid'][@aria-label='Leads']//*[@role='row']"));
        _browser.Press("l");
        Focused("return document.activeElement.closest('[role=row]') !== null");
        _browser.Press(Keys.Enter);
        _browser.Find(By.XPath("//section[@aria-label='Record and plan']"));
        _browser.Press("w");
        Focused("return document.activeElement.tagName === 'TEXTAREA'");
        // By the links at the beginning of the page.
        _browser.Reload();
        _browser.Find(By.XPath("//section[@aria-label='Record and plan']"));
        _browser.Press(Keys.Tab);
        _browser.See("To the list");
        _browser.Press(Keys.Tab, Keys.Enter);
        Focused("return document.activeElement.tagName === 'TEXTAREA'");

        void Focused(string script) => _browser.Wait(_ => _browser.Script<bool>(script) ? "" : null, script);
    }

    [Fact]
    public void ADayIsTypedLooselyOrTakenFromTheCalendarByKeyboard()
    {
        OpenALead();
        _browser.Click(By.XPath("//section[@aria-label='Record and plan']//label[normalize-space()='Next step']"));
        _browser.Fill("By when", "in 3 weeks");
        _browser.See(DateTime.UtcNow.AddDays(21).ToString("d MMM yyyy", CultureInfo.InvariantCulture));
        _browser.Press(Keys.Alt + Keys.ArrowDown);
        _browser.Find(By.XPath("//*[@role='dialog'][@aria-label='Calendar']"));
        AccessibilityTests.Barriers(_browser).ShouldBeEmpty();
        _browser.Press(Keys.Escape);
        _browser.Fill("By when", "nonsense");
        _browser.Fill("What is to be done", "Ring");
        _browser.See("This is no day a calendar has");
        _browser.Find(By.XPath("//button[normalize-space()='Plan it']")).Enabled.ShouldBeFalse();
    }

    /// <summary>Told, not judged: how long it takes from a press to the next picture, by the browser's own trace.</summary>
    [Fact]
    public void HowSoonAnInteractionShowsIsTold()
    {
        OpenALead();
        _browser.Script<object?>(
            "window.slow = []; new PerformanceObserver(l => l.getEntries().forEach(e => e.interactionId && window.slow.push([e.name, e.duration, e.target?.tagName ?? '']))).observe({ type: 'event', durationThreshold: 16, buffered: false })"
        );
        // One after the other: typed at once, each waits for those before it.
        _browser.Labelled("Note").Click();
        foreach (var letter in "How soon")
        {
            _browser.Press(letter.ToString());
            _browser.ScriptAsync("requestAnimationFrame(() => setTimeout(arguments[0]))");
        }
        _browser.Press(Keys.Control + "a");
        _browser.Press(Keys.Backspace);
        _browser.ShowFacts();
        _browser.ShowReasons();
        _browser.Press("3");
        _browser.Find(By.XPath("//*[@role='grid'][@aria-label='Leads']//*[@role='row']"));
        _browser.Click(By.XPath("(//*[@role='grid'][@aria-label='Leads']//*[@role='row'])[2]"));
        _browser.Find(By.XPath("//section[@aria-label='Record and plan']"));
        _browser.Press("7");
        _browser.See("weighted");
        _browser.ScriptAsync("setTimeout(arguments[0], 500)");
        var told = _browser.Script<string>("return window.slow.sort((a, b) => b[1] - a[1]).map(e => e.join(' ')).join('\\n')");
        output.WriteLine(told.Length == 0 ? "all under 16 ms" : told);
        var slowest = told.Length == 0 ? 16 : double.Parse(told.Split('\n')[0].Split(' ')[1], CultureInfo.InvariantCulture);
        output.WriteLine(string.Create(CultureInfo.InvariantCulture, $"slowest interaction to next picture: {slowest} ms"));
        slowest.ShouldBeGreaterThan(0);
    }

    [Fact]
    public void MotionIsLeftOutForThoseWhoAskAndColoursForcedByTheSystemLoseNothing()
    {
        using var browser = new Browser(fixture.Server.Address);
        browser.SignIn();
        browser.Emulate(("prefers-reduced-motion", "reduce"), ("forced-colors", "active"));
        foreach (var (path, settled) in new[] { ("/leads", "leads,"), ("/deals", "weighted"), ("/reports", "in the last 365 days"), ("/scoring", "clear both bars") })
        {
            browser.Go(path);
            browser.See(settled);
            browser.Script<long>("return document.getAnimations().filter(a => a.playState === 'running').length").ShouldBe(0);
            // Bars and areas of pictures keep their own colours; text takes those of the system.
            browser
                .Script<bool>("return [...document.querySelectorAll('figure rect, figure path')].every(e => getComputedStyle(e).forcedColorAdjust === 'none')")
                .ShouldBeTrue(path);
        }
    }

    [Fact]
    public void APageIsPrintedWhole()
    {
        using var browser = new Browser(fixture.Server.Address);
        browser.SignIn();
        browser.OpenRagna();
        browser.Script<bool>("return document.documentElement.scrollHeight <= innerHeight").ShouldBeTrue();
        browser.Print();
        // Nothing scrolls within the page; what one does on it is left out.
        browser
            .Script<string>(
                "return [...document.querySelectorAll('main, main section, main article')].filter(e => ['auto', 'scroll', 'hidden'].includes(getComputedStyle(e).overflowY)).map(e => e.outerHTML.slice(0, 80)).join('\\n')"
            )
            .ShouldBe("");
        browser.Script<bool>("return document.documentElement.scrollHeight > innerHeight").ShouldBeTrue();
    }
}
