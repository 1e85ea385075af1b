using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>Somebody is invited, comes in by the address, works, is let go while at work, and comes back.</summary>
public sealed class PeopleJourneyTests(BrowserFixture fixture) : IClassFixture<BrowserFixture>
{
    [Fact]
    public void AnInvitedPersonComesInWorksIsLetGoAndComesBack()
    {
        using var samir = new Browser(fixture.Server.Address);
        samir.SignIn("Samir Haddow");
        MakeARole(samir);
        samir.Go("/setup/people");
        samir.See("tor.vik");
        AccessibilityTests.Barriers(samir).ShouldBeEmpty();
        samir.ClickButton("Invite somebody");
        samir.Find(By.XPath("//*[@role='dialog']//h2[.='Invite somebody']"));
        AccessibilityTests.Barriers(samir).ShouldBeEmpty();
        samir.Fill("Name", "Runa Åsen");
        samir.Fill("Email address", "tor.vik@tarnhollow.example");
        samir.Click(By.XPath("//*[@role='dialog']//button[.='Invite']"));
        // What is wrong stands at its field, and what was typed stays.
        samir.See("Tor Vik has this email address.");
        samir.Fill("Email address", "runa.asen@tarnhollow.example");
        samir.Click(By.XPath("//*[@role='dialog']//label[contains(., 'Rep')]/input"));
        samir.Click(By.XPath("//*[@role='dialog']//label[contains(., 'Outpost')]/input"));
        samir.Click(By.XPath("//*[@role='dialog']//button[.='Invite']"));
        samir.See("Runa Åsen is invited.");
        var address = samir.Find(By.CssSelector("[role=status] code")).Text;
        samir.See("invited, until");
        AccessibilityTests.Barriers(samir).ShouldBeEmpty();

        using var runa = new Browser(fixture.Server.Address);
        var path = "/way-in#" + address.Split('#')[1];
        runa.Go(path);
        runa.See("Runa Åsen, choose a password.");
        AccessibilityTests.Barriers(runa).ShouldBeEmpty();
        runa.Fill("A password", "herons");
        runa.ClickButton("Come in");
        runa.See("A password has at least 12 letters");
        runa.Fill("A password", "seven quiet herons");
        runa.ClickButton("Come in");
        runa.See("decisions wait");
        TheRoleHolds(runa, samir);
        // The address opened once.
        using var other = new Browser(fixture.Server.Address);
        other.Go(path);
        other.See("This address was used already, or is too old.");
        AccessibilityTests.Barriers(other).ShouldBeEmpty();
        other.ClickLink("ask for another address");
        other.Fill("Your sign-in name or email address", "runa.asen");
        AccessibilityTests.Barriers(other).ShouldBeEmpty();
        other.ClickButton("Send me a letter");
        other.See("If we know you, a letter with an address is on its way");

        samir.Go("/setup/people");
        samir.Click(By.XPath("//a[@aria-label='Let go Runa Åsen']"));
        samir.See("Runa Åsen holds no open records.");
        samir.ClickButton("See who gets what");
        samir.See("Runa Åsen can then no longer sign in");
        AccessibilityTests.Barriers(samir).ShouldBeEmpty();
        samir.ClickButton("Hand on and let Runa Åsen go");
        samir.See("0 records of Runa Åsen are handed on.");
        // Whoever is at work learns it at the next press, and nothing lets them in.
        runa.Press("3");
        runa.See("You are signed out");
        runa.Find(By.CssSelector("input[autocomplete='username']")).SendKeys("runa.asen");
        runa.Fill("Password", "seven quiet herons");
        runa.ClickButton("Sign in");
        runa.See("The name or the password is not right.");
        samir.ClickButton("Give back");
        samir.See("See who gets what");
        runa.ClickButton("Sign in");
        runa.See("lead");

        samir.Go("/setup/people");
        samir.Click(By.XPath("//button[@aria-label='Change Runa Åsen']"));
        samir.Find(By.XPath("//*[@role='dialog']//h2[.='Runa Åsen']"));
        samir.Choose("Reports to", "Harald Quist");
        samir.Click(By.XPath("//*[@role='dialog']//button[.='Keep']"));
        samir.See("Runa Åsen is changed.");
        samir.Find(By.XPath("//tr[contains(., 'Runa Åsen')]/td[.='Harald Quist']"));
    }

    // A coordinator of what is their own, who takes nothing along.
    private static void MakeARole(Browser samir)
    {
        samir.Go("/setup/roles");
        samir.Click(By.XPath("//button[@aria-label='Copy Coordinator']"));
        samir.Fill("Name", "Outpost");
        samir.Click(By.XPath("//input[@aria-label='Leads: their own']"));
        samir.Click(By.XPath("//*[@role='dialog']//label[contains(., 'take leads along')]/input"));
        samir.Click(By.XPath("//*[@role='dialog']//label[contains(., 'work leads')]/input"));
        AccessibilityTests.Barriers(samir).ShouldBeEmpty();
        samir.Click(By.XPath("//*[@role='dialog']//button[.='Make the role']"));
        // What does not go together is said, and stays to be mended.
        samir.See("one has to \u201cwork leads");
        samir.Click(By.XPath("//*[@role='dialog']//label[contains(., 'work leads')]/input"));
        samir.Click(By.XPath("//*[@role='dialog']//button[.='Make the role']"));
        samir.See("Outpost can be given to people now.");
        samir.Find(By.XPath("//tr[contains(., 'Outpost')][contains(., 'their own')][contains(., 'nobody')]"));
        samir.Click(By.XPath("//button[@aria-label='Take away Outpost']"));
        samir.See("Outpost is taken away.");
        samir.ClickButton("Undo");
        samir.Find(By.XPath("//tr[contains(., 'Outpost')]"));
    }

    // Somebody of the role sees what it says, and the administrator is told why.
    private void TheRoleHolds(Browser runa, Browser samir)
    {
        var lead = fixture.Server.Scalar<string>("select id::text || ' ' || number from lead where owner_id is not null order by number limit 1").Result.Split(' ');
        runa.Go($"/leads/{lead[0]}");
        runa.See("There is no such lead.");
        samir.Go("/setup/people");
        samir.Click(By.XPath("//a[@aria-label='Rights of Runa Åsen']"));
        samir.See("As Outpost.");
        samir.Fill("A record that Runa Åsen asks about", lead[1]);
        samir.Click(By.XPath("//*[@role='option'][contains(., 'Lead')]"));
        samir.See("Runa Åsen does not see");
        samir.See("By Outpost they see their own: it is not their own.");
        AccessibilityTests.Barriers(samir).ShouldBeEmpty();
    }

    [Fact]
    public void AWorkspaceWithoutTheDemoIsBegunByItsFirstAddress()
    {
        using var empty = new EmptyWorkspace();
        using var first = new Browser(empty.Address);
        first.Go("/");
        first.Find(By.XPath("//button[.='Sign in']"));
        first.Body.ShouldNotContain("demo");
        first.Go(empty.FirstPath());
        first.See("You are the first here");
        AccessibilityTests.Barriers(first).ShouldBeEmpty();
        first.Fill("Your name", "Åse Fjell");
        first.Fill("Your email address", "ase@fjell.example");
        first.Fill("A password", "seven quiet herons");
        first.ClickButton("Begin");
        first.Find(By.XPath("//button[starts-with(@aria-label, 'ÅF: Åse Fjell')]"));
        first.See("The first hour");
    }

    [Fact]
    public void SomebodyWhoLeavesHandsOnWhatTheyHold()
    {
        using var samir = new Browser(fixture.Server.Address);
        samir.SignIn("Samir Haddow").Go("/setup/people");
        samir.Click(By.XPath("//a[@aria-label='Let go Tor Vik']"));
        samir.See("What");
        foreach (var rest in samir.All(By.XPath("//tr//button[contains(., 'the rest, if any: choose')]")).ToList())
        {
            samir.Click(By.XPath("//tr//button[contains(., 'the rest, if any: choose')]"));
            samir.Click(By.XPath("//*[@role='option'][contains(., 'Aoife Brannigan')]"));
        }
        samir.Choose("Their place in 1 rule", "Aoife Brannigan");
        // One deal by itself.
        samir.Click(By.XPath("//button[contains(@aria-label, 'deal') and contains(@aria-label, 'one by one')]"));
        samir.Click(By.XPath("(//table[@aria-label='One by one']//tbody//button)[1]"));
        samir.Click(By.XPath("//*[@role='option'][.='Aoife Brannigan']"));
        AccessibilityTests.Barriers(samir).ShouldBeEmpty();
        samir.ClickButton("See who gets what");
        samir.Find(By.XPath("//table[@aria-label='Who gets what']//tr[contains(., 'Aoife Brannigan')]"));
        AccessibilityTests.Barriers(samir).ShouldBeEmpty();
        samir.ClickButton("Hand on and let Tor Vik go");
        samir.See("of Tor Vik are handed on.");
        samir.See("Tor Vik holds no open records.");
        samir.Click(By.XPath("//button[starts-with(@aria-label, 'Give back')]"));
        samir.See("went back.");
        samir.Find(By.XPath("//table[@aria-label='What they hold']"));
    }
}
