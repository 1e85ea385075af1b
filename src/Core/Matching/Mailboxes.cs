using System.Collections.Frozen;

namespace DapperLantern.Core.Matching;

/// <summary>Mail addresses that stand for an office rather than a person.</summary>
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
}
