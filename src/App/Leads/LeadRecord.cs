using System.Data.Common;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Scoring;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Qualifying;
using DapperLantern.Core.Scoring;

namespace DapperLantern.App.Leads;

/// <summary>Between rows of the table <c>lead</c> and the records Core computes with.</summary>
public static class LeadRecord
{
    private static readonly string[] SystemColumns =
    [
        "state",
        "source",
        "campaign",
        "fit",
        "engagement",
        "next_move",
        "created_at",
        "last_touch_at",
        "clock_due_at",
        "next_step_at",
        "last_sign_at",
        "silent_days",
        "wake_at",
        "state_reason",
        "sub_state",
    ];

    /// <summary>The select list that <see cref="Read"/> needs, over the alias <c>l</c>.</summary>
    public static string Columns { get; } =
        string.Join(", ", BuiltInFields.Facts.Select(f => f.Key).Concat(SystemColumns).Select(c => $"l.{c}"))
        + ", l.owner_id::text as owner, l.custom::text as custom, l.qualification::text as qualification, l.decay, l.move_until";

    /// <summary>Reads the current row into a record, its engagement and next move as they are at a moment; as they were kept without one.</summary>
    public static RecordValues Read(DbDataReader row, FieldCatalogue catalogue, DateTime? now)
    {
        var record = Json.ToRecord((string)row["custom"], catalogue);
        foreach (var field in catalogue.Fields)
            if (field.Origin is FieldOrigin.Fact or FieldOrigin.System)
                record[field.Ordinal] = Value(row[field.Key]);
        if (row["qualification"] is string { Length: > 2 } found)
            PutFindings(record, Json.Read<Findings>(found));
        if (now is not { } moment)
            return record;
        record["engagement"] = FieldValue.Of(row["decay"] is double[] decay ? EngagementDecaySql.Read(decay).Score(moment.ToInstant()) : 0);
        if (row["move_until"] is DateTime until && until <= moment)
            record["next_move"] = FieldValue.Of(Cleared.Of(record.Text("next_move")).Fallen.Move);
        return record;
    }

    /// <summary>The answers as values of their fields.</summary>
    public static void PutFindings(RecordValues record, Findings findings)
    {
        foreach (var field in record.Catalogue.Findings)
            record[field.Ordinal] = Questions.Value(findings.Of(field.Key[FindingFields.Prefix.Length..]));
    }

    /// <summary>An answer in SQL over the alias l; null where it is unknown.</summary>
    public static string Finding(FieldDefinition field) => $"nullif(l.qualification->'{field.Key[FindingFields.Prefix.Length..]}'->>'certainty', 'unknown')";

    private static FieldValue Value(object stored) =>
        stored switch
        {
            string text => FieldValue.Of(text),
            decimal number => FieldValue.Of(number),
            int number => FieldValue.Of(number),
            DateTime moment => FieldValue.Of(moment.ToInstant()),
            _ => FieldValue.Unknown,
        };

    /// <summary>The same in SQL over the table itself; empty where nothing is known.</summary>
    public const string NameSql = "coalesce(nullif(trim(concat_ws(' ', first_name, last_name)), ''), company, email, phone, '')";

    /// <summary>The name a lead goes by: the person, else the company, else the email address.</summary>
    public static string NameOf(RecordValues record) => Name(record, true) ?? "No name";

    /// <summary>The same as a reader sees it; where nothing of it is shown, the lead's number.</summary>
    public static string NameOf(RecordValues record, int number, bool showsContactData) => Name(record, showsContactData) ?? $"Lead {number}";

    private static string? Name(RecordValues record, bool showsContactData)
    {
        var person = $"{record.Text("first_name")} {record.Text("last_name")}".Trim();
        return person.Length > 0 ? person : record.Text("company") ?? (showsContactData ? record.Text("email") ?? record.Text("phone") : null);
    }
}
