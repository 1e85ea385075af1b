using CsCheck;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake.Forms;

namespace DapperLantern.Core.Tests.Intake.Forms;

/// <summary>What is wrong with a form, and what is read from a post.</summary>
public sealed class FormTests
{
    private static readonly FieldCatalogue Catalogue = FieldCatalogue.Build(
        new Dictionary<string, System.Collections.Immutable.ImmutableArray<Choice>> { ["campaign"] = [new("bloom", "Bloom season guide")] }
    );

    private static readonly Dictionary<string, string> None = [];

    private static readonly FormSheet Good = new(
        "en",
        new FormText("Guide", "", "Send", "Thanks", None, None, new Dictionary<string, string> { ["news"] = "You may write to me." }),
        [new FormField("last_name", true), new FormField("email", true), new FormField("phone"), new FormField("country"), new FormField("interest")],
        [new FormConsent("news", false, true)],
        ["stand"],
        Translations: new Dictionary<string, FormText>
        {
            ["de"] = new("Leitfaden", "", "", "", None, None, new Dictionary<string, string> { ["news"] = "Sie dürfen mir schreiben." }),
        }
    );

    private static string[] Codes(FormSheet form) => [.. FormCheck.Problems(form, Catalogue, ["news"]).Select(p => $"{p.Path} {p.Code}")];

    private static FormReading Read(Dictionary<string, string> posted, string language = "en") => FormReader.Read(Good, posted, Catalogue, language);

    private static Dictionary<string, string> Post(params (string, string)[] more) =>
        more.Concat([("last_name", "Sollid"), ("email", "Ragna@Fjordnaer.example")]).DistinctBy(p => p.Item1).ToDictionary(p => p.Item1, p => p.Item2);

    // Names and values people and machines send, one damaged letter after another.
    [Fact]
    public void AHundredThousandDamagedPostsAreReadOrSaidToBeWrong()
    {
        var random = new Random(23);
        string[] names = ["last_name", "email", "phone", "country", "interest", "consent.news", "stand", "utm_campaign", "_lang", ""];
        string[] values = ["Sollid", "ragna@fjordnaer.example", "+47 406 12 345", "Norge", "Two buoys, 12 m", "yes", "bloom", "\u0000", "\ud800", new string('x', 3000)];
        for (var n = 0; n < 100_000; n++)
        {
            var posted = new Dictionary<string, string>();
            for (var i = random.Next(0, 9); i > 0; i--)
                posted[Damaged(names[random.Next(names.Length)], 40)] = Damaged(values[random.Next(values.Length)], 3);
            var reading = Read(posted, random.Next(9) == 0 ? "de" : "en");
            if (reading.Problems.Any(p => p.Words.Length == 0) || reading.Facts.Text("email")?.Contains('@', StringComparison.Ordinal) == false)
                Assert.Fail($"post {n}: {string.Join(", ", posted)}");
        }
        string Damaged(string whole, int seldom)
        {
            if (whole.Length == 0 || random.Next(seldom) > 0)
                return whole;
            var letters = whole.ToCharArray();
            for (var i = random.Next(1, 5); i > 0; i--)
                letters[random.Next(letters.Length)] = (char)random.Next(0x3000);
            return new string(letters, 0, random.Next(letters.Length + 1));
        }
    }

    [Fact]
    public void AGoodFormHasNothingWrong() => Codes(Good).ShouldBeEmpty();

    [Fact]
    public void EveryMistakeIsSaidNextToItsPart()
    {
        Codes(Good with { Fields = [.. Good.Fields, new FormField("phone"), new FormField("fit"), new FormField("shoe_size")] })
            .ShouldBe(["fields.fit field-unknown", "fields.shoe_size field-unknown", "fields.phone field-twice"]);
        Codes(Good with { Fields = [new FormField("interest")] }).ShouldBe(["fields form-no-name", "fields form-no-way-to-reach", "consents.news confirmation-needs-mail"]);
        Codes(Good with { Language = "tlh", Labels = ["a b"], ThanksAddress = "javascript:alert(1)", MinimumSeconds = -1 })
            .ShouldBe(["language language-unknown", "minimumSeconds seconds-range", "thanksAddress address-unreadable", "labels.a b label-unreadable"]);
        Codes(Good with { Text = Good.Text with { Title = " ", Consents = None } }).ShouldBe(["consents.news consent-without-words", "text.title title-missing"]);
    }

    [Fact]
    public void APostIsReadByTheCatalogue()
    {
        var reading = Read(Post(("country", "NO"), ("phone", "406 12 345"), ("consent.news", "yes"), ("stand", "B12"), ("utm_source", "circular"), ("shoe_size", "42")));
        reading.Problems.ShouldBeEmpty();
        (reading.Facts.Text("email"), reading.Facts.Text("phone")).ShouldBe(("ragna@fjordnaer.example", "+4740612345"));
        reading.Consents.ShouldHaveSingleItem().ShouldBe(new ConsentSaid("news", "You may write to me.", true));
        reading.Labels.ShouldBe(new Dictionary<string, string> { ["stand"] = "B12", ["utm_source"] = "circular" }, ignoreOrder: true);
    }

    [Fact]
    public void WhoAgreesInGermanAgreesToTheGermanWords() => Read(Post(("consent.news", "on")), "de").Consents.Single().Wording.ShouldBe("Sie dürfen mir schreiben.");

    [Fact]
    public void WhatIsNotTranslatedStaysInTheFormsOwnLanguage() => (Good.In("de").Title, Good.In("de").Send, Good.In("fr").Title).ShouldBe(("Leitfaden", "Send", "Guide"));

    [Fact]
    public void MissingAndUnreadableAnswersAreSaidByField() =>
        Read(new() { ["email"] = "nobody", ["phone"] = "five" })
            .Problems.Select(p => $"{p.Path} {p.Code}")
            .ShouldBe(["last_name answer-needed", "email email-unreadable", "phone phone-letters"]);

    [Fact]
    public void ALongAnswerIsCutInTheFactAndNoProblem()
    {
        var reading = Read(Post(("interest", new string('w', 900))));
        reading.Problems.ShouldBeEmpty();
        reading.Facts.Text("interest")!.Length.ShouldBe(FieldReader.LongestText);
        Read(Post(("interest", new string('w', 5001)))).Problems.Single().Code.ShouldBe("answer-too-long");
    }

    [Fact]
    public void TheCampaignIsNamedByKeyOrByName() =>
        new[] { "bloom", "Bloom Season Guide", "unheard of" }
            .Select(c => FormReader.CampaignOf(new Dictionary<string, string> { ["utm_campaign"] = c }, Catalogue))
            .ShouldBe(["bloom", "bloom", null]);

    [Fact]
    public void WhateverIsPostedIsReadOrSaid() =>
        Gen.Select(Gen.OneOfConst("last_name", "email", "phone", "country", "interest", "consent.news", "utm_source", "x"), Gen.String)
            .Array[0, 12]
            .Sample(posted =>
            {
                var reading = Read(posted.DistinctBy(p => p.Item1).ToDictionary(p => p.Item1, p => p.Item2));
                return reading.Problems.Length > 0 || (reading.Facts["last_name"].IsKnown && reading.Facts["email"].IsKnown);
            });

    [Fact]
    public void EverySentenceIsThereInEveryLanguage()
    {
        foreach (var key in FormWords.Keys)
        foreach (var language in FormWords.Languages)
            FormWords.Say(language, key).ShouldNotBeNullOrWhiteSpace();
        FormWords.Keys.Select(k => FormWords.Say("en", k)).ShouldBeUnique();
    }

    [Fact]
    public void TheLanguageIsWhatIsAskedForThenWhatTheBrowserReads() =>
        (FormWords.Choose(Good, "de", "en"), FormWords.Choose(Good, null, "nb-NO, de-AT;q=0.8, en"), FormWords.Choose(Good, "xx", "fr")).ShouldBe(("de", "de", "en"));
}

/// <summary>The rules that rate a post, one by one.</summary>
public sealed class SpamTests
{
    private static SpamRating Rate(string key = "interest", string answer = "Two buoys", bool trap = false, double? seconds = 40, int before = 0) =>
        SpamRules.Rate(new PostTraits(new Dictionary<string, string> { ["last_name"] = "Sollid", [key] = answer }, trap, seconds, 3, before));

    [Fact]
    public void AnHonestPostHasNoReason() => Rate().Reasons.ShouldBeEmpty();

    [Fact]
    public void WhoFillsTheHiddenFieldOrIsTooFastWaits()
    {
        Rate(trap: true).Waits.ShouldBeTrue();
        Rate(seconds: 1.2).Waits.ShouldBeTrue();
        Rate(seconds: null).Reasons.ShouldBeEmpty();
    }

    [Fact]
    public void LinksCountMoreWhereTheyDoNotBelong()
    {
        Rate(answer: "See [url=x]here[/url]").Waits.ShouldBeTrue();
        Rate("first_name", "www.cheap.example").Waits.ShouldBeTrue();
        var one = Rate(answer: "Our two lochs are shown on the map on https://glenorrin.example");
        (one.Points, one.Waits).ShouldBe((15, false));
    }

    [Fact]
    public void TheSameTextAgainAndAgainWaits() => (Rate(before: 2).Waits, Rate(before: 3).Waits).ShouldBe((false, true));

    [Fact]
    public void ARowOfLettersIsNoNameButUnusualNamesAre()
    {
        Rate("first_name", "qWrTzPlKdS").Points.ShouldBe(30);
        foreach (var name in new[] { "MacDonaldson", "Annegret-Luise", "VANDERMEULEN", "Þorgerður", "McIlhatton" })
            Rate("first_name", name).Points.ShouldBe(0, name);
    }

    [Fact]
    public void ThePointsAreTheSumOfTheReasons() =>
        Gen.Select(Gen.String, Gen.Bool, Gen.Double[0, 10], Gen.Int[0, 9])
            .Sample((text, trap, seconds, before) => Rate(answer: text, trap: trap, seconds: seconds, before: before) is var r && r.Points == r.Reasons.Sum(x => x.Points));
}
