using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Routing;

namespace DapperLantern.Core.Tests.Routing;

/// <summary>A large sheet of every kind of cell, always the same.</summary>
internal static class WideSheet
{
    private static readonly string[] Columns =
    [
        "country",
        "region",
        "postal_code",
        "industry",
        "employees",
        "interest",
        "source",
        "campaign",
        "fit",
        "next_move",
        "language",
        "sites",
    ];

    public static RuleSheet Make(int rules)
    {
        var random = new Random(7);
        var made = Enumerable.Range(0, rules).Select(i => new Rule($"r{i}", $"rule {i}", new AllOf([.. Cells(random)]), new RuleOutcome(Hold: $"reason {i}")));
        return new RuleSheet([.. Columns], [.. made], 480, "Call");
    }

    private static IEnumerable<Condition> Cells(Random random)
    {
        var countries = Countries.All.Select(c => c.Code).Take(40).ToArray();
        var asked = Columns.OrderBy(_ => random.Next()).Take(1 + random.Next(4)).ToHashSet();
        // A region goes with its country.
        if (asked.Remove("region"))
            asked.Remove("country");
        foreach (var column in asked)
            yield return column switch
            {
                "country" => Condition.Where(column, TestOperator.In, [.. Enumerable.Range(0, 1 + random.Next(6)).Select(_ => countries[random.Next(countries.Length)])]),
                "postal_code" => Condition.Where(column, TestOperator.StartsWith, $"{random.Next(100):00}"),
                "industry" => Condition.Where(column, TestOperator.In, random.Next(2) == 0 ? "fish" : "port"),
                "employees" or "sites" => Condition.Where(column, TestOperator.AtLeast, $"{random.Next(500)}"),
                "interest" => Condition.Where(column, TestOperator.Contains, $"word{random.Next(60)}"),
                "fit" => Condition.Where(column, TestOperator.AtLeast, $"{random.Next(100)}"),
                "next_move" => Condition.Where(column, TestOperator.In, random.Next(2) == 0 ? "hand_over" : "check"),
                "language" => Condition.Where(column, TestOperator.In, random.Next(2) == 0 ? "de" : "no"),
                _ => Condition.Where(column, TestOperator.In, $"{column}{random.Next(9)}"),
            };
        if (asked.Count == 0)
            yield return Condition.Where("region", TestOperator.In, random.Next(2) == 0 ? "US-WA" : "US-OR");
    }
}
