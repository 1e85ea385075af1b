using System.Collections.Immutable;
using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Intake.Http;
using DapperLantern.App.Intake.Letters;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Intake.Forms;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>A name and a value as they came.</summary>
public sealed record RawPart(string Name, string Value);

/// <summary>Something that came in by itself. <see cref="State"/>: taken, waiting or set_aside.</summary>
public sealed record SingleArrivalView(
    Guid Id,
    string Channel,
    string SourceName,
    string? FormKey,
    DateTime At,
    string State,
    IReadOnlyList<RawPart> Parts,
    IReadOnlyList<SpamReason> Reasons,
    Guid? LeadId,
    string? LeadName
);

/// <summary>What comes in one at a time: looking at it, and deciding on what waits.</summary>
public static class SingleArrivalEndpoints
{
    private const int Most = 100;

    public static void MapSingleArrivals(this IEndpointRouteBuilder api)
    {
        api.MapGet("/arrivals", List).Requires(Act.SeeIntake).WithTags("Intake").WithSummary("The latest arrivals, or those of a state, a channel or a form");
        var run = api.MapGroup("/arrivals/{id:guid}").Requires(Act.RunIntake).WithTags("Intake");
        run.MapPost("/take-in", TakeIn).WithSummary("Take in what waits, on a person's word");
        run.MapPost("/set-aside", (Guid id, LanternDb db) => Move(id, SingleArrival.Waiting, SingleArrival.SetAside, db)).WithSummary("Set aside what waits; it stays as it came");
        run.MapPost("/wait", (Guid id, LanternDb db) => Move(id, SingleArrival.SetAside, SingleArrival.Waiting, db)).WithSummary("Let what was set aside wait again");
    }

    private static async Task<Ok<List<SingleArrivalView>>> List(LanternDb db, RecordScope scope, string? state = null, string? form = null, string? channel = null)
    {
        var rows = await db.Set<SingleArrival>()
            .AsNoTracking()
            .Where(x => (state == null || x.State == state) && (form == null || x.FormKey == form) && (channel == null || x.Channel == channel))
            .OrderByDescending(x => x.At)
            .Take(Most)
            .ToListAsync();
        var found = rows.ToList();
        var sources = await db.Set<SourceRow>().Select(x => new { x.Key, x.Name }).ToDictionaryAsync(s => s.Key, s => s.Name);
        var ids = found.Select(f => f.LeadId).OfType<Guid>().Distinct().ToArray();
        var leads = (await db.Rows<LeadName>($"select l.id, {scope.LeadName("l"):sql} as name from lead l where l.id = any({ids}) and {scope.Sees("lead", "l"):sql}")).ToDictionary(
            l => l.Id,
            l => l.Name
        );
        return TypedResults.Ok(found.Select(f => View(f, sources, leads)).ToList());
    }

    private static SingleArrivalView View(SingleArrival row, Dictionary<string, string> sources, Dictionary<Guid, string> leads) =>
        new(
            row.Id,
            row.Channel,
            sources.GetValueOrDefault(row.Source, row.Source),
            row.FormKey,
            row.At,
            row.State,
            PartsOf(row),
            row.Reasons is null ? [] : Json.Read<ImmutableArray<SpamReason>>(row.Reasons),
            row.LeadId,
            row.LeadId is { } lead ? leads.GetValueOrDefault(lead) : null
        );

    private static IReadOnlyList<RawPart> PartsOf(SingleArrival row)
    {
        var raw = row.Channel switch
        {
            "form" or "mail" => Json.Read<Dictionary<string, string>>(row.Raw),
            "http" when row.State != SingleArrival.Taken => Json.Read<SentLead>(row.Raw).Facts,
            _ => new Dictionary<string, string>(),
        };
        return [.. raw.Where(p => p.Value.Length > 0).Select(p => new RawPart(p.Key, p.Value))];
    }

    private static async Task<Results<Ok<Captured>, ProblemHttpResult>> TakeIn(
        Guid id,
        LanternDb db,
        FormArrivals forms,
        LetterArrivals letters,
        MachineArrivals machines,
        ArrivalCapture capture,
        ClaimsPrincipal user,
        RecordScope scope,
        Workspace workspace,
        CancellationToken cancel
    )
    {
        var row = await db.Set<SingleArrival>().AsNoTracking().Where(x => x.Id == id).SingleOrDefaultAsync();
        if (row is null)
            return ApiProblems.NotFound("arrival");
        if (row.State == SingleArrival.Taken)
            return ApiProblems.Of("taken");
        var arriving = row.Channel switch
        {
            "form" => await forms.OfWaiting(db, row),
            "mail" => await letters.OfWaiting(db, row),
            "http" => await machines.OfWaiting(db, row),
            _ => await CaptureEndpoints.OfWaiting(db, row, user, scope, workspace),
        };
        if (arriving is null)
            return ApiProblems.Of("not-readable");
        await db.Database.CloseConnectionAsync();
        var captured = await capture.Take(arriving with { ApprovedManually = true }, cancel);
        if (captured.State.Length == 0)
            return ApiProblems.Of("moved");
        return captured.State == SingleArrival.Taken ? TypedResults.Ok(captured) : ApiProblems.Of("arrival-stays", "", new Whole(captured.Reason));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Move(Guid id, string from, string to, LanternDb db) =>
        await db.Set<SingleArrival>().Where(x => x.Id == id && x.State == from).ExecuteUpdateAsync(s => s.SetProperty(x => x.State, to)) == 0
            ? ApiProblems.Of("moved")
            : TypedResults.NoContent();

    private sealed record LeadName(Guid Id, string Name);
}
