using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Interactions;
using OpenQA.Selenium.Support.UI;
using OpenQA.Selenium.VirtualAuth;

namespace DapperLantern.Browser.Tests;

/// <summary>A real browser at a real server, used as a person would: by what is written on things.</summary>
public sealed class Browser : IDisposable
{
    private readonly ChromeDriver _driver;
    private readonly string _profile = Directory.CreateTempSubdirectory("lantern-browser").FullName;
    private readonly string _address;

    public Browser(string address, int width = 1280, int height = 800)
    {
        _address = address;
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments(
            "--headless=new",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--no-first-run",
            "--disable-dev-shm-usage",
            "--hide-scrollbars",
            $"--user-data-dir={_profile}"
        );
        options.SetLoggingPreference(LogType.Browser, LogLevel.Severe);
        var service = ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver");
        service.SuppressInitialDiagnosticInformation = true;
        _driver = new ChromeDriver(service, options, TimeSpan.FromSeconds(150));
        // A script that scrolls through everything takes a frame for each step; how many frames a second there are is the machine's matter.
        _driver.Manage().Timeouts().AsynchronousJavaScript = TimeSpan.FromSeconds(120);
        // The window is larger than the page it shows; measure the difference.
        _driver.Manage().Window.Size = new(width, height);
        var inner = Script<long>("return window.innerHeight");
        _driver.Manage().Window.Size = new(width, height + (height - (int)inner));
    }

    /// <summary>Gives the browser a device that holds passkeys and knows its owner.</summary>
    public void HasDevice() =>
        _driver.AddVirtualAuthenticator(
            new VirtualAuthenticatorOptions()
                .SetProtocol(VirtualAuthenticatorOptions.Protocol.CTAP2)
                .SetTransport(VirtualAuthenticatorOptions.Transport.INTERNAL)
                .SetHasResidentKey(true)
                .SetHasUserVerification(true)
                .SetIsUserVerified(true)
        );

    /// <summary>Runs after the page has settled: nothing is loading.</summary>
    public Browser Go(string path)
    {
        _driver.Navigate().GoToUrl(_address + path);
        return this;
    }

    /// <summary>Signs in by a press on a person of the demo.</summary>
    public Browser SignIn(string name = "Ingrid Brekke")
    {
        Go("/");
        Click(By.XPath($"//button[contains(., '{name}')]"));
        See("Desk");
        return this;
    }

    /// <summary>Waits until the address begins so; what is said on the page and where one is sent come in either order.</summary>
    public void WaitForPath(string start) => Wait(_ => Path.StartsWith(start, StringComparison.Ordinal) ? Path : null, $"the address {start}");

    public string Path => new Uri(_driver.Url).AbsolutePath;

    public IWebElement Find(By by) => Wait(d => d.FindElements(by).FirstOrDefault(e => e.Displayed), $"{by}");

    public IReadOnlyList<IWebElement> All(By by) => _driver.FindElements(by);

    /// <summary>Waits until the text stands on the page.</summary>
    public void See(string text) => Wait(d => Body.Contains(text, StringComparison.Ordinal) ? "" : null, $"the text \u201c{text}\u201d");

    public void SeeNot(string text) => Wait(d => Body.Contains(text, StringComparison.Ordinal) ? null : "", $"the text \u201c{text}\u201d to go away");

    // The end of a long page says what stands open; all of 10,000 rows would bury what failed.
    private static string Shortened(string body) => body.Length <= 3000 ? body : $"{body[..1500]}\n…\n{body[^1500..]}";

    public string Body => Script<string>("return document.body.innerText");

    public void Click(By by)
    {
        Wait(
            d =>
            {
                try
                {
                    d.FindElements(by).First(e => e.Displayed && e.Enabled).Click();
                    return "";
                }
                catch (Exception e) when (e is InvalidOperationException or ElementClickInterceptedException or StaleElementReferenceException or ElementNotInteractableException)
                {
                    return null;
                }
            },
            $"to click {by}"
        );
    }

    public void ClickButton(string text) => Click(By.XPath($"//button[normalize-space()='{text}']"));

    /// <summary>Opens the lead of Ragna Sollid, as everything of a lead can be seen on it.</summary>
    public void OpenRagna()
    {
        Go("/leads?text=ragna@fjordnaer.example");
        ChooseRagna();
    }

    /// <summary>Opens it from the list that is shown.</summary>
    public void ChooseRagna()
    {
        Click(By.XPath("//*[@role='row'][contains(., 'Sollid')]"));
        Find(By.XPath("//section[@aria-label='Record and plan']"));
    }

    /// <summary>Throws away what was typed into forms of this browser and not saved.</summary>
    public void ForgetTyped() => Script<object?>("Object.keys(localStorage).filter(k => k.startsWith('typed:')).forEach(k => localStorage.removeItem(k))");

    /// <summary>Shows the facts of the record that is open, in place of its reasons.</summary>
    public void ShowFacts() => Click(By.XPath("//nav[@aria-label='Reasons or facts']/button[.='Facts']"));

    /// <summary>Shows the reasons of the record that is open, in place of its facts.</summary>
    public void ShowReasons() => Click(By.XPath("//nav[@aria-label='Reasons or facts']/button[.='Why']"));

    public void ClickLink(string text) => Click(By.XPath($"//a[contains(., '{text}')]"));

    /// <summary>Fills the field with this label, in place of what it held.</summary>
    public void Fill(string label, string text)
    {
        var field = Labelled(label);
        field.SendKeys(Keys.Control + "a");
        field.SendKeys(text);
    }

    /// <summary>Types a day into the box with this label.</summary>
    public void FillDay(string label, DateTime day) => Fill(label, day.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture));

    public IWebElement Labelled(string label) => Find(By.XPath($"//*[self::input or self::textarea][@aria-label='{label}' or @id=//label[normalize-space()='{label}']/@for]"));

    /// <summary>Opens the list with this label and takes the value.</summary>
    public void Choose(string label, string value)
    {
        Click(
            By.XPath(
                $"//button[contains(@class, 'react-aria') or @aria-haspopup='listbox'][@aria-label='{label}' or contains(@aria-label, '{label}') or @aria-labelledby and contains(concat(' ', @aria-labelledby, ' '), concat(' ', (//label | //span)[normalize-space()='{label}'][1]/@id, ' '))]"
            )
        );
        Click(By.XPath($"//*[@role='option'][normalize-space()='{value}']"));
    }

    public void Press(params string[] keys)
    {
        foreach (var key in keys)
            Send(key);
    }

    /// <summary>
    /// The driver sends keys to an element it names, a person to the focus. Where the page puts another in its place in
    /// between, nothing was sent, and the focus is asked again.
    /// </summary>
    private void Send(string key)
    {
        for (var left = 20; ; left--)
        {
            try
            {
                _driver.SwitchTo().ActiveElement().SendKeys(key);
                return;
            }
            catch (StaleElementReferenceException) when (left > 0) { }
        }
    }

    /// <summary>Takes hold of something with the mouse and lets it go so many pixels away.</summary>
    public void Drag(IWebElement what, int across, int down) =>
        new Actions(_driver).ClickAndHold(what).MoveByOffset(across / 2, down / 2).MoveByOffset(across / 2, down / 2).Release().Perform();

    public void Back() => _driver.Navigate().Back();

    public void Reload() => _driver.Navigate().Refresh();

    public T Script<T>(string script, params object[] arguments) => (T)((IJavaScriptExecutor)_driver).ExecuteScript(script, arguments)!;

    public object ScriptAsync(string script) => ((IJavaScriptExecutor)_driver).ExecuteAsyncScript(script)!;

    /// <summary>Shows the page as a window of this size would, however narrow; windows themselves have a least width.</summary>
    public void Narrow(int width, int height) =>
        _driver.ExecuteCdpCommand(
            "Emulation.setDeviceMetricsOverride",
            new()
            {
                ["width"] = width,
                ["height"] = height,
                ["deviceScaleFactor"] = 1,
                ["mobile"] = false,
            }
        );

    /// <summary>Has the system ask for these features of media from now on.</summary>
    public void Emulate(params (string Name, string Value)[] features) =>
        _driver.ExecuteCdpCommand(
            "Emulation.setEmulatedMedia",
            new() { ["features"] = features.Select(f => new Dictionary<string, object> { ["name"] = f.Name, ["value"] = f.Value }).ToArray() }
        );

    /// <summary>Runs a script on each page from now on, before those of the page.</summary>
    public void BeforeEachPage(string script) => _driver.ExecuteCdpCommand("Page.addScriptToEvaluateOnNewDocument", new() { ["source"] = script });

    /// <summary>The files with this ending that the page has loaded since it was opened.</summary>
    public IReadOnlyList<string> Loaded(string ending) =>
        [
            .. Script<IReadOnlyCollection<object>>($"return performance.getEntriesByType('resource').map(e => new URL(e.name).pathname).filter(p => p.endsWith('{ending}'))")
                .Cast<string>(),
        ];

    /// <summary>Shows the page as it is printed.</summary>
    public void Print() => _driver.ExecuteCdpCommand("Emulation.setEmulatedMedia", new() { ["media"] = "print" });

    /// <summary>How far the page has shifted by itself since it was opened: the browser's layout shift, without that after a press.</summary>
    public double Shift() =>
        Convert.ToDouble(
            ScriptAsync(
                "const done = arguments[0]; let sum = 0; new PerformanceObserver(l => l.getEntries().forEach(e => { if (!e.hadRecentInput) sum += e.value; })).observe({ type: 'layout-shift', buffered: true }); setTimeout(() => done(sum), 400)"
            ),
            System.Globalization.CultureInfo.InvariantCulture
        );

    public byte[] Picture() => _driver.GetScreenshot().AsByteArray;

    /// <summary>Errors the page wrote to its console, but for answers the server gave on purpose.</summary>
    public IReadOnlyList<string> Errors =>
        [
            .. _driver
                .Manage()
                .Logs.GetLog(LogType.Browser)
                .Select(l => l.Message)
                .Where(m => !m.Contains("status of 401", StringComparison.Ordinal) && !m.Contains("status of 4", StringComparison.Ordinal)),
        ];

    public T Wait<T>(Func<IWebDriver, T?> holds, string what)
        where T : class
    {
        try
        {
            // What is drawn anew while it is looked at is looked at again.
            var wait = new WebDriverWait(_driver, TimeSpan.FromSeconds(20));
            wait.IgnoreExceptionTypes(typeof(StaleElementReferenceException));
            return wait.Until(holds)!;
        }
        catch (WebDriverTimeoutException)
        {
            // What the page says now, not when the wait began.
            throw new InvalidOperationException($"waited in vain for {what} at {Path}; the page says:\n{Shortened(Body)}");
        }
    }

    public void Dispose()
    {
        _driver.Dispose();
        Directory.Delete(_profile, true);
    }
}
