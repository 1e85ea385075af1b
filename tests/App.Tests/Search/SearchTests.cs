using System.Net;
using Dapper;
using DapperLantern.App.Leads;
using DapperLantern.App.Search;
using DapperLantern.Core.Fields;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Search;

/// <summary>One box finds everything, however it is written.</summary>
public sealed class SearchTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private static async Task<SearchView> Find(TestClient who, string text) => await who.Read<SearchView>($"/api/search?text={Uri.EscapeDataString(text)}");

    private async Task<(TestClient Ingrid, Guid Lead, int Number)> Lead()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        if (await connection.QuerySingleOrDefaultAsync<(Guid, int)?>("select id, number from lead where last_name = 'Quillfjærd'") is var (known, known_number))
            return (ingrid, known, known_number);
        var id = Guid.NewGuid();
        await connection.ExecuteAsync(
            """
            insert into lead (id, first_name, last_name, company, email, phone, state, source, fit, fit_low, fit_high, engagement, next_move, created_at, last_touch_at)
            select @id, 'Åshild', 'Quillfjærd', 'Zephyrholm Øyvakt AS', 'aq@zephyrholm.example', '+4722559871', 'new', key, 0, 0, 0, 0, 'park', now(), now() from source limit 1
            """,
            new { id }
        );
        return (ingrid, id, await connection.QuerySingleAsync<int>("select number from lead where id = @id", new { id }));
    }

    [Fact]
    public async Task ALeadIsFoundByAnyPartOfItInAnyWriting()
    {
        var (ingrid, id, number) = await Lead();
        foreach (
            var text in new[]
            {
                "quillfjærd",
                "QUILLFJAERD",
                "ashild quillf",
                "zephyrholm",
                "oyvakt zephyr",
                "aq@zephyrholm.example",
                "22 55 98 71",
                "+47 2255 9871",
                "0047 22559871",
                "022559871",
                "22 55 98",
                "+47225",
                "255987",
                $"{number}",
                $"L-{number}",
            }
        )
            (await Find(ingrid, text)).Hits[0].Id.ShouldBe(id, text);
        (await Find(ingrid, "quillfjærd nobody")).Hits.ShouldBeEmpty();
    }

    [Fact]
    public async Task AWordWithASlipIsGuessedFromTheWordsOfNames()
    {
        var (ingrid, id, _) = await Lead();
        await using (var connection = await fixture.Server.Connect())
            await SearchWords.Count(connection.Over(), DateTime.UtcNow);
        foreach (var text in new[] { "quilfjaerd", "qiullfjaerd", "zephyrhlom", "zephirholm oyvakt" })
        {
            var found = await Find(ingrid, text);
            found.Hits.ShouldNotBeEmpty(text);
            found.Hits[0].Id.ShouldBe(id, text);
            found.Meant.ShouldNotBeEmpty();
        }
    }

    [Fact]
    public async Task WhoCameAMomentAgoIsGuessedTooAndCountedOnce()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        await using var connection = await fixture.Server.Connect();
        await SearchWords.Count(connection.Over(), DateTime.UtcNow);
        var id = await ingrid.MakeLead("Vhyrquistad", "NO");
        await SearchWords.Add(connection.Over());
        await SearchWords.Add(connection.Over());
        (await Find(ingrid, "vyhrquistad")).Hits[0].Id.ShouldBe(id);
        (await connection.QuerySingleAsync<int>("select count from search_word where word = 'vhyrquistad'")).ShouldBe(1);
    }

    [Fact]
    public async Task ANoteLeadsToTheLeadItIsAbout()
    {
        var (ingrid, id, _) = await Lead();
        (await ingrid.Post($"/api/leads/{id}/touches", new { kind = "note", text = "Wants the turbidity sonde before the herring spawn." })).Status.ShouldBe(HttpStatusCode.OK);
        var hit = (await Find(ingrid, "herring spawn")).Hits.Single(h => h.Kind == "note");
        (hit.Opens, hit.OpensId).ShouldBe(("lead", id));
    }

    [Fact]
    public async Task AccountsContactsAndDealsAreFoundByWhoMaySeeThem()
    {
        var (ingrid, lucie) = (await fixture.Server.SignIn("ingrid.brekke"), await fixture.Server.SignIn("lucie.armand"));
        await using var connection = await fixture.Server.Connect();
        var (contact, account, deal) = await connection.QueryFirstAsync<(string, string, string)>(
            "select c.name, a.name, d.name from deal d join contact c on c.id = d.contact_id join account a on a.id = d.account_id"
        );
        (await Find(ingrid, contact)).Hits.ShouldContain(h => h.Kind == "contact" && h.Title == contact && h.OpensId != null);
        (await Find(ingrid, account)).Hits.ShouldContain(h => h.Kind == "account" && h.Title == account);
        (await Find(ingrid, deal)).Hits.ShouldContain(h => h.Kind == "deal");
        (await Find(lucie, contact)).Hits.ShouldAllBe(h => h.Kind == "lead" || h.Kind == "note");
    }

    [Fact]
    public async Task WhatIsTypedIsNeverReadAsAnOperator()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        foreach (var text in new[] { "'", "a' | 'b", "!x & (", ":*", "\\", "%", "_", "<->", "  ", "😀", "a" })
            (await ingrid.Get($"/api/search?text={Uri.EscapeDataString(text)}")).Status.ShouldBe(HttpStatusCode.OK, text);
        (await ingrid.Get("/api/search?text=%00")).Problem.ShouldBe("query-unfit");
        (await ingrid.Get($"/api/search?text={new string('a', 201)}")).Problem.ShouldBe("too-long");
    }

    [Fact]
    public async Task TheDatabaseFoldsWordsAsCoreDoes()
    {
        await using var connection = await fixture.Server.Connect();
        foreach (
            var text in new[]
            {
                "Åse Müller-Lüdenscheidt",
                "ÆRØ Øyvakt A/S",
                "Straße 7b",
                "Œuvre þórr ÞÓRR",
                "ÿ ÀÁÂÃÄÅ ÈÉÊË ÌÍÎÏ ÑÒÓÔÕÖØ ÙÚÛÜÝ",
                "Łódź Żółć Čapek Ďurica Ěva Ğül Ňe Őr Řez Śu Şen Ťuk Ůr Źab Žák",
                "Αθήνα Москва",
                "o'neill@x-y.example",
            }
        )
        {
            var folded = await connection.QuerySingleAsync<string[]>("select tsvector_to_array(search_words(@text, null, null, null))", new { text });
            folded.Order(StringComparer.Ordinal).ShouldBe(Folding.Heading(text).Split(' ', StringSplitOptions.RemoveEmptyEntries).Distinct().Order(StringComparer.Ordinal), text);
        }
    }
}
