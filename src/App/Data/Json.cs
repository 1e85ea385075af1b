using System.Collections.Immutable;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;
using DapperLantern.Core.Fields;

namespace DapperLantern.App.Data;

/// <summary>The one way JSON is written and read: over HTTP, in editions and in jsonb columns.</summary>
public static class Json
{
    public static JsonSerializerOptions Options { get; } = Make(new JsonSerializerOptions(JsonSerializerDefaults.Web));

    public static JsonSerializerOptions Make(JsonSerializerOptions options)
    {
        options.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase));
        options.NumberHandling = JsonNumberHandling.Strict;
        options.Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping;
        return options;
    }

    public static string Write<T>(T value) => JsonSerializer.Serialize(value, Options);

    /// <exception cref="JsonException">The text does not have the form of <typeparamref name="T"/>.</exception>
    public static T Read<T>(string json) => JsonSerializer.Deserialize<T>(json, Options) ?? throw new JsonException("null");

    /// <summary>The known facts of a record as jsonb: field key to stored value.</summary>
    public static string Facts(IEnumerable<(FieldDefinition Field, FieldValue Value)> known) => Write(known.ToDictionary(k => k.Field.Key, k => k.Value.ToString()));

    /// <summary>Reads facts back; keys the catalogue no longer has are passed over.</summary>
    public static RecordValues ToRecord(string facts, FieldCatalogue catalogue)
    {
        var record = new RecordValues(catalogue);
        foreach (var (key, stored) in Read<Dictionary<string, string>>(facts))
            if (catalogue.Find(key) is { } field)
                record[key] = FieldValue.Parse(field.Type, stored);
        return record;
    }

    public static ImmutableArray<Problem> Problems(string json) => Read<ImmutableArray<Problem>>(json);
}
