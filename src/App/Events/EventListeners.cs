using System.Buffers.Binary;
using DapperLantern.App.Data;
using DapperLantern.App.Due;
using DapperLantern.Core.Events;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Events;

/// <summary>Which kinds of events a listener hears. The trigger of the log goes by it.</summary>
public sealed class EventListenerRow
{
    public string Kind { get; set; } = "";
    public string Listener { get; set; } = "";
}

/// <summary>Key of an event, as one that waits to be heard has it in <c>due</c>; the same as the function <c>event_key</c>.</summary>
/// <param name="At">To the microsecond.</param>
internal readonly record struct EventKey(DateTime At, long Id)
{
    public static EventKey Of(Guid key)
    {
        Span<byte> bytes = stackalloc byte[16];
        key.TryWriteBytes(bytes, bigEndian: true, out _);
        return new EventKey(DateTime.UnixEpoch.AddMicroseconds(BinaryPrimitives.ReadInt64BigEndian(bytes)), BinaryPrimitives.ReadInt64BigEndian(bytes[8..]));
    }
}

/// <summary>
/// What follows from events. Each event of its kinds waits for it in <c>due</c> and is heard once, soon after it is committed; not in the order of commit. Of events that fail together each is
/// tried by itself.
/// </summary>
public abstract class EventListener : IDueWork
{
    public abstract string Kind { get; }

    public abstract string Words { get; }

    public abstract int Batch { get; }

    /// <summary>Keys of the kinds of events that it hears.</summary>
    public abstract IReadOnlyCollection<string> Heard { get; }

    /// <summary>Does what follows, in the caller's transaction.</summary>
    /// <param name="heard">In the order of their moments.</param>
    protected abstract Task Hear(LanternDb db, IReadOnlyList<HeardEvent> heard, DateTime now, CancellationToken cancel);

    public async Task<int> Do(LanternDb db, Guid[] keys, DateTime now, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        // Several processes hear beside each other; each event is heard by one.
        var mine = (
            await db.Rows<Guid>($"""select key as "Value" from due where kind = {Kind} and key = any({keys}) and at <= {now} order by key for update skip locked""", cancel)
        ).ToArray();
        if (mine.Length == 0)
            return 0;
        await Hear(db, await Read(db, mine, cancel), now, cancel);
        await db.Set<DueRow>().Where(d => d.Kind == Kind && mine.Contains(d.Key)).ExecuteDeleteAsync(cancel);
        await transaction.CommitAsync(cancel);
        return mine.Length;
    }

    private static async Task<IReadOnlyList<HeardEvent>> Read(LanternDb db, Guid[] keys, CancellationToken cancel)
    {
        var of = keys.Select(EventKey.Of).ToList();
        var (moments, ids, first, last) = (of.Select(k => k.At).ToArray(), of.Select(k => k.Id).ToArray(), of.Min(k => k.At), of.Max(k => k.At));
        // The bounds name the months that are looked at.
        var rows = await db.Rows<Row>(
            $"""
            select e.id, e.at, e.kind, e.record_kind, e.record, e.by_id, e.cause, e.said::text as said, e.personal::text as personal
            from unnest({moments}, {ids}) k(at, id) join event e on e.at = k.at and e.id = k.id where e.at >= {first} and e.at <= {last} order by e.at, e.id
            """,
            cancel
        );
        return
        [
            .. from r in rows
            let happening = EventLog.Read(r.Kind, EventLog.Whole(r.Said, r.Personal))
            where happening is not null
            select new HeardEvent(r.Id, r.At, r.ById, r.Cause is Acting.Bulk or Acting.BulkUndo or Acting.Import or Acting.Handing, r.RecordKind, r.Record, happening),
        ];
    }

    private sealed record Row
    {
        public long Id { get; init; }
        public DateTime At { get; init; }
        public string Kind { get; init; } = "";
        public string? RecordKind { get; init; }
        public Guid? Record { get; init; }
        public Guid? ById { get; init; }
        public string Cause { get; init; } = "";
        public string Said { get; init; } = "{}";
        public string? Personal { get; init; }
    }
}

/// <summary>Lets the listeners hear what happened, as soon as it is committed; what failed is heard with the other due work.</summary>
public sealed class EventListenerWorker(LanternDbFactory databases, NpgsqlDataSource source, IEnumerable<IDueWork> works, TimeProvider clock, ILogger<EventListenerWorker> log)
    : Worker(log)
{
    /// <summary>Tells the database which kinds are heard. Before anything happens that is to be heard.</summary>
    internal static async Task Register(LanternDb db, IEnumerable<EventListener> listeners)
    {
        var wanted = listeners.SelectMany(l => l.Heard.Select(k => (Kind: k, Listener: l.Kind))).ToList();
        var (kinds, names) = (wanted.Select(w => w.Kind).ToArray(), wanted.Select(w => w.Listener).ToArray());
        await db.Run(
            $"""
            insert into event_listener (kind, listener) select * from unnest({kinds}, {names}) on conflict do nothing;
            delete from event_listener where (kind, listener) not in (select * from unnest({kinds}, {names}));
            """
        );
    }

    protected override async Task Work(CancellationToken stop)
    {
        using var wake = new SemaphoreSlim(0);
        Task Wake(CancellationToken _)
        {
            if (wake.CurrentCount == 0)
                wake.Release();
            return Task.CompletedTask;
        }
        await Task.WhenAll(DatabaseListener.Forever(source, "event_heard", _ => { }, Wake, Wake, Log, stop), WhileThereIs(Step, wake, stop));
    }

    private async Task<bool> Step(CancellationToken cancel)
    {
        var heard = 0;
        foreach (var listener in works.OfType<EventListener>())
            heard += await DueSteps.WorkOff(databases, listener, clock, cancel, cancel);
        return heard > 0;
    }
}
