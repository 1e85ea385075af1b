using System.Collections.Concurrent;
using System.Diagnostics;
using System.Net;
using System.Text.RegularExpressions;
using Dapper;
using DapperLantern.App.People;
using DapperLantern.App.Rights;
using DapperLantern.Core.Rights;
using DapperLantern.Tests.Shared;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.App.Tests.Rights;

/// <summary>
/// Each statement that a request for something to be shown sends to the database, held for this: where it reads a table of records that have an owner, it has the condition of what the
/// reader sees. A record that is named beside one that is seen, found by its key, needs none.
/// </summary>
public sealed partial class ScopedReadsTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private TestServer Server => fixture.Server;

    [Theory]
    [InlineData("select * from lead", "lead lead")]
    [InlineData("select * from lead l where l.id = $1", "lead l")]
    [InlineData("select * from task t join lead l on l.id = t.lead_id", "")]
    [InlineData("select * from task t join lead l on t.lead_id = l.id", "")]
    [InlineData("select * from task t join lead l on t.owner_id = l.owner_id", "lead l")]
    [InlineData("select * from task t, lead l", "lead l")]
    [InlineData("SELECT d.id FROM deal AS d WHERE d.name = @p", "deal d")]
    [InlineData("select * from lead l where (/*sees lead l*/ true)", "")]
    [InlineData("select * from lead l where (/*sees lead x*/ true)", "lead l")]
    [InlineData("select * from lead l join lead c on c.company_key = l.company_key where (/*sees lead l*/ true)", "lead c")]
    [InlineData("/*unscoped: counts*/ select count(*) from lead", "")]
    [InlineData("select * from lead_tag t", "")]
    [InlineData("update lead set version = 1", "")]
    [InlineData("select x.id from (select id from contact where email = 'a') x", "contact contact")]
    public void AReadWithoutAScopeIsFound(string statement, string wrong) => string.Join(", ", Unscoped(statement)).ShouldBe(wrong);

    [Fact]
    public async Task EveryReadOfARecordHasAScope()
    {
        await using var connection = await Server.Connect();
        var ids = await Ids(connection);
        var (wrong, asked, reads) = (new SortedSet<string>(), 0, 0);
        foreach (var name in new[] { "ingrid.brekke", "tor.vik" })
        {
            var client = await Server.SignIn(name);
            foreach (var path in Paths().SelectMany(p => Filled(p, ids)))
            {
                using var listening = new Statements(new NpgsqlConnectionStringBuilder(Server.ConnectionString).Database!);
                var answer = await client.Get(path);
                asked += (int)answer.Status < 300 ? 1 : 0;
                foreach (var statement in listening.Sent)
                {
                    reads += Records().IsMatch(statement) ? 1 : 0;
                    wrong.UnionWith(Unscoped(statement).Select(w => $"{path}: {w} in {statement.ReplaceLineEndings(" ")[..Math.Min(400, statement.Length)]}"));
                }
            }
        }
        asked.ShouldBeGreaterThan(100);
        reads.ShouldBeGreaterThan(150);
        wrong.ShouldBeEmpty(string.Join("\n\n", wrong));
    }

    // Where the act itself is to see what came in, or what is sent.
    private static readonly string[] OfWhatCame = ["/api/imports", "/api/arrivals", "/api/files", "/api/intake", "/api/outbox", "/api/failed-work"];

    [Fact]
    public async Task WhateverOneMayDoNothingOfAnUnseenRecordIsShown()
    {
        await using var connection = await Server.Connect();
        var samir = await Server.SignIn("samir.haddow");
        Reach[] own = [Reach.Own];
        var acts = Enum.GetValues<Act>().Except([Act.ManagePeople, Act.AnswerPersons, Act.SeeLog, Act.SeeDesk, Act.KeepOwnSignIn, Act.SeeLeads, Act.SeeDeals]);
        var made = await samir.Post(
            "/api/setup/roles",
            new RoleOrder("Narrow", [.. acts], new RoleSight(own, own, own, own), true, false, false, own, true, true, true, true, true)
        );
        made.Status.ShouldBe(HttpStatusCode.OK, made.Body);
        await connection.ExecuteAsync(
            """
            update person set roles = array['narrow'] where user_name = 'tor.vik';
            -- Of those that have to do with a record of theirs, too.
            update account set owner_id = null where id in (select account_id from deal where owner_id = (select id from person where user_name = 'tor.vik'));
            update contact set owner_id = null where id in (select contact_id from deal where owner_id = (select id from person where user_name = 'tor.vik'));
            create temp table hidden as
              select 'lead' as kind, id from lead where owner_id is distinct from (select id from person where user_name = 'tor.vik')
              union all select 'contact', id from contact where owner_id is distinct from (select id from person where user_name = 'tor.vik')
              union all select 'account', id from account where owner_id is distinct from (select id from person where user_name = 'tor.vik')
              union all select 'deal', id from deal where owner_id is distinct from (select id from person where user_name = 'tor.vik');
            update lead l set first_name = 'Zqx', last_name = 'Zqx' || number, company = 'Zqx Works', email = 'zqx' || number || '@zqx.example', job_title = 'Zqxer', interest = 'zqx' from hidden h where h.id = l.id;
            update contact c set name = 'Zqx of ' || c.id, email = 'zqx@zqx.example', facts = facts || '{"job_title": "Zqxer", "last_name": "Zqx"}' from hidden h where h.id = c.id;
            update account a set name = 'Zqx Works', facts = facts || '{"street": "Zqx road", "company": "Zqx Works"}' from hidden h where h.id = a.id;
            update deal d set name = 'Zqx deal' from hidden h where h.id = d.id;
            -- What hangs on a record of theirs as well is theirs to see.
            update story_entry s set text = 'zqx was said'
              where not exists (select 1 from unnest(array[s.lead_id, s.deal_id, s.contact_id, s.account_id]) x where x is not null and x not in (select id from hidden));
            update task t set subject = 'zqx is to be done'
              where not exists (select 1 from unnest(array[t.lead_id, t.deal_id, t.contact_id]) x where x is not null and x not in (select id from hidden));
            update meeting m set subject = 'zqx is met' from hidden h where h.id = m.lead_id;
            """
        );
        var tor = await Server.SignIn("tor.vik");
        var ids = await Ids(connection);
        Dictionary<string, string> mine = new(ids);
        foreach (var kind in new[] { "leads", "deals", "accounts", "contacts" })
            if (
                await connection.QueryFirstOrDefaultAsync<string>(
                    $"select id::text from {kind[..^1]} where owner_id = (select id from person where user_name = 'tor.vik') order by id limit 1"
                ) is
                { } id
            )
                mine[kind] = id;
        var (shown, asked) = (new List<string>(), 0);
        foreach (
            var path in Paths().SelectMany(p => Filled(p, ids).Concat(Filled(p, mine))).Concat(["/api/contacts?q=zqx", "/api/accounts?q=zqx", "/api/search?text=zqx"]).Distinct()
        )
        {
            if (OfWhatCame.Any(w => path.StartsWith(w, StringComparison.Ordinal)))
                continue;
            var answer = await tor.Get(path);
            asked += (int)answer.Status < 300 ? 1 : 0;
            if (answer.Body.IndexOf("zqx", StringComparison.OrdinalIgnoreCase) is >= 0 and var at)
                shown.Add($"{path}: {answer.Body[Math.Max(0, at - 200)..Math.Min(answer.Body.Length, at + 60)]}");
        }
        asked.ShouldBeGreaterThan(80);
        shown.ShouldBeEmpty(string.Join("\n\n", shown));
        // Nor is anything done with it.
        var pair = await connection.QuerySingleAsync<Guid>(
            """
            insert into duplicate (id, kind, a, b, bits, sure, evidence, state, found_at)
              select gen_random_uuid(), 'contact', min(id::text)::uuid, max(id::text)::uuid, 9, false, '[]', 'open', now() from hidden where kind = 'contact' returning id
            """
        );
        (await tor.Post($"/api/duplicates/{pair}/merge", new { })).Problem.ShouldBe("not-found");
        (await tor.Post($"/api/duplicates/{pair}/distinct")).Problem.ShouldBe("not-found");
        // A lead that goes to somebody else is told of once more, and no change after that.
        var lead = await connection.QueryFirstAsync<Guid>("select l.id from lead l join person p on p.id = l.owner_id where p.user_name = 'tor.vik' and l.state <> 'handed_over'");
        using var stop = new CancellationTokenSource(TimeSpan.FromSeconds(30));
        using var signs = new StreamReader(await (await tor.Watch($"/api/leads/{lead}/live", stop.Token)).Content.ReadAsStreamAsync(stop.Token));
        (await signs.ReadLineAsync(stop.Token)).ShouldBe("event: changed");
        var sten = await connection.QuerySingleAsync<Guid>("select id from person where user_name = 'sten.lindmark'");
        (await (await Server.SignIn("ingrid.brekke")).Put($"/api/leads/{lead}/owner", new { owner = sten })).Status.ShouldBe(HttpStatusCode.OK);
        Regex.Count(await signs.ReadToEndAsync(stop.Token), "event: changed").ShouldBe(1);
    }

    private static IEnumerable<string> Unscoped(string statement)
    {
        if (statement.Contains("unscoped:", StringComparison.Ordinal))
            yield break;
        foreach (Match read in Records().Matches(statement))
        {
            var kind = read.Groups["kind"].Value.ToLowerInvariant();
            var alias = read.Groups["alias"].Value is { Length: > 0 } named && !Words.Contains(named.ToLowerInvariant()) ? named : kind;
            var byKey =
                read.Groups["how"].Value.Equals("join", StringComparison.OrdinalIgnoreCase)
                && Regex.IsMatch(statement[(read.Index + read.Length)..], $@"^\s+on\s+(?:{alias}\.id = |\w+\.\w+ = {alias}\.id\b)", RegexOptions.IgnoreCase);
            if (!byKey && !statement.Contains($"/*sees {kind} {alias}*/", StringComparison.Ordinal) && !statement.Contains($"/*told {kind} {alias}*/", StringComparison.Ordinal))
                yield return $"{kind} {alias}";
        }
    }

    private static readonly HashSet<string> Words = ["where", "on", "order", "limit", "group", "union", "cross", "left", "join", "for", "with", "tablesample"];

    [GeneratedRegex(@"(?<how>\bfrom|\bjoin|,)\s+(?<kind>lead|contact|account|deal)\b(?!_)(?:\s+(?:as\s+)?(?<alias>[a-z_]\w*))?(?!\s*\.)", RegexOptions.IgnoreCase)]
    private static partial Regex Records();

    // What is read with a GET by somebody signed in. Streams have no end.
    private IEnumerable<string> Paths() =>
        Server
            .Services.GetRequiredService<EndpointDataSource>()
            .Endpoints.OfType<RouteEndpoint>()
            .Where(e => e.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods.Contains("GET") == true && e.Metadata.GetMetadata<IAuthorizeData>()?.Policy is not null)
            .Select(e => "/" + e.RoutePattern.RawText!.TrimStart('/'))
            .Where(p =>
                !p.EndsWith("/live", StringComparison.Ordinal) && !p.StartsWith("/api/log", StringComparison.Ordinal) && !p.StartsWith("/api/persons", StringComparison.Ordinal)
            )
            .Select(p =>
                p.Replace(":guid", "", StringComparison.Ordinal)
                    .Replace(":int", "", StringComparison.Ordinal)
                    .Replace("{format:regex(^(csv|xlsx)$)}", "csv", StringComparison.Ordinal)
            );

    private static readonly Dictionary<string, string> Asked = new()
    {
        ["/api/leads"] = "?columns=email,owner,tag,customer,last_call_at&group=state",
        ["/api/leads/groups"] = "?rows=source&columns=owner",
        ["/api/leads/groups.csv"] = "?rows=source",
        ["/api/leads/alike"] = "?lastName=Hansen&company=Fjord&email=ann@fjord.example&country=NO",
        ["/api/search"] = "?text=hansen",
        ["/api/follow-ups"] = $"?from={DateTime.UtcNow.AddDays(-30):O}&to={DateTime.UtcNow.AddDays(30):O}",
        ["/api/fields/regions"] = "?countries=NO",
        ["/api/numbers"] = "?text=1,5",
    };

    private static IEnumerable<string> Filled(string path, Dictionary<string, string> ids)
    {
        var asked = Asked.GetValueOrDefault(path, "");
        if (path.EndsWith("/why-not", StringComparison.Ordinal))
            asked = $"?person={ids["person"]}";
        if (path.Contains("/addresses", StringComparison.Ordinal))
            asked = "?purpose=newsletter";
        if (path.EndsWith("/backfill", StringComparison.Ordinal))
            asked = "?field=industry";
        var first = path.Split('/')[2];
        yield return Regex
            .Replace(path, @"\{number\}", "1")
            .Replace("{id}", ids.GetValueOrDefault(first, Guid.Empty.ToString()), StringComparison.Ordinal)
            .Replace("{key}", ids.GetValueOrDefault(first, "x"), StringComparison.Ordinal)
            .Replace("{list}", "reasons", StringComparison.Ordinal) + asked;
        if (first == "search")
            foreach (var text in new[] { "+4790", "90123456", "hansne", "ann@fjord.example", "1100", "hansen note" })
                yield return $"/api/search?text={Uri.EscapeDataString(text)}";
        if (path == "/api/leads")
            foreach (var more in new[] { "?order=-engagement", "?order=-fit,owner", "?order=email" })
                yield return path + more;
    }

    private static async Task<Dictionary<string, string>> Ids(System.Data.IDbConnection connection)
    {
        var ids = new Dictionary<string, string>();
        foreach (
            var (kind, sql) in new[]
            {
                ("leads", "select id::text from lead where owner_id = (select id from person where user_name = 'tor.vik') and state = 'qualified' order by number limit 1"),
                ("deals", "select id::text from deal order by id limit 1"),
                ("accounts", "select account_id::text from deal where account_id is not null group by account_id order by count(*) desc, account_id limit 1"),
                ("contacts", "select contact_id::text from deal order by id limit 1"),
                ("files", "select id::text from arrival_file order by id limit 1"),
                ("imports", "select id::text from import order by id limit 1"),
                ("duplicates", "select id::text from duplicate where state = 'open' order by id limit 1"),
                ("views", "select id::text from lead_view where scope <> 'personal' order by id limit 1"),
                ("bulk-edits", "select id::text from bulk_edit order by id limit 1"),
                ("campaigns", "select key from campaign order by key limit 1"),
                ("forms", "select key from form order by key limit 1"),
                ("person", "select id::text from person where user_name = 'tor.vik'"),
            }
        )
            if (await connection.QueryFirstOrDefaultAsync<string>(sql) is { } id)
                ids[kind] = id;
        return ids;
    }

    /// <summary>The statements that requests of the server send while it is open.</summary>
    private sealed class Statements : IDisposable
    {
        private readonly ActivityListener _listener;

        public ConcurrentBag<string> Sent { get; } = [];

        /// <param name="database">Other tests run beside, on databases of their own.</param>
        public Statements(string database)
        {
            _listener = new ActivityListener
            {
                ShouldListenTo = s => s.Name is "Npgsql" or "Microsoft.AspNetCore",
                Sample = (ref ActivityCreationOptions<ActivityContext> _) => ActivitySamplingResult.AllDataAndRecorded,
                ActivityStopped = a =>
                {
                    if (
                        a.Source.Name == "Npgsql"
                        && (a.GetTagItem("db.namespace") ?? a.GetTagItem("db.name")) as string == database
                        && OfRequest(a)
                        && (a.GetTagItem("db.query.text") ?? a.GetTagItem("db.statement")) is string text
                    )
                        Sent.Add(text);
                },
            };
            ActivitySource.AddActivityListener(_listener);
        }

        // Background work has statements of its own; the client's request in this process is above the server's.
        private static bool OfRequest(Activity activity)
        {
            for (var above = activity.Parent; above is not null; above = above.Parent)
                if (above.OperationName == "Microsoft.AspNetCore.Hosting.HttpRequestIn")
                    return true;
            return false;
        }

        public void Dispose() => _listener.Dispose();
    }
}
