using Dapper;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.Core.Intake.Forms;
using MimeKit;
using Npgsql;

namespace DapperLantern.App.Setup;

/// <summary>
/// Sends what waits in the outbox by the door the configuration names, see <see cref="MailDoors"/>. Rows are claimed with
/// a lock that other processes skip, so that none is sent twice at once; a row that fails is tried again, at most ten times.
/// </summary>
public sealed class OutboxDoor(NpgsqlDataSource source, IConfiguration configuration, PublicLinks links, TimeProvider clock, ILogger<OutboxDoor> log) : BackgroundService
{
    private readonly IMailDoor? _door = MailDoors.Of(configuration, log);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (_door is null)
            return;
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
            await connection.QueryAsync<Waiting>(
                """
                select o.id, o.subject, o.text, o.language, coalesce(p.display_name, '') as name, coalesce(p.email, o.to_email) as email, o.person_id is null as outside
                from outbox o left join person p on p.id = o.person_id
                where o.sent_at is null and o.tries < 10 order by o.created_at limit 100 for update of o skip locked
                """
            )
        ).ToList();
        foreach (var row in rows)
        {
            var sent = await Deliver(row, cancel);
            await connection.ExecuteAsync("update outbox set tries = tries + 1, sent_at = @at where id = @Id", new { row.Id, at = sent ? clock.UtcNow() : (DateTime?)null });
        }
        await transaction.CommitAsync(cancel);
        return rows.Count;
    }

    private sealed record Waiting(Guid Id, string Subject, string Text, string? Language, string Name, string Email, bool Outside);

    // Behind each mail to somebody outside stands the page on which they withdraw (headers: RFC 2369 and RFC 8058).
    private MimeMessage Write(Waiting row)
    {
        var withdraw = row.Outside ? links.Withdraw(row.Email, row.Language ?? "en") : null;
        var text = withdraw is null ? row.Text : $"{row.Text}\n\n-- \n{FormWords.Say(row.Language ?? "en", "withdraw-mail", withdraw)}\n";
        var message = new MimeMessage(
            [new MailboxAddress("Dapper Lantern", "lantern@tarnhollow.example")],
            [new MailboxAddress(row.Name, row.Email)],
            row.Subject,
            new TextPart("plain") { Text = text }
        )
        {
            MessageId = $"{row.Id}@tarnhollow.example",
        };
        if (withdraw is null)
            return message;
        message.Headers.Add(HeaderId.ListUnsubscribe, $"<{withdraw}>");
        message.Headers.Add(HeaderId.ListUnsubscribePost, "List-Unsubscribe=One-Click");
        return message;
    }

    private async Task<bool> Deliver(Waiting row, CancellationToken cancel)
    {
        try
        {
            using var message = Write(row);
            return await _door!.Send(message, row.Id, cancel);
        }
        catch (Exception e) when (e is FormatException or ArgumentException)
        {
            // An address that no mail can have is tried like the rest and then left; it must not hold up the others.
            log.LogWarning(e, "A message could not be written; it is tried again");
            return false;
        }
    }
}
