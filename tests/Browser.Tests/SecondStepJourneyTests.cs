using OpenQA.Selenium;
using OtpNet;

namespace DapperLantern.Browser.Tests;

/// <summary>Passkey and code from the first press to the sign-in by them, and a role that has to have one.</summary>
public sealed class SecondStepJourneyTests
{
    private const string Password = "lantern-demo-1";

    [Fact]
    public async Task SomebodyMakesAPasskeyAndCodesAndComesInByThem()
    {
        // Passkeys belong to a name, and an address of numbers has none.
        await using var server = await TestServer.Start("--Public:Address=http://localhost:5080");
        var address = server.Address.Replace("127.0.0.1", "localhost", StringComparison.Ordinal);
        using var tor = new Browser(address);
        tor.HasDevice();
        tor.SignIn("Aoife Brannigan").Go("/setup/sessions");
        MakePasskey(tor);
        SignOut(tor);
        tor.ClickButton("By passkey");
        tor.See("Desk");
        tor.Go("/setup/sessions");
        var key = SetUpCodes(tor);
        SignOut(tor);
        tor.Fill("Name or email address", "aoife.brannigan");
        tor.Fill("Password", Password);
        tor.ClickButton("Sign in");
        tor.See("The code your device shows");
        AccessibilityTests.Barriers(tor).ShouldBeEmpty();
        tor.Fill("The code your device shows", "000000");
        tor.ClickButton("Sign in");
        tor.See("That is not the code.");
        tor.Fill("The code your device shows", CodeOf(key, stepsOn: 1));
        tor.ClickButton("Sign in");
        tor.See("Desk");
        tor.Go("/setup/sessions");
        tor.Click(By.XPath("//button[@aria-label='End The blue laptop']"));
        tor.Find(By.XPath("//*[@role='dialog']//h2[.='End The blue laptop']"));
        AccessibilityTests.Barriers(tor).ShouldBeEmpty();
        tor.Fill("Your password", Password);
        tor.Click(By.XPath("//*[@role='dialog']//button[.='End it']"));
        tor.See("That passkey lets nobody in any more.");

        ARoleHasTo(address);
    }

    private static string CodeOf(string key, int stepsOn) => new Totp(Base32Encoding.ToBytes(key)).ComputeTotp(DateTime.UtcNow.AddSeconds(30 * stepsOn));

    private static void MakePasskey(Browser tor)
    {
        tor.ClickButton("Make a passkey");
        tor.Fill("What you call the device", "The blue laptop");
        tor.Fill("Your password", "not it");
        AccessibilityTests.Barriers(tor).ShouldBeEmpty();
        tor.Click(By.XPath("//*[@role='dialog']//button[.='Make it']"));
        tor.See("That is not your password.");
        tor.Fill("Your password", Password);
        tor.Click(By.XPath("//*[@role='dialog']//button[.='Make it']"));
        tor.See("The blue laptop, made");
    }

    private static string SetUpCodes(Browser tor)
    {
        tor.ClickButton("Set up codes");
        tor.Fill("Your password", Password);
        AccessibilityTests.Barriers(tor).ShouldBeEmpty();
        tor.Click(By.XPath("//*[@role='dialog']//button[.='Go on']"));
        var key = tor.Find(By.XPath("//*[@role='dialog']//code")).Text.Replace(" ", "", StringComparison.Ordinal);
        AccessibilityTests.Barriers(tor).ShouldBeEmpty();
        tor.Fill("The code it shows now", CodeOf(key, stepsOn: 0));
        tor.Click(By.XPath("//*[@role='dialog']//button[.='Ask me for codes']"));
        tor.See("10 codes are left for the day the device is lost.");
        tor.Find(By.CssSelector("[role=status] code")).Text.Split('\n').Length.ShouldBe(10);
        AccessibilityTests.Barriers(tor).ShouldBeEmpty();
        return key;
    }

    private static void SignOut(Browser browser)
    {
        browser.Click(By.XPath("//button[@aria-haspopup][contains(@aria-label, 'Aoife Brannigan')]"));
        browser.Click(By.XPath("//*[@role='menuitem'][contains(., 'Sign out')]"));
        browser.See("Name or email address");
    }

    // Whoever is at work and has none makes one at the next press, and goes on.
    private static void ARoleHasTo(string address)
    {
        using var effie = new Browser(address);
        effie.HasDevice();
        effie.SignIn("Effie Marlowe");
        using var samir = new Browser(address);
        samir.SignIn("Samir Haddow").Go("/setup/people");
        samir.Click(By.XPath("//label[starts-with(normalize-space(), 'Qualifier')]"));
        samir.Click(By.XPath("//section//form//button[.='Keep'] | //form[.//*[contains(., 'Roles that have to')]]//button[.='Keep']"));
        samir.See("Kept.");
        effie.Press("3");
        effie.See("Your role signs in with a second step.");
        AccessibilityTests.Barriers(effie).ShouldBeEmpty();
        effie.ClickButton("Make a passkey");
        effie.Fill("Your password", Password);
        effie.Click(By.XPath("//*[@role='dialog']//button[.='Make it']"));
        effie.See("leads,");
    }
}
