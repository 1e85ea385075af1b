using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;
using DapperLantern.App.Due;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Handing;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handing;

/// <summary>Open records of one kind that somebody holds.</summary>
/// <param name="Words">"3 deals".</param>
/// <param name="Ways">How they may be handed on, of <see cref="HandingWay"/>; the first is proposed.</param>
public sealed record HoldingView(string Kind, int Count, string Words, IReadOnlyList<HeldMoney> Money, IReadOnlyList<string> Ways);

/// <summary>What was handed on before.</summary>
/// <param name="EndsAt">The end of a leave.</param>
/// <param name="BackAt">When it was given back.</param>
public sealed record HandingLine(Guid Id, DateTime At, string? By, bool Leaves, DateTime? EndsAt, DateTime? BackAt, string Words);

/// <summary>All that somebody holds, and who could have it.</summary>
/// <param name="HasRules">True where a rule sheet is live.</param>
/// <param name="Rules">Names of the live rules that name them.</param>
/// <param name="Places">Names of the teams in which they have a place.</param>
/// <param name="Reports">Who reports to them.</param>
/// <param name="Tokens">Access tokens of theirs that are in use.</param>
public sealed record HoldingsView(
    Guid Id,
    string Name,
    bool Here,
    bool HasRules,
    IReadOnlyList<HoldingView> Kinds,
    IReadOnlyList<string> Rules,
    IReadOnlyList<string> Places,
    IReadOnlyList<string> Reports,
    int Tokens,
    bool HasCalendar,
    IReadOnlyList<Receiver> Receivers,
    IReadOnlyList<ChoiceView> Teams,
    IReadOnlyList<HandingLine> Before
);

/// <param name="Worth">Null where it is not money.</param>
public sealed record HeldRecordView(string Id, string Name, HeldMoney? Worth);

/// <summary>Letting people go, for good or for a time, with all they hold.</summary>
internal static class HandingEndpoints
{
    private const int ShownBefore = 20;

    public static void MapHanding(this IEndpointRouteBuilder api)
    {
        var manage = api.MapGroup("/setup").Requires(Act.ManagePeople).WithTags("People");
        manage.MapGet("/people/{id:guid}/holdings", Look).WithSummary("All that somebody holds, by kind, with counts and money");
        manage.MapGet("/people/{id:guid}/holdings/{kind}", Records).WithSummary("The open records of one kind that somebody holds");
        manage.MapPost("/people/{id:guid}/handing/look", Try).WithSummary("What a handing would give to whom; nothing is changed");
        manage.MapPost("/people/{id:guid}/handing", Hand).WithSummary("Hand on what somebody holds, and let them go where that is asked");
        manage.MapPost("/handings/{id:guid}/undo", Undo).WithSummary("Give back what was handed on and not changed since");
    }

    private static async Task<Results<Ok<HoldingsView>, ProblemHttpResult>> Look(Guid id, LanternDb db, Workspace workspace, HandingAsides asides, TimeProvider clock)
    {
        var now = clock.UtcNow();
        if (await db.Users.AsNoTracking().SingleOrDefaultAsync(p => p.Id == id) is not { } person)
            return ApiProblems.NotFound("person");
        List<HoldingView> kinds = [];
        foreach (var kind in HeldKind.All)
        {
            var held = await Held.Of(db, kind.Key, id, now);
            kinds.Add(new HoldingView(kind.Key, held.Count, HeldKind.Words(kind.Key, held.Count), HandingDesk.Money(held), kind.Ways));
        }
        var receivers = await Receivers.Read(db, workspace.Roles, person, now);
        var standing = await asides.Of(person);
        return TypedResults.Ok(
            new HoldingsView(
                id,
                person.DisplayName,
                person.Here,
                await workspace.HasRules(db),
                kinds,
                standing.Rules,
                standing.Places,
                standing.Reports,
                standing.Tokens,
                standing.HasCalendar,
                [.. receivers.All],
                receivers.Teams,
                await Before(db, id)
            )
        );
    }

    private static async Task<IReadOnlyList<HandingLine>> Before(LanternDb db, Guid person)
    {
        var handings = await (
            from h in db.Set<HandingRow>()
            where h.PersonId == person
            join p in db.Users on h.ById equals p.Id into people
            from p in people.DefaultIfEmpty()
            orderby h.At descending
            select new { Handing = h, By = (string?)p.DisplayName }
        )
            .Take(ShownBefore)
            .ToListAsync();
        var ids = handings.ConvertAll(h => h.Handing.Id);
        var counts = (
            await db.Set<HandingItemRow>()
                .Where(i => ids.Contains(i.HandingId))
                .GroupBy(i => new { i.HandingId, i.Kind })
                .Select(g => new
                {
                    g.Key.HandingId,
                    g.Key.Kind,
                    Count = g.Count(),
                })
                .ToListAsync()
        ).ToLookup(c => c.HandingId);
        return
        [
            .. handings.Select(h => new HandingLine(
                h.Handing.Id,
                h.Handing.At,
                h.By,
                h.Handing.Leaves,
                h.Handing.EndsAt,
                h.Handing.BackAt,
                string.Join(", ", HeldKind.All.SelectMany(k => counts[h.Handing.Id].Where(c => c.Kind == k.Key)).Select(c => HeldKind.Words(c.Kind, c.Count)))
            )),
        ];
    }

    private static async Task<Results<Ok<List<HeldRecordView>>, ProblemHttpResult>> Records(Guid id, string kind, LanternDb db, TimeProvider clock)
    {
        if (HeldKind.Find(kind) is null || !await db.Users.AnyAsync(p => p.Id == id))
            return ApiProblems.NotFound("person or kind");
        var held = await Held.Of(db, kind, id, clock.UtcNow());
        return TypedResults.Ok(
            held.ConvertAll(h => new HeldRecordView(h.Id, h.Name, h is { Currency: { } currency, Amount: { } amount } ? new HeldMoney(currency, amount) : null))
        );
    }

    private static async Task<Results<Ok<HandingView>, ProblemHttpResult>> Try(Guid id, HandingOrder body, ClaimsPrincipal user, HandingDesk desk) =>
        await desk.Do(id, body, user.Id(), look: true).Answer();

    private static async Task<Results<Ok<HandingView>, ProblemHttpResult>> Hand(Guid id, HandingOrder body, ClaimsPrincipal user, HandingDesk desk) =>
        await desk.Do(id, body, user.Id(), look: false).Answer();

    private static async Task<Results<Ok<HandedBack>, ProblemHttpResult>> Undo(Guid id, ClaimsPrincipal user, HandingBack back) => await back.Undo(id, user.Id()).Answer();
}

/// <summary>What somebody holds goes to others when they leave or are away.</summary>
internal sealed class HandingCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder) =>
        builder.Services.AddScoped<HandingDesk>().AddScoped<HandingAsides>().AddScoped<HandingBack>().AddSingleton<IDueWork, LeaveEnd>();

    public void MapEndpoints(WebApplication app, IEndpointRouteBuilder api) => api.MapHanding();

    public void MapEntities(ModelBuilder model) => model.MapHandingRows();

    public IReadOnlyList<RecordTable> Tables => HandingMapping.Tables;
}
