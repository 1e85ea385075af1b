using System.Net;
using DapperLantern.App.Handover;
using DapperLantern.App.Leads;
using DapperLantern.Core.Fields;

namespace DapperLantern.App.Tests.Handover;

/// <summary>Facts of contacts, accounts and deals, fields of one's own among them.</summary>
public sealed class RecordFactsTests(ServerFixture fixture) : IClassFixture<ServerFixture>, IAsyncLifetime
{
    private TestClient _ingrid = null!;
    private Guid _deal;
    private Guid _contact;
    private Guid _account;

    public async ValueTask InitializeAsync()
    {
        _ingrid = await fixture.Server.SignIn("ingrid.brekke");
        _deal = await fixture.Server.Scalar<Guid>("select id from deal where account_id is not null order by id limit 1");
        _contact = await fixture.Server.Scalar<Guid>($"select contact_id from deal where id = '{_deal}'");
        _account = await fixture.Server.Scalar<Guid>($"select account_id from deal where id = '{_deal}'");
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private Task<Answer> Change(string kind, Guid id, string key, string value, string was = "") =>
        _ingrid.Patch($"/api/{kind}/{id}/facts", new RecordChange(new() { [key] = value }, was.Length > 0 ? new() { [key] = was } : []));

    private async Task<FactView> Fact(string kind, Guid id, string key) => (await _ingrid.Read<RecordSheet>($"/api/{kind}/{id}/facts")).Facts.Single(f => f.Key == key);

    private async Task<string> Field(string label, string lands, bool onLead) =>
        (
            await _ingrid.Post(
                "/api/custom-fields",
                new
                {
                    label,
                    type = "number",
                    lands,
                    onLead,
                }
            )
        ).Read<string>();

    [Theory]
    [InlineData("contacts", "contact")]
    [InlineData("accounts", "account")]
    [InlineData("deals", "deal")]
    public async Task AFieldOfItsOwnIsOnTheRecordAtOnceAndOnNoLead(string kind, string lands)
    {
        var id =
            kind == "contacts" ? _contact
            : kind == "accounts" ? _account
            : _deal;
        var key = await Field($"Depth of {lands}", lands, false);
        (await Fact(kind, id, key)).Value.ShouldBeNull();
        (await Change(kind, id, key, "deep")).Problem.ShouldBe("number-unreadable");
        (await Change(kind, id, key, "12,5")).Status.ShouldBe(HttpStatusCode.OK);
        (await Fact(kind, id, key)).Stored.ShouldBe("12.5");
        (await _ingrid.Read<List<FactView>>("/api/fields")).ShouldNotContain(f => f.Key == key);
        (await _ingrid.Delete($"/api/custom-fields/{key}")).Problem.ShouldBe("field-used");
        (await Change(kind, id, key, "", "12.5")).Status.ShouldBe(HttpStatusCode.OK);
        (await _ingrid.Delete($"/api/custom-fields/{key}")).Status.ShouldBe(HttpStatusCode.NoContent);
    }

    [Fact]
    public async Task AFieldOfLeadsLandsWhereItBelongs()
    {
        var key = await Field("Fleet size", "account", true);
        var lead = await fixture.Server.Scalar<Guid>("select id from lead where state = 'qualified' and company is not null order by number limit 1");
        var version = (await _ingrid.Read<LeadSheet>($"/api/leads/{lead}")).Version;
        (await _ingrid.Patch($"/api/leads/{lead}", new { facts = new Dictionary<string, string> { [key] = "7" } }, version)).Status.ShouldBe(HttpStatusCode.OK);
        (await _ingrid.Read<HandoverPreview>($"/api/leads/{lead}/handover")).Lines.Single(l => l.Field == key).On.ShouldBe(TargetRecord.Account);
    }

    [Fact]
    public async Task WhatSomebodyElseChangedMeanwhileIsNotOverwritten()
    {
        var was = (await Fact("accounts", _account, "city")).Stored ?? "";
        (await Change("accounts", _account, "city", "Ullapool", was)).Status.ShouldBe(HttpStatusCode.OK);
        (await Change("accounts", _account, "city", "Oban", was)).Problem.ShouldBe("stale");
        (await Fact("accounts", _account, "city")).Value.ShouldBe("Ullapool");
    }

    [Fact]
    public async Task ARecordIsFoundByWhatItIsCalledNow()
    {
        var was = (await Fact("contacts", _contact, "email")).Stored ?? "";
        (await Change("contacts", _contact, "email", "New.Address@Moved.example", was)).Status.ShouldBe(HttpStatusCode.OK);
        (await fixture.Server.Scalar<string>($"select email from contact where id = '{_contact}'")).ShouldBe("new.address@moved.example");
        (await Change("contacts", _contact, "email", "no address", "new.address@moved.example")).Status.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Change("accounts", _account, "company", "", (await Fact("accounts", _account, "company")).Stored!)).Problem.ShouldBe("record-no-name");
        (await Change("accounts", _account, "shoe_size", "4")).Problem.ShouldBe("field-unknown");
    }

    [Fact]
    public async Task ARepChangesOnlyWhatIsTheirs()
    {
        var tor = await fixture.Server.SignIn("tor.vik");
        var others = await fixture.Server.Scalar<Guid>("select d.id from deal d join person p on p.id = d.owner_id where p.user_name <> 'tor.vik' limit 1");
        (await tor.Patch($"/api/deals/{others}/facts", new RecordChange(new() { ["interest"] = "x" }, []))).Problem.ShouldBeOneOf("not-yours");
    }
}
