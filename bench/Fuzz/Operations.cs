using System.Globalization;
using System.Net;
using System.Text;
using System.Text.Json.Nodes;

namespace DapperLantern.Bench.Fuzz;

/// <summary>
/// Requests made from an API description (OpenAPI): each operation with values of its schema, and then with some of them spoilt. The same seed and number give the
/// same request, as far as the values that the server gave are the same.
/// </summary>
public sealed class Operations
{
    private const int Deepest = 6;

    // Looks through all records, and would take most of the time.
    private static readonly string[] Seldom = ["POST /api/matching/learn"];

    private readonly JsonObject _schemas;
    private readonly List<Operation> _all = [];
    private readonly Values _values;
    private readonly IReadOnlyList<(string Name, byte[] Content)> _files;

    private sealed record Operation(string Method, string Path, JsonArray Parameters, JsonObject? Content)
    {
        public override string ToString() => $"{Method} {Path}";
    }

    /// <param name="files">Files to send, whole and spoilt.</param>
    /// <param name="more">Addresses that take a form of a browser and stand in no description, "POST /f/survey", with the names of their fields.</param>
    public Operations(JsonNode description, Values values, IReadOnlyList<(string Name, byte[] Content)> files, IReadOnlyDictionary<string, string[]> more)
    {
        (_values, _files) = (values, files);
        _schemas = description["components"]!["schemas"]!.AsObject();
        foreach (var (path, methods) in description["paths"]!.AsObject())
        foreach (var (method, operation) in methods!.AsObject())
            _all.Add(new Operation(method.ToUpperInvariant(), path, operation!["parameters"]?.AsArray() ?? [], operation["requestBody"]?["content"]?.AsObject()));
        foreach (var (address, fields) in more)
            _all.Add(
                new Operation(
                    address.Split(' ')[0],
                    address.Split(' ')[1],
                    [],
                    new JsonObject
                    {
                        ["application/x-www-form-urlencoded"] = new JsonObject
                        {
                            ["schema"] = new JsonObject
                            {
                                ["properties"] = new JsonObject(fields.Select(f => KeyValuePair.Create(f, (JsonNode?)new JsonObject { ["type"] = "string" }))),
                            },
                        },
                    }
                )
            );
    }

    public int Count => _all.Count;

    /// <summary>Addresses that are read without any value: the server's own lists, to learn values from.</summary>
    public IEnumerable<string> Plain => _all.Where(o => o.Method == "GET" && !o.Path.Contains('{', StringComparison.Ordinal)).Select(o => o.Path);

    /// <summary>The request of a number. Operations take turns, so that none is left out.</summary>
    public Shot Make(int seed, int number)
    {
        var random = new Random(unchecked(seed * 1_000_003 + number));
        var operation = _all[number % _all.Count];
        if (Seldom.Contains(operation.ToString()) && random.Next(20) != 0)
            operation = _all[random.Next(_all.Count)];
        // One in six stays as its schema has it, so that what lies behind the checks is reached too.
        var spoil = random.Next(6) == 0 ? 0 : random.Next(1, 4);
        var path = operation.Path;
        var query = new List<string>();
        foreach (var parameter in operation.Parameters.Select(p => p!.AsObject()))
        {
            var name = (string)parameter["name"]!;
            var inPath = (string)parameter["in"]! == "path";
            if (!inPath && parameter["required"] is null && random.Next(3) == 0)
                continue;
            var value = spoil > 0 && random.Next(inPath ? 10 : 3) == 0 ? Values.Text(random) : Plainly(parameter["schema"]!.AsObject(), name, random);
            var escaped = random.Next(20) == 0 && spoil > 0 ? value.Replace("#", "", StringComparison.Ordinal).Replace("?", "", StringComparison.Ordinal) : Escaped(value);
            if (inPath)
                path = path.Replace($"{{{name}}}", escaped.Length == 0 ? "-" : escaped, StringComparison.Ordinal);
            else
                query.Add($"{name}={escaped}");
        }
        if (spoil > 0 && random.Next(12) == 0)
            query.Add($"{Escaped(Values.Text(random))}={Escaped(Values.Text(random))}");
        var (body, type) = operation.Content is null ? ((byte[]?)null, null) : Body(operation, spoil, random);
        return new Shot(operation.ToString(), new HttpMethod(operation.Method), path + (query.Count == 0 ? "" : "?" + string.Join('&', query)), body, type, Headers(spoil, random));
    }

    // Half letters cannot be sent as they are; a browser sends what stands in for them, a machine the bytes.
    private static string Escaped(string text) => string.Concat(Bytes(text).Select(b => char.IsAsciiLetterOrDigit((char)b) || b == '-' ? $"{(char)b}" : $"%{b:X2}"));

    private static byte[] Bytes(string text)
    {
        var bytes = new List<byte>();
        for (var i = 0; i < text.Length && bytes.Count < 3000; i++)
            if (char.IsHighSurrogate(text[i]) && i + 1 < text.Length && char.IsLowSurrogate(text[i + 1]))
                bytes.AddRange(Encoding.UTF8.GetBytes(text.Substring(i++, 2)));
            else if (char.IsSurrogate(text[i]))
                bytes.AddRange([0xED, (byte)(0x80 | ((text[i] >> 6) & 0x3F)), (byte)(0x80 | (text[i] & 0x3F))]);
            else
                bytes.AddRange(Encoding.UTF8.GetBytes(text, i, 1));
        return [.. bytes];
    }

    private static List<(string, string)> Headers(int spoil, Random random)
    {
        var headers = new List<(string, string)>();
        if (random.Next(3) == 0)
            headers.Add(("If-Match", spoil > 0 && random.Next(3) == 0 ? "\"x\"" : $"\"{random.Next(4)}\""));
        if (random.Next(5) == 0)
            headers.Add(("Idempotency-Key", spoil > 0 && random.Next(3) == 0 ? new string('k', random.Next(1, 4000)) : $"key-{random.Next(50)}"));
        if (random.Next(10) == 0)
            headers.Add(("Accept-Language", spoil > 0 ? "zz-ZZ-x-1;q=9,*;q=-1,,de" : "de, nb;q=0.8"));
        if (random.Next(20) == 0)
            headers.Add(("Accept", "application/x-nothing"));
        return headers;
    }

    private (byte[] Body, string Type) Body(Operation operation, int spoil, Random random)
    {
        var (type, content) = operation.Content!.ElementAt(random.Next(operation.Content!.Count));
        var schema = content!["schema"]?.AsObject() ?? [];
        if (type == "multipart/form-data")
            return Multipart(PartsOf(schema), spoil, random);
        if (type == "application/x-www-form-urlencoded")
            return (
                Encoding.ASCII.GetBytes(
                    string.Join('&', PartsOf(schema).Select(f => $"{f}={Escaped(random.Next(3) == 0 ? Values.Text(random) : _values.Seen(random, f) ?? "x")}"))
                ),
                type
            );
        if (!type.Contains("json", StringComparison.Ordinal))
            return (Spoilt(_files[random.Next(_files.Count)].Content, spoil, random), type);
        var bytes = Encoding.UTF8.GetBytes(Json(schema, "", spoil, 0, random));
        if (spoil > 0 && random.Next(8) == 0)
            bytes = Spoilt(bytes, 1, random);
        return (bytes, spoil > 0 && random.Next(40) == 0 ? "text/plain" : "application/json");
    }

    // The names of a form's fields, from its schema or the one that it refers to.
    private List<string> PartsOf(JsonObject schema) =>
        schema["$ref"] is { } reference ? PartsOf(_schemas[((string)reference!).Split('/')[^1]]!.AsObject())
        : schema["allOf"] is JsonArray all ? [.. all.SelectMany(part => PartsOf(part!.AsObject()))]
        : [.. (schema["properties"]?.AsObject() ?? []).Select(p => p.Key)];

    // Text fields of forms that hold JSON, and its schema.
    private static readonly Dictionary<string, string> JsonParts = new() { ["sheet"] = "RuleSheet" };

    private string TextPart(string name, int spoil, Random random) =>
        JsonParts.TryGetValue(name, out var schema) && random.Next(4) != 0 ? Json(_schemas[schema]!.AsObject(), name, spoil, 0, random) : _values.Seen(random, name) ?? "x";

    private (byte[], string) Multipart(IEnumerable<string> parts, int spoil, Random random)
    {
        const string Edge = "----edge";
        var (name, content) = _files[random.Next(_files.Count)];
        var file = spoil > 0 && random.Next(6) == 0 ? Values.Text(random).ReplaceLineEndings("").Replace("\"", "", StringComparison.Ordinal) : name;
        using var body = new MemoryStream();
        body.Write(
            Encoding.UTF8.GetBytes($"--{Edge}\r\nContent-Disposition: form-data; name=\"{(spoil > 0 && random.Next(9) == 0 ? "other" : "file")}\"; filename=\"{file}\"\r\n\r\n")
        );
        body.Write(Spoilt(content, spoil, random));
        foreach (var part in parts.Where(p => p != "file" && (spoil == 0 || random.Next(9) != 0)))
            body.Write(Encoding.UTF8.GetBytes($"\r\n--{Edge}\r\nContent-Disposition: form-data; name=\"{part}\"\r\n\r\n{TextPart(part, spoil, random)}"));
        body.Write(Encoding.ASCII.GetBytes($"\r\n--{Edge}--\r\n"));
        return (spoil > 0 && random.Next(12) == 0 ? Spoilt(body.ToArray(), 1, random) : body.ToArray(), $"multipart/form-data; boundary={Edge}");
    }

    // Bytes changed, cut out, doubled, or the end missing.
    private static byte[] Spoilt(byte[] content, int times, Random random)
    {
        var bytes = content.ToList();
        for (var n = 0; n < times && bytes.Count > 0; n++)
        {
            var at = random.Next(bytes.Count);
            switch (random.Next(4))
            {
                case 0:
                    bytes[at] = (byte)random.Next(256);
                    break;
                case 1:
                    bytes.RemoveRange(at, Math.Min(random.Next(1, 40), bytes.Count - at));
                    break;
                case 2:
                    bytes.InsertRange(at, bytes.Skip(at).Take(random.Next(1, 40)).ToArray());
                    break;
                default:
                    bytes.RemoveRange(at, bytes.Count - at);
                    break;
            }
        }
        return [.. bytes];
    }

    // A path or query value of the schema's type.
    private string Plainly(JsonObject schema, string name, Random random) =>
        (string?)schema["format"] == "uuid" ? _values.Id(random)
        : TypeOf(schema) is "integer" or "number"
            ? random.Next(3) == 0 ? Values.Number(random)
                : random.Next(1, 60).ToString(CultureInfo.InvariantCulture)
        : TypeOf(schema) == "boolean"
            ? random.Next(2) == 0 ? "true"
                : "false"
        : name == "where" ? Condition(random, 0)
        : schema["enum"] is JsonArray of ? of[random.Next(of.Count)]?.ToString() ?? ""
        : _values.Seen(random, name) ?? "x";

    private static string? TypeOf(JsonObject schema) =>
        schema["type"] switch
        {
            JsonArray several => several.Select(t => (string)t!).FirstOrDefault(t => t != "null"),
            { } one => (string)one!,
            null => null,
        };

    // JSON as text, so that what no writer writes can be written: numbers beyond any range, names twice.
    private string Json(JsonObject schema, string name, int spoil, int depth, Random random)
    {
        if (spoil > 0 && random.Next(14) == 0)
            return Wrong(random);
        if (schema["$ref"] is { } reference)
        {
            var key = ((string)reference!).Split('/')[^1];
            if (key == "Condition")
                return Condition(random, depth);
            return depth > Deepest ? "null" : Json(_schemas[key]!.AsObject(), name, spoil, depth + 1, random);
        }
        if (schema["oneOf"] is JsonArray oneOf)
            return Json(oneOf[random.Next(oneOf.Count)]!.AsObject(), name, spoil, depth, random);
        if (schema["enum"] is JsonArray of)
            return of[random.Next(of.Count)]?.ToJsonString() ?? "null";
        return TypeOf(schema) switch
        {
            "object" => Object(schema, spoil, depth, random),
            "array" => depth > Deepest
                ? "[]"
                : $"[{string.Join(',', Enumerable.Range(0, random.Next(4)).Select(_ => Json(schema["items"]?.AsObject() ?? [], name, spoil, depth + 1, random)))}]",
            "integer" or "number" => spoil > 0 && random.Next(4) == 0 ? Values.Number(random) : random.Next(100).ToString(CultureInfo.InvariantCulture),
            "boolean" => random.Next(2) == 0 ? "true" : "false",
            "string" => Quoted(schema, name, spoil, random),
            _ => random.Next(3) == 0 ? "null" : Values.Quoted(_values.Seen(random, name) ?? "x"),
        };
    }

    private string Object(JsonObject schema, int spoil, int depth, Random random)
    {
        var parts = new List<string>();
        foreach (var (key, value) in schema["properties"]?.AsObject() ?? [])
        {
            if (spoil > 0 && random.Next(10) == 0)
                continue;
            parts.Add($"{Values.Quoted(key)}:{Json(value!.AsObject(), key, spoil, depth, random)}");
        }
        if (schema["additionalProperties"] is JsonObject any)
            for (var n = random.Next(4); n > 0; n--)
                parts.Add(
                    $"{Values.Quoted(spoil > 0 && random.Next(4) == 0 ? Values.Text(random) : _values.Seen(random, "key") ?? "k")}:{Json(any, "value", spoil, depth + 1, random)}"
                );
        if (spoil > 0 && random.Next(12) == 0)
            parts.Add($"{Values.Quoted(Values.Text(random))}:{Wrong(random)}");
        if (spoil > 0 && parts.Count > 0 && random.Next(20) == 0)
            parts.Add(parts[random.Next(parts.Count)]);
        return $"{{{string.Join(',', parts)}}}";
    }

    private string Quoted(JsonObject schema, string name, int spoil, Random random) =>
        Values.Quoted(
            spoil > 0 && random.Next(3) == 0 ? Values.Text(random)
            : (string?)schema["format"] == "uuid" ? _values.Id(random)
            : (string?)schema["format"] is "date-time" or "date"
                ? DateTime.UnixEpoch.AddDays(random.Next(20_000, 21_000)).ToString("O", CultureInfo.InvariantCulture)[..((string)schema["format"]! == "date" ? 10 : 28)]
            : _values.Seen(random, name) ?? "x"
        );

    private static string Wrong(Random random) =>
        random.Next(9) switch
        {
            0 => "null",
            1 => "[null]",
            2 => "{}",
            3 => Values.Number(random),
            4 => "true",
            5 => new string('[', 80) + new string(']', 80),
            6 => "[[],{},null,\"\"]",
            7 => $"{{{Values.Quoted(Values.Text(random))}:null}}",
            _ => Values.Quoted(Values.Text(random)),
        };

    private string Condition(Random random, int depth) =>
        random.Next(depth > 3 ? 3 : 6) switch
        {
            0 or 1 =>
                $"{{\"field\":{Values.Quoted(_values.Seen(random, "field") ?? "country")},\"is\":{Values.Quoted(Is[random.Next(Is.Length)])},\"values\":[{Values.Quoted(random.Next(3) == 0 ? Values.Text(random) : _values.Seen(random, "value") ?? "NO")}]}}",
            2 => Wrong(random),
            3 => $"{{\"all\":[{Condition(random, depth + 1)},{Condition(random, depth + 1)}]}}",
            4 => $"{{\"any\":[{Condition(random, depth + 1)}]}}",
            _ => $"{{\"not\":{Condition(random, depth + 1)}}}",
        };

    private static readonly string[] Is = ["in", "not in", "contains", "=", "<", ">=", "between", "known", "unknown", "within", "starts with", "nonsense"];
}
