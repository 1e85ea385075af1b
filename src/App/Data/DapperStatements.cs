using Dapper;

namespace DapperLantern.App.Data;

/// <summary>
/// Statements as text with an object of parameters, on the context's own connection and transaction. This is the old way, kept in one place until each capability has gone over to
/// LINQ and <see cref="Microsoft.EntityFrameworkCore.RelationalDatabaseFacadeExtensions"/>; a test counts the calls that are left and lets them only become fewer.
/// </summary>
internal static class DapperStatements
{
    public static async Task<int> ExecuteAsync(this LanternDb db, string sql, object? param = null, int? commandTimeout = null) =>
        await (await db.Connection()).ExecuteAsync(sql, param, commandTimeout: commandTimeout);

    public static async Task<IEnumerable<T>> QueryAsync<T>(this LanternDb db, string sql, object? param = null, int? commandTimeout = null) =>
        await (await db.Connection()).QueryAsync<T>(sql, param, commandTimeout: commandTimeout);

    public static async Task<T> QuerySingleAsync<T>(this LanternDb db, string sql, object? param = null, int? commandTimeout = null) =>
        await (await db.Connection()).QuerySingleAsync<T>(sql, param, commandTimeout: commandTimeout);

    public static async Task<T?> QuerySingleOrDefaultAsync<T>(this LanternDb db, string sql, object? param = null, int? commandTimeout = null) =>
        await (await db.Connection()).QuerySingleOrDefaultAsync<T>(sql, param, commandTimeout: commandTimeout);

    public static async Task<T?> QueryFirstOrDefaultAsync<T>(this LanternDb db, string sql, object? param = null) =>
        await (await db.Connection()).QueryFirstOrDefaultAsync<T>(sql, param);

    public static async Task<SqlMapper.GridReader> QueryMultipleAsync(this LanternDb db, string sql, object? param = null) =>
        await (await db.Connection()).QueryMultipleAsync(sql, param);
}
