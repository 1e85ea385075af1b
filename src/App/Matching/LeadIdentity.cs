using System.Data.Common;
using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Matching;

namespace DapperLantern.App.Matching;

/// <summary>Reads what identifies leads, and no more: there are many to each that is found.</summary>
public static class LeadIdentity
{
    private static readonly string[] Facts = [.. Identity.Fields.Order(StringComparer.Ordinal)];

    private static readonly string FactColumns = string.Join(", ", Facts.Select(f => $"l.{f}"));

    /// <summary>The select list that <see cref="Read"/> needs, over the alias <c>l</c>: facts, and a custom personal date.</summary>
    internal static SqlText Columns(FieldCatalogue catalogue) => $"{FactColumns:sql}, l.custom->>{catalogue.PersonalDate?.Key ?? ""}";

    /// <summary>Reads the current row, whose select list begins with what <see cref="Columns"/> gives.</summary>
    /// <param name="name">First and last name as written.</param>
    public static Identity Read(DbDataReader row, FieldCatalogue catalogue, out string name)
    {
        var record = new RecordValues(catalogue);
        for (var i = 0; i < Facts.Length; i++)
            if (!row.IsDBNull(i))
                record[Facts[i]] = FieldValue.Of(row.GetString(i));
        if (catalogue.PersonalDate is { } born && !row.IsDBNull(Facts.Length))
            record[born.Ordinal] = FieldValue.Parse(born.Type, row.GetString(Facts.Length));
        name = $"{record.Text("first_name")} {record.Text("last_name")}".Trim();
        return Identity.Of(record);
    }

    /// <summary>Where the columns after what <see cref="Columns"/> gives begin.</summary>
    public static int Count => Facts.Length + 1;
}
