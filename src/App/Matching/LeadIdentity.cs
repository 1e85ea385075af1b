using DapperLantern.Core.Fields;
using DapperLantern.Core.Matching;
using Npgsql;

namespace DapperLantern.App.Matching;

/// <summary>Reads what identifies leads, and no more: there are many to each that is found.</summary>
public static class LeadIdentity
{
    private static readonly string[] Facts = [.. Identity.Fields.Order(StringComparer.Ordinal)];

    /// <summary>The select list that <see cref="Read"/> needs, over the alias <c>l</c>; of a custom personal date, the parameter <c>@born</c>.</summary>
    public static string Columns { get; } = string.Join(", ", Facts.Select(f => $"l.{f}")) + ", l.custom->>@born";

    /// <summary>Gives a command the parameter that <see cref="Columns"/> needs.</summary>
    public static void AddTo(NpgsqlCommand command, FieldCatalogue catalogue) =>
        command.Parameters.Add(new NpgsqlParameter("born", NpgsqlTypes.NpgsqlDbType.Text) { Value = catalogue.PersonalDate?.Key ?? "" });

    /// <summary>Reads the current row, whose select list begins with <see cref="Columns"/>.</summary>
    /// <param name="name">First and last name as written.</param>
    public static Identity Read(NpgsqlDataReader row, FieldCatalogue catalogue, out string name)
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

    /// <summary>Where the columns after <see cref="Columns"/> begin.</summary>
    public static int Count => Facts.Length + 1;
}
