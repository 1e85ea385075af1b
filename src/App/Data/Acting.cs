using System.Text.Json;

namespace DapperLantern.App.Data;

/// <summary>Who acts, and by what: stands beside every change in the log. It holds for the work that is begun while it is set, on whatever context that is done.</summary>
/// <param name="By">The person; null for the program itself and for visitors.</param>
/// <param name="Cause">One of the constants of this type, or the name of the background work.</param>
/// <param name="CauseId">The import, bulk edit, edition or token; null where there is none.</param>
public sealed record Acting(Guid? By, string Cause, Guid? CauseId = null)
{
    /// <summary>A person at the page.</summary>
    public const string Person = "person";

    /// <summary>Another program, by its access token.</summary>
    public const string Token = "token";

    /// <summary>A visitor of a public page, not signed in.</summary>
    public const string Visitor = "visitor";

    /// <summary>A list that is taken in or taken back.</summary>
    public const string Import = "import";

    /// <summary>Responses to a campaign that were recorded by hand at once.</summary>
    public const string Entry = "entry";

    /// <summary>A change to many leads.</summary>
    public const string Bulk = "bulk";

    /// <summary>A change to many leads is taken back.</summary>
    public const string BulkUndo = "bulk_undo";

    /// <summary>Somebody's records are handed on, or come back.</summary>
    public const string Handing = "handing";

    /// <summary>The program itself, at its start.</summary>
    public const string System = "system";

    private static readonly AsyncLocal<Acting?> Ambient = new();

    /// <summary>Who acts now.</summary>
    public static Acting Current => Ambient.Value ?? new Acting(null, System);

    /// <summary>Name of background work, by its type: <c>response_deadline</c> of ResponseDeadlineWorker.</summary>
    public static string Work(Type worker) =>
        JsonNamingPolicy.SnakeCaseLower.ConvertName(worker.Name.Replace("Worker", "", StringComparison.Ordinal).Replace("Runner", "", StringComparison.Ordinal));

    /// <summary>Lets somebody act until the result is disposed of.</summary>
    public static IDisposable As(Acting acting)
    {
        var before = Ambient.Value;
        Ambient.Value = acting;
        return new Before(before);
    }

    /// <summary>Lets the person who acts now do it by something else: a bulk edit, an import.</summary>
    public static IDisposable Through(string cause, Guid id, Guid? person = null) => As(new Acting(person ?? Current.By, cause, id));

    private sealed class Before(Acting? acting) : IDisposable
    {
        public void Dispose() => Ambient.Value = acting;
    }
}
