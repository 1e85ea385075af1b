using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Data;

/// <summary>
/// Statements in SQL through the context, for those whose plan or shape LINQ cannot express. Each interpolated value becomes a parameter. Columns of a row are found by the snake-case
/// names of the properties of <c>T</c>; the one column of a scalar is called "Value".
/// </summary>
internal static class SqlStatements
{
    /// <summary>All rows that the statement gives, in its order.</summary>
    public static Task<List<T>> Rows<T>(this LanternDb db, FormattableString sql, CancellationToken cancel = default) => db.Database.SqlQuery<T>(sql).ToListAsync(cancel);

    /// <summary>The one row that the statement gives; the default of <typeparamref name="T"/> where it gives none.</summary>
    /// <exception cref="InvalidOperationException">It gives several.</exception>
    public static async Task<T?> Row<T>(this LanternDb db, FormattableString sql, CancellationToken cancel = default) =>
        // Not SingleOrDefault on the query: that would wrap the statement into another, which "returning" and "for update" do not allow.
        (await db.Database.SqlQuery<T>(sql).ToListAsync(cancel)).SingleOrDefault();

    /// <summary>Runs a statement; gives the number of rows it changed.</summary>
    public static Task<int> Run(this LanternDb db, FormattableString sql, CancellationToken cancel = default) => db.Database.ExecuteSqlAsync(sql, cancel);
}
