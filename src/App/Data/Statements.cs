namespace DapperLantern.App.Data;

/// <summary>Statements that are sent together, in their order, in one trip to the server. Nothing is written before they are sent.</summary>
internal sealed class Statements(LanternDb db)
{
    private readonly List<SqlText> _statements = [];

    public Statements Add(SqlText sql)
    {
        _statements.Add(sql);
        return this;
    }

    public Task Send() => db.Run(SqlText.Joined(_statements));

    /// <summary>Sends them; the last is a query of one row.</summary>
    public Task<T> SendForOne<T>() => db.One<T>(SqlText.Joined(_statements));
}
