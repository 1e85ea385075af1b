namespace DapperLantern.Core.Rights;

/// <summary>Whose records of a kind somebody sees; several together.</summary>
[Flags]
public enum Reach
{
    None = 0,

    /// <summary>Their own.</summary>
    Own = 1,

    /// <summary>Of the people they are in a team with.</summary>
    Team = 2,

    /// <summary>Of those who report to them, also over others.</summary>
    Reports = 4,

    /// <summary>Those that nobody owns.</summary>
    Unowned = 8,

    /// <summary>Those that were shared with them one by one.</summary>
    Shared = 16,

    /// <summary>Everybody's.</summary>
    All = 32,
}
