using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Intake.Forms;
using DapperLantern.Core.Matching;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Scoring;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake;

/// <summary>One person as typed while talking.</summary>
/// <param name="Facts">Written values by field key.</param>
/// <param name="Heat">How hot they seem: warm or hot; null when nothing was said of it.</param>
/// <param name="Consents">Purposes the person agreed to aloud.</param>
/// <param name="Key">Made by who sends; the same sheet sent twice is kept once.</param>
public sealed record NewLead(
    [Text(100)] string Source,
    [Count(1_000, Each = 10_000)] Dictionary<string, string> Facts,
    [Text(10_000)] string? Note = null,
    [Text(100)] string? Heat = null,
    [Count(100, Each = 100)] IReadOnlyList<string>? Consents = null,
    FollowUp? FollowUp = null,
    Guid? Key = null
);

/// <param name="Known">Why this was a lead already, to which everything was added; null for a new one.</param>
public sealed record LeadMade(Guid Id, int Number, string? Known);

/// <summary>Somebody we have who is like what is typed.</summary>
/// <param name="Kind">lead, contact or account.</param>
/// <param name="LeadId">For a lead.</param>
/// <param name="Same">True when saving would add to this lead.</param>
/// <param name="Known">What is told of somebody whose record the reader does not see; null where they see it.</param>
public sealed record LikeView(string Kind, Guid? LeadId, string Name, string Evidence, double Bits, bool Same, KnownView? Known = null);

/// <summary>Capturing one person at a time, by telephone or by hand.</summary>
public static class CaptureEndpoints
{
    private const int MostAlike = 6;

    private static readonly Dictionary<string, string> Heats = new() { ["warm"] = "call.warm", ["hot"] = "call.hot" };

    public static void MapCapture(this IEndpointRouteBuilder api)
    {
        var work = api.MapGroup("").Requires(Act.WorkLeads).WithTags("Intake");
        work.MapPost("/leads", Make).WithSummary("Capture one person: made or found, scored, routed, with consent and follow-up, at once");
        api.MapGet("/consent-purposes", (Workspace workspace) => TypedResults.Ok(workspace.ConsentPurposes.Select(p => new ChoiceView(p.Key, p.Label)).ToList()))
            .Requires(Act.SeeLeads)
            .WithTags("Intake")
            .WithSummary("What consent is asked for");
        work.MapGet("/leads/alike", Alike).WithSummary("Who we have that is like what is typed so far");
    }

    private static async Task<Results<Created<LeadMade>, Ok<LeadMade>, ProblemHttpResult>> Make(
        NewLead body,
        ClaimsPrincipal user,
        LanternDb db,
        Workspace workspace,
        ArrivalCapture capture,
        RecordScope scope,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var (facts, problem) = WrittenFacts.Read(body.Facts, workspace.Catalogue);
        if ((problem ?? RowReader.WhyUnfit(facts)) is { } wrong)
            return ApiProblems.Of(wrong);
        if (Check(body, workspace) is { } unfit)
            return ApiProblems.Of(unfit);
        if (await db.Set<SourceRow>().AsNoTracking().Where(x => x.Key == body.Source && !x.Retired).SingleOrDefaultAsync() is not { } source)
            return ApiProblems.Of("source-unknown", "source");
        await db.Database.CloseConnectionAsync();
        var captured = await capture.Take(Sheet(body, facts, source, user, scope, clock.UtcNow()), cancel);
        if (captured.OtherContent)
            return ApiProblems.Of("key-used");
        if (captured.State != SingleArrival.Taken)
            return captured.Outcome == SiftOutcome.Adds
                ? ApiProblems.Of("colleague-owns", "", new Whole(captured.Reason))
                : ApiProblems.Of("barred", "", new Whole(captured.Reason));
        var known =
            captured.Again ? "This sheet was kept already."
            : SiftOutcome.AddToLead.Contains(captured.Outcome) ? captured.Reason
            : null;
        var made = new LeadMade(captured.Lead!.Value, captured.Number, known);
        return known is null ? TypedResults.Created($"/api/leads/{made.Id}", made) : TypedResults.Ok(made);
    }

    private static NewArrival Sheet(NewLead body, RecordValues facts, SourceRow source, ClaimsPrincipal user, RecordScope scope, DateTime now) =>
        new(
            new SingleArrival
            {
                Id = Guid.CreateVersion7(),
                Channel = source.Channel,
                Source = source.Key,
                Campaign = source.Campaign,
                At = now,
                Raw = Json.Write(body),
                Key = body.Key,
            },
            facts,
            EventsOf(body, source, now),
            $"Came in through {source.Name}"
        )
        {
            Consents = [.. (body.Consents ?? []).Select(purpose => new ConsentSaid(purpose, "Said aloud", false))],
            Place = $"{source.Name}, taken by {user.Identity?.Name}",
            Note = body.Note,
            By = user.Id(),
            // Whoever qualifies answers the telephone for everybody; whoever sells works what is theirs.
            OwnOnly = user.WorksOwnOnly() && user.Rights().May(Act.WorkDeals) ? user.Id() : null,
            Seen = scope,
            FollowUp = body.FollowUp,
            DiscardUnlessLead = true,
        };

    /// <summary>A sheet that waited, read again to be taken in on a person's word; null where it can be read no more.</summary>
    public static async Task<NewArrival?> OfWaiting(LanternDb db, SingleArrival row, ClaimsPrincipal user, RecordScope scope, Workspace workspace)
    {
        var body = Json.Read<NewLead>(row.Raw);
        var (facts, problem) = WrittenFacts.Read(body.Facts, workspace.Catalogue);
        if (problem is not null || await db.Set<SourceRow>().AsNoTracking().Where(x => x.Key == row.Source).SingleOrDefaultAsync() is not { } source)
            return null;
        return Sheet(body, facts, source, user, scope, row.At) with { Raw = row, DiscardUnlessLead = false };
    }

    private static Problem? Check(NewLead body, Workspace workspace)
    {
        if (body.Heat is { } heat && !Heats.ContainsKey(heat))
            return Problem.Of("heat-unknown", "heat");
        if (body.Consents?.FirstOrDefault(c => workspace.ConsentPurposes.All(p => p.Key != c)) is { } purpose)
            return Problem.Of("purpose-unknown", "consents", purpose);
        return body.FollowUp is { } task && task.Subject.Trim().Length is 0 or > 200 ? Problem.Of("subject-missing", "followUp", 200) : null;
    }

    private static LeadEvent[] EventsOf(NewLead body, SourceRow source, DateTime now)
    {
        var arrival = new LeadEvent(source.EventKind, now.ToInstant(), source.Name);
        return body.Heat is { } heat ? [arrival, new LeadEvent(Heats[heat], now.ToInstant(), $"Seemed {heat} on the telephone")] : [arrival];
    }

    private static async Task<Results<Ok<List<LikeView>>, ProblemHttpResult>> Alike(
        string? email,
        string? phone,
        string? firstName,
        string? lastName,
        string? company,
        string? country,
        ClaimsPrincipal user,
        LanternDb db,
        RecordScope scope,
        ContactReadLimit limit,
        KnownAnswers answers,
        Workspace workspace
    )
    {
        // What is half typed cannot be read yet; it is left out, not refused.
        var facts = new RecordValues(workspace.Catalogue);
        var land = country is null ? null : Countries.Find(country);
        foreach (var (key, written) in new[] { ("email", email), ("phone", phone), ("first_name", firstName), ("last_name", lastName), ("company", company) })
            facts[key] = FieldReader.Read(workspace.Catalogue[key], written, land).Value;
        var asked = new Asked(0, new RowReading(facts, [], null), Identity.Of(facts));
        var people = await KnownPeople.Load(db, [asked], workspace);
        // Who has the very name is shown whatever else speaks against it: a person judges.
        var namesakes = (await KnownPeople.Namesakes(db, asked.Identity, workspace.Catalogue)).ToList();
        var ofName = namesakes.Select(p => p.Id).ToHashSet();
        var near = people.Near(asked).Concat(await Colleagues(db, asked.Identity)).Concat(namesakes).DistinctBy(p => p.Id);
        var compared = near.Select(p => (Person: p, Match: workspace.Matcher.Compare(asked.Identity, p.Identity)))
            .Where(p => p.Match.Bits > 0 || ofName.Contains(p.Person.Id))
            .OrderByDescending(p => p.Match.Bits)
            .ToList();
        Guid[] ids = [.. compared.Select(p => p.Person.Id)];
        var unseen = (await scope.Unseen(db, EventLog.Lead, ids)).Concat(await scope.Unseen(db, EventLog.Contact, ids)).ToHashSet();
        var found = compared.Where(p => !unseen.Contains(p.Person.Id)).Take(MostAlike).ToList();
        var hidden = await Hidden(db, scope, [.. found.Select(p => p.Person.Id)]);
        // By an address or number one learns here whose it is: so that a call is not taken twice, and not more often than that takes.
        var told = found.Where(p => hidden.Contains(p.Person.Id) && SharesContactData(p.Person.Identity, asked.Identity));
        if (await limit.Count(db, user, [.. told.Select(p => p.Person.Id)]) is { } much)
            return ApiProblems.Of(much);
        var alike = found.ConvertAll(p => Like(p.Person, p.Match, hidden.Contains(p.Person.Id)));
        // Of somebody who is not seen it is told that they are known, where it is them beyond doubt; of others nothing.
        foreach (var kind in new[] { KnownKind.Lead, KnownKind.Contact })
        {
            Guid[] same = [.. compared.Where(p => p.Person.Kind == kind && p.Match.Same && unseen.Contains(p.Person.Id)).Select(p => p.Person.Id)];
            var name = kind == KnownKind.Lead ? "lead" : "contact";
            var answered = await answers.Tell(db, user, name, same);
            alike.InsertRange(0, same.Select(id => new LikeView(name, null, "", answered.ContainsKey(id) ? "" : KnownAnswers.NoMore, 0, false, answered.GetValueOrDefault(id))));
        }
        if (scope.SeesAll("account") && people.AccountOf(asked) is { } account)
            alike.Add(new LikeView("account", null, account, "same web domain or name", 0, false));
        return TypedResults.Ok(alike);
    }

    private static bool SharesContactData(Identity known, Identity asked) =>
        (asked.Email.Length > 0 && known.Email == asked.Email) || (asked.Phone.Length > 0 && (known.Phone == asked.Phone || known.Mobile == asked.Phone));

    // Those of whom the reader is not shown addresses and numbers.
    private static async Task<HashSet<Guid>> Hidden(LanternDb db, RecordScope scope, Guid[] people) =>
        scope.HidesContactData
            ?
            [
                .. await db.Rows<Guid>(
                    $"""
                    select l.id as "Value" from lead l where l.id = any({people}) and not ({scope.Sees("lead", "l"):sql} and {scope.ShowsContactData("lead", "l"):sql})
                    union all select c.id from contact c where c.id = any({people}) and not ({scope.Sees("contact", "c"):sql} and {scope.ShowsContactData("contact", "c"):sql})
                    """
                ),
            ]
            : [];

    private static LikeView Like(KnownPerson person, MatchResult match, bool hidden) =>
        new(
            person.Kind == KnownKind.Lead ? "lead" : "contact",
            person.Kind == KnownKind.Lead ? person.Id : null,
            hidden && RecordScope.IsContactData(person.Name) ? "Somebody without a name" : person.Name,
            string.Join(", ", match.Evidence.Select(e => e.Words)),
            match.Bits,
            match.Same && person.Kind == KnownKind.Lead
        );

    // Leads of the same company, which the last name may make the same person.
    private static async Task<IEnumerable<KnownPerson>> Colleagues(LanternDb db, Identity identity)
    {
        if (identity.Company.Length < 3)
            return [];
        var found = await db.Set<Lead>()
            .TagWith("unscoped: whoever takes a call is told that we have them")
            .Where(l => l.CompanyKey == identity.Company)
            .OrderByDescending(l => l.LastTouchAt)
            .Take(50)
            .Select(l => new
            {
                l.Id,
                l.Number,
                Email = (string?)l["email"],
                Phone = (string?)l["phone"],
                Mobile = (string?)l["mobile"],
                First = (string?)l["first_name"],
                Last = (string?)l["last_name"],
            })
            .ToListAsync();
        return found.Select(l => new KnownPerson(
            KnownKind.Lead,
            l.Id,
            0,
            $"{l.Number} {l.First} {l.Last}".TrimEnd(),
            new Identity(l.Email ?? "", l.Phone ?? "", Folding.Plain(l.First), Folding.Plain(l.Last), identity.Company, l.Mobile ?? "")
        ));
    }
}
