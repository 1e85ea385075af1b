using System.Runtime.CompilerServices;
using System.Threading.Channels;
using Npgsql;

namespace DapperLantern.App.Data;

/// <summary>
/// Gives signs to whoever watches something that has an id, in whichever process it was told of (NOTIFY with the id). A sign says only that something happened: who gets one reads
/// anew, with their own rights.
/// </summary>
public abstract class ChangeFeed(NpgsqlDataSource source, string channel, IHostApplicationLifetime life, ILogger log) : Worker(log)
{
    private readonly Lock _gate = new();
    private readonly Dictionary<Guid, HashSet<ChannelWriter<bool>>> _watched = [];

    /// <summary>Gives a sign at once, and at each telling from then on; several at once give one. Ends when the program stops.</summary>
    public async IAsyncEnumerable<bool> Watch(Guid id, [EnumeratorCancellation] CancellationToken cancel)
    {
        var signs = Channel.CreateBounded<bool>(new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropWrite });
        lock (_gate)
            (_watched.TryGetValue(id, out var writers) ? writers : _watched[id] = []).Add(signs.Writer);
        try
        {
            // What happened between reading and watching is not missed.
            yield return true;
            using var stop = CancellationTokenSource.CreateLinkedTokenSource(cancel, life.ApplicationStopping);
            while (await Next(signs.Reader, stop.Token))
                yield return true;
        }
        finally
        {
            lock (_gate)
                if (_watched.TryGetValue(id, out var writers) && writers.Remove(signs.Writer) && writers.Count == 0)
                    _watched.Remove(id);
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

    protected override Task Work(CancellationToken stop) => DatabaseListener.Forever(source, channel, Heard, _ => TellAll(), _ => Task.CompletedTask, Log, stop);

    private void Heard(string told)
    {
        if (Guid.TryParse(told, out var id))
            Publish(id);
    }

    // What was told while nobody listened is not known, so all who watch get a sign.
    private Task TellAll()
    {
        lock (_gate)
            foreach (var writer in _watched.Values.SelectMany(w => w))
                writer.TryWrite(true);
        return Task.CompletedTask;
    }

    private void Publish(Guid id)
    {
        lock (_gate)
            if (_watched.TryGetValue(id, out var writers))
                foreach (var writer in writers)
                    writer.TryWrite(true);
    }
}
