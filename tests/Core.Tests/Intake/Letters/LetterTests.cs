using CsCheck;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake.Letters;

namespace DapperLantern.Core.Tests.Intake.Letters;

/// <summary>Own words, signature and quotation told apart; facts taken from the signature; machines recognised.</summary>
public sealed class LetterTests
{
    private static readonly FieldCatalogue Catalogue = FieldCatalogue.Build();

    private static LetterText Of(string text) => LetterText.Of(text.ReplaceLineEndings("\n"));

    [Theory]
    [InlineData("On 16 Nov 2026 at 15:20, Tor Vik <tor@t.example> wrote:")]
    [InlineData("Am 16.11.2026 um 15:20 schrieb Tor Vik:")]
    [InlineData("Le lun. 16 nov. 2026 à 15:20, Tor Vik a écrit :")]
    [InlineData("El lun, 16 nov 2026 a las 15:20, Tor Vik escribió:")]
    [InlineData("Den man. 16. nov. 2026 kl. 15:20 skrev Tor Vik:")]
    [InlineData("On 16 Nov 2026 at 15:20, Tor Vik\n<tor@t.example> wrote:")]
    public void WhatIsAnsweredToIsQuoted(string introduction)
    {
        var text = Of($"Six sites, not four.\n\n{introduction}\n> How many sites?\n>\n> Tor");
        text.Said.ShouldBe("Six sites, not four.");
        text.Quoted.ShouldStartWith(introduction.Split('\n')[0]);
    }

    [Theory]
    [InlineData("-----Original Message-----")]
    [InlineData("-------- Weitergeleitete Nachricht --------")]
    [InlineData("From: Tor Vik <tor@t.example>\nSent: Monday\nTo: Ragna\nSubject: Sites")]
    public void ACopiedLetterIsQuoted(string mark) => Of($"See below.\n\n{mark}\nHow many sites?").Said.ShouldBe("See below.");

    [Fact]
    public void AnswersBetweenQuotedLinesAreOwnWords()
    {
        var text = Of("> How many sites?\nSix.\n> Since when?\nSince May.");
        text.Said.ShouldBe("Six.\nSince May.");
        text.Quoted.ShouldBe("> How many sites?\n> Since when?");
    }

    [Theory]
    [InlineData("-- ")]
    [InlineData("Kind regards,")]
    [InlineData("Mit freundlichen Grüßen")]
    [InlineData("Cordialement,")]
    [InlineData("Un cordial saludo,")]
    [InlineData("Vennlig hilsen")]
    public void TheSignatureBeginsAtItsMarkOrAtTheFarewell(string mark)
    {
        var text = Of($"We need a buoy.\n\n{mark}\nIsla Drummond\nLoch Torran Salmon Ltd");
        text.Said.ShouldBe("We need a buoy.");
        text.Signature.ShouldEndWith("Isla Drummond\nLoch Torran Salmon Ltd");
    }

    [Fact]
    public void ThanksInTheMiddleOfALetterEndNothing()
    {
        var lines = string.Join('\n', Enumerable.Range(1, 14).Select(i => $"Line {i}"));
        Of($"Hello\nThanks\n{lines}").Said.ShouldContain("Line 14");
    }

    [Fact]
    public void NoLineIsLost() =>
        Gen.OneOfConst("Hello", "> quoted", "Kind regards", "-- ", "", "From: a", "To: b", "Subject: c", "On Monday Tor wrote:", "-----Original Message-----", "Tor Vik")
            .Array[0, 30]
            .Sample(lines =>
            {
                var text = Of(string.Join('\n', lines));
                static string[] Words(IEnumerable<string> parts) =>
                    [.. parts.SelectMany(p => p.Split('\n')).Where(l => l.Trim().Length > 0 && l.Trim() != "--").Order(StringComparer.Ordinal)];
                return Words([text.Said, text.Signature, text.Quoted]).SequenceEqual(Words(lines.Select(l => l.TrimEnd())));
            });

    private static Dictionary<string, string> Facts(string name, string email, string signature) =>
        SignatureReader.Read(name, email, signature, Catalogue).Known().ToDictionary(k => k.Field.Key, k => k.Value.ToString());

    [Fact]
    public void ASignatureSaysWhoWhereAndByWhichNumbers() =>
        Facts(
                "Isla Drummond",
                "isla@lochtorran.example",
                "Kind regards,\nIsla Drummond\nSite manager\nLoch Torran Salmon Ltd\nTel: +44 1632 960 771 | M: +44 7700 900 414\nFax: +44 1632 960 000\nwww.lochtorran.example"
            )
            .ShouldBe(
                new Dictionary<string, string>
                {
                    ["first_name"] = "Isla",
                    ["last_name"] = "Drummond",
                    ["job_title"] = "Site manager",
                    ["company"] = "Loch Torran Salmon Ltd",
                    ["website"] = "lochtorran.example",
                    ["email"] = "isla@lochtorran.example",
                    ["phone"] = "+441632960771",
                    ["mobile"] = "+447700900414",
                    ["country"] = "GB",
                },
                ignoreOrder: true
            );

    [Fact]
    public void WithoutALegalFormTheDomainTellsTheCompany() => Facts("", "tor@hav-fisk.example", "Tor Vik\nHav-Fisk")["company"].ShouldBe("Hav-Fisk");

    [Theory]
    [InlineData("Reef Ltd", "Eva Strand\nPurchasing")]
    [InlineData("", "Reef Ltd\nEva Strand")]
    [InlineData("Eva Strand", "Reef Ltd, Harbour 3")]
    public void ACompanyIsNoPersonWhereverItSigns(string name, string signature)
    {
        var facts = Facts(name, "office@reef.example", signature);
        (facts["first_name"], facts["last_name"]).ShouldBe(("Eva", "Strand"));
        facts["company"].ShouldStartWith("Reef Ltd");
    }

    [Fact]
    public void ACompanyAloneMakesNoPerson()
    {
        var facts = Facts("Reef Ltd", "office@reef.example", "");
        (facts.ContainsKey("first_name"), facts.ContainsKey("last_name"), facts["company"]).ShouldBe((false, false, "Reef Ltd"));
    }

    [Fact]
    public void AFreeMailAddressSaysNothingOfTheCompany()
    {
        var facts = Facts("Vik, Tor", "tor@gmail.com", "");
        facts.Keys.ShouldBe(["first_name", "last_name", "email"], ignoreOrder: true);
        facts["last_name"].ShouldBe("Vik");
    }

    [Fact]
    public void WhateverStandsInASignatureIsReadOrLeft() =>
        Gen.Select(Gen.String, Gen.String).Sample((name, signature) => SignatureReader.Read(name, "a@b.example", signature, Catalogue)["email"].IsKnown);

    [Theory]
    [InlineData("Question about probes", "", "", false, "letter")]
    [InlineData("Question", "no", "", false, "letter")]
    [InlineData("Question", "auto-replied", "", false, "automatic")]
    [InlineData("Contact form", "auto-generated", "", false, "letter")]
    [InlineData("Automatic reply: prices", "auto-generated", "", false, "automatic")]
    [InlineData("Abwesenheitsnotiz: Angebot", "", "", false, "automatic")]
    [InlineData("Out of office until Monday", "", "", false, "automatic")]
    [InlineData("Automatisch antwoord: prijzen", "", "", false, "automatic")]
    [InlineData("Risposta automatica: prezzi", "auto-generated", "", false, "automatic")]
    [InlineData("This week only", "", "bulk", false, "mailing")]
    [InlineData("This week only", "", "", true, "mailing")]
    public void MachinesAreTold(string subject, string auto, string precedence, bool list, string kind) =>
        LetterKind.Of(new LetterHead("ragna@fjordnaer.example", subject, auto, precedence, list)).ShouldBe(kind);

    [Fact]
    public void WhatAProgramWritesInAnswerToALetterIsAutomatic() =>
        LetterKind.Of(new LetterHead("x@y.example", "Re: prices", "auto-generated", Answers: true)).ShouldBe("automatic");

    [Theory]
    [InlineData("delivery-status", true, "bounce")]
    [InlineData("delivery-status", false, "automatic")]
    [InlineData("disposition-notification", true, "automatic")]
    [InlineData("", false, "letter")]
    public void ReportsAreToldApart(string report, bool failed, string kind) =>
        LetterKind.Of(new LetterHead("x@y.example", "Your letter", Report: report, Failed: failed)).ShouldBe(kind);

    [Fact]
    public void WhatDidNotArriveIsABounce() =>
        (LetterKind.Of(new LetterHead("x@y.example", "", Report: "delivery-status")), LetterKind.Of(new LetterHead("Mailer-Daemon@y.example", ""))).ShouldBe(("bounce", "bounce"));
}
