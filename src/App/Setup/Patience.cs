namespace DapperLantern.App.Setup;

/// <summary>
/// How long is waited before the short way is taken: an estimate for a count, an older count for a new one, "it is under way" for its end, "the database does not answer"
/// for its answer. On a slow machine everything takes longer, and the factor says by how much. Configuration: <c>Patience</c>, 0.1 to 100, 1 as it comes.
/// </summary>
public sealed class Patience(PatienceSettings settings)
{
    /// <summary>So long here, where it is <paramref name="usual"/> on a machine of usual speed.</summary>
    public TimeSpan For(TimeSpan usual) => usual * settings.Patience;
}
