using System.Collections.Immutable;
using CsCheck;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;
using NodaTime;

namespace DapperLantern.Core.Tests.Scoring;

/// <summary>A model that uses everything a model can, and leads for it.</summary>
internal static class ScoringSample
{
    public static ScoringModel Model { get; } =
        new(
            new Bars(60, 50, 5),
            [
                new(
                    "industry",
                    "Industry",
                    "industry",
                    [new(Condition.Where("industry", TestOperator.In, "fish_farming"), 30, "Fish farming"), new(Condition.Where("industry", TestOperator.In, "port"), -45, "Port")],
                    "company"
                ),
                new(
                    "sites",
                    "Sites",
                    "sites",
                    [
                        new(Condition.Where("sites", TestOperator.Between, "5", "20"), 50, "5 to 20 sites"),
                        new(Condition.Where("sites", TestOperator.AtLeast, "2"), 11, "Several sites"),
                    ],
                    "company"
                ),
                new("place", "Place", "country", [new(Condition.Where("country", TestOperator.In, "NO"), 40, "Home waters")]),
                new(
                    "role",
                    "Role",
                    "job_title",
                    [
                        new(
                            new AllOf([Condition.Where("job_title", TestOperator.Contains, "head"), new Not(Condition.Where("industry", TestOperator.In, "port"))]),
                            20,
                            "Heads, and no port"
                        ),
                        new(Condition.Where("job_title", TestOperator.Contains, "head", "buyer"), 9, "Heads or buys"),
                        new(new Not(Condition.Where("job_title", TestOperator.Known)), -3, "Does not say who it is"),
                    ]
                ),
            ],
            [
                new("page.viewed", "Prices looked at", 8, 7, 16, 10, Pattern: "/prices*"),
                new("page.viewed", "Page viewed", 3, 7, 12, 10),
                new("form.guide", "Price guide taken", 40, 21, 60, 30),
                new("call.reached", "Call reached", 30, 30, 60, 30),
                new("stand.visit", "Visited the stand", 25, 30, 25, 30, Once: true),
                new("consent.withdrawn", "Withdrew", -35, 60, 70, 30),
            ],
            [new FitGroup("company", "Company", 55, -40)],
            [new Veto("competitor", Condition.Where("company", TestOperator.Contains, "tidewise"), "Sells what we sell")],
            MoveNames.Usual,
            new Silence(90, -10),
            50
        );

    public static FitScore Fit { get; } = new(Model, Sample.Catalogue);

    public static EngagementScore Engagement { get; } = new(Model);

    public static Gen<RecordValues> AnyRecord { get; } =
        Gen.Select(
                Gen.OneOfConst("fish_farming", "port", "other", null!),
                Gen.OneOfConst<object?>(1, 3, 7, 40, null!),
                Gen.OneOfConst("NO", "SE", null!),
                Gen.OneOfConst("Head of operations", "Buyer", "Diver", null!),
                Gen.OneOfConst("Fjordnær Laks", "Tidewise Sensors", null!)
            )
            .Select((i, s, c, j, n) => Sample.Record(("industry", i), ("sites", s), ("country", c), ("job_title", j), ("company", n)));

    public static Gen<LeadEvent> AnyEvent { get; } =
        Gen.Select(
                Gen.OneOfConst("form.guide", "call.reached", "page.viewed", "stand.visit", "consent.withdrawn", "unheard.of"),
                Gen.Double[-5, 400],
                Gen.OneOfConst("", "/prices/eur", "/about"),
                Gen.OneOfConst(LeadEvent.In, LeadEvent.In, LeadEvent.Out)
            )
            .Select((kind, days, detail, direction) => new LeadEvent(kind, Sample.Now - Duration.FromDays(days), detail, direction));

    public static Gen<LeadEvent[]> AnyEvents { get; } = AnyEvent.Array[0, 14];

    public static ImmutableArray<LeadEvent> Guide(params double[] daysAgo) => [.. daysAgo.Select(d => new LeadEvent("form.guide", Sample.Now - Duration.FromDays(d)))];
}
