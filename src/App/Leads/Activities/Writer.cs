using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads.Activities;

/// <summary>Whoever writes a message, as it names them.</summary>
/// <param name="Signature">Stands under the message; empty for none.</param>
internal sealed record Writer(string Name, string Signature)
{
    public static Task<Writer> Of(LanternDb db, Guid person) => db.Users.Where(p => p.Id == person).Select(p => new Writer(p.DisplayName, p.Signature)).SingleAsync();

    /// <summary>A message with the signature under it, unless it is there already.</summary>
    public string Sign(string text) => Signature.Length == 0 || text.Contains(Signature, StringComparison.Ordinal) ? text : $"{text}\n\n{Signature}";
}
