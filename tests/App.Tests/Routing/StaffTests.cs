using System.Net;
using Dapper;
using DapperLantern.App.Routing;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Routing;

public sealed class StaffTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private TestClient _ingrid = null!;

    public async ValueTask InitializeAsync() => _ingrid = await fixture.Server.SignIn("ingrid.brekke");

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private Task<StaffView> Staff() => _ingrid.Read<StaffView>("/api/staff");

    private async Task<StaffMember> Member(string name) => (await Staff()).People.Single(p => p.Name == name);

    private async Task<string?> OwnerOf(string name, string country, params (string, string)[] more)
    {
        var id = await _ingrid.MakeLead(name, country, more);
        await using var connection = await fixture.Server.Connect();
        return await connection.QuerySingleAsync<string?>("select p.display_name from lead l left join person p on p.id = l.owner_id where l.id = @id", new { id });
    }

    internal static MemberOrder Order(StaffMember m) =>
        new(m.TimeZone, m.WorksFrom, m.WorksTo, m.WorksDays, m.Holidays, m.Capacity, m.CapacityToday, m.Languages, m.Skills, m.Serves);

    [Fact]
    public async Task TheDemoHasTerritoriesLanguagesSkillsHolidaysAndSomebodyAway()
    {
        var staff = await Staff();
        staff.People.ShouldAllBe(p => p.Languages.Count > 0);
        staff.Absences.ShouldContain(a => a.Name == "Lukas Fennimann" && a.StandInName == "Katrin Oberholz");
        staff.Calendars.Where(c => c.Key != "works-holidays").ShouldAllBe(c => c.Days > 20);
        staff.Skills.Count.ShouldBe(3);
    }

    [Fact]
    public async Task WhoIsAwayIsPassedOverAndOneNamedIsStoodInFor()
    {
        var (ines, mateo, tor, aoife) = (await Member("In\u00eas Carvalhal"), await Member("Mateo Ruvio"), await Member("Tor Vik"), await Member("Aoife Brannigan"));
        var today = DateOnly.FromDateTime(DateTime.UtcNow);
        var away = (await _ingrid.Post("/api/staff/absences", new AbsenceOrder(ines.Id, today.AddDays(-1), today.AddDays(2), mateo.Id, "Fair"))).Read<StaffView>();
        (await OwnerOf("Ausente", "Spain")).ShouldBe("Mateo Ruvio");
        await _ingrid.Delete($"/api/staff/absences/{away.Absences.Single(a => a.Person == ines.Id).Id}");

        // Norway, fish farming is Tor's by name.
        var torAway = (await _ingrid.Post("/api/staff/absences", new AbsenceOrder(tor.Id, today.AddDays(-1), today.AddDays(20), aoife.Id))).Read<StaffView>();
        (await OwnerOf("Fisker", "NO", ("industry", "Fish farming"))).ShouldBe("Aoife Brannigan");
        // A circle is refused.
        var circle = await _ingrid.Post("/api/staff/absences", new AbsenceOrder(aoife.Id, today, today.AddDays(2), tor.Id));
        (circle.Status, circle.Problem).ShouldBe((HttpStatusCode.UnprocessableEntity, "sheet-needs-it"));
        await _ingrid.Delete($"/api/staff/absences/{torAway.Absences.Single(a => a.Person == tor.Id).Id}");
    }

    [Fact]
    public async Task ATeamThatALiveRuleNamesCannotBeEmptiedOrTakenAway()
    {
        var emptied = await _ingrid.Put("/api/staff/teams/iberia", new TeamOrder("Iberia", false, []));
        (emptied.Status, emptied.Problem).ShouldBe((HttpStatusCode.UnprocessableEntity, "sheet-needs-it"));
        emptied.Body.ShouldContain("Nobody is in the team");
        (await _ingrid.Delete("/api/staff/teams/iberia")).Problem.ShouldBe("sheet-needs-it");
        (await _ingrid.Read<RoutingView>("/api/routing")).Teams.Single(t => t.Key == "iberia").Members.Count.ShouldBe(2);
    }

    [Fact]
    public async Task ATeamIsMadeWithItsPlacesAndTakenAway()
    {
        var (tor, aoife) = (await Member("Tor Vik"), await Member("Aoife Brannigan"));
        var order = new TeamOrder(" Cold  waters ", true, [new PlaceOrder(tor.Id, 2), new PlaceOrder(aoife.Id, 1), new PlaceOrder(Guid.NewGuid(), 5)]);
        (await _ingrid.Post("/api/staff/teams", order)).Status.ShouldBe(HttpStatusCode.OK);
        var team = (await _ingrid.Read<RoutingView>("/api/routing")).Teams.Single(t => t.Key == "cold-waters");
        team.Name.ShouldBe("Cold waters");
        team.Members.Select(m => (m.Id, m.Weight)).ShouldBe([(tor.Id, 2), (aoife.Id, 1)]);
        var again = await _ingrid.Post("/api/staff/teams", order with { Name = "COLD WATERS", Places = [] });
        again.Problem.ShouldBe("team-exists");
        again.Sentence.ShouldContain("COLD WATERS");
        (await _ingrid.Read<RoutingView>("/api/routing")).Teams.Single(t => t.Key == "cold-waters").Members.Count.ShouldBe(2);
        (await _ingrid.Delete("/api/staff/teams/cold-waters")).Status.ShouldBe(HttpStatusCode.OK);
        (await _ingrid.Read<RoutingView>("/api/routing")).Teams.ShouldNotContain(t => t.Key == "cold-waters");
    }

    [Fact]
    public async Task ASkillIsAddedGivenAndAskedForAndStaysWhileTheLiveSheetAsksIt()
    {
        var before = await Staff();
        var skills = before.Skills.Append(new("ice_diving", "Ice diving")).ToList();
        (await _ingrid.Put("/api/staff/skills", skills)).Read<StaffView>().Skills.Select(s => s.Name).ShouldContain("Ice diving");
        var sten = await Member("Sten Lindmark");
        (await _ingrid.Put($"/api/staff/people/{sten.Id}", Order(sten) with { Skills = [.. sten.Skills, "ice_diving"] })).Status.ShouldBe(HttpStatusCode.OK);
        (await Member("Sten Lindmark")).Skills.ShouldContain("ice_diving");
        await _ingrid.Put($"/api/staff/people/{sten.Id}", Order(sten));
        (await _ingrid.Put("/api/staff/skills", before.Skills)).Read<StaffView>().Skills.Count.ShouldBe(before.Skills.Count);
        // Other lists of values are what they were.
        (await _ingrid.Read<StaffView>("/api/staff")).Languages.Count.ShouldBe(before.Languages.Count);
    }

    [Fact]
    public async Task AListOfHolidaysSomebodyGoesByStays()
    {
        var file =
            "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//EN\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTAMP:20260101T000000Z\r\nDTSTART;VALUE=DATE:20271224\r\nSUMMARY:Eve\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n";
        (await _ingrid.PostText("/api/staff/calendars?name=Short%20list", file)).Status.ShouldBe(HttpStatusCode.OK);
        var wren = await Member("Wren Castillo");
        await _ingrid.Put($"/api/staff/people/{wren.Id}", Order(wren) with { Holidays = "short-list" });
        (await Member("Wren Castillo")).Holidays.ShouldBe("short-list");
        var kept = await _ingrid.Delete("/api/staff/calendars/short-list");
        kept.Problem.ShouldBe("holidays-followed");
        kept.Sentence.ShouldContain("Wren Castillo");
        (await Member("Wren Castillo")).Holidays.ShouldBe("short-list");
        await _ingrid.Put($"/api/staff/people/{wren.Id}", Order(wren));
        (await _ingrid.Delete("/api/staff/calendars/short-list")).Read<StaffView>().Calendars.ShouldNotContain(c => c.Key == "short-list");
    }

    private static string CalendarOf(string version, params string[] events) =>
        $"BEGIN:VCALENDAR\r\nVERSION:{version}\r\n{string.Concat(events.Select(e => $"BEGIN:VEVENT\r\n{e}\r\nEND:VEVENT\r\n"))}END:VCALENDAR\r\n";

    [Fact]
    public async Task SeveralCalendarsAnOldOneAndOneBadEventAreReadAsFarAsTheyCanBe()
    {
        var file =
            CalendarOf(
                "2.0",
                "DTSTART;VALUE=DATE:20271224\r\nSUMMARY:Eve",
                "DTSTART;VALUE=DATE:2027-Noon\r\nSUMMARY:Bad",
                "DTSTART;VALUE=DATE:20280102\r\nSTATUS:CANCELLED\r\nSUMMARY:Off"
            )
            + CalendarOf(
                "1.0",
                "DTSTART:20271226T000000\r\nDTEND:20271227T235959\r\nSUMMARY;ENCODING=QUOTED-PRINTABLE;CHARSET=UTF-8:Andre=20=\r\njuledag, fri",
                "DTSTART:20270517T000000\r\nDTEND:20270518T000000\r\nRRULE:YM1 5 #3\r\nSUMMARY:Seventeenth",
                "DTSTART:20270601T090000\r\nDTEND:20270601T100000\r\nSUMMARY:A meeting"
            )
            + "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nDTSTART;VALUE=DATE:20280101\r\nATTENDEE;;=:x\r\nBEGIN:VALARM\r\nTRIGGER:-PT1H\r\nEND:VALARM\r\nSUMMARY:New Year\r\nEND:VEVENT\r\nBEGIN:VEVENT\r\nDTSTART;VALUE=DATE:20280401";
        var staff = (await _ingrid.PostText("/api/staff/calendars?name=Mixed", file)).Read<StaffView>();
        staff.LeftOut.ShouldBe(["Line 7: the event has no date that can be read.", "Line 47: the event has no end."]);
        await using var connection = await fixture.Server.Connect();
        (await connection.QueryAsync<string>("select to_char(day, 'YYYY-MM-DD ') || name from holiday where calendar_key = 'mixed' order by day")).ShouldBe([
            "2027-05-17 Seventeenth",
            "2027-12-24 Eve",
            "2027-12-26 Andre juledag, fri",
            "2027-12-27 Andre juledag, fri",
            "2028-01-01 New Year",
            "2028-05-17 Seventeenth",
            "2029-05-17 Seventeenth",
        ]);
        await _ingrid.Delete("/api/staff/calendars/mixed");
    }

    [Fact]
    public async Task SomebodyNamedByALiveRuleCannotLeave()
    {
        var tor = await Member("Tor Vik");
        var samir = await fixture.Server.SignIn("samir.haddow");
        (await samir.Post($"/api/setup/people/{tor.Id}/suspend")).Problem.ShouldBe("sheet-needs-it");
        (await Member("Tor Vik")).Here.ShouldBeTrue();
    }

    [Fact]
    public async Task APlaceThatIsAddedOrGoesKeepsTheRotationInBalance()
    {
        for (var i = 0; i < 3; i++)
            await OwnerOf($"Balance{i}", "Portugal");
        var routing = await _ingrid.Read<RoutingView>("/api/routing");
        var team = routing.Teams.Single(t => t.Key == "iberia");
        var marcus = await Member("Marcus Odell");
        List<PlaceOrder> places = [.. team.Members.Select(m => new PlaceOrder(m.Id, m.Weight)), new(marcus.Id, 3)];
        (await _ingrid.Put("/api/staff/teams/iberia", new TeamOrder("Iberia", false, places))).Status.ShouldBe(HttpStatusCode.OK);
        await using var connection = await fixture.Server.Connect();
        (await connection.QuerySingleAsync<long>("select sum(credit)::bigint from turn where team_key = 'iberia'")).ShouldBe(0);
        (await connection.QuerySingleAsync<int>("select weight from turn where team_key = 'iberia' and person_id = @Id", new { marcus.Id })).ShouldBe(3);
        (await _ingrid.Put("/api/staff/teams/iberia", new TeamOrder("Iberia", false, [.. places.Take(2)]))).Status.ShouldBe(HttpStatusCode.OK);
        (await connection.QuerySingleAsync<long>("select sum(credit)::bigint from turn where team_key = 'iberia'")).ShouldBe(0);
    }

    [Fact]
    public async Task AStateNotKnownGoesRoundEveryoneWhoServesTheCountry()
    {
        var owners = new List<string?>();
        for (var i = 0; i < 5; i++)
            owners.Add(await OwnerOf($"Nostate{i}", "United States"));
        owners.OfType<string>().Distinct().Count().ShouldBe(5);
        await using var connection = await fixture.Server.Connect();
        (await connection.QuerySingleAsync<int>("select count(*)::int from turn where team_key = 'serves:US'")).ShouldBe(5);
        (await connection.QuerySingleAsync<long>("select sum(credit)::bigint from turn where team_key = 'serves:US'")).ShouldBe(0);
        // One who serves it no more is out of the rotation with the next turn.
        var priya = await Member("Priya Ramsey");
        await _ingrid.Put($"/api/staff/people/{priya.Id}", Order(priya) with { Serves = [] });
        (await OwnerOf("Nostate9", "United States")).ShouldNotBe("Priya Ramsey");
        (await connection.QuerySingleAsync<int>("select count(*)::int from turn where team_key = 'serves:US'")).ShouldBe(4);
        (await connection.QuerySingleAsync<long>("select sum(credit)::bigint from turn where team_key = 'serves:US'")).ShouldBe(0);
        await _ingrid.Put($"/api/staff/people/{priya.Id}", Order(priya));
    }

    [Theory]
    [InlineData("zone-unknown", "Europe/Atlantis", 9, 31, 60)]
    [InlineData("hours-reversed", "Europe/Oslo", 18, 31, 60)]
    [InlineData("days-missing", "Europe/Oslo", 9, 0, 60)]
    [InlineData("number-range", "Europe/Oslo", 9, 31, 0)]
    public async Task HoursThatCannotBeAreRefused(string problem, string zone, int from, int days, int capacity)
    {
        var wren = await Member("Wren Castillo");
        var order = Order(wren) with { TimeZone = zone, WorksFrom = new TimeOnly(from, 0), WorksTo = new TimeOnly(17, 0), WorksDays = days, Capacity = capacity };
        (await _ingrid.Put($"/api/staff/people/{wren.Id}", order)).Problem.ShouldBe(problem);
    }

    [Fact]
    public async Task HolidaysComeFromACalendarFileAndMoveTheTimeToAnswer()
    {
        var tomorrow = DateTime.UtcNow.Date.AddDays(1);
        var file =
            $"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//EN\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTAMP:20260101T000000Z\r\nDTSTART;VALUE=DATE:{tomorrow:yyyyMMdd}\r\nDTEND;VALUE=DATE:{tomorrow.AddDays(9):yyyyMMdd}\r\nSUMMARY:Works closed\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n";
        var staff = (await _ingrid.PostText("/api/staff/calendars?name=Works%20holidays", file)).Read<StaffView>();
        staff.Calendars.Single(c => c.Key == "works-holidays").Days.ShouldBe(9);
        var ines = await Member("In\u00eas Carvalhal");
        var mateo = await Member("Mateo Ruvio");
        foreach (var one in new[] { ines, mateo })
            await _ingrid.Put($"/api/staff/people/{one.Id}", Order(one) with { Holidays = "works-holidays" });
        await OwnerOf("Feriado", "Portugal");
        await using var connection = await fixture.Server.Connect();
        var due = await connection.QuerySingleAsync<DateTime>("select clock_due_at from lead where last_name = 'Feriado'");
        (due.Date <= tomorrow.AddDays(-1) || due.Date > tomorrow.AddDays(8)).ShouldBeTrue($"due {due}");
        foreach (var one in new[] { ines, mateo })
            await _ingrid.Put($"/api/staff/people/{one.Id}", Order(one));
        (await _ingrid.PostText("/api/staff/calendars?name=x", "no calendar")).Problem.ShouldBe("calendar-other");
    }
}
