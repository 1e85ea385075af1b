using System.Collections.Immutable;

namespace DapperLantern.App.Data;

/// <summary>How rows of a kind are written by binary COPY: the columns in order, each with its type and where its value is from. Values are encoded by <see cref="CopyBuffer"/>, straight into bytes: there are millions.</summary>
public sealed class BulkTable<T>(string table)
{
    private const int Portion = 1 << 16;

    // One for a thread that writes none at the moment; taken while rows are written.
    [ThreadStatic]
    private static CopyBuffer? t_buffer;

    private readonly List<(string Column, Action<CopyBuffer, T> Write)> _columns = [];

    public string CopyStatement => $"copy {table} ({string.Join(", ", _columns.Select(c => c.Column))}) from stdin (format binary)";

    public ImmutableArray<string> Columns => [.. _columns.Select(c => c.Column)];

    public BulkTable<T> Text(string column, Func<T, string?> of) => Reference(column, of, static (copy, value) => copy.Text(value));

    public BulkTable<T> Json(string column, Func<T, string?> of) => Reference(column, of, static (copy, value) => copy.Json(value));

    public BulkTable<T> Bytes(string column, Func<T, byte[]?> of) => Reference(column, of, static (copy, value) => copy.Bytes(value));

    public BulkTable<T> Texts(string column, Func<T, string[]?> of) => Reference(column, of, static (copy, value) => copy.Texts(value));

    public BulkTable<T> Doubles(string column, Func<T, double[]?> of) => Reference(column, of, static (copy, value) => copy.Doubles(value));

    public BulkTable<T> Uuid(string column, Func<T, Guid?> of) => Value(column, of, static (copy, value) => copy.Uuid(value));

    public BulkTable<T> Int(string column, Func<T, int?> of) => Value(column, of, static (copy, value) => copy.Int(value));

    public BulkTable<T> Long(string column, Func<T, long?> of) => Value(column, of, static (copy, value) => copy.Long(value));

    public BulkTable<T> Number(string column, Func<T, decimal?> of) => Value(column, of, static (copy, value) => copy.Number(value));

    public BulkTable<T> Bool(string column, Func<T, bool?> of) => Value(column, of, static (copy, value) => copy.Bool(value));

    public BulkTable<T> Moment(string column, Func<T, DateTime?> of) => Value(column, of, static (copy, value) => copy.Moment(value));

    /// <summary>Writes the rows within the context's transaction; all or none.</summary>
    public async Task Write(LanternDb db, IEnumerable<T> rows, CancellationToken cancel = default)
    {
        await using var copy = await (await db.Connection()).BeginRawBinaryCopyAsync(CopyStatement, cancel);
        try
        {
            var buffer = t_buffer ?? new CopyBuffer();
            t_buffer = null;
            buffer.Clear();
            buffer.Header();
            foreach (var row in rows)
            {
                buffer.StartRow(_columns.Count);
                foreach (var (_, write) in _columns)
                    write(buffer, row);
                if (buffer.Written.Length < Portion)
                    continue;
                await copy.WriteAsync(buffer.Written, cancel);
                buffer.Clear();
            }
            buffer.Trailer();
            await copy.WriteAsync(buffer.Written, cancel);
            t_buffer = buffer;
        }
        catch
        {
            await copy.CancelAsync();
            throw;
        }
    }

    private BulkTable<T> Reference<TValue>(string column, Func<T, TValue?> of, Action<CopyBuffer, TValue> write)
        where TValue : class
    {
        _columns.Add(
            (
                column,
                (copy, row) =>
                {
                    if (of(row) is { } value)
                        write(copy, value);
                    else
                        copy.Null();
                }
            )
        );
        return this;
    }

    private BulkTable<T> Value<TValue>(string column, Func<T, TValue?> of, Action<CopyBuffer, TValue> write)
        where TValue : struct
    {
        _columns.Add(
            (
                column,
                (copy, row) =>
                {
                    if (of(row) is { } value)
                        write(copy, value);
                    else
                        copy.Null();
                }
            )
        );
        return this;
    }
}
