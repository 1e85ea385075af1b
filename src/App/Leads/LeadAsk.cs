using System.Collections.Immutable;
using System.Security.Claims;
using System.Text.Json;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using NodaTime;

namespace DapperLantern.App.Leads;

/// <summary>Reads what is asked of the worklist: conditions, order, columns, grouping. Nothing unchecked goes on.</summary>
public static class LeadAsk
{
    /// <summary>Stands for whoever asks, as the owner of a lead.</summary>
    public const string Me = "me";

    private const int MostColumns = 20;

    /// <summary>Reads and checks a condition; always, for none.</summary>
    public static (Condition?, Problem?) Condition(string? json, FieldCatalogue catalogue, ClaimsPrincipal user)
    {
        if (string.IsNullOrEmpty(json))
            return (Core.Conditions.Condition.Always, null);
        try
        {
            return Condition(Json.Read<Condition>(json), catalogue, user);
        }
        catch (JsonException e)
        {
            return (null, new Problem("condition-unreadable", "where", e.Message));
        }
    }

    /// <summary>Checks a condition, and puts the person in who asks.</summary>
    public static (Condition, Problem?) Condition(Condition condition, FieldCatalogue catalogue, ClaimsPrincipal user) =>
        (For(condition, $"{user.Id()}"), ConditionCheck.Check(condition, catalogue, ConditionReach.Database).FirstOrDefault());

    /// <summary>Reads and checks everything a page of the worklist needs.</summary>
    public static (WorklistQuery?, Problem?) Query(string? where, string? order, string? columns, string? group, FieldCatalogue catalogue, ClaimsPrincipal user, string zone)
    {
        var (condition, wrong) = Condition(where, catalogue, user);
        var (keys, disorder) = ListOrder.Read(order, catalogue);
        var (shown, missing) = Columns(columns, catalogue);
        var (grouping, ungroupable) = string.IsNullOrEmpty(group) ? (null, null) : Grouping.Read(group, catalogue);
        if ((wrong ?? disorder ?? missing ?? ungroupable) is { } problem)
            return (null, problem);
        return (new WorklistQuery(condition!, Grouped(keys, grouping), shown, grouping, ZoneOf(zone).Id), null);
    }

    public static (ImmutableArray<FieldDefinition>, Problem?) Columns(string? keys, FieldCatalogue catalogue)
    {
        var fields = (keys ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries).Distinct().Take(MostColumns).Select(k => (Key: k, Field: catalogue.Asked(k))).ToList();
        return fields.FirstOrDefault(f => f.Field is null or { Origin: FieldOrigin.Arrival }).Key is { } wrong
            ? ([], new Problem("field-unknown", "columns", wrong))
            : ([.. fields.Select(f => f.Field!)], null);
    }

    /// <summary>Reads a measure: <c>count</c>, <c>sum:revenue</c>, <c>mean:fit</c>; count for none.</summary>
    public static (Measure?, Problem?) MeasureOf(string? text, FieldCatalogue catalogue)
    {
        if (string.IsNullOrEmpty(text) || text == "count")
            return (new Measure(MeasureKind.Count, null), null);
        var parts = text.Split(':');
        return parts.Length == 2 && parts[0] is "sum" or "mean" && catalogue.Asked(parts[1]) is { IsNumeric: true, Many: false } field
            ? (new Measure(parts[0] == "sum" ? MeasureKind.Sum : MeasureKind.Mean, field), null)
            : (null, new Problem("measure-unknown", "measure", text));
    }

    /// <summary>A time zone by its name; UTC when there is no such zone.</summary>
    public static DateTimeZone ZoneOf(string name) => DateTimeZoneProviders.Tzdb.GetZoneOrNull(name) ?? DateTimeZoneProviders.Tzdb["UTC"];

    // Rows of a group stand together, so what they are grouped by comes first: dates the latest first, unless the order says otherwise.
    private static ImmutableArray<SortKey> Grouped(ImmutableArray<SortKey> order, Grouping? group) =>
        group is null ? order
        : order.FirstOrDefault(k => k.Field == group.Field.Key) is { } said ? [said, .. order.Remove(said)]
        : [new SortKey(group.Field.Key, group.Grain != Grain.Value), .. order];

    private static Condition For(Condition condition, string person) =>
        condition switch
        {
            AllOf all => new AllOf([.. all.Parts.Select(p => For(p, person))]),
            AnyOf any => new AnyOf([.. any.Parts.Select(p => For(p, person))]),
            Not not => new Not(For(not.Part, person)),
            Test { Field: "owner" } test => test with { Values = [.. test.Values.Select(v => v == Me ? person : v)] },
            _ => condition,
        };
}
