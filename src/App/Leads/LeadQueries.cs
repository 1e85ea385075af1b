using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Qualifying;
using DapperLantern.App.Rights;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Qualifying;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads;

/// <summary>Reading one lead whole.</summary>
public sealed class LeadQueries(Workspace workspace, RecordScope scope, LeadRescore rescore, Stories stories, TimeProvider clock)
{
    /// <summary>The clock as it stands; null when none runs.</summary>
    public static ClockView? Clock(DateTime? started, DateTime? due, WorkingHours? hours, DateTime now)
    {
        if (started is not { } from || due is not { } to || hours is null)
            return null;
        var left = hours.Between(now.ToInstant(), to.ToInstant());
        var whole = hours.Between(from.ToInstant(), to.ToInstant());
        var used = whole.TotalMinutes <= 0 ? 1 : 1 - left.TotalMinutes / whole.TotalMinutes;
        return new ClockView(to, (int)Math.Floor(left.TotalMinutes), Math.Round(used, 3));
    }

    /// <summary>One lead with everything its page shows; null when there is none.</summary>
    /// <param name="user">Who reads, to tell which notes they may correct.</param>
    public async Task<LeadSheet?> Sheet(LanternDb db, Guid id, ClaimsPrincipal? user = null)
    {
        var now = clock.UtcNow();
        if (await LeadStore.Load(db, id, workspace.Catalogue, now, scope) is not { } record)
            return null;
        var row = await db.One<LeadHead>(
            $"""
            select l.number, l.version, l.state, l.sub_state, l.wake_at, l.state_reason, l.owner_id, l.clock_started_at, l.clock_due_at, l.created_at, l.last_touch_at, l.qualification::text, l.pipeline, l.qualified_because, l.lost_to, l.provenance::text,
              s.name as source_name, c.name as campaign_name, p.display_name as owner_name, {scope.ShowsContactData("lead", "l"):sql} as shows_contact_data
            from lead l join source s on s.key = l.source left join campaign c on c.key = l.campaign left join person p on p.id = l.owner_id where l.id = {id}
              and {scope.Sees("lead", "l"):sql}
            """
        );
        var score = await rescore.Compute(db, record, await LeadStore.Events(db, id), now, f => !scope.Hides(f, row.ShowsContactData));
        var qualifying = Qualifying(row, record, now);
        scope.HideIn(record, row.ShowsContactData);
        var hours = row.OwnerId is { } owner ? workspace.Hours.GetValueOrDefault(owner) : null;
        return new LeadSheet(
            id,
            row.Number,
            row.Version,
            LeadRecord.NameOf(record, row.Number, row.ShowsContactData),
            Headline(record),
            row.State,
            row.SubState,
            row.WakeAt,
            row.StateReason,
            row.SourceName,
            row.CampaignName,
            row.OwnerId,
            row.OwnerName,
            Clock(row.ClockStartedAt, row.ClockDueAt, hours, now),
            row.CreatedAt,
            row.LastTouchAt,
            await Facts(db, record, row.Provenance, row.ShowsContactData),
            Score(score),
            await Trace(db, id),
            qualifying,
            await stories.Of(db, EventLog.Lead, id, row.ShowsContactData, user is null ? null : (user.Id(), user.May(Act.SetUp))),
            await TasksOf(db, "lead_id", id),
            row.State == LeadState.HandedOver ? await Became(db, id) : null,
            await MeetingEndpoints.Of(db, id),
            await Company(db, id)
        );
    }

    private static string? Headline(RecordValues record)
    {
        var work = string.Join(" at ", new[] { record.Text("job_title"), record.Text("company") }.Where(p => p is not null));
        var line = string.Join(", ", new[] { work, record.Text("city") }.Where(p => !string.IsNullOrEmpty(p)));
        return line.Length > 0 ? line : null;
    }

    private async Task<List<FactView>> Facts(LanternDb db, RecordValues record, string provenance, bool showsContactData)
    {
        var from = Json.Read<Dictionary<string, Provenance>>(provenance);
        var sources = db.Set<SourceRow>().Select(s => new { s.Key, s.Name });
        var people = db.Set<Person>().Select(p => new { Key = p.UserName!, Name = p.DisplayName });
        var names = (await sources.Concat(people).ToListAsync()).DistinctBy(n => n.Key).ToDictionary(n => n.Key, n => n.Name);
        return
        [
            .. workspace.Catalogue.Facts.Select(f =>
            {
                var value = record[f.Ordinal];
                var origin =
                    !value.IsKnown ? null
                    : (from.TryGetValue(f.Key, out var said) ? said.From : record.Text("source")) is { } key ? names.GetValueOrDefault(key, key)
                    : null;
                return FactView.Of(f, value.IsKnown ? value.ToString() : null, origin, hidden: scope.Hides(f, showsContactData));
            }),
        ];
    }

    private QualifyingView Qualifying(LeadHead row, RecordValues record, DateTime now)
    {
        var findings = QualifyEndpoints.Read(row.Qualification);
        if ((workspace.Pipeline(row.Pipeline) ?? workspace.Pipeline(null)) is not { } pipeline)
            return new QualifyingView("", "", [], [], null, null);
        return new QualifyingView(
            pipeline.Key,
            pipeline.Name,
            [.. pipeline.Questions.Select(q => new QuestionView(q.Key, q.Label, q.Hint, findings.Of(q.Key)))],
            pipeline.Threshold.Missing(record, now.ToInstant()),
            row.QualifiedBecause,
            workspace.Value(PickList.Competitors, row.LostTo)?.Label ?? row.LostTo
        );
    }

    private static ScoreView Score(LeadScore score) =>
        new(
            score.By.Model.Bars,
            score.Fit.Score,
            score.Fit.Low,
            score.Fit.High,
            score.Fit.Contributions,
            score.Fit.Unknown,
            score.Engagement.Score,
            score.Engagement.Contributions,
            score.NextMove,
            score.DropsUnder?.ToUtc(),
            score.By.Number,
            score.Fit.OpenVetoes,
            score.WouldClear,
            NextMove.Named(score.By.Model.Names).First(m => m.Key == score.NextMove).Label,
            Cleared.Of(score.NextMove).Headline,
            score.Curve
        );

    private static async Task<TraceView?> Trace(LanternDb db, Guid lead)
    {
        var found = await db.Set<RoutingDecisionRow>()
            .Where(d => d.LeadId == lead)
            .OrderByDescending(d => d.At)
            .ThenByDescending(d => d.Id)
            .Join(
                db.Set<Edition>(),
                d => d.Edition,
                e => e.Id,
                (d, e) =>
                    new
                    {
                        d.At,
                        e.Number,
                        d.Trace,
                    }
            )
            .FirstOrDefaultAsync();
        return found is { } f ? new TraceView(f.At, f.Number, Json.Read<List<TraceLine>>(f.Trace)) : null;
    }

    /// <summary>A record's next steps, open ones first, then those due first. <paramref name="column"/> is one of ours: lead_id or deal_id.</summary>
    public static async Task<List<TaskView>> TasksOf(LanternDb db, string column, Guid id) =>
        await db.Rows<TaskView>(
            $"select t.id, t.subject, t.due_at, t.done_at, t.owner_id, p.display_name as owner, t.repeat, t.urgent from task t join person p on p.id = t.owner_id where t.{column:sql} = {id} order by t.done_at is not null, t.urgent desc, t.due_at"
        );

    private async Task<List<ColleagueView>> Company(LanternDb db, Guid lead) =>
        await db.Rows<ColleagueView>(
            $"""
            select c.id, c.number, coalesce(nullif(trim(concat_ws(' ', c.first_name, c.last_name)), ''),
              case when {scope.ShowsContactData("lead", "c"):sql} then coalesce(c.email, c.phone) end, c.company) as name, c.state, p.display_name as owner, c.interest
            from lead l join lead c on c.company_key = l.company_key and c.id <> l.id left join person p on p.id = c.owner_id
            where l.id = {lead} and {scope.Sees("lead", "l"):sql} and {scope.Sees("lead", "c"):sql} order by c.state in ('disqualified', 'handed_over'), c.number desc limit 20
            """
        );

    /// <summary>What the lead became; null when it is not handed over.</summary>
    public async Task<BecameView?> Became(LanternDb db, Guid lead)
    {
        var found = await db.Row<BecameRow?>(
            $"""
            select h.id, h.made_account, h.account_id, {scope.NameBeside("account", "a"):sql} as account_name, h.contact_id,
              {scope.NameBeside("contact", "c"):sql} as contact_name, h.deal_id, {scope.NameBeside("deal", "d"):sql} as deal_name, h.carried::text as carried
            from handover h join contact c on c.id = h.contact_id join deal d on d.id = h.deal_id left join account a on a.id = h.account_id
            where h.lead_id = {lead} and h.taken_back_at is null
            """
        );
        return found is { } f
            ? new BecameView(
                f.Id,
                f.MadeAccount,
                f.AccountId,
                f.AccountName,
                f.ContactId,
                f.ContactName,
                f.DealId,
                f.DealName,
                f.Carried is { } carried ? Json.Read<Core.Handover.Carried>(carried) : null
            )
            : null;
    }

    private sealed record BecameRow
    {
        public Guid Id { get; init; }
        public bool MadeAccount { get; init; }
        public Guid? AccountId { get; init; }
        public string? AccountName { get; init; }
        public Guid ContactId { get; init; }
        public string ContactName { get; init; } = "";
        public Guid DealId { get; init; }
        public string DealName { get; init; } = "";
        public string? Carried { get; init; }
    }

    private sealed record LeadHead
    {
        public int Number { get; init; }
        public int Version { get; init; }
        public string State { get; init; } = "";
        public DateTime? WakeAt { get; init; }
        public string? StateReason { get; init; }
        public string? SubState { get; init; }
        public Guid? OwnerId { get; init; }
        public DateTime? ClockStartedAt { get; init; }
        public DateTime? ClockDueAt { get; init; }
        public DateTime CreatedAt { get; init; }
        public DateTime LastTouchAt { get; init; }
        public string Qualification { get; init; } = "{}";
        public string? Pipeline { get; init; }
        public string? QualifiedBecause { get; init; }
        public string? LostTo { get; init; }
        public string Provenance { get; init; } = "{}";
        public string SourceName { get; init; } = "";
        public string? CampaignName { get; init; }
        public string? OwnerName { get; init; }
        public bool ShowsContactData { get; init; }
    }
}
