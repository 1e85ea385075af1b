using CsCheck;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;

namespace DapperLantern.Core.Tests.Handover;

public sealed class HandoverPlannerTests
{
    private static readonly HandoverTargets Nothing = new(null, null);

    private static readonly Gen<RecordValues> AnyLead = Gen.Int[0, 3]
        .Array[Sample.Catalogue.Fields.Length]
        .Select(held =>
        {
            var record = new RecordValues(Sample.Catalogue);
            foreach (var field in Sample.Catalogue.Fields.Where(f => held[f.Ordinal] > 0))
                record[field.Key] = field.Type switch
                {
                    FieldType.Number or FieldType.Money => FieldValue.Of(held[field.Ordinal]),
                    FieldType.Date => FieldValue.Of(Sample.Now),
                    _ => FieldValue.Of($"value {held[field.Ordinal]}"),
                };
            return record;
        });

    private static readonly Gen<AccountKind?> AnyKind = Gen.OneOfConst<AccountKind?>(null, AccountKind.None, AccountKind.Organisation, AccountKind.Household);

    private static Dictionary<string, string> Stored(RecordValues record) => record.Known().ToDictionary(k => k.Field.Key, k => k.Value.ToString());

    // What the writing does, as plainly as can be.
    private static Dictionary<TargetRecord, IReadOnlyDictionary<string, string>> Write(Core.Handover.HandoverSheet sheet, HandoverTargets there, string[] take, string[] drop)
    {
        var records = new Dictionary<TargetRecord, Dictionary<string, string>>
        {
            [TargetRecord.Account] = new(there.Account ?? new Dictionary<string, string>()),
            [TargetRecord.Contact] = new(there.Contact ?? new Dictionary<string, string>()),
            [TargetRecord.Deal] = [],
        };
        foreach (var line in sheet.Lines.Where(l => !drop.Contains(l.Field)))
            if (!records[line.On].ContainsKey(line.Field) || take.Contains(line.Field))
                records[line.On][line.Field] = line.Stored;
        return records.ToDictionary(r => r.Key, r => (IReadOnlyDictionary<string, string>)r.Value);
    }

    [Fact]
    public void WhateverTheLeadEveryKnownFactIsFoundAgainOrAmongThoseLeftByAChoice() =>
        Gen.Select(AnyLead, AnyLead, AnyLead, AnyKind, Gen.Bool.Array[Sample.Catalogue.Fields.Length], Gen.Bool)
            .Sample(
                (lead, contact, account, kind, choice, along) =>
                {
                    var there = new HandoverTargets(choice[0] ? Stored(contact) : null, choice[1] ? Stored(account) : null);
                    var sheet = HandoverPlanner.Plan(lead, there, kind, along);
                    var keys = Sample.Catalogue.Fields.Select(f => f.Key).ToList();
                    var (take, drop) = (keys.Where((_, i) => choice[i]).ToArray(), keys.Where((_, i) => !choice[i] && i % 3 == 0).ToArray());
                    var carried = HandoverPlanner.Count(lead, sheet, Write(sheet, there, take, drop), take, drop);
                    return carried.IsWhole && carried.Left.All(l => l.How == Settled.KeepExisting || drop.Contains(l.Field)) && carried.Known == sheet.Lines.Length;
                }
            );

    [Fact]
    public void AFactThatWasNotWrittenIsNotCounted()
    {
        var lead = Sample.Record(("last_name", "Vik"), ("company", "Fjordnær"), ("city", "Oban"));
        var sheet = HandoverPlanner.Plan(lead, Nothing);
        var written = Write(sheet, Nothing, [], ["city"]);
        HandoverPlanner.Count(lead, sheet, written, [], []).IsWhole.ShouldBeFalse();
        var dropped = HandoverPlanner.Count(lead, sheet, written, [], ["city"]);
        (dropped.Known, dropped.Found, dropped.Left.Single().How).ShouldBe((3, 2, Settled.Dropped));
    }

    [Fact]
    public void ComputedFactsStayWithTheLeadAndItsOriginGoesAlong()
    {
        var lead = Sample.Record(("last_name", "Vik"), ("source", "form-guide"), ("state", "qualified"), ("finding_need", "confirmed"));
        foreach (var field in lead.Catalogue.Fields.Where(f => f.Origin == FieldOrigin.System && f.Type == FieldType.Date))
            lead[field.Key] = FieldValue.Of(NodaTime.Instant.FromUtc(2026, 11, 1, 0, 0));
        lead["silent_days"] = FieldValue.Of(12m);
        HandoverPlanner.Plan(lead, Nothing).Lines.Select(l => l.Field).ShouldBe(["last_name", "source"], ignoreOrder: true);
    }

    [Fact]
    public void APrivatePersonGetsNoAccount()
    {
        var sheet = HandoverPlanner.Plan(Sample.Record(("last_name", "Ståhl"), ("country", "SE")), Nothing);
        (sheet.Makes, sheet.AccountName).ShouldBe((AccountKind.None, null));
        sheet.Lines.ShouldNotContain(l => l.On == TargetRecord.Account);
    }

    [Fact]
    public void AHouseholdIsAnAccountByTheFamilysName()
    {
        var sheet = HandoverPlanner.Plan(Sample.Record(("last_name", "Ståhl"), ("country", "SE")), Nothing, AccountKind.Household);
        sheet.AccountName.ShouldBe("Household Ståhl");
        sheet.Lines.Single(l => l.Field == "country").On.ShouldBe(TargetRecord.Account);
    }

    [Fact]
    public void WhoComesAlongKeepsTheirOwnWish()
    {
        var sheet = HandoverPlanner.Plan(Sample.Record(("last_name", "Fjeld"), ("company", "Fjordnær"), ("interest", "oxygen probes")), Nothing, along: true);
        sheet.Lines.Single(l => l.Field == "interest").On.ShouldBe(TargetRecord.Contact);
        sheet.Lines.ShouldNotContain(l => l.On == TargetRecord.Deal);
    }

    [Fact]
    public void WhatDiffersFromWhatIsThereIsMarked()
    {
        var account = new Dictionary<string, string> { ["company"] = "Fjordnaer Laks", ["industry"] = "port" };
        var sheet = HandoverPlanner.Plan(Sample.Record(("company", "Fjordnær Laks AS"), ("industry", "fish_farming")), new HandoverTargets(null, account));
        sheet.Lines.Single(l => l.Field == "company").Differs.ShouldBeFalse();
        var industry = sheet.Lines.Single(l => l.Field == "industry");
        industry.Differs.ShouldBeTrue();
        industry.Existing.ShouldBe("Port or harbour");
    }
}
