using DapperLantern.App.Setup;
using Microsoft.AspNetCore.DataProtection;
using MimeKit;

namespace DapperLantern.App.Company;

/// <summary>By which door letters leave now, and by which sender.</summary>
/// <param name="Sender">Null where none is named.</param>
public sealed record MailDoor(IMailTransport Transport, MailboxAddress? Sender);

/// <summary>
/// Finds the door for letters: the company's own mail server, else the one of the configuration, else the folder for caught mail. A demo never sends outside: there only the folder is
/// a door.
/// </summary>
public sealed class MailDoors(OutboxSettings settings, DemoSettings demo, IDataProtectionProvider protection, WorkspaceConfiguration configuration)
{
    private readonly SecretSeal _seal = new(protection, "mail-server");

    /// <summary>True where letters go somewhere.</summary>
    public bool Sends => Current() is not null;

    /// <summary>True where the configuration names a server or a folder, which holds until the company names its own.</summary>
    public bool IsConfigured => settings.Smtp is not null || settings.Folder is not null;

    /// <summary>The door of this moment; null for none.</summary>
    public MailDoor? Current()
    {
        var mail = configuration.Current.Company.Mail;
        if (mail.HasServer && !demo.Enabled)
            return new MailDoor(Server(mail, Open(mail.Secret)), SenderOf(mail));
        var own = SenderOf(mail) ?? (settings.From is null ? null : MailboxAddress.Parse(settings.From));
        return MailTransports.Of(settings, demo) is { } transport ? new MailDoor(transport, own) : null;
    }

    /// <summary>A mail server.</summary>
    /// <param name="password">Null for none.</param>
    public static SmtpTransport Server(CompanyMail mail, string? password) => new(mail.Host, mail.Port, mail.User, password ?? "");

    /// <summary>Who letters come from; null where no address is named.</summary>
    public static MailboxAddress? SenderOf(CompanyMail mail) => mail.SenderAddress.Length == 0 ? null : new MailboxAddress(mail.SenderName, mail.SenderAddress);

    /// <summary>Seals a password for the database.</summary>
    public string Seal(string password) => _seal.Seal(password);

    /// <summary>Opens a sealed password. Null for none, and for one that was sealed under a key that is gone: the server then says that it wants one.</summary>
    public string? Open(string? secret) => _seal.Open(secret);
}
