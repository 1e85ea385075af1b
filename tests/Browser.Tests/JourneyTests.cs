using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>The steps of one lead's whole way, each as a person could do it.</summary>
public sealed class JourneyTests(BrowserFixture fixture) : IClassFixture<BrowserFixture>
{
    private readonly Browser _browser = fixture.Browser;

    private static string List(string name) => Path.Combine(TestServer.Root, "demo", "lists", name);

    private void DropExpo()
    {
        _browser.Go("/intake");
        _browser.See("Choose a list");
        _browser.All(By.CssSelector("input[type=file]"))[0].SendKeys(List("northern-waters-expo.xlsx"));
        _browser.See("61 rows read");
    }

    [Fact]
    public void AListGoesThroughTheSieveIsTakenInAndTakenBackWholly()
    {
        DropExpo();
        _browser.See("Nothing is taken in yet");
        _browser.See("There is no email address or telephone number that works");
        _browser.Click(By.XPath("//button[contains(., 'to known leads')]"));
        _browser.See("Already lead");
        _browser.See("Phone: blank → +44 1632 960143");
        _browser.Click(By.XPath("//button[contains(., 'duplicate in the file')]"));
        _browser.See("The same person as row");
        _browser.Reload();
        _browser.See("61 rows read");

        _browser.ClickButton("Take 59 in");
        _browser.See("59 came in");
        _browser.ClickButton("See the leads");
        _browser.See("Northern Waters Expo, badge scans");
        _browser.Back();
        _browser.ClickButton("Take back");
        _browser.See("They were taken back; the rows are kept.");
    }

    [Fact]
    public void AColumnMatchedOtherwiseIsSiftedAnew()
    {
        DropExpo();
        _browser.Choose("Field for E-Mail", "keep with the row only");
        _browser.SeeNot("57 new");
        _browser.See("61 rows read");
    }

    [Fact]
    public void AlikeValuesAndSingleRowsAreMendedByKeyboardAndUndone()
    {
        DropExpo();
        _browser.ClickButton("Sweden");
        _browser.See("Put right in 1 row.");
        _browser.SeeNot("Swedn");
        _browser.ClickButton("Undo");
        _browser.See("Swedn");
        var box = _browser.Labelled("Email of row 14");
        box.SendKeys("nowhere");
        box.SendKeys(Keys.Enter);
        _browser.See("\u201cnowhere\u201d is not an email address");
        box = _browser.Labelled("Email of row 14");
        box.SendKeys(Keys.Control + "a");
        box.SendKeys("oddvar.skarholt@nordskjaer.example");
        box.SendKeys(Keys.Enter);
        _browser.See("60 can come in, 1 wait to be mended");
    }

    [Fact]
    public void TheReadingAndWhatHoldsForAllRowsAreChangedInPlace()
    {
        DropExpo();
        _browser.ClickButton("Read it otherwise");
        _browser.Choose("Sheet", "codes (hidden)");
        _browser.ClickButton("Read so");
        _browser.See("Sheet \u201ccodes\u201d");
        _browser.SeeNot("61 rows read");
        _browser.ClickButton("Read it otherwise");
        _browser.Choose("Sheet", "Badge scans");
        _browser.ClickButton("Read so");
        _browser.See("61 rows read");
        _browser.Click(By.XPath("//summary[.='For all rows']"));
        _browser.Choose("A lead we have takes new values", "keep ours");
        _browser.Click(By.XPath("//button[contains(., 'to known leads')]"));
        _browser.SeeNot("blank → +44");
    }

    [Fact]
    public void AFileThatIsNoListSaysSoAndTheWorkGoesOn()
    {
        _browser.Go("/intake");
        var file = Path.Combine(Path.GetTempPath(), $"picture-{Guid.NewGuid():N}.csv");
        File.WriteAllBytes(file, [0x89, 0x50, 0x4E, 0x47, 0, 0, 0, 13, 0, 1, 2, 3]);
        _browser.See("Choose a list");
        _browser.All(By.CssSelector("input[type=file]"))[0].SendKeys(file);
        _browser.See("This is not a list");
        File.Delete(file);
        DropExpo();
    }

    [Fact]
    public void ALeadOpensBesideTheListWithFactsStoryAndReasons()
    {
        _browser.Go("/leads?text=fjordnaer.example");
        _browser.Click(By.XPath("//*[@role='row'][contains(., 'Fjordnær Laks')]"));
        _browser.See("Operations lead at Fjordnær Laks AS, Brønnøysund");
        _browser.ShowReasons();
        _browser.See("Both bars are cleared");
        _browser.See("Price guide taken");
        _browser.See("Why Tor Vik");
        _browser.See("Rule 2, Norway, fish farming, fits (country Norway, industry Fish farming).");
    }

    [Fact]
    public void AFactIsChangedInPlaceAndTheChangeUndone()
    {
        _browser.Go("/leads?text=vattervikhamn.example");
        _browser.Click(By.XPath("//*[@role='row'][contains(., 'Anders Lindqvist')]"));
        _browser.ShowFacts();
        _browser.Click(By.XPath("//button[@aria-label='Place: Karlsborg, change']"));
        _browser.Fill("Place", "Hjo" + Keys.Enter);
        _browser.See("Place is now Hjo.");
        _browser.ClickButton("Undo");
        _browser.Find(By.XPath("//button[@aria-label='Place: Karlsborg, change']"));
        _browser.Click(By.XPath("//button[@aria-label='Email: anders.lindqvist@vattervikhamn.example, change']"));
        _browser.Fill("Email", "nonsense" + Keys.Enter);
        _browser.See("is not an email address; it needs the form name@place.");
        _browser.Press(Keys.Escape);
    }

    [Fact]
    public void ALeadIsCapturedByKeyboardAloneScoredAndRouted()
    {
        _browser.Go("/desk");
        _browser.See("decisions wait");
        _browser.Press("n");
        _browser.See("Take in");
        _browser.Press(
            "Solfrid",
            Keys.Tab,
            "Prøve",
            Keys.Tab,
            "Ytre Fjord Laks AS",
            Keys.Tab,
            "Operations lead",
            Keys.Tab,
            "solfrid@ytrefjord.example",
            Keys.Tab,
            Keys.Tab,
            "Norge",
            Keys.Tab,
            "Skerry S2" + Keys.Enter
        );
        _browser.See("is in, scored and routed");
        _browser.See("Solfrid Prøve");
        _browser.ShowReasons();
        _browser.See("Runs operations");
        _browser.See("First call");
    }

    [Fact]
    public void WhileOneTypesWhoeverIsAlikeAppearsAndSavingAddsToThem()
    {
        _browser.Go("/desk");
        _browser.See("decisions wait");
        _browser.Press("n");
        _browser.See("Take in");
        _browser.Press("Ragna", Keys.Tab, "Sollid", Keys.Tab, "Fjordnær Laks AS", Keys.Tab, Keys.Tab, "ragna@fjordnaer.example");
        _browser.See("what you type is added to this lead");
        _browser.Press(Keys.Enter);
        _browser.See("Added to lead");
        _browser.See("Ragna Sollid");
    }

    [Fact]
    public void AQualifiedLeadBecomesAccountContactAndDealAndStandsInTheLanes()
    {
        _browser.Go("/handover");
        _browser.ClickLink("Ragna Sollid");
        _browser.See("becomes an account, a contact and a deal");
        _browser.See(" carried");
        var known = int.Parse(System.Text.RegularExpressions.Regex.Match(_browser.Body, @"(\d+) of \1 carried").Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture);
        _browser.Click(By.XPath("//button[@aria-label='leave behind: Sites']"));
        _browser.See($"{known - 1} of {known} carried");
        _browser.Fill("Amount", "84600");
        _browser.ClickButton("Hand over");
        _browser.See("is handed over as Fjordnær Laks AS");
        _browser.WaitForPath("/deals/");
        _browser.Find(By.XPath("//*[@role='group'][starts-with(@aria-label, 'Scoping')]//button[contains(., 'Fjordnær Laks')]"));
        _browser.See("The lead it was");
        _browser.Choose("Show as", "as a table");
        _browser.Find(By.XPath("//td[contains(., 'Fjordnær Laks AS')]"));
        _browser.ClickLink("The lead it was");
        _browser.See($"{known - 1} of {known} facts carried; not carried: sites");
        _browser.All(By.XPath("//button[normalize-space()='Keep the note']")).ShouldBeEmpty();
        _browser.ClickButton("Take the handover back");
        _browser.See("The handover is taken back");
        _browser.See("Qualified");
    }

    [Fact]
    public void AnAmountThatIsNoNumberIsSaidNextToItAndNothingIsHandedOver()
    {
        _browser.Go("/handover");
        OpenQualified(2);
        _browser.Fill("Amount", "a lot");
        _browser.ClickButton("Hand over");
        _browser.See("\u201ca lot\u201d is not a number.");
        _browser.Path.ShouldStartWith("/handover");
    }

    // Who waits there depends on the day; the place in the list does not.
    private void OpenQualified(int place)
    {
        var row = By.XPath($"(//a[starts-with(@href, '/handover/')])[{place}]");
        var name = _browser.Find(By.XPath($"(//a[starts-with(@href, '/handover/')])[{place}]//b")).Text;
        _browser.Click(row);
        _browser.Find(By.XPath($"//h1[normalize-space()=\"{name}\"]"));
    }

    [Fact]
    public void ADealOfAnotherPipelineOpensInItsOwnLanes()
    {
        _browser.Go("/handover");
        OpenQualified(3);
        // The deal is named for who it is with, without the legal form on its marker.
        var with = string.Join(' ', _browser.Labelled("Name").GetAttribute("value")!.Split(',')[0].Split(' ').Take(2));
        _browser.Choose("Pipeline", "Service plans");
        _browser.ClickButton("Hand over");
        _browser.See("is handed over as");
        _browser.See("Service plans, the next half year");
        _browser.Find(By.XPath($"//*[@role='group'][starts-with(@aria-label, 'Interest')]//button[contains(., \"{with}\")]"));
        _browser.ClickButton("Undo");
        _browser.See("becomes an account");
    }

    [Fact]
    public void EachGroupOfTheDeskLeadsToWhereItsDecisionIsTaken()
    {
        foreach (
            var group in new[]
            {
                "Clocks running out",
                "Without a rule",
                "Qualified, to hand over",
                "Cleared the bar",
                "Came back to life",
                "Rows to mend",
                "Imports in the sieve",
                "No next step",
            }
        )
        {
            _browser.Go("/desk");
            var first = _browser.Find(By.XPath($"//section[@aria-label='{group}']//li//a"));
            var title = first.FindElement(By.TagName("b")).Text;
            first.Click();
            _browser.Wait(_ => _browser.Path == "/desk" ? null : "", $"a link of {group}");
            _browser.See(title);
        }
    }

    [Fact]
    public void AnUnroutedLeadIsGivenToSomebodyAndLeavesTheDesk()
    {
        _browser.Go("/desk");
        _browser.Click(By.XPath("//section[@aria-label='Without a rule']//li//a"));
        _browser.ShowReasons();
        _browser.See("Why nobody has it");
        _browser.Choose("Owner", "Mateo Ruvio");
        _browser.See("Given to Mateo Ruvio.");
        _browser.See("Why Mateo Ruvio");
    }

    [Fact]
    public void ANumberOfAReportLeadsToJustItsRows()
    {
        _browser.Go("/reports");
        var link = _browser.Find(By.XPath("//tr[td[1]='Price guide']//a"));
        var number = link.Text;
        link.Click();
        _browser.See($"{number} leads");
        _browser.See("came in within 365 days");
    }

    [Fact]
    public void TwoPeopleAtOneLeadTheOneSeesWhatTheOtherWroteByItself()
    {
        using var other = new Browser(fixture.Server.Address);
        other.SignIn("Harald Quist");
        foreach (var browser in new[] { _browser, other })
        {
            browser.Go("/leads?text=vattervikhamn.example");
            browser.Click(By.XPath("//*[@role='row'][contains(., 'Anders Lindqvist')]"));
            browser.ShowFacts();
            browser.Find(By.XPath("//button[@aria-label='Job title: Harbour master, change']"));
        }
        other.Click(By.XPath("//button[@aria-label='Job title: Harbour master, change']"));
        other.Fill("Job title", "Port captain" + Keys.Enter);
        other.See("Job title is now Port captain.");
        _browser.Find(By.XPath("//button[@aria-label='Job title: Port captain, change']"));
    }

    [Fact]
    public void TheNumberKeysGoAlongTheLine()
    {
        _browser.Go("/desk");
        _browser.See("decisions wait");
        foreach (
            var (key, path) in new[]
            {
                ("2", "/intake"),
                ("3", "/leads"),
                ("4", "/scoring"),
                ("5", "/routing"),
                ("6", "/handover"),
                ("7", "/deals"),
                ("8", "/reports"),
                ("1", "/desk"),
            }
        )
        {
            _browser.Press(key);
            _browser.Wait(_ => _browser.Path == path ? "" : null, $"key {key} to go to {path}");
        }
    }

    [Fact]
    public async Task ADealIsMovedWithoutAMouseAndTheMoveUndone()
    {
        // One that has what the next stage asks for.
        var deal = await fixture.Server.Scalar<Guid>(
            "select d.id from deal d join deal_person p on p.deal_id = d.id and p.role = 'decision_maker' where d.pipeline_key = 'instruments' and d.stage_key = 'offer' and d.amount > 0 order by d.expected_close limit 1"
        );
        _browser.Go("/deals");
        _browser.Click(By.CssSelector($"[data-deal='{deal}']"));
        _browser.Choose("Stage", "Terms");
        _browser.See(": Terms,");
        _browser.ClickButton("Undo");
        _browser.See("Now in Offer out");
    }
}
