using System.Text;
using Dapper;

namespace DapperLantern.App.Data;

/// <summary>Statements that are sent together, in their order, so that one trip to the server does for all. Nothing is written before they are sent.</summary>
/// <param name="common">An object whose properties are parameters of them all.</param>
internal sealed class Statements(LanternDb db, object common)
{
    private readonly StringBuilder _sql = new();
    private readonly DynamicParameters _values = new(common);

    /// <param name="values">An object whose properties are the parameters; each name once among all statements.</param>
    public Statements Add(string sql, object? values = null)
    {
        _sql.Append(sql).Append(";\n");
        if (values is not null)
            _values.AddDynamicParams(values);
        return this;
    }

    public Task Send() => db.ExecuteAsync(_sql.ToString(), _values);

    /// <summary>Sends them; the last is a query of one row.</summary>
    public Task<T> SendForOne<T>() => db.QuerySingleAsync<T>(_sql.ToString(), _values);
}
