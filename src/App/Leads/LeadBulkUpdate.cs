using DapperLantern.App.Data;
using DapperLantern.App.Matching;
using DapperLantern.App.Scoring;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Matching;
using NpgsqlTypes;

namespace DapperLantern.App.Leads;

/// <summary>Writes facts, provenance and scores of many leads with one statement. The rows must have been locked when they were read.</summary>
public static class LeadBulkUpdate
{
    private static readonly (string Column, NpgsqlDbType Type, Func<KnownLead, object?> Of)[] Columns = [.. Facts(), .. Kept()];

    private static readonly string Names = string.Join(", ", Columns.Select(c => c.Column));

    private static readonly string Sets = string.Join(
        ", ",
        Columns.Select(c => $"{c.Column} = x.{c.Column}{(c.Column is "custom" or "provenance" ? "::jsonb" : c.Column == "decay" ? "::float8[]" : "")}")
    );

    public static async Task Write(LanternDb db, IReadOnlyList<KnownLead> leads)
    {
        if (leads.Count == 0)
            return;
        var (ids, changed) = (leads.Select(l => l.Id).ToArray(), leads.Select(l => l.Changed ? 1 : 0).ToArray());
        var values = SqlText.List(Columns.Select(c => SqlText.Value(Values(c.Type, leads, c.Of), NpgsqlDbType.Array | c.Type)));
        await db.Run(
            $"""
            update lead l set version = l.version + x.changed, {Sets:sql}
            from unnest({ids}, {changed}, {values:sql}) as x(id, changed, {Names:sql}) where l.id = x.id
            """
        );
        await MatchKeys.Write(db, [.. leads.Where(l => l.Changed).Select(l => (l.Id, Identity.Of(l.Facts)))]);
    }

    private static IEnumerable<(string, NpgsqlDbType, Func<KnownLead, object?>)> Facts()
    {
        foreach (var field in BuiltInFields.Facts)
            yield return (field.Key, LeadStore.ColumnType(field), l => LeadStore.ColumnValue(l.Facts[field.Key]));
        yield return ("company_key", NpgsqlDbType.Text, l => l.Facts.Text("company") is { } company ? Folding.Company(company) : null);
        yield return ("custom", NpgsqlDbType.Text, l => Json.Facts(l.Facts.Known().Where(k => k.Field.Origin == FieldOrigin.Custom)));
    }

    private static IEnumerable<(string, NpgsqlDbType, Func<KnownLead, object?>)> Kept() =>
        [
            ("provenance", NpgsqlDbType.Text, l => Json.Write(l.Provenance)),
            // Arrays of different lengths do not go through unnest.
            .. ScoreColumns.All.Select(c =>
                c.Name == "decay"
                    ? (c.Name, NpgsqlDbType.Text, (Func<KnownLead, object?>)(l => EngagementDecaySql.Text(l.Scores!.Standing.Decay)))
                    : (c.Name, c.Type, l => c.Of(l.Scores!))
            ),
        ];

    private static object Values(NpgsqlDbType type, IReadOnlyList<KnownLead> leads, Func<KnownLead, object?> of) =>
        type switch
        {
            NpgsqlDbType.Numeric => leads.Select(l => (decimal?)of(l)).ToArray(),
            NpgsqlDbType.TimestampTz => leads.Select(l => (DateTime?)of(l)).ToArray(),
            NpgsqlDbType.Integer => leads.Select(l => (int?)of(l)).ToArray(),
            NpgsqlDbType.Uuid => leads.Select(l => (Guid)of(l)!).ToArray(),
            _ => leads.Select(l => (string?)of(l)).ToArray(),
        };
}
