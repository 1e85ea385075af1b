using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Data;

/// <summary>The one place that makes HTTP of problems: problem details (RFC 9457) with a stable type, a sentence for people, and the field concerned.</summary>
public static class ApiProblems
{
    public static ProblemHttpResult Of(Problem problem) =>
        TypedResults.Problem(
            problem.Words,
            statusCode: StatusOf(problem.Kind),
            type: $"/problems/{problem.Code}",
            title: problem.Words,
            extensions: problem.Path.Length == 0 ? null : new Dictionary<string, object?> { ["field"] = problem.Path }
        );

    /// <param name="path">The name in the request, in place of the problem's own.</param>
    public static ProblemHttpResult Of(Problem problem, string path) => Of(problem with { Path = path });

    /// <summary>See <see cref="Problem.Of"/>.</summary>
    public static ProblemHttpResult Of(string code, string path = "", params ReadOnlySpan<object?> parameters) => Of(Problem.Of(code, path, parameters));

    public static ProblemHttpResult NotFound(string kind) => Of(Problem.NotFound(kind));

    public static ProblemHttpResult Stale() => Of("stale");

    public static ProblemHttpResult DraftVersionMissing() => Of("version-missing");

    public static ProblemHttpResult NotYours() => Of("not-yours");

    /// <summary>The result as 200, or the problem.</summary>
    public static async Task<Results<Ok<T>, ProblemHttpResult>> Answer<T>(this Task<Outcome<T>> work)
    {
        var outcome = await work;
        return outcome.Problem is { } problem ? Of(problem) : TypedResults.Ok(outcome.Value!);
    }

    /// <summary>Gives the refusals of the framework their words.</summary>
    public static void Explain(ProblemDetailsContext context) =>
        context.ProblemDetails.Detail ??= FrameworkCodes.GetValueOrDefault(context.ProblemDetails.Status ?? 0) is { } code ? new Problem(code).Words : null;

    private static readonly Dictionary<int, string> FrameworkCodes = new()
    {
        [400] = "body-unfit",
        [404] = "address-unknown",
        [405] = "method-unknown",
        [413] = "body-too-large",
        [415] = "type-unread",
    };

    public static int StatusOf(ProblemKind kind) =>
        kind switch
        {
            ProblemKind.Invalid => StatusCodes.Status422UnprocessableEntity,
            ProblemKind.Conflict => StatusCodes.Status409Conflict,
            ProblemKind.NotFound => StatusCodes.Status404NotFound,
            ProblemKind.Forbidden => StatusCodes.Status403Forbidden,
            ProblemKind.Unsigned => StatusCodes.Status401Unauthorized,
            ProblemKind.Stale => StatusCodes.Status412PreconditionFailed,
            ProblemKind.Unreadable => StatusCodes.Status400BadRequest,
            ProblemKind.TooLarge => StatusCodes.Status413PayloadTooLarge,
            ProblemKind.TooMany => StatusCodes.Status429TooManyRequests,
            ProblemKind.Broken => StatusCodes.Status500InternalServerError,
            ProblemKind.Away => StatusCodes.Status503ServiceUnavailable,
            _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, null),
        };
}
