using System.Globalization;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Events;
using DapperLantern.App.Handover;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Qualifying;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Demo;

/// <summary>What became of the demo's leads: states, notes, finished tasks, and accounts, contacts and deals of those handed over.</summary>
public sealed class DemoOutcomes(LanternDb db, DemoSetup setup, DemoNames names, DateTime now, int seed)
{
    private readonly Random _random = new(seed + 1);
    private readonly Random _handovers = new(seed + 2);
    private readonly List<(DemoLead Lead, Guid? Owner, DateTime At)> _handedOver = [];
    private readonly Dictionary<string, Account> _accounts = [];

    /// <summary>Moves a chunk of admitted leads to where they stand today, before the next chunk is routed.</summary>
    public async Task Apply(LanternDb db, DemoLead[] leads)
    {
        var ids = leads.Select(l => l.Id).ToArray();
        var owners = await db.Set<Lead>().Where(x => ids.Contains(x.Id)).Select(x => new { x.Id, x.OwnerId }).ToDictionaryAsync(o => o.Id, o => o.OwnerId);
        var states = leads.Select(l => State(l, owners[l.Id])).ToArray();
        var touched = leads
            .Select(
                (l, i) =>
                    states[i] == LeadState.New ? l.At
                    : states[i] == LeadState.HandedOver ? Handover(l)
                    : Touch(l)
            )
            .ToArray();
        for (var i = 0; i < leads.Length; i++)
            if (states[i] != LeadState.New)
                AppendActivity(leads[i], owners[leads[i].Id], touched[i]);
        var again = now.AddDays(2);
        await db.Run(
            SqlText.Joined([EventLog.Because(new Why(Why.ByHand)), .. leads.Select((l, i) => Move(l.Id, owners[l.Id], states[i], touched[i])), Now, EventLog.Because(null)])
        );
        await db.Run(
            $"""
            update task t set done_at = l.last_touch_at from lead l
              where l.id = t.lead_id and l.id = any({ids}) and (l.state in ('handed_over', 'disqualified', 'on_hold') or (l.state = 'in_work' and l.number % 4 = 0));
            update task t set subject = 'Call again', due_at = {again} from lead l where l.id = t.lead_id and l.id = any({ids}) and t.done_at is null and l.state in ('in_work', 'qualified');
            """
        );
        await FollowUps.Refresh(db, ids);
        _handedOver.AddRange(leads.Zip(states, touched).Where(l => l.Second == LeadState.HandedOver).Select(l => (l.First, owners[l.First.Id], l.Third)));
    }

    // Each change stands in the log at its own time, by the lead's owner.
    private SqlText Move(Guid lead, Guid? owner, string state, DateTime at) =>
        $"""
            {Then(at, owner):sql};
            update lead l set state = {state}, last_touch_at = {at}, clock_due_at = case when {state} = 'new' then clock_due_at end,
              wake_at = case when {state} = 'on_hold' then {now} + (l.number * 7 % 150 + 3) * interval '1 day' end,
              state_reason = case when {state} = 'disqualified' then (array['no_match', 'went_silent', 'too_dear', 'went_silent', 'chose_another', 'budget_moved', 'declined'])[l.number % 7 + 1] end,
              qualification = case when {state} in ('qualified', 'handed_over') then {Json.Write(Findings)}::jsonb else qualification end
              where l.id = {lead}
            """;

    private static SqlText Then(DateTime at, Guid? by)
    {
        var moment = at.AddTicks(-(at.Ticks % 10)).ToString("O", CultureInfo.InvariantCulture);
        return $"select set_config('lantern.at', {moment}, true); {EventLog.Telling(new Acting(by, by is null ? Acting.System : Acting.Person)):sql}";
    }

    private SqlText Now => Then(now, null);

    private DateTime Handover(DemoLead lead)
    {
        var at = lead.At.AddDays(4 + _handovers.NextDouble() * 16);
        return at < now ? at : now.AddDays(-1);
    }

    private static Findings Findings { get; } =
        new()
        {
            ["need"] = new(Certainty.Confirmed, "has to report oxygen by the hour"),
            ["budget"] = new(Certainty.Weak, "in next year's plan"),
            ["authority"] = new(Certainty.Confirmed, "signs up to 50 000"),
        };

    private string State(DemoLead lead, Guid? owner)
    {
        var days = (now - lead.At).TotalDays;
        if (lead.Facts.Text("email") is "ragna@fjordnaer.example")
            return LeadState.Qualified;
        var dice = _random.NextDouble();
        if (days < 1.5)
            return LeadState.New;
        if (owner is null)
            return days > 20 ? LeadState.Disqualified : LeadState.New;
        if (days < 25)
            return dice < 0.8 ? LeadState.InWork
                : dice < 0.88 ? LeadState.Qualified
                : LeadState.OnHold;
        var fit = (double)lead.Facts["fit"].Number;
        if (dice < 0.02 + fit / 100 * 0.4 + Math.Min(lead.Events.Count, 12) * 0.014)
            return LeadState.HandedOver;
        return _random.NextDouble() switch
        {
            < 0.75 => LeadState.Disqualified,
            < 0.86 => LeadState.OnHold,
            _ => LeadState.InWork,
        };
    }

    private DateTime Touch(DemoLead lead)
    {
        var touch = lead.At.AddDays(0.2 + _random.NextDouble() * 9);
        return touch < now ? touch : now.AddHours(-_random.NextDouble() * 6);
    }

    private void AppendActivity(DemoLead lead, Guid? person, DateTime at)
    {
        Add(lead, at.AddMinutes(-20), "call", names.Notes[_random.Next(names.Notes.Length)], person);
        if (_random.Next(2) == 0)
            Add(lead, at.AddMinutes(-10), "note", names.Notes[_random.Next(names.Notes.Length)], person);
    }

    private void Add(DemoLead lead, DateTime at, string kind, string text, Guid? person) =>
        db.Add(
            new StoryEntry
            {
                Id = Guid.CreateVersion7(),
                LeadId = lead.Id,
                At = at < lead.At ? lead.At.AddMinutes(1) : at,
                Kind = kind,
                Text = text,
                PersonId = person,
            }
        );

    /// <summary>Adds what the handed-over leads became.</summary>
    public async Task AddDeals()
    {
        var deals = _handedOver.ConvertAll(h => AddDeal(h.Lead, h.Owner, h.At));
        var accounts = _accounts.Values.ToList();
        for (var i = 0; i < 110; i++)
            AddColleague(accounts[_random.Next(accounts.Count)], i);
        // A deal begins in the first stage of its pipeline, and moves on when its time has come.
        var became = deals.ConvertAll(d => (Deal: d, d.StageKey, d.ClosedAt, d.LostReason));
        foreach (var deal in deals)
            (deal.StageKey, deal.ClosedAt, deal.LostReason) = (setup.Pipelines.First(p => p.Key == deal.PipelineKey).Stages.First(s => s.Counts == "open").Key, null, null);
        await db.SaveChangesAsync();
        foreach (var part in became.OrderBy(b => b.ClosedAt ?? b.Deal.StageSince).Chunk(100))
            await db.Run(
                SqlText.Joined(
                    part.Select<(Deal Deal, string StageKey, DateTime? ClosedAt, string? LostReason), SqlText>(b =>
                        $"{Then(b.ClosedAt ?? b.Deal.StageSince, b.Deal.OwnerId):sql}; update deal set stage_key = {b.StageKey}, closed_at = {b.ClosedAt}, lost_reason = {b.LostReason} where id = {b.Deal.Id}"
                    )
                )
            );
        foreach (var part in deals.Zip(_handedOver, (deal, handed) => (deal, handed.Lead)).Chunk(100))
            await db.Run(SqlText.Joined(part.SelectMany(d => Handed(d.deal, d.Lead))));
        await db.Run(Now);
        await db.Run(
            $"""
            insert into event (at, kind, record_kind, record, by_id, cause, said)
              select s.at, 'noted', 'lead', s.lead_id, s.person_id, 'person', jsonb_build_object('entry', s.id, 'what', s.kind) from story_entry s where s.lead_id is not null
            """
        );
        await db.Run(
            $"""
            insert into deal_person (id, deal_id, contact_id, role, at)
              select gen_random_uuid(), d.id, d.contact_id, case when row_number() over (order by d.created_at, d.name) % 3 = 0 then 'user' else 'decision_maker' end, d.created_at from deal d;
            insert into deal_stage (id, deal_id, stage_key, since, person_id)
              select gen_random_uuid(), d.id, f.key, d.created_at, d.owner_id from deal d join lateral (select key from stage where pipeline_key = d.pipeline_key and counts = 'open' order by position limit 1) f on f.key <> d.stage_key
              union all select gen_random_uuid(), d.id, d.stage_key, coalesce(d.closed_at, d.stage_since), d.owner_id from deal d;
            update account a set kinds = array['customer'] where exists (select 1 from deal d join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key where d.account_id = a.id and s.counts = 'won');
            update contact c set kind = 'customer' from account a where a.id = c.account_id and 'customer' = any(a.kinds);
            update account set segments = array[case facts->>'industry' when 'fish_farming' then 'inshore' when 'port' then 'harbours' when 'water_utility' then 'drinking_water' else 'inland' end]
              where facts->>'industry' in ('fish_farming', 'port', 'water_utility', 'marina_trust', 'research');
            update contact c set reports_to = b.id from (select distinct on (account_id) account_id, id from contact where account_id is not null order by account_id, created_at, name) b
              where b.account_id = c.account_id and b.id <> c.id;
            insert into deal_product (id, deal_id, position, product_key, quantity, price)
              select gen_random_uuid(), d.id, 1, p.key, greatest(1, round(d.amount / r.amount)), r.amount from deal d join product p on position(lower(p.name) in lower(d.facts->>'interest')) > 0
                join price r on r.product_key = p.key and r.currency = d.currency where p.position < 2;
            insert into deal_competitor (deal_id, competitor, note) select d.id, 'kelpline', 'has the neighbouring site' from deal d join stage s on s.pipeline_key = d.pipeline_key and s.key = d.stage_key
              where s.key = 'offer' order by d.created_at, d.name limit 4;
            """
        );
        await db.Run(
            $"update story_entry s set deal_id = h.deal_id, contact_id = h.contact_id, account_id = h.account_id from handover h where h.lead_id = s.lead_id; update task t set deal_id = h.deal_id, contact_id = h.contact_id from handover h where h.lead_id = t.lead_id"
        );
    }

    private static SqlText[] Handed(Deal deal, DemoLead lead)
    {
        using var acting = Acting.As(new Acting(deal.OwnerId, Acting.Person));
        var facts = lead.Facts.Known().Count();
        return
        [
            Then(deal.CreatedAt, deal.OwnerId),
            EventLog.Sql(EventLog.Lead, [lead.Id], new HandedOver(deal.Id, deal.ContactId, deal.AccountId, facts, facts, [], false, deal.Name)),
        ];
    }

    private Deal AddDeal(DemoLead lead, Guid? owner, DateTime at)
    {
        var account = lead.Facts["company"].IsKnown ? AccountOf(lead, owner, at) : null;
        var contact = MakeContact(lead, account, owner, at);
        var deal = MakeDeal(lead, account, contact, owner, at);
        db.Add(contact);
        db.Add(deal);
        db.Add(
            new HandoverRow
            {
                Id = Guid.CreateVersion7(),
                LeadId = lead.Id,
                AccountId = account?.Id,
                ContactId = contact.Id,
                DealId = deal.Id,
                MadeContact = true,
                MadeAccount = account?.CreatedAt == at,
                At = at,
                PersonId = owner ?? Guid.Empty,
            }
        );
        return deal;
    }

    private Account AccountOf(DemoLead lead, Guid? owner, DateTime at)
    {
        var organisation = Organisation.Of(lead.Facts);
        if (_accounts.TryGetValue(organisation.Domain, out var known))
            return known;
        var account = new Account
        {
            Id = Guid.CreateVersion7(),
            Name = lead.Facts.Text("company")!,
            CompanyKey = organisation.Name,
            Domain = organisation.Domain,
            Country = lead.Facts.Text("country"),
            OwnerId = owner,
            CreatedAt = at,
            Facts = Landed(lead, TargetRecord.Account),
        };
        db.Add(account);
        return _accounts[organisation.Domain] = account;
    }

    private static Contact MakeContact(DemoLead lead, Account? account, Guid? owner, DateTime at) =>
        new()
        {
            Id = Guid.CreateVersion7(),
            AccountId = account?.Id,
            Name = LeadRecord.NameOf(lead.Facts),
            Email = lead.Facts.Text("email"),
            Phone = lead.Facts.Text("phone"),
            OwnerId = owner,
            CreatedAt = at,
            Facts = Landed(lead, TargetRecord.Contact),
        };

    private Deal MakeDeal(DemoLead lead, Account? account, Contact contact, Guid? owner, DateTime at)
    {
        var pipeline = setup.Pipelines[_random.Next(4) == 0 ? 1 : 0];
        var closes = at.AddDays(20 + _random.NextDouble() * 85);
        var stages = pipeline.Stages.ToList();
        var closed = closes < now.AddDays(-_random.Next(14)) && _random.Next(30) > 0;
        if (!closed && closes > now)
            closes = now.AddDays(2 + _random.NextDouble() * 175);
        var won = closed && _random.NextDouble() < 0.24 + (double)lead.Facts["fit"].Number / 250;
        var open = stages.Where(s => s.Counts == "open").ToList();
        var amount = Math.Round((decimal)(3200 * Math.Exp(_random.NextDouble() * 3.1)) / 100) * 100;
        var month = DateOnly.FromDateTime(closes);
        return new Deal
        {
            Id = Guid.CreateVersion7(),
            Name = DealName(lead, month),
            PipelineKey = pipeline.Key,
            StageKey = closed ? stages.First(s => s.Counts == (won ? "won" : "lost")).Key : open[_random.Next(open.Count)].Key,
            Amount = pipeline.Key == "service" ? Math.Round(amount / 400) * 100 : amount,
            Currency = "EUR",
            ExpectedClose = month,
            AccountId = account?.Id,
            ContactId = contact.Id,
            OwnerId = owner,
            LeadId = lead.Id,
            Source = lead.Source,
            Campaign = lead.Facts.Text("campaign"),
            CreatedAt = at,
            StageSince = at.AddDays((now - at).TotalDays * 0.5),
            ClosedAt = closed ? closes : null,
            LostReason = closed && !won ? Core.Leads.LeadState.Reasons[_random.Next(Core.Leads.LeadState.Reasons.Length)].Key : null,
            Facts = Landed(lead, TargetRecord.Deal),
        };
    }

    private static string DealName(DemoLead lead, DateOnly closes) =>
        Core.Deals.NameConvention.Write(
            Core.Deals.NameConvention.Usual,
            place =>
                place switch
                {
                    "account" => lead.Facts.Text("company") ?? LeadRecord.NameOf(lead.Facts),
                    "product" => lead.Facts.Text("interest"),
                    "month" => closes.ToString("MMMM yyyy", CultureInfo.InvariantCulture),
                    _ => null,
                }
        );

    private void AddColleague(Account account, int number)
    {
        var place = names.Places[account.Country is { } c && names.Places.ContainsKey(c) ? c : "GB"];
        var (first, last) = (place.First[_random.Next(place.First.Length)], place.Last[_random.Next(place.Last.Length)]);
        db.Add(
            new Contact
            {
                Id = Guid.CreateVersion7(),
                AccountId = account.Id,
                Name = $"{first} {last}",
                Email = $"office{number}@{account.Domain}",
                OwnerId = account.OwnerId,
                CreatedAt = account.CreatedAt,
                Facts = Json.Write(
                    new Dictionary<string, string>
                    {
                        ["first_name"] = first,
                        ["last_name"] = last,
                        ["email"] = $"office{number}@{account.Domain}",
                    }
                ),
            }
        );
    }

    private static string Landed(DemoLead lead, TargetRecord on)
    {
        var sheet = HandoverPlanner.Plan(lead.Facts, new HandoverTargets(null, null));
        return Json.Write(sheet.Lines.Where(l => l.On == on && l.Field is not ("source" or "campaign")).ToDictionary(l => l.Field, l => l.Stored));
    }
}
