using System.Diagnostics;
using System.Threading.Channels;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Intake.Forms;
using DapperLantern.Core.Scoring;

namespace DapperLantern.App.Intake;

/// <summary>Something to be done about a captured lead.</summary>
public sealed record FollowUp([Text(200)] string Subject, DateTime DueAt);

/// <summary>One person coming in by themselves, ready to be made or found.</summary>
/// <param name="Raw">Kept as it is, whatever becomes of it.</param>
/// <param name="Happened">What the person did, the arrival itself first.</param>
/// <param name="Words">How it came in, for the story: "Came in through Price guide".</param>
public sealed record NewArrival(SingleArrival Raw, RecordValues Facts, IReadOnlyList<LeadEvent> Happened, string Words)
{
    public IReadOnlyList<ConsentSaid> Consents { get; init; } = [];

    /// <summary>Where the consents were said.</summary>
    public string Place { get; init; } = "";

    /// <summary>Under which <see cref="ConsentRow.Ask"/> consents to be confirmed are kept.</summary>
    public Guid? Ask { get; init; }

    /// <summary>What they did about the campaign of <see cref="SingleArrival.Campaign"/>; null for what its kind suggests.</summary>
    public string? Response { get; init; }
    public string? Note { get; init; }

    /// <summary>As what the note stands in the story.</summary>
    public string NoteKind { get; init; } = "note";

    /// <summary>What came with it.</summary>
    public IReadOnlyList<Letters.ArrivalFileRow> Files { get; init; } = [];

    /// <summary>Who typed it; null for what came by itself.</summary>
    public Guid? By { get; init; }

    /// <summary>Who acts: of the request in which it came.</summary>
    public Acting Acting { get; init; } = Acting.Current;
    public FollowUp? FollowUp { get; init; }

    /// <summary>Mails that go out with it.</summary>
    public IReadOnlyList<OutboxRow> Mails { get; init; } = [];

    /// <summary>True when the people themselves ask: having withdrawn a consent bars nobody from asking.</summary>
    public bool SelfInitiated { get; init; }

    /// <summary>True for what waited, is kept already, and comes in because a person said so.</summary>
    public bool ApprovedManually { get; init; }

    /// <summary>Who may add to leads of their own and of nobody only; what turns out to concern somebody else's waits. Null for anyone and for what came by itself.</summary>
    public Guid? OwnOnly { get; init; }

    /// <summary>What whoever writes it sees: nothing is added by hand to a lead that they do not. Null for what nobody writes.</summary>
    public RecordScope? Seen { get; init; }

    /// <summary>True for what is kept only if it becomes a lead, because who sent it still has it and is told why not.</summary>
    public bool DiscardUnlessLead { get; init; }
}

/// <summary>What became of an arrival.</summary>
/// <param name="Again">True when the same thing had been kept before.</param>
/// <param name="OtherContent">True when its key had been used before for something else; nothing was done then.</param>
public sealed record Captured(Guid Arrival, string State, Guid? Lead, int Number, string Outcome, string Reason, bool Again, bool OtherContent = false);

/// <summary>
/// The way in for everything that comes one at a time. Those who arrive while others are being written go together into the next transaction,
/// so that many at once cost little more than one; each is answered only when its transaction is committed. One that breaks is tried by
/// itself, so that it breaks nobody else's.
/// </summary>
public sealed class ArrivalCapture([FromKeyedServices(ArrivalCapture.Source)] LanternDbFactory databases, IServiceScopeFactory scopes, ILogger<ArrivalCapture> log) : Worker(log)
{
    /// <summary>Key of the connections it writes by.</summary>
    public const string Source = "capture";

    /// <summary>At most so many in one transaction, so that none of them waits long.</summary>
    private const int MostTogether = 64;

    /// <summary>So long it is waited, at most, for as many as came together before: one transaction for all costs little more than for the first of them.</summary>
    private static readonly TimeSpan Gathering = TimeSpan.FromMilliseconds(5);

    private readonly Channel<Waiting> _waiting = Channel.CreateBounded<Waiting>(2048);

    /// <summary>Makes or finds the lead, with everything that belongs to it. Returns once it is committed.</summary>
    public async Task<Captured> Take(NewArrival arriving, CancellationToken cancel = default)
    {
        var waiting = new Waiting(arriving, new TaskCompletionSource<Captured>(TaskCreationOptions.RunContinuationsAsynchronously));
        await _waiting.Writer.WriteAsync(waiting, cancel);
        return await waiting.Done.Task;
    }

    protected override async Task Work(CancellationToken stop)
    {
        var together = new List<Waiting>(MostTogether);
        try
        {
            var before = 1;
            while (await _waiting.Reader.WaitToReadAsync(stop))
            {
                await Gather(together, before);
                before = together.Count;
                await Write(together, CancellationToken.None);
                together.Clear();
            }
        }
        finally
        {
            // Begun again after a fault, it goes on with those who wait.
            if (stop.IsCancellationRequested)
                _waiting.Writer.TryComplete();
            while (stop.IsCancellationRequested && _waiting.Reader.TryRead(out var left))
                left.Done.TrySetCanceled(CancellationToken.None);
        }
    }

    private async Task Gather(List<Waiting> together, int expected)
    {
        var until = Stopwatch.GetTimestamp() + (long)(Gathering.TotalSeconds * Stopwatch.Frequency);
        while (true)
        {
            while (together.Count < MostTogether && _waiting.Reader.TryRead(out var next))
                together.Add(next);
            if (together.Count >= expected || Stopwatch.GetTimestamp() > until)
                return;
            await Task.Delay(1, CancellationToken.None);
        }
    }

    private async Task Write(List<Waiting> together, CancellationToken cancel)
    {
        try
        {
            foreach (var (waiting, captured) in together.Zip(await WriteOnce(together, cancel)))
                waiting.Done.SetResult(captured);
        }
        catch (Exception e) when (together.Count > 1)
        {
            Log.LogWarning(e, "{Count} arrivals could not be written together; each is tried by itself", together.Count);
            foreach (var waiting in together)
                await Write([waiting], cancel);
        }
        catch (Exception e)
        {
            together[0].Done.SetException(e);
        }
    }

    private async Task<IReadOnlyList<Captured>> WriteOnce(List<Waiting> together, CancellationToken cancel)
    {
        await using var db = await databases.Open(cancel);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        await Admission.Lock(db);
        var captured = await scopes.With<CaptureBatch, IReadOnlyList<Captured>>(b => b.Write(db, [.. together.Select(w => w.Arriving)], cancel));
        await transaction.CommitAsync(cancel);
        return captured;
    }

    private sealed record Waiting(NewArrival Arriving, TaskCompletionSource<Captured> Done);
}
