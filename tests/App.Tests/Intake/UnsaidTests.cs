using System.Net;
using System.Text;
using DapperLantern.App.Intake;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Intake;

/// <summary>What a list does not say is asked for, not taken: its source, its comments as wishes; and what can be done with a list that was taken back or is not wanted.</summary>
public sealed class UnsaidTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private TestServer Server => fixture.Server;

    private const string People = "Name,Mail,Bemerkungen\nAnna Uthaug,anna@uthaug.example,met at the quay\nOla Uthaug,ola@uthaug.example,n/a\n";

    private static Task<Answer> Drop(TestClient who, string name, string list) => who.SendFile("/api/imports", name, Encoding.UTF8.GetBytes(list));

    [Fact]
    public async Task AListWhoseSourceNobodySaidIsAskedAboutOnceAndClaimsNothing()
    {
        var ingrid = await Server.SignIn("ingrid.brekke");
        var sieve = (await Drop(ingrid, "people.csv", People)).Read<SieveView>();
        sieve.Import.Source.ShouldBe("");
        var path = $"/api/imports/{sieve.Import.Id}";
        (await ingrid.Post($"{path}/take-in")).Problem.ShouldBe("source-missing");
        (await Server.Scalar<long>("select count(*) from lead where email like '%@uthaug.example'")).ShouldBe(0);
        // What a source counts as is shown before it is chosen.
        sieve.Choices.Sources.Single(s => s.Key == "list-webinar").CountsAs.ShouldContain("points of engagement");
        (await ingrid.Put($"{path}/terms", new TermsChange("list-circular", sieve.Constants, sieve.Policies))).Status.ShouldBe(HttpStatusCode.OK);
        (await ingrid.Post($"{path}/take-in")).Read<ImportView>().State.ShouldBe("taken");
        // Comments are a note, not what they want; a word for nothing is none.
        (
            await Server.Scalar<string>(
                "select string_agg(s.text, '|') from story_entry s join lead l on l.id = s.lead_id where l.email like '%@uthaug.example' and s.kind = 'note'"
            )
        ).ShouldBe("met at the quay");
        (await Server.Scalar<long>("select count(*) from lead where email like '%@uthaug.example' and interest is not null")).ShouldBe(0);

        // Taken back it is no dead end: it can be sifted and taken in again, and removed.
        (await ingrid.Post($"{path}/take-back"))
            .Read<ImportView>()
            .State.ShouldBe("taken_back");
        (await ingrid.Delete($"{path}")).Status.ShouldBe(HttpStatusCode.NoContent);
        (await ingrid.Get(path)).Status.ShouldBe(HttpStatusCode.NotFound);
        (await Server.Scalar<long>($"select count(*) from arrival where import_id = '{sieve.Import.Id}'")).ShouldBe(0);
    }

    [Fact]
    public async Task AListThatWasTakenBackIsSiftedAndTakenInAgain()
    {
        var ingrid = await Server.SignIn("ingrid.brekke");
        var sieve = (
            await Drop(
                ingrid,
                "harbour circular again.csv",
                People.Replace("uthaug", "tilbake", StringComparison.Ordinal).Replace("Bemerkungen", "Company", StringComparison.Ordinal)
            )
        ).Read<SieveView>();
        sieve.Import.Source.ShouldBe("list-circular");
        var path = $"/api/imports/{sieve.Import.Id}";
        (await ingrid.Post($"{path}/take-in")).Read<ImportView>().State.ShouldBe("taken");
        (await ingrid.Delete(path)).Problem.ShouldBe("already-taken");
        await ingrid.Post($"{path}/take-back");
        (await ingrid.Post($"{path}/take-in")).Problem.ShouldBe("taken-back");
        (await ingrid.Post($"{path}/sift")).Read<SieveView>().Import.State.ShouldBe("sifted");
        (await ingrid.Post($"{path}/take-in")).Read<ImportView>().State.ShouldBe("taken");
        (await Server.Scalar<long>("select count(*) from lead where email like '%@tilbake.example'")).ShouldBe(2);
    }

    [Fact]
    public async Task ARowOfEndlessTextIsSetAsideAndTheFileKept()
    {
        var ingrid = await Server.SignIn("ingrid.brekke");
        var list = $"Name,Mail,Bemerkungen\nAnna Lang,anna@lang.example,{new string('x', 120_000)}\nOla Lang,ola@lang.example,short\n";
        var sieve = (await Drop(ingrid, "harbour circular long.csv", list)).Read<SieveView>();
        (sieve.Import.Counts.Mend, sieve.Import.Counts.Takeable).ShouldBe((1, 1));
        (await Server.Scalar<long>($"select max(length(array_to_string(cells, ''))) from arrival where import_id = '{sieve.Import.Id}'")).ShouldBeLessThan(10_000);
    }

    [Theory]
    [InlineData("{% for a in (1..3000000) %}x{% endfor %}")]
    [InlineData("{% include 'other' %}")]
    public async Task ATemplateThatWorksWithoutEndOrAsksForAnotherIsRefused(string text)
    {
        var ingrid = await Server.SignIn("ingrid.brekke");
        (
            await ingrid.Put(
                "/api/message-templates",
                new[]
                {
                    new
                    {
                        key = "t",
                        label = "T",
                        purpose = (string?)null,
                        subject = "S",
                        text,
                    },
                }
            )
        ).Problem.ShouldBe("template-tag");
    }

    [Fact]
    public async Task HolidaysThatComeAgainBySecondsAreRefused()
    {
        var ingrid = await Server.SignIn("ingrid.brekke");
        const string File =
            "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART;VALUE=DATE:20260101\r\nRRULE:FREQ=SECONDLY\r\nSUMMARY:x\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n";
        var answer = await ingrid.PostText("/api/staff/calendars?name=Fast", File);
        ((int)answer.Status).ShouldBeInRange(400, 499);
        answer.Sentence.ShouldContain("by the hour or faster");
    }
}
