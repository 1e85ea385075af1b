using System.Text.RegularExpressions;
using DapperLantern.Core.Intake.Forms;

namespace DapperLantern.Core.Intake.Letters;

/// <summary>What tells a letter that went to many from one that somebody wrote to us: its head first (RFC 2369, 2919, 3834, 8058), then its sender and its words.</summary>
/// <param name="Heads">Names of the header fields, lower case.</param>
/// <param name="Precedence">Header Precedence.</param>
/// <param name="AutoSubmitted">Header Auto-Submitted (RFC 3834).</param>
/// <param name="Text">The words of the letter without what it quotes.</param>
/// <param name="Links">Web addresses in it.</param>
public sealed record MailTraits(IReadOnlySet<string> Heads, string Precedence, string AutoSubmitted, string From, string Subject, string Text, int Links);

/// <summary>The rules, each a line with its points; from <see cref="SpamRating.WaitsFrom"/> the letter waits for a person, with the reasons.</summary>
public static partial class MassMail
{
    private static readonly string[] ListHeads = ["list-id", "list-post", "list-help", "list-subscribe", "list-owner", "list-archive"];

    // Fields that programs for mass mail write and no program for letters.
    private static readonly string[] CampaignHeads = ["feedback-id", "x-campaign", "x-campaign-id", "x-campaignid", "x-mailing-id", "x-newsletter", "x-bulkmail", "x-list"];

    private static readonly (string Words, int Points, Func<MailTraits, bool> Speaks)[] Rules =
    [
        ("Its head says that it comes from a list.", 60, m => ListHeads.Any(m.Heads.Contains)),
        ("Its head offers to unsubscribe.", 60, m => m.Heads.Contains("list-unsubscribe")),
        ("Its head says that it went to many.", 60, m => m.Precedence.Trim().ToLowerInvariant() is "bulk" or "list" or "junk"),
        ("Its head says that a program made it.", 60, m => m.AutoSubmitted.Length > 0 && !m.AutoSubmitted.StartsWith("no", StringComparison.OrdinalIgnoreCase)),
        ("Its head names a campaign.", 40, m => CampaignHeads.Any(m.Heads.Contains)),
        ("Its sender cannot be answered.", 60, m => NoReply().IsMatch(m.From)),
        ("Its sender is a mailing.", 40, m => Mailing().IsMatch(m.From)),
        ("Its subject is that of a digest or newsletter.", 40, m => Digest().IsMatch(m.Subject)),
        ("It offers to unsubscribe.", 40, m => Unsubscribe().IsMatch(m.Text)),
        ("It offers itself to be read in a browser.", 30, m => Browser().IsMatch(m.Text)),
        ("It has many web addresses.", 20, m => m.Links >= 6),
    ];

    /// <summary>All rules that speak, in their order.</summary>
    public static SpamRating Rate(MailTraits letter) => new([.. Rules.Where(r => r.Speaks(letter)).Select(r => new SpamReason(r.Words, r.Points))]);

    /// <summary>True for an address that says itself that it takes no answers.</summary>
    public static bool TakesNoAnswers(string address) => NoReply().IsMatch(address);

    [GeneratedRegex(
        @"^(?:no[-_.]?reply|do[-_.]?not[-_.]?reply|ne[-_.]?pas[-_.]?repondre|nicht[-_.]?antworten|no[-_.]?responder|ikke[-_.]?svar)\b|[-_.+]no-?reply@",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex NoReply();

    [GeneratedRegex(
        @"^(?:newsletters?|news|digests?|mailings?|marketing|promo(?:tions?)?|offers?|angebote?|campaigns?|bulletin|infomail|notifications?|updates?|alerts?)\b",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Mailing();

    [GeneratedRegex(
        @"\bdigest\b|\bnewsletter\b|\bbulletin\b|\bnyhetsbrev\b|\bboletín\b|\binfolettre\b|\brundbrief\b|^\[[\w .-]+\]\s|\bvol\.?\s?\d+|\bissue\s?#?\d+",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Digest();

    [GeneratedRegex(
        @"\bunsubscribe\b|\bopt[- ]out\b|\bmanage (?:your )?preferences\b|\babmelden\b|\babbestellen\b|\baustragen\b|\bse d[ée]sabonner\b|\bd[ée]sinscri|\bdarse de baja\b|\bcancelar (?:la )?suscripci[óo]n\b|\bmeld(?:e)? deg av\b|\bavmeld",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Unsubscribe();

    [GeneratedRegex(
        @"view (?:this|it)?\s?(?:e-?mail)?\s?(?:online|in (?:your|a) browser)|im browser (?:ansehen|anzeigen|öffnen)|voir (?:cet e-?mail )?(?:en ligne|dans (?:votre|le) navigateur)|ver (?:este correo )?en (?:su|el|tu) navegador|vis i nettleser|åpne i nettleser",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Browser();
}
