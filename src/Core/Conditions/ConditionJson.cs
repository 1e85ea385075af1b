using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace DapperLantern.Core.Conditions;

/// <summary>Reads and writes the JSON form of <see cref="Condition"/>; anything else is a <see cref="JsonException"/> that says where.</summary>
public sealed class ConditionJson : JsonConverter<Condition>
{
    /// <summary>Deepest nesting read; deeper input is refused rather than risking the stack.</summary>
    public const int DeepestNesting = 40;

    private static readonly Dictionary<string, TestOperator> Operators = Enum.GetValues<TestOperator>().ToDictionary(NameOf);

    /// <summary>The name of an operator in JSON: <c>at-least</c>, <c>within-days</c>.</summary>
    public static string NameOf(TestOperator test) => JsonNamingPolicy.KebabCaseLower.ConvertName(test.ToString());

    public override Condition Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        using var document = JsonDocument.ParseValue(ref reader);
        return FromElement(document.RootElement, 0);
    }

    private static Condition FromElement(JsonElement element, int depth)
    {
        if (depth > DeepestNesting)
            throw new JsonException("the condition is nested too deeply");
        if (element.ValueKind != JsonValueKind.Object)
            throw new JsonException("a condition is an object with all, any, not or field");
        if (element.TryGetProperty("all", out var all))
            return new AllOf(Parts(all, depth));
        if (element.TryGetProperty("any", out var any))
            return new AnyOf(Parts(any, depth));
        if (element.TryGetProperty("not", out var not))
            return new Not(FromElement(not, depth + 1));
        return ReadTest(element);
    }

    private static ImmutableArray<Condition> Parts(JsonElement list, int depth) =>
        list.ValueKind == JsonValueKind.Array
            ? [.. list.EnumerateArray().Select(e => FromElement(e, depth + 1))]
            : throw new JsonException("all and any take a list of conditions");

    private static Test ReadTest(JsonElement element)
    {
        if (!element.TryGetProperty("field", out var field) || field.ValueKind != JsonValueKind.String)
            throw new JsonException("a condition is an object with all, any, not or field");
        if (!element.TryGetProperty("is", out var name) || !Operators.TryGetValue(name.ToString(), out var test))
            throw new JsonException($"\"is\" takes one of {string.Join(", ", Operators.Keys)}");
        var values = element.TryGetProperty("values", out var list) && list.ValueKind == JsonValueKind.Array ? list.EnumerateArray().Select(Stored) : [];
        return new Test(field.GetString()!, test, [.. values]);
    }

    private static string Stored(JsonElement value) => value.ValueKind == JsonValueKind.Number ? value.GetDecimal().ToString(CultureInfo.InvariantCulture) : value.ToString();

    public override void Write(Utf8JsonWriter writer, Condition value, JsonSerializerOptions options)
    {
        writer.WriteStartObject();
        switch (value)
        {
            case AllOf all:
                WriteParts(writer, "all", all.Parts, options);
                break;
            case AnyOf any:
                WriteParts(writer, "any", any.Parts, options);
                break;
            case Not not:
                writer.WritePropertyName("not");
                Write(writer, not.Part, options);
                break;
            case Test test:
                writer.WriteString("field", test.Field);
                writer.WriteString("is", NameOf(test.Operator));
                writer.WriteStartArray("values");
                foreach (var v in test.Values)
                    writer.WriteStringValue(v);
                writer.WriteEndArray();
                break;
        }
        writer.WriteEndObject();
    }

    private void WriteParts(Utf8JsonWriter writer, string name, ImmutableArray<Condition> parts, JsonSerializerOptions options)
    {
        writer.WriteStartArray(name);
        foreach (var part in parts)
            Write(writer, part, options);
        writer.WriteEndArray();
    }
}
