using System.Collections;
using System.Net;
using System.Reflection;
using Dapper;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
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
        foreach (var role in Enum.GetValues<Role>())
        {
            var person = await SignIn(role);
            foreach (var act in acts.Where(a => a.Rights.Any(r => !Permissions.May(role, r))))
                (await Try(person, act, Guid.Empty)).Status.ShouldBe(HttpStatusCode.Forbidden, $"{role}: {act}");
        }
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
        // Passkeys, which are named by what the device says; SecondStepTests tries those of others.
        ["session"] = null,
    };

    [Theory]
    [InlineData(Role.Rep)]
    [InlineData(Role.Qualifier)]
    public async Task WhoWorksOnlyTheirOwnChangesNothingOfOthers(Role role)
    {
        var person = await SignIn(role);
        await using var connection = await Server.Connect();
        var other = await connection.QuerySingleAsync<Guid>(
            "select id from person where role = 'Rep' and here and id <> @me order by user_name limit 1",
            new { me = person.Session.Id }
        );
        var theirs = await Server.SignIn(await connection.QuerySingleAsync<string>("select user_name from person where id = @other", new { other }));
        await Begin(theirs, await connection.QueryFirstAsync<Guid>(Theirs["leads"]!, new { other }));
        await connection.ExecuteAsync("update lead set owner_id = @other where id = (select lead_id from meeting order by id limit 1)", new { other });
        var open = new List<string>();
        foreach (var act in Acts.Where(a => a.Writes && a.Path.Contains('{') && a.Rights.All(r => Permissions.May(role, r))))
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

    private async Task<TestClient> SignIn(Role role) =>
        await Server.SignIn(await Server.Scalar<string>($"select user_name from person where role = '{role}' and here order by user_name limit 1"));

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

    private object Sample(Tried act) =>
        act.Body == typeof(ViewWrite) && _view is not null ? _view
        : act.Body == typeof(ConsentOrder) ? new ConsentOrder("news", "given", "On the telephone")
        : act.Body is { } type ? Sample(type, 0) ?? new { }
        : new { };

    // Values of closed lists.
    private static readonly Dictionary<string, string> Known = new(StringComparer.OrdinalIgnoreCase) { ["kind"] = "note" };

    // A value of every type, so that a body passes its reading and the right is asked.
    private static object? Sample(Type type, int depth)
    {
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
                p => p.ParameterType == typeof(string) && Known.TryGetValue(p.Name!, out var known) ? known : Sample(p.ParameterType, depth + 1)
            );
    }
}
