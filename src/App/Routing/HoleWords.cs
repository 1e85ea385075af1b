using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;

namespace DapperLantern.App.Routing;

/// <summary>What lies outside of all rules, as people say it: "country none of Norway or Sweden; industry not Private person".</summary>
internal static class HoleWords
{
    public static string Of(Condition where, FieldCatalogue catalogue)
    {
        var parts = where is AllOf all ? all.Parts : [where];
        var lists = new Dictionary<string, List<string>>();
        var others = new List<string>();
        foreach (var part in parts)
            if (part is Not { Part: Test { Operator: TestOperator.In } test })
                (lists.TryGetValue(test.Field, out var values) ? values : lists[test.Field] = []).AddRange(test.Values);
            else
                others.Add(ConditionWords.Sentence(part, catalogue));
        var said = lists.Select(l =>
            $"{Label(l.Key, catalogue)} {(l.Value.Distinct().Count() > 1 ? "none of" : "not")} {Listed([.. l.Value.Distinct()], catalogue.Asked(l.Key))}, or not known"
        );
        return string.Join("; ", said.Concat(others.Distinct())) is { Length: > 0 } words ? words : "any lead";
    }

    private static string Label(string key, FieldCatalogue catalogue) => catalogue.Asked(key) is { } field ? ConditionWords.LabelOf(field) : key;

    private static string Listed(List<string> values, FieldDefinition? field)
    {
        return SheetWords.Listed([.. values.Select(v => field?.Show(v) ?? v)]);
    }
}
