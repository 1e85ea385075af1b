using System.Buffers;
using System.Collections.Immutable;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using DapperLantern.Core.Fields;

namespace DapperLantern.App.Data;

/// <summary>The one way JSON is written and read: over HTTP, in editions and in jsonb columns.</summary>
public static class Json
{
    public static JsonSerializerOptions Options { get; } = Make(new JsonSerializerOptions(JsonSerializerDefaults.Web));

    /// <summary>The same with line breaks, for files people open.</summary>
    public static JsonSerializerOptions Readable { get; } = new(Options) { WriteIndented = true };

    public static JsonSerializerOptions Make(JsonSerializerOptions options)
    {
        options.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase, allowIntegerValues: false));
        options.NumberHandling = JsonNumberHandling.Strict;
        options.Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping;
        return options;
    }

    public static string Write<T>(T value) => JsonSerializer.Serialize(value, Options);

    /// <exception cref="JsonException">The text does not have the form of <typeparamref name="T"/>.</exception>
    public static T Read<T>(string json) => JsonSerializer.Deserialize<T>(json, Options) ?? throw new JsonException("null");

    /// <summary>True when two JSON texts say the same: the database keeps JSON in an order of its own.</summary>
    public static bool Same(string one, string other) => one == other || JsonNode.DeepEquals(JsonNode.Parse(one), JsonNode.Parse(other));

    /// <summary>The known facts of a record as jsonb: field key to stored value.</summary>
    public static string Facts(IEnumerable<(FieldDefinition Field, FieldValue Value)> known) => Write(known.ToDictionary(k => k.Field.Key, k => k.Value.ToString()));

    private static readonly JsonWriterOptions Unchecked = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping, SkipValidation = true };

    // One of each for a thread: a million rows are written through them.
    [ThreadStatic]
    private static ArrayBufferWriter<byte>? t_buffer;

    [ThreadStatic]
    private static Utf8JsonWriter? t_writer;

    /// <summary>The same of a whole record.</summary>
    public static string Facts(RecordValues record)
    {
        var (buffer, json) = (t_buffer ??= new ArrayBufferWriter<byte>(2048), t_writer ??= new Utf8JsonWriter(t_buffer, Unchecked));
        buffer.ResetWrittenCount();
        json.Reset(buffer);
        json.WriteStartObject();
        foreach (var field in record.Catalogue.Fields)
            if (record[field.Ordinal] is { IsKnown: true } value)
                json.WriteString(field.Key, value.ToString());
        json.WriteEndObject();
        json.Flush();
        return System.Text.Encoding.UTF8.GetString(buffer.WrittenSpan);
    }

    /// <summary>Reads facts back; keys the catalogue no longer has are passed over.</summary>
    public static RecordValues ToRecord(string facts, FieldCatalogue catalogue)
    {
        var record = new RecordValues(catalogue);
        if (facts == "{}")
            return record;
        var bytes = ArrayPool<byte>.Shared.Rent(System.Text.Encoding.UTF8.GetMaxByteCount(facts.Length));
        try
        {
            var reader = new Utf8JsonReader(bytes.AsSpan(0, System.Text.Encoding.UTF8.GetBytes(facts, bytes)));
            FieldDefinition? field = null;
            while (reader.Read())
                if (reader.TokenType == JsonTokenType.PropertyName)
                    field = catalogue.Find(reader.GetString()!);
                else if (reader.TokenType == JsonTokenType.String && field is not null)
                    record[field.Ordinal] = FieldValue.Parse(field.Type, reader.GetString());
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(bytes);
        }
        return record;
    }

    public static ImmutableArray<Problem> Problems(string json) => Read<ImmutableArray<Problem>>(json);
}
