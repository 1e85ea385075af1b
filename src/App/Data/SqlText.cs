using System.Runtime.CompilerServices;
using System.Text;
using Npgsql;

namespace DapperLantern.App.Data;

/// <summary>
/// A statement in SQL, written as an interpolated string. Each value in it becomes a parameter of the type that it has in C#, also where it is null. Another <see cref="SqlText"/> is
/// taken in with its parameters. Text of our own that is part of the statement (a list of columns, a condition) carries the format "sql": <c>{Columns:sql}</c>.
/// </summary>
[InterpolatedStringHandler]
internal sealed class SqlText(int literalLength, int formattedCount)
{
    // Either text or the parameter that stands in its place.
    private readonly List<(string Text, NpgsqlParameter? Value)> _pieces = new(formattedCount * 2 + Math.Min(literalLength, 1));

    public void AppendLiteral(string text) => _pieces.Add((text, null));

    public void AppendFormatted<T>(T value) => _pieces.Add(("", value is null ? new NpgsqlParameter<T> { Value = DBNull.Value } : new NpgsqlParameter<T> { TypedValue = value }));

    /// <param name="format">Always "sql".</param>
    public void AppendFormatted(string text, string format) =>
        _pieces.Add(format == "sql" ? (text, null) : throw new FormatException($"A part of a statement has the format \"sql\", not \"{format}\"."));

    // A parameter belongs to one statement; the part may be taken into several.
    public void AppendFormatted(SqlText part) => _pieces.AddRange(part._pieces.Select(p => (p.Text, (NpgsqlParameter?)p.Value?.Clone())));

    /// <summary>Statements in their order, as one text.</summary>
    public static SqlText Joined(IEnumerable<SqlText> statements)
    {
        var all = new SqlText(0, 0);
        foreach (var statement in statements)
        {
            all.AppendFormatted(statement);
            all.AppendLiteral(";\n");
        }
        return all;
    }

    /// <summary>The statement as the context takes it: a numbered place for each parameter, braces of the text doubled.</summary>
    internal FormattableString ForContext()
    {
        var format = new StringBuilder();
        var values = new List<object>();
        foreach (var (text, value) in _pieces)
            if (value is null)
                format.Append(text.Replace("{", "{{", StringComparison.Ordinal).Replace("}", "}}", StringComparison.Ordinal));
            else
            {
                format.Append('{').Append(values.Count).Append('}');
                values.Add(value);
            }
        return FormattableStringFactory.Create(format.ToString(), [.. values]);
    }

    /// <summary>The text with numbered places, for messages and tests.</summary>
    public override string ToString() => ForContext().Format;
}
