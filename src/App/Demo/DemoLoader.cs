using DapperLantern.App.Data;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Routing;
using DapperLantern.App.Scoring;
using DapperLantern.App.Setup;
using DapperLantern.App.Starting;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Demo;

/// <summary>
/// Loads the demo company into an empty database: setup from the files, then leads through the same admission every
/// other way in uses, then what became of them. The same day gives the same demo.
/// </summary>
public sealed partial class DemoLoader(LanternDb db, WorkspaceConfiguration configuration, IServiceProvider services, TimeProvider clock, ILogger<DemoLoader> log)
{
    private const int Seed = 71;
    private const int Companies = 430;
    private const int LeadCount = 1150;

    /// <exception cref="FileNotFoundException">The folder lacks one of the demo's files.</exception>
    public async Task LoadIfEmpty(string folder)
    {
        if (await db.Users.AnyAsync())
            return;
        var now = clock.UtcNow();
        var names = DemoFiles.Read<DemoNames>(folder, "names.json");
        var setup = DemoFiles.Read<DemoSetup>(folder, "setup.json");
        var forms = DemoFiles.Read<List<SetForm>>(folder, "forms.json");
        await LoadSetup(folder, setup, now);
        new SetWriter(db, now.AddDays(-540)).Forms(forms);
        await db.SaveChangesAsync();
        // What works by the set-up is asked for only now that there is one.
        var workspace = await configuration.Load();

        await using var transaction = await db.Database.BeginTransactionAsync();
        await Admission.Lock(db);
        var invent = new DemoPeople(names, workspace.Catalogue, now, Seed);
        var leads = invent.Leads(invent.Companies(Companies), LeadCount);
        leads.AddRange(DemoShowcase.Leads(workspace.Catalogue, now));
        var outcomes = new DemoOutcomes(db, setup, names, now, Seed);
        foreach (var chunk in leads.OrderBy(l => l.At).Chunk(60))
        {
            await Admit(db, chunk, setup);
            await outcomes.Apply(db, chunk);
        }
        await DemoArrivals.Save(db, leads, setup, forms, now);
        await DemoArrivals.KeepWaiting(db, now);
        await DemoArrivals.KeepConsents(db, workspace.Hashes, leads, forms);
        await db.Run(
            $"""
            insert into lead_tag (lead_id, tag_key) select id, 'event-expo' from lead where source = 'list-expo'
              union all select id, 'event-webinar' from lead where source = 'list-webinar'
              union all select id, 'interest-algae' from lead where interest ilike '%algae%' or interest ilike '%bloom%' or interest ilike '%chlorophyll%'
            """
        );
        await DemoCampaigns.KeepResponses(db, setup, now);
        await outcomes.AddDeals();
        await db.SaveChangesAsync();
        await services.GetRequiredService<BatchRescorer>().All(db, now);
        await db.Set<CrossingRow>().Where(c => c.At < now.AddDays(-14)).ExecuteDeleteAsync();
        await transaction.CommitAsync();
        await DropLists(db, folder, now);
        await RunClocksOut(db, now);
        await PlanMeetings(db, setup, now);
        // What happened in the demo's past is told to nobody now.
        await db.Run($"delete from due where kind in (select listener from event_listener)");
        await db.Set<OutboxRow>().ExecuteUpdateAsync(s => s.SetProperty(o => o.SentAt, o => o.CreatedAt));
        await db.Database.ExecuteSqlRawAsync("analyze");
        log.LogInformation("The demo is loaded: {Leads} leads", leads.Count);
    }

    private async Task Admit(LanternDb db, DemoLead[] leads, DemoSetup setup)
    {
        var sources = setup.Sources.ToDictionary(s => s.Key);
        var desk = await RoutingContext.Open(db, leads[^1].At);
        var newcomers = leads.Select(l => new Newcomer(
            l.Id,
            l.Facts,
            l.Source,
            setup.CampaignAt(l.Source, l.At, clock.UtcNow()),
            null,
            l.At,
            l.Events,
            $"Came in through {sources[l.Source].Name}"
        ));
        await services.GetRequiredService<Admission>().Admit(db, [.. newcomers], desk, default);
        await desk.Close(db);
    }

    // Clocks run in working hours, so early on a Monday none would be near its end; the demo shows some on any day at any hour.
    private static Task RunClocksOut(LanternDb db, DateTime now) =>
        db.Run(
            $"update lead set clock_ran_out_at = clock_due_at where clock_due_at < {now.AddMinutes(50)}; update lead set clock_due_at = {now.AddMinutes(50)}, clock_ran_out_at = null where id in (select id from lead where state = 'new' and clock_due_at is not null order by created_at limit 4)"
        );

    // Some meetings, one of them over with nothing said of it yet; and something to do today for everybody who works leads.
    private static async Task PlanMeetings(LanternDb db, DemoSetup setup, DateTime now)
    {
        db.AddRange(setup.Resources.Select(r => new ResourceRow { Key = r.Key, Name = r.Name }));
        await db.SaveChangesAsync();
        await db.Run(
            $"""
            insert into meeting (id, lead_id, starts_at, ends_at, subject, place, goal, guests, people, made_by, version)
              select gen_random_uuid(), l.id, s.at, s.at + interval '90 minutes', (array['Site survey', 'Look at the pens', 'Talk about the offer'])[1 + l.n % 3], coalesce(l.city, ''),
                'See where a buoy could be moored', array[concat_ws(' ', l.first_name, l.last_name)], array[l.owner_id], l.owner_id, 1
              from (select *, row_number() over (order by number)::int - 1 as n from (select * from lead where state in ('in_work', 'qualified') and owner_id is not null order by number desc limit 14) x) l
              cross join lateral (select date_trunc('day', {now}::timestamptz) + (l.n - 1) * interval '1 day' + interval '9 hours' + (l.n % 4) * interval '105 minutes' as at) s;
            insert into booking (meeting_id, resource_key, starts_at, ends_at)
              select m.id, {setup.Resources[0].Key}, m.starts_at, m.ends_at from (select *, row_number() over (order by starts_at) as n from meeting) m where m.n % 3 = 1;
            insert into task (id, lead_id, owner_id, subject, due_at, repeat)
              select gen_random_uuid(), l.id, l.owner_id, (array['Send the price guide', 'Ask about the mooring', 'Call about the trial'])[1 + l.n % 3], date_trunc('day', {now}::timestamptz) + (8 + l.n % 8) * interval '1 hour',
                case when l.n % 3 = 0 then '1w' end
              from (select *, row_number() over (partition by owner_id order by number desc)::int as n from lead where state in ('in_work', 'qualified') and owner_id is not null) l where l.n <= 4;
            """
        );
        await FollowUps.Refresh(db, [.. await db.Set<Lead>().Where(x => x.OwnerId != null).Select(x => x.Id).ToListAsync()]);
    }

    // One list is taken in and left rows to mend; another waits in the services.GetRequiredService<Sieve>().
    private async Task DropLists(LanternDb db, string folder, DateTime now)
    {
        var marketer = db.Users.Local.First(p => p.Roles.Contains(ShippedRoles.Marketer)).Id;
        var circular = await Drop(db, folder, "harbour-circular.csv", "list-circular", marketer, now.AddDays(-2));
        await db.Set<Import>().Where(x => x.Id == circular).ExecuteUpdateAsync(s => s.SetProperty(x => x.State, "taking").SetProperty(x => x.StartedAt, now.AddHours(-1)));
        await services.GetRequiredService<TakeIn>().Run(db, circular, default);
        await Drop(db, folder, "algae-webinar.csv", "list-webinar", marketer, now.AddHours(-5));
    }

    private async Task<Guid> Drop(LanternDb db, string folder, string file, string source, Guid person, DateTime at)
    {
        await using var content = File.OpenRead(Path.Combine(folder, "lists", file));
        var (import, trouble) = await services.GetRequiredService<Imports>().Open(db, file, content, person, at, source);
        await Imports.Save(db, import ?? throw new InvalidOperationException($"{file}: {trouble!.Words}"), content, default);
        await services.GetRequiredService<Sieve>().Run(db, import.Id, at, default);
        return import.Id;
    }
}
