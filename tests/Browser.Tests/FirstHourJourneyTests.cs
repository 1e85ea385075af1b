using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>The first hour of a company, from the printed address to a lead that is handed over.</summary>
public sealed class FirstHourJourneyTests
{
    private const string Password = "seven quiet herons";

    [Fact]
    public void FromThePrintedAddressToALeadThatIsHandedOver()
    {
        using var empty = new EmptyWorkspace();
        using var first = new Browser(empty.Address);
        Begin(first, empty.FirstPath());
        NameTheCompany(first);
        first.Find(By.XPath("//h2[.='Letters']"));
        AccessibilityTests.Barriers(first).ShouldBeEmpty();
        first.ClickButton("Not now");
        var rep = InviteThree(first);
        first.ClickButton("Go on");
        first.Find(By.XPath("//h2[.='Where leads come from']"));
        AccessibilityTests.Barriers(first).ShouldBeEmpty();
        first.ClickButton("Keep, and go on");
        PutTheSetInPlace(first);
        ImportTheFirstList(first);

        using var ola = new Browser(empty.Address);
        ola.Go("/way-in#" + rep.Split('#')[1]);
        ola.Fill("A password", Password);
        ola.ClickButton("Come in");
        ola.Find(By.XPath("//button[starts-with(@aria-label, 'OS: Ola Sroka')]"));

        // What came in before anybody was there is given now.
        first.Go("/setup/start/leads");
        first.See("3 of them wait without an owner.");
        first.ClickButton("Give them by the rules");
        first.SeeNot("wait without an owner");
        HandOneOver(ola);

        first.Go("/setup/start/handover");
        first.See("One lead has gone the whole way.");
        first.ClickButton("End it here");
        first.Find(By.XPath("//h1[.='Setup']"));
        first.SeeNot("The first hour is not over");
        first.Go("/");
        first.WaitForPath("/desk");
    }

    private static void Begin(Browser first, string path)
    {
        first.Go(path);
        first.Fill("Your name", "Zofia Lipka");
        first.Fill("Your email address", "zofia@lipka.example");
        first.Fill("A password", Password);
        first.ClickButton("Begin");
        first.Find(By.XPath("//h2[.='Your company']"));
        AccessibilityTests.Barriers(first).ShouldBeEmpty();
    }

    private static void NameTheCompany(Browser first)
    {
        first.Fill("Name of the company", "Lipka Glasshouses");
        first.Fill("City", "Lublin");
        first.Fill("Country", "pola");
        first.Click(By.XPath("//*[@role='option'][contains(., 'Poland')]"));
        // Left half-way, what was typed waits.
        first.Click(By.XPath("//nav[@aria-label='Steps']//a[contains(., 'People')]"));
        first.ClickButton("Leave it for later");
        first.Find(By.XPath("//h2[.='People']"));
        first.Reload();
        first.Click(By.XPath("//nav[@aria-label='Steps']//a[contains(., 'Your company')]"));
        first.See("not saved then.");
        first.Labelled("Name of the company").GetDomProperty("value").ShouldBe("Lipka Glasshouses");
        first.Fill("Colour of your forms", "#FFEE88");
        first.ClickButton("Keep, and go on");
        first.See("White letters on this colour are hard to read");
        first.Fill("Colour of your forms", "#2F5D3A");
        first.ClickButton("Keep, and go on");
    }

    // Gives the address of the first of them.
    private static string InviteThree(Browser first)
    {
        first.Find(By.XPath("//h2[.='People']"));
        first.ClickButton("Invite several");
        first.Fill("One a line", "Ola Sroka; ola@lipka.example; rep\nTomek Wilga <tomek@lipka.example>\nAdam Kos; manager");
        first.ClickButton("Look at them first");
        first.See("There is no email address in");
        AccessibilityTests.Barriers(first).ShouldBeEmpty();
        first.Fill("One a line", "Ola Sroka; ola@lipka.example; rep\nTomek Wilga <tomek@lipka.example>\nAdam Kos; manager; adam@lipka.example");
        first.ClickButton("Look at them first");
        first.ClickButton("Invite 3 people");
        first.See("3 people are invited.");
        AccessibilityTests.Barriers(first).ShouldBeEmpty();
        return first.Find(By.XPath("//table[@aria-label='Addresses to come in by']//tr[contains(., 'Ola Sroka')]/td[2]")).Text;
    }

    private static void PutTheSetInPlace(Browser first)
    {
        first.Find(By.XPath("//h2[.='A starting set']"));
        first.Click(By.XPath("//label[.//strong[.='To both']]"));
        AccessibilityTests.Barriers(first).ShouldBeEmpty();
        first.ClickButton("Put it in place, and go on");
        first.Find(By.XPath("//h2[.='The first leads']"));
        // Another one after all.
        first.Click(By.XPath("//nav[@aria-label='Steps']//a[contains(., 'A starting set')]"));
        first.ClickButton("Take it back, to choose another");
        first.Click(By.XPath("//label[.//strong[.='To organisations']]"));
        first.ClickButton("Put it in place, and go on");
        first.Find(By.XPath("//h2[.='The first leads']"));
        AccessibilityTests.Barriers(first).ShouldBeEmpty();
    }

    private static void ImportTheFirstList(Browser first)
    {
        var file = Path.Combine(Path.GetTempPath(), $"klienci-{Guid.NewGuid():N}.csv");
        File.WriteAllText(
            file,
            "Name,Company,Email,Country\nEwa Sikora,Sikora Meble,ewa@sikora.example,PL\nJan Wrona,Wrona Dom,jan@wrona.example,PL\nIga Sowa,Sowa Ogrody,iga@sowa.example,PL\n"
        );
        try
        {
            first.ClickLink("Drop a list");
            first.See("Choose a list");
            first.All(By.CssSelector("input[type=file]"))[0].SendKeys(file);
            first.See("3 rows read");
            first.Choose("Where this list comes from", "Lists: counts nothing");
            first.ClickButton("Take 3 in");
            first.See("3 came in");
        }
        finally
        {
            File.Delete(file);
        }
    }

    private static void HandOneOver(Browser ola)
    {
        ola.Go("/leads");
        ola.Click(By.XPath("(//*[@role='row'][contains(., '.example') or contains(., 'Sikora') or contains(., 'Wrona') or contains(., 'Sowa')])[1]"));
        ola.See("To be qualified for Sales");
        ola.Click(By.XPath("//section[@aria-label='Qualification']//button[normalize-space()='Change']"));
        foreach (var (question, evidence) in new[] { ("Need", "Wants more light"), ("Budget", "Set aside"), ("Authority", "Owns it"), ("Timing", "Before spring") })
        {
            ola.Choose($"{question}, certainty", "confirmed");
            ola.Fill($"{question}, evidence", evidence);
        }
        ola.ClickButton("Keep");
        ola.ClickButton("Mark as qualified");
        ola.See("Qualified for Sales.");
        ola.Go("/handover");
        ola.Find(By.XPath("//button[normalize-space()='Hand over']"));
        ola.ClickButton("Hand over");
        ola.See("is handed over as");
    }
}
