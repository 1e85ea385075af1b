using System.Net;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Intake;

/// <summary>The managed list of sources.</summary>
public sealed class SourceTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    [Fact]
    public async Task ASourceIsAddedUsedChangedAndRetired()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var made = await ingrid.Post(
            "/api/sources",
            new
            {
                name = "Reservoir partners",
                channel = "list",
                eventKind = "stand.visit",
            }
        );
        made.Status.ShouldBe(HttpStatusCode.Created, made.Body);
        (
            await ingrid.Post(
                "/api/sources",
                new
                {
                    name = "reservoir PARTNERS",
                    channel = "list",
                    eventKind = "stand.visit",
                }
            )
        ).Problem.ShouldBe("source-exists");
        object Sheet(string mail) => new { source = "list-reservoir-partners", facts = new { last_name = "Weir", email = mail } };
        (await ingrid.Post("/api/leads", Sheet("weir@reservoir.example"))).Status.ShouldBe(HttpStatusCode.Created);
        var change = new
        {
            name = "Reservoir partners, north",
            eventKind = "enquiry",
            campaign = "bloom",
            retired = true,
        };
        (await ingrid.Put("/api/sources/list-reservoir-partners", change)).Status.ShouldBe(HttpStatusCode.NoContent);
        var kept = (await ingrid.Read<SourcesView>("/api/sources")).Sources.Single(s => s.Key == "list-reservoir-partners");
        (kept.Name, kept.Leads, kept.Retired, kept.Campaign).ShouldBe(("Reservoir partners, north", 1, true, "bloom"));
        // Nothing new comes from it; what came stays.
        (await ingrid.Post("/api/leads", Sheet("other@reservoir.example"))).Problem.ShouldBe("source-unknown");
        (await ingrid.Read<IntakeView>("/api/intake")).Sources.ShouldNotContain(s => s.Key == "list-reservoir-partners");
    }

    [Fact]
    public async Task SourcesStandInTheOrderThatPeopleGiveThem()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        async Task<List<string>> Keys() => [.. (await ingrid.Read<SourcesView>("/api/sources")).Sources.Select(s => s.Key)];
        Task<Answer> Put(IEnumerable<string> keys) => ingrid.Put("/api/sources/order", new SourceOrder([.. keys]));
        var before = await Keys();
        var turned = before.AsEnumerable().Reverse().ToList();
        (await Put(turned)).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Keys()).ShouldBe(turned);
        var offered = (await ingrid.Read<List<FieldView>>("/api/fields")).Single(f => f.Key == "source").Choices;
        offered.Select(c => c.Key).ShouldBe(turned);
        // One that is added stands last; an order that does not know it is old.
        var added = await Added(ingrid, "Harbour radio");
        (await Keys()).ShouldBe([.. turned, added]);
        (await Put(turned)).Problem.ShouldBe("stale");
        (await Put([.. turned, turned[0]])).Problem.ShouldBe("stale");
        (await Put([.. before, added])).Status.ShouldBe(HttpStatusCode.NoContent);
        (await (await fixture.Server.SignIn("tor.vik")).Put("/api/sources/order", new SourceOrder(before))).Status.ShouldBe(HttpStatusCode.Forbidden);
    }

    [Fact]
    public async Task OneSourceStandsForAnotherOnAllThatCameAndComesAndIsTakenBack()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var (gone, stays, third) = (await Added(ingrid, "Pier days"), await Added(ingrid, "Pier days, all years"), await Added(ingrid, "Piers"));
        async Task<Guid> Lead(string name, string source)
        {
            var made = await ingrid.Post("/api/leads", new { source, facts = new { last_name = name, email = $"{name}@pier.example" } });
            made.Status.ShouldBe(HttpStatusCode.Created, made.Body);
            return made.Read<LeadMade>().Id;
        }
        async Task<string> SourceOf(Guid lead) => await fixture.Server.Scalar<string>($"select source from lead where id = '{lead}'");
        Task<Answer> Merge(string key, string into) => ingrid.Post($"/api/sources/{key}/merge", new ValueMergeOrder(into));
        async Task<SourcesView> View() => await ingrid.Read<SourcesView>("/api/sources");
        var (first, other) = (await Lead("Plank", gone), await Lead("Pile", stays));
        (await Merge(gone, gone)).Problem.ShouldBe("value-merge-self");
        (await Merge(gone, "telephone")).Problem.ShouldBe("source-other-way");
        (await Merge(gone, "nothing")).Problem.ShouldBe("not-found");
        (await Merge("form-guide", "form-demo")).Problem.ShouldBe((await View()).Sources.Any(s => s.Key == "form-demo") ? "source-of-form" : "not-found");
        var version = await fixture.Server.Scalar<DateTime>($"select scored_at from lead where id = '{first}'");
        (await Merge(gone, stays)).Status.ShouldBe(HttpStatusCode.NoContent);
        var view = await View();
        view.Sources.ShouldNotContain(s => s.Key == gone);
        view.Sources.Single(s => s.Key == stays).Leads.ShouldBe(2);
        var merge = view.Merges[0];
        (merge.From, merge.Into, merge.By).ShouldBe(("Pier days", "Pier days, all years", "Ingrid Brekke"));
        merge.Records.ShouldBe(await fixture.Server.Scalar<int>($"select 1 + count(*)::int from single_arrival where lead_id = '{first}'"));
        (await SourceOf(first)).ShouldBe(stays);
        // The model may ask where a lead is from: it is scored anew.
        await Eventually.Holds(async () => await fixture.Server.Scalar<bool>($"select coalesce(scored_at > '{version:O}', false) from lead where id = '{first}'"));
        // Nothing can come from the one that went, and its name is free.
        (await ingrid.Post("/api/leads", new { source = gone, facts = new { last_name = "Late", email = "late@pier.example" } })).Problem.ShouldBe("source-unknown");
        (await ingrid.Put($"/api/sources/{gone}", new SourceChange("Pier days", "other", null, false))).Problem.ShouldBe("not-found");
        (await Merge(stays, gone)).Problem.ShouldBe("not-found");
        // A second merge takes the first along; taken back one by one, each lead is where it was.
        (await Merge(stays, third)).Status.ShouldBe(HttpStatusCode.NoContent);
        (await fixture.Server.Scalar<string>($"select merged_into from source where key = '{gone}'")).ShouldBe(third);
        (await SourceOf(first)).ShouldBe(third);
        async Task<Answer> Part(int at) => await ingrid.Post($"/api/sources/merges/{(await View()).Merges[at].Id}/undo");
        (await Part(0)).Status.ShouldBe(HttpStatusCode.NoContent);
        (await fixture.Server.Scalar<string>($"select merged_into from source where key = '{gone}'")).ShouldBe(stays);
        (await Part(0)).Status.ShouldBe(HttpStatusCode.NoContent);
        (await ingrid.Post($"/api/sources/merges/{merge.Id}/undo")).Problem.ShouldBe("undone");
        (await SourceOf(first), await SourceOf(other)).ShouldBe((gone, stays));
        (await View()).Sources.Single(s => s.Key == gone).Leads.ShouldBe(1);
        (await (await fixture.Server.SignIn("tor.vik")).Post($"/api/sources/{gone}/merge", new ValueMergeOrder(stays))).Status.ShouldBe(HttpStatusCode.Forbidden);
    }

    [Fact]
    public async Task WhateverArrivesWhileSourcesMergeGoesByTheOneThatStays()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var (gone, stays) = (await Added(ingrid, "Wharf days"), await Added(ingrid, "Wharves"));
        var arriving = Enumerable
            .Range(0, 40)
            .Select(async i =>
            {
                await Task.Delay(i * 5);
                return await ingrid.Post("/api/leads", new { source = gone, facts = new { last_name = $"Wharf{i}", email = $"w{i}@wharf.example" } });
            })
            .ToList();
        await Task.Delay(60);
        (await ingrid.Post($"/api/sources/{gone}/merge", new ValueMergeOrder(stays))).Status.ShouldBe(HttpStatusCode.NoContent);
        var answers = await Task.WhenAll(arriving);
        var taken = answers.Count(a => a.Status == HttpStatusCode.Created);
        answers.Where(a => a.Status != HttpStatusCode.Created).ShouldAllBe(a => a.Problem == "source-unknown");
        (await fixture.Server.Scalar<int>($"select count(*)::int from lead where source = '{stays}' and email like '%@wharf.example'")).ShouldBe(taken);
        (await fixture.Server.Scalar<int>($"select count(*)::int from lead where source = '{gone}'")).ShouldBe(0);
    }

    private static async Task<string> Added(TestClient ingrid, string name)
    {
        var made = await ingrid.Post("/api/sources", new NewSource(name, "list", "stand.visit"));
        made.Status.ShouldBe(HttpStatusCode.Created, made.Body);
        return made.Read<string>();
    }

    [Fact]
    public async Task WhatCannotBeASourceIsSaid()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        (
            await ingrid.Post(
                "/api/sources",
                new
                {
                    name = " ",
                    channel = "list",
                    eventKind = "stand.visit",
                }
            )
        ).Problem.ShouldBe("name-missing");
        (
            await ingrid.Post(
                "/api/sources",
                new
                {
                    name = "Pigeons",
                    channel = "pigeon",
                    eventKind = "stand.visit",
                }
            )
        ).Problem.ShouldBe("channel-unknown");
        (
            await ingrid.Post(
                "/api/sources",
                new
                {
                    name = "Pigeons",
                    channel = "list",
                    eventKind = "flown",
                }
            )
        ).Problem.ShouldBe("kind-unknown");
        (
            await ingrid.Put(
                "/api/sources/form-guide",
                new
                {
                    name = "Price guide",
                    eventKind = "form.price_guide",
                    campaign = (string?)null,
                    retired = true,
                }
            )
        ).Problem.ShouldBe("source-in-use");
        (await (await fixture.Server.SignIn("lucie.armand")).Get("/api/sources")).Status.ShouldBe(HttpStatusCode.Forbidden);
    }
}
