using System.Collections.Immutable;
using Npgsql;
using NpgsqlTypes;

namespace DapperLantern.App.Data;

/// <summary>How rows of a kind are written by binary COPY: the columns in order, each with its type and where its value is from.</summary>
public sealed class BulkTable<T>(string table)
{
    private readonly List<(string Column, NpgsqlDbType Type, Func<T, object?> Of)> _columns = [];

    public BulkTable<T> Column(string column, NpgsqlDbType type, Func<T, object?> of)
    {
        _columns.Add((column, type, of));
        return this;
    }

    public string CopyStatement => $"copy {table} ({string.Join(", ", _columns.Select(c => c.Column))}) from stdin (format binary)";

    public ImmutableArray<string> Columns => [.. _columns.Select(c => c.Column)];

    /// <summary>Writes the rows within the connection's transaction; all or none.</summary>
    public async Task Write(NpgsqlConnection connection, IEnumerable<T> rows, CancellationToken cancel = default)
    {
        await using var copy = await connection.BeginBinaryImportAsync(CopyStatement, cancel);
        foreach (var row in rows)
        {
            await copy.StartRowAsync(cancel);
            foreach (var (_, type, of) in _columns)
                if (of(row) is { } value)
                    await copy.WriteAsync(value, type, cancel);
                else
                    await copy.WriteNullAsync(cancel);
        }
        await copy.CompleteAsync(cancel);
    }
}
