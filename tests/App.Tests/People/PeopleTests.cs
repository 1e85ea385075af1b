using System.Net;
using DapperLantern.App.Data;
using DapperLantern.App.Due;
using DapperLantern.App.People;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using DapperLantern.Tests.Shared;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace DapperLantern.App.Tests.People;

/// <summary>How people come, what an administrator changes of them, and how they go.</summary>
public sealed class PeopleTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private const string Password = "seven quiet herons";

    private TestServer Server => fixture.Server;

    private static object Order(string name, string? email = null, string role = "rep", Guid? manager = null, string zone = "Europe/Oslo") =>
        new
        {
            name,
            email = email ?? $"{Guid.NewGuid():N}@tarnhollow.example",
            roles = new[] { role },
            timeZone = zone,
            manager,
        };

    private Task<TestClient> Administrator() => Server.SignIn("samir.haddow");

    private static async Task<PersonLine> Invite(TestClient by, object order)
    {
        var answer = await by.Post("/api/setup/people", order);
        answer.Status.ShouldBe(HttpStatusCode.OK, answer.Body);
        return answer.Read<PersonLine>();
    }

    private static async Task<string> Link(TestClient by, Guid person)
    {
        var answer = await by.Post($"/api/setup/people/{person}/link", new { send = false });
        answer.Status.ShouldBe(HttpStatusCode.OK, answer.Body);
        return answer.Read<OneTimeLink>().Address;
    }

    private static async Task<PersonLine> Line(TestClient by, Guid person) => (await by.Read<PeopleView>("/api/setup/people")).People.Single(p => p.Id == person);

    private async Task<(TestClient Client, PersonLine Person)> Newcomer(TestClient by, string name, string role = "rep")
    {
        var person = await Invite(by, Order(name, role: role));
        var client = new TestClient(Server.Address);
        (await client.WayIn(await Link(by, person.Id), new { password = Password })).Status.ShouldBe(HttpStatusCode.NoContent);
        return (client, await Line(by, person.Id));
    }

    [Fact]
    public async Task WhoIsInvitedComesInOnceByTheirAddressAndIsHere()
    {
        var samir = await Administrator();
        var person = await Invite(samir, Order("Runa Åsen", "Runa.Aasen@tarnhollow.example", "coordinator"));
        (person.State, person.SignInName, person.Email).ShouldBe((PersonState.Invited, "runa.asen", "runa.aasen@tarnhollow.example"));
        var address = await Link(samir, person.Id);
        address.ShouldContain("/way-in#");
        var runa = new TestClient(Server.Address);
        var seen = (await runa.Post("/api/way-in/look", new { key = address.Split('#')[1] })).Read<WayInView>();
        (seen.Kind, seen.Name, seen.SignInName).ShouldBe((LinkKind.Invitation, "Runa Åsen", "runa.asen"));
        // A password that is not taken uses nothing up.
        (await runa.WayIn(address, new { password = "short" })).Problem.ShouldBe("password-short");
        (await runa.WayIn(address, new { password = "runa.asenlantern" })).Problem.ShouldBe("password-name");
        (await runa.WayIn(address, new { password = Password })).Status.ShouldBe(HttpStatusCode.NoContent);
        (runa.Session.Name, runa.Session.Role, runa.Session.TimeZone).ShouldBe(("Runa Åsen", "Coordinator", "Europe/Oslo"));
        (await Line(samir, person.Id)).State.ShouldBe(PersonState.Here);
        (await new TestClient(Server.Address).WayIn(address, new { password = Password })).Problem.ShouldBe("link-over");
        (await runa.Post("/api/way-in/look", new { key = address.Split('#')[1] })).Problem.ShouldBe("link-over");
        // By the name, and by the email address however it is written.
        await new TestClient(Server.Address).SignIn("runa.asen", Password);
        await new TestClient(Server.Address).SignIn(" RUNA.aasen@Tarnhollow.example ", Password);
    }

    [Fact]
    public async Task AnAddressIsUsedByOneOfManyAtOnce()
    {
        var samir = await Administrator();
        var person = await Invite(samir, Order("Ea Holm"));
        var address = await Link(samir, person.Id);
        var answers = await Task.WhenAll(Enumerable.Range(0, 6).Select(i => new TestClient(Server.Address).WayIn(address, new { password = $"{Password} {i}" })));
        answers.Count(a => a.Status == HttpStatusCode.NoContent).ShouldBe(1);
        answers.Where(a => a.Status != HttpStatusCode.NoContent).ShouldAllBe(a => a.Problem == "link-over");
    }

    [Fact]
    public async Task ANewAddressEndsTheOldOneAndNoneOpensForEver()
    {
        var samir = await Administrator();
        var person = await Invite(samir, Order("Ivo Strand"));
        var (first, second) = (await Link(samir, person.Id), await Link(samir, person.Id));
        (await new TestClient(Server.Address).WayIn(first, new { password = Password })).Problem.ShouldBe("link-over");
        await Server.Scalar<int>($"with x as (update one_time_link set ends_at = now() - interval '1 second' where person_id = '{person.Id}' returning 1) select count(*) from x");
        (await new TestClient(Server.Address).WayIn(second, new { password = Password })).Problem.ShouldBe("link-over");
        (await Line(samir, person.Id)).LinkEndsAt.ShouldBeNull();
        // That they were made is in the log, with who made them.
        (
            await Server.Scalar<int>(
                $"select count(*) from event where kind = 'way_in' and record = '{person.Id}' and by_id = (select id from person where user_name = 'samir.haddow')"
            )
        ).ShouldBe(2);
        // Neither the address nor its key is kept.
        (await Server.Scalar<bool>($"select exists (select 1 from one_time_link where encode(hash, 'base64') = '{second.Split('#')[1]}')")).ShouldBeFalse();
    }

    [Fact]
    public async Task AnotherPasswordEndsTheSessionsThereWere()
    {
        var samir = await Administrator();
        var (runa, person) = await Newcomer(samir, "Tove Lind");
        var address = await Link(samir, person.Id);
        var again = new TestClient(Server.Address);
        (await again.Post("/api/way-in/look", new { key = address.Split('#')[1] })).Read<WayInView>().Kind.ShouldBe(LinkKind.Password);
        (await again.WayIn(address, new { password = "eight louder herons" })).Status.ShouldBe(HttpStatusCode.NoContent);
        (await runa.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await again.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.OK);
        (await new TestClient(Server.Address).Post("/api/session", new { name = person.SignInName, password = Password })).Problem.ShouldBe("wrong-sign-in");
    }

    [Fact]
    public async Task OrdersThatCannotBeAreRefusedAtTheirField()
    {
        var samir = await Administrator();
        foreach (
            var (order, field, problem) in new (object, string, string)[]
            {
                (Order(" "), "name", "name-missing"),
                (Order("Nobody", "nobody"), "email", "email-unreadable"),
                (Order("Tor Vik", "TOR.VIK@tarnhollow.example"), "email", "person-exists"),
                (Order("Nobody", zone: "Mars/Olympus"), "timeZone", "zone-unknown"),
                (Order("Nobody", manager: Guid.NewGuid()), "manager", "owner-unknown"),
            }
        )
        {
            var answer = await samir.Post("/api/setup/people", order);
            answer.Problem.ShouldBe(problem);
            answer.Body.ShouldContain($"\"field\":\"{field}\"");
        }
        (await samir.Post("/api/setup/people", Order("Nobody", role: "king"))).Problem.ShouldBe("role-unknown");
        (await samir.Post($"/api/setup/people/{Guid.NewGuid()}/link", new { send = false })).Status.ShouldBe(HttpStatusCode.NotFound);
        // Two of one name sign in by two names.
        var (one, two) = (await Invite(samir, Order("Liv Aune")), await Invite(samir, Order("Liv Aune")));
        (one.SignInName, two.SignInName).ShouldBe(("liv.aune", "liv.aune2"));
    }

    [Fact]
    public async Task ChangesAreMadeOnTheVersionThatWasSeenAndNobodyReportsInACircle()
    {
        var samir = await Administrator();
        var (_, above) = await Newcomer(samir, "Una Berg", "manager");
        var (below, person) = await Newcomer(samir, "Per Dale");
        var changed = (await samir.Put($"/api/setup/people/{person.Id}", Order("Per Dale", person.Email, manager: above.Id), person.Version)).Read<PersonLine>();
        changed.ManagerName.ShouldBe("Una Berg");
        (await samir.Put($"/api/setup/people/{person.Id}", Order("Per Dahl", person.Email), person.Version)).Status.ShouldBe(HttpStatusCode.PreconditionFailed);
        (await samir.Put($"/api/setup/people/{above.Id}", Order("Una Berg", above.Email, "manager", person.Id), above.Version)).Problem.ShouldBe("report-circle");
        // Another role ends what was begun with the old one.
        (await below.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.OK);
        (await samir.Put($"/api/setup/people/{person.Id}", Order("Per Dale", person.Email, "marketer"), changed.Version)).Status.ShouldBe(HttpStatusCode.OK);
        (await below.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.Unauthorized);
    }

    [Fact]
    public async Task WhoIsLetGoIsOutAtOnceAndComesBackWithTheirPassword()
    {
        var samir = await Administrator();
        var (runa, person) = await Newcomer(samir, "Dag Moe");
        var address = await Link(samir, person.Id);
        (await samir.Post($"/api/setup/people/{person.Id}/suspend")).Read<PersonLine>().State.ShouldBe(PersonState.Left);
        (await runa.Get("/api/desk")).Status.ShouldBe(HttpStatusCode.Unauthorized);
        (await new TestClient(Server.Address).Post("/api/session", new { name = person.SignInName, password = Password })).Problem.ShouldBe("wrong-sign-in");
        (await new TestClient(Server.Address).WayIn(address, new { password = Password })).Problem.ShouldBe("link-over");
        (await samir.Post($"/api/setup/people/{person.Id}/link", new { send = false })).Problem.ShouldBe("person-left");
        (await samir.Post($"/api/setup/people/{person.Id}/return")).Read<PersonLine>().State.ShouldBe(PersonState.Here);
        await new TestClient(Server.Address).SignIn(person.SignInName, Password);
        // Who was never in has nothing to come back with.
        var never = await Invite(samir, Order("Aud Nes"));
        (await samir.Post($"/api/setup/people/{never.Id}/return")).Problem.ShouldBe("not-been-in");
    }

    [Fact]
    public async Task WhomTheLiveRulesNeedStays()
    {
        var samir = await Administrator();
        var people = (await samir.Read<PeopleView>("/api/setup/people")).People;
        // The only two of a team that a rule names: the second may not go as well.
        var iberia = people.Where(p => p.Teams.Contains("iberia")).ToList();
        iberia.Count.ShouldBeGreaterThan(1);
        foreach (var person in iberia.SkipLast(1))
            (await samir.Post($"/api/setup/people/{person.Id}/suspend")).Status.ShouldBe(HttpStatusCode.OK);
        (await samir.Post($"/api/setup/people/{iberia[^1].Id}/suspend")).Problem.ShouldBe("sheet-needs-it");
        (await Line(samir, iberia[^1].Id)).State.ShouldBe(PersonState.Here);
        foreach (var person in iberia.SkipLast(1))
            (await samir.Post($"/api/setup/people/{person.Id}/return")).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task TheLastAdministratorCannotBeLostNotEvenByTwoAtOnce()
    {
        await using var alone = await TestServer.Start();
        var samir = await alone.SignIn("samir.haddow");
        var me = (await samir.Read<PeopleView>("/api/setup/people")).People.Single(p => p.Roles.Contains(ShippedRoles.Administrator));
        (await samir.Post($"/api/setup/people/{me.Id}/suspend")).Problem.ShouldBe("last-administrator");
        (await samir.Put($"/api/setup/people/{me.Id}", Order(me.Name, me.Email, "coordinator"), me.Version)).Problem.ShouldBe("last-administrator");
        for (var round = 0; round < 5; round++)
        {
            var second = await Invite(samir, Order("Second Hand", role: "administrator"));
            var other = new TestClient(alone.Address);
            (await other.WayIn(await Link(samir, second.Id), new { password = Password })).Status.ShouldBe(HttpStatusCode.NoContent);
            // Each lets the other go.
            var answers = await Task.WhenAll(samir.Post($"/api/setup/people/{second.Id}/suspend"), other.Post($"/api/setup/people/{me.Id}/suspend"));
            answers.Count(a => a.Status == HttpStatusCode.OK).ShouldBe(1);
            (await alone.Scalar<int>("select count(*) from person where 'administrator' = any(roles) and here")).ShouldBe(1);
            if (answers[1].Status != HttpStatusCode.OK)
                continue;
            (await other.Post($"/api/setup/people/{me.Id}/return")).Status.ShouldBe(HttpStatusCode.OK);
            samir = await alone.SignIn("samir.haddow");
            (await samir.Post($"/api/setup/people/{second.Id}/suspend")).Status.ShouldBe(HttpStatusCode.OK);
        }
    }

    [Fact]
    public async Task ForgettingIsAnsweredAlikeForEverybodyAndTheLetterOpensOnce()
    {
        var samir = await Administrator();
        var (_, person) = await Newcomer(samir, "Siv Rud");
        var stranger = new TestClient(Server.Address);
        var (known, unknown) = (
            await stranger.Post("/api/way-in/forgotten", new { name = person.Email }),
            await stranger.Post("/api/way-in/forgotten", new { name = "nobody@nowhere.example" })
        );
        known.Status.ShouldBe(HttpStatusCode.Accepted);
        (unknown.Status, unknown.Body).ShouldBe((known.Status, known.Body));
        var letters = await Letters(person.Id);
        var letter = letters.ShouldHaveSingleItem();
        var address = letter.Split('\n').Single(l => l.Contains("/way-in#", StringComparison.Ordinal));
        // Nobody else reads it where letters are listed.
        (await (await Server.SignIn("ingrid.brekke")).Get("/api/outbox")).Body.ShouldNotContain("way-in#");
        // Asked again at once there is no second letter.
        (await stranger.Post("/api/way-in/forgotten", new { name = person.SignInName })).Status.ShouldBe(HttpStatusCode.Accepted);
        (await Letters(person.Id)).Count.ShouldBe(1);
        (await stranger.WayIn(address, new { password = "nine other herons" })).Status.ShouldBe(HttpStatusCode.NoContent);
        stranger.Session.Name.ShouldBe("Siv Rud");
        (await new TestClient(Server.Address).WayIn(address, new { password = "ten other herons" })).Problem.ShouldBe("link-over");
        (await Server.Scalar<int>("select count(*) from due where kind = 'password_asked'")).ShouldBe(0);
    }

    // What was written to somebody, once what is due is done.
    private async Task<List<string>> Letters(Guid person)
    {
        await using var db = await Server.Services.GetRequiredService<LanternDbFactory>().Open();
        var work = Server.Services.GetServices<IDueWork>().OfType<ForgottenPasswords>().Single();
        while (await DueSteps.Step(db, work, DateTime.UtcNow.AddSeconds(1)) > 0) { }
        return await db.Set<OutboxRow>().Where(x => x.PersonId == person && x.Kind == OutboxRow.WayIn).Select(x => x.Text).ToListAsync();
    }

    [Fact]
    public async Task ALetterIsOrderedOnlyWhereOneCanGo()
    {
        var samir = await Administrator();
        var person = await Invite(samir, Order("Gro Tveit"));
        (await samir.Read<PeopleView>("/api/setup/people")).Sends.ShouldBeFalse();
        (await samir.Post($"/api/setup/people/{person.Id}/link", new { send = true })).Problem.ShouldBe("no-mail-server");
        var folder = Directory.CreateTempSubdirectory("lantern-letters").FullName;
        await using var sending = await Server.Beside($"--Outbox:Folder={folder}");
        var beside = await sending.SignIn("samir.haddow");
        (await beside.Read<PeopleView>("/api/setup/people")).Sends.ShouldBeTrue();
        (await beside.Post($"/api/setup/people/{person.Id}/link", new { send = true })).Status.ShouldBe(HttpStatusCode.OK);
        await Eventually.Holds(async () => await Server.Scalar<bool>($"select exists (select 1 from outbox where person_id = '{person.Id}' and sent_at is not null)"));
        // Once it is sent only the receiver has it.
        (await Server.Scalar<string>($"select text from outbox where person_id = '{person.Id}'")).ShouldBe("");
        Directory.GetFiles(folder, "*", SearchOption.AllDirectories).Select(File.ReadAllText).ShouldContain(m => m.Contains("way-in#", StringComparison.Ordinal));
        Directory.Delete(folder, true);
    }
}
