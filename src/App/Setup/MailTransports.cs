using MailKit.Net.Smtp;
using MailKit.Security;
using MimeKit;

namespace DapperLantern.App.Setup;

/// <summary>What became of a try to send a message.</summary>
/// <param name="Sent">True when it was handed over.</param>
/// <param name="Problem">Why not, in words of the other side; null when it was sent.</param>
/// <param name="ForGood">True when trying again would not help: the other side refused this very message.</param>
public sealed record MailOutcome(bool Sent, string? Problem = null, bool ForGood = false)
{
    public static MailOutcome Done { get; } = new(true);
}

/// <summary>By which mail leaves.</summary>
public interface IMailTransport
{
    /// <summary>True where messages leave this machine.</summary>
    bool LeadsOutside { get; }

    /// <summary>Hands a message over, or says why it could not.</summary>
    /// <param name="id">The same for every try, so that nothing is delivered twice into a folder.</param>
    Task<MailOutcome> Send(MimeMessage message, Guid id, CancellationToken cancel);
}

/// <summary>The mail server that is set, before the folder; null for neither.</summary>
public static class MailTransports
{
    public static IMailTransport? Of(OutboxSettings settings) =>
        settings.Smtp is { Length: > 0 } server ? new SmtpTransport(new Uri(server))
        : settings.Folder is { Length: > 0 } folder ? new FolderTransport(folder)
        : null;
}

/// <summary>The shipped mail catcher: a Maildir, which any mail program can open.</summary>
public sealed class FolderTransport(string folder) : IMailTransport
{
    /// <summary>Makes the folders of a Maildir, as far as they are not there.</summary>
    public static void MakeMaildir(string folder)
    {
        foreach (var part in new[] { "tmp", "new", "cur" })
            Directory.CreateDirectory(Path.Combine(folder, part));
    }

    public bool LeadsOutside => false;

    public async Task<MailOutcome> Send(MimeMessage message, Guid id, CancellationToken cancel)
    {
        try
        {
            // The folder may be gone for a moment, as on a disk that is mounted anew.
            MakeMaildir(folder);
            var temporary = Path.Combine(folder, "tmp", $"{id}");
            await message.WriteToAsync(temporary, cancel);
            File.Move(temporary, Path.Combine(folder, "new", $"{id}.eml"), overwrite: true);
            return MailOutcome.Done;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return new MailOutcome(false, $"The folder for caught mail: {e.Message}");
        }
    }
}

/// <summary>A mail server, over SMTP. Port 465 is encrypted from the start, any other as the server offers.</summary>
public sealed class SmtpTransport(Uri server) : IMailTransport
{
    private const int EncryptedPort = 465;
    private const int UsualPort = 587;
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(30);

    public bool LeadsOutside => true;

    public async Task<MailOutcome> Send(MimeMessage message, Guid id, CancellationToken cancel)
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        limit.CancelAfter(Longest);
        try
        {
            using var client = new SmtpClient { Timeout = (int)Longest.TotalMilliseconds };
            var port = server.Port > 0 ? server.Port : UsualPort;
            await client.ConnectAsync(server.Host, port, port == EncryptedPort ? SecureSocketOptions.SslOnConnect : SecureSocketOptions.StartTlsWhenAvailable, limit.Token);
            if (server.UserInfo.Split(':') is [{ Length: > 0 } user, var password])
                await client.AuthenticateAsync(Uri.UnescapeDataString(user), Uri.UnescapeDataString(password), limit.Token);
            await client.SendAsync(message, limit.Token);
            // Taken already: a server that hangs up without a word has the message.
            await Leave(client, limit.Token);
            return MailOutcome.Done;
        }
        catch (SmtpCommandException e) when (e.ErrorCode is SmtpErrorCode.RecipientNotAccepted or SmtpErrorCode.MessageNotAccepted && (int)e.StatusCode >= 500)
        {
            return new MailOutcome(false, $"The mail server refused it: {e.Message}", ForGood: true);
        }
        catch (NotSupportedException)
        {
            return new MailOutcome(false, "The mail server offers no sign-in, and a name is set up for it.");
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            return new MailOutcome(false, $"The mail server did not answer within {Longest.TotalSeconds} seconds.");
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            return new MailOutcome(false, $"The mail server: {e.Message}");
        }
    }

    private static async Task Leave(SmtpClient client, CancellationToken cancel)
    {
        try
        {
            await client.DisconnectAsync(true, cancel);
        }
        catch (Exception e) when (e is IOException or OperationCanceledException or SmtpProtocolException or SmtpCommandException or System.Net.Sockets.SocketException)
        {
            // Nothing depends on how it ends.
        }
    }
}
