using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>An identity provider from its set-up to the sign-in by it, on another site than ours, and out again.</summary>
public sealed class ProviderJourneyTests
{
    [Fact]
    public async Task PeopleComeInAndGoOutByTheProviderThatAnAdministratorSetUp()
    {
        var port = Ports.Free();
        await using var server = await TestServer.Start($"--urls=http://127.0.0.1:{port}", $"--Public:Address=http://127.0.0.1:{port}");
        await using var provider = await TestProvider.Start();
        using var samir = new Browser(server.Address);
        samir.SignIn("Samir Haddow");
        SetUp(samir, provider);

        // Whoever opens a page without being in comes back to that page.
        provider.Here = new Known("s-juno", "Juno Adeyemi", "juno@tarn.example", true, "sales-reps", "choir");
        using var juno = new Browser(server.Address);
        juno.Go("/deals");
        juno.ClickButton("Sign in with Tarn");
        juno.Find(By.XPath("//button[@aria-haspopup][contains(@aria-label, 'Juno Adeyemi')]"));
        juno.Path.ShouldBe("/deals");

        // A session that ends while something is written: the page stays, the way in opens beside it.
        juno.Press("n");
        juno.Fill("Last name", "Halvorsen");
        await server.Scalar<int>(
            "with ended as (update session set ended_at = now(), ended_because = 'ended' where provider_token is not null returning 1) select count(*)::int from ended"
        );
        juno.See("You are signed out");
        AccessibilityTests.Barriers(juno).ShouldBeEmpty();
        juno.ClickButton("Sign in with Tarn");
        await Eventually.Holds(async () => await server.Scalar<int>("select count(*)::int from session where provider_token is not null and ended_at is null") == 1);
        juno.ClickButton("I am in again");
        juno.Find(By.XPath("//input[@value='Halvorsen']"));
        juno.Press(Keys.Escape);

        juno.Go("/desk");
        juno.Click(By.XPath("//button[@aria-haspopup][contains(@aria-label, 'Juno Adeyemi')]"));
        juno.Click(By.XPath("//*[@role='menuitem'][contains(., 'Sign out')]"));
        juno.Find(By.XPath("//button[.='Sign in with Tarn']"));
        provider.Ended.ShouldHaveSingleItem().ShouldContain("id_token_hint");

        // Nobody's group; and whoever administers sees which group that was.
        provider.Here = provider.Here with
        {
            Groups = ["choir"],
        };
        juno.ClickButton("Sign in with Tarn");
        juno.See("None of your groups at the provider gives you a role here.");
        AccessibilityTests.Barriers(juno).ShouldBeEmpty();
        OnlyWay(samir);
        juno.Go("/");
        juno.ClickButton("By password, for those who administer");
        juno.Fill("Name or email address", "tor.vik");
        juno.Fill("Password", "lantern-demo-1");
        juno.ClickButton("Sign in");
        juno.See("only those who administer use anything else");
    }

    private static void SetUp(Browser samir, TestProvider provider)
    {
        samir.Go("/setup/provider");
        samir.Fill("Address (issuer)", provider.Issuer);
        samir.Fill("Name on the button", "Tarn");
        samir.Fill("Client", TestProvider.Client);
        samir.Fill("Secret", "not it");
        samir.ClickButton("Ask it");
        samir.See("It does not know this client, or the secret is another.");
        samir.Fill("Secret", TestProvider.Secret);
        samir.ClickButton("Ask it");
        samir.See("It answers as it should.");
        samir.ClickButton("Another group");
        samir.Fill("Group", "sales-reps");
        samir.Click(By.XPath("//fieldset[@aria-label='Group sales-reps']//label[normalize-space()='Rep']"));
        AccessibilityTests.Barriers(samir).ShouldBeEmpty();
        samir.ClickButton("Keep");
        samir.See("People can sign in by it from now on.");
    }

    private static void OnlyWay(Browser samir)
    {
        samir.Go("/setup/provider");
        samir.See("1 person came in by it so far.");
        samir.Find(By.XPath("//button[@aria-label='choir: say what it means']"));
        samir.Click(By.XPath("//label[contains(., 'come in by it alone')]"));
        samir.ClickButton("Keep");
        samir.See("People can sign in by it from now on.");
    }
}
