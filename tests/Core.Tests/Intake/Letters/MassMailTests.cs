using DapperLantern.Core.Intake.Forms;
using DapperLantern.Core.Intake.Letters;

namespace DapperLantern.Core.Tests.Intake.Letters;

/// <summary>What went to many waits with its reasons; what somebody wrote does not.</summary>
public sealed class MassMailTests
{
    private static int Points(string from, string subject, string text, params string[] heads) =>
        MassMail.Rate(new MailTraits(heads.ToHashSet(), "", "", from, subject, text, 0)).Points;

    [Theory]
    [InlineData("no-reply@shop.example", "Your offer", "Buy now", "list-unsubscribe")]
    [InlineData("noreply@shop.example", "Spring sale", "Prices fall.")]
    [InlineData("anna@group.example", "[divers] Digest, Vol 12", "Today's topics", "list-id", "list-post")]
    [InlineData("newsletter@trade.example", "The newsletter of May", "Unsubscribe here")]
    [InlineData("news@haus.example", "Angebote der Woche", "Hier können Sie sich abmelden")]
    [InlineData("hei@kanal.example", "Nyhetsbrev uke 14", "Vis i nettleser. Meld deg av her.")]
    [InlineData("contact@salon.example", "Infolettre", "Voir cet email dans votre navigateur. Se désabonner")]
    public void WhatWentToManyWaits(string from, string subject, string text, params string[] heads) =>
        Points(from, subject, text, heads).ShouldBeGreaterThanOrEqualTo(SpamRating.WaitsFrom);

    [Theory]
    [InlineData("ragna@fjordnaer.example", "Buoys for next season", "Could you send us a price for four buoys?")]
    [InlineData("offers.team@port.example", "Request for an offer", "We would like an offer for two probes by May.")]
    [InlineData("newsome@port.example", "Question", "Is the S2 in stock?")]
    [InlineData("anna@group.example", "Re: your newsletter", "I read it and want to know more.")]
    public void WhatSomebodyWroteComesIn(string from, string subject, string text) => Points(from, subject, text).ShouldBeLessThan(SpamRating.WaitsFrom);

    [Fact]
    public void EachReasonIsSaidInASentence() =>
        MassMail
            .Rate(new MailTraits(new HashSet<string> { "list-id", "list-unsubscribe", "feedback-id" }, "bulk", "auto-generated", "no-reply@x.example", "Digest", "unsubscribe", 9))
            .Reasons.ShouldAllBe(r => r.Words.EndsWith('.') && r.Points > 0);
}
