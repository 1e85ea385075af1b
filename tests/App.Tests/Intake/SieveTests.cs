using System.Net;
using System.Text;
using Dapper;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.Routing;
using DapperLantern.Core.Intake;
using DapperLantern.Tests.Shared;
using Microsoft.Extensions.DependencyInjection;

namespace DapperLantern.App.Tests.Intake;

/// <summary>What the sieve tells apart, what can be said for a whole list, and mending.</summary>
public sealed class SieveTests : IAsyncLifetime
{
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

    private async Task<SieveView> Drop(string text, string name = "list.csv")
    {
        var answer = await _ingrid.Drop(name, Encoding.UTF8.GetBytes(text));
        answer.Status.ShouldBe(HttpStatusCode.OK, answer.Body);
        return answer.Read<SieveView>();
    }

    private async Task<IReadOnlyList<RowView>> Rows(SieveView sieve, string outcome) =>
        (await _ingrid.Read<RowPage>($"/api/imports/{sieve.Import.Id}/rows?outcome={outcome}")).Rows;

    private async Task<ImportView> Take(SieveView sieve) => (await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-in")).Read<ImportView>();

    private Task<SieveView> Reopen(SieveView sieve) => _ingrid.Read<SieveView>($"/api/imports/{sieve.Import.Id}");

    private static object Terms(SieveView sieve, object constants, object? policies = null) =>
        new
        {
            source = sieve.Import.Source,
            constants,
            policies = policies ?? new { all = "fillBlanks" },
        };

    [Fact]
    public async Task ContactsAccountsAndTheBarredAreToldApart()
    {
        var (email, name) = await Known("select c.email, c.name from contact c where c.email is not null and not exists (select 1 from lead l where l.email = c.email) limit 1");
        await using (var connection = await _server.Connect())
        {
            // A contact of whom no lead is left, and an account by its domain.
            if (email.Length == 0)
            {
                await connection.ExecuteAsync(
                    "insert into contact (id, name, email, created_at, facts) values (gen_random_uuid(), 'Una Carrick', 'una@carrick.example', now(), '{\"first_name\":\"Una\",\"last_name\":\"Carrick\"}')"
                );
                (email, name) = ("una@carrick.example", "Una Carrick");
            }
            await connection.ExecuteAsync(
                "insert into account (id, name, domain, company_key, created_at, facts) values (gen_random_uuid(), 'Stillwater Trust', 'stillwater.example', 'stillwater trust', now(), '{}')"
            );
        }
        var (first, last) = (name[..name.IndexOf(' ', StringComparison.Ordinal)], name[(name.IndexOf(' ', StringComparison.Ordinal) + 1)..]);
        var sieve = await Drop(
            $"""
            First name,Last name,Company,Mail
            {first},{last},,{email}
            Ada,New,Stillwater Trust Ltd,ada@stillwater.example
            Spy,Glass,Bluefathom,spy@sales.bluefathom-sensing.example
            Gone,Away,Tidewrack,no.more@tidewrack.example
            Plain,Newcomer,Nowhere,plain@nowhere.example
            Nobody,Reachable,Nowhere,
            """
        );
        sieve.Import.Counts.ShouldBe(new SiftCounts(6, 1, 1, 1, 0, 0, 1, 2));
        (await Rows(sieve, "contact")).Single().Reason.ShouldContain(name);
        (await Rows(sieve, "account")).Single().Reason.ShouldContain("Stillwater Trust");
        var barred = await Rows(sieve, "barred");
        barred[0].Reason.ShouldContain("bluefathom-sensing.example belongs to a competitor");
        barred[1].Reason.ShouldBe("On the do-not-contact list.");
        var before = await Scalar<int>("select count(*)::int from lead");
        await Take(sieve);
        (await Scalar<int>("select count(*)::int from lead")).ShouldBe(before + 3);
        (await Scalar<int>("select count(*)::int from lead where email like '%tidewrack%' or email like '%bluefathom%'")).ShouldBe(0);
    }

    private async Task<(string Email, string Name)> Known(string sql)
    {
        await using var connection = await _server.Connect();
        return await connection.QueryFirstOrDefaultAsync<(string?, string?)>(sql) is var (email, name) && email is not null ? (email, name!) : ("", "");
    }

    [Fact]
    public async Task WhoWithdrewConsentIsBarred()
    {
        var first = await Drop("Name,Mail\nMara Linnet,mara@linnet.example\n");
        await _ingrid.Put(
            $"/api/imports/{first.Import.Id}/terms",
            Terms(
                first,
                new
                {
                    consent = new
                    {
                        purpose = "news",
                        wording = "Send me news.",
                        at = "2026-01-02T00:00:00Z",
                    },
                    tags = new[] { "event-expo" },
                }
            )
        );
        await Take(first);
        (await Scalar<int>("select count(*)::int from consent where wording = 'Send me news.'")).ShouldBe(1);
        (await Scalar<int>("select count(*)::int from lead_tag t join lead l on l.id = t.lead_id where t.tag_key = 'event-expo' and l.email = 'mara@linnet.example'")).ShouldBe(1);
        await Scalar<int>(
            "insert into consent select gen_random_uuid(), lead_id, person_hash, person_key, purpose, 'withdrawn', now(), '', 'by mail', null from consent returning 1".Replace(
                "insert into consent select",
                "insert into consent (id, lead_id, person_hash, person_key, purpose, state, at, wording, place, import_id) select",
                StringComparison.Ordinal
            )
        );
        var again = await Drop("Name,Mail\nMara Linnet,mara@linnet.example\n");
        (await Rows(again, "barred")).Single().Reason.ShouldStartWith("Withdrew consent on");
    }

    [Theory]
    [InlineData("keepOurs", "Old Post", null)]
    [InlineData("takeTheirs", "New Post", "Oslo")]
    [InlineData("fillBlanks", "Old Post", "Oslo")]
    [InlineData("newestWins", "New Post", "Oslo")]
    public async Task AKnownLeadTakesNewValuesByThePolicyAndGetsItsOwnBack(string policy, string title, string? city)
    {
        await Take(await Drop("Name,Mail,Job title\nMara Linnet,mara@linnet.example,Old Post\n"));
        var sieve = await Drop("Name,Mail,Job title,City\nMara Linnet,mara@linnet.example,New Post,Oslo\n");
        await _ingrid.Put($"/api/imports/{sieve.Import.Id}/terms", Terms(sieve, new { }, new { all = policy }));
        var shown = (await Rows(sieve, "adds")).Single().Changes.Select(c => $"{c.Label}: {c.Before} to {c.After}").ToList();
        await Take(sieve);
        (await Scalar<string>("select job_title from lead where email = 'mara@linnet.example'")).ShouldBe(title);
        (await Scalar<string?>("select city from lead where email = 'mara@linnet.example'")).ShouldBe(city);
        (await Rows(sieve, "adds")).Single().Changes.Select(c => $"{c.Label}: {c.Before} to {c.After}").ShouldBe(shown);
        await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-back");
        (await Scalar<string>("select job_title || coalesce(city, '') from lead where email = 'mara@linnet.example'")).ShouldBe("Old Post");
    }

    [Fact]
    public async Task AnOlderListDoesNotWinOverNewerValues()
    {
        await Take(await Drop("Name,Mail,Job title\nMara Linnet,mara@linnet.example,Now\n"));
        var sieve = await Drop("Name,Mail,Job title\nMara Linnet,mara@linnet.example,Then\n");
        await _ingrid.Put($"/api/imports/{sieve.Import.Id}/terms", Terms(sieve, new { saidAt = "2019-05-01T00:00:00Z" }, new { all = "newestWins" }));
        await Take(sieve);
        (await Scalar<string>("select job_title from lead where email = 'mara@linnet.example'")).ShouldBe("Now");
    }

    [Fact]
    public async Task TakingBackLeavesWhatWasEditedSinceUnlessToldOtherwise()
    {
        await Take(await Drop("Name,Mail\nMara Linnet,mara@linnet.example\n"));
        var sieve = await Drop("Name,Mail,Job title,City\nMara Linnet,mara@linnet.example,Post,Oslo\n");
        await Take(sieve);
        var lead = await Scalar<Guid>("select id from lead where email = 'mara@linnet.example'");
        var version = await Scalar<int>($"select version from lead where id = '{lead}'");
        (await _ingrid.Patch($"/api/leads/{lead}", new { facts = new { job_title = "Edited" } }, version)).Status.ShouldBe(HttpStatusCode.OK);
        (await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-back")).Read<ImportView>().Left.ShouldBe(1);
        (await Rows(sieve, "left")).Single().Left.ShouldBe("Changed since, so left: Job title.");
        (await Scalar<string>($"select job_title || coalesce(city, '') from lead where id = '{lead}'")).ShouldBe("Edited");
    }

    /// <summary>What the clock says of a lead meanwhile is no work of a person: it goes with its import.</summary>
    [Fact]
    public async Task AWarningOfTheClockKeepsNoLeadBack()
    {
        var sieve = await Drop("Name,Mail,Country\nA One,a@warned.example,Norway\n");
        await Take(sieve);
        var due = await Scalar<DateTime>("select clock_due_at from lead where email = 'a@warned.example'");
        await using (var connection = await _server.Connect())
            await _server.Services.GetRequiredService<ResponseDeadlineWorker>().Warn(connection.Over(), due.AddMinutes(-1));
        (await Scalar<int>("select count(*)::int from event e join lead l on l.id = e.record where l.email = 'a@warned.example' and e.kind = 'clock_soon'")).ShouldBe(1);
        (await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-back")).Read<ImportView>().Left.ShouldBe(0);
        (await Scalar<int>("select count(*)::int from lead where email = 'a@warned.example'")).ShouldBe(0);
    }

    [Fact]
    public async Task AnOwnerOrATeamMayBeNamedForAllAndTheTraceSaysSo()
    {
        var sieve = await Drop("Name,Mail,Country\nA One,a@named.example,Norway\nB Two,b@named.example,Norway\n");
        var tor = sieve.Choices.Owners.Single(o => o.Label == "Tor Vik").Key;
        (await _ingrid.Put($"/api/imports/{sieve.Import.Id}/terms", Terms(sieve, new { owner = tor, team = "iberia" }))).Problem.ShouldBe("owner-and-team");
        (await _ingrid.Put($"/api/imports/{sieve.Import.Id}/terms", Terms(sieve, new { owner = tor }))).Status.ShouldBe(HttpStatusCode.OK);
        await Take(sieve);
        (await Scalar<int>($"select count(*)::int from lead where import_id = '{sieve.Import.Id}' and owner_id = '{tor}'")).ShouldBe(2);
        (await Scalar<int>("select count(*)::int from routing_decision where trace::text like '%The import names its owner%'")).ShouldBe(2);
        // One message tells of them all.
        await _server.Heard();
        (await Scalar<string>("select subject from outbox order by created_at desc, id desc limit 1")).ShouldBe("New leads: 2 from list.csv");
    }

    [Fact]
    public async Task AlikeValuesAreMendedTogetherAndThatCanBeUndone()
    {
        var sieve = await Drop("Name,Mail,Country\nA One,a@mend.example,Untied Kingdoom\nB Two,b@mend.example,Untied  Kingdoom\nC Three,c@mend.example,Norway\n");
        var group = (await _ingrid.Read<List<ProblemGroup>>($"/api/imports/{sieve.Import.Id}/problems")).Single();
        (group.Field, group.Rows, group.Proposals[0].Stored).ShouldBe(("country", 2, "GB"));
        (
            await _ingrid.Post(
                $"/api/imports/{sieve.Import.Id}/mends",
                new
                {
                    field = "country",
                    found = group.Found,
                    put = "Nowhereland",
                }
            )
        ).Problem.ShouldBe("country-unknown");
        var done = (
            await _ingrid.Post(
                $"/api/imports/{sieve.Import.Id}/mends",
                new
                {
                    field = "country",
                    found = group.Found,
                    put = "GB",
                }
            )
        ).Read<MendResult>();
        (done.Rows, done.Fit).ShouldBe((2, 2));
        (await _ingrid.Read<List<ProblemGroup>>($"/api/imports/{sieve.Import.Id}/problems")).ShouldBeEmpty();
        await _ingrid.Delete($"/api/imports/{sieve.Import.Id}/mends/{done.Id}");
        (await _ingrid.Read<List<ProblemGroup>>($"/api/imports/{sieve.Import.Id}/problems")).Single().Rows.ShouldBe(2);
        await _ingrid.Post(
            $"/api/imports/{sieve.Import.Id}/mends",
            new
            {
                field = "country",
                found = group.Found,
                put = "GB",
            }
        );
        await Take(sieve);
        (await Scalar<int>("select count(*)::int from lead where email like '%@mend.example' and country = 'GB'")).ShouldBe(2);
    }

    [Fact]
    public async Task RowsWithUnreadableValuesCanBeSetAsideUntilMended()
    {
        var sieve = await Drop("Name,Mail,Country\nA One,a@mend.example,Untied Kingdoom\nC Three,c@mend.example,Norway\n");
        sieve.Import.Counts.New.ShouldBe(2);
        var columns = sieve.Matching.Select(m => new { target = m.Target ?? "" }).ToList();
        var strict = (await _ingrid.Put($"/api/imports/{sieve.Import.Id}/matching", new { columns, asideUnread = true })).Read<SieveView>();
        (strict.Import.Counts.New, strict.Import.Counts.Mend).ShouldBe((1, 1));
    }

    [Fact]
    public async Task WhatIsLeftUnmendedIsMendedLaterTakenInLaterOrDownloadedWithItsReason()
    {
        var sieve = await Drop("Name,Mail,Phone\nA One,a@later.example,\nB Two,=see card,\n");
        (await Take(sieve)).Counts.Mend.ShouldBe(1);
        var csv = (await _ingrid.Get($"/api/imports/{sieve.Import.Id}/rows.csv?outcome=mend")).Body;
        csv.TrimStart('\uFEFF').ShouldStartWith("Name,Mail,Phone,Why\r\nB Two,'=see card,\"\",");
        csv.ShouldContain("no email address or telephone number");
        (
            await _ingrid.Post(
                $"/api/imports/{sieve.Import.Id}/mends",
                new
                {
                    field = "email",
                    row = 2,
                    put = "b@later.example",
                }
            )
        ).Read<MendResult>().Fit.ShouldBe(1);
        (await Reopen(sieve)).Import.Waiting.ShouldBe(1);
        (await Take(sieve)).Counts.ShouldBe(SiftCounts.None.With(SiftOutcome.New, 2));
        (await Take(sieve)).Waiting.ShouldBe(0);
        (await Scalar<int>("select count(*)::int from lead where email like '%@later.example'")).ShouldBe(2);
        await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-back");
        (await Scalar<int>("select count(*)::int from lead where email like '%@later.example'")).ShouldBe(0);
    }

    [Fact]
    public async Task AMendedRowIsMatchedAgainstTheRestOfItsFile()
    {
        var sieve = await Drop("Name,Mail\nMara Linnet,see card\nMara Linnet,mara@linnet.example\n");
        await _ingrid.Post(
            $"/api/imports/{sieve.Import.Id}/mends",
            new
            {
                field = "email",
                row = 1,
                put = "mara@linnet.example",
            }
        );
        (await Reopen(sieve)).Import.Counts.ShouldBe(SiftCounts.None.With(SiftOutcome.New, 1).With(SiftOutcome.Duplicate, 1));
        await Take(sieve);
        (await Scalar<int>("select count(*)::int from lead where email = 'mara@linnet.example'")).ShouldBe(1);
    }

    [Fact]
    public async Task AFileWithTheSameHeadingsIsMatchedAsLastTime()
    {
        var first = await Drop("Person,Reached at,Extra\nA One,a@again.example,blue\n", "one.csv");
        var columns = new[] { new { target = "full_name" }, new { target = "email" }, new { target = "interest" } };
        await _ingrid.Put($"/api/imports/{first.Import.Id}/matching", new { columns });
        await Take(first);
        var second = await Drop("Person,Reached at,Extra\nB Two,b@again.example,red\n", "two.csv");
        second.Matching[2].Target.ShouldBe("interest");
        second.Matching[2].Why.ShouldBe("as for one.csv");
    }

    [Fact]
    public async Task TheReadingCanBeChangedAndABadOneChangesNothing()
    {
        var sieve = (await _ingrid.Drop("tabs.csv", Encoding.Latin1.GetBytes("Name;Mail;City\nA One;a@read.example;Tromsø\n"))).Read<SieveView>();
        sieve.Reading.Encoding.ShouldBe("windows-1252");
        (
            await _ingrid.Put(
                $"/api/imports/{sieve.Import.Id}/reading",
                new
                {
                    encoding = "utf-7",
                    separator = ";",
                    headingRow = 1,
                }
            )
        ).Problem.ShouldBe("encoding-unknown");
        (
            await _ingrid.Put(
                $"/api/imports/{sieve.Import.Id}/reading",
                new
                {
                    encoding = "windows-1252",
                    separator = "|",
                    headingRow = 1,
                }
            )
        ).Problem.ShouldBe("one-column");
        (await Reopen(sieve)).Import.Counts.New.ShouldBe(1);
        var greek = (
            await _ingrid.Put(
                $"/api/imports/{sieve.Import.Id}/reading",
                new
                {
                    encoding = "iso-8859-1",
                    separator = ";",
                    headingRow = 0,
                }
            )
        ).Read<SieveView>();
        greek.Import.Counts.Read.ShouldBe(2);
    }

    [Fact]
    public async Task DatesAndNumbersAreReadByWhatTheWholeColumnShows()
    {
        var sieve = await Drop("Name,Mail,Needed by,Revenue\nA One,a@col.example,03/04/2027,\"1.200.000,50 €\"\nB Two,b@col.example,04/25/2027,\"12,5\"\n");
        sieve.Matching[2].Dates.ShouldBe(Core.Fields.DateOrder.MonthFirst);
        await Take(sieve);
        (await Scalar<string>("select to_char(needed_by at time zone 'UTC', 'YYYY-MM-DD') || ' ' || revenue from lead where email = 'a@col.example'")).ShouldBe(
            "2027-03-04 1200000.5"
        );
        var unsure = await Drop("Name,Mail,Needed by\nA One,a@unsure.example,03/04/2027\n");
        unsure.Matching[2].Note!.ShouldContain("cannot be told");
    }

    [Fact]
    public async Task AWorkbookACardAndAJsonFileComeInTheSameWay()
    {
        var book = WorkbookMaker.Make(
            false,
            new SheetOf(
                "Scans",
                [
                    ["Visitor", "E-mail", "Land"],
                    ["Tor Aalesund", "tor@book.example", "Norge"],
                ]
            )
        );
        foreach (
            var (name, content) in new[]
            {
                ("scans.xlsx", book),
                ("cards.vcf", Encoding.UTF8.GetBytes("BEGIN:VCARD\nVERSION:4.0\nFN:Card Holder\nEMAIL:holder@card.example\nEND:VCARD\n")),
                ("people.json", Encoding.UTF8.GetBytes("[{\"name\":\"Jay Son\",\"email\":\"jay@json.example\"}]")),
            }
        )
        {
            var answer = await _ingrid.Drop(name, content);
            answer.Status.ShouldBe(HttpStatusCode.OK, answer.Body);
            (await Take(answer.Read<SieveView>())).Counts.New.ShouldBe(1);
        }
        (await Scalar<string>("select country from lead where email = 'tor@book.example'")).ShouldBe("NO");
        (await Scalar<string>("select last_name from lead where email = 'holder@card.example'")).ShouldBe("Holder");
    }

    [Fact]
    public async Task WorkThatStopsSaysWhyKeepsWhatItHasAndGoesOnWhenAsked()
    {
        var book = WorkbookMaker.Make(
            false,
            new SheetOf(
                "Scans",
                [
                    ["Visitor", "E-mail"],
                    ["Tor Aalesund", "tor@broken.example"],
                ]
            )
        );
        var sieve = (await _ingrid.Drop("scans.xlsx", book)).Read<SieveView>();
        await using var connection = await _server.Connect();
        await connection.ExecuteAsync("update import_chunk set bytes = substr(bytes, 1, 200) where import_id = @Id", new { sieve.Import.Id });
        var columns = sieve.Matching.Select(m => new { target = m.Target ?? "" }).ToList();
        var stopped = (await _ingrid.Put($"/api/imports/{sieve.Import.Id}/matching", new { columns })).Read<SieveView>();
        (stopped.Import.State, stopped.Import.Trouble).ShouldBe(("sifting", "The file cannot be read to its end; what was read so far is kept."));
        (await _ingrid.Post($"/api/imports/{sieve.Import.Id}/take-in")).Problem.ShouldBe("still-sifting");
        await connection.ExecuteAsync("update import_chunk set bytes = @book where import_id = @Id", new { sieve.Import.Id, book });
        var done = (await _ingrid.Post($"/api/imports/{sieve.Import.Id}/try-again")).Read<ImportView>();
        (done.State, done.Trouble, done.Counts.New).ShouldBe(("sifted", null, 1));
    }

    [Fact]
    public async Task PeopleWithoutTheRightNeitherMendNorDownload()
    {
        var sieve = await Drop("Name,Mail\nA One,a@right.example\n");
        var tor = await _server.SignIn("tor.vik");
        (await tor.Get($"/api/imports/{sieve.Import.Id}/rows.csv")).Status.ShouldBe(HttpStatusCode.Forbidden);
        (
            await tor.Post(
                $"/api/imports/{sieve.Import.Id}/mends",
                new
                {
                    field = "email",
                    row = 1,
                    put = "x@y.example",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.Forbidden);
    }
}
