using System.Text.RegularExpressions;
using MimeKit;

namespace DapperLantern.Core.Fields;

/// <summary>
/// Reads email addresses. MimeKit's parser takes an address out of a mailbox such as <c>Anna Berg &lt;a@b.example&gt;</c>; on the address itself these
/// rules hold, stricter than RFC 5321 and 6531: the local part is a dot-atom of at most 64 octets (no quotes, no comments, no dot first, last or twice);
/// the domain has labels of letters, digits and inner hyphens of at most 63 letters each, 253 in all, and its last label is no number (no address of a
/// machine) and has at least two letters; a domain of one label is taken only where it is a country's top-level domain. Nothing within an address is changed but
/// the case.
/// </summary>
public static partial class EmailReader
{
    private static readonly ParserOptions Strict = new()
    {
        AddressParserComplianceMode = RfcComplianceMode.Strict,
        AllowAddressesWithoutDomain = false,
        AllowUnquotedCommasInAddresses = false,
    };

    private static readonly char[] Around = [' ', ';', ',', '<', '>', '(', ')', '[', ']', '"', '|', '\u201c', '\u201d'];

    /// <summary>
    /// Reads one address and the text that stands around it. A name that stands around it is given in <see cref="ReadResult.Beside"/>. Two different addresses in one text
    /// are a problem: which of them is meant is not for us to say.
    /// </summary>
    public static ReadResult Read(FieldDefinition field, string text)
    {
        if (IsAddress(text))
            return ReadResult.Good(text.ToLowerInvariant());
        var bare = Scheme().Replace(text, "");
        if (bare.Length != text.Length && bare.IndexOf('?', StringComparison.Ordinal) is > 0 and var query)
            bare = bare[..query];
        // The parser takes blanks within an address for comments; such an address is not the one that was written.
        if (MailboxAddress.TryParse(Strict, bare, out var mailbox) && IsAddress(mailbox.Address) && bare.Contains(mailbox.Address, StringComparison.Ordinal))
            return ReadResult.Good(mailbox.Address.ToLowerInvariant(), NameIn(mailbox.Name ?? ""));
        var found = Addresses(bare);
        return found switch
        {
            [var only] when !bare.Contains(" @", StringComparison.Ordinal) && !bare.Contains("@ ", StringComparison.Ordinal) => ReadResult.Good(
                only.ToLowerInvariant(),
                NameIn(bare.Replace(only, " ", StringComparison.Ordinal))
            ),
            [_, _, ..] => ReadResult.Bad("email-several", field, text),
            _ => ReadResult.Bad("email-unreadable", field, text),
        };
    }

    /// <summary>The different addresses in a text, in their order.</summary>
    public static string[] Addresses(string text) =>
        [
            .. text.Split(Around, StringSplitOptions.RemoveEmptyEntries)
                .Where(p => p.Contains('@', StringComparison.Ordinal))
                .Select(p => Scheme().Replace(p, "").TrimEnd(':'))
                // A full stop behind an address ends a sentence, or is the root of its domain.
                .Select(p => IsAddress(p) || !p.EndsWith('.') ? p : p[..^1])
                .Where(IsAddress)
                .DistinctBy(p => p.ToLowerInvariant()),
        ];

    /// <summary>True for an address by the rules above and nothing else.</summary>
    public static bool IsAddress(string text)
    {
        var at = text.IndexOf('@', StringComparison.Ordinal);
        if (at < 1 || at != text.LastIndexOf('@') || at > 64 || text.Length - at > 254 || !Local().IsMatch(text.AsSpan(0, at)))
            return false;
        var domain = text.AsSpan(at + 1);
        if (FieldReader.IsDomain(domain))
            return true;
        return domain.Length == 2 && Countries.NameOf(domain.ToString().ToUpperInvariant()) is not null;
    }

    /// <summary>Two to five words of letters; null where the text reads otherwise.</summary>
    private static string? NameIn(string text)
    {
        var name = FieldReader.Clean(text.Trim([.. Around, '.', ':', '-', '\'']));
        return Name().IsMatch(name) ? name : null;
    }

    [GeneratedRegex(@"^(?:mailto|e-?mail|mail)\s*:\s*", RegexOptions.IgnoreCase)]
    private static partial Regex Scheme();

    [GeneratedRegex(@"^[\p{L}\p{M}\p{N}!#$%&'*+/=?^_`{|}~-]+(?:\.[\p{L}\p{M}\p{N}!#$%&'*+/=?^_`{|}~-]+)*$")]
    private static partial Regex Local();

    [GeneratedRegex(@"^\p{L}[\p{L}\p{M}'’.-]*(?:,? \p{L}[\p{L}\p{M}'’.-]*){1,4}$")]
    private static partial Regex Name();
}
