using System.Text;
using System.Text.Json;

namespace DapperLantern.App.Intake.Lists;

/// <summary>JSON and JSON Lines as rows: an array of objects, an object with one such array in it, or an object a line. Nested names are joined by dots.</summary>
public static class JsonRecords
{
    /// <summary>Largest file that is not an array at its root, in bytes; such a file is read whole.</summary>
    public const long LargestWrapped = 64L << 20;

    private const int Deepest = 8;

    private static readonly JsonDocumentOptions Lenient = new()
    {
        AllowTrailingCommas = true,
        CommentHandling = JsonCommentHandling.Skip,
        MaxDepth = 64,
    };

    private static readonly JsonSerializerOptions LenientStream = new()
    {
        AllowTrailingCommas = true,
        ReadCommentHandling = JsonCommentHandling.Skip,
        MaxDepth = 64,
        DefaultBufferSize = 1 << 16,
    };

    public static bool Looks(string head) => head.TrimStart('\uFEFF', ' ', '\r', '\n', '\t') is ['[' or '{', ..];

    /// <summary>True when each line holds an object of its own.</summary>
    public static bool LooksLikeLines(string head)
    {
        var lines = head.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(l => l.Trim()).Where(l => l.Length > 0).Take(3).ToArray();
        return lines.Length > 0
            && lines[0] is ['{', .., '}']
            && (lines.Length == 1 ? IsObject(lines[0]) && head.TrimEnd().EndsWith('}') && !HasArrayOfObjects(lines[0]) : lines[1].StartsWith('{') && IsObject(lines[0]));
    }

    /// <summary>All names that occur, in order of first appearance. Reads the file once.</summary>
    /// <exception cref="JsonException">The file is not JSON; the message says where.</exception>
    public static string[] Headings(Stream stream, ListReading reading)
    {
        var names = new Dictionary<string, int>();
        foreach (var (record, _) in Records(stream, reading))
            if (record is { ValueKind: JsonValueKind.Object } found)
                foreach (var (name, _) in Flatten(found))
                    if (names.Count <= ListFile.MostColumns)
                        names.TryAdd(name, names.Count);
        return [.. names.Keys];
    }

    public static IEnumerable<ListRow> Rows(Stream stream, ListReading reading, string[] headings)
    {
        var at = headings.Select((h, i) => (h, i)).ToDictionary(p => p.h, p => p.i);
        var number = 0;
        foreach (var (record, raw) in Records(stream, reading))
            if (record is not { ValueKind: JsonValueKind.Object } found)
                yield return new ListRow(++number, [raw], "no object with names and values");
            else
            {
                var cells = new string[headings.Length];
                Array.Fill(cells, "");
                foreach (var (name, value) in Flatten(found))
                    if (at.TryGetValue(name, out var i))
                        cells[i] = value;
                yield return new ListRow(++number, cells);
            }
    }

    private static IEnumerable<(JsonElement? Record, string Raw)> Records(Stream stream, ListReading reading)
    {
        stream.Position = 0;
        if (reading.Format == ListFormat.JsonLines)
            return Lines(stream, reading.Encoding);
        if (reading.Encoding != "utf-8")
            return Wrapped(TextEncoding.Reader(stream, reading.Encoding).ReadToEnd());
        SkipMark(stream);
        return FirstByte(stream) == '['
            ? JsonSerializer.DeserializeAsyncEnumerable<JsonElement>(stream, LenientStream).ToBlockingEnumerable().Select(e => ((JsonElement?)e, e.GetRawText()))
            : Wrapped(TextEncoding.Reader(stream, reading.Encoding).ReadToEnd());
    }

    private static IEnumerable<(JsonElement?, string)> Lines(Stream stream, string encoding)
    {
        using var text = TextEncoding.Reader(stream, encoding);
        while (text.ReadLine() is { } line)
            if (line.Trim() is { Length: > 0 } plain)
                yield return (TryParse(plain), plain);
    }

    // The first array of objects found from the root down; an object without one is a single record.
    private static IEnumerable<(JsonElement?, string)> Wrapped(string text)
    {
        using var document = JsonDocument.Parse(text, Lenient);
        var root = document.RootElement;
        var list =
            root.ValueKind == JsonValueKind.Array ? root
            : root.ValueKind == JsonValueKind.Object ? root.EnumerateObject().Select(p => p.Value).FirstOrDefault(IsListOfObjects)
            : default;
        return list.ValueKind == JsonValueKind.Array ? [.. list.EnumerateArray().Select(e => ((JsonElement?)e.Clone(), e.GetRawText()))] : [(root.Clone(), root.GetRawText())];
    }

    private static bool IsListOfObjects(JsonElement value) => value.ValueKind == JsonValueKind.Array && value.GetArrayLength() > 0 && value[0].ValueKind == JsonValueKind.Object;

    private static bool IsObject(string line) => TryParse(line) is { ValueKind: JsonValueKind.Object };

    private static bool HasArrayOfObjects(string line) => TryParse(line) is { ValueKind: JsonValueKind.Object } found && found.EnumerateObject().Any(p => IsListOfObjects(p.Value));

    private static JsonElement? TryParse(string line)
    {
        try
        {
            using var document = JsonDocument.Parse(line, Lenient);
            return document.RootElement.Clone();
        }
        catch (JsonException)
        {
            return null;
        }
    }

    private static IEnumerable<(string Name, string Value)> Flatten(JsonElement record, string prefix = "", int depth = 0)
    {
        foreach (var property in record.EnumerateObject())
        {
            var name = prefix + NameOf(property);
            switch (property.Value.ValueKind)
            {
                case JsonValueKind.Object when depth < Deepest:
                    foreach (var inner in Flatten(property.Value, name + ".", depth + 1))
                        yield return inner;
                    break;
                case JsonValueKind.Array when property.Value.EnumerateArray().All(e => e.ValueKind is not (JsonValueKind.Object or JsonValueKind.Array)):
                    yield return (name, string.Join(", ", property.Value.EnumerateArray().Select(Scalar)));
                    break;
                case JsonValueKind.Array when IsListOfObjects(property.Value) && depth < Deepest:
                    foreach (var inner in Flatten(property.Value[0], name + ".", depth + 1))
                        yield return inner;
                    break;
                default:
                    yield return (name, Scalar(property.Value));
                    break;
            }
        }
    }

    private static string Scalar(JsonElement value) =>
        value.ValueKind switch
        {
            JsonValueKind.String => Text(value),
            JsonValueKind.Null or JsonValueKind.Undefined => "",
            JsonValueKind.True => "true",
            JsonValueKind.False => "false",
            _ => value.GetRawText(),
        };

    private static string NameOf(JsonProperty property)
    {
        try
        {
            return property.Name;
        }
        catch (InvalidOperationException)
        {
            return System.Text.Encoding.UTF8.GetString(System.Runtime.InteropServices.JsonMarshal.GetRawUtf8PropertyName(property));
        }
    }

    // Half of a surrogate pair is no text; it is shown as it stands in the file.
    private static string Text(JsonElement value)
    {
        try
        {
            return value.GetString() ?? "";
        }
        catch (InvalidOperationException)
        {
            return value.GetRawText().Trim('"');
        }
    }

    private static void SkipMark(Stream stream)
    {
        Span<byte> mark = stackalloc byte[3];
        if (stream.Read(mark) < 3 || mark is not [0xEF, 0xBB, 0xBF])
            stream.Position = 0;
    }

    private static int FirstByte(Stream stream)
    {
        var start = stream.Position;
        int found;
        while ((found = stream.ReadByte()) is ' ' or '\r' or '\n' or '\t') { }
        stream.Position = start;
        return found;
    }
}
