using System.Text.RegularExpressions;

namespace DapperLantern.Core.Intake.Letters;

/// <summary>What a letter's head says of where it comes from.</summary>
/// <param name="AutoSubmitted">Header Auto-Submitted (RFC 3834).</param>
/// <param name="Precedence">Header Precedence.</param>
/// <param name="ListId">True with a header List-Id (RFC 2919).</param>
/// <param name="Report">What a multipart/report (RFC 6522) reports on: "delivery-status" (RFC 3464), "disposition-notification" (RFC 8098) for a receipt; empty for any other letter.</param>
/// <param name="Failed">False for an import status that tells only of delays and arrivals.</param>
/// <param name="Answers">True with a header that names the letter it answers (In-Reply-To, References).</param>
/// <param name="ReturnPath">Header Return-Path; "&lt;&gt;" is a machine.</param>
public sealed record LetterHead(
    string From,
    string Subject,
    string AutoSubmitted = "",
    string Precedence = "",
    bool ListId = false,
    string Report = "",
    bool Failed = true,
    string ReturnPath = "",
    bool HasAutoHeader = false,
    bool Answers = false
);

/// <summary>What a letter is, by its head alone.</summary>
public static partial class LetterKind
{
    /// <summary>Somebody writes.</summary>
    public const string Letter = "letter";

    /// <summary>A machine answers: away, "we have it", "it was read", "it is late". Changes nothing but the story.</summary>
    public const string Automatic = "automatic";

    /// <summary>Something we sent did not arrive.</summary>
    public const string Bounce = "bounce";

    /// <summary>Sent to many.</summary>
    public const string Mailing = "mailing";

    public static string Of(LetterHead head) =>
        head.Failed && (head.Report == "delivery-status" || MailerDaemon().IsMatch(head.From)) ? Bounce
        // What a program writes of itself ("auto-generated") and to nothing of ours may be somebody's words from a form on a website.
        : head.AutoSubmitted.StartsWith("auto-replied", StringComparison.OrdinalIgnoreCase)
        || (head.Answers && head.AutoSubmitted.StartsWith("auto-", StringComparison.OrdinalIgnoreCase))
        || head.Report.Length > 0
        || head.HasAutoHeader
        || head.Precedence.Equals("auto_reply", StringComparison.OrdinalIgnoreCase)
        || Away().IsMatch(head.Subject)
        || head.ReturnPath.Trim() == "<>"
            ? Automatic
        : head.ListId || head.Precedence.ToLowerInvariant() is "bulk" or "list" or "junk" ? Mailing
        : Letter;

    [GeneratedRegex("^(?:mailer-daemon|postmaster)@", RegexOptions.IgnoreCase)]
    private static partial Regex MailerDaemon();

    [GeneratedRegex(
        @"^(?:automatic reply|auto(?:matic)?[- ]?(?:reply|response)|out of (?:the )?office|automatische antwort|abwesenheits(?:notiz|meldung|nachricht)|réponse automatique|absence du bureau|respuesta automática|fuera de (?:la )?oficina|automatisk svar|autosvar|fraværende|ikke til stede|ikke på kontoret|automatiskt svar|frånvaro(?:meddelande)?|frånvarande|automatisch antwoord|afwezig(?:heid)?|risposta automatica|fuori (?:sede|ufficio)|resposta automática|ausência|automatyczna odpowiedź|nieobecność|automaattinen vastaus|poissaolo)\b",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Away();
}
