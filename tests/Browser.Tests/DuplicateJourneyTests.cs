using OpenQA.Selenium;

namespace DapperLantern.Browser.Tests;

/// <summary>Settling duplicates, by keys alone and by mouse.</summary>
public sealed class DuplicateJourneyTests(BrowserFixture fixture) : IClassFixture<BrowserFixture>
{
    private readonly Browser _browser = fixture.Browser;

    private string Pairs()
    {
        _browser.See("leads were looked at");
        return _browser.Find(By.XPath("//h2[contains(., 'to settle')]")).Text;
    }

    [Fact]
    public void PairsAreSettledByKeysAloneAndTakenBack()
    {
        _browser.Go("/leads/duplicates");
        _browser.See("One person, or two?");
        var before = Pairs();
        // The suggested answer has the focus: Enter accepts, and the next pair comes up.
        _browser.Wait(_ => _browser.Script<string>("return document.activeElement.textContent") == "Merge" ? "" : null, "Merge to have the focus");
        _browser.Press(Keys.Enter);
        _browser.See("are one lead now.");
        _browser.Wait(_ => Pairs() != before ? "" : null, "a pair less");
        _browser.Press(Keys.Control + "z");
        // Taken apart by the undo they are remembered as two.
        _browser.Wait(_ => !_browser.Body.Contains("Merged before", StringComparison.Ordinal) ? "" : null, "no merge to be left");
        _browser.Press("x");
        _browser.See("They are two, and will not be asked about again.");
    }

    [Fact]
    public void TheOtherValueAndTheOtherRecordAreChosenByMouse()
    {
        _browser.Go("/leads/duplicates");
        _browser.See("One person, or two?");
        var stays = _browser.Find(By.XPath("//thead//th[2]")).Text;
        _browser.ClickButton("Swap");
        _browser.Wait(_ => _browser.Find(By.XPath("//thead//th[2]")).Text != stays ? "" : null, "the other one to stay");
        _browser.Click(By.XPath("(//tbody//input[@type='radio' and not(@checked)])[1]/ancestor::label"));
        _browser.ClickButton("Merge");
        _browser.See("are one lead now.");
        _browser.Click(By.XPath("//summary[contains(., 'Merged before')]"));
        _browser.ClickButton("Take apart");
        _browser.See("They are two again, each as it was.");
        _browser.Errors.ShouldBeEmpty();
    }
}
