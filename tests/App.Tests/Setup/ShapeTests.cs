using System.Net;
using System.Text.Json.Nodes;
using DapperLantern.App.Data;
using DapperLantern.Core.Rights;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Setup;

/// <summary>Every text, list and number that comes in a request has a bound that is declared on its type, stands in the API description and is refused with its place.</summary>
public sealed class ShapeTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    // Drafts and conditions are kept as far as they are written; their own checkers say what is wrong with them, and the size of the whole is bounded.
    private static readonly string[] Drafts = ["ScoringModel", "FormSheet", "RuleSheet", "Condition", "BulkAct", "Question"];

    [Fact]
    public async Task EveryPartOfARequestHasABound()
    {
        var description = JsonNode.Parse((await (await fixture.Server.SignIn("ingrid.brekke")).Get("/api/lantern.json")).Body)!;
        var schemas = description["components"]!["schemas"]!.AsObject();
        var requests = new SortedSet<string>();
        foreach (var operation in description["paths"]!.AsObject().SelectMany(p => p.Value!.AsObject()))
        foreach (var reference in References(operation.Value!["requestBody"]))
            Reach(reference);
        var unbounded = new List<string>();
        foreach (var name in requests)
        foreach (var (property, schema) in schemas[name]!["properties"]?.AsObject() ?? [])
            if (!IsBounded(schema!))
                unbounded.Add($"{name}.{property}");
        requests.Count.ShouldBeGreaterThan(70);
        unbounded.ShouldBeEmpty(string.Join("\n", unbounded));

        void Reach(string name)
        {
            if (!Drafts.Contains(name) && requests.Add(name))
                foreach (var inner in References(schemas[name]))
                    Reach(inner);
        }
    }

    private static IEnumerable<string> References(JsonNode? node) =>
        node switch
        {
            JsonObject o => o.SelectMany(p => p.Key == "$ref" ? [p.Value!.GetValue<string>().Split('/')[^1]] : References(p.Value)),
            JsonArray a => a.SelectMany(References),
            _ => [],
        };

    private static bool IsBounded(JsonNode schema)
    {
        var types = schema["type"] is JsonArray many ? many.Select(t => t!.GetValue<string>()).ToArray() : [schema["type"]?.GetValue<string>() ?? ""];
        return (types.Contains("string") && (schema["maxLength"] ?? schema["format"] ?? schema["enum"]) is null) is false
            && (types.Contains("array") && schema["maxItems"] is null) is false
            && (types.Contains("object") && schema["additionalProperties"] is not null && schema["maxProperties"] is null) is false
            && (types.Any(t => t is "integer" or "number") && (schema["minimum"] is null || schema["maximum"] is null)) is false;
    }

    [Fact]
    public async Task WhatIsBeyondABoundIsRefusedWithItsPlace()
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        async Task Refused(string path, object body, string problem, string field, string sentence)
        {
            var answer = await ingrid.Post(path, body);
            (answer.Status, answer.Problem, JsonNode.Parse(answer.Body)!["field"]!.GetValue<string>(), answer.Sentence).ShouldBe(
                (HttpStatusCode.UnprocessableEntity, problem, field, sentence)
            );
        }

        await Refused(
            "/api/tags",
            new
            {
                name = new string('x', 101),
                group = "topic",
                colour = "teal",
            },
            "too-long",
            "name",
            "This has at most 100 letters."
        );
        await Refused(
            "/api/staff/teams",
            new
            {
                name = "Night",
                onlyInHours = false,
                places = new[] { new { person = Guid.NewGuid(), weight = 101 } },
            },
            "at-place",
            "places[0].weight",
            "At places 1, weight: A number from 1 to 100 is asked for."
        );
        await Refused("/api/accounts", new { name = "Firth", website = new string('w', 501) }, "too-long", "website", "This has at most 500 letters.");
        await Refused(
            "/api/handover/review",
            new { leads = Enumerable.Range(0, 201).Select(_ => Guid.NewGuid()), pipeline = "instruments" },
            "list-too-long",
            "leads",
            "There can be at most 200 of these."
        );
    }

    [Theory]
    [InlineData("Name", "name", "")]
    [InlineData("Stages[2].DaysInStage", "stages[2].daysInStage", "At stages 3, days in stage: ")]
    [InlineData("body[0].Steps[1].InDays", "[0].steps[1].inDays", "At entry 1, steps 2, in days: ")]
    public void APathIsWrittenAsInTheRequestAndReadByPeople(string path, string written, string place)
    {
        var problem = ShapeProblem.Read(path, ShapeProblem.Write("too-long", 20_000));
        (problem.Path, problem.Words).ShouldBe((written, $"{place}This has at most 20,000 letters."));
    }

    [Fact]
    public void TheTextsOfAListAndAMapAreBounded()
    {
        var bound = new CountAttribute(2) { Each = 3 };
        bound.IsValid(new[] { "abc", "d" }).ShouldBeTrue();
        bound.IsValid(new[] { "abcd" }).ShouldBeFalse();
        bound.IsValid(new[] { "a", "b", "c" }).ShouldBeFalse();
        bound.IsValid(new Dictionary<string, string> { ["key"] = "abcd" }).ShouldBeFalse();
        bound.IsValid(new Dictionary<string, string> { ["a long key"] = "abc" }).ShouldBeTrue();
        bound.IsValid(null).ShouldBeTrue();
    }
}
