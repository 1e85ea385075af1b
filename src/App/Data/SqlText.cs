using System.Collections.Frozen;
using System.Runtime.CompilerServices;
using System.Text;
using Npgsql;
using NpgsqlTypes;

namespace DapperLantern.App.Data;

/// <summary>
/// A statement in SQL, written as an interpolated string. Each value in it becomes a parameter of the type that it has in C#, also where it is null. Text of our own that
/// is part of the statement (a list of columns, a condition), and another <see cref="SqlText"/> with its parameters, carry the format "sql": <c>{Columns:sql}</c>.
/// </summary>
[InterpolatedStringHandler]
internal sealed class SqlText(int literalLength, int formattedCount)
{
    // Either text or the parameter that stands in its place.
    private readonly List<(string Text, NpgsqlParameter? Value)> _pieces = new(formattedCount * 2 + Math.Min(literalLength, 1));

    public void AppendLiteral(string text) => _pieces.Add((text, null));

    public void AppendFormatted<T>(T value) =>
        _pieces.Add(("", value is null ? new NpgsqlParameter { Value = DBNull.Value, NpgsqlDbType = TypeOf(typeof(T)) } : new NpgsqlParameter { Value = value }));

    /// <param name="format">Always "sql".</param>
    public void AppendFormatted(string text, string format) =>
        _pieces.Add(format == "sql" ? (text, null) : throw new FormatException($"A part of a statement has the format \"sql\", not \"{format}\"."));

    /// <param name="format">Always "sql".</param>
    public void AppendFormatted(SqlText part, string format) =>
        Take(format == "sql" ? part : throw new FormatException($"A part of a statement has the format \"sql\", not \"{format}\"."));

    [Obsolete("A part of a statement carries the format sql; a string made in place goes into a variable first, so that it becomes a parameter.", error: true)]
    public void AppendFormatted(SqlText part) => Take(part);

    // A parameter belongs to one statement; the part may be taken into several.
    private void Take(SqlText part) => _pieces.AddRange(part._pieces.Select(p => (p.Text, (NpgsqlParameter?)p.Value?.Clone())));

    /// <summary>Statements in their order, as one text.</summary>
    public static SqlText Joined(IEnumerable<SqlText> statements)
    {
        var all = new SqlText(0, 0);
        foreach (var statement in statements)
        {
            all.Take(statement);
            all.AppendLiteral(";\n");
        }
        return all;
    }

    /// <summary>Parts with a text of ours between them.</summary>
    public static SqlText Joined(IEnumerable<SqlText> parts, string between)
    {
        var all = new SqlText(0, 0);
        foreach (var part in parts)
        {
            if (all._pieces.Count > 0)
                all.AppendLiteral(between);
            all.Take(part);
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

    /// <summary>The statement as text, with the names that its values are given. None of them is null.</summary>
    internal string Text(Func<object, NpgsqlDbType, string> nameOf) =>
        string.Concat(_pieces.Select(p => p.Value is null ? p.Text : nameOf(p.Value.Value!, TypeOf(p.Value.Value!.GetType()))));

    /// <summary>The statement as one of several that are sent together.</summary>
    internal NpgsqlBatchCommand ForBatch()
    {
        var (text, command) = (new StringBuilder(), new NpgsqlBatchCommand());
        foreach (var (piece, value) in _pieces)
            if (value is null)
                text.Append(piece);
            else
            {
                command.Parameters.Add(value.Clone());
                text.Append('$').Append(command.Parameters.Count);
            }
        command.CommandText = text.ToString();
        return command;
    }

    /// <summary>A value of a type that the server is told.</summary>
    internal static SqlText Value(object? value, NpgsqlDbType type)
    {
        var text = new SqlText(0, 1);
        text._pieces.Add(("", new NpgsqlParameter { Value = value ?? DBNull.Value, NpgsqlDbType = type }));
        return text;
    }

    /// <summary>Parts with a comma between them.</summary>
    internal static SqlText List(IEnumerable<SqlText> parts) => Joined(parts, ", ");

    // A null has no type of its own, and the server cannot always tell one from its place.
    private static NpgsqlDbType TypeOf(Type type) =>
        type.IsArray && type != typeof(byte[]) ? NpgsqlDbType.Array | TypeOf(type.GetElementType()!)
        : Types.TryGetValue(Nullable.GetUnderlyingType(type) ?? type, out var known) ? known
        : NpgsqlDbType.Unknown;

    private static readonly FrozenDictionary<Type, NpgsqlDbType> Types = new Dictionary<Type, NpgsqlDbType>
    {
        [typeof(string)] = NpgsqlDbType.Text,
        [typeof(Guid)] = NpgsqlDbType.Uuid,
        [typeof(bool)] = NpgsqlDbType.Boolean,
        [typeof(int)] = NpgsqlDbType.Integer,
        [typeof(long)] = NpgsqlDbType.Bigint,
        [typeof(decimal)] = NpgsqlDbType.Numeric,
        [typeof(double)] = NpgsqlDbType.Double,
        [typeof(byte[])] = NpgsqlDbType.Bytea,
        [typeof(DateOnly)] = NpgsqlDbType.Date,
        [typeof(DateTime)] = NpgsqlDbType.TimestampTz,
        [typeof(DateTimeOffset)] = NpgsqlDbType.TimestampTz,
    }.ToFrozenDictionary();

    /// <summary>The text with numbered places, for messages and tests.</summary>
    public override string ToString() => ForContext().Format;
}
