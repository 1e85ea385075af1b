using System.Diagnostics;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Scoring;
using DapperLantern.Core.Scoring.Outcomes;

namespace DapperLantern.App.Scoring;

/// <summary>
/// Models held against outcomes. Read and computed anew each time while that is quick; where it takes long, outcomes and reports are remembered for some minutes: what was decided within two years does not change by the hour.
/// </summary>
public sealed class OutcomeReports(IServiceScopeFactory scopes, WorkspaceConfiguration configuration, Patience patience, TimeProvider clock)
{
    private const int Most = 20;
    private static readonly TimeSpan Quick = TimeSpan.FromMilliseconds(200);
    private static readonly TimeSpan Good = TimeSpan.FromMinutes(10);
    private readonly SemaphoreSlim _one = new(1);
    private readonly Dictionary<string, OutcomeReport> _reports = [];
    private List<LeadOutcome> _outcomes = [];
    private DateTime _until;

    public async Task<OutcomeReport> Of(LanternDb db, ScoringModel model, CancellationToken cancel)
    {
        var catalogue = configuration.Current.Catalogue;
        // Those remembered were read by an older set-up, maybe.
        var outcomes = (await Outcomes(db, cancel)).Select(o => o with { Known = o.Known.On(catalogue) }).ToList();
        var key = Json.Write(model);
        lock (_reports)
            if (_until > clock.UtcNow() && _reports.TryGetValue(key, out var known))
                return known;
        var report = OutcomeReport.Of(model, catalogue, outcomes);
        lock (_reports)
        {
            if (_reports.Count >= Most)
                _reports.Clear();
            return _reports[key] = report;
        }
    }

    /// <summary>What became of leads, as old as ten minutes where there are many.</summary>
    public async Task<IReadOnlyList<LeadOutcome>> Outcomes(LanternDb db, CancellationToken cancel)
    {
        // One reads; who asks meanwhile waits for what it finds.
        await _one.WaitAsync(cancel);
        try
        {
            if (_until > clock.UtcNow())
                return _outcomes;
            var watch = Stopwatch.StartNew();
            var outcomes = await scopes.With<OutcomeReader, List<LeadOutcome>>(r => r.Read(db, cancel));
            lock (_reports)
                _reports.Clear();
            if (watch.Elapsed > patience.For(Quick))
                (_outcomes, _until) = (outcomes, clock.UtcNow() + Good);
            return outcomes;
        }
        finally
        {
            _one.Release();
        }
    }
}
