using System.Globalization;
using System.Text.Json.Nodes;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Scoring;
using NodaTime;

namespace DapperLantern.Core.Tests.Scoring;

/// <summary>What docs/scoring.md works out by hand, and the schema of the file, are what the code does.</summary>
public sealed class WorkedExampleTests
{
    private static readonly ScoringModel Model = new(
        new Bars(60, 50, 5),
        [
            new("industry", "Industry", "industry", [new(Condition.Where("industry", TestOperator.In, "fish_farming"), 30, "Fish farming")]),
            new("sites", "Sites", "sites", [new(Condition.Where("sites", TestOperator.Between, "5", "20"), 20, "5 to 20 sites")]),
            new("place", "Place", "country", [new(Condition.Where("country", TestOperator.In, "NO"), 12, "Home waters")]),
        ],
        [new("form.guide", "Price guide taken", 40, 21, 60, 30), new("call.reached", "Call reached", 30, 30, 60, 30)],
        [],
        [],
        MoveNames.Usual,
        new Silence(90, -10),
        50
    );

    private static readonly LeadEvent[] Events =
    [
        new("form.guide", Sample.Now - Duration.FromDays(42)),
        new("form.guide", Sample.Now - Duration.FromDays(21)),
        new("call.reached", Sample.Now),
    ];

    private static string Page => File.ReadAllText(Path.Combine(Sample.Root, "docs", "scoring.md"));

    [Fact]
    public void TheFitOfTheExampleIsAsWorkedOut()
    {
        var fit = new FitScore(Model, Sample.Catalogue).Explain(Sample.Record(("industry", "fish_farming"), ("country", "NO")), Sample.Now);
        Page.ShouldContain($"| **Fit** | **{fit.Score}**, could be {fit.Low} to {fit.High} |");
        fit.Contributions.Select(c => $"| {c.Label} | {c.Points} |").ShouldAllBe(line => Page.Contains(line));
    }

    [Fact]
    public void TheEngagementOfTheExampleIsAsWorkedOut()
    {
        var score = new EngagementScore(Model);
        var told = score.Explain(Events, Sample.Now);
        var sum = told.Decay.Sum(EngagementDecay.DayOf(Sample.Now));
        Page.ShouldContain($"| Sum | {Text(sum)} |");
        Page.ShouldContain($"= {Text(Saturation.Of(sum, 50))} | {Text(Saturation.Of(sum, 50) - sum)} |");
        Page.ShouldContain($"| **Engagement** | **{told.Score}** |");
        score.Given(Events, Sample.Now).OrderBy(g => g.Event).Select(g => g.Points).ShouldBe([20, 40, 30]);
        var falls = told.Decay.FallsUnder(45, Sample.Now)!.Value;
        Page.ShouldContain($"{Text(Math.Round((falls - Sample.Now).TotalDays, 1))} days later");
        default(Cleared).Next(42, told.Score, Model.Bars).Move.ShouldBe(NextMove.Check);
    }

    // Whatever the writer writes, the schema names; and the shipped model is of that form.
    [Fact]
    public void TheSchemaNamesEveryPartOfTheFile()
    {
        var schema = JsonNode.Parse(File.ReadAllText(Path.Combine(Sample.Root, "docs", "scoring-model.schema.json")))!;
        var file = JsonNode.Parse(ModelFile.Write(ScoringSample.Model))!.AsObject();
        Named(file, schema["properties"]!);
        foreach (var (list, of) in new[] { ("fit", "fit"), ("engagement", "engagement"), ("groups", "groups"), ("vetoes", "vetoes") })
        foreach (var item in file[list]!.AsArray())
            Named(item!.AsObject(), schema["properties"]![of]!["items"]!["properties"]!);
        Named(file["bars"]!.AsObject(), schema["properties"]!["bars"]!["properties"]!);
        Named(file["names"]!.AsObject(), schema["properties"]!["names"]!["properties"]!);
        var operators = schema["$defs"]!["condition"]!["oneOf"]![3]!["properties"]!["is"]!["enum"]!.AsArray().Select(n => n!.GetValue<string>());
        operators.ShouldBe(Enum.GetValues<TestOperator>().Select(ConditionJson.NameOf), ignoreOrder: true);
    }

    [Fact]
    public void TheShippedModelIsOfThatForm()
    {
        var reading = ModelFile.Read(File.ReadAllText(Path.Combine(Sample.Root, "demo", "setup", "scoring-model.json")));
        reading.Problems.ShouldBeEmpty();
        reading.Model!.Fit.Length.ShouldBeGreaterThan(4);
    }

    private static void Named(JsonObject part, JsonNode properties) => part.Select(p => p.Key).ShouldAllBe(name => properties[name] != null);

    private static string Text(double number) => Math.Round(number, 3).ToString(CultureInfo.InvariantCulture);
}
