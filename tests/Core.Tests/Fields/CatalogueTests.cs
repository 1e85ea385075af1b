using System.Collections.Immutable;
using CsCheck;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Routing;
using DapperLantern.Core.Scoring;
using NodaTime;
using Shouldly;
using Xunit;

namespace DapperLantern.Core.Tests.Fields;

/// <summary>A record belongs to one catalogue; what was compiled for another refuses it.</summary>
public sealed class CatalogueTests
{
    private static readonly Instant Now = Instant.FromUtc(2026, 11, 30, 9, 0);
    private static readonly FieldCatalogue Plain = FieldCatalogue.Build();
    private static readonly FieldCatalogue More = FieldCatalogue.Build(custom: [new CustomField("depth", "Depth", FieldType.Number)]);
    private static readonly Condition FromFair = Condition.Where("source", TestOperator.In, "list-expo");

    private static RecordValues FairLead(FieldCatalogue catalogue)
    {
        var record = new RecordValues(catalogue) { ["source"] = FieldValue.Of("list-expo") };
        return record;
    }

    [Fact]
    public void AFieldOfOnesOwnMovesNoFieldThatEveryWorkspaceHas() => Plain.Fields.ShouldAllBe(f => f.Origin == FieldOrigin.Finding || More[f.Key].Ordinal == f.Ordinal);

    [Fact]
    public void AQuestionOfOnesOwnMovesNoFieldThatEveryWorkspaceHas()
    {
        var asking = FieldCatalogue.Build(new Dictionary<string, ImmutableArray<Choice>> { [FieldCatalogue.OwnQuestions] = [new Choice("moorings", "Moorings")] });
        Plain.Fields.ShouldAllBe(f => asking[f.Key].Ordinal == f.Ordinal);
    }

    [Fact]
    public void ARouterRefusesALeadOfAnotherCatalogue()
    {
        var router = new Router(new RuleSheet(["source"], [new Rule("fair", "From the fair", FromFair, new RuleOutcome(Team: "north"))], 60, "Call"), Plain);
        router.FirstRule(FairLead(Plain), RoutingMoment.Arrival, Now).ShouldBe(0);
        Should.Throw<InvalidOperationException>(() => router.FirstRule(FairLead(More), RoutingMoment.Arrival, Now));
        router.FirstRule(FairLead(More).On(Plain), RoutingMoment.Arrival, Now).ShouldBe(0);
    }

    [Fact]
    public void AFitScoreRefusesALeadOfAnotherCatalogue()
    {
        var fit = new FitScore(new ScoringModel(new Bars(50, 50), [], [], [], [], MoveNames.Usual), Plain);
        fit.Measure(FairLead(Plain), Now).Score.ShouldBe(0);
        Should.Throw<InvalidOperationException>(() => fit.Measure(FairLead(More), Now));
    }

    [Fact]
    public void AConditionRefusesARecordOfAnotherCatalogue()
    {
        ConditionPredicate.Compile(FromFair, Plain)(FairLead(Plain), Now).ShouldBeTrue();
        Should.Throw<InvalidOperationException>(() => ConditionPredicate.Compile(FromFair, Plain)(FairLead(More), Now));
        Should.Throw<InvalidOperationException>(() => ConditionTruth.Compile(FromFair, Plain, asItStands: true)(FairLead(More), Now));
    }

    [Fact]
    public void RecordsOfTwoCataloguesAreNotMerged() =>
        Should.Throw<InvalidOperationException>(() => FactMerger.Changes(FairLead(Plain), FairLead(More), _ => MergePolicy.TakeTheirs, Now, _ => Now).ToList());

    [Fact]
    public void ARecordGoesToAnotherCatalogueFieldByField()
    {
        var record = FairLead(More);
        record["depth"] = FieldValue.Of(42m);
        var there = record.On(Plain);
        there.Catalogue.ShouldBeSameAs(Plain);
        there.Known().Select(k => (k.Field.Key, k.Value)).ShouldBe([("source", FieldValue.Of("list-expo"))]);
        there.On(More).Known().Select(k => k.Field.Key).ShouldBe(["source"]);
        record.On(More).ShouldBeSameAs(record);
    }
}
