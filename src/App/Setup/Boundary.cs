using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization.Metadata;
using System.Text.RegularExpressions;
using DapperLantern.App.Data;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Http.Metadata;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Setup;

/// <summary>
/// The one guard for what comes over HTTP: text holds no NUL and is valid Unicode, lists hold no nulls, JSON is JSON. What does not is refused before anything reads
/// it, with the place where it stands.
/// </summary>
public static partial class Boundary
{
    private const int LargestJson = 8 << 20;

    /// <summary>Must stand before the endpoints and behind what turns exceptions into answers.</summary>
    public static void UseBoundary(this WebApplication app) =>
        app.Use(
            async (http, next) =>
            {
                var problem = OfAddress(http.Request) ?? (IsJson(http.Request) ? await OfBody(http) : null);
                if (problem is null)
                    await next(http);
                else
                    await ApiProblems.Of(problem).ExecuteAsync(http);
            }
        );

    /// <summary>What an exception is answered by that no mistake of ours makes; null for any other.</summary>
    public static ProblemHttpResult? Fault(Exception error) =>
        error switch
        {
            BadHttpRequestException { StatusCode: 413 } => ApiProblems.Of("body-too-large"),
            BadHttpRequestException e => ApiProblems.Of(ProblemOf(e)),
            DbUpdateException { InnerException: PostgresException inner } => Fault(inner),
            // Two waited for each other. The one that is told has changed nothing.
            PostgresException { SqlState: PostgresErrorCodes.DeadlockDetected or PostgresErrorCodes.SerializationFailure } => ApiProblems.Of("at-the-same-time"),
            // What the statement named went away meanwhile; found when the transaction ended, and all of it was rolled back.
            PostgresException { SqlState: PostgresErrorCodes.ForeignKeyViolation } => ApiProblems.Of("named-gone"),
            // Class 22: a value that the column cannot hold, such as a number beyond its range. The transaction was rolled back.
            PostgresException { SqlState: ['2', '2', ..] } => ApiProblems.Of("value-unfit"),
            InvalidDataException => ApiProblems.Of("form-unreadable"),
            NotSetUpException e => ApiProblems.Of("not-set-up", "", e.Missing),
            _ => null,
        };

    private static Problem ProblemOf(BadHttpRequestException e)
    {
        if (e.InnerException is not JsonException json)
            return Problem.Of("request-unreadable", "", new Whole(e.Message.TrimEnd('.')));
        var path = json.Path?.TrimStart('$', '.') ?? "";
        var place = json.LineNumber is { } line ? $", line {line + 1}, byte {json.BytePositionInLine + 1}" : "";
        var at = path.Length > 0 ? $" at {path}" : "";
        // The framework names what a record lacks in its sentence alone.
        var lacking = Lacks().Match(json.Message).Groups[1].Value.Replace('\'', '"');
        return lacking.Length > 0 ? Problem.Of("json-missing", path, lacking, at, place) : Problem.Of("json-unfit", path, at, place);
    }

    [GeneratedRegex("missing required properties including: (.+?)\\.($| Path:)")]
    private static partial Regex Lacks();

    private static Problem? OfAddress(HttpRequest request)
    {
        if (IsUnfit(request.Path.Value))
            return new Problem("address-unfit");
        foreach (var (name, values) in request.Query)
            if (IsUnfit(name) || values.Any(IsUnfit))
                return Problem.Of("query-unfit", "", Printable(name));
        return null;
    }

    // A file sent as a body may be of any form, whatever its type says; its own reader says what is wrong with it.
    private static bool IsFile(PathString path) =>
        path.Value is { } text && (text.EndsWith("/file", StringComparison.Ordinal) || text.EndsWith("/calendars", StringComparison.Ordinal));

    private static bool IsJson(HttpRequest request) =>
        !IsFile(request.Path)
        // A form's own reader takes what can be taken, for nothing that a visitor sends is lost.
        && !request.Path.StartsWithSegments("/f", StringComparison.Ordinal)
        && !HttpMethods.IsGet(request.Method)
        && request.ContentType is { } type
        && type.Contains("json", StringComparison.OrdinalIgnoreCase)
        && (request.ContentLength ?? 1) > 0;

    private static async Task<Problem?> OfBody(HttpContext http)
    {
        var body = new MemoryStream();
        await http.Request.Body.CopyToAsync(body, http.RequestAborted);
        http.Request.Body = body;
        body.Position = 0;
        // Larger ones are refused by the limit of the server, or read as a file.
        return body.Length is 0 or > LargestJson ? null : OfJson(body.GetBuffer().AsSpan(0, (int)body.Length), TypeOfBody(http));
    }

    // Other systems send null for a fact they do not know; there it is one that is not known.
    private static Type? TypeOfBody(HttpContext http) =>
        http.Request.Path.StartsWithSegments("/api/v1", StringComparison.Ordinal) ? null : http.GetEndpoint()?.Metadata.GetMetadata<IAcceptsMetadata>()?.RequestType;

    /// <summary>What is wrong with a JSON text, null when it is fit.</summary>
    /// <param name="body">What it is read as, so that a null is found where a map holds none; null when that is not known.</param>
    public static Problem? OfJson(ReadOnlySpan<byte> json, Type? body = null)
    {
        var reader = new Utf8JsonReader(json, new JsonReaderOptions { MaxDepth = 64 });
        try
        {
            var within = new Stack<(bool IsList, JsonTypeInfo? Type)>();
            var name = "";
            while (reader.Read())
                switch (reader.TokenType)
                {
                    case JsonTokenType.String or JsonTokenType.PropertyName when IsUnfitText(ref reader):
                        return Problem.Of("text-unfit", "", Place(json, reader.TokenStartIndex));
                    case JsonTokenType.PropertyName:
                        name = reader.GetString()!;
                        break;
                    case JsonTokenType.StartArray or JsonTokenType.StartObject:
                        within.Push((reader.TokenType == JsonTokenType.StartArray, within.Count == 0 ? Known(body) : Inside(within.Peek().Type, name)));
                        break;
                    case JsonTokenType.EndArray or JsonTokenType.EndObject:
                        within.Pop();
                        break;
                    case JsonTokenType.Null when within.TryPeek(out var top) && top.IsList:
                        return Problem.Of("list-null", "", Place(json, reader.TokenStartIndex));
                    case JsonTokenType.Null when within.TryPeek(out var top) && top.Type is { Kind: JsonTypeInfoKind.Dictionary, ElementType.IsValueType: false }:
                        return Problem.Of("value-null", "", Printable(name), Place(json, reader.TokenStartIndex));
                }
            return null;
        }
        catch (JsonException e)
        {
            return Problem.Of("json-unreadable", "", $"line {e.LineNumber + 1}, byte {e.BytePositionInLine + 1}");
        }
    }

    private static JsonTypeInfo? Known(Type? type) => type is not null && Json.Options.TryGetTypeInfo(type, out var info) ? info : null;

    // What stands in a list, a map, or under a name of a record.
    private static JsonTypeInfo? Inside(JsonTypeInfo? type, string name) =>
        type?.Kind switch
        {
            JsonTypeInfoKind.Dictionary or JsonTypeInfoKind.Enumerable => Known(type.ElementType),
            JsonTypeInfoKind.Object => Known(type.Properties.FirstOrDefault(p => p.Name.Equals(name, StringComparison.OrdinalIgnoreCase))?.PropertyType),
            _ => null,
        };

    // Text without escapes holds no NUL, since JSON has none but as an escape; it may still be no UTF-8.
    private static bool IsUnfitText(ref Utf8JsonReader reader)
    {
        try
        {
            return IsUnfit(reader.GetString());
        }
        catch (InvalidOperationException)
        {
            return true;
        }
    }

    private static bool IsUnfit(string? text)
    {
        if (text is null)
            return false;
        for (var i = 0; i < text.Length; i++)
            if (text[i] == '\0' || char.IsLowSurrogate(text[i]) || (char.IsHighSurrogate(text[i]) && (i + 1 == text.Length || !char.IsLowSurrogate(text[++i]))))
                return true;
        return false;
    }

    private static string Place(ReadOnlySpan<byte> json, long at)
    {
        var before = json[..(int)at];
        var line = before.Count((byte)'\n');
        return $"line {line + 1}, byte {at - before.LastIndexOf((byte)'\n')}";
    }

    private static string Printable(string name) => new([.. Encoding.ASCII.GetString(Encoding.ASCII.GetBytes(name)).Where(c => c is > ' ' and < '\u007f').Take(40)]);
}
