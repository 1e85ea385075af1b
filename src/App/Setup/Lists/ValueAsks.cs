using DapperLantern.App.Data;

namespace DapperLantern.App.Setup;

/// <summary>Finds what is set up to ask for a value: rules, models, views, forms, stages.</summary>
internal static class ValueAsks
{
    /// <summary>In words, such as the live rule sheet, the view Harbours; empty where nothing asks.</summary>
    public static async Task<IReadOnlyList<string>> Of(LanternDb db, KeptList list, string key)
    {
        var asks = new List<string>();
        if (list.Key == PickList.Roles)
        {
            var need = $"role:{key}";
            asks.AddRange(await db.Rows<string>($"""select 'the stage ' || name as "Value" from stage where {need} = any(needs) order by name"""));
        }
        if (list.Field is not null)
            asks.AddRange(await Of(db, list.Field, key));
        return asks;
    }

    /// <param name="asked">Key of the field whose value it is.</param>
    public static async Task<IReadOnlyList<string>> Of(LanternDb db, string asked, string key)
    {
        // Whatever names the field, and the key within the same part: a condition, points by value, a quick choice of a view.
        var (field, quoted) = (Json.Write(new Dictionary<string, string> { ["f"] = asked }), $"%{Json.Write(key)}%");
        const string Path = "$.** ? (@.field == $f)";
        return await db.Rows<string>(
            $"""
            select x.name as "Value" from (
                select case kind when 'rules' then 'the rule sheet' when 'scoring' then 'the scoring model' else 'the matching model' end || case state when 'draft' then ' in draft' else '' end as name, body
                    from edition where state in ('live', 'draft')
                union all select 'the view ' || name, body from lead_view
                union all select 'the form ' || key, draft from form
                union all select 'the step plans', body from setup_entry where key = 'step-plans'
            ) x where exists (select 1 from jsonb_path_query(x.body, {Path}::jsonpath, {field}::jsonb) part where part::text like {quoted}) order by 1
            """
        );
    }
}
