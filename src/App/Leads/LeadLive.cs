using System.Runtime.CompilerServices;
using System.Threading.Channels;
using Dapper;
using DapperLantern.App.Data;
using Npgsql;

namespace DapperLantern.App.Leads;

/// <summary>
/// Tells whoever looks at a lead that it changed, in whichever process it was changed. Changes of the table <c>lead</c> tell it by themselves (a trigger); whoever writes only around
/// a lead calls <see cref="Changed"/>. What is told is only that it changed: who is told reads it anew, with their own rights.
/// </summary>
public sealed class LeadLive(NpgsqlDataSource source, IHostApplicationLifetime life, ILogger<LeadLive> log) : BackgroundService
{
    public const string Channel = "lead_changed";

    private readonly Lock _gate = new();
    private readonly Dictionary<Guid, HashSet<ChannelWriter<bool>>> _watched = [];

    /// <summary>Tells it when the caller's transaction commits.</summary>
    public static Task Changed(NpgsqlConnection connection, Guid lead) => connection.ExecuteAsync("select pg_notify('lead_changed', @lead::text)", new { lead });

    /// <summary>Gives a sign at once, and at each change of a lead from then on; several changes at once give one. Ends when the program stops.</summary>
    public async IAsyncEnumerable<bool> Watch(Guid lead, [EnumeratorCancellation] CancellationToken cancel)
    {
        var signs = System.Threading.Channels.Channel.CreateBounded<bool>(new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropWrite });
        lock (_gate)
            (_watched.TryGetValue(lead, out var writers) ? writers : _watched[lead] = []).Add(signs.Writer);
        try
        {
            // What changed between reading the lead and watching it is not missed.
            yield return true;
            using var stop = CancellationTokenSource.CreateLinkedTokenSource(cancel, life.ApplicationStopping);
            while (await Next(signs.Reader, stop.Token))
                yield return true;
        }
        finally
        {
            lock (_gate)
                if (_watched.TryGetValue(lead, out var writers) && writers.Remove(signs.Writer) && writers.Count == 0)
                    _watched.Remove(lead);
        }
    }

    private static async Task<bool> Next(ChannelReader<bool> signs, CancellationToken cancel)
    {
        try
        {
            return await signs.ReadAsync(cancel);
        }
        catch (OperationCanceledException)
        {
            return false;
        }
    }

    protected override Task ExecuteAsync(CancellationToken stoppingToken) => Listening.Forever(source, Channel, Heard, _ => TellAll(), _ => Task.CompletedTask, log, stoppingToken);

    private void Heard(string told)
    {
        if (Guid.TryParse(told, out var lead))
            Tell(lead);
    }

    // What changed while nobody listened is not known, so all who look are told.
    private Task TellAll()
    {
        lock (_gate)
            foreach (var writer in _watched.Values.SelectMany(w => w))
                writer.TryWrite(true);
        return Task.CompletedTask;
    }

    private void Tell(Guid lead)
    {
        lock (_gate)
            if (_watched.TryGetValue(lead, out var writers))
                foreach (var writer in writers)
                    writer.TryWrite(true);
    }
}
