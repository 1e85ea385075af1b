using System.Collections;
using System.Net;
using System.Reflection;
using Dapper;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Leads;
using DapperLantern.App.People;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using DapperLantern.Tests.Shared;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Http.Metadata;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace DapperLantern.App.Tests.Setup;

/// <summary>
/// Every endpoint as every role, made from the list of endpoints: one that is added is tried without a word. Roles
/// without the right are refused, and roles that work only what they own are refused at records of others.
/// </summary>
public sealed class EveryActTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private sealed record Tried(string Method, string Path, Act[] Rights, Type? Body, bool TakesFile)
    {
        public bool Writes => Method != "GET";

        public override string ToString() => $"{Method} {Path}";
    }

    private TestServer Server => fixture.Server;

    private IEnumerable<Tried> Acts =>
        Server
            .Services.GetRequiredService<EndpointDataSource>()
            .Endpoints.OfType<RouteEndpoint>()
            .Select(e => new Tried(
                e.Metadata.GetMetadata<Microsoft.AspNetCore.Routing.HttpMethodMetadata>()?.HttpMethods[0] ?? "GET",
                "/"
                    + e.RoutePattern.RawText!.TrimStart('/')
                        .Replace(":guid", "", StringComparison.Ordinal)
                        .Replace(":int", "", StringComparison.Ordinal)
                        .Replace("{format:regex(^(csv|xlsx)$)}", "csv", StringComparison.Ordinal),
                [.. e.Metadata.GetOrderedMetadata<IAuthorizeData>().Where(a => Enum.TryParse<Act>(a.Policy, out _)).Select(a => Enum.Parse<Act>(a.Policy!))],
                e.Metadata.GetMetadata<IAcceptsMetadata>()?.RequestType,
                e.Metadata.GetMetadata<IAcceptsMetadata>()?.ContentTypes.Contains("multipart/form-data") == true
            ))
            .Where(a => a.Rights.Length > 0);

    [Fact]
    public async Task ARoleWithoutTheRightIsRefusedAtEveryEndpoint()
    {
        var acts = Acts.ToList();
        acts.Count.ShouldBeGreaterThan(150);
        foreach (var role in ShippedRoles.All)
        {
            var person = await SignIn(role.Key);
            foreach (var act in acts.Where(a => a.Rights.Any(r => !role.IsGiven(r))))
                (await Try(person, act, Guid.Empty)).Status.ShouldBe(HttpStatusCode.Forbidden, $"{role.Key}: {act}");
        }
    }

    [Fact]
    public async Task WhatIsNotSeenAnswersLikeWhatIsNotThere()
    {
        await using var server = await TestServer.Start();
        await using var connection = await server.Connect();
        // Everything may be done, of one's own records alone.
        var samir = await server.SignIn("samir.haddow");
        var roles = await samir.Read<RolesView>("/api/setup/roles");
        Reach[] own = [Reach.Own];
        var narrow = roles.Roles.Single(r => r.Key == ShippedRoles.Administrator).Role with { Name = "Narrow", Sees = new RoleSight(own, own, own, own) };
        (await samir.Post("/api/setup/roles", narrow)).Status.ShouldBe(HttpStatusCode.OK);
        var person = await server.SignIn("harald.quist");
        var me = person.Session.Id;
        await connection.ExecuteAsync("update person set roles = '{narrow}' where id = @me", new { me });
        person = await server.SignIn("harald.quist");
        var other = await connection.QuerySingleAsync<Guid>("select id from person where 'rep' = any(roles) and here order by user_name limit 1");
        await connection.ExecuteAsync("update lead set owner_id = @other where id in (select lead_id from meeting union select lead_id from lead_file)", new { other });
        var theirs = new Dictionary<string, Guid>();
        var mine = new Dictionary<string, Guid>();
        foreach (var kind in (string[])["lead", "deal", "account", "contact"])
        {
            theirs[$"{kind}s"] = await connection.QuerySingleAsync<Guid>($"select id from {kind} where owner_id = @other order by id limit 1", new { other });
            mine[$"{kind}s"] = await connection.QuerySingleAsync<Guid>(
                $"update {kind} set owner_id = @me where id = (select id from {kind} where owner_id is distinct from @other order by id desc limit 1) returning id",
                new { me, other }
            );
        }
        foreach (var (kind, sql) in Theirs.Where(t => t.Key is "tasks" or "meetings" or "story"))
            if (await connection.QueryFirstOrDefaultAsync<Guid?>(sql!, new { other }) is { } found)
                theirs[kind] = found;
        theirs.Count.ShouldBeGreaterThan(5);
        var (absent, open, tried) = (Guid.Parse("01900000-0000-7000-8000-000000000001"), new List<string>(), 0);
        static string Said(Answer answer, Guid id) =>
            $"{(int)answer.Status} {answer.Problem} {answer.Body.Replace(id.ToString(), "", StringComparison.OrdinalIgnoreCase)}".Split("traceId")[0];
        foreach (var act in Acts.Where(a => a.Path.Contains('{') && theirs.ContainsKey(a.Path.Split('/')[2])))
        {
            tried++;
            var (unseen, id) = (theirs[act.Path.Split('/')[2]], act);
            var (answer, nothing) = (await Try(person, id, unseen), await Try(person, id, absent));
            if (Said(answer, unseen) != Said(nothing, absent))
                open.Add($"{act}: {Said(answer, unseen)} for {Said(nothing, absent)}");
        }
        foreach (var act in Acts.Where(a => a.Writes && a.Body is { } body && Names(body)))
        {
            var first = act.Path.Split('/')[2];
            if (act.Path.Contains('{') && !mine.ContainsKey(first))
                continue;
            foreach (var (kind, unseen) in theirs.Where(t => t.Key is "leads" or "deals" or "accounts" or "contacts"))
            {
                tried++;
                async Task<string> Naming(Guid id) => Said(await person.Ask(act.Method, Filled(act, mine.GetValueOrDefault(first, Guid.Empty).ToString()), Sample(act, id)), id);
                var (before, answer, after) = (await Naming(absent), await Naming(unseen), await Naming(absent));
                if (answer != before && answer != after)
                    open.Add($"{act} naming {kind}: {answer} for {before}");
            }
        }
        tried.ShouldBeGreaterThan(60);
        open.ShouldBeEmpty(string.Join('\n', open));
    }

    private const string HandedOver = "select h.lead_id from handover h join lead l on l.id = h.lead_id where l.owner_id = @other and h.made_deal order by h.id limit 1";

    // Records by the first word of an address: the one that somebody else owns. Null where records of others are not protected by an owner, with the reason.
    private static readonly Dictionary<string, string?> Theirs = new()
    {
        ["leads"] = "select id from lead where owner_id = @other and state <> 'handed_over' order by id limit 1",
        ["deals"] = "select id from deal where owner_id = @other order by id limit 1",
        ["accounts"] = "select id from account where owner_id = @other order by id limit 1",
        ["contacts"] = "select id from contact where owner_id = @other order by id limit 1",
        ["tasks"] = "select t.id from task t join lead l on l.id = t.lead_id where t.owner_id = @other and l.owner_id = @other order by t.id limit 1",
        ["meetings"] = "select m.id from meeting m join lead l on l.id = m.lead_id where l.owner_id = @other order by m.id limit 1",
        ["files"] = "select f.id from lead_file f join lead l on l.id = f.lead_id where l.owner_id = @other order by f.id limit 1",
        ["story"] = "select s.id from story_entry s join lead l on l.id = s.lead_id where l.owner_id = @other and s.kind = 'note' order by s.id limit 1",
        ["views"] = "select id from lead_view where owner_id = @other order by id limit 1",
        ["bulk-edits"] = "select id from bulk_edit where person_id = @other order by id limit 1",
        ["sessions"] = "select id from session where person_id = @other order by id limit 1",
        ["calendar"] = null,
        // Questions, which are named by the answer that somebody was given; KnownTests tries those of others.
        ["known"] = null,
        // Passkeys, which are named by what the device says; SecondStepTests tries those of others.
        ["session"] = null,
    };

    [Theory]
    [InlineData(ShippedRoles.Rep)]
    [InlineData(ShippedRoles.Qualifier)]
    public async Task WhoWorksOnlyTheirOwnChangesNothingOfOthers(string role)
    {
        var person = await SignIn(role);
        await using var connection = await Server.Connect();
        var other = await connection.QuerySingleAsync<Guid>(
            "select id from person where 'rep' = any(roles) and here and id <> @me order by user_name limit 1",
            new { me = person.Session.Id }
        );
        var theirs = await Server.SignIn(await connection.QuerySingleAsync<string>("select user_name from person where id = @other", new { other }));
        await Begin(theirs, await connection.QueryFirstAsync<Guid>(Theirs["leads"]!, new { other }));
        await connection.ExecuteAsync("update lead set owner_id = @other where id = (select lead_id from meeting order by id limit 1)", new { other });
        var open = new List<string>();
        foreach (var act in Acts.Where(a => a.Writes && a.Path.Contains('{') && a.Rights.All(r => ShippedRoles.Find(role)!.IsGiven(r))))
        {
            var kind = act.Path.Split('/')[2];
            Theirs.ShouldContainKey(kind, $"Say which records of others {act} must not touch.");
            if (Theirs[kind] is not { } sql)
                continue;
            var id = await connection.QueryFirstOrDefaultAsync<Guid?>(act.Path.EndsWith("/handover/take-back", StringComparison.Ordinal) ? HandedOver : sql, new { other });
            if (id is null)
            {
                open.Add($"{act}: none there");
                continue;
            }
            var answer = await Try(person, act, id.Value);
            if (answer.Status is not (HttpStatusCode.Forbidden or HttpStatusCode.NotFound) && answer.Problem != "owner-other")
                open.Add($"{act}: {(int)answer.Status} {answer.Body[..Math.Min(200, answer.Body.Length)]}");
        }
        open.ShouldBeEmpty(string.Join('\n', open));
    }

    // What the demo has none of.
    private async Task Begin(TestClient other, Guid lead)
    {
        _view = new ViewWrite("Of their own", "personal", [], [], (await other.Read<List<ViewView>>("/api/views"))[0].Body);
        (await other.SendFile($"/api/leads/{lead}/files", "note.txt", "Seen"u8.ToArray())).Status.ShouldBe(HttpStatusCode.NoContent);
        (await other.Post("/api/views", _view)).Status.ShouldBe(HttpStatusCode.Created);
        var act = new
        {
            kind = "fact",
            field = "industry",
            value = "brewery",
        };
        (await other.Post("/api/bulk-edits", new { act, leads = new[] { lead } })).Status.ShouldBe(HttpStatusCode.Accepted);
    }

    private ViewWrite? _view;

    private Task<Answer> Try(TestClient person, Tried act, Guid record) =>
        act.TakesFile
            ? person.SendFile(Filled(act, record.ToString()), "letter.eml", "Subject: x"u8.ToArray())
            : person.Ask(act.Method, Filled(act, record.ToString()), act.Method is "GET" or "DELETE" ? null : Sample(act));

    private async Task<TestClient> SignIn(string role) =>
        await Server.SignIn(await Server.Scalar<string>($"select user_name from person where roles = array['{role}'] and here order by user_name limit 1"));

    // The first name in braces is the record; the rest are parts of it, of which none need be there.
    private static string Filled(Tried act, string id)
    {
        var parts = act.Path.Split('/');
        var first = true;
        for (var i = 0; i < parts.Length; i++)
        {
            if (!parts[i].StartsWith('{'))
                continue;
            parts[i] =
                parts[i] is "{number}" ? "1"
                : first ? id
                : Guid.Empty.ToString();
            first = false;
        }
        return string.Join('/', parts);
    }

    private object Sample(Tried act, Guid? named = null) =>
        act.Body == typeof(ViewWrite) && _view is not null ? _view
        : act.Body == typeof(ConsentOrder) ? new ConsentOrder("news", "given", "On the telephone")
        : act.Body is { } type ? Sample(type, 0, named) ?? new { }
        : new { };

    // Whether a request names records in its body.
    private static bool Names(Type type, int depth = 0) =>
        type == typeof(Guid)
        || type == typeof(Guid?)
        || depth < 5
            && (
                type.IsArray ? Names(type.GetElementType()!, depth + 1)
                : type.IsGenericType ? type.GetGenericArguments().Any(t => Names(t, depth + 1))
                : type.Namespace?.StartsWith("DapperLantern", StringComparison.Ordinal) == true && !type.IsEnum && type.GetProperties().Any(p => Names(p.PropertyType, depth + 1))
            );

    // Values of closed lists.
    private static readonly Dictionary<string, string> Known = new(StringComparer.OrdinalIgnoreCase) { ["kind"] = "note", ["role"] = "" };

    // A value of every type, so that a body passes its reading and the right is asked.
    /// <param name="named">The record that is named wherever one can be; null to name one that is not there, where one has to be.</param>
    private static object? Sample(Type type, int depth, Guid? named = null)
    {
        if (named is { } record && (type == typeof(Guid) || type == typeof(Guid?)))
            return record;
        if (named is { } one && typeof(IEnumerable<Guid>).IsAssignableFrom(type))
            return new[] { one };
        if (Nullable.GetUnderlyingType(type) is not null)
            return null;
        if (type == typeof(string))
            return "Said";
        if (type == typeof(Guid))
            return Guid.Empty.ToString();
        if (type == typeof(bool))
            return true;
        if (type == typeof(DateTime) || type == typeof(DateTimeOffset))
            return "2026-12-01T10:00:00Z";
        if (type == typeof(DateOnly))
            return "2026-12-01";
        if (type == typeof(TimeOnly))
            return "10:00:00";
        if (type.IsEnum)
            return null;
        if (type.IsPrimitive || type == typeof(decimal))
            return 1;
        if (type.GetInterfaces().Append(type).Any(i => i.IsGenericType && i.GetGenericTypeDefinition() == typeof(IReadOnlyDictionary<,>)))
            return new Dictionary<string, string>();
        if (typeof(IEnumerable).IsAssignableFrom(type))
            return Array.Empty<object>();
        if (depth > 4 || type.GetConstructors(BindingFlags.Public | BindingFlags.Instance) is not [.. var constructors] || constructors.Length == 0)
            return null;
        return constructors
            .MaxBy(c => c.GetParameters().Length)!
            .GetParameters()
            .ToDictionary(
                p => System.Text.Json.JsonNamingPolicy.CamelCase.ConvertName(p.Name!),
                p => p.ParameterType == typeof(string) && Known.TryGetValue(p.Name!, out var known) ? known : Sample(p.ParameterType, depth + 1, named)
            );
    }
}
