using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Company;

/// <summary>The company that works here: one row, there from the first time it is named.</summary>
public sealed class CompanyRow
{
    /// <summary>The only value of <see cref="Id"/>.</summary>
    public const int Only = 1;

    public int Id { get; set; } = Only;
    public string Name { get; set; } = "";
    public string Street { get; set; } = "";
    public string PostalCode { get; set; } = "";
    public string City { get; set; } = "";

    /// <summary>ISO 3166-1 alpha-2; null where it is not said.</summary>
    public string? Country { get; set; }

    /// <summary>ISO 4217: what amounts are in unless another is named.</summary>
    public string Currency { get; set; } = "EUR";

    /// <summary>Zone of the tz database, for people who have not chosen one.</summary>
    public string TimeZone { get; set; } = "UTC";
    public DateForm Dates { get; set; } = DateForm.DayFirst;

    /// <summary>Month in which its fiscal year begins, from 1.</summary>
    public int FiscalMonth { get; set; } = 1;
    public string TaxNumber { get; set; } = "";

    /// <summary>Of buttons and links on its public pages: # and six hexadecimal digits.</summary>
    public string Colour { get; set; } = CompanyProfile.UsualColour;

    /// <summary>PNG or JPEG; null for none.</summary>
    public byte[]? Logo { get; set; }

    /// <summary>SHA-256 of it in hexadecimal, the first 16 digits; stands in its address. Null for none.</summary>
    public string? LogoPrint { get; set; }

    /// <summary>By which its letters leave; empty where it has named none.</summary>
    public string SenderName { get; set; } = "";
    public string SenderAddress { get; set; } = "";
    public string MailHost { get; set; } = "";
    public int MailPort { get; set; }
    public string MailUser { get; set; } = "";

    /// <summary>The password for it, sealed; null for none.</summary>
    public string? MailSecret { get; set; }
    public int Version { get; set; } = 1;

    internal static void Map(ModelBuilder model) =>
        model.Map<CompanyRow>(
            "company",
            c =>
            {
                c.ToTable(t => t.HasCheckConstraint("company_only", "id = 1"));
                c.Property(x => x.Id).ValueGeneratedNever();
                c.Property(x => x.Dates).HasConversion<string>();
            }
        );

    /// <summary>The company as it is kept, without its logo; null before it was named.</summary>
    internal static Task<CompanyRow?> Read(LanternDb db) =>
        db.Set<CompanyRow>()
            .AsNoTracking()
            .Select(c => new CompanyRow
            {
                Name = c.Name,
                Street = c.Street,
                PostalCode = c.PostalCode,
                City = c.City,
                Country = c.Country,
                Currency = c.Currency,
                TimeZone = c.TimeZone,
                Dates = c.Dates,
                FiscalMonth = c.FiscalMonth,
                TaxNumber = c.TaxNumber,
                Colour = c.Colour,
                LogoPrint = c.LogoPrint,
                SenderName = c.SenderName,
                SenderAddress = c.SenderAddress,
                MailHost = c.MailHost,
                MailPort = c.MailPort,
                MailUser = c.MailUser,
                MailSecret = c.MailSecret,
                Version = c.Version,
            })
            .SingleOrDefaultAsync();
}
