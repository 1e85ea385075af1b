using Dapper;
using DapperLantern.App.Data;
using MimeKit;
using Npgsql;

namespace DapperLantern.App.Setup;

/// <summary>
/// Sends what waits in the outbox. Here it goes into a shipped mail catcher: a Maildir under <c>Outbox:Folder</c>. Rows are claimed with
/// a lock that other processes skip, so that none is sent twice at once; a row that fails is tried again, at most ten times.
/// </summary>
public sealed class OutboxDoor(NpgsqlDataSource source, IConfiguration configuration, TimeProvider clock, ILogger<OutboxDoor> log) : BackgroundService
{
    private readonly string? _folder = configuration["Outbox:Folder"];

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (_folder is null)
            return;
        foreach (var part in new[] { "tmp", "new", "cur" })
            Directory.CreateDirectory(Path.Combine(_folder, part));
        using var timer = new PeriodicTimer(TimeSpan.FromSeconds(5));
        while (await timer.WaitForNextTickAsync(stoppingToken))
            try
            {
                while (await SendSome(stoppingToken) > 0) { }
            }
            catch (NpgsqlException e)
            {
                log.LogWarning(e, "The outbox could not be read; it is tried again");
            }
    }

    private async Task<int> SendSome(CancellationToken cancel)
    {
        await using var connection = await source.OpenConnectionAsync(cancel);
        await using var transaction = await connection.BeginTransactionAsync(cancel);
        var rows = (
            await connection.QueryAsync<(Guid Id, string Subject, string Text, string Name, string Email)>(
                """
                select o.id, o.subject, o.text, p.display_name, p.email from outbox o join person p on p.id = o.person_id
                where o.sent_at is null and o.tries < 10 order by o.created_at limit 100 for update of o skip locked
                """
            )
        ).ToList();
        foreach (var row in rows)
        {
            var sent = await Deliver(row.Id, row.Subject, row.Text, new MailboxAddress(row.Name, row.Email), cancel);
            await connection.ExecuteAsync("update outbox set tries = tries + 1, sent_at = @at where id = @Id", new { row.Id, at = sent ? clock.UtcNow() : (DateTime?)null });
        }
        await transaction.CommitAsync(cancel);
        return rows.Count;
    }

    private async Task<bool> Deliver(Guid id, string subject, string text, MailboxAddress to, CancellationToken cancel)
    {
        using var message = new MimeMessage([new MailboxAddress("Dapper Lantern", "lantern@tarnhollow.example")], [to], subject, new TextPart("plain") { Text = text });
        message.MessageId = $"{id}@tarnhollow.example";
        var temporary = Path.Combine(_folder!, "tmp", $"{id}");
        try
        {
            await message.WriteToAsync(temporary, cancel);
            File.Move(temporary, Path.Combine(_folder!, "new", $"{id}.eml"), overwrite: true);
            return true;
        }
        catch (IOException e)
        {
            log.LogWarning(e, "A message could not be delivered; it is tried again");
            return false;
        }
    }
}
