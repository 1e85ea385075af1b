using System.Collections.Frozen;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Matching;

/// <summary>Email addresses that stand for an office rather than a person.</summary>
public static class Mailboxes
{
    private static readonly FrozenSet<string> Offices = FrozenSet.Create(
        "info|office|mail|post|postmaster|webmaster|admin|administration|contact|kontakt|contacto|contato|sales|verkauf|vertrieb|ventas|vendas|salg|enquiries|enquiry|inquiries|hello|hallo|hola|help|support|service|reception|sekretariat|secretary|secretariat|accounts|accounting|buchhaltung|billing|invoice|invoices|faktura|purchasing|procurement|einkauf|compras|innkjop|marketing|team|firmapost|resepsjon|empfang|booking|bookings|orders|order|jobs|hr|press|no reply|noreply|news|newsletter|central|zentrale|direccion|direction|gerencia|management".Split(
            '|'
        )
    );

    /// <summary>The part before the "@".</summary>
    public static string LocalPart(string email) => email[..Math.Max(0, email.IndexOf('@', StringComparison.Ordinal))];

    /// <summary>True for "info@" and the like.</summary>
    public static bool IsShared(string email) => Offices.Contains(LocalPart(email));

    /// <summary>
    /// The first name, or its initial, that a personal address says beside the last name: "marit" of "marit.sollid@", "m" of "msollid84@"; empty where it says none.
    /// </summary>
    /// <param name="last">The last name, see <see cref="NameForm"/>.</param>
    public static string FirstNameIn(string email, string last)
    {
        if (email.Length == 0 || last.Length < ShortestName || IsShared(email))
            return "";
        var local = LocalPart(email).TrimEnd('0', '1', '2', '3', '4', '5', '6', '7', '8', '9');
        var at = local.IndexOfAny(['.', '_', '-']);
        if (at > 0)
        {
            var (before, after) = (Form(local[..at]), Form(local[(at + 1)..]));
            return IsLike(after, last) ? before
                : IsLike(before, last) ? after
                : "";
        }
        return local.Length > ShortestName && IsLike(Form(local[1..]), last) && !IsLike(Form(local), last) ? local[..1] : "";
    }

    private const int ShortestName = 4;

    private static string Form(string part) => NameForm.Of(Folding.Plain(part));

    private static bool IsLike(string part, string last) =>
        part == last || (Math.Min(part.Length, last.Length) >= ShortestName && Math.Max(1, last.Length / 5) is var most && TypingDistance.Within(part, last, most) <= most);
}
