using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>A day's work on leads: finding somebody, writing down what was said, planning what comes next.</summary>
public sealed class ActivityJourneyTests(BrowserFixture fixture) : IClassFixture<BrowserFixture>
{
    private readonly Browser _browser = fixture.Browser;

    private void OpenSomeLead()
    {
        _browser.Go("/leads?state=in_work");
        _browser.Click(By.XPath("(//*[@role='grid'][@aria-label='Leads']//*[@role='row'])[1]"));
        _browser.Find(By.XPath("//section[@aria-label='Record and plan']"));
    }

    private void Kind(string name) => _browser.Click(By.XPath($"//section[@aria-label='Record and plan']//label[normalize-space()='{name}']"));

    [Fact]
    public void SomebodyIsFoundByASlipOfTheirNameWithoutAMouse()
    {
        _browser.Go("/desk");
        _browser.See("decisions wait");
        _browser.Press("/");
        _browser.Press("kinaird");
        _browser.See("also by kinnaird");
        _browser.Press(Keys.Enter);
        _browser.Wait(d => d.Url.Contains("/leads/", StringComparison.Ordinal) ? "" : null, "the lead");
        _browser.See("Kinnaird");
        // The same box goes places.
        _browser.Press(Keys.Escape);
        _browser.Press("/");
        _browser.Press("your follow");
        _browser.See("Go and do");
        _browser.Press(Keys.ArrowDown, Keys.Enter);
        _browser.See("In your calendar");
    }

    [Fact]
    public void ANoteIsKeptPinnedCorrectedAndRemovedAndComesBack()
    {
        OpenSomeLead();
        _browser.Fill("Note", "Budget is **fixt** in spring" + Keys.Control + Keys.Enter);
        _browser.See("Noted.");
        _browser.Find(By.XPath("//div[@class='entry'][contains(., 'in spring')]//strong[.='fixt']"));
        Act("in spring", "Pin");
        _browser.See("pinned ·");
        Act("in spring", "Correct");
        var text = _browser.Find(By.XPath("//*[@class='entry']//textarea"));
        text.SendKeys(Keys.Control + "a");
        text.SendKeys("Budget is fixed in spring");
        _browser.ClickButton("Keep");
        _browser.See("corrected");
        Act("fixed in spring", "Remove");
        _browser.See("Removed.");
        _browser.SeeNot("Budget is fixed in spring");
        _browser.ClickButton("Undo");
        _browser.See("Budget is fixed in spring");

        void Act(string entry, string name) => _browser.Find(By.XPath($"//div[@class='entry'][contains(., '{entry}')]//button[.='{name}']")).SendKeys(Keys.Enter);
    }

    [Fact]
    public void AFileIsAddedRemovedAndComesBack()
    {
        OpenSomeLead();
        var file = Path.Combine(Path.GetTempPath(), $"Fjord chart {Guid.NewGuid():N}.txt");
        File.WriteAllText(file, "depths");
        var name = Path.GetFileName(file);
        _browser.Find(By.XPath("//button[normalize-space()='add a file']"));
        _browser.All(By.XPath("//input[@type='file']")).Single().SendKeys(file);
        _browser.See($"{name} is with the lead.");
        _browser.Find(By.XPath($"//a[@download='{name}']"));
        _browser.Find(By.XPath($"//button[@aria-label='Remove {name}']")).SendKeys(Keys.Enter);
        _browser.See($"{name} is removed.");
        _browser.Wait(_ => _browser.All(By.XPath($"//a[@download='{name}']")).Count == 0 ? "" : null, "the file to go");
        _browser.ClickButton("Undo");
        _browser.Find(By.XPath($"//a[@download='{name}']"));
        File.Delete(file);
    }

    [Fact]
    public void ANextStepAndAMeetingArePlannedDoneAndTold()
    {
        OpenSomeLead();
        Kind("Next step");
        _browser.ClickButton("Plan it");
        _browser.See("what this is about");
        _browser.Fill("What is to be done", "Ring about the mooring");
        _browser.Choose("How often", "every week");
        _browser.ClickButton("Plan it");
        _browser.See("every week");
        _browser.Click(By.XPath("//ul[@aria-label='Next steps']/li[contains(., 'Ring about the mooring')]//button[.='Done']"));
        _browser.See("Done.");
        _browser.See("Ring about the mooring");

        Kind("Meeting");
        _browser.Fill("What the meeting is", "Site survey at the pens");
        _browser.Fill("From their side", "Ragna Sollid, Per Vik");
        _browser.ClickButton("Plan the meeting");
        _browser.See("Ingrid Brekke with Ragna Sollid, Per Vik");
        _browser.Click(By.XPath("//ul[@aria-label='Meetings']/li[contains(., 'Site survey at the pens')]//button[.='Result']"));
        _browser.Fill("What came of it", "They want a trial.");
        _browser.Choose("How satisfied they were", "4, content");
        _browser.Click(By.XPath("//ul[@aria-label='Meetings']//button[.='Keep']"));
        _browser.See("Site survey at the pens: They want a trial. (satisfaction 4 of 5)");
    }

    [Fact]
    public void TwoAtTheSameLeadSeeEachOtherAndNeitherIsOverwritten()
    {
        OpenSomeLead();
        var path = _browser.Path;
        using var other = new Browser(fixture.Server.Address);
        other.SignIn("Harald Quist").Go(path);
        other.See("story");
        // A note of the one appears to the other by itself.
        _browser.Fill("Note", "Seen at once" + Keys.Control + Keys.Enter);
        other.See("Seen at once");
        // Both write the same fact.
        _browser.ShowFacts();
        other.ShowFacts();
        _browser.Click(By.XPath("//button[starts-with(@aria-label, 'Job title')]"));
        other.Click(By.XPath("//button[starts-with(@aria-label, 'Job title')]"));
        Write(_browser, "Harbour master");
        _browser.See("Job title is now Harbour master.");
        Write(other, "Buoy keeper");
        other.See("Job title was changed meanwhile");
        other.See("Harbour master");
        other.See("Buoy keeper");
        other.ClickButton("Put yours");
        other.See("Job title is now Buoy keeper.");
        _browser.See("Buoy keeper");

        static void Write(Browser who, string text)
        {
            var box = who.Find(By.XPath("//input[@aria-label='Job title']"));
            box.SendKeys(Keys.Control + "a");
            box.SendKeys(text + Keys.Enter);
        }
    }

    [Fact]
    public void TheDaysFollowUpsAreDoneInPlaceAndShownByTheWeek()
    {
        _browser.Go("/desk/follow-ups?who=all");
        _browser.See("follow-ups");
        _browser.Click(By.XPath("(//section[@aria-label='This day']//button[starts-with(@aria-label, 'Done:')])[1]"));
        _browser.See("Done");
        _browser.ClickButton("Undo");
        _browser.Choose("Show", "a week");
        _browser.See("The week from Monday");
        _browser.ClickButton("Week after");
        _browser.ClickButton("In your calendar");
        _browser.ClickButton("Make the address");
        _browser.Labelled("Your address, shown once").GetAttribute("value")!.ShouldEndWith(".ics");
    }
}
