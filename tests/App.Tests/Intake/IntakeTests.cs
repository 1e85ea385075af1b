using System.Net;
using System.Text;
using Dapper;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.Core.Intake;

namespace DapperLantern.App.Tests.Intake;

public sealed class IntakeTests : IAsyncLifetime
{
    private const string Expo = "northern-waters-expo.xlsx";
    private TestServer _server = null!;
    private TestClient _ingrid = null!;

    public async ValueTask InitializeAsync()
    {
        _server = await TestServer.Start();
        _ingrid = await _server.SignIn("ingrid.brekke");
    }

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    private async Task<T> Scalar<T>(string sql)
    {
        await using var connection = await _server.Connect();
        return (await connection.ExecuteScalarAsync<T>(sql))!;
    }

    // Everything an import could touch, but for the imports themselves, which are kept.
    private Task<string> Fingerprint() =>
        Scalar<string>(
            """
            select md5(concat(
              (select string_agg(md5((to_jsonb(l) - array['version', 'engagement', 'next_move', 'decay', 'band', 'move_until', 'look_again_at', 'scored_at'])::text), '' order by id) from lead l),
              (select string_agg(md5(s::text), '' order by id) from story_entry s), (select string_agg(md5(e::text), '' order by id) from lead_event e),
              (select string_agg(md5(t::text), '' order by id) from task t), (select string_agg(md5(d::text), '' order by id) from routing_decision d),
              (select string_agg(u::text, '' order by team_key, person_id) from turn u), (select string_agg(r::text, '' order by person_id) from rep_load r where open > 0),
              (select string_agg(g::text, '' order by lead_id, tag_key) from lead_tag g), (select string_agg(c::text, '' order by id) from consent c)))
            """
        );

    private async Task<IReadOnlyList<RowView>> Rows(SieveView sieve, string outcome) =>
        (await _ingrid.Read<RowPage>($"/api/imports/{sieve.Import.Id}/rows?outcome={outcome}")).Rows;

    private static void Balances(SiftCounts counts) => counts.Balances.ShouldBeTrue(counts.ToString());

    [Fact]
    public async Task TheSieveShowsWhatEachRowWouldBecomeAndTouchesNoLead()
    {
        var before = await Fingerprint();
        var sieve = await _ingrid.DropDemo(Expo);
        sieve.Import.Counts.ShouldBe(new SiftCounts(61, 57, 0, 0, 1, 1, 2, 0));
        sieve.Matching.Single(m => m.Heading == "Exhibitor").Target.ShouldBe("company");
        sieve.Matching.Single(m => m.Heading == "Scanned at").Target.ShouldBeNull();
        (await Fingerprint()).ShouldBe(before);
    }

    [Fact]
    public async Task RowsSayWhyTheyAddOrAreSetAsideAndKeepTheirText()
    {
        var sieve = await _ingrid.DropDemo(Expo);
        var adds = (await Rows(sieve, "adds")).Single();
        adds.Reason.ShouldStartWith("Already lead");
        adds.Changes.ShouldContain(c => c.Label == "Phone" && c.Before == "" && c.After == "+44 1632 960143");
        (await Rows(sieve, "duplicate")).Single().Reason.ShouldStartWith("The same person as row");
        var aside = await Rows(sieve, "mend");
        aside.ShouldAllBe(r => r.Reason.Contains("no email address or telephone number", StringComparison.Ordinal));
        aside.ShouldContain(r => r.Raw.Contains("Nordskjær Fisk", StringComparison.Ordinal));
    }

    [Fact]
    public async Task TakenInEachNewLeadIsScoredRoutedTaskedAndTold()
    {
        var sieve = await _ingrid.DropDemo(Expo);
        var done = (await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-in")).Read<ImportView>();
        done.State.ShouldBe("taken");
        Balances(done.Counts);
        var id = sieve.Import.Id;
        (await Scalar<int>($"select count(*)::int from lead where import_id = '{id}'")).ShouldBe(57);
        (await Scalar<int>($"select count(*)::int from routing_decision d join lead l on l.id = d.lead_id where l.import_id = '{id}'")).ShouldBe(57);
        (
            await Scalar<int>(
                $"select count(*)::int from lead l where l.import_id = '{id}' and (l.owner_id is null) = exists (select 1 from task t where t.lead_id = l.id and t.owner_id = l.owner_id)"
            )
        ).ShouldBe(0);
        (await Scalar<int>($"select count(*)::int from lead where import_id = '{id}' and owner_id is not null and clock_due_at is null")).ShouldBe(0);
        (await Scalar<int>($"select count(*)::int from lead where import_id = '{id}' and fit > 0")).ShouldBeGreaterThan(50);
        (await Scalar<int>($"select count(*)::int from lead l where import_id = '{id}' and country = 'FR' and owner_id is null")).ShouldBe(1);
    }

    [Fact]
    public async Task TakingInTwiceEvenAtOnceMakesNobodyTwice()
    {
        var sieve = await _ingrid.DropDemo(Expo);
        var before = await Scalar<int>("select count(*)::int from lead");
        var answers = await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-in")));
        answers.ShouldAllBe(a => a.Status == HttpStatusCode.OK);
        (await Scalar<int>("select count(*)::int from lead")).ShouldBe(before + 57);
    }

    [Fact]
    public async Task TwoProcessesTakingTheSameFileInAtOnceMakeNobodyTwice()
    {
        await using var other = await _server.Beside();
        var lucie = await other.SignIn("lucie.armand");
        var (mine, hers) = (await _ingrid.DropDemo(Expo), await lucie.DropDemo(Expo));
        var before = await Scalar<int>("select count(*)::int from lead");
        await Task.WhenAll(_ingrid.Post($"/api/imports/{mine.Import.Id}/take-in"), lucie.Post($"/api/imports/{hers.Import.Id}/take-in"));
        (await Scalar<int>("select count(*)::int from lead")).ShouldBe(before + 57);
        (await Scalar<int>("select coalesce(sum(credit), 0)::int from turn")).ShouldBe(0);
    }

    [Fact]
    public async Task TakenBackEverythingIsAsItWas()
    {
        var sieve = await _ingrid.DropDemo(Expo);
        var before = await Fingerprint();
        await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-in");
        (await Fingerprint()).ShouldNotBe(before);
        var back = (await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-back")).Read<ImportView>();
        (back.State, back.Left).ShouldBe(("taken_back", 0));
        (await Fingerprint()).ShouldBe(before);
        (await Scalar<int>($"select count(*)::int from arrival where import_id = '{sieve.Import.Id}'")).ShouldBe(61);
    }

    [Fact]
    public async Task TakingBackByForceTouchesOnlyWhatWasLeft()
    {
        var ragna = await _ingrid.Post("/api/leads", new { source = "telephone", facts = new { last_name = "Hovland", email = "hovland@skjaer-laks.example" } });
        var tor = await _ingrid.Post("/api/leads", new { source = "telephone", facts = new { last_name = "Bakke", email = "bakke@skjaer-laks.example" } });
        var list = "Mail,City,Website\nhovland@skjaer-laks.example,Bergen,skjaer-laks.example\nbakke@skjaer-laks.example,Bergen,skjaer-laks.example\n"u8.ToArray();
        var sieve = (await _ingrid.Drop("skjer.csv", list)).Read<SieveView>();
        await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-in");
        var (left, given) = (ragna.Read<LeadMade>().Id, tor.Read<LeadMade>().Id);
        await Edit(left, "Voss");
        (await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-back")).Read<ImportView>().Left.ShouldBe(1);
        // Given back already, so what is written now is nobody's but the person's who wrote it.
        await Edit(given, "Molde");
        await _ingrid.Patch($"/api/leads/{left}", new { facts = new { website = "voss.example" } }, await Version(left));
        (await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-back", new { force = true })).Read<ImportView>().Left.ShouldBe(0);
        (await Scalar<string>($"select city || ' ' || coalesce(website, '-') from lead where id = '{given}'")).ShouldBe("Molde -");
        (await Scalar<string>($"select coalesce(city, '-') || ' ' || website from lead where id = '{left}'")).ShouldBe("- voss.example");
    }

    private Task<int> Version(Guid lead) => Scalar<int>($"select version from lead where id = '{lead}'");

    private async Task Edit(Guid lead, string city) =>
        (await _ingrid.Patch($"/api/leads/{lead}", new { facts = new { city } }, await Version(lead))).Status.ShouldBe(HttpStatusCode.OK);

    [Fact]
    public async Task WhoHasOnlyAMobileNumberIsRecognised()
    {
        await _ingrid.Post(
            "/api/leads",
            new
            {
                source = "telephone",
                facts = new
                {
                    first_name = "Una",
                    last_name = "Skaar",
                    mobile = "+47 406 12 345",
                },
            }
        );
        var list = "First name,Last name,Handy,Phone\nUna,Skaar,+47 40612345,\nUna,Skaar,,+47 40 61 23 45\n"u8.ToArray();
        var sieve = (await _ingrid.Drop("mobile.csv", list)).Read<SieveView>();
        (sieve.Import.Counts.Read, sieve.Import.Counts.Adds).ShouldBe((2, 2));
    }

    [Fact]
    public async Task TakingBackLeavesWhatPeopleWorkedOn()
    {
        var sieve = await _ingrid.DropDemo(Expo);
        await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-in");
        var lead = await Scalar<Guid>($"select id from lead where import_id = '{sieve.Import.Id}' limit 1");
        await _ingrid.Post($"/api/leads/{lead}/touches", new { kind = "note", text = "Spoke at the stand." });
        (await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-back")).Read<ImportView>().Left.ShouldBe(1);
        (await Rows(sieve, "left")).Single().Left!.ShouldContain("worked on the lead");
        (await _ingrid.Get($"/api/leads/{lead}")).Status.ShouldBe(HttpStatusCode.OK);
        // Told otherwise, it goes too.
        (await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-back", new { force = true })).Status.ShouldBe(HttpStatusCode.OK);
        (await _ingrid.Get($"/api/leads/{lead}")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task AKnownLeadGetsItsBlanksFilledAndKeepsTheRest()
    {
        var ragna = await Scalar<Guid>("select id from lead where email = 'ragna@fjordnaer.example'");
        var sieve = await _ingrid.DropDemo(Expo);
        await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-in");
        var sheet = await _ingrid.Read<LeadSheet>($"/api/leads/{ragna}");
        var phone = sheet.Facts.Single(f => f.Key == "phone");
        (phone.Stored, phone.From).ShouldBe(("+441632960143", "Northern Waters Expo, badge scans"));
        sheet.Facts.Single(f => f.Key == "company").Stored.ShouldBe("Fjordnær Laks AS");
    }

    [Fact]
    public async Task TheSameFileAgainIsRecognisedAndWouldMakeNobodyTwice()
    {
        var first = await _ingrid.DropDemo(Expo);
        await _ingrid.Post($"/api/imports/{first.Import.Id}/take-in");
        var again = await _ingrid.DropDemo(Expo);
        again.SameFileAs.ShouldNotBeNull();
        again.Import.Counts.New.ShouldBe(0);
        Balances(again.Import.Counts);
    }

    [Fact]
    public async Task AChangedMatchingSiftsAnew()
    {
        var sieve = await _ingrid.DropDemo(Expo);
        var columns = sieve.Matching.Select(m => new { target = m.Target is "email" or "phone" ? "" : m.Target ?? "" }).ToList();
        var changed = (await _ingrid.Put($"/api/imports/{sieve.Import.Id}/matching", new { columns })).Read<SieveView>();
        // Without a way to reach them nobody can come in; one is known by name, company and place all the same.
        changed.Import.Counts.ShouldBe(Enumerable.Repeat(SiftOutcome.Mend, 60).Append(SiftOutcome.Adds).Aggregate(SiftCounts.None, (c, o) => c.With(o, 1)));
        columns[0] = columns[1] = new { target = "company" };
        (await _ingrid.Put($"/api/imports/{sieve.Import.Id}/matching", new { columns })).Problem.ShouldBe("target-twice");
    }

    public static TheoryData<string, byte[], string> BadFiles =>
        new()
        {
            { "empty.csv", [], "file-empty" },
            { "picture.csv", [0x89, 0x50, 0x4E, 0x47, 0, 0, 0, 13, 1, 2, 3, 0, 0, 0, 5, 6], "file-binary" },
            { "names.csv", Encoding.UTF8.GetBytes("Name\nTor\nRagna\n"), "one-column" },
            { "heading.csv", Encoding.UTF8.GetBytes("Name,Mail\n"), "no-rows" },
            { "wide.csv", Encoding.UTF8.GetBytes(string.Join(',', Enumerable.Range(0, 300).Select(i => $"c{i}")) + "\n1,2\n"), "too-many-columns" },
        };

    [Theory]
    [MemberData(nameof(BadFiles), DisableDiscoveryEnumeration = true)]
    public async Task AFileThatIsNoListIsRefusedWithASentenceAndTheApplicationGoesOn(string name, byte[] content, string problem)
    {
        var answer = await _ingrid.Drop(name, content);
        answer.Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        answer.Problem.ShouldBe(problem);
        answer.Sentence.ShouldContain("Nothing was kept");
        (await _ingrid.DropDemo(Expo)).Import.Counts.Read.ShouldBe(61);
    }

    [Fact]
    public async Task ABrokenQuoteSetsItsRowAsideWithAllItsTextAndLosesNone()
    {
        var rows = string.Concat(Enumerable.Range(0, 60).Select(i => $"Person{i},p{i}@broken.example\n"));
        var answer = await _ingrid.Drop("broken.csv", Encoding.UTF8.GetBytes("Name,Mail\nFirst One,first@broken.example\n\"Second,second@broken.example\n" + rows));
        answer.Status.ShouldBe(HttpStatusCode.OK, answer.Body);
        var sieve = answer.Read<SieveView>();
        Balances(sieve.Import.Counts);
        sieve.Import.Counts.ShouldBe(SiftCounts.None.With(SiftOutcome.New, 61).With(SiftOutcome.Mend, 1));
        var broken = (await Rows(sieve, "mend")).Single();
        broken.Reason.ShouldContain("never closed");
        broken.Raw.ShouldContain("second@broken.example");
    }

    [Fact]
    public async Task SemicolonsAndWindows1252AreDetected()
    {
        var sieve = await _ingrid.DropDemo("harbour-circular.csv");
        (sieve.Reading.Encoding, sieve.Reading.Separator).ShouldBe(("windows-1252", ";"));
        sieve.Matching.Single(m => m.Heading == "Firma").Samples.ShouldContain("Hafenbetriebe Brunsbüttel");
    }

    [Fact]
    public async Task RowsReadAreTheSumOfOutcomesAndTakingBackRestoresEverything()
    {
        var random = new Random(3);
        string[] cells = ["Tor Vik", "", "tor@vik.example", "a@b.example", "x", "\"q,1\"", "+441632960143", "Norway", "\"two\nlines\""];
        for (var n = 0; n < 12; n++)
        {
            var text = new StringBuilder("Batch,Name,Mail,Phone,Country\n");
            var rows = random.Next(1, 60);
            for (var r = 0; r < rows; r++)
                text.AppendLine("r," + string.Join(',', Enumerable.Range(0, random.Next(2, 6)).Select(_ => cells[random.Next(cells.Length)])));
            var sieve = (await _ingrid.Drop($"random{n}.csv", Encoding.UTF8.GetBytes(text.ToString()))).Read<SieveView>();
            Balances(sieve.Import.Counts);
            sieve.Import.Counts.Read.ShouldBe(rows);
            var before = await Fingerprint();
            Balances((await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-in")).Read<ImportView>().Counts);
            if (n % 2 == 0)
                continue;
            await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-back");
            (await Fingerprint()).ShouldBe(before);
        }
    }
}
