using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using MimeKit;

namespace DapperLantern.App.Company;

/// <summary>How the company's letters leave.</summary>
/// <param name="Host">Empty where the company names no server of its own.</param>
/// <param name="HasPassword">True where one is kept; it is never shown.</param>
/// <param name="IsConfigured">True where whoever runs the machine has named a server, which is used until the company names one.</param>
/// <param name="IsDemo">True in a demo, which sends nothing outside.</param>
public sealed record MailView(string SenderName, string SenderAddress, string Host, int Port, string User, bool HasPassword, bool IsConfigured, bool IsDemo, int Version);

/// <param name="Port">0 for the usual one, 587.</param>
/// <param name="Password">Null to keep the one there is.</param>
public sealed record MailOrder(
    [Text(100)] string SenderName,
    [Text(254)] string SenderAddress,
    [Text(253)] string Host,
    [Between(0, 65_535)] int Port,
    [Text(254)] string User,
    [Text(1_000)] string? Password = null
);

/// <summary>What became of a letter to oneself.</summary>
/// <param name="To">The address it went to.</param>
/// <param name="Answer">What the server said as it took it, or why it did not.</param>
/// <param name="Encrypted">True where the way to the server was encrypted.</param>
public sealed record MailTrial(bool Sent, string To, string Answer, bool Encrypted);

/// <summary>The sender and the mail server: an administrator's, since the letters by which people come in leave there.</summary>
public static class MailEndpoints
{
    internal static void MapMail(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("/setup/mail").Requires(Act.ManagePeople).WithTags("Setup");
        group.MapGet("", Open).WithSummary("The sender of letters, and the mail server");
        group.MapPut("", Keep).WithSummary("Change them (If-Match)");
        group.MapPost("/trial", Try).WithSummary("Send a letter to oneself by a mail server that need not be kept yet, and tell what the server says");
    }

    private static async Task<Ok<MailView>> Open(LanternDb db, MailDoors doors, DemoSettings demo) => TypedResults.Ok(View(await CompanyRow.Read(db), doors, demo));

    private static MailView View(CompanyRow? row, MailDoors doors, DemoSettings demo) =>
        new(
            row?.SenderName ?? "",
            row?.SenderAddress ?? "",
            row?.MailHost ?? "",
            row?.MailPort ?? 0,
            row?.MailUser ?? "",
            row?.MailSecret is not null,
            doors.IsConfigured,
            demo.Enabled,
            row?.Version ?? 0
        );

    private static async Task<Results<Ok<MailView>, ProblemHttpResult>> Keep(
        MailOrder body,
        HttpRequest request,
        LanternDb db,
        MailDoors doors,
        DemoSettings demo,
        WorkspaceConfiguration configuration
    )
    {
        if (request.Version() is not { } version)
            return ApiProblems.DraftVersionMissing();
        if (await Wrong(db, body, demo) is { } wrong)
            return ApiProblems.Of(wrong);
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            await db.LockUntilEnd("company");
            if (await db.Set<CompanyRow>().SingleOrDefaultAsync() is not { } row)
                return ApiProblems.Of("company-unnamed");
            if (row.Version != version)
                return ApiProblems.Stale();
            var mail = MailOf(body);
            (row.SenderName, row.SenderAddress) = (mail.SenderName, mail.SenderAddress);
            (row.MailHost, row.MailPort, row.MailUser) = (mail.Host, mail.Port, mail.User);
            if (row.MailHost.Length == 0 || row.MailUser.Length == 0)
                row.MailSecret = null;
            else if (body.Password is { } password)
                row.MailSecret = password.Length == 0 ? null : doors.Seal(password);
            row.Version++;
            await db.SaveChangesAsync();
            await transaction.CommitAsync();
        }
        await configuration.Changed();
        return await Open(db, doors, demo);
    }

    // As it was meant, without blanks around.
    private static CompanyMail MailOf(MailOrder body) => new(FieldReader.Clean(body.SenderName), body.SenderAddress.Trim(), body.Host.Trim(), body.Port, body.User.Trim(), null);

    private static async Task<Problem?> Wrong(LanternDb db, MailOrder body, DemoSettings demo)
    {
        var mail = MailOf(body);
        var (address, host) = (mail.SenderAddress, mail.Host);
        if (address.Length > 0 && !EmailReader.IsAddress(address))
            return new Problem("email-unreadable", "senderAddress", address);
        if (host.Length == 0)
            return null;
        if (demo.Enabled)
            return new Problem("demo-sends-nothing", "host");
        if (Uri.CheckHostName(host) == UriHostNameType.Unknown)
            return new Problem("mail-host-unfit", "host", host);
        if (address.Length == 0)
            return new Problem("sender-missing", "senderAddress");
        return body is { Password: null, User.Length: > 0 } && await IsElsewhere(db, mail) ? new Problem("mail-password-missing", "password") : null;
    }

    // A password is kept for one server and one name: it is not handed to another server because somebody changes the name of it.
    private static async Task<bool> IsElsewhere(LanternDb db, CompanyMail mail) =>
        await CompanyRow.Read(db) is { MailSecret: not null } row && (row.MailHost, row.MailUser, row.MailPort) != (mail.Host, mail.User, mail.Port);

    private static async Task<Results<Ok<MailTrial>, ProblemHttpResult>> Try(
        MailOrder body,
        ClaimsPrincipal user,
        LanternDb db,
        MailDoors doors,
        DemoSettings demo,
        CancellationToken cancel
    )
    {
        if (await Wrong(db, body, demo) is { } wrong)
            return ApiProblems.Of(wrong);
        var mail = MailOf(body);
        if (mail.SenderAddress.Length == 0)
            return ApiProblems.Of("sender-missing", "senderAddress");
        var id = user.Id();
        var me = await db.Users.AsNoTracking().SingleAsync(p => p.Id == id, cancel);
        if (me.Email is not { Length: > 0 } to)
            return ApiProblems.Of("own-address-missing");
        if (Transport(mail, body.Password ?? doors.Open((await CompanyRow.Read(db))?.MailSecret), doors) is not { } transport)
            return ApiProblems.Of("mail-host-missing", "host");
        using var message = Letter(MailDoors.SenderOf(mail)!, new MailboxAddress(me.DisplayName, to));
        var outcome = await transport.Send(message, Guid.CreateVersion7(), cancel);
        return TypedResults.Ok(new MailTrial(outcome.Sent, to, outcome.Answer ?? outcome.Problem ?? "", outcome.Encrypted));
    }

    // Where the company names no server, what the machine's configuration names is tried.
    private static IMailTransport? Transport(CompanyMail mail, string? password, MailDoors doors) => mail.HasServer ? MailDoors.Server(mail, password) : doors.Current()?.Transport;

    private static MimeMessage Letter(MailboxAddress from, MailboxAddress to) =>
        new(
            [from],
            [to],
            "A letter to yourself",
            new TextPart("plain") { Text = "You sent this from the set-up of Dapper Lantern. Since it has arrived, letters leave as they should.\n" }
        );
}
