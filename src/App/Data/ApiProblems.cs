using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Data;

/// <summary>Expected trouble as problem details (RFC 9457): a stable type, a sentence for people, and the fields concerned.</summary>
public static class ApiProblems
{
    public static ProblemHttpResult NotFound(string what) => Of(404, "not-found", $"There is no such {what}.");

    public static ProblemHttpResult Invalid(string type, string sentence, string? field = null) => Of(422, type, sentence, field);

    public static ProblemHttpResult Conflict(string type, string sentence) => Of(409, type, sentence);

    public static ProblemHttpResult Stale() => Of(412, "stale", "Somebody changed this record meanwhile. Your change was not written; look at theirs and try again.");

    public static ProblemHttpResult DraftVersionMissing() => Invalid("version-missing", "Say which version of the draft this changes (If-Match; 0 for a new one).");

    public static ProblemHttpResult NotYours() => Of(403, "not-yours", "You may change only what you own.");

    public static ProblemHttpResult Unsigned(string sentence) => Of(401, "unsigned", sentence);

    public static ProblemHttpResult Forbidden(string sentence) => Of(403, "forbidden", sentence);

    /// <summary>Any other.</summary>
    public static ProblemHttpResult Of(int status, string type, string sentence, string? field = null) =>
        TypedResults.Problem(
            sentence,
            statusCode: status,
            type: $"/problems/{type}",
            title: sentence,
            extensions: field is null ? null : new Dictionary<string, object?> { ["field"] = field }
        );
}
