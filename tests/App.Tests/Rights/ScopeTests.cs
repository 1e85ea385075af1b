using System.Net;
using System.Text.RegularExpressions;
using Dapper;
using DapperLantern.App.Handover;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Search;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Rights;
using DapperLantern.Tests.Shared;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.App.Tests.Rights;

/// <summary>What a person may see, held by what they are shown: whatever is asked, in whatever way, the same records and the same contact data.</summary>
public sealed partial class ScopeTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private const int Sample = 60;

    private TestServer Server => fixture.Server;

    /// <summary>A record of the sample with whose it is.</summary>
    private sealed record Owned(Guid Id, Guid? Owner, string? Email, string? Phone, int Number, string Name);

    /// <summary>Who sees what by the rules in words, computed apart from the SQL.</summary>
    private sealed class Oracle(Guid me, HashSet<Guid> team, HashSet<Guid> reports, HashSet<Guid> shared)
    {
        public bool Sees(Reach reach, Owned record) =>
            reach.HasFlag(Reach.All)
            || (reach.HasFlag(Reach.Unowned) && record.Owner is null)
            || (reach.HasFlag(Reach.Own) && record.Owner == me)
            || (reach.HasFlag(Reach.Team) && record.Owner is { } t && team.Contains(t))
            || (reach.HasFlag(Reach.Reports) && record.Owner is { } r && reports.Contains(r))
            || (reach.HasFlag(Reach.Shared) && shared.Contains(record.Id));
    }

    [Fact]
    public async Task ListsCountsSearchPagesAndExportsAgreeForEveryReach()
    {
        await using var server = await TestServer.Start("--Reading:PeoplePerHour=1000000");
        await using var connection = await server.Connect();
        await Prepare(connection);
        await server.Services.GetRequiredService<WorkspaceConfiguration>().Changed();
        var (leads, contacts, deals) = (await Leads(connection), await Contacts(connection), await Deals(connection));
        var scopes = server.Services.GetRequiredService<RecordScopes>();
        var people = new[] { "tor.vik", "ingrid.brekke" };
        var clients = new Dictionary<string, TestClient>();
        foreach (var name in people)
            clients[name] = await server.SignIn(name);
        var random = new Random(11);
        var drawn = Enumerable.Range(0, 8).Select(_ => ((Reach)random.Next(64), (Reach)random.Next(64), random.Next(people.Length)));
        // Each reach by itself, too.
        foreach (var (reach, contactData, who) in drawn.Concat(Enum.GetValues<Reach>().Select(r => (r, r, 0))))
        {
            scopes.Records = (_, _) => reach;
            scopes.ContactData = _ => contactData;
            var client = clients[people[who]];
            var oracle = await OracleOf(connection, client.Session.Id);
            var why = $"{people[who]}: sees {reach}, contact data {contactData}";
            await LeadsAgree(client, leads, r => oracle.Sees(reach, r), r => oracle.Sees(contactData, r), why);
            await OthersAgree(client, contacts, deals, r => oracle.Sees(reach, r), r => oracle.Sees(contactData, r), why);
        }
    }

    private static async Task Prepare(NpgsqlConnection connection)
    {
        var people = (await connection.QueryAsync<Guid>("select id from person where here order by user_name")).ToArray();
        var (tor, ingrid) = (
            await connection.QuerySingleAsync<Guid>("select id from person where user_name = 'tor.vik'"),
            await connection.QuerySingleAsync<Guid>("select id from person where user_name = 'ingrid.brekke'")
        );
        // Of every record one that is mine, a team mate's, a report's, a report's report's, somebody's, nobody's.
        await connection.ExecuteAsync(
            """
            insert into tag (key, name, group_name, colour, retired) values ('scope', 'Scope', '', 'slate', false);
            with few as (select id, row_number() over (order by number) as n from lead where state <> 'handed_over' and email is not null order by number limit @Sample)
            update lead l set owner_id = case when s.n % 7 = 0 then null else @people[(s.n % cardinality(@people)) + 1] end, email = 'scope' || s.n || '@hidden.example', phone = '+4790' || lpad(s.n::text, 6, '7'),
              first_name = case when s.n % 5 = 0 then null else 'Scopia' end, last_name = case when s.n % 5 = 0 then null else 'Person' || s.n end, company = case when s.n % 5 = 0 then null else company end
            from few s where s.id = l.id;
            insert into lead_tag (lead_id, tag_key) select id, 'scope' from lead where email like 'scope%@hidden.example';
            with few as (select id, row_number() over (order by id) as n from contact order by id limit @Sample)
            update contact c set owner_id = case when s.n % 7 = 0 then null else @people[(s.n % cardinality(@people)) + 1] end, email = 'contact' || s.n || '@hidden.example', phone = '+4791' || lpad(s.n::text, 6, '7'),
              name = case when s.n % 5 = 0 then 'contact' || s.n || '@hidden.example' else 'Zcopia ' || lpad(s.n::text, 3, '0') end, facts = c.facts || jsonb_build_object('email', 'contact' || s.n || '@hidden.example')
            from few s where s.id = c.id;
            with few as (select id, row_number() over (order by id) as n from deal where closed_at is null order by id)
            update deal d set owner_id = case when s.n % 7 = 0 then null else @people[(s.n % cardinality(@people)) + 1] end from few s where s.id = d.id;
            update person set manager_id = @tor where id = (select id from person where id not in (@tor, @ingrid) and here order by user_name limit 1);
            update person set manager_id = (select id from person where manager_id = @tor) where id = (select id from person where id not in (@tor, @ingrid) and manager_id is null and here order by user_name desc limit 1);
            insert into record_share (id, person_id, lead_id, at) select gen_random_uuid(), @tor, id, now() from lead where email like 'scope%3@hidden.example';
            insert into record_share (id, person_id, contact_id, at) select gen_random_uuid(), @tor, id, now() from contact where email like 'contact%3@hidden.example';
            insert into record_share (id, person_id, deal_id, at) select gen_random_uuid(), @tor, id, now() from deal where closed_at is null order by id limit 5;
            """,
            new
            {
                people,
                tor,
                ingrid,
                Sample,
            }
        );
    }

    private static async Task<List<Owned>> Leads(NpgsqlConnection connection) =>
        [
            .. await connection.QueryAsync<Owned>(
                "select id, owner_id as owner, email, phone, number, coalesce(last_name, '') as name from lead where email like 'scope%@hidden.example' order by number"
            ),
        ];

    private static async Task<List<Owned>> Contacts(NpgsqlConnection connection) =>
        [.. await connection.QueryAsync<Owned>("select id, owner_id as owner, email, phone, 0 as number, name from contact where email like 'contact%@hidden.example'")];

    private static async Task<List<Owned>> Deals(NpgsqlConnection connection) =>
        [.. await connection.QueryAsync<Owned>("select id, owner_id as owner, null::text as email, null::text as phone, 0 as number, name from deal where closed_at is null")];

    private static async Task<Oracle> OracleOf(NpgsqlConnection connection, Guid me)
    {
        var turns = (await connection.QueryAsync<(string Team, Guid Person)>("select t.team_key, t.person_id from turn t join team m on m.key = t.team_key")).ToList();
        var mine = turns.Where(t => t.Person == me).Select(t => t.Team).ToHashSet();
        var managers = (await connection.QueryAsync<(Guid Id, Guid Manager)>("select id, manager_id from person where manager_id is not null")).ToList();
        var reports = new HashSet<Guid>();
        while (managers.Any(m => (m.Manager == me || reports.Contains(m.Manager)) && reports.Add(m.Id))) { }
        var shared = await connection.QueryAsync<Guid>("select coalesce(lead_id, contact_id, account_id, deal_id) from record_share where person_id = @me", new { me });
        return new Oracle(me, [.. turns.Where(t => mine.Contains(t.Team) && t.Person != me).Select(t => t.Person)], reports, [.. shared]);
    }

    private static string Where(Condition condition) => Uri.EscapeDataString(DapperLantern.App.Data.Json.Write(condition));

    private static readonly Condition OfSample = Condition.Where("tag", TestOperator.In, "scope");

    private static async Task LeadsAgree(TestClient client, List<Owned> all, Func<Owned, bool> sees, Func<Owned, bool> shows, string why)
    {
        var seen = all.Where(sees).ToList();
        var listed = await ListOf(client, OfSample, why);
        listed.Select(l => l.Id).ShouldBe(seen.Select(r => r.Id), ignoreOrder: true, why);
        (await client.Read<LeadCount>($"/api/leads/count?where={Where(OfSample)}")).All.ShouldBe(seen.Count, why);
        var byId = all.ToDictionary(r => r.Id);
        foreach (var line in listed)
        {
            var record = byId[line.Id];
            line.Cells["email"].ShouldBe(shows(record) ? record.Email : null, why);
            if (!shows(record))
                (line.Name + line.Cells["phone"]).ShouldNotContain("hidden", Case.Sensitive, why);
        }
        // Asking by what is hidden finds only where it is shown; not being known is then not known, too.
        var open = seen.Where(shows).Select(r => r.Id).ToList();
        foreach (var (test, values) in new[] { (TestOperator.Contains, "hidden.example"), (TestOperator.StartsWith, "scope") })
            (await ListOf(client, new AllOf([OfSample, Condition.Where("email", test, values)]), why)).Select(l => l.Id).ShouldBe(open, ignoreOrder: true, why);
        (await ListOf(client, new AllOf([OfSample, new Test("email", TestOperator.In, [.. all.Select(r => r.Email!)])]), why))
            .Select(l => l.Id)
            .ShouldBe(open, ignoreOrder: true, why);
        (await ListOf(client, new Test("email", TestOperator.In, [all[6].Email!]), why)).Count.ShouldBe(open.Contains(all[6].Id) ? 1 : 0, why);
        (await ListOf(client, new AllOf([OfSample, new Not(Condition.Where("email", TestOperator.Known))]), why))
            .Select(l => l.Id)
            .ShouldBe(seen.Where(r => !shows(r)).Select(r => r.Id), ignoreOrder: true, why);
        var groups = await client.Read<GroupsView>($"/api/leads/groups?where={Where(OfSample)}&rows=email");
        groups.Rows.Select(g => g.Key).OfType<string>().ShouldBe(seen.Where(shows).Select(r => r.Email!), ignoreOrder: true, why);
        groups.Total.ShouldBe(seen.Count, why);
        var ordered = await ListOf(client, OfSample, why, "email");
        ordered.Select(l => l.Cells["email"]).OfType<string>().ShouldBe(seen.Where(shows).Select(r => r.Email!).Order(StringComparer.Ordinal), why);
        ordered.TakeWhile(l => l.Cells["email"] is not null).Count().ShouldBe(open.Count, why);
        await ExportAgrees(client, seen, shows, why);
        foreach (var record in all.Where((_, i) => i % 9 == 0))
            await PageAndSearchAgree(client, record, sees(record), sees(record) && shows(record), why);
    }

    private static async Task<List<LeadListItem>> ListOf(TestClient client, Condition where, string why, string order = "created_at")
    {
        var all = new List<LeadListItem>();
        for (string? after = null; ; )
        {
            var page = await client.Get($"/api/leads?where={Where(where)}&columns=email,phone&order={order}{(after is null ? "" : $"&after={Uri.EscapeDataString(after)}")}");
            page.Status.ShouldBe(HttpStatusCode.OK, $"{why} {page.Body}");
            var read = page.Read<LeadPage>();
            all.AddRange(read.Leads);
            if (after is null)
                read.Count.ShouldBe(read.Next is null ? read.Leads.Count : read.Count, why);
            if ((after = read.Next) is null)
                return all;
        }
    }

    private static async Task ExportAgrees(TestClient client, List<Owned> seen, Func<Owned, bool> shows, string why)
    {
        var file = await client.Get($"/api/leads.csv?where={Where(OfSample)}");
        if (file.Status == HttpStatusCode.Forbidden)
            return;
        file.Body.Split('\n')
            .Skip(1)
            .Where(l => l.StartsWith("L-", StringComparison.Ordinal))
            .Select(l => l[2..l.IndexOf(',', StringComparison.Ordinal)])
            .ShouldBe(seen.Select(r => $"{r.Number}"), ignoreOrder: true, why);
        Addresses().Matches(file.Body).Select(m => m.Value).Distinct().ShouldBe(seen.Where(shows).Select(r => r.Email!), ignoreOrder: true, why);
    }

    private static async Task PageAndSearchAgree(TestClient client, Owned lead, bool seen, bool shown, string why)
    {
        var page = await client.Get($"/api/leads/{lead.Id}");
        page.Status.ShouldBe(seen ? HttpStatusCode.OK : HttpStatusCode.NotFound, why);
        if (seen)
            (page.Body.Contains(lead.Email!, StringComparison.Ordinal), page.Body.Contains(lead.Phone!, StringComparison.Ordinal)).ShouldBe((shown, shown), why);
        foreach (var part in new[] { "around", "routing", "files" })
            (await client.Get($"/api/leads/{lead.Id}/{part}")).Body.Contains(lead.Email!, StringComparison.Ordinal).ShouldBe(false, why);
        (await Finds(client, $"{lead.Number}", lead.Id)).ShouldBe(seen, why);
        (await Finds(client, lead.Email!, lead.Id)).ShouldBe(seen && shown, why);
        // And nobody else: an address is one person's. Where it finds nobody, its words are looked for.
        if (seen && shown)
            (await client.Read<SearchView>($"/api/search?text={Uri.EscapeDataString(lead.Email!)}")).Hits.Select(h => h.Id).ShouldBe([lead.Id], why);
        (await Finds(client, lead.Phone!, lead.Id)).ShouldBe(seen && shown, why);
        if (lead.Name.Length > 0)
            (await Finds(client, $"scopia {lead.Name}", lead.Id)).ShouldBe(seen, why);
    }

    private static async Task<bool> Finds(TestClient client, string text, Guid id) =>
        (await client.Read<SearchView>($"/api/search?text={Uri.EscapeDataString(text)}")).Hits.Any(h => h.Id == id);

    private static async Task OthersAgree(TestClient client, List<Owned> contacts, List<Owned> deals, Func<Owned, bool> sees, Func<Owned, bool> shows, string why)
    {
        var listed = new List<ContactItem>();
        for (string? after = null; ; )
        {
            var page = await client.Read<ContactPage>($"/api/contacts{(after is null ? "" : $"?after={Uri.EscapeDataString(after)}")}");
            listed.AddRange(page.Contacts);
            if ((after = page.Next) is null)
                break;
        }
        listed.Select(c => c.Id).Distinct().Count().ShouldBe(listed.Count, why);
        var of = contacts.ToDictionary(c => c.Id);
        listed.Where(c => of.ContainsKey(c.Id)).Select(c => c.Id).ShouldBe(contacts.Where(sees).Select(c => c.Id), ignoreOrder: true, why);
        foreach (var line in listed.Where(c => of.ContainsKey(c.Id)))
        {
            line.Email.ShouldBe(shows(of[line.Id]) ? of[line.Id].Email : null, why);
            if (!shows(of[line.Id]))
                line.Name.ShouldNotContain("hidden", Case.Sensitive, why);
        }
        foreach (var contact in contacts.Where((_, i) => i % 11 == 0))
        {
            foreach (var path in new[] { "", "/facts" })
            {
                var page = await client.Get($"/api/contacts/{contact.Id}{path}");
                page.Status.ShouldBe(sees(contact) ? HttpStatusCode.OK : HttpStatusCode.NotFound, why);
                if (!shows(contact))
                    page.Body.ShouldNotContain(contact.Email!, Case.Sensitive, why);
            }
            (await Finds(client, contact.Email!, contact.Id)).ShouldBe(sees(contact) && shows(contact), why);
        }
        foreach (var deal in deals.Where((_, i) => i % 25 == 0))
        {
            (await client.Get($"/api/deals/{deal.Id}")).Status.ShouldBe(sees(deal) ? HttpStatusCode.OK : HttpStatusCode.NotFound, why);
            (await client.Get($"/api/deals/{deal.Id}/facts")).Status.ShouldBe(sees(deal) ? HttpStatusCode.OK : HttpStatusCode.NotFound, why);
        }
    }

    [GeneratedRegex(@"scope\d+@hidden\.example")]
    private static partial Regex Addresses();
}
