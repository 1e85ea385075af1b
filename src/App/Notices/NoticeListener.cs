using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Rights;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Notices;

/// <summary>Writes the messages to us that follow from events into the outbox, from where they are shown at once and sent.</summary>
internal sealed class NoticeListener(WorkspaceConfiguration configuration) : EventListener
{
    public override string Kind => "notices";

    public override string Words => "Tell people what happened";

    public override IReadOnlyCollection<string> Heard => NoticeWords.Kinds;

    public override int Batch => 2_000;

    protected override async Task Hear(LanternDb db, IReadOnlyList<HeardEvent> heard, DateTime now, CancellationToken cancel)
    {
        var notices = NoticeWords.Of(heard, await Facts(db, heard, cancel));
        if (notices.Count == 0)
            return;
        var (ids, events) = (notices.Select(_ => Guid.CreateVersion7()).ToArray(), notices.Select(n => n.Event).ToArray());
        var (kinds, people, leads) = (notices.Select(n => n.Kind).ToArray(), notices.Select(n => n.To).ToArray(), notices.Select(n => n.Lead).ToArray());
        var (subjects, texts) = (notices.Select(n => n.Subject).ToArray(), notices.Select(n => n.Text).ToArray());
        await db.Run(
            $"""
            insert into outbox (id, kind, person_id, lead_id, event_id, subject, text, created_at, tries)
              select x.id, x.kind, x.person, x.lead, x.event, x.subject, x.text, {now}, 0
              from unnest({ids}, {kinds}, {people}, {leads}, {events}, {subjects}, {texts}) x(id, kind, person, lead, event, subject, text) join person p on p.id = x.person
              on conflict (event_id, person_id) where event_id is not null do nothing
            """,
            cancel
        );
    }

    private async Task<NoticeFacts> Facts(LanternDb db, IReadOnlyList<HeardEvent> heard, CancellationToken cancel)
    {
        var records = heard
            .Select(e => e.Record)
            .Concat(heard.Select(e => (e.Happening as HandedOver)?.Deal))
            .Concat(heard.Select(e => (e.Happening as HandedOn)?.Person))
            .Concat(heard.Where(e => e.Happening is AskedFor or AskAnswered).Select(e => e.By))
            .OfType<Guid>()
            .Distinct()
            .ToArray();
        var leads = await db.Rows<LeadFact>(
            $"""select id, {LeadRecord.NameSql:sql} as name, owner_id from lead where id = any({records}) {RecordScope.Unscoped("people are told of what concerns them"):sql}""",
            cancel
        );
        var deals = await db.Set<Deals.Deal>()
            .TagWith("unscoped: people are told of what concerns them")
            .Where(d => records.Contains(d.Id))
            .Select(d => new { d.Id, Deal = new NoticeDeal(d.Name, d.OwnerId, d.LeadId, d.PipelineKey) })
            .ToListAsync(cancel);
        var workspace = configuration.Current;
        var (told, administer) = (workspace.Roles.Where(r => r.ToldOfMissed), workspace.Roles.With(Act.ManagePeople));
        string[] concerned = [.. told, .. administer];
        var people = await db.Set<Person>()
            .Where(p => records.Contains(p.Id) || p.Here && p.Roles.Any(r => concerned.Contains(r)))
            .Select(p => new
            {
                p.Id,
                p.DisplayName,
                p.Roles,
                p.Here,
            })
            .ToListAsync(cancel);
        return new NoticeFacts(
            leads.ToDictionary(l => l.Id, l => new NoticeLead(l.Name, l.OwnerId)),
            deals.ToDictionary(d => d.Id, d => d.Deal with { Pipeline = workspace.Pipeline(d.Deal.Pipeline)?.Name ?? d.Deal.Pipeline }),
            people.ToDictionary(p => p.Id, p => p.DisplayName),
            [.. people.Where(p => p.Here && p.Roles.Intersect(told).Any()).Select(p => p.Id)],
            [.. people.Where(p => p.Here && p.Roles.Intersect(administer).Any()).Select(p => p.Id)]
        );
    }

    private sealed record LeadFact
    {
        public Guid Id { get; init; }
        public string Name { get; init; } = "";
        public Guid? OwnerId { get; init; }
    }
}
