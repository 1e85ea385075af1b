using System.Net;
using System.Text.RegularExpressions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake.Forms;
using DapperLantern.Core.Intake.Letters;
using MimeKit;

namespace DapperLantern.App.Intake.Letters;

/// <summary>A file attached to a letter.</summary>
public sealed record Attached(string Name, string Type, byte[] Bytes);

/// <summary>A letter read.</summary>
/// <param name="Id">Its Message-ID; null when it has none.</param>
/// <param name="From">The address to answer to: where the sender's takes no answers, the one it names for them.</param>
/// <param name="To">The addresses it was sent to.</param>
/// <param name="Failed">For a bounce, the addresses that were not reached: as the report says them, else those the original was sent to.</param>
/// <param name="Original">For a bounce, the Message-ID of the letter that did not arrive; null where it is not told.</param>
/// <param name="Mass">Why it looks like a letter that went to many; empty for one that somebody wrote.</param>
public sealed record LetterContent(
    string? Id,
    string FromName,
    string From,
    string Subject,
    string Kind,
    LetterText Text,
    IReadOnlyList<string> To,
    IReadOnlyList<string> Failed,
    IReadOnlyList<Attached> Files,
    string? Original,
    SpamRating Mass
);

/// <summary>Reads an RFC 5322 letter with its MIME parts.</summary>
public static class LetterFile
{
    /// <summary>Larger letters wait, unread.</summary>
    public const int MostBytes = 25 * 1024 * 1024;

    private const int LongestText = 60_000;
    private const int LongestHtml = 500_000;

    /// <returns>Null for what is no letter: without a sender.</returns>
    public static LetterContent? Read(byte[] bytes)
    {
        MimeMessage message;
        try
        {
            message = MimeMessage.Load(new MemoryStream(bytes, false));
        }
        catch (FormatException)
        {
            return null;
        }
        using (message)
        {
            if ((message.From.Mailboxes.FirstOrDefault() ?? message.Sender) is not { } from || !from.Address.Contains('@', StringComparison.Ordinal))
                return null;
            var recipients = Recipients(message);
            var head = new LetterHead(
                from.Address,
                message.Subject ?? "",
                message.Headers[HeaderId.AutoSubmitted] ?? "",
                message.Headers[HeaderId.Precedence] ?? "",
                message.Headers.Contains(HeaderId.ListId),
                (message.Body as MultipartReport)?.ReportType?.ToLowerInvariant() ?? "",
                recipients.Count == 0 || recipients.Exists(IsFailure),
                message.Headers[HeaderId.ReturnPath] ?? "",
                message.Headers.Any(h => h.Field.Equals("X-Autoreply", StringComparison.OrdinalIgnoreCase) || h.Field.Equals("X-Autorespond", StringComparison.OrdinalIgnoreCase)),
                message.InReplyTo is not null || message.References.Count > 0
            );
            var text = LetterText.Of(Clean(TextOf(message)));
            var traits = new MailTraits(
                message.Headers.Select(h => h.Field.ToLowerInvariant()).ToHashSet(),
                head.Precedence,
                head.AutoSubmitted,
                from.Address,
                Clean(head.Subject),
                $"{text.Said}\n{text.Signature}",
                Site.Count(text.Said)
            );
            // A form on a website writes in its own name and gives the visitor's address for the answer.
            var writer = MassMail.TakesNoAnswers(from.Address)
                ? message.ReplyTo.Mailboxes.FirstOrDefault(m => EmailReader.IsAddress(m.Address) && !MassMail.TakesNoAnswers(m.Address)) ?? from
                : from;
            return new LetterContent(
                message.MessageId,
                Clean(writer.Name ?? ""),
                writer.Address.Trim().ToLowerInvariant(),
                Clean(head.Subject),
                LetterKind.Of(head),
                text,
                [.. message.To.Mailboxes.Concat(message.Cc.Mailboxes).Select(m => m.Address.Trim().ToLowerInvariant()).Distinct()],
                Failed(message, recipients),
                [.. message.Attachments.Select(Keep).OfType<Attached>()],
                Original(message)?[HeaderId.MessageId]?.Trim(' ', '<', '>'),
                MassMail.Rate(traits)
            );
        }
    }

    private static string TextOf(MimeMessage message)
    {
        var text = message.TextBody ?? Plain(message.HtmlBody is { Length: > LongestHtml } html ? html[..LongestHtml] : message.HtmlBody ?? "");
        return text.Length > LongestText ? text[..LongestText] : text;
    }

    // Words of an HTML letter; its look is not kept, the letter itself is.
    private static string Plain(string html)
    {
        var words = Unseen.Replace(html, "");
        words = Quote.Replace(words, m => string.Join('\n', Plain(m.Groups[1].Value).Split('\n').Select(l => "> " + l)) + "\n");
        words = Breaks.Replace(words, "\n");
        return WebUtility.HtmlDecode(Tags.Replace(words, "")).Replace('\u00a0', ' ');
    }

    // What is reported of each recipient; the first group is of the whole letter.
    private static List<HeaderList> Recipients(MimeMessage message) =>
        [
            .. (message.BodyParts.OfType<MessageDeliveryStatus>().FirstOrDefault()?.StatusGroups ?? []).Where(g =>
                g["Final-Recipient"] is not null || g["Original-Recipient"] is not null
            ),
        ];

    private static bool IsFailure(HeaderList recipient) => (recipient["Action"] ?? "failed").Trim().StartsWith("failed", StringComparison.OrdinalIgnoreCase);

    private static IReadOnlyList<string> Failed(MimeMessage message, List<HeaderList> recipients)
    {
        var told = recipients
            .Where(IsFailure)
            .Select(g => g["Final-Recipient"] ?? g["Original-Recipient"])
            .OfType<string>()
            .Select(r => r[(r.IndexOf(';', StringComparison.Ordinal) + 1)..].Trim().ToLowerInvariant())
            .Where(EmailReader.IsAddress)
            .Distinct()
            .ToList();
        if (told.Count > 0)
            return told;
        // Older servers name it in a head of their own, or only return the letter.
        var heads = message.Headers["X-Failed-Recipients"] ?? Original(message)?[HeaderId.To] ?? "";
        return [.. EmailReader.Addresses(heads).Select(a => a.ToLowerInvariant())];
    }

    // The heads of the letter that a bounce returns: a whole letter, its heads alone, or both as text behind the report.
    private static HeaderList? Original(MimeMessage message)
    {
        foreach (var part in message.BodyParts.Concat(message.Attachments).Distinct())
            switch (part)
            {
                case MessagePart { Message: { } inner }:
                    return inner.Headers;
                case TextPart text when text.ContentType.MimeType.Equals("text/rfc822-headers", StringComparison.OrdinalIgnoreCase):
                    return Heads(text.Text);
            }
        var said = message.TextBody ?? "";
        return Returned.Match(said) is { Success: true } returned ? Heads(said[returned.Index..]) : null;
    }

    private static HeaderList? Heads(string text)
    {
        try
        {
            return HeaderList.Load(new MemoryStream(System.Text.Encoding.UTF8.GetBytes(text.TrimStart() + "\r\n\r\n")));
        }
        catch (FormatException)
        {
            return null;
        }
    }

    private static Attached? Keep(MimeEntity part)
    {
        using var bytes = new MemoryStream();
        switch (part)
        {
            case MimePart { Content: { } content }:
                content.DecodeTo(bytes);
                break;
            case MessagePart { Message: { } inner }:
                inner.WriteTo(bytes);
                break;
            default:
                return null;
        }
        var name = Clean(part.ContentDisposition?.FileName ?? part.ContentType.Name ?? "").Replace('/', '_').Replace('\\', '_');
        return new Attached(name.Length is 0 or > 200 ? "attachment" : name, part.ContentType.MimeType, bytes.ToArray());
    }

    private static string Clean(string text) => System.Text.Encoding.UTF8.GetString(System.Text.Encoding.UTF8.GetBytes(text.Replace('\0', '\ufffd')));

    // None of them looks back, so that no letter, however made, takes longer than its length.
    private const RegexOptions How = RegexOptions.IgnoreCase | RegexOptions.Singleline | RegexOptions.NonBacktracking;

    private static readonly Regex Site = new(@"https?://|\bwww\.", How);

    // Where the heads of a returned letter begin in a report that is plain text.
    private static readonly Regex Returned = new(@"^(?:Return-Path|Received|Message-ID|From|To|Date|Subject): ", How | RegexOptions.Multiline);

    private static readonly Regex Unseen = new(@"<script\b.*?</script\s*>|<style\b.*?</style\s*>|<head\b.*?</head\s*>|<!--.*?-->", How);
    private static readonly Regex Quote = new("<blockquote[^>]*>(.*?)</blockquote>", How);
    private static readonly Regex Breaks = new(@"\s*<(?:br|/p|/div|/tr|/li|/h\d)\b[^>]*>\s*", How);
    private static readonly Regex Tags = new("<[^>]*>", How);
}
