using System.Buffers.Binary;
using System.Security.Cryptography;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Company;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace DapperLantern.App.Company;

/// <summary>The company as it is set up.</summary>
/// <param name="Country">ISO 3166-1 alpha-2; null where it is not said.</param>
/// <param name="Currency">ISO 4217: what amounts are in unless another is named.</param>
/// <param name="FiscalMonth">Month in which its fiscal year begins, from 1.</param>
/// <param name="Colour">Of buttons and links on public pages: # and six hexadecimal digits.</param>
/// <param name="Logo">Path of its logo; null for none.</param>
/// <param name="Version">0 before it was named.</param>
/// <param name="Countries">All countries there are to choose from.</param>
public sealed record CompanyView(
    string Name,
    string Street,
    string PostalCode,
    string City,
    string? Country,
    string Currency,
    string TimeZone,
    DateForm Dates,
    int FiscalMonth,
    string TaxNumber,
    string Colour,
    string? Logo,
    int Version,
    IReadOnlyList<ChoiceView> Countries
);

/// <summary>The company as it shall be; see <see cref="CompanyView"/>.</summary>
public sealed record CompanyOrder(
    [Text(100)] string Name,
    [Text(200)] string Street,
    [Text(20)] string PostalCode,
    [Text(100)] string City,
    [Text(2)] string? Country,
    [Text(3)] string Currency,
    [Text(100)] string TimeZone,
    DateForm Dates,
    [Between(1, 12)] int FiscalMonth,
    [Text(40)] string TaxNumber,
    [Text(7)] string Colour
);

/// <summary>The company: its name and address, what it takes for granted, its logo.</summary>
public static class CompanyEndpoints
{
    private const int LongestName = 100;
    private const int MostLogoBytes = 300_000;
    private const int WidestLogo = 1_200;
    private static readonly byte[] Png = [0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A];

    internal static void MapCompany(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("/setup/company").Requires(Act.SetUp).WithTags("Setup");
        group.MapGet("", Open).WithSummary("The company: name, address, currency, zone");
        group.MapPut("", Keep).WithSummary("Change it (If-Match)");
        group.MapPut("/logo", KeepLogo).Accepts<string>("image/png", "application/octet-stream", "application/json").WithSummary("Put a logo in place, as PNG");
        group.MapDelete("/logo", DropLogo).WithSummary("Take the logo away");
    }

    /// <summary>The logo, for anybody: it stands on public pages. No form has a dot in its key.</summary>
    internal static void MapLogo(this WebApplication app) => app.MapGet("/f/logo.png", Logo).AllowAnonymous().ExcludeFromDescription();

    private static async Task<Ok<CompanyView>> Open(LanternDb db)
    {
        var row = await CompanyRow.Read(db);
        return TypedResults.Ok(View(row ?? new CompanyRow { Version = 0 }));
    }

    private static CompanyView View(CompanyRow row) =>
        new(
            row.Name,
            row.Street,
            row.PostalCode,
            row.City,
            row.Country,
            row.Currency,
            row.TimeZone,
            row.Dates,
            row.FiscalMonth,
            row.TaxNumber,
            row.Colour,
            CompanyProfile.LogoPath(row.LogoPrint),
            row.Version,
            [.. Countries.All.Select(c => new ChoiceView(c.Code, c.Name))]
        );

    private static async Task<Results<Ok<CompanyView>, ProblemHttpResult>> Keep(CompanyOrder body, HttpRequest request, LanternDb db, WorkspaceConfiguration configuration)
    {
        if (request.Version() is not { } version)
            return ApiProblems.DraftVersionMissing();
        if (Wrong(body) is { } wrong)
            return ApiProblems.Of(wrong);
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            var row = await Held(db);
            if (row.Version != version)
                return ApiProblems.Stale();
            if (row.Currency != body.Currency && await AmountsKept(db) is > 0 and var amounts)
                return ApiProblems.Of("currency-in-use", "currency", row.Currency, amounts);
            Take(row, body);
            await db.SaveChangesAsync();
            await transaction.CommitAsync();
        }
        await configuration.Changed();
        return await Open(db);
    }

    // The row is held, so that of two who name the company at once one is told of the other.
    private static async Task<CompanyRow> Held(LanternDb db)
    {
        await db.LockUntilEnd("company");
        if (await db.Set<CompanyRow>().SingleOrDefaultAsync() is { } there)
            return there;
        var row = new CompanyRow { Version = 0 };
        db.Add(row);
        return row;
    }

    private static void Take(CompanyRow row, CompanyOrder body)
    {
        (row.Name, row.Street, row.PostalCode, row.City) = (FieldReader.Clean(body.Name), Lines(body.Street), FieldReader.Clean(body.PostalCode), FieldReader.Clean(body.City));
        (row.Country, row.Currency, row.TimeZone, row.Dates) = (body.Country, body.Currency, body.TimeZone, body.Dates);
        (row.FiscalMonth, row.TaxNumber, row.Colour) = (body.FiscalMonth, FieldReader.Clean(body.TaxNumber), body.Colour.ToUpperInvariant());
        row.Version++;
    }

    private static string Lines(string text) => string.Join('\n', text.Split('\n').Select(FieldReader.Clean).Where(l => l.Length > 0));

    private static Problem? Wrong(CompanyOrder body)
    {
        if (FieldReader.Clean(body.Name).Length is 0 or > LongestName)
            return Problem.Of("name-missing", "name", LongestName);
        if (body.Country is { } country && Countries.NameOf(country) is null)
            return new Problem("country-unknown", "country", country);
        if (!Iso4217.IsCode(body.Currency))
            return new Problem("currency-unfit", "currency");
        if (DateTimeZoneProviders.Tzdb.GetZoneOrNull(body.TimeZone) is null)
            return new Problem("zone-unknown", "timeZone", body.TimeZone);
        if (!Colours.IsColour(body.Colour))
            return new Problem("colour-unfit", "colour");
        return Colours.OnPages(body.Colour) is < Colours.Readable and var contrast ? Problem.Of("colour-pale", "colour", Math.Round(contrast, 1), Colours.Readable) : null;
    }

    // Amounts without a currency of their own: kept in another one they would be worth something else.
    private static Task<int> AmountsKept(LanternDb db) =>
        db.One<int>(
            $"""
            select ((select count(*) from lead where revenue is not null) + (select count(*) from account where facts->'revenue' is not null))::int as "Value" {RecordScope.Unscoped(
                "how many amounts are kept"
            ):sql}
            """
        );

    private static async Task<Results<Ok<CompanyView>, ProblemHttpResult>> KeepLogo(HttpRequest request, LanternDb db, WorkspaceConfiguration configuration)
    {
        using var read = new MemoryStream();
        var buffer = new byte[16_384];
        for (int got; (got = await request.Body.ReadAsync(buffer)) > 0; )
        {
            read.Write(buffer, 0, got);
            if (read.Length > MostLogoBytes)
                return ApiProblems.Of("logo-large", "logo", MostLogoBytes / 1000);
        }
        var bytes = read.ToArray();
        if (!IsLogo(bytes))
            return ApiProblems.Of("logo-unfit", "logo", WidestLogo);
        return await PutLogo(bytes, db, configuration);
    }

    private static async Task<Results<Ok<CompanyView>, ProblemHttpResult>> DropLogo(LanternDb db, WorkspaceConfiguration configuration) => await PutLogo(null, db, configuration);

    private static async Task<Results<Ok<CompanyView>, ProblemHttpResult>> PutLogo(byte[]? bytes, LanternDb db, WorkspaceConfiguration configuration)
    {
        var print = bytes is null ? null : Convert.ToHexStringLower(SHA256.HashData(bytes))[..16];
        // A logo of a company without a name would stand beside nothing.
        if (
            await db.Set<CompanyRow>()
                .ExecuteUpdateAsync(s => s.SetProperty(c => c.Logo, bytes).SetProperty(c => c.LogoPrint, print).SetProperty(c => c.Version, c => c.Version + 1)) == 0
        )
            return ApiProblems.Of("company-unnamed");
        await configuration.Changed();
        return await Open(db);
    }

    // A PNG begins with its mark and a chunk IHDR, which says its width and height (ISO/IEC 15948, 5.2 and 11.2.2).
    private static bool IsLogo(ReadOnlySpan<byte> bytes) =>
        bytes.Length > 24
        && bytes.StartsWith(Png)
        && bytes[12..16].SequenceEqual("IHDR"u8)
        && BinaryPrimitives.ReadUInt32BigEndian(bytes[16..]) is > 0 and <= WidestLogo
        && BinaryPrimitives.ReadUInt32BigEndian(bytes[20..]) is > 0 and <= WidestLogo;

    private static async Task<Results<FileContentHttpResult, NotFound>> Logo(HttpContext http, LanternDb db)
    {
        if (await db.Set<CompanyRow>().Select(c => c.Logo).SingleOrDefaultAsync() is not { } logo)
            return TypedResults.NotFound();
        // Its address changes with it, and a page within a sandbox is of no origin.
        http.Response.Headers.CacheControl = http.Request.Query.ContainsKey("v") ? "public, max-age=31536000, immutable" : "no-cache";
        http.Response.Headers["Cross-Origin-Resource-Policy"] = "cross-origin";
        return TypedResults.File(logo, "image/png");
    }
}
