using System.Net;
using System.Text;
using Dapper;
using DapperLantern.App.Intake.Letters;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Setup;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging.Abstractions;

namespace DapperLantern.App.Tests.Intake.Letters;

/// <summary>Letters, from the mailbox or dropped.</summary>
public sealed class MailboxTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private LetterArrivals Letters => fixture.Server.Services.Scoped<LetterArrivals>();

    private Task<T> Scalar<T>(string sql) => fixture.Server.Scalar<T>(sql);

    private Task<LetterResult> Take(string letter) => Letters.Take("x.eml", Encoding.UTF8.GetBytes(letter.ReplaceLineEndings("\r\n")), default);

    private static async Task<byte[]> Demo(string name) => await File.ReadAllBytesAsync(Path.Combine(TestServer.Root, "demo", "letters", name));

    [Fact]
    public async Task ABounceThatNamesNobodyIsFoundByTheLetterItReturns()
    {
        var lead = await fixture.Server.Scalar<Guid>("select id from lead where email is not null order by id limit 1");
        var email = await Scalar<string>($"select email from lead where id = '{lead}'");
        foreach (
            var (id, returned) in new[]
            {
                ("b1", $"Content-Type: message/rfc822\n\nFrom: we@tarnhollow.example\nTo: Somebody <{email}>\nMessage-ID: <x@tarnhollow.example>\nSubject: Buoy\n\nIt floats.\n"),
                ("b2", $"Content-Type: text/rfc822-headers\n\nFrom: we@tarnhollow.example\nTo: {email}\nSubject: Buoy\n"),
            }
        )
        {
            var result = await Take(
                $"From: Mailer-Daemon@host.example\nTo: we@tarnhollow.example\nSubject: Undelivered\nMessage-ID: <{id}@host.example>\nMIME-Version: 1.0\nContent-Type: multipart/mixed; boundary=x\n\n--x\nContent-Type: text/plain\n\nIt did not arrive.\n--x\n{returned}\n--x--\n"
            );
            (result.Kind, result.Lead).ShouldBe(("bounce", lead), id);
        }
        // By the id of what we sent, where not even an address is left.
        var sent = Guid.NewGuid();
        await using var connection = await fixture.Server.Connect();
        await connection.ExecuteAsync(
            "insert into outbox (id, kind, to_email, lead_id, subject, text, created_at, tries) values (@sent, 'message', 'x@y.example', @lead, 's', 't', now(), 1)",
            new { sent, lead }
        );
        var plain = await Take(
            $"From: postmaster@host.example\nTo: we@tarnhollow.example\nSubject: Returned\nMessage-ID: <b3@host.example>\n\nSorry.\n\nMessage-ID: <{sent}@tarnhollow.example>\nSubject: Buoy\n"
        );
        (plain.Kind, plain.Lead).ShouldBe(("bounce", lead));
    }

    [Fact]
    public async Task APromotionWaitsWithItsReasonsAndMakesNoLead()
    {
        var before = await Scalar<long>("select count(*) from lead");
        var result = await Take(
            "From: Shop <no-reply@shop.example>\nTo: we@tarnhollow.example\nSubject: Spring sale\nMessage-ID: <p1@shop.example>\nList-Unsubscribe: <https://shop.example/u>\n\nPrices fall. Unsubscribe here.\n"
        );
        (result.State, result.Lead).ShouldBe(("waiting", null));
        (await Scalar<long>("select count(*) from lead")).ShouldBe(before);
        (await Scalar<string>("select reasons::text from single_arrival where raw->>'subject' = 'Spring sale'")).ShouldContain("offers to unsubscribe");
    }

    [Fact]
    public async Task WhatIsAttachedIsKeptAndOnlyEverSaved()
    {
        var lucie = await fixture.Server.SignIn("lucie.armand");
        var kept = await Letters.Take(
            "w.eml",
            Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(await Demo("05-weser.eml")).Replace("<e5@", "<again@", StringComparison.Ordinal)),
            default
        );
        var files = await lucie.Read<List<LeadFileView>>($"/api/leads/{kept.Lead}/files");
        files.ShouldContain(f => f.Name == "Hafenplan.pdf" && f.Size == 29);
        var file = await lucie.Get($"/api/files/{files.First(f => f.Name == "Hafenplan.pdf").Id}");
        (file.ContentType, file.Body[..8]).ShouldBe(("application/octet-stream", "%PDF-1.4"));
        (await lucie.Get($"/api/files/{Guid.NewGuid()}")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task ALetterWithoutANameIsKnownByItsDomainAndOneFromUsIsNoLead()
    {
        var bare = await Take("From: info@kvitfjell.example\nSubject: Buoys\nMessage-ID: <q1@k.example>\n\nPlease call.");
        (await Scalar<string>($"select company from lead where id = '{bare.Lead}'")).ShouldBe("kvitfjell.example");
        var ours = await Take("From: Tor <tor.vik@tarnhollow.example>\nSubject: Fwd\nMessage-ID: <q2@t.example>\n\nSee this.");
        (ours.Kind, ours.Lead, ours.State).ShouldBe(("ours", null, "waiting"));
        var copied = await Take(
            "From: Tor <tor.vik@tarnhollow.example>\nTo: Info <info@kvitfjell.example>\nCc: we@tarnhollow.example\nSubject: Buoys\nMessage-ID: <q3@t.example>\n\nWe will."
        );
        (copied.Kind, copied.Lead, copied.State).ShouldBe(("ours", bare.Lead, "taken"));
        (await Take("From: Tor <tor.vik@tarnhollow.example>\nSubject: Fwd\nMessage-ID: <q2@t.example>\n\nSee this.")).Again.ShouldBeTrue();
    }

    private static string Report(string id, string type, string part) =>
        $"From: {(type == "delivery-status" ? "MAILER-DAEMON@host.example" : "Reader <reader@report.example>")}\nTo: we@tarnhollow.example\nSubject: About your letter\nMessage-ID: <{id}@host.example>\nMIME-Version: 1.0\nContent-Type: multipart/report; report-type={type}; boundary=b\n\n--b\nContent-Type: text/plain\n\nSee below.\n--b\nContent-Type: message/{type}\n\n{part}\n--b--\n";

    [Fact]
    public async Task AReceiptIsNoLeadADelayNoFailureAndBothAreSeen()
    {
        var receipt = await Take(
            Report("r1", "disposition-notification", "Final-Recipient: rfc822;reader@report.example\nDisposition: manual-action/MDN-sent-manually; displayed\n")
        );
        (receipt.Kind, receipt.Lead, receipt.State).ShouldBe(("automatic", null, "waiting"));
        var reader = await Take("From: Rea Der <reader@report.example>\nSubject: Buoys\nMessage-ID: <r0@report.example>\n\nPlease call.");
        const string Status = "Reporting-MTA: dns; host.example\n\nFinal-Recipient: rfc822; reader@report.example\nAction: {0}\nStatus: 4.4.1\n";
        var late = await Take(Report("r2", "delivery-status", Status.Replace("{0}", "delayed", StringComparison.Ordinal)));
        (late.Kind, late.State).ShouldBe(("automatic", "waiting"));
        var failed = await Take(Report("r3", "delivery-status", Status.Replace("{0}", "failed", StringComparison.Ordinal)));
        (failed.Kind, failed.Lead, failed.State).ShouldBe(("bounce", reader.Lead, "taken"));
        var both = await Take(
            Report("r4", "delivery-status", Status.Replace("{0}", "delayed", StringComparison.Ordinal) + "\nFinal-Recipient: rfc822;gone@report.example\nAction: failed\n")
        );
        (both.Kind, both.Lead, both.State).ShouldBe(("bounce", null, "waiting"));
    }

    [Fact]
    public async Task WhatAWebsiteSendsForAVisitorWaitsUnderTheVisitorsName()
    {
        var form = await Take(
            "From: Website <no-reply@ourhost.example>\nReply-To: Nina Krogh <nina@krogh-fisk.example>\nSubject: Contact form\nMessage-ID: <w1@ourhost.example>\nAuto-Submitted: auto-generated\n\nPrices, please.\n"
        );
        (form.Kind, form.State).ShouldBe(("letter", "waiting"));
        (await Scalar<string>("select raw->>'from' from single_arrival where raw->>'subject' = 'Contact form'")).ShouldBe("Nina Krogh <nina@krogh-fisk.example>");
    }

    [Fact]
    public async Task WhatIsNoLetterIsKeptAndWaits()
    {
        var kept = await Letters.Take("x.eml", [0, 1, 2, 255, 13, 10], default);
        (kept.Kind, kept.State).ShouldBe(("unreadable", "waiting"));
        (await Scalar<int>("select count(*)::int from arrival_file where size = 6")).ShouldBe(1);
    }

    [Fact]
    public async Task DamagedLettersAreReadOrKept()
    {
        var letters = Directory.GetFiles(Path.Combine(TestServer.Root, "demo", "letters")).Select(File.ReadAllBytes).ToList();
        var random = new Random(11);
        for (var i = 0; i < 20_000; i++)
        {
            var bytes = (byte[])letters[i % letters.Count].Clone();
            for (var j = random.Next(1, 12); j > 0; j--)
                bytes[random.Next(bytes.Length)] = (byte)random.Next(256);
            LetterFile.Read(i % 3 == 0 ? bytes[..random.Next(bytes.Length)] : bytes);
        }
        // A few whole, down to the database.
        foreach (var i in Enumerable.Range(0, 40))
        {
            var bytes = (byte[])letters[i % letters.Count].Clone();
            for (var j = 0; j < 30; j++)
                bytes[random.Next(bytes.Length)] = (byte)random.Next(256);
            (await Letters.Take($"{i}.eml", bytes, default)).State.ShouldNotBeNullOrEmpty();
        }
    }

    [Theory]
    [InlineData("<script ")]
    [InlineData("<blockquote>")]
    [InlineData("<!-- ")]
    [InlineData("< ")]
    [InlineData("          ")]
    public void ALetterMadeToTakeForeverIsRead(string part)
    {
        var html = string.Concat(Enumerable.Repeat(part, 400_000 / part.Length));
        var letter = LetterFile.Read(Encoding.UTF8.GetBytes($"From: a@b.example\r\nContent-Type: text/html\r\n\r\n<p>Hello</p>{html}"));
        letter!.Text.Said.ShouldStartWith("Hello");
    }

    [Fact]
    public async Task AnHtmlLetterIsReadWithoutItsLookAndItsQuotation()
    {
        var letter = LetterFile.Read(await Demo("05-weser.eml"))!;
        letter.Text.Said.ShouldBe("Guten Tag,\nwir suchen eine Boje mit Trübungsmessung für das Hafenbecken. Der Plan liegt bei.");
        letter.Text.Signature.ShouldContain("Weserwasser GmbH");
        const string Html =
            "From: a@b.example\r\nContent-Type: text/html\r\n\r\n<style>p{}</style><p>Six sites.</p><div>On Monday Tor wrote:</div><blockquote>How many?</blockquote>";
        LetterFile.Read(Encoding.UTF8.GetBytes(Html))!.Text.Said.ShouldBe("Six sites.");
    }

    [Fact]
    public async Task WhatTheDirectoryFilledGivesWayToWhatAPersonSays()
    {
        var kept = await Take("From: Maja Holmboe <maja@holmboe-hav.example>\nSubject: Buoys\nMessage-ID: <h1@k.example>\n\nPlease call.");
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var facts = (await ingrid.Read<LeadSheet>($"/api/leads/{kept.Lead}")).Facts.ToDictionary(f => f.Key);
        (facts["employees"].Value, facts["employees"].From, facts["industry"].Value).ShouldBe(("55", "the company directory", "Fish farming"));
        await ingrid.Post(
            "/api/leads",
            new
            {
                source = "telephone",
                facts = new
                {
                    first_name = "Maja",
                    last_name = "Holmboe",
                    email = "maja@holmboe-hav.example",
                    employees = "70",
                    city = "Bergen",
                },
            }
        );
        facts = (await ingrid.Read<LeadSheet>($"/api/leads/{kept.Lead}")).Facts.ToDictionary(f => f.Key);
        (facts["employees"].Value, facts["city"].Value, facts["employees"].From).ShouldBe(("70", "Bergen", "Telephone"));
        // Looking up again leaves a person's entries as they are.
        (await ingrid.Post($"/api/leads/{kept.Lead}/look-up"))
            .Read<FilledView>()
            .Fields.ShouldBeEmpty();
    }
}

/// <summary>The mailbox as a folder that others deliver into.</summary>
public sealed class MailboxPollerTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private LetterArrivals Letters => fixture.Server.Services.Scoped<LetterArrivals>();

    private Task<T> Scalar<T>(string sql) => fixture.Server.Scalar<T>(sql);

    [Fact]
    public async Task TheMailboxIsTakenInOnceAndEachLetterBecomesWhatItIs()
    {
        var folder = Directory.CreateTempSubdirectory("lantern-mailbox").FullName;
        Directory.CreateDirectory(Path.Combine(folder, "new"));
        foreach (var letter in Directory.GetFiles(Path.Combine(TestServer.Root, "demo", "letters")))
            File.Copy(letter, Path.Combine(folder, "new", Path.GetFileName(letter)));
        var settings = new MailboxSettings { Folder = folder };
        using var one = new MailboxPoller(fixture.Server.Services.GetRequiredService<IServiceScopeFactory>(), settings, NullLogger<MailboxPoller>.Instance);
        using var two = new MailboxPoller(fixture.Server.Services.GetRequiredService<IServiceScopeFactory>(), settings, NullLogger<MailboxPoller>.Instance);
        await Task.WhenAll(one.StartAsync(default), two.StartAsync(default));
        for (var i = 0; i < 400 && Directory.GetFiles(Path.Combine(folder, "new")).Length > 0; i++)
            await Task.Delay(100);
        await Task.WhenAll(one.StopAsync(default), two.StopAsync(default));
        Directory.GetFiles(Path.Combine(folder, "cur")).Length.ShouldBe(6);
        Directory.Delete(folder, true);

        // Two doors on one mailbox, and yet each once.
        (
            await Scalar<int>("select count(*)::int from single_arrival a join arrival_file f on f.arrival_id = a.id and f.position = 0 where a.raw->>'subject' is not null")
        ).ShouldBe(6);
        (
            await Scalar<string>(
                "select concat_ws('|', first_name, last_name, job_title, company, phone, mobile, country, industry) from lead where email = 'isla.drummond@lochtorran.example'"
            )
        ).ShouldBe("Isla|Drummond|Site manager|Loch Torran Salmon Ltd|+441632960771|+447700900414|GB|fish_farming");
        (await Scalar<string>("select first_name || ' ' || last_name || ', ' || interest from lead where email = 'j.weisshaupt@weserwasser.example'")).ShouldBe(
            "Jürgen Weißhaupt, Trübung im Hafenbecken"
        );
        (await Scalar<int>("select count(*)::int from lead where email = 'ragna@fjordnaer.example'")).ShouldBe(1);
        var answer = await Scalar<string>("select s.text from story_entry s join lead l on l.id = s.lead_id where l.email = 'ragna@fjordnaer.example' and s.kind = 'mail'");
        answer.ShouldContain("six sites, not four");
        answer.ShouldNotContain("How many sites are there");
        // Machines change nothing but the story.
        (
            await Scalar<string>(
                "select string_agg(e.personal->>'words', ' ' order by e.personal->>'words') from event e join lead l on l.id = e.record where l.email = 'anders.lindqvist@vattervikhamn.example' and e.kind = 'letter'"
            )
        ).ShouldBe("A letter did not arrive at anders.lindqvist@vattervikhamn.example. Automatic answer: Automatic reply: Site survey");
        (await Scalar<int>("select count(*)::int from lead where email like '%cheap-floats%'")).ShouldBe(0);
        (await Scalar<string>("select state from single_arrival where raw->>'from' like '%deals@cheap-floats.example%' and channel = 'mail'")).ShouldBe("waiting");
    }
}
