using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>axe on every dialog and on what opens over a page, by day and by night; Escape leaves each with nothing done and the focus where it was.</summary>
public sealed class DialogTests(BrowserFixture fixture) : IClassFixture<BrowserFixture>
{
    private readonly Browser _browser = fixture.Browser;

    private const string Lead = "/leads?text=ragna@fjordnaer.example";
    private const string Given = "/leads?text=Hammerfest%20Dairy";
    private const string Deal = "/deals?as=table";
    private const string Teams = "/routing?show=teams";

    // How each is opened from its page, by the file it stands in and its title.
    private static readonly Dictionary<(string File, string Title), (string Path, Action<Browser> Open)> All = new()
    {
        [("Leads/NewLead.tsx", "New lead")] = ("/desk", b => Pressed(b, "decisions wait", "n")),
        [("frame/Keys.tsx", "Keys")] = ("/desk", b => Pressed(b, "decisions wait", "?")),
        [("Campaigns/CampaignDialog.tsx", "New campaign")] = ("/intake", b => b.ClickButton("New campaign")),
        [("Intake/Forms/FormList.tsx", "New form")] = ("/intake", b => b.ClickButton("New form")),
        [("Campaigns/CampaignDialog.tsx", "Change Bloom")] = ("/intake/campaigns/bloom", b => b.ClickButton("Change")),
        [("Routing/AwayForm.tsx", "An absence")] = (Teams, b => b.ClickButton("Enter an absence")),
        [("Routing/TeamForm.tsx", "A new team")] = (Teams, b => b.ClickButton("Make a team")),
        [("Routing/TeamForm.tsx", "Iberia")] = (Teams, b => b.Click(By.XPath("//button[@aria-label='Change Iberia']"))),
        [("Routing/MemberForm.tsx", "Mateo Ruvio")] = (Teams, b => b.ClickButton("Mateo Ruvio")),
        [("Routing/HolidayForm.tsx", "days.ics")] = (Teams, b => Holidays(b, "20270101")),
        [("Routing/HolidayForm.tsx", "Not everything could be read")] = (Teams, NotAllHolidays),
        // The other dialogs of this file are tried in the journey of the second step.
        [("Setup/SecondStepForms.tsx", "Set up codes")] = ("/setup/sessions", b => b.ClickButton("Set up codes")),
        [("FollowUps/CalendarAddress.tsx", "Follow-ups in your calendar")] = ("/desk/follow-ups?who=all", b => b.ClickButton("In your calendar")),
        [("Deals/NewAccount.tsx", "New account")] = ("/deals/accounts", b => b.ClickButton("New account")),
        [("Deals/DealMessage.tsx", "Write to people of")] = (Deal, b => OnADeal(b, "Write to them", "People")),
        [("Deals/DealProducts.tsx", "Products of")] = (Deal, b => OnADeal(b, "Change", "Products")),
        [("Deals/moving.tsx", "is lost")] = (Deal, Lost),
        [("Leads/ViewForm.tsx", "Keep as a new view")] = ("/leads?country=NO", b => b.ClickButton("Keep as a new view")),
        [("Leads/ViewForm.tsx", "Name and who sees it")] = ("/leads", b => b.ClickButton("Name and who sees it")),
        [("Campaigns/LeadCampaigns.tsx", "Response to a campaign")] = (Lead, b => Opened(b, "add a response")),
        [("Leads/Consents.tsx", "News and offers by mail")] = (Lead, b => OnRagna(b, By.XPath("//button[contains(., 'News and offers by mail')]"))),
        [("Leads/Meanwhile.tsx", "Job title was changed meanwhile")] = (Lead, ChangedMeanwhile),
        [("Handover/Became.tsx", "Take the handover back")] = (Given, TakenBack),
        [("Leads/Bulk/BulkLately.tsx", "Done to several at once")] = ("/leads", b => Several(b, "Done lately")),
        [("Leads/Bulk/BulkForm.tsx", "Change a fact")] = ("/leads", b => Several(b, "Change a fact")),
        [("Leads/Bulk/BulkForm.tsx", "Put a tag on")] = ("/leads", b => Several(b, "Put a tag on")),
        [("Leads/Bulk/BulkForm.tsx", "Give")] = ("/leads", b => Several(b, "Give")),
        [("Leads/Bulk/BulkForm.tsx", "Change the state")] = ("/leads", b => Several(b, "Change the state")),
        [("Leads/Bulk/BulkForm.tsx", "Add to a campaign")] = ("/leads", b => Several(b, "Add to a campaign")),
        [("Leads/Bulk/BulkForm.tsx", "Remove")] = ("/leads", b => Several(b, "Remove")),
        [("Leads/Bulk/BulkForm.tsx", "Hand over")] = ("/leads", b => Several(b, "Hand over")),
        [("Setup/FieldForms.tsx", "Change the field")] = ("/setup/fields", b => b.ClickButton("Change")),
        [("frame/LeavingDialog.tsx", "Leave this page?")] = (Lead, Leaving),
        [("Setup/SignInAgain.tsx", "You are signed out")] = ("/deals/accounts", SignedOut),
    };

    // Left only by the way it offers: nothing goes on without a sign-in.
    private const string Stays = "You are signed out";

    // What opens beside its button.
    private static readonly Dictionary<string, (string Path, Action<Browser> Open)> Beside = new()
    {
        ["the search"] = ("/desk", Search),
        ["the person's menu"] = ("/desk", b => b.Click(By.XPath("//button[contains(@aria-label, ', menu')]"))),
        ["a list to choose from"] = (Lead, b => Opened(b, null)),
        ["a condition"] = ("/leads?country=NO", b => b.ClickButton("add a condition")),
        ["the columns of the worklist"] = ("/leads", b => b.ClickButton("Columns")),
        ["the order of the worklist"] = ("/leads", b => b.ClickButton("Order")),
        ["the groups of the worklist"] = ("/leads", b => b.ClickButton("Group")),
        ["the columns of the rule sheet"] = ("/routing", b => b.ClickButton("Columns")),
        ["a cell of the rule sheet"] = ("/routing", b => b.Click(By.XPath("(//button[starts-with(@aria-label, 'Country of ')])[1]"))),
        ["a calendar"] = (
            Lead,
            b => OnRagna(b, By.XPath("//*[@role='radio' or self::label][contains(., 'Next step')]"), By.XPath("//button[starts-with(@aria-label, 'Calendar for')]"))
        ),
        ["the question about what is written"] = ("/deals/accounts", HalfAnAccount),
    };

    public static TheoryData<string> Titles => [.. All.Keys.Select(k => k.Title)];
    public static TheoryData<string> Names => [.. Beside.Keys];

    [Theory]
    [MemberData(nameof(Titles))]
    public void ADialogHasNoBarrierAndIsLeftByEscape(string title)
    {
        Open(All.Single(o => o.Key.Title == title).Value);
        _browser.Find(By.XPath($"//*[@role='dialog']//h2[contains(., \"{title}\")]"));
        AccessibilityTests.ByDayAndByNight(_browser, title);
        if (title == Stays)
        {
            SignInAgain();
            return;
        }
        // Where nothing was written, Escape leaves at once.
        _browser.Press(Keys.Escape);
        _browser.Wait(_ => _browser.All(By.XPath("//*[@role='dialog']")).Count == 0 ? "" : null, $"{title} to close");
        _browser.ForgetTyped();
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void WhatOpensBesideItsButtonHasNoBarrier(string name)
    {
        Open(Beside[name]);
        _browser.Find(By.XPath("//*[@role='listbox'] | //*[@role='menu'] | //*[@role='dialog'] | //*[@role='alertdialog']"));
        AccessibilityTests.ByDayAndByNight(_browser, name);
        _browser.Press(Keys.Escape);
        _browser.ForgetTyped();
    }

    [Fact]
    public void EveryDialogOfTheClientIsAmongThem()
    {
        var client = Path.Combine(TestServer.Root, "src/client");
        var files = Directory
            .EnumerateFiles(client, "*.tsx", SearchOption.AllDirectories)
            .Select(f => Path.GetRelativePath(client, f))
            .Where(f => !f.StartsWith("node_modules", StringComparison.Ordinal) && !f.StartsWith("frame/gallery", StringComparison.Ordinal))
            .Where(f => File.ReadAllText(Path.Combine(client, f)).Contains("<Overlay", StringComparison.Ordinal));
        // Those that only an administrator opens are tried in the journeys of people and of the first hour.
        files
            .Order()
            .ShouldBe(
                All.Keys.Select(k => k.File)
                    .Append("People/PersonForm.tsx")
                    .Append("People/RoleForm.tsx")
                    .Append("People/SeveralForm.tsx")
                    .Append("Setup/SourceForm.tsx")
                    .Append("Setup/ValueForm.tsx")
                    .Distinct()
                    .Order()
            );
    }

    private void Open((string Path, Action<Browser> Open) what)
    {
        _browser.Go(what.Path);
        what.Open(_browser);
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

    private static void OnRagna(Browser browser, params By[] pressed)
    {
        browser.ChooseRagna();
        foreach (var place in pressed)
            browser.Click(place);
    }

    private static void OnADeal(Browser browser, string button, string fold)
    {
        browser.Click(By.XPath("(//td//a)[1]"));
        var part = $"//details[summary[starts-with(., '{fold}')]]";
        browser.Find(By.XPath($"{part}/summary"));
        browser.Script<object?>("document.querySelectorAll('details').forEach(d => d.open = true)");
        browser.Click(By.XPath($"{part}//button[normalize-space()='{button}']"));
    }

    private static void Lost(Browser browser)
    {
        browser.Click(By.XPath("(//td//a)[1]"));
        browser.Choose("Stage", "Lost");
    }

    private static void Holidays(Browser browser, string day)
    {
        var file = Path.Combine(Path.GetTempPath(), "days.ics");
        File.WriteAllText(
            file,
            $"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART;VALUE=DATE:20270517\r\nSUMMARY:A day\r\nEND:VEVENT\r\nBEGIN:VEVENT\r\nUID:2\r\nDTSTART;VALUE=DATE:{day}\r\nSUMMARY:Another\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
        );
        browser.See("Add a list of holidays");
        browser.All(By.XPath("//input[@type='file']")).Single().SendKeys(file);
    }

    private static void NotAllHolidays(Browser browser)
    {
        Holidays(browser, "20271399");
        browser.Fill("Name of the list", "Days that were read");
        browser.ClickButton("Keep");
    }

    private static void ChangedMeanwhile(Browser browser)
    {
        browser.ChooseRagna();
        browser.ShowFacts();
        browser.Click(By.XPath("//button[starts-with(@aria-label, 'Job title')]"));
        var box = browser.Find(By.XPath("//input[@aria-label='Job title']"));
        // Somebody else's change comes while the box is open.
        browser.ScriptAsync(
            """
            const done = arguments[0], lead = `/api/leads/${location.pathname.split('/').at(-1)}`;
            const json = async (path, more) => (await fetch(path, more)).json();
            (async () => {
                const [{ token }, { version }] = [await json('/api/session'), await json(lead)];
                await fetch(lead, {
                    method: 'PATCH',
                    headers: { 'Content-Type': 'application/json', 'If-Match': `"${version}"`, 'X-Lantern-Token': token },
                    body: JSON.stringify({ facts: { job_title: `Keeper ${Date.now()}` } }),
                });
                done();
            })();
            """
        );
        box.SendKeys(Keys.Control + "a");
        box.SendKeys("Harbour master" + Keys.Enter);
    }

    private static void TakenBack(Browser browser)
    {
        browser.Click(By.XPath("//*[@role='row'][contains(., 'Torbjørn Sollid')]"));
        browser.ClickButton("Take the handover back");
    }

    private static void HalfAnAccount(Browser browser)
    {
        browser.ClickButton("New account");
        browser.Fill("Name", "Half an account");
        browser.Press(Keys.Escape);
    }

    private static void SignedOut(Browser browser)
    {
        browser.ClickButton("New account");
        browser.Fill("Name", "An account of somebody signed out");
        // One script ends the session and presses the button: the page may learn of the end by itself, and then nothing can be typed behind the dialog.
        browser.ScriptAsync(
            """
            const done = arguments[0];
            (async () => {
                const button = [...document.querySelectorAll('button')].find(b => b.textContent.trim() === 'Make it');
                const { token } = await (await fetch('/api/session')).json();
                await fetch('/api/session', { method: 'DELETE', headers: { 'X-Lantern-Token': token } });
                button.click();
                done();
            })();
            """
        );
    }

    private void SignInAgain()
    {
        _browser.Find(By.CssSelector("input[autocomplete='username']")).SendKeys("ingrid.brekke");
        _browser.Fill("Password", "lantern-demo-1");
        _browser.ClickButton("Sign in");
        _browser.Wait(_ => _browser.All(By.XPath("//*[@role='dialog']//h2[.='You are signed out']")).Count == 0 ? "" : null, "the sign-in to close");
        // What was written is still there.
        _browser.Labelled("Name").GetAttribute("value").ShouldBe("An account of somebody signed out");
        _browser.ForgetTyped();
    }
}
