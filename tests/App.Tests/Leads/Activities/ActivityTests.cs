using System.Net;
using Dapper;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Activities;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Leads.Activities;

/// <summary>What people record of a lead and plan for it.</summary>
public sealed class ActivityTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    // How many of each kind were asked for: each is another one.
    private static readonly Dictionary<string, int> Taken = [];

    private async Task<LeadSheet> Some(TestClient who, string where = "state = 'in_work' and owner_id is not null")
    {
        Taken[where] = Taken.GetValueOrDefault(where) + 1;
        await using var connection = await fixture.Server.Connect();
        return await who.Read<LeadSheet>(
            $"/api/leads/{await connection.QueryFirstAsync<Guid>($"select id from lead where {where} order by number offset {Taken[where] - 1} limit 1")}"
        );
    }

    [Fact]
    public async Task FilesAreAddedSavedRemovedAndBroughtBackAndStandInTheStory()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var lead = await Some(ingrid);
        var path = $"/api/leads/{lead.Id}/files";
        var bytes = Enumerable.Range(0, 300_000).Select(i => (byte)i).ToArray();
        (await ingrid.SendFile(path, "C:\\charts\\Fjord chart.pdf", bytes)).Status.ShouldBe(HttpStatusCode.NoContent);
        var file = (await ingrid.Read<List<LeadFileView>>(path)).Single(f => f.By is not null);
        (file.Name, file.Size, file.By).ShouldBe(("Fjord chart.pdf", bytes.Length, "Ingrid Brekke"));
        (await ingrid.Get($"/api/files/{file.Id}")).Status.ShouldBe(HttpStatusCode.OK);
        await using var connection = await fixture.Server.Connect();
        (await connection.QuerySingleAsync<byte[]>("select bytes from lead_file where id = @Id", new { file.Id })).ShouldBe(bytes);
        (await ingrid.Delete($"/api/files/{file.Id}")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await ingrid.Get($"/api/files/{file.Id}")).Status.ShouldBe(HttpStatusCode.NotFound);
        (await ingrid.Post($"/api/files/{file.Id}/restore")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await ingrid.Read<List<LeadFileView>>(path)).ShouldContain(f => f.Id == file.Id);
        (await ingrid.Read<LeadSheet>($"/api/leads/{lead.Id}"))
            .Story.Select(s => s.Text)
            .Take(3)
            .ShouldBe(["Brought back Fjord chart.pdf", "Removed Fjord chart.pdf", "Added Fjord chart.pdf"]);
        (await ingrid.SendFile(path, "nothing.txt", [])).Problem.ShouldBe("file-size");
        (await ingrid.SendFile(path, "film.bin", new byte[FileEndpoints.Largest + 1])).Problem.ShouldBe("file-size");
        var other = await fixture.Server.SignIn("tor.vik");
        var theirs = await connection.QueryFirstAsync<Guid>("select id from lead where state = 'in_work' and owner_id <> @Id", new { other.Session.Id });
        (await other.SendFile($"/api/leads/{theirs}/files", "mine.txt", [1])).Problem.ShouldBe("not-yours");
    }

    [Fact]
    public async Task ANextStepIsMovedGivenAndDroppedAndTheLeadFollows()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var id = await ingrid.MakeLead("Trinn", "Portugal");
        await using var connection = await fixture.Server.Connect();
        await connection.ExecuteAsync("delete from task where lead_id = @id", new { id });
        var (soon, later) = (DateTime.UtcNow.Date.AddDays(3), DateTime.UtcNow.Date.AddDays(9));
        await ingrid.Post($"/api/leads/{id}/tasks", new TaskWrite(" Ring them ", soon));
        var task = (await ingrid.Read<LeadSheet>($"/api/leads/{id}")).Tasks.ShouldHaveSingleItem();
        task.Subject.ShouldBe("Ring them");
        Task<DateTime?> Next() => connection.QuerySingleAsync<DateTime?>("select next_step_at from lead where id = @id", new { id });
        (await Next()).ShouldBe(soon);
        var sten = (await fixture.Server.SignIn("sten.lindmark")).Session.Id;
        (await ingrid.Put($"/api/tasks/{task.Id}", new TaskWrite("Ring them twice", later, sten, "2w"))).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Next()).ShouldBe(later);
        (await connection.QuerySingleAsync<(string, Guid, string?)>("select subject, owner_id, repeat from task where id = @Id", new { task.Id })).ShouldBe(
            ("Ring them twice", sten, "2w")
        );
        // Nobody named: it stays with whom it is.
        await ingrid.Put($"/api/tasks/{task.Id}", new TaskWrite("Ring them twice", later));
        (await connection.QuerySingleAsync<(Guid, string?)>("select owner_id, repeat from task where id = @Id", new { task.Id })).ShouldBe((sten, null));
        (await ingrid.Delete($"/api/tasks/{task.Id}")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await Next()).ShouldBeNull();
        (await ingrid.Delete($"/api/tasks/{task.Id}")).Problem.ShouldBe("not-found");
    }

    [Fact]
    public async Task AMeetingIsMovedUnlessWhatItTakesAlongIsAtAnother()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var id = await ingrid.MakeLead("Befaring", "Portugal");
        (await ingrid.Put("/api/resources/boat", new ResourceView("boat", "Work boat", false))).Status.ShouldBe(HttpStatusCode.NoContent);
        var from = DateTime.UtcNow.Date.AddDays(40);
        var plan = new MeetingWrite("See the cages", from, from.AddHours(2), "Quay 3", Guests: ["Ragna"], Resources: ["boat"]);
        (await ingrid.Post($"/api/leads/{id}/meetings", plan)).Status.ShouldBe(HttpStatusCode.OK);
        async Task<MeetingView> Now() => (await ingrid.Read<LeadSheet>($"/api/leads/{id}")).Meetings.ShouldHaveSingleItem();
        var made = await Now();
        // Another's meeting has the boat an hour later; this one moves into it and cannot take it along.
        var other = await ingrid.MakeLead("Annenbefaring", "Portugal");
        (await ingrid.Post($"/api/leads/{other}/meetings", plan with { StartsAt = from.AddHours(3), EndsAt = from.AddHours(5) })).Status.ShouldBe(HttpStatusCode.OK);
        var moved = plan with { StartsAt = from.AddHours(4), EndsAt = from.AddHours(6), Place = "Quay 9" };
        (await ingrid.Put($"/api/meetings/{made.Id}", moved, made.Version)).Problem.ShouldBe("resource-taken");
        (await Now()).ShouldBeEquivalentTo(made);
        (await ingrid.Put($"/api/meetings/{made.Id}", moved with { Resources = [] }, made.Version)).Status.ShouldBe(HttpStatusCode.NoContent);
        var after = await Now();
        (after.Place, after.StartsAt, after.Resources.Count, after.Version).ShouldBe(("Quay 9", from.AddHours(4), 0, made.Version + 1));
        (await ingrid.Put($"/api/meetings/{made.Id}", moved, made.Version)).Problem.ShouldBe("stale");
        await using var connection = await fixture.Server.Connect();
        (await connection.QuerySingleAsync<DateTime?>("select next_step_at from lead where id = @id", new { id })).ShouldNotBeNull();
        (await ingrid.Read<List<ResourceView>>("/api/resources")).ShouldContain(r => r.Key == "boat");
    }

    [Fact]
    public async Task ACallKeepsWhoCalledHowItEndedAndHowLong()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var lead = await Some(ingrid, "state = 'new' and owner_id is not null");
        var path = $"/api/leads/{lead.Id}/touches";
        var missed = (
            await ingrid.Post(
                path,
                new
                {
                    kind = "call",
                    text = "Voicemail.",
                    outcome = "left_message",
                }
            )
        ).Read<LeadSheet>();
        (missed.Story[0].Kind, missed.Story[0].Call).ShouldBe(("call_missed", new CallView("Left a message", false, null)));
        var reached = (
            await ingrid.Post(
                path,
                new
                {
                    kind = "call",
                    text = "Wants two buoys.",
                    outcome = "reached",
                    incoming = true,
                    minutes = 12,
                }
            )
        ).Read<LeadSheet>();
        (reached.Story[0].Kind, reached.Story[0].Call, reached.State).ShouldBe(("call", new CallView("Reached", true, 12), "in_work"));
        (
            await ingrid.Post(
                path,
                new
                {
                    kind = "call",
                    text = "",
                    outcome = "sang",
                }
            )
        ).Problem.ShouldBe("call-unfit");
        (
            await ingrid.Post(
                path,
                new
                {
                    kind = "call",
                    text = "",
                    minutes = 601,
                }
            )
        ).Problem.ShouldBe("number-range");
    }

    [Fact]
    public async Task ANoteIsPinnedCorrectedRemovedAndBroughtBackAndWhatItSaidIsKept()
    {
        var (ingrid, tor) = (await fixture.Server.SignIn("ingrid.brekke"), await fixture.Server.SignIn("tor.vik"));
        var lead = await Some(tor, $"state = 'in_work' and owner_id = '{tor.Session.Id}'");
        await tor.Post($"/api/leads/{lead.Id}/touches", new { kind = "note", text = "Frist." });
        var note = (await tor.Post($"/api/leads/{lead.Id}/touches", new { kind = "note", text = "Budget is fixt." })).Read<LeadSheet>().Story[0];
        await tor.Post($"/api/leads/{lead.Id}/touches", new { kind = "note", text = "Later." });
        (await tor.Patch($"/api/story/{note.Id}", new { text = "Budget is fixed.", pinned = true })).Status.ShouldBe(HttpStatusCode.NoContent);
        var shown = (await tor.Read<LeadSheet>($"/api/leads/{lead.Id}")).Story[0];
        (shown.Id, shown.Text, shown.Pinned, shown.Editable).ShouldBe((note.Id, "Budget is fixed.", true, true));
        shown.EditedAt.ShouldNotBeNull();
        await using var connection = await fixture.Server.Connect();
        (await connection.QuerySingleAsync<string>("select was->0->>'text' from story_entry where id = @Id", new { note.Id })).ShouldBe("Budget is fixt.");

        (await tor.Delete($"/api/story/{note.Id}")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await tor.Read<LeadSheet>($"/api/leads/{lead.Id}")).Story.ShouldNotContain(s => s.Id == note.Id);
        (await tor.Post($"/api/story/{note.Id}/restore")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await tor.Read<LeadSheet>($"/api/leads/{lead.Id}")).Story.ShouldContain(s => s.Id == note.Id);

        // Only who wrote it, and who sets up, corrects it; what the program told is nobody's to change.
        var effie = await fixture.Server.SignIn("effie.marlowe");
        (await effie.Patch($"/api/story/{note.Id}", new { text = "Mine." })).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await ingrid.Patch($"/api/story/{note.Id}", new { text = "Budget is fixed, says Tor." })).Status.ShouldBe(HttpStatusCode.NoContent);
        (await ingrid.Patch($"/api/story/{note.Id}", new { text = "  " })).Problem.ShouldBe("text-range");
        var told = lead.Story.First(s => s.Kind == "came_in");
        (await ingrid.Delete($"/api/story/{told.Id}")).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task ATaskThatRepeatsComesAgainOnceAndNotWhenItIsTakenBack()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var lead = await Some(ingrid);
        var due = DateTime.UtcNow.Date.AddDays(-3).AddHours(9);
        var path = $"/api/leads/{lead.Id}/tasks";
        var task = (
            await ingrid.Post(
                path,
                new
                {
                    subject = " Ask about the buoy ",
                    dueAt = due,
                    repeat = "1w",
                }
            )
        ).Read<LeadSheet>().Tasks.Single(t => t.Subject == "Ask about the buoy");
        (task.Owner, task.Repeat).ShouldBe(("Ingrid Brekke", "1w"));
        var done = await Task.WhenAll(ingrid.Post($"/api/tasks/{task.Id}/done"), ingrid.Post($"/api/tasks/{task.Id}/done"));
        done.Select(d => d.Read<TaskDone>().Next).Distinct().Count().ShouldBe(1);
        var open = (await ingrid.Read<LeadSheet>($"/api/leads/{lead.Id}")).Tasks.Where(t => t.Subject == "Ask about the buoy" && t.DoneAt is null).ToList();
        open.Single().DueAt.ShouldBe(due.AddDays(7), TimeSpan.FromHours(1));
        (await ingrid.Delete($"/api/tasks/{task.Id}/done")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await ingrid.Read<LeadSheet>($"/api/leads/{lead.Id}")).Tasks.Count(t => t.Subject == "Ask about the buoy").ShouldBe(1);

        (await ingrid.Post(path, new { subject = "", dueAt = due })).Problem.ShouldBe("subject-missing");
        (await ingrid.Post(path, new { subject = "x", dueAt = DateTime.UtcNow.AddYears(9) })).Problem.ShouldBe("due-range");
        (
            await ingrid.Post(
                path,
                new
                {
                    subject = "x",
                    dueAt = due,
                    repeat = "often",
                }
            )
        ).Problem.ShouldBe("repeat-unknown");
        (
            await ingrid.Post(
                path,
                new
                {
                    subject = "x",
                    dueAt = due,
                    owner = Guid.NewGuid(),
                }
            )
        ).Problem.ShouldBe("owner-unknown");
    }

    [Fact]
    public async Task StepsOfAPlanAreForTheOwnerInTheirHours()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var plans = await ingrid.Read<List<StepPlan>>("/api/step-plans");
        var lead = await Some(ingrid);
        var now = (await ingrid.Post($"/api/leads/{lead.Id}/steps", new { plan = plans[0].Key })).Read<LeadSheet>();
        var made = now.Tasks.Where(t => lead.Tasks.All(before => before.Id != t.Id)).ToList();
        made.ShouldAllBe(t => plans[0].Steps.Any(s => s.Subject == t.Subject));
        made.Count.ShouldBe(plans[0].Steps.Count);
        made.ShouldAllBe(t => t.OwnerId == lead.OwnerId);
        (await ingrid.Post($"/api/leads/{lead.Id}/steps", new { plan = "none" })).Status.ShouldBe(HttpStatusCode.NotFound);
        (
            await ingrid.Put(
                "/api/step-plans",
                new[]
                {
                    new
                    {
                        key = "a",
                        label = "A",
                        steps = new[] { new { subject = "Call", inDays = -1 } },
                    },
                }
            )
        ).Problem.ShouldBe("at-place");
        (await ingrid.Put("/api/step-plans", plans.Append(new StepPlan("own", "Our own", [new("Ring twice", 1)])).ToList())).Status.ShouldBe(HttpStatusCode.NoContent);
        (await ingrid.Read<List<StepPlan>>("/api/step-plans")).ShouldContain(p => p.Label == "Our own");
    }

    [Fact]
    public async Task AThingIsAtOneMeetingAtATimeWhoeverAsksFirst()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var (one, other) = (await Some(ingrid), await Some(ingrid));
        (
            await ingrid.Put(
                "/api/resources/test-buoy",
                new
                {
                    key = "test-buoy",
                    name = "Test buoy",
                    retired = false,
                }
            )
        ).Status.ShouldBe(HttpStatusCode.NoContent);
        var starts = DateTime.UtcNow.Date.AddDays(40).AddHours(9);
        object Meeting(DateTime from, int hours) =>
            new
            {
                subject = "Site survey",
                startsAt = from,
                endsAt = from.AddHours(hours),
                resources = new[] { "test-buoy" },
                guests = new[] { "Ragna" },
                people = new[] { ingrid.Session.Id },
            };
        var both = await Task.WhenAll(
            ingrid.Post($"/api/leads/{one.Id}/meetings", Meeting(starts, 2)),
            ingrid.Post($"/api/leads/{other.Id}/meetings", Meeting(starts.AddHours(1), 2))
        );
        both.Count(a => a.Status == HttpStatusCode.OK).ShouldBe(1);
        both.Single(a => a.Status != HttpStatusCode.OK).Problem.ShouldBe("resource-taken");
        // However often two ask at once, one has it and the other is told so.
        for (var day = 1; day <= 10; day++)
        {
            var answers = await Task.WhenAll(
                Enumerable.Range(0, 4).Select(i => ingrid.Post($"/api/leads/{(i % 2 == 0 ? one : other).Id}/meetings", Meeting(starts.AddDays(day).AddMinutes(i), 2)))
            );
            answers.Count(a => a.Status == HttpStatusCode.OK).ShouldBe(1);
            answers.Where(a => a.Status != HttpStatusCode.OK).ShouldAllBe(a => a.Problem == "resource-taken");
        }
        // One after the other is no overlap; a meeting called off lets go of it.
        (await ingrid.Post($"/api/leads/{one.Id}/meetings", Meeting(starts.AddHours(3), 1))).Status.ShouldBe(HttpStatusCode.OK);
        await using var connection = await fixture.Server.Connect();
        var held = await connection.QuerySingleAsync<Guid>(
            "select id from meeting where starts_at in (@starts, @later) order by starts_at limit 1",
            new { starts, later = starts.AddHours(1) }
        );
        (await ingrid.Delete($"/api/meetings/{held}")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await ingrid.Post($"/api/leads/{other.Id}/meetings", Meeting(starts, 2))).Status.ShouldBe(HttpStatusCode.OK);
        (
            await ingrid.Post(
                $"/api/leads/{other.Id}/meetings",
                new
                {
                    subject = "Backwards",
                    startsAt = starts,
                    endsAt = starts,
                }
            )
        ).Problem.ShouldBe("meeting-span");
        (
            await ingrid.Post(
                $"/api/leads/{other.Id}/meetings",
                new
                {
                    subject = "With a whale",
                    startsAt = starts,
                    endsAt = starts.AddHours(1),
                    resources = new[] { "whale" },
                }
            )
        ).Problem.ShouldBe("resource-unknown");
    }

    [Fact]
    public async Task AMeetingAheadIsANextStepAndItsResultStandsInTheStory()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var lead = await Some(ingrid, "state = 'in_work' and next_step_at is null");
        var starts = DateTime.UtcNow.AddDays(2);
        var met = (
            await ingrid.Post(
                $"/api/leads/{lead.Id}/meetings",
                new
                {
                    subject = "Look at the pens",
                    startsAt = starts,
                    endsAt = starts.AddHours(1),
                    place = "Kragerø",
                    goal = "See the outlet",
                }
            )
        ).Read<LeadSheet>();
        await using var connection = await fixture.Server.Connect();
        (await connection.QuerySingleAsync<DateTime>("select next_step_at from lead where id = @Id", new { lead.Id })).ShouldBe(starts, TimeSpan.FromMilliseconds(1));
        var meeting = met.Meetings.Single();
        (await ingrid.Put($"/api/meetings/{meeting.Id}/result", new { result = "They want a trial.", satisfaction = 6 })).Problem.ShouldBe("number-range");
        foreach (var result in new[] { "They want a trial.", "They want two trials." })
            (await ingrid.Put($"/api/meetings/{meeting.Id}/result", new { result, satisfaction = 4 })).Status.ShouldBe(HttpStatusCode.NoContent);
        var after = await ingrid.Read<LeadSheet>($"/api/leads/{lead.Id}");
        after.Story.Single(s => s.Text.StartsWith("Look at the pens:", StringComparison.Ordinal)).Text.ShouldBe("Look at the pens: They want two trials. (satisfaction 4 of 5)");
        (await connection.QuerySingleAsync<DateTime?>("select next_step_at from lead where id = @Id", new { lead.Id })).ShouldBeNull();
        (
            await ingrid.Put(
                $"/api/meetings/{meeting.Id}",
                new
                {
                    subject = "x",
                    startsAt = starts,
                    endsAt = starts.AddHours(1),
                },
                1
            )
        ).Status.ShouldBe(HttpStatusCode.PreconditionFailed);
    }

    [Fact]
    public async Task FollowUpsHoldTheirDayAndARepSeesOnlyTheirOwn()
    {
        var (ingrid, tor) = (await fixture.Server.SignIn("ingrid.brekke"), await fixture.Server.SignIn("tor.vik"));
        var lead = await Some(tor, $"state = 'in_work' and owner_id = '{tor.Session.Id}'");
        var day = DateTime.UtcNow.Date.AddDays(20);
        await tor.Post($"/api/leads/{lead.Id}/tasks", new { subject = "On the day", dueAt = day.AddHours(9) });
        await tor.Post($"/api/leads/{lead.Id}/tasks", new { subject = "Late already", dueAt = DateTime.UtcNow.AddYears(-1) });
        string Path(string who) => $"/api/follow-ups?from={day:O}&to={day.AddDays(1):O}&who={who}";
        var mine = await tor.Read<FollowUpsView>(Path("me"));
        mine.Items.ShouldContain(i => i.Subject == "On the day" && i.LeadId == lead.Id);
        mine.Overdue[0].Subject.ShouldBe("Late already");
        (await tor.Read<FollowUpsView>(Path("all"))).Items.ShouldAllBe(i => i.OwnerId == tor.Session.Id);
        (await ingrid.Read<FollowUpsView>(Path("me"))).Items.ShouldAllBe(i => i.OwnerId == ingrid.Session.Id);
        (await ingrid.Read<FollowUpsView>(Path($"{tor.Session.Id}"))).Items.ShouldContain(i => i.Subject == "On the day");
        (await ingrid.Get($"/api/follow-ups?from={day:O}&to={day.AddDays(90):O}")).Problem.ShouldBe("period-too-long");
    }

    [Fact]
    public async Task TheCalendarIsReadUnderItsPrivateAddressOnly()
    {
        var tor = await fixture.Server.SignIn("tor.vik");
        var lead = await Some(tor, $"state = 'in_work' and owner_id = '{tor.Session.Id}'");
        await tor.Post($"/api/leads/{lead.Id}/tasks", new { subject = "Ring; about, the \"buoy\"", dueAt = DateTime.UtcNow.AddDays(3) });
        var address = (await tor.Post("/api/calendar")).Read<CalendarAddress>().Path;
        var stranger = new TestClient(fixture.Server.Address);
        var feed = await stranger.Get(address);
        (feed.Status, feed.ContentType).ShouldBe((HttpStatusCode.OK, "text/calendar"));
        var calendar = Ical.Net.Calendar.Load(feed.Body)!;
        calendar.Events.ShouldContain(e => e.Summary!.StartsWith("Ring; about, the \"buoy\"", StringComparison.Ordinal));
        calendar.Events.Select(e => e.Uid).ShouldBeUnique();
        (await stranger.Get("/calendar/0000.ics")).Status.ShouldBe(HttpStatusCode.NotFound);
        var next = (await tor.Post("/api/calendar")).Read<CalendarAddress>().Path;
        (await stranger.Get(address)).Status.ShouldBe(HttpStatusCode.NotFound);
        (await tor.Delete("/api/calendar")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await stranger.Get(next)).Status.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task WhoLooksAtALeadIsToldOfAChangeMadeInAnotherProcess()
    {
        await using var beside = await fixture.Server.Beside();
        var (ingrid, tor) = (await fixture.Server.SignIn("ingrid.brekke"), await beside.SignIn("ingrid.brekke"));
        var lead = await Some(ingrid);
        using var stop = new CancellationTokenSource(TimeSpan.FromSeconds(20));
        using var watching = await ingrid.Watch($"/api/leads/{lead.Id}/live", stop.Token);
        using var signs = new StreamReader(await watching.Content.ReadAsStreamAsync(stop.Token));
        await Sign();
        (await tor.Post($"/api/leads/{lead.Id}/touches", new { kind = "note", text = "From beside." })).Status.ShouldBe(HttpStatusCode.OK);
        await Sign();
        (await tor.Patch($"/api/leads/{lead.Id}", new { facts = new { department = "Pens" } }, lead.Version)).Status.ShouldBe(HttpStatusCode.OK);
        await Sign();

        async Task Sign()
        {
            (await signs.ReadLineAsync(stop.Token)).ShouldBe("event: changed");
            while (await signs.ReadLineAsync(stop.Token) is { Length: > 0 }) { }
        }
    }
}
