using System.Net;
using Dapper;
using DapperLantern.App.Campaigns;

namespace DapperLantern.App.Tests.Campaigns;

/// <summary>The vocabulary of tags, and tags on leads.</summary>
public sealed class TagTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private TestClient _lucie = null!;
    private Guid _lead;

    public async ValueTask InitializeAsync()
    {
        _lucie = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        _lead = await connection.QuerySingleAsync<Guid>("select id from lead where email = 'ragna@fjordnaer.example'");
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private async Task<TagView> Tag(string key) => (await _lucie.Read<TagsView>("/api/tags")).Tags.Single(t => t.Key == key);

    private async Task<string[]> OnLead() => [.. (await _lucie.Read<LeadContextView>($"/api/leads/{_lead}/around")).Tags.Select(t => t.Key)];

    [Fact]
    public async Task ATagIsCoinedByTheConventionByThoseWhoMay()
    {
        (
            await _lucie.Post(
                "/api/tags",
                new
                {
                    name = "interest: oxygen",
                    group = "interest",
                    colour = "slate",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.Created);
        (
            await _lucie.Post(
                "/api/tags",
                new
                {
                    name = "interest: oxygen",
                    group = "interest",
                    colour = "slate",
                }
            )
        ).Problem.ShouldBe("tag-exists");
        (
            await _lucie.Post(
                "/api/tags",
                new
                {
                    name = "OXYGEN!!",
                    group = "interest",
                    colour = "slate",
                }
            )
        ).Problem.ShouldBe("tag-name");
        (
            await _lucie.Post(
                "/api/tags",
                new
                {
                    name = "interest: ph",
                    group = "shoes",
                    colour = "slate",
                }
            )
        ).Problem.ShouldBe("tag-group");
        (
            await _lucie.Post(
                "/api/tags",
                new
                {
                    name = "interest: ph",
                    group = "interest",
                    colour = "pink",
                }
            )
        ).Problem.ShouldBe("tag-colour");
        var rep = await fixture.Server.SignIn("tor.vik");
        (
            await rep.Post(
                "/api/tags",
                new
                {
                    name = "interest: ph",
                    group = "interest",
                    colour = "slate",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await rep.Get("/api/tags")).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task ALeadIsTaggedOnceAndTheTagTakenOffAgain()
    {
        await _lucie.Put($"/api/leads/{_lead}/tags/partner-referred", new { });
        await _lucie.Put($"/api/leads/{_lead}/tags/partner-referred", new { });
        (await OnLead()).ShouldContain("partner-referred");
        (await _lucie.Delete($"/api/leads/{_lead}/tags/partner-referred")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await OnLead()).ShouldNotContain("partner-referred");
        (await _lucie.Put($"/api/leads/{_lead}/tags/no-such", new { })).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task AMergedTagReadsAsTheOtherAndComesBackWhenUndone()
    {
        await _lucie.Post(
            "/api/tags",
            new
            {
                name = "interest: buoy",
                group = "interest",
                colour = "slate",
            }
        );
        await _lucie.Post(
            "/api/tags",
            new
            {
                name = "interest: buoys",
                group = "interest",
                colour = "slate",
            }
        );
        await _lucie.Put($"/api/leads/{_lead}/tags/interest-buoys", new { });
        (await _lucie.Post("/api/tags/interest-buoys/merge", new { into = "interest-buoy" })).Status.ShouldBe(HttpStatusCode.NoContent);
        (await OnLead()).ShouldContain("interest-buoy");
        (await Tag("interest-buoy")).Uses.ShouldBe(1);
        // What is tagged with the old name gets the new one.
        (await _lucie.Post("/api/tags/interest-buoy/merge", new { into = "interest-buoys" })).Problem.ShouldBe("tag-target-unfit");
        await _lucie.Delete("/api/tags/interest-buoys/merge");
        (await OnLead()).ShouldContain("interest-buoys");
        (await Tag("interest-buoy")).Uses.ShouldBe(0);
    }

    [Fact]
    public async Task ARetiredTagIsNotGivenAnyMore()
    {
        await _lucie.Patch("/api/tags/interest-telemetry", new { retired = true });
        await _lucie.Put($"/api/leads/{_lead}/tags/interest-telemetry", new { });
        (await OnLead()).ShouldNotContain("interest-telemetry");
        await _lucie.Patch("/api/tags/interest-telemetry", new { retired = false });
        (await Tag("interest-telemetry")).Retired.ShouldBeFalse();
    }
}

/// <summary>Consent of a lead by purpose, and whom not to contact.</summary>
public sealed class ConsentTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    [Fact]
    public async Task AConsentIsKnownByPurposeWithWhenWhereAndInWhichWords()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        var lead = await connection.QuerySingleAsync<Guid>("select id from lead where email = 'ragna@fjordnaer.example'");
        async Task<ConsentView> Call() => (await ingrid.Read<LeadContextView>($"/api/leads/{lead}/around")).Consents.Single(c => c.Purpose == "call");
        (await Call()).State.ShouldBe("unknown");
        (await ingrid.Post($"/api/leads/{lead}/consents", new { purpose = "call", state = "given" })).Problem.ShouldBe("consent-without-words");
        (
            await ingrid.Post(
                $"/api/leads/{lead}/consents",
                new
                {
                    purpose = "shoes",
                    state = "given",
                    wording = "x",
                }
            )
        ).Problem.ShouldBe("purpose-unknown");
        await ingrid.Post(
            $"/api/leads/{lead}/consents",
            new
            {
                purpose = "call",
                state = "given",
                wording = "Call me in spring",
            }
        );
        (await Call()).ShouldSatisfyAllConditions(c => c.State.ShouldBe("given"), c => c.Wording.ShouldBe("Call me in spring"), c => c.Place.ShouldBe("Said to ingrid.brekke"));
        await ingrid.Post($"/api/leads/{lead}/consents", new { purpose = "call", state = "withdrawn" });
        (await Call()).State.ShouldBe("withdrawn");
    }

    [Fact]
    public async Task WhoIsBarredDoesNotComeInUntilBarredNoLonger()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        object Sheet(string mail) => new { source = "telephone", facts = new { last_name = "Quay", email = mail } };
        (
            await ingrid.Post(
                "/api/barred",
                new
                {
                    kind = "person",
                    value = "Quay@Elsewhere.example",
                    why = "do_not_contact",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.Created);
        (
            await ingrid.Post(
                "/api/barred",
                new
                {
                    kind = "domain",
                    value = "https://www.competitor-buoys.example/",
                    why = "competitor",
                }
            )
        ).Status.ShouldBe(HttpStatusCode.Created);
        (await ingrid.Post("/api/leads", Sheet("quay@elsewhere.example"))).Problem.ShouldBe("barred");
        (await ingrid.Post("/api/leads", Sheet("q@sales.competitor-buoys.example"))).Problem.ShouldBe("barred");
        var list = await ingrid.Read<List<BarredView>>("/api/barred");
        // A person is kept as a mark: the address itself is nowhere.
        list.ShouldContain(b => b.Kind == "person" && b.Shown == null);
        foreach (var b in list.Where(b => b.Kind == "person" || b.Shown == "competitor-buoys.example"))
            (await ingrid.Delete($"/api/barred/{b.Id}")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await ingrid.Post("/api/leads", Sheet("quay@elsewhere.example"))).Status.ShouldBe(HttpStatusCode.Created);
        (
            await ingrid.Post(
                "/api/barred",
                new
                {
                    kind = "person",
                    value = "nobody",
                    why = "do_not_contact",
                }
            )
        ).Problem.ShouldBe("phone-letters");
        (
            await ingrid.Post(
                "/api/barred",
                new
                {
                    kind = "person",
                    value = "a@b.example",
                    why = "competitor",
                }
            )
        ).Problem.ShouldBe("why-unknown");
    }
}
