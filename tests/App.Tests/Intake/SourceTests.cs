using System.Net;
using DapperLantern.App.Intake;

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
