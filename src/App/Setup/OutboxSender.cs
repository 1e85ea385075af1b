using DapperLantern.App.Campaigns;
using DapperLantern.App.Company;
using DapperLantern.App.Data;
using DapperLantern.Core.Events;
using DapperLantern.Core.Intake.Forms;
using Microsoft.EntityFrameworkCore;
using MimeKit;

namespace DapperLantern.App.Setup;

/// <summary>
/// Sends what waits in the outbox by the door there is, see <see cref="MailDoors"/>; while there is none, it waits. A row is claimed, sent and marked by itself, no transaction open
/// while the mail server is spoken to: a process that ends in the midst leaves at most that one in doubt. A row that fails is tried again after a
/// pause that grows, for three days; then it is given up and waits on the Desk.
/// </summary>
public sealed class OutboxSender(
    LanternDbFactory databases,
    MailDoors doors,
    WorkspaceConfiguration configuration,
    PublicLinks links,
    TimeProvider clock,
    ILogger<OutboxSender> log
) : Worker(log)
{
    /// <summary>A message that was not taken for so long is given up.</summary>
    public static readonly TimeSpan GivenUpAfter = TimeSpan.FromDays(3);

    // Begun and neither sent nor put off: the process ended. It is sent again, with the same Message-ID.
    private static readonly TimeSpan InDoubt = TimeSpan.FromMinutes(5);

    /// <summary>The pause after so many failed tries, from 1: a minute, doubled, at most a day.</summary>
    public static TimeSpan PauseAfter(int tries) => TimeSpan.FromMinutes(Math.Min(24 * 60, Math.Pow(2, Math.Clamp(tries - 1, 0, 20))));

    protected override Task Work(CancellationToken stop) =>
        Every(
            TimeSpan.FromSeconds(2),
            async cancel =>
            {
                while (doors.Current() is { } door && await SendOne(door, cancel) && !stop.IsCancellationRequested) { }
            },
            stop
        );

    private async Task<bool> SendOne(MailDoor door, CancellationToken cancel)
    {
        if (await Claim(cancel) is not { } row)
            return false;
        var outcome = await Deliver(row, door, cancel);
        if (!outcome.Sent)
            Log.LogWarning("A message could not be sent at try {Tries}: {Problem}", row.Tries, outcome.Problem);
        // What the mail server has taken is marked even when the host stops meanwhile.
        await Mark(row, outcome, CancellationToken.None);
        return true;
    }

    private async Task<Waiting?> Claim(CancellationToken cancel)
    {
        var now = clock.UtcNow();
        var doubtful = now - InDoubt;
        await using var db = await databases.Open(cancel);
        return await db.Row<Waiting>(
            $"""
            with next as (
              select id from outbox where sent_at is null and given_up_at is null and coalesce(next_at, created_at) <= {now} and (claimed_at is null or claimed_at < {doubtful})
              order by coalesce(next_at, created_at) limit 1 for update skip locked),
            claimed as (update outbox o set claimed_at = {now}, tries = tries + 1 from next where o.id = next.id returning o.*)
            select o.id, o.subject, o.text, o.language, o.created_at, o.tries, coalesce(p.display_name, '') as name, coalesce(p.email, o.to_email, '') as email, o.person_id is null as outside,
              coalesce(p.time_zone, 'UTC') as zone, l.id as lead, l.company, l.country, l.interest
            from claimed o left join person p on p.id = o.person_id left join lead l on l.id = o.lead_id and o.person_id is not null
            """
        );
    }

    private async Task Mark(Waiting row, MailOutcome outcome, CancellationToken cancel)
    {
        var now = clock.UtcNow();
        var over = !outcome.Sent && (outcome.ForGood || now - row.CreatedAt > GivenUpAfter);
        await using var db = await databases.Open(cancel);
        DateTime? sent = outcome.Sent ? now : (DateTime?)null;
        DateTime? next = outcome.Sent || over ? (DateTime?)null : now + PauseAfter(row.Tries);
        await db.Set<OutboxRow>()
            .Where(x => x.Id == row.Id && x.ClaimedAt != null)
            .ExecuteUpdateAsync(s =>
                s.SetProperty(x => x.ClaimedAt, (DateTime?)null)
                    // A one-time address is nobody's but the receiver's.
                    .SetProperty(x => x.Text, x => x.Kind == OutboxRow.WayIn && sent != null ? "" : x.Text)
                    .SetProperty(x => x.SentAt, sent)
                    .SetProperty(x => x.GivenUpAt, (over ? now : (DateTime?)null))
                    .SetProperty(x => x.NextAt, next)
                    .SetProperty(x => x.Problem, outcome.Problem)
            );
    }

    private sealed record Waiting(
        Guid Id,
        string Subject,
        string Text,
        string? Language,
        DateTime CreatedAt,
        int Tries,
        string Name,
        string Email,
        bool Outside,
        string Zone,
        Guid? Lead,
        string? Company,
        string? Country,
        string? Interest
    );

    // Behind each mail to somebody outside stands the page on which they withdraw (headers: RFC 2369 and RFC 8058).
    private MimeMessage Write(Waiting row, MailboxAddress sender)
    {
        var withdraw = row.Outside ? links.Withdraw(row.Email, row.Language ?? "en") : null;
        var text = !row.Outside ? ToUs(row) : $"{row.Text}\n\n-- \n{string.Join("\n", Below(row, withdraw))}\n";
        var message = new MimeMessage([sender], [new MailboxAddress(row.Name, row.Email)], row.Subject, new TextPart("plain") { Text = text })
        {
            MessageId = $"{row.Id}@{sender.Domain}",
        };
        if (withdraw is null)
            return message;
        message.Headers.Add(HeaderId.ListUnsubscribe, $"<{withdraw}>");
        message.Headers.Add(HeaderId.ListUnsubscribePost, "List-Unsubscribe=One-Click");
        return message;
    }

    // Who writes, and from where; and how one is left in peace.
    private IEnumerable<string> Below(Waiting row, string? withdraw)
    {
        var company = configuration.Current.Company;
        if (company.Name.Length > 0)
            yield return string.Join(", ", company.Address.Prepend(company.Name));
        if (withdraw is not null)
            yield return FormWords.Say(row.Language ?? "en", "withdraw-mail", withdraw);
    }

    // One of us is told what they need to answer at once: company, words, and the way to the lead.
    private string ToUs(Waiting row)
    {
        var lines = new List<string> { MomentText.Shown(row.Text, row.Zone) };
        if (row.Lead is { } lead)
        {
            var from = string.Join(", ", new[] { row.Company, row.Country is null ? null : Core.Fields.Countries.NameOf(row.Country) ?? row.Country }.OfType<string>());
            lines.AddRange(new[] { from, row.Interest is null ? "" : $"\u201c{row.Interest}\u201d", $"{links.Address}/leads/{lead}" }.Where(l => l.Length > 0));
        }
        return string.Join("\n\n", lines);
    }

    private async Task<MailOutcome> Deliver(Waiting row, MailDoor door, CancellationToken cancel)
    {
        // Caught mail leaves nobody in doubt about who sent it; real mail needs an address that answers reach.
        if (door.Sender is null && door.Transport.LeadsOutside)
            return new MailOutcome(false, "No sender address is set up, so nothing is sent.");
        try
        {
            using var message = Write(row, door.Sender ?? new MailboxAddress("Dapper Lantern", "lantern@caught.invalid"));
            return await door.Transport.Send(message, row.Id, cancel);
        }
        catch (Exception e) when (e is FormatException or ArgumentException)
        {
            return new MailOutcome(false, $"\u201c{row.Email}\u201d is no address that mail can be sent to.", ForGood: true);
        }
    }
}
