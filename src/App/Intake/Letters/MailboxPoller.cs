using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Npgsql;

namespace DapperLantern.App.Intake.Letters;

/// <summary>
/// Watches a Maildir, <c>Mailbox:Folder</c>, into which any mail server can deliver. A letter moves from new to cur once it is committed; one
/// that was kept before but not moved, because the process was killed between, is recognised and only moved.
/// </summary>
public sealed class MailboxPoller(IServiceScopeFactory scopes, MailboxSettings settings, ILogger<MailboxPoller> log) : Worker(log)
{
    private static readonly TimeSpan Look = TimeSpan.FromSeconds(2);
    private readonly string? _folder = settings.Folder;
    private readonly HashSet<string> _broken = [];

    protected override async Task Work(CancellationToken stop)
    {
        if (_folder is null)
            return;
        using var timer = new PeriodicTimer(Look);
        do foreach (var path in Waiting())
            await Take(path, stop);
        while (await timer.WaitForNextTickAsync(stop));
    }

    // The folder may be away for a moment; letters wait in it.
    private List<string> Waiting()
    {
        try
        {
            FolderTransport.MakeMaildir(_folder!);
            var found = Directory.EnumerateFiles(Path.Combine(_folder!, "new")).Where(p => !_broken.Contains(p)).Order(StringComparer.Ordinal).ToList();
            Tell(null);
            return found;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            if (_away != e.Message)
                Log.LogWarning("The mailbox folder cannot be read: {Problem}; it is looked at again", e.Message);
            _away = e.Message;
            Tell($"the mailbox folder cannot be read: {e.Message}");
            return [];
        }
    }

    private string? _away;

    private async Task Take(string path, CancellationToken cancel)
    {
        try
        {
            var name = Path.GetFileName(path);
            var bytes = new FileInfo(path).Length <= LetterFile.MostBytes ? await File.ReadAllBytesAsync(path, cancel) : new byte[LetterFile.MostBytes + 1];
            await scopes.With<LetterArrivals>(a => a.Take(name, bytes, cancel));
            File.Move(path, Path.Combine(_folder!, "cur", name.Contains(":2,", StringComparison.Ordinal) ? name : $"{name}:2,S"), overwrite: true);
        }
        catch (FileNotFoundException)
        {
            // Another process took it.
        }
        catch (Exception e) when (e is NpgsqlException or IOException or UnauthorizedAccessException)
        {
            Log.LogWarning(e, "A letter could not be taken in; it stays in the mailbox and is tried again");
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            // One letter must not stop the others; it is tried again after the next start.
            Log.LogError(e, "A letter breaks what reads it; it stays in the mailbox");
            _broken.Add(path);
        }
    }
}
