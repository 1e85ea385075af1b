using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace DapperLantern.Bench.Fuzz;

/// <summary>Values that programs stumble over, and values that a server gave before, by the name they had there.</summary>
public sealed class Values
{
    private const int MostOfName = 400;
    private readonly Dictionary<string, List<string>> _seen = [];
    private readonly List<string> _ids = [];

    private static readonly string[] Texts =
    [
        "",
        " ",
        "\u0000",
        "a\u0000b",
        "\ud800",
        "x\udfffy",
        "\u202eevil\u202c",
        "\u200b",
        "é",
        "e\u0301",
        "ﬀ",
        "👩‍👩‍👧‍👦",
        "Ω≈ç√",
        "北京",
        "שלום",
        "null",
        "true",
        "-1",
        "0",
        "1e400",
        "NaN",
        "12,000",
        "1.234,5",
        "0x1f",
        "' or 1=1 --",
        "\"; drop table lead; --",
        "%",
        "_",
        "\\",
        "%00",
        "../../etc/passwd",
        "=cmd|' /C calc'!A0",
        "{{ lead.email }}",
        "{% for x in (1..99999999) %}x{% endfor %}",
        "{{",
        "<script>alert(1)</script>",
        "\r\nBcc: all@example.org",
        "2026-02-30",
        "0000-00-00",
        "9999-12-31T23:59:59Z",
        "-4712-01-01",
        "24:61",
        "+14155552671",
        "a@b",
        "Æ@ø.example",
        "@",
        "http://[::1",
        "javascript:alert(1)",
        "{}",
        "[]",
        "\"",
        "00000000-0000-0000-0000-000000000000",
        "ffffffff-ffff-ffff-ffff-ffffffffffff",
    ];

    private static readonly string[] Numbers =
    [
        "0",
        "-0",
        "-1",
        "1",
        "2",
        "3.5",
        "2147483647",
        "2147483648",
        "-2147483649",
        "9223372036854775808",
        "1e-400",
        "1e308",
        "1e400",
        "0.1",
        "79228162514264337593543950336",
        "1E3",
    ];

    /// <summary>Notes the values of an answer by their names.</summary>
    public void Learn(JsonNode? answer, string name = "")
    {
        switch (answer)
        {
            case JsonObject fields:
                foreach (var (key, value) in fields)
                    Learn(value, key);
                break;
            case JsonArray items:
                foreach (var item in items.Take(50))
                    Learn(item, name);
                break;
            case JsonValue value when value.GetValueKind() is JsonValueKind.String or JsonValueKind.Number:
                var text = value.ToString();
                if (text.Length > 200)
                    break;
                var known = _seen.TryGetValue(name, out var list) ? list : _seen[name] = [];
                if (known.Count < MostOfName)
                    known.Add(text);
                if (Guid.TryParse(text, out _) && _ids.Count < 5000)
                    _ids.Add(text);
                break;
        }
    }

    /// <summary>An id the server gave, any.</summary>
    public string Id(Random random) => _ids.Count == 0 || random.Next(12) == 0 ? Guid.NewGuid().ToString() : _ids[random.Next(_ids.Count)];

    /// <summary>Something that stood under this name, else under any; null when nothing is known.</summary>
    public string? Seen(Random random, string name) =>
        _seen.TryGetValue(name, out var list) ? list[random.Next(list.Count)]
        : _seen.Count == 0 ? null
        : _seen.ElementAt(random.Next(_seen.Count)).Value is var any ? any[random.Next(any.Count)]
        : null;

    /// <summary>A text to stumble over.</summary>
    public static string Text(Random random) =>
        random.Next(14) switch
        {
            0 => new string('x', random.Next(1, 120_000)),
            1 => string.Concat(Enumerable.Range(0, random.Next(1, 60)).Select(_ => (char)random.Next(1, 0xFFFF))),
            2 => Texts[random.Next(Texts.Length)] + Texts[random.Next(Texts.Length)],
            3 => random.NextInt64(long.MinValue, long.MaxValue).ToString(CultureInfo.InvariantCulture),
            _ => Texts[random.Next(Texts.Length)],
        };

    /// <summary>A number to stumble over, as it is written in JSON.</summary>
    public static string Number(Random random) => Numbers[random.Next(Numbers.Length)];

    /// <summary>A text as JSON writes it; half letters stay what they are, as an escape.</summary>
    public static string Quoted(string text)
    {
        var written = new StringBuilder("\"");
        foreach (var c in text)
            if (c is '"' or '\\' || c < ' ' || char.IsSurrogate(c))
                written.Append(CultureInfo.InvariantCulture, $"\\u{(int)c:x4}");
            else
                written.Append(c);
        return written.Append('"').ToString();
    }
}
