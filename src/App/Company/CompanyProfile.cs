using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;

namespace DapperLantern.App.Company;

/// <summary>The mail server that the company's letters leave by.</summary>
/// <param name="Secret">The password, sealed by <see cref="MailDoors"/>; null for none.</param>
public sealed record CompanyMail(string SenderName, string SenderAddress, string Host, int Port, string User, string? Secret)
{
    /// <summary>True where there is a server to hand letters to.</summary>
    public bool HasServer => Host.Length > 0;
}

/// <summary>The company as all work reads it: what stands on its letters and public pages, and what it takes for granted. Never changes; the workspace has the current one.</summary>
/// <param name="Name">Empty before the company is named.</param>
/// <param name="Address">Lines of its postal address, the country last.</param>
/// <param name="LogoPrint">Stands in the logo's address; null where it has none.</param>
public sealed record CompanyProfile(
    string Name,
    IReadOnlyList<string> Address,
    string? Country,
    string Currency,
    string TimeZone,
    DateForm Dates,
    int FiscalMonth,
    string TaxNumber,
    string Colour,
    string? LogoPrint,
    CompanyMail Mail
)
{
    public const string UsualColour = "#235A73";

    /// <summary>Before anything is said.</summary>
    public static CompanyProfile Unnamed { get; } = Of(new CompanyRow());

    /// <summary>The path of its logo, which anybody may fetch; null where it has none.</summary>
    public string? Logo => LogoPath(LogoPrint);

    internal static string? LogoPath(string? print) => print is null ? null : $"/f/logo.png?v={print}";

    internal static async Task<CompanyProfile> Read(LanternDb db) => await CompanyRow.Read(db) is { } row ? Of(row) : Unnamed;

    private static CompanyProfile Of(CompanyRow row)
    {
        var place = string.Join(" ", new[] { row.PostalCode, row.City }.Where(p => p.Length > 0));
        var country = row.Country is { } code ? Countries.NameOf(code) ?? code : "";
        return new CompanyProfile(
            row.Name,
            [.. new[] { row.Street, place, country }.SelectMany(l => l.Split('\n')).Select(l => l.Trim()).Where(l => l.Length > 0)],
            row.Country,
            row.Currency,
            row.TimeZone,
            row.Dates,
            row.FiscalMonth,
            row.TaxNumber,
            row.Colour,
            row.LogoPrint,
            new CompanyMail(row.SenderName, row.SenderAddress, row.MailHost, row.MailPort, row.MailUser, row.MailSecret)
        );
    }
}
