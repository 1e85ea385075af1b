using System.Collections.Immutable;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Scoring;

/// <summary>A file that was read.</summary>
/// <param name="Model">What could be read; null when it is no model file at all.</param>
/// <param name="Problems">What could not, each with its path as in <see cref="ModelFinding"/>; the parts concerned are left out of the model.</param>
public sealed record ModelReading(ScoringModel? Model, ImmutableArray<Problem> Problems);

/// <summary>A scoring model as one JSON file, described by <c>docs/scoring-model.schema.json</c>. Every part is read by itself, so that a broken line does not cost the others.</summary>
public static class ModelFile
{
    public const string Kind = "scoring-model";

    /// <summary>Longest text read, in characters.</summary>
    public const int MostCharacters = 5_000_000;

    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true,
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
        NumberHandling = JsonNumberHandling.Strict,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    private static readonly string[] Known = ["$schema", "kind", "version", "bars", "fit", "engagement", "silence", "groups", "vetoes", "saturatesFrom", "names"];

    public static string Write(ScoringModel model)
    {
        var written = JsonSerializer.SerializeToNode(model, Options)!.AsObject();
        var file = new JsonObject { ["kind"] = Kind, ["version"] = 1 };
        foreach (var (name, value) in written)
            file[name] = value?.DeepClone();
        return file.ToJsonString(Options);
    }

    public static ModelReading Read(string text)
    {
        if (text.Length > MostCharacters)
            return new ModelReading(null, [new Problem("file-too-large", "", $"{MostCharacters / 1_000_000} million")]);
        JsonObject? file;
        try
        {
            // A name that stands twice is refused as it is read: a node would find it only when its object is first asked.
            var options = new JsonDocumentOptions
            {
                CommentHandling = JsonCommentHandling.Skip,
                AllowTrailingCommas = true,
                AllowDuplicateProperties = false,
            };
            file = JsonNode.Parse(text, documentOptions: options) as JsonObject;
        }
        catch (JsonException e)
        {
            return new ModelReading(
                null,
                [new Problem("file-unreadable", "", e.LineNumber is { } line ? $"line {line + 1}, place {e.BytePositionInLine + 1}" : "a name stands twice in one object")]
            );
        }
        return file is null || (file["kind"] is { } kind && !Is(kind, Kind)) || file["bars"] is null ? new ModelReading(null, [new Problem("file-no-model", "")]) : Parts(file);
    }

    private static ModelReading Parts(JsonObject file)
    {
        var problems = new List<Problem>();
        var model = new ScoringModel(
            One<Bars>(file, "bars", problems) ?? new Bars(60, 50),
            List<FitCriterion>(file, "fit", problems, Criterion),
            List<EngagementSignal>(file, "engagement", problems),
            List<FitGroup>(file, "groups", problems),
            List<Veto>(file, "vetoes", problems),
            One<MoveNames>(file, "names", problems) ?? MoveNames.Usual,
            One<Silence>(file, "silence", problems),
            One<double?>(file, "saturatesFrom", problems) ?? 50
        );
        problems.AddRange(file.Select(p => p.Key).Where(k => !Known.Contains(k)).Select(k => new Problem("part-unknown", "", k)));
        return new ModelReading(model, [.. problems]);
    }

    private static bool Is(JsonNode node, string text) => node.GetValueKind() == JsonValueKind.String && node.GetValue<string>() == text;

    private static T? One<T>(JsonObject file, string name, List<Problem> problems) => file[name] is { } node ? Part<T>(node, name, problems) : default;

    private static ImmutableArray<T> List<T>(JsonObject file, string name, List<Problem> problems, Func<JsonNode, string, List<Problem>, T?>? read = null)
        where T : class
    {
        if (file[name] is not { } node)
            return [];
        if (node is not JsonArray list)
        {
            problems.Add(new Problem("part-unreadable", name, "a list is wanted"));
            return [];
        }
        var parts = ImmutableArray.CreateBuilder<T>();
        for (var i = 0; i < list.Count; i++)
            if (list[i] is { } item && (read ?? Part<T>)(item, $"{name}/{i}", problems) is { } part)
                parts.Add(part);
            else if (list[i] is null)
                problems.Add(new Problem("part-unreadable", $"{name}/{i}", "null"));
        return parts.ToImmutable();
    }

    // A criterion keeps the lines that can be read.
    private static FitCriterion? Criterion(JsonNode node, string path, List<Problem> problems)
    {
        if (node is not JsonObject given)
            return Part<FitCriterion>(node, path, problems);
        var bare = (JsonObject)given.DeepClone();
        bare["lines"] = new JsonArray();
        return Part<FitCriterion>(bare, path, problems) is { } criterion
            ? criterion with
            {
                Lines = List<FitLine>(given, "lines", Under(problems, path, out var found)).Tap(found),
            }
            : null;
    }

    // Lines are read as a part of their own, and what is wrong with them is told under the criterion's path.
    private static List<Problem> Under(List<Problem> problems, string path, out Action moved)
    {
        var inner = new List<Problem>();
        moved = () => problems.AddRange(inner.Select(p => p with { Path = $"{path}/{p.Path}" }));
        return inner;
    }

    private static T Tap<T>(this T value, Action then)
    {
        then();
        return value;
    }

    private static T? Part<T>(JsonNode node, string path, List<Problem> problems)
    {
        try
        {
            return node.Deserialize<T>(Options);
        }
        catch (Exception e) when (e is JsonException or NotSupportedException or InvalidOperationException or FormatException)
        {
            problems.Add(new Problem("part-unreadable", path, e.Message.Split(" Path:")[0].Split(" LineNumber:")[0]));
            return default;
        }
    }
}
