using System.Net;
using Dapper;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.Matching;
using DapperLantern.App.People;
using DapperLantern.Core.Matching;
using DapperLantern.Core.Rights;
using DapperLantern.Tests.Shared;
using Microsoft.Extensions.DependencyInjection;

namespace DapperLantern.App.Tests.Matching;

public sealed class DuplicateTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private TestClient _ingrid = null!;

    public async ValueTask InitializeAsync() => _ingrid = await fixture.Server.SignIn("ingrid.brekke");

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private async Task<Guid> Lead(string first, string last, string email, string company = "", string phone = "", string note = "Rang.", string[]? consents = null)
    {
        var facts = new Dictionary<string, string>
        {
            ["first_name"] = first,
            ["last_name"] = last,
            ["email"] = email,
            ["company"] = company,
            ["phone"] = phone,
            ["country"] = "NO",
        };
        foreach (var blank in facts.Where(f => f.Value.Length == 0).Select(f => f.Key).ToList())
            facts.Remove(blank);
        var answer = await _ingrid.Post(
            "/api/leads",
            new
            {
                source = "telephone",
                facts,
                note,
                consents,
            }
        );
        answer.Status.ShouldBe(HttpStatusCode.Created, answer.Body);
        return answer.Read<LeadMade>().Id;
    }

    private async Task<T> Scalar<T>(string sql, object? parameters = null)
    {
        await using var connection = await fixture.Server.Connect();
        return (await connection.ExecuteScalarAsync<T>(sql, parameters))!;
    }

    // The pair as the hunt found it; waits for it.
    private async Task<DuplicateItem?> Pair(Guid a, Guid b, bool wait = true)
    {
        for (var i = 0; i < (wait ? 400 : 1); i++)
        {
            var id = await Scalar<Guid?>("select id from duplicate where state = 'open' and ((a, b) = (@a, @b) or (a, b) = (@b, @a))", new { a, b });
            if (id is not null)
                return (await _ingrid.Read<DuplicateList>("/api/duplicates")).Duplicates.Single(t => t.Id == id);
            await Task.Delay(100);
        }
        return null;
    }

    private async Task Settled()
    {
        for (var i = 0; i < 400; i++)
        {
            var looking = (await _ingrid.Read<DuplicateList>("/api/duplicates")).Looking;
            if (looking.Done == looking.All && looking.Due == 0)
                return;
            await Task.Delay(100);
        }
    }

    // The looking would take back what it does not find itself, so it is let come to rest first.
    private async Task<Guid> Asked(Guid a, Guid b)
    {
        await Settled();
        await using var connection = await fixture.Server.Connect();
        return await connection.QuerySingleAsync<Guid>(
            """
            insert into duplicate (id, kind, a, b, bits, sure, evidence, state, found_at) values (gen_random_uuid(), 'lead', @A, @B, 15, false, '[]', 'open', now())
            on conflict (a, b) do update set state = 'open' returning id
            """,
            new { DuplicateDetectionWorker.InOrder(a, b).A, DuplicateDetectionWorker.InOrder(a, b).B }
        );
    }

    // Everything there is of two leads, but for what counts versions and the lines that tell of merging.
    private Task<string> Everything(Guid a, Guid b) =>
        Scalar<string>(
            """
            select jsonb_build_object(
              'leads', (select jsonb_agg(to_jsonb(l) - array['version', 'engagement', 'decay', 'band', 'move_until', 'look_again_at', 'scored_at'] order by l.id) from lead l where l.id in (@a, @b)),
              'events', (select jsonb_agg(to_jsonb(e) order by e.id) from lead_event e where e.lead_id in (@a, @b)),
              'story', (select jsonb_agg(to_jsonb(s) order by s.id) from story_entry s where s.lead_id in (@a, @b) and s.kind <> 'merged'),
              'tasks', (select jsonb_agg(to_jsonb(t) order by t.id) from task t where t.lead_id in (@a, @b)),
              'tags', (select jsonb_agg(to_jsonb(t) order by t.lead_id, t.tag_key) from lead_tag t where t.lead_id in (@a, @b)),
              'consents', (select jsonb_agg(to_jsonb(c) order by c.id) from consent c where c.lead_id in (@a, @b)),
              'responses', (select jsonb_agg(to_jsonb(r) order by r.id) from campaign_response r where r.lead_id in (@a, @b)),
              'decisions', (select jsonb_agg(to_jsonb(d) order by d.id) from routing_decision d where d.lead_id in (@a, @b)),
              'meetings', (select jsonb_agg(to_jsonb(m) order by m.id) from meeting m where m.lead_id in (@a, @b)),
              'files', (select jsonb_agg(to_jsonb(f) order by f.id) from lead_file f where f.lead_id in (@a, @b)),
              'arrivals', (select jsonb_agg(to_jsonb(s) order by s.id) from single_arrival s where s.lead_id in (@a, @b)),
              'keys', (select jsonb_agg(to_jsonb(k) order by k.key, k.record_id) from match_key k where k.record_id in (@a, @b)))::text
            """,
            new { a, b }
        );

    [Fact]
    public async Task WhoComesInAgainUnderAnotherAddressIsAskedAboutWithTheEvidence()
    {
        var a = await Lead("Torunn", "Askeladd", "torunn@askehavn.example", "Askehavn Laks AS");
        var b = await Lead("Torun", "Askeladd", "t.askeladd@freemail.example", "Laks Askehavn");
        var pair = (await Pair(a, b)).ShouldNotBeNull();
        pair.Words.ShouldContain("same last name");
        var sheet = await _ingrid.Read<DuplicateSheet>($"/api/duplicates/{pair.Id}");
        sheet.Bits.ShouldBe(Math.Round(sheet.Evidence.Sum(e => e.Bits), 1));
        sheet.Bits.ShouldBeInRange(sheet.Ask, sheet.Link);
        sheet.Keep.Id.ShouldBe(a);
        sheet.Facts.ShouldContain(f => f.Field == "last_name" && f.Take == "both");
    }

    [Fact]
    public async Task TheSourceTrustedMoreAndTheFieldsRuleDecideWhatIsProposed()
    {
        var a = await Lead("Torgeir", "Uvsfossen", "torgeir@uvsfossen.example", "Uvsfossen Laks og Havbruk");
        var b = await Lead("Torgeir", "Uvsfossen", "t.uvsfossen@freemail.example", "Uvsfossen Laks");
        await Scalar<int>("update lead set source = 'list-circular' where id = @b", new { b });
        async Task<DuplicateFact> Company() => (await _ingrid.Read<DuplicateSheet>($"/api/duplicates/{await Asked(a, b)}")).Facts.Single(f => f.Field == "company");
        (await Company()).Take.ShouldBe("keep");
        var source = (await _ingrid.Read<SourcesView>("/api/sources")).Sources.Single(s => s.Key == "list-circular");
        object Trusted(int trust) =>
            new
            {
                source.Name,
                source.EventKind,
                source.Campaign,
                source.Retired,
                trust,
            };
        (await _ingrid.Put("/api/sources/list-circular", Trusted(2))).Problem.ShouldBe("number-range");
        (await _ingrid.Put("/api/sources/list-circular", Trusted(1))).Status.ShouldBe(HttpStatusCode.NoContent);
        ((await Company()).Take, (await Company()).Why).ShouldBe(("go", "from a source trusted more"));
        (
            await _ingrid.Put(
                "/api/merge-rules/company",
                new
                {
                    field = "company",
                    label = "",
                    rule = "fullest",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.NoContent);
        ((await Company()).Take, (await Company()).Why).ShouldBe(("keep", "fuller"));
        (
            await _ingrid.Put(
                "/api/merge-rules/whale",
                new
                {
                    field = "whale",
                    label = "",
                    rule = "newest",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.NotFound);
        (await _ingrid.Read<List<FieldMergeRule>>("/api/merge-rules")).Single(r => r.Field == "company").Rule.ShouldBe(MergeRule.Fullest);
        (await _ingrid.Put("/api/sources/list-circular", Trusted(0))).Status.ShouldBe(HttpStatusCode.NoContent);
    }

    [Fact]
    public async Task MergingCarriesEverythingAndTheOldAddressStillFindsThePerson()
    {
        var a = await Lead("Sunniva", "Brattli", "sunniva@brattli.example", "Brattli Havbruk", note: "First call.");
        var b = await Lead("Sunniva", "Brattli", "sunniva.brattli@freemail.example", "Havbruk Brattli", "+4722330145", note: "Second call.");
        var pair = (await Pair(a, b)).ShouldNotBeNull();
        var done = (await _ingrid.Post($"/api/duplicates/{pair.Id}/merge", new { keep = a, take = new { email = "keep" } })).Read<MergeDone>();
        done.Kept.ShouldBe(a);
        var sheet = await _ingrid.Read<LeadSheet>($"/api/leads/{a}");
        sheet.Story.Select(s => s.Text).ShouldContain("Second call.");
        sheet.Story.ShouldContain(s => s.Kind == "merged" && s.Text.Contains("Sunniva Brattli", StringComparison.Ordinal));
        sheet.Facts.Single(f => f.Key == "phone").Stored.ShouldBe("+4722330145");
        (await _ingrid.Get($"/api/leads/{b}")).Status.ShouldBe(HttpStatusCode.NotFound);
        var again = await _ingrid.Post(
            "/api/leads",
            new
            {
                source = "telephone",
                facts = new { email = "sunniva.brattli@freemail.example", last_name = "Brattli" },
                note = "Third call.",
            }
        );
        again.Read<LeadMade>().Id.ShouldBe(a);
    }

    [Fact]
    public async Task TakenApartBothAreExactlyWhatTheyWere()
    {
        await using var connection = await fixture.Server.Connect();
        var leads = (await connection.QueryAsync<Guid>("select id from lead where state <> 'handed_over' order by md5(id::text) limit 40")).ToList();
        await Settled();
        for (var i = 0; i + 1 < leads.Count; i += 2)
        {
            var (a, b) = (leads[i], leads[i + 1]);
            await connection.ExecuteAsync(
                """
                insert into meeting (id, lead_id, starts_at, ends_at, subject, place, goal, guests, people, made_by, version)
                  values (gen_random_uuid(), @b, '2031-05-04', '2031-05-05', 'Visit', '', '', '{}', '{}', (select min(id::text)::uuid from person), 1);
                insert into lead_file (id, lead_id, name, size, bytes, at, person_id) values (gen_random_uuid(), @b, 'chart.pdf', 1, '\x01', '2031-05-04', (select min(id::text)::uuid from person))
                """,
                new { b }
            );
            // Stored scores and next step may be behind; a merge brings them up to the moment.
            await _ingrid.Post($"/api/merges/{(await Merged(a, b)).Merge}/take-apart");
            var before = await Everything(a, b);
            var merge = await Merged(a, b);
            (
                await connection.QuerySingleAsync<int>(
                    "select (select count(*) from meeting where lead_id = @Kept) + (select count(*) from lead_file where lead_id = @Kept)",
                    new { merge.Kept }
                )
            ).ShouldBeGreaterThanOrEqualTo(2);
            (await _ingrid.Post($"/api/merges/{merge.Merge}/take-apart")).Read<ApartResult>().Left.ShouldBeEmpty();
            (await Everything(a, b)).ShouldBe(before);
        }
    }

    private async Task<MergeDone> Merged(Guid a, Guid b, Guid? keep = null)
    {
        var answer = await _ingrid.Post($"/api/duplicates/{await Asked(a, b)}/merge", new { keep });
        answer.Status.ShouldBe(HttpStatusCode.OK, answer.Body);
        return answer.Read<MergeDone>();
    }

    [Fact]
    public async Task SomebodyWhoWorksOnTheirOwnAloneSettlesNothingOfAnothers()
    {
        Reach[] all = [Reach.All];
        await (await fixture.Server.SignIn("samir.haddow")).Post(
            "/api/setup/roles",
            new RoleOrder("Tidier", [Act.SettleDuplicates, Act.WorkLeads], new RoleSight(all, all, all, all), true, true, false, all, true, true, true, true, true)
        );
        await Scalar<object>("update person set roles = array['tidier'] where user_name = 'katrin.oberholz'");
        var katrin = await fixture.Server.SignIn("katrin.oberholz");
        var (a, b) = (await Lead("Torleif", "Hestnes", "torleif@hestnes.example"), await Lead("Torlief", "Hestnes", "torlief@freemail.example", "Hestnes Fjord", "+4722330148"));
        var pair = await Asked(a, b);
        Task Gives(params Guid[] leads) =>
            Scalar<object>("update lead set owner_id = (select id from person where user_name = 'katrin.oberholz') where id = any(@leads)", new { leads });
        await Scalar<object>("update lead set owner_id = (select id from person where user_name = 'tor.vik') where id = any(@leads)", new { leads = new[] { a, b } });
        await Gives(a);
        (await katrin.Post($"/api/duplicates/{pair}/distinct")).Problem.ShouldBe("not-yours");
        (await katrin.Post($"/api/duplicates/{pair}/merge", new { keep = a })).Problem.ShouldBe("not-yours");
        await Gives(b);
        (await katrin.Post($"/api/duplicates/{pair}/distinct")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await katrin.Post($"/api/duplicates/{pair}/ask")).Status.ShouldBe(HttpStatusCode.NoContent);
        var merge = (await katrin.Post($"/api/duplicates/{pair}/merge", new { keep = a })).Read<MergeDone>().Merge;
        await Scalar<object>("update lead set owner_id = (select id from person where user_name = 'tor.vik') where id = @a", new { a });
        (await katrin.Post($"/api/merges/{merge}/take-apart")).Problem.ShouldBe("not-yours");
        await Gives(a);
        (await katrin.Post($"/api/merges/{merge}/take-apart")).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task WhatWasChangedSinceStaysAndIsSaid()
    {
        var a = await Lead("Olav", "Tveitan", "olav@tveitan.example");
        var b = await Lead("Olaf", "Tveitan", "olaf@freemail.example", "Tveitan Dam", "+4722330146");
        var merge = await Merged(a, b, a);
        var version = (await _ingrid.Read<LeadSheet>($"/api/leads/{a}")).Version;
        (await _ingrid.Patch($"/api/leads/{a}", new { facts = new { company = "Tveitan Dam og Dyrehold" } }, version)).Status.ShouldBe(HttpStatusCode.OK);
        (await _ingrid.Post($"/api/leads/{a}/touches", new { kind = "note", text = "Since then." })).Status.ShouldBe(HttpStatusCode.OK);
        var apart = (await _ingrid.Post($"/api/merges/{merge.Merge}/take-apart")).Read<ApartResult>();
        apart.Left.ShouldBe(["company"]);
        var kept = await _ingrid.Read<LeadSheet>($"/api/leads/{a}");
        kept.Facts.Single(f => f.Key == "company").Stored.ShouldBe("Tveitan Dam og Dyrehold");
        kept.Facts.Single(f => f.Key == "phone").Stored.ShouldBeNull();
        kept.Story.Select(s => s.Text).ShouldContain("Since then.");
        (await _ingrid.Read<LeadSheet>($"/api/leads/{b}")).Facts.Single(f => f.Key == "company").Stored.ShouldBe("Tveitan Dam");
    }

    [Fact]
    public async Task TheLastMergesAreListedUntilTheyAreTakenApart()
    {
        var a = await Lead("Sigrun", "Holte", "sigrun@holte.example");
        var b = await Lead("Sigrunn", "Holte", "sigrunn@freemail.example", "Holte Bruk", "+4722330147");
        var merge = await Merged(a, b, a);
        var listed = (await _ingrid.Read<List<MergeItem>>("/api/merges"))[0];
        (listed.Id, listed.Kind, listed.Kept, listed.GoneName, listed.By).ShouldBe((merge.Merge, "lead", a, "Sigrunn Holte", "Ingrid Brekke"));
        listed.KeptName.ShouldBe((await _ingrid.Read<LeadSheet>($"/api/leads/{a}")).Name);
        await _ingrid.Post($"/api/merges/{merge.Merge}/take-apart");
        (await _ingrid.Read<List<MergeItem>>("/api/merges")).ShouldNotContain(m => m.Id == merge.Merge);
        (await _ingrid.Post($"/api/merges/{merge.Merge}/take-apart")).Problem.ShouldBe("apart");
    }

    [Fact]
    public async Task NotTheSameIsRememberedWhateverComes()
    {
        var a = await Lead("Gaute", "Nerland", "gaute@nerland.example", "Nerland Skjell");
        var b = await Lead("Gaute", "Nerland", "gaute.nerland@freemail.example", "Skjell Nerland");
        var pair = (await Pair(a, b)).ShouldNotBeNull();
        (await _ingrid.Post($"/api/duplicates/{pair.Id}/distinct")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await _ingrid.Post($"/api/duplicates/{pair.Id}/distinct")).Status.ShouldBe(HttpStatusCode.NoContent);
        await _ingrid.Post("/api/duplicates/look");
        await Settled();
        (await Pair(a, b, wait: false)).ShouldBeNull();
        (await _ingrid.Post($"/api/duplicates/{pair.Id}/merge", new { })).Problem.ShouldBe("said-two");
        (await _ingrid.Post($"/api/duplicates/{pair.Id}/ask")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Pair(a, b)).ShouldNotBeNull();
    }

    [Fact]
    public async Task ManyWhoMergeTheSamePairAtOnceMergeItOnce()
    {
        var a = await Lead("Eldbjørg", "Rindal", "eldbjorg@rindal.example", note: "One.");
        var b = await Lead("Eldbjørg", "Rindalen", "er@freemail.example", note: "Two.");
        var duplicate = await Asked(a, b);
        var answers = await Task.WhenAll(Enumerable.Range(0, 8).Select(_ => _ingrid.Post($"/api/duplicates/{duplicate}/merge", new { })));
        answers.Count(x => x.Status == HttpStatusCode.OK).ShouldBe(1);
        answers.Where(x => x.Status != HttpStatusCode.OK).ShouldAllBe(x => x.Status == HttpStatusCode.Conflict);
        (await Scalar<int>("select count(*)::int from story_entry where lead_id = @a and kind = 'note'", new { a })).ShouldBe(2);
    }

    [Fact]
    public async Task MergesInARingAtOnceLoseNobody()
    {
        var leads = new List<Guid>();
        for (var i = 0; i < 5; i++)
            leads.Add(await Lead($"Ring{i}", $"Kjede{(char)('a' + i)}", $"r{i}@kjede{i}.example", note: $"Link {i}."));
        var duplicates = new List<Guid>();
        for (var i = 0; i < 5; i++)
            duplicates.Add(await Asked(leads[i], leads[(i + 1) % 5]));
        await Task.WhenAll(duplicates.Select(t => _ingrid.Post($"/api/duplicates/{t}/merge", new { })));
        (await Scalar<int>("select count(*)::int from story_entry where kind = 'note' and text like 'Link %' and lead_id in (select id from lead)")).ShouldBe(5);
        (
            await Scalar<int>(
                "select (select count(*) from lead where id = any(@ids))::int + (select count(*) from record_merge where gone_id = any(@ids) and apart_at is null)::int",
                new { ids = leads.ToArray() }
            )
        ).ShouldBe(5);
    }

    [Fact]
    public async Task WhoWithdrewUnderEitherAddressHasWithdrawn()
    {
        var a = await Lead("Ylva", "Stokke", "ylva@stokke.example", consents: ["news"]);
        var b = await Lead("Ylva", "Stokke", "ylva.s@freemail.example");
        await using (var connection = await fixture.Server.Connect())
            await connection.ExecuteAsync(
                """
                insert into consent (id, lead_id, person_hash, person_key, purpose, state, at, wording, place)
                select gen_random_uuid(), @b, sha256('ylva.s@freemail.example'), person_key('ylva.s@freemail.example'), 'news', 'withdrawn', now() - interval '1 day', '', ''
                """,
                new { b }
            );
        var merge = await Merged(a, b, a);
        (await State(a)).ShouldBe("withdrawn");
        await _ingrid.Post($"/api/merges/{merge.Merge}/take-apart");
        (await State(a)).ShouldBe("given");
    }

    private Task<string> State(Guid lead) =>
        Scalar<string>(
            "select c.state from consent c join lead l on c.person_key = person_key(l.email) where l.id = @lead and c.purpose = 'news' order by c.at desc limit 1",
            new { lead }
        );

    [Fact]
    public async Task OneCompanyTwiceIsAskedAboutAndABranchIsNot()
    {
        await using (var connection = await fixture.Server.Connect())
            await connection.ExecuteAsync(
                """
                insert into account (id, name, company_key, domain, country, created_at, facts) values
                  (gen_random_uuid(), 'Skarvøy Sjømat AS', 'skarvoy sjomat', 'skarvoy.example', 'NO', now(), '{"company": "Skarvøy Sjømat AS", "website": "skarvoy.example", "city": "Bodø", "country": "NO"}'),
                  (gen_random_uuid(), 'Skarvøy Sjømat', 'skarvoy sjomat', 'skarvoy.example', 'NO', now(), '{"company": "Skarvøy Sjømat", "website": "skarvoy.example", "city": "Bodø", "country": "NO"}'),
                  (gen_random_uuid(), 'Skarvøy Sjømat Ålesund', 'skarvoy sjomat', 'skarvoy.example', 'NO', now(), '{"company": "Skarvøy Sjømat", "website": "skarvoy.example", "city": "Ålesund", "country": "NO"}')
                """
            );
        await _ingrid.Post("/api/duplicates/look");
        await Settled();
        var pair = (await _ingrid.Read<DuplicateList>("/api/duplicates?kind=account"))
            .Duplicates.Where(t => t.A.StartsWith("Skarv", StringComparison.Ordinal))
            .ShouldHaveSingleItem();
        var done = (await _ingrid.Post($"/api/duplicates/{pair.Id}/merge", new { })).Read<MergeDone>();
        (await Scalar<int>("select count(*)::int from account where domain = 'skarvoy.example'")).ShouldBe(2);
        (await _ingrid.Post($"/api/merges/{done.Merge}/take-apart")).Status.ShouldBe(HttpStatusCode.OK);
        (await Scalar<int>("select count(*)::int from account where domain = 'skarvoy.example'")).ShouldBe(3);
    }

    [Fact]
    public async Task NobodyIsAskedAboutALeadThatWasHandedOver()
    {
        await Settled();
        (await Scalar<int>("select count(*)::int from duplicate t join lead l on l.id in (t.a, t.b) where t.state = 'open' and l.state = 'handed_over'")).ShouldBe(0);
        (await Scalar<int>("select count(*)::int from lead where state = 'handed_over'")).ShouldBeGreaterThan(0);
    }

    [Fact]
    public async Task ARepMayNotSettleDuplicates() => (await (await fixture.Server.SignIn("tor.vik")).Get("/api/duplicates")).Status.ShouldBe(HttpStatusCode.Forbidden);

    [Fact]
    public async Task AnErasedPersonIsGoneFromMergesToo()
    {
        var a = await Lead("Wenche", "Uggerud", "wenche@uggerud.example");
        var b = await Lead("Wenche", "Uggerud", "wenche.u@freemail.example");
        await Merged(a, b, a);
        await using var connection = await fixture.Server.Connect();
        var trail = (
            await App.Rights.PersonTrail.Find(
                connection.Over(),
                "wenche.u@freemail.example",
                fixture.Server.Services.GetRequiredService<App.Setup.WorkspaceConfiguration>().Current
            )
        )!;
        trail.Leads.ShouldContain(a);
        trail.Leads.ShouldContain(b);
    }
}
