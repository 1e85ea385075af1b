using DapperLantern.App.Data;
using DapperLantern.App.Intake;
using DapperLantern.App.Intake.Lists;
using DapperLantern.App.Leads;
using DapperLantern.App.Scoring;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Routing;
using Npgsql;

namespace DapperLantern.App.Routing;

/// <summary>A list played through a sheet, against the live one.</summary>
/// <param name="Aside">Rows that intake would set aside, so nobody gets them.</param>
/// <param name="Named">Row and name of each lead whose change is told.</param>
public sealed record ListPlayed(ReplayResult Result, int Aside, IReadOnlyDictionary<Guid, (int Row, string Name)> Named);

/// <summary>Plays leads through a sheet: the last that came in, or those of a list. Reads only; nothing is written.</summary>
public sealed class RoutingTrials(Workspace workspace, Imports imports, Sieve sieve, Admission admission)
{
    public const int MostLeads = 100_000;

    private const int Batch = 5000;

    private static readonly string[] Scores = ["fit", "engagement", "next_move"];

    // What tells who owns something already, and whom a rule may pass over.
    private static readonly string[] Also = ["company", "website", "email", "last_name", "street", "postal_code", "country", "region", "language", .. Scores];

    /// <param name="last">How many of the last leads.</param>
    public async Task<ReplayResult> Run(LanternDb db, RuleSheet sheet, RoutingContext desk, int last, CancellationToken cancel)
    {
        var catalogue = workspace.Catalogue;
        var rules = new LiveRules(default, 0, new Router(sheet, catalogue));
        var course = new Course(rules.Router, desk.State);
        var fields = rules.Asked.Concat(Also).Distinct().Select(catalogue.Find).OfType<FieldDefinition>().ToList();
        foreach (var batch in (await Read(db, fields, last, cancel)).Chunk(Batch))
        {
            var keys = batch.Select(l => ExistingOwnerKeys.Of(l.Lead.Facts)).ToList();
            // Which leads of a company were open then is told by the play itself.
            var standing = new ExistingOwners();
            await standing.Find(db, keys, leads: false);
            for (var i = 0; i < batch.Length; i++)
                course.Play(batch[i].Lead, keys[i], standing.For(keys[i], batch[i].Lead.At.ToUtc()), batch[i].OpenUntil);
        }
        return course.Replay.Result();
    }

    /// <summary>Each row as if it were somebody new, scored by the live model; what it is compared with is what the live sheet would do.</summary>
    /// <param name="person">Who tries it.</param>
    public async Task<(ListPlayed? Played, Problem? Trouble)> Run(
        LanternDb db,
        RuleSheet sheet,
        RoutingContext desk,
        string fileName,
        Stream content,
        Guid person,
        DateTime now,
        CancellationToken cancel
    )
    {
        var (import, trouble) = await imports.Open(db, fileName, content, person, now);
        if (import is null)
            return (null, trouble);
        var (reading, plan) = (Json.Read<ListReading>(import.Reading), Json.Read<SiftPlan>(import.Plan));
        var reader = new RowReader(workspace.Catalogue, plan with { Columns = sieve.Settle(content, reading, plan) });
        var (tried, live) = (new Course(new Router(sheet, workspace.Catalogue), desk.State), new Course((await workspace.Rules(db)).Router, desk.State));
        var (aside, named) = (0, new Dictionary<Guid, (int, string)>());
        foreach (var rows in ListFile.Open(content, reading).Rows.Take(MostLeads).Chunk(Batch))
        {
            cancel.ThrowIfCancellationRequested();
            var fit = rows.Select(r => SiftedRow.Read(reader, r.Number, Sieve.Clean(r.Cells), r.Broken)).Where(r => r.Asked.Reading.Unfit is null).ToList();
            aside += rows.Length - fit.Count;
            var leads = (
                await admission.Score(db, fit.Select(r => new Newcomer(Guid.CreateVersion7(), r.Asked.Reading.Values, import.Source ?? "", null, null, now, [], "")))
            ).ConvertAll(s => s.Row);
            var keys = leads.ConvertAll(l => ExistingOwnerKeys.Of(l.Facts));
            var standing = new ExistingOwners();
            await standing.Find(db, keys);
            for (var i = 0; i < leads.Count; i++)
            {
                var lead = new ReplayLead(leads[i].Id, leads[i].Facts, now.ToInstant(), [], null);
                var owners = standing.For(keys[i]);
                var then = live.Play(lead, keys[i], owners, DateTime.MaxValue).Owner;
                if (tried.Play(lead with { Owner = then }, keys[i], owners, DateTime.MaxValue).Owner != then && named.Count < Replay.MostChanges)
                    named[lead.Id] = (fit[i].Asked.Row, LeadRecord.NameOf(lead.Facts));
            }
        }
        return (new ListPlayed(tried.Replay.Result(), aside, named), null);
    }

    // The way of leads through one sheet, in which the first of a company's leads makes its taker the owner of those that come while it is open.
    private sealed class Course(Router router, RoutingState state)
    {
        private readonly Dictionary<string, (ExistingOwner Owner, DateTime Until)> _companies = [];

        public Replay Replay { get; } = new(router, state);

        public RoutingDecision Play(ReplayLead lead, ExistingOwnerKeys keys, IReadOnlyList<ExistingOwner> standing, DateTime openUntil)
        {
            var company = keys.Organisation.Name;
            var open = company.Length > 0 && _companies.TryGetValue(company, out var had) && had.Until > lead.At.ToUtc() ? had : default;
            var decision = Replay.Play(lead with { Standing = open.Owner is null ? standing : [.. standing, open.Owner] });
            if (company.Length > 0 && decision.Owner is { } owner)
                _companies[company] = open.Owner is null ? (ExistingOwners.OfCompany(owner), openUntil) : open with { Until = Max(open.Until, openUntil) };
            return decision;
        }

        private static DateTime Max(DateTime a, DateTime b) => a > b ? a : b;
    }

    private async Task<List<(ReplayLead Lead, DateTime OpenUntil)>> Read(LanternDb db, List<FieldDefinition> fields, int last, CancellationToken cancel)
    {
        var columns = string.Concat(fields.Select(f => $", {(Scores.Contains(f.Key) ? $"l.{f.Key}" : ScoringStream.Column(f))}"));
        return await db.Read(
            $"""
            select l.id, l.created_at, d.owner_id, case when l.state not in ('new', 'in_work', 'qualified') then l.last_touch_at end{columns:sql}
              from (select * from lead order by created_at desc, id desc limit {Math.Clamp(last, 1, MostLeads)}) l
              left join lateral (select owner_id from routing_decision d where d.lead_id = l.id order by d.at, d.id limit 1) d on true
             order by l.created_at, l.id
            """,
            row =>
            {
                var facts = new RecordValues(workspace.Catalogue);
                for (var i = 0; i < fields.Count; i++)
                    if (!row.IsDBNull(4 + i))
                        facts[fields[i].Ordinal] = ScoringStream.Value(row, 4 + i, fields[i]);
                var lead = new ReplayLead(row.GetGuid(0), facts, row.GetDateTime(1).ToInstant(), [], row.IsDBNull(2) ? null : row.GetGuid(2));
                return (lead, row.IsDBNull(3) ? DateTime.MaxValue : row.GetDateTime(3));
            },
            cancel
        );
    }

    /// <summary>How many days an open lead stays open on average: those open over those that come in a day (Little 1961); 0 while none come in.</summary>
    public static async Task<double> DaysOpen(LanternDb db, DateTime now) =>
        await db.One<double>(
            $"""
            select coalesce((select sum(open) from rep_load)::float8 / nullif(count(*)::float8 / 90, 0), 0) as "Value"
              from routing_decision where at > {now.AddDays(-90)} and moment = 'arrival' and owner_id is not null
            """
        );
}
