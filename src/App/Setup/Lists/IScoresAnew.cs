using DapperLantern.App.Data;

namespace DapperLantern.App.Setup;

/// <summary>Scores leads anew that were changed many at once, without their score.</summary>
public interface IScoresAnew
{
    /// <summary>Keeps runs of scoring from going on until the transaction ends. Whoever changes many leads calls this before holding them, as a run holds itself before its leads.</summary>
    Task Hold(LanternDb db);

    /// <summary>Notes in the transaction that leads without a time of scoring are to be scored.</summary>
    Task Begin(LanternDb db);

    /// <summary>Tells after the commit that there is work.</summary>
    void Wake();
}
