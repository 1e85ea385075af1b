using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>The rule sheet as its owner works on it: a rule changed, the checker's objection mended, tried, published, and a new lead that goes by it.</summary>
public sealed class RoutingJourneyTests(BrowserFixture fixture) : IClassFixture<BrowserFixture>
{
    private readonly Browser _browser = fixture.Browser;

    private void Cell(string rule, string field) => _browser.Click(By.XPath($"//td/button[starts-with(@aria-label, '{field} of {rule}')]"));

    private void Rule(string name) => _browser.Click(By.XPath($"//td/button[@aria-pressed][normalize-space()='{name}']"));

    private Guid AddLead(string name, string country, params (string, string)[] more) =>
        fixture.Server.SignIn("ingrid.brekke").GetAwaiter().GetResult().MakeLead(name, country, more).GetAwaiter().GetResult();

    // One whose open leads somebody has: who comes next from there is theirs too.
    private string CompanyOf(string signIn) =>
        fixture
            .Server.Scalar<string>(
                $"select company from lead l join person p on p.id = l.owner_id where p.user_name = '{signIn}' and state = 'in_work' and company is not null limit 1"
            )
            .GetAwaiter()
            .GetResult();

    [Fact]
    public void ARuleIsChangedObjectedToMendedTriedPublishedAndANewLeadGoesByIt()
    {
        _browser.Go("/routing");
        _browser.See("Rule sheet, edition 1");
        _browser.ClickButton("Add a rule");
        _browser.See("Draft after edition 1");
        // It takes every lead, so the rest waits on the Desk; moved up it covers what stands below it.
        _browser.Fill("Name", "Spain by itself");
        _browser.Click(By.XPath("//button[normalize-space()='ask one thing more']"));
        _browser.Choose("Field", "Country");
        _browser.Fill("Find in country", "Spain");
        _browser.Click(By.XPath("//label[normalize-space()='Spain']/input"));
        _browser.ClickButton("Add");
        _browser.See("Never reached: whatever it takes is taken before it by rule 5.");
        for (var at = 0; at < 5; at++)
            _browser.ClickButton("Move up");
        _browser.SeeNot("Never reached");
        // Who gets them.
        _browser.Choose("Who", "A person");
        _browser.Choose("Who: person", "Sten Lindmark");
        _browser.ClickButton("What this draft would change");
        _browser.See("would go to somebody else than they did");
        _browser.See("The draft is kept.");

        // A reload half-way loses nothing; a cell is changed where it stands.
        _browser.Reload();
        _browser.See("Draft after edition 1");
        Cell("Spain by itself", "Industry");
        _browser.Click(By.XPath("//label[normalize-space()='Port or harbour']/input"));
        _browser.ClickButton("Add");
        _browser.See("The draft is kept.");
        _browser.ClickButton("Undo");
        _browser.See("The draft is kept.");

        _browser.ClickButton("Who, by person and lead");
        _browser.See("The last leads again");
        _browser.Fill("Country", "Spain");
        _browser.ClickButton("Who gets it");
        _browser.See("Sten Lindmark, to answer in");
        _browser.See("To Sten Lindmark.");

        _browser.ClickButton("Rule sheet");
        _browser.Fill("What it is for", "Spain is called from the north");
        _browser.See("The draft is kept.");
        _browser.ClickButton("Publish as edition 2");
        _browser.See("Edition 2 is live");
        _browser.See("Rule sheet, edition 2");

        _browser.Go($"/leads/{AddLead("Novaventura", "Spain")}");
        _browser.See("Sten Lindmark");
        _browser.See("Spain by itself, fits (country Spain).");

        _browser.Go("/routing?show=editions");
        _browser.See("Spain is called from the north");
        _browser.ClickButton("Go back to it");
        _browser.ClickButton("Yes, make it live");
        _browser.See("Edition 1 is live again");
    }

    [Fact]
    public void WhatNoRuleTakesIsShownWithTheLeadsThatFellInIt()
    {
        _browser.Go("/routing");
        _browser.ClickButton("No rule fits");
        _browser.See("Leads like these fit no rule and wait on the Desk.");
        _browser.See("in 90 days");
        _browser.Click(By.XPath("//td/button[starts-with(normalize-space(), 'Who owns it already')]"));
        _browser.See("Asked before the rules, in this order");
    }

    [Fact]
    public void AnAbsenceIsEnteredAndTakenAwayAndATeamKeepsWhomTheRulesNeed()
    {
        _browser.Go("/routing?show=teams");
        _browser.ClickButton("Enter an absence");
        _browser.Choose("Who", "Mateo Ruvio");
        _browser.Fill("First day away", "31 Feb 2027");
        _browser.Labelled("Why").Click();
        _browser.See("This is no day a calendar has");
        _browser.Fill("First day away", "in 3 weeks");
        _browser.See(DateTime.UtcNow.AddDays(21).ToString("d MMM", System.Globalization.CultureInfo.InvariantCulture));
        _browser.FillDay("First day away", DateTime.UtcNow.AddDays(3));
        _browser.FillDay("Last day away", DateTime.UtcNow.AddDays(5));
        _browser.ClickButton("Keep");
        _browser.See("The absence is entered");
        _browser.See("nobody stands in");
        _browser.Click(By.XPath("//li[contains(., 'Mateo Ruvio') and contains(., 'nobody stands in')]//button[.='Take away']"));
        _browser.See("Mateo Ruvio is not away");

        _browser.Click(By.XPath("//button[@aria-label='Change Iberia']"));
        foreach (var name in new[] { "In\u00eas Carvalhal", "Mateo Ruvio" })
            _browser.Click(By.XPath($"//label[normalize-space()='{name}']/input"));
        _browser.ClickButton("Keep");
        _browser.See("The live rule sheet could not live with this");
        _browser.ClickButton("Leave it");
        _browser.ClickButton("Throw it away");
    }

    [Fact]
    public void AListOfHolidaysComesFromAFileSaysWhatItLeftOutAndGoesAgain()
    {
        static string Day(string begins) => $"BEGIN:VEVENT\r\nUID:{begins}\r\nDTSTAMP:20260101T000000Z\r\nDTSTART;VALUE=DATE:{begins}\r\nSUMMARY:Closed\r\nEND:VEVENT\r\n";
        var file = Path.Combine(Path.GetTempPath(), $"works-{Guid.NewGuid():N}.ics");
        File.WriteAllText(file, $"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//EN\r\n{Day("20271224")}{Day("not a day")}END:VCALENDAR\r\n");
        _browser.Go("/routing?show=teams");
        _browser.See("Add a list of holidays (iCalendar)");
        _browser.All(By.XPath("//input[@type='file'][contains(@accept, '.ics')]")).Single().SendKeys(file);
        _browser.Fill("Name of the list", "Works closed");
        _browser.ClickButton("Keep");
        _browser.See("Not everything could be read");
        _browser.See("Line 10: the event has no date that can be read.");
        _browser.ClickButton("Close");
        _browser.See("Works closed, 1 day");
        _browser.Click(By.XPath("//button[@aria-label='Take Works closed away']"));
        _browser.See("Works closed is gone");
        File.Delete(file);
    }

    [Fact]
    public void LeadsOfSomebodyAwayAreHandedOnAndTakenBackWithoutAMouse()
    {
        _browser.Go("/routing?show=teams");
        _browser.Find(By.XPath("//button[@aria-label='Hand on the leads of Lukas Fennimann']")).SendKeys(Keys.Enter);
        _browser.See("would change");
        _browser.Find(By.XPath("//button[starts-with(normalize-space(), 'Hand on:')]")).SendKeys(Keys.Enter);
        _browser.See("Handed on by the rules:");
        _browser.Press(Keys.Control + "z");
        _browser.See("Taken back:");
    }

    [Fact]
    public void AListIsTriedAndItsRowsSayWhoWouldGetThem()
    {
        var file = Path.Combine(Path.GetTempPath(), $"fair {Guid.NewGuid():N}.csv");
        File.WriteAllText(file, "Last name,Mail,Country,Industry\nHaugen,h@haugen.example,Norway,Fish farming\nNobody,,Norway,\n");
        _browser.Go("/routing?show=trial");
        _browser.Find(By.XPath("//button[normalize-space()='Choose a list to try']"));
        _browser.All(By.XPath("//section[@aria-label='A list']//input[@type='file']")).Single().SendKeys(file);
        _browser.See("1 row would be set aside, as they tell of nobody.");
        _browser.Find(By.XPath("//section[@aria-label='A list']//tr[contains(., 'Tor Vik')]"));
        File.Delete(file);
    }

    [Fact]
    public void ANewOwnerSeesTheLeadAtOnceWhereverTheyAre()
    {
        using var aoife = new Browser(fixture.Server.Address);
        aoife.SignIn("Aoife Brannigan").Go("/reports");
        AddLead("Sjursen", "Japan", ("company", CompanyOf("aoife.brannigan")));
        aoife.See("New lead: Sjursen");
        aoife.ClickButton("Open");
        aoife.See("Sjursen");
        aoife.Path.ShouldStartWith("/leads/");
    }
}
