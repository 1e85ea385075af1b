using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Dapper;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Intake;
using DapperLantern.App.Leads;
using DapperLantern.App.Matching;
using DapperLantern.App.Rights;
using DapperLantern.App.Search;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Rights;

/// <summary>A person's right to be given what we have about them, and to be forgotten.</summary>
public sealed class ErasureTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private TestClient _samir = null!;
    private string _mail = "";
    private string _last = "";
    private readonly string _other = Guid.NewGuid().ToString("N")[..8];

    public async ValueTask InitializeAsync()
    {
        _samir = await fixture.Server.SignIn("samir.haddow");
        _last = $"Forglemt{Guid.NewGuid().ToString("N")[..8]}";
        _mail = $"siv.{_last.ToLowerInvariant()}@post.example";
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private Task<T> Scalar<T>(string sql) => fixture.Server.Scalar<T>(sql);

    private Task<Answer> Erase(string? who = null, string? confirm = null, bool bar = false) =>
        _samir.Post("/api/persons/erase", new ErasureOrder(who ?? _mail, confirm ?? who ?? _mail, bar));

    private async Task<ImportView> TakeIn(byte[] list, string name)
    {
        var sieve = (await _samir.Drop(name, list)).Read<SieveView>();
        return (await _samir.Post($"/api/imports/{sieve.Import.Id}/take-in")).Read<ImportView>();
    }

    private string Other => $"Other,Person,other.{_other}@forget.example,Otherco\n";

    private byte[] List(string? others = null) => Encoding.UTF8.GetBytes($"First name,Last name,Mail,Company\nSiv,{_last},{_mail},\n{others ?? Other}");

    private async Task PostForm()
    {
        using var http = new HttpClient { BaseAddress = new Uri(fixture.Server.Address) };
        var post = new Dictionary<string, string>
        {
            ["first_name"] = "Siv",
            ["last_name"] = _last,
            ["email"] = _mail.ToUpperInvariant(),
            ["country"] = "NO",
            ["company"] = "Forglemt AS",
            ["consent.answer"] = "yes",
        };
        (await http.PostAsJsonAsync("/f/price-guide", post)).IsSuccessStatusCode.ShouldBeTrue();
    }

    private async Task<Guid> Lead() => await Scalar<Guid>($"select id from lead where email = '{_mail}'");

    // Every table and every column, as text: what is left of somebody who is to be forgotten.
    private async Task<string[]> Left(string word)
    {
        await using var connection = await fixture.Server.Connect();
        var tables = await connection.QueryAsync<string>("select table_name from information_schema.tables where table_schema = 'public' and table_type = 'BASE TABLE'");
        var left = new List<string>();
        foreach (var table in tables)
            if (
                await connection.QuerySingleAsync<bool>(
                    // Files and answers are kept as bytes, which the text of a row shows as hexadecimal digits.
                    $"select exists (select 1 from \"{table}\" t where position(@word in lower(t::text)) > 0 or position(@hex in t::text) > 0)",
                    new { word = word.ToLowerInvariant(), hex = Convert.ToHexString(Encoding.UTF8.GetBytes(word)).ToLowerInvariant() }
                )
            )
                left.Add(table);
        return [.. left];
    }

    private async Task<(Guid Lead, ImportView Import)> ComeInByEveryWay()
    {
        var import = await TakeIn(List(), "forget.csv");
        await PostForm();
        var letter =
            $"From: Siv {_last} <{_mail}>\r\nTo: enquiries@tarnhollow.example\r\nSubject: Probes\r\nMessage-ID: <{_last}@post.example>\r\n\r\nDo you sell probes?\r\n\r\nSiv {_last}\r\n";
        (await _samir.DropLetter(Encoding.ASCII.GetBytes(letter))).Status.ShouldBe(HttpStatusCode.OK);
        var lead = await Lead();
        await _samir.Post($"/api/leads/{lead}/touches", new { kind = "note", text = $"Spoke with Siv {_last} about {_mail}." }, key: $"press of {lead}");
        await _samir.Post(
            $"/api/leads/{lead}/consents",
            new
            {
                purpose = "news",
                state = "given",
                wording = "By all means",
            }
        );
        await _samir.Put($"/api/leads/{lead}/tags/event-expo", new { });
        await _samir.Post("/api/campaigns/bloom/responses", new { response = "answered", leads = new[] { lead } });
        return (lead, import);
    }

    private async Task HandOver(Guid lead)
    {
        var version = (await _samir.Read<LeadSheet>($"/api/leads/{lead}")).Version;
        await using (var connection = await fixture.Server.Connect())
            await connection.ExecuteAsync("update lead set state = 'qualified' where id = @lead", new { lead });
        var order = new
        {
            accountId = (Guid?)null,
            contactId = (Guid?)null,
            newAccount = true,
            pipeline = "instruments",
            dealName = $"Siv {_last}, probes",
            amount = 1200,
            currency = "EUR",
            expectedClose = "2027-02-01",
            take = Array.Empty<string>(),
        };
        (await _samir.Post($"/api/leads/{lead}/handover", order, version)).Status.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task AllAboutAPersonIsGivenInOneFile()
    {
        await ComeInByEveryWay();
        var held = (await _samir.Read<PersonDataView>($"/api/persons?who={_mail}")).Held.ToDictionary(h => h.Key, h => h.Count);
        held["leads"].ShouldBe(1);
        held["list_rows"].ShouldBe(1);
        held["arrivals"].ShouldBe(2);
        var file = JsonDocument.Parse((await _samir.Get($"/api/persons/all.json?who={_mail}")).Body).RootElement;
        foreach (var (kind, count) in held)
            file.GetProperty(kind).GetArrayLength().ShouldBe(count, kind);
        file.GetProperty("leads")[0].GetProperty("last_name").GetString().ShouldBe(_last);
        file.GetProperty("list_rows")[0].GetProperty("headings")[2].GetString().ShouldBe("Mail");
        Encoding.ASCII.GetString(Convert.FromBase64String(file.GetProperty("files")[0].GetProperty("content").GetString()!)).ShouldContain("Do you sell probes?");
        file.ToString().ShouldNotContain("person_hash");
    }

    [Fact]
    public async Task NothingIsLeftThatNamesThem()
    {
        var (lead, _) = await ComeInByEveryWay();
        await HandOver(lead);
        await using (var connection = await fixture.Server.Connect())
            await SearchWords.Count(connection.Over(), DateTime.UtcNow);
        (await Left(_mail)).ShouldContain("request_key");
        (await Left(_last)).ShouldContain("search_word");
        var done = (await Erase()).Read<ErasureView>();
        done.Records.ShouldBeGreaterThan(10);
        (await Left(_mail)).ShouldBeEmpty();
        (await Left(_last)).ShouldBeEmpty();
        // The company's business stays.
        (await Scalar<long>("select count(*) from deal where name = '(erased), probes'")).ShouldBeGreaterThan(0);
        (await _samir.Get($"/api/persons?who={_mail}")).Problem.ShouldBe("nobody");
    }

    [Fact]
    public async Task OnlyThatItHappenedIsTold()
    {
        await TakeIn(List(), "forget.csv");
        await Erase();
        var body = (await _samir.Get("/api/persons/erasures")).Body;
        body.ShouldNotContain(_last, Case.Insensitive);
        (await _samir.Read<List<ErasureView>>("/api/persons/erasures"))[0].By.ShouldBe("Samir Haddow");
    }

    [Fact]
    public async Task AListKeepsItsOtherRowsAndCanStillBeSiftedAnewAndTakenBack()
    {
        var sieve = (await _samir.Drop("forget.csv", List($"Kari,Stay,kari.{_last}@stay.example,=Stay AS\n,,,Nobody\n"))).Read<SieveView>();
        (await Erase()).Status.ShouldBe(HttpStatusCode.OK);
        var after = await _samir.Read<SieveView>($"/api/imports/{sieve.Import.Id}");
        (after.Import.Counts.New, after.Import.Counts.Barred, after.Import.Counts.Mend, after.Import.Counts.Balances).ShouldBe((1, 1, 1, true));
        // Read anew from the file, the row is nobody's.
        var anew = (await _samir.Put($"/api/imports/{sieve.Import.Id}/reading", new { encoding = "utf-8", separator = "," })).Read<SieveView>();
        (anew.Import.Counts.Read, anew.Import.Counts.New, anew.Import.Counts.Mend).ShouldBe((3, 1, 2));
        (await _samir.Post($"/api/imports/{sieve.Import.Id}/take-in")).Read<ImportView>().State.ShouldBe("taken");
        (await Scalar<string>($"select company from lead where email = 'kari.{_last.ToLowerInvariant()}@stay.example'")).ShouldBe("=Stay AS");
        (await _samir.Post($"/api/imports/{sieve.Import.Id}/take-back")).Read<ImportView>().State.ShouldBe("taken_back");
    }

    [Fact]
    public async Task ATakenListStillAddsUpAndWaitsForNothing()
    {
        var import = await TakeIn(List(), "forget.csv");
        await Erase();
        var after = (await _samir.Read<SieveView>($"/api/imports/{import.Id}")).Import;
        (after.Counts.Balances, after.Waiting).ShouldBe((true, 0));
        (await _samir.Post($"/api/imports/{import.Id}/take-back")).Read<ImportView>().State.ShouldBe("taken_back");
        (await Scalar<long>($"select count(*) from lead where email = 'other.{_other}@forget.example'")).ShouldBe(0);
    }

    [Fact]
    public async Task WhoWasBarredWithTheErasureDoesNotComeInAgain()
    {
        await TakeIn(List(), "forget.csv");
        await Erase(bar: true);
        var again = (await _samir.Drop("again.csv", List("Third,One,third@forget.example,Third\n"))).Read<SieveView>();
        again.Import.Counts.Barred.ShouldBe(1);
        // Who was only erased may come in again.
        (await _samir.Drop("again.csv", "Mail,Company\nthird@forget.example,Third\n"u8.ToArray()))
            .Read<SieveView>()
            .Import.Counts.New.ShouldBe(1);
    }

    [Fact]
    public async Task AWithdrawnConsentOutlivesThePerson()
    {
        await TakeIn(List(), "forget.csv");
        await _samir.Post($"/api/leads/{await Lead()}/consents", new { purpose = "news", state = "withdrawn" });
        await Erase();
        var again = (await _samir.Drop("again.csv", List("Fourth,One,fourth@forget.example,Fourth\n"))).Read<SieveView>();
        again.Import.Counts.Barred.ShouldBe(1);
    }

    [Fact]
    public async Task OthersOfTheSameCompanyAndNumberAreNotTouched()
    {
        var number = $"+47 406 {Random.Shared.Next(10, 99)} {Random.Shared.Next(100, 999)}";
        await TakeIn(
            Encoding.UTF8.GetBytes($"First name,Last name,Mail,Company,Phone\nSiv,{_last},{_mail},Shared,{number}\nEva,Else,eva.{_last}@shared.example,Shared,{number}\n"),
            "shared.csv"
        );
        await Erase();
        (await Scalar<long>($"select count(*) from lead where email = 'eva.{_last.ToLowerInvariant()}@shared.example' and phone is not null")).ShouldBe(1);
    }

    [Fact]
    public async Task ItTakesTheRightAndAWordTwice()
    {
        await TakeIn(List(), "forget.csv");
        (await Erase(confirm: "somebody@else.example")).Problem.ShouldBe("not-confirmed");
        (await Erase("no mail at all")).Problem.ShouldBe("who-unreadable");
        (await (await fixture.Server.SignIn("lucie.armand")).Post("/api/persons/erase", new ErasureOrder(_mail, _mail))).Status.ShouldBe(HttpStatusCode.Forbidden);
        foreach (var name in new[] { "tor.vik", "ingrid.brekke" })
            (await (await fixture.Server.SignIn(name)).Get($"/api/persons?who={_mail}")).Status.ShouldBe(HttpStatusCode.Forbidden);
        (await Lead()).ShouldNotBe(Guid.Empty);
        // By the number of the lead, too.
        (await Erase($"L-{await Scalar<int>($"select number from lead where email = '{_mail}'")}")).Status.ShouldBe(HttpStatusCode.OK);
    }
}
