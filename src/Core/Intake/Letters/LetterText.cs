using System.Text.RegularExpressions;

namespace DapperLantern.Core.Intake.Letters;

/// <summary>A letter's text in its three parts; each may be empty.</summary>
/// <param name="Said">What the sender wrote this time.</param>
/// <param name="Signature">Who they are, in lines.</param>
/// <param name="Quoted">What they answer to.</param>
public sealed record LetterText(string Said, string Signature, string Quoted)
{
    /// <summary>Divides plain text. Together the parts hold every line that is not blank.</summary>
    public static LetterText Of(string text) => LetterDivider.Divide(text);
}

/// <summary>Finds where a letter's own words end: before what it quotes, and before the signature.</summary>
internal static partial class LetterDivider
{
    /// <summary>A signature without the usual mark has at most so many lines.</summary>
    private const int LongestSignature = 12;

    public static LetterText Divide(string text)
    {
        var lines = text.ReplaceLineEndings("\n").Split('\n').Select(l => l.TrimEnd()).ToList();
        var quoteAt = QuoteAt(lines);
        var own = lines[..quoteAt];
        var signAt = SignatureAt(own, out var marked);
        // Quoted lines between own ones belong to what is quoted.
        var (said, between) = (own[..signAt].Where(l => !l.StartsWith('>')), own[..signAt].Where(l => l.StartsWith('>')));
        return new LetterText(Join(said), Join(own.Skip(signAt + (marked ? 1 : 0))), Join(between.Concat(lines.Skip(quoteAt))));
    }

    private static string Join(IEnumerable<string> lines) => string.Join('\n', lines).Trim('\n');

    // The first line after which everything is quoted: an introduction ("On Monday, Tor wrote:"), a forwarding mark, or a copied head.
    private static int QuoteAt(List<string> lines)
    {
        for (var i = 0; i < lines.Count; i++)
        {
            if (Forwarded().IsMatch(lines[i]) || (Head().IsMatch(lines[i]) && lines.Skip(i + 1).Take(4).Count(l => Head().IsMatch(l)) >= 2))
                return i;
            var two = i + 1 < lines.Count ? $"{lines[i]} {lines[i + 1]}" : lines[i];
            if ((Introduces().IsMatch(lines[i]) || Introduces().IsMatch(two)) && lines.Skip(i + 1).Take(4).Any(l => l.StartsWith('>')))
                return i;
        }
        // Without an introduction: from the last own line on.
        var end = lines.Count;
        while (end > 0 && (lines[end - 1].StartsWith('>') || lines[end - 1].Length == 0))
            end--;
        return lines.Skip(end).Any(l => l.StartsWith('>')) ? end : lines.Count;
    }

    private static int SignatureAt(List<string> lines, out bool marked)
    {
        marked = false;
        var mark = lines.FindLastIndex(l => l is "--" or "-- ");
        if (mark >= 0)
        {
            marked = true;
            return mark;
        }
        for (var i = Math.Max(1, lines.Count - LongestSignature); i < lines.Count; i++)
            if (Farewell().IsMatch(lines[i]))
                return i;
        return lines.Count;
    }

    [GeneratedRegex(@"^(?:on|am|le|el|den|op|il|em)\b.{4,200}\b(?:wrote|schrieb(?: .+)?|a écrit|escribió|skrev(?: .+)?|escreveu)\s?:$", RegexOptions.IgnoreCase)]
    private static partial Regex Introduces();

    [GeneratedRegex(
        @"^\s*-{2,}\s*(?:original message|forwarded message|ursprüngliche nachricht|weitergeleitete nachricht|message (?:d'origine|transféré)|mensaje (?:original|reenviado)|opprinnelig melding|videresendt melding)\s*-{2,}$",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Forwarded();

    [GeneratedRegex(
        @"^\*?(?:from|sent|to|subject|date|cc|von|gesendet|an|betreff|datum|de|envoyé|à|objet|enviado|para|asunto|fecha|fra|sendt|til|emne)\s?:\*?\s",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Head();

    [GeneratedRegex(
        @"^(?:(?:with )?(?:best|kind|warm|many)?\s*(?:regards|wishes)|thanks|many thanks|thank you|cheers|yours (?:sincerely|faithfully|truly)|sincerely|best|mit (?:freundlichen|besten|lieben|herzlichen) grü(?:ß|ss)en|(?:viele|beste|freundliche|liebe|herzliche) grü(?:ß|ss)e|mfg|(?:bien )?cordialement|(?:sincères |meilleures )?salutations|bien à vous|(?:un )?(?:cordial )?saludos?|saludos cordiales|atentamente|(?:med )?vennlig(?:e)? hilsen(?:er)?|mvh|(?:beste )?hilsen|med vänliga hälsningar|med venlig hilsen)[\s,.!]*$",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Farewell();
}
