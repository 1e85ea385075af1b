using System.Collections.Immutable;
using Npgsql;
using NpgsqlTypes;

namespace DapperLantern.App.Data;

/// <summary>How rows of a kind are written by binary COPY: the columns in order, each with its type and where its value is from. Values are written without boxing.</summary>
public sealed class BulkTable<T>(string table)
{
    private readonly List<(string Column, Action<NpgsqlBinaryImporter, T> Write)> _columns = [];

    public string CopyStatement => $"copy {table} ({string.Join(", ", _columns.Select(c => c.Column))}) from stdin (format binary)";

    public ImmutableArray<string> Columns => [.. _columns.Select(c => c.Column)];

    public BulkTable<T> Text(string column, Func<T, string?> of) => Reference(column, NpgsqlDbType.Text, of);

    public BulkTable<T> Json(string column, Func<T, string?> of) => Reference(column, NpgsqlDbType.Jsonb, of);

    public BulkTable<T> Bytes(string column, Func<T, byte[]?> of) => Reference(column, NpgsqlDbType.Bytea, of);

    public BulkTable<T> Texts(string column, Func<T, string[]?> of) => Reference(column, NpgsqlDbType.Array | NpgsqlDbType.Text, of);

    public BulkTable<T> Uuid(string column, Func<T, Guid?> of) => Value(column, NpgsqlDbType.Uuid, of);

    public BulkTable<T> Int(string column, Func<T, int?> of) => Value(column, NpgsqlDbType.Integer, of);

    public BulkTable<T> Long(string column, Func<T, long?> of) => Value(column, NpgsqlDbType.Bigint, of);

    public BulkTable<T> Number(string column, Func<T, decimal?> of) => Value(column, NpgsqlDbType.Numeric, of);

    public BulkTable<T> Bool(string column, Func<T, bool?> of) => Value(column, NpgsqlDbType.Boolean, of);

    public BulkTable<T> Moment(string column, Func<T, DateTime?> of) => Value(column, NpgsqlDbType.TimestampTz, of);

    /// <summary>Writes the rows within the connection's transaction; all or none. Values are written into the connection's buffer without awaiting each of them: there are millions.</summary>
    public async Task Write(NpgsqlConnection connection, IEnumerable<T> rows, CancellationToken cancel = default)
    {
        await using var copy = await connection.BeginBinaryImportAsync(CopyStatement, cancel);
        foreach (var row in rows)
        {
            cancel.ThrowIfCancellationRequested();
            copy.StartRow();
            foreach (var (_, write) in _columns)
                write(copy, row);
        }
        await copy.CompleteAsync(cancel);
    }

    private BulkTable<T> Reference<TValue>(string column, NpgsqlDbType type, Func<T, TValue?> of)
        where TValue : class
    {
        _columns.Add(
            (
                column,
                (copy, row) =>
                {
                    if (of(row) is { } value)
                        copy.Write(value, type);
                    else
                        copy.WriteNull();
                }
            )
        );
        return this;
    }

    private BulkTable<T> Value<TValue>(string column, NpgsqlDbType type, Func<T, TValue?> of)
        where TValue : struct
    {
        _columns.Add(
            (
                column,
                (copy, row) =>
                {
                    if (of(row) is { } value)
                        copy.Write(value, type);
                    else
                        copy.WriteNull();
                }
            )
        );
        return this;
    }
}
