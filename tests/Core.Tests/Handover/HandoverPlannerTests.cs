using CsCheck;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using NodaTime;

namespace DapperLantern.Core.Tests.Handover;

public sealed class HandoverPlannerTests
{
    private static readonly YearMonth March = new(2027, 3);
    private static readonly HandoverTargets Nothing = new(null, null);

    private static readonly Gen<RecordValues> AnyLead = Gen
        .Bool.Array[Sample.Catalogue.Fields.Length]
        .Select(known =>
        {
            var record = new RecordValues(Sample.Catalogue);
            foreach (var field in Sample.Catalogue.Fields.Where(f => known[f.Ordinal]))
                record[field.Key] = field.Type switch
                {
                    FieldType.Number => FieldValue.Of(7),
                    FieldType.Date => FieldValue.Of(Sample.Now),
                    _ => FieldValue.Of("x"),
                };
            return record;
        });

    [Fact]
    public void WhatTheProgramKnowsByItselfStaysWithTheLeadAndWhereItCameFromGoesAlong()
    {
        var lead = Sample.Record(("last_name", "Vik"), ("source", "form-guide"), ("state", "qualified"));
        foreach (var field in lead.Catalogue.Fields.Where(f => f.Origin == FieldOrigin.System && f.Type == FieldType.Date))
            lead[field.Key] = FieldValue.Of(NodaTime.Instant.FromUtc(2026, 11, 1, 0, 0));
        lead["silent_days"] = FieldValue.Of(12m);
        var lines = HandoverPlanner.Plan(lead, new HandoverTargets(null, null), new NodaTime.YearMonth(2027, 2)).Lines;
        lines.Select(l => l.Field).ShouldBe(["last_name", "source"], ignoreOrder: true);
    }

    [Fact]
    public void EveryKnownFactLandsOnceCustomOnesToo() =>
        AnyLead.Sample(lead =>
        {
            var landed = HandoverPlanner.Plan(lead, Nothing, March).Lines.Select(l => l.Field).ToList();
            var known = lead.Known().Where(k => k.Field.Origin != FieldOrigin.System).Select(k => k.Field.Key).ToList();
            return landed.Distinct().Count() == landed.Count && known.All(landed.Contains);
        });

    [Fact]
    public void APrivatePersonGetsNoAccount()
    {
        var sheet = HandoverPlanner.Plan(Sample.Record(("last_name", "Ståhl"), ("country", "SE")), Nothing, March);
        sheet.MakesAccount.ShouldBeFalse();
        sheet.Lines.ShouldNotContain(l => l.On == Landing.Account);
    }

    [Fact]
    public void WhatDiffersFromWhatIsThereIsMarked()
    {
        var account = new Dictionary<string, string> { ["company"] = "Fjordnaer Laks", ["industry"] = "port" };
        var sheet = HandoverPlanner.Plan(Sample.Record(("company", "Fjordnær Laks AS"), ("industry", "fish_farming")), new HandoverTargets(null, account), March);
        sheet.Lines.Single(l => l.Field == "company").Differs.ShouldBeFalse();
        var industry = sheet.Lines.Single(l => l.Field == "industry");
        industry.Differs.ShouldBeTrue();
        industry.Existing.ShouldBe("Port or harbour");
    }

    [Theory]
    [InlineData("Fjordnær Laks", "oxygen probes", "Fjordnær Laks, oxygen probes, March 2027")]
    [InlineData("Fjordnær Laks", null, "Fjordnær Laks, March 2027")]
    [InlineData(null, null, "Ragna Sollid, March 2027")]
    public void ADealIsNamedWhoWhatWhen(string? company, string? wants, string expected) =>
        HandoverPlanner.DealName(Sample.Record(("first_name", "Ragna"), ("last_name", "Sollid"), ("company", company), ("wants", wants)), March).ShouldBe(expected);

    [Fact]
    public void AnyWishHoweverLongMakesAName() =>
        Gen.String.Where(s => s.Length > 0).Sample(s => HandoverPlanner.DealName(Sample.Record(("company", "C"), ("wants", s)), March).Length < 80);
}
