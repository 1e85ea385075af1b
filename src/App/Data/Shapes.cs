using System.ComponentModel.DataAnnotations;
using System.Globalization;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace DapperLantern.App.Data;

/// <summary>The bound of a text in a request, in UTF-16 units.</summary>
[AttributeUsage(AttributeTargets.Parameter | AttributeTargets.Property)]
public sealed class TextAttribute(int longest) : StringLengthAttribute(longest)
{
    public override string FormatErrorMessage(string name) => ShapeProblem.Write("too-long", MaximumLength);
}

/// <summary>The bounds of a number in a request, both included.</summary>
[AttributeUsage(AttributeTargets.Parameter | AttributeTargets.Property)]
public sealed class BetweenAttribute : RangeAttribute
{
    public BetweenAttribute(int least, int most)
        : base(least, most) { }

    public BetweenAttribute(double least, double most)
        : base(least, most) { }

    public override string FormatErrorMessage(string name) => ShapeProblem.Write("number-range", Minimum, Maximum);
}

/// <summary>The most entries of a list or a map in a request, and the longest text among them.</summary>
[AttributeUsage(AttributeTargets.Parameter | AttributeTargets.Property)]
public sealed class CountAttribute(int most) : MaxLengthAttribute(most)
{
    /// <summary>UTF-16 units; 0 where the entries are no texts.</summary>
    public int Each { get; init; }

    public override bool IsValid(object? value) => base.IsValid(value) && LongText(value) is null;

    protected override ValidationResult? IsValid(object? value, ValidationContext context) =>
        base.IsValid(value) is false ? Wrong(ShapeProblem.Write("list-too-long", Length), context)
        : LongText(value) is not null ? Wrong(ShapeProblem.Write("too-long", Each), context)
        : ValidationResult.Success;

    private static ValidationResult Wrong(string message, ValidationContext context) => new(message, context.MemberName is { } name ? [name] : null);

    private string? LongText(object? value) =>
        Each == 0
            ? null
            : value switch
            {
                IEnumerable<string> texts => texts.FirstOrDefault(t => t?.Length > Each),
                IEnumerable<KeyValuePair<string, string>> map => map.Select(e => e.Value).FirstOrDefault(t => t?.Length > Each),
                _ => null,
            };
}

/// <summary>The bounds of requests in the API description. The framework describes those of properties; the parameters of records are described here.</summary>
internal static class Shapes
{
    public static Task Describe(OpenApiSchema schema, OpenApiSchemaTransformerContext context, CancellationToken cancel)
    {
        foreach (var bound in context.JsonPropertyInfo?.AssociatedParameter?.AttributeProvider?.GetCustomAttributes(typeof(ValidationAttribute), inherit: false) ?? [])
            switch (bound)
            {
                case StringLengthAttribute text:
                    schema.MaxLength = text.MaximumLength;
                    break;
                case RangeAttribute range:
                    schema.Minimum = Convert.ToString(range.Minimum, CultureInfo.InvariantCulture);
                    schema.Maximum = Convert.ToString(range.Maximum, CultureInfo.InvariantCulture);
                    break;
                case MaxLengthAttribute list when schema.AdditionalProperties is not null:
                    schema.MaxProperties = list.Length;
                    break;
                case MaxLengthAttribute list:
                    schema.MaxItems = list.Length;
                    break;
            }
        return Task.CompletedTask;
    }
}

/// <summary>Gives what the framework's validation refuses the form of every other problem, whatever the caller accepts.</summary>
internal sealed class ShapeProblemWriter : IProblemDetailsWriter
{
    public bool CanWrite(ProblemDetailsContext context) => context.ProblemDetails is HttpValidationProblemDetails { Errors.Count: > 0 };

    public async ValueTask WriteAsync(ProblemDetailsContext context)
    {
        var (path, messages) = ((HttpValidationProblemDetails)context.ProblemDetails).Errors.First();
        await ApiProblems.Of(ShapeProblem.Read(path, messages[0])).ExecuteAsync(context.HttpContext);
    }
}

/// <summary>Carries a problem through the framework's validation, which knows texts only.</summary>
internal static class ShapeProblem
{
    private const char Between = '\u001f';

    public static string Write(string code, params object[] parameters) =>
        string.Join(Between, [code, .. parameters.Select(p => Convert.ToString(p, CultureInfo.InvariantCulture))]);

    /// <param name="path">As the framework gives it: names of properties, with places of list entries, for instance <c>Stages[2].Name</c>.</param>
    public static Problem Read(string path, string message)
    {
        var parts = message.Split(Between);
        var at = string.Join('.', path.Split('.').Select(Json.Options.PropertyNamingPolicy!.ConvertName));
        // A body that is a list has no name in the request.
        if (at.StartsWith("body[", StringComparison.Ordinal))
            at = at["body".Length..];
        var problem = Problem.Of(parts[0], at, [.. parts[1..].Select(p => long.TryParse(p, CultureInfo.InvariantCulture, out var number) ? (object)number : p)]);
        return at.AsSpan().ContainsAny('.', '[') ? Problem.Of("at-place", at, ForPeople(at), problem) : problem;
    }

    // "stages[2].usualDays" is read as "stages 3, usual days", and an entry of a list without a name as "entry 3".
    private static string ForPeople(string path) =>
        Regex.Replace(
            Regex.Replace(path, @"\[(\d+)\]", m => $" {int.Parse(m.Groups[1].Value, CultureInfo.InvariantCulture) + 1}").Replace(".", ", ", StringComparison.Ordinal),
            "[A-Z]|^ ",
            m => m.Value == " " ? "entry " : $" {char.ToLowerInvariant(m.Value[0])}"
        );
}
