using System.Text;
using DapperLantern.Core.Intake;
using UtfUnknown;

namespace DapperLantern.App.Intake.Lists;

/// <summary>Two readings of the same bytes between which the letters do not decide.</summary>
/// <param name="Other">IANA name of the encoding that may be meant instead.</param>
/// <param name="Sample">Words as they are read now.</param>
/// <param name="OtherSample">The same words in the other encoding.</param>
public sealed record EncodingDoubt(string Other, string Sample, string OtherSample);

/// <summary>Finds the encoding of a text file.</summary>
public static class TextEncoding
{
    private const int Look = 1 << 18;

    // Bytes beyond ASCII that are looked at; more would not change the answer.
    private const int MostLetters = 6000;

    // A lead this small over the next best reading is a doubt.
    private const double Doubtful = 0.35;

    // Tried in this order; of equal readings the first is taken. GB18030 and Big5 read nearly any bytes, so they come late.
    private static readonly string[] Candidates =
    [
        "windows-1252",
        "windows-1250",
        "iso-8859-2",
        "iso-8859-15",
        "windows-1251",
        "koi8-r",
        "koi8-u",
        "iso-8859-5",
        "ibm866",
        "macintosh",
        "windows-1254",
        "windows-1257",
        "windows-1253",
        "iso-8859-7",
        "iso-8859-13",
        "ibm850",
        "ibm852",
        "windows-1255",
        "windows-1256",
        "x-mac-ce",
        "shift_jis",
        "euc-jp",
        "euc-kr",
        "big5",
        "gb18030",
    ];

    private static readonly HashSet<string> ManyByte = ["shift_jis", "euc-jp", "euc-kr", "big5", "gb18030"];

    static TextEncoding() => Register();

    /// <summary>Makes the runtime know the code pages; called at the start, since rows that were kept before are read again in them.</summary>
    public static void Register() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    /// <summary>Windows-1252. Asked for here, so that the runtime knows it whoever asks first.</summary>
    public static Encoding Western => Encoding.GetEncoding("windows-1252");

    /// <summary>Encodings a person may choose, by IANA name: those most met first, then all the platform has.</summary>
    public static IReadOnlyList<string> Known { get; } =
    [
        .. new[] { "utf-8", "utf-16", "utf-16BE", "windows-1252", "iso-8859-1" }
            .Concat(Candidates)
            .Concat(CodePagesEncodingProvider.Instance.GetEncodings().Select(e => e.Name).Concat(Encoding.GetEncodings().Select(e => e.Name)).Order(StringComparer.Ordinal))
            // UTF-7 is unsafe, and EBCDIC is not what lists come in.
            .Where(e =>
                !e.StartsWith("utf-7", StringComparison.OrdinalIgnoreCase)
                && !e.StartsWith("ibm0", StringComparison.OrdinalIgnoreCase)
                && !e.StartsWith("cp", StringComparison.OrdinalIgnoreCase)
            )
            .Distinct(StringComparer.OrdinalIgnoreCase),
    ];

    /// <summary>A reader that never fails: what cannot be decoded becomes U+FFFD. A byte order mark is passed over.</summary>
    public static StreamReader Reader(Stream stream, string encoding) => new(stream, Encoding.GetEncoding(encoding), true, 1 << 16, leaveOpen: true);

    /// <summary>The encoding's IANA name, or null when these bytes are no text. The stream is left at its start.</summary>
    public static string? Detect(Stream stream) => DetectWithDoubt(stream).Encoding;

    /// <summary>The same, with the reading that may be meant instead; null where nothing is in doubt.</summary>
    public static (string? Encoding, EncodingDoubt? Doubt) DetectWithDoubt(Stream stream)
    {
        var head = Head(stream, 0);
        stream.Position = 0;
        if (head is [0xFF, 0xFE, ..] or [0xFE, 0xFF, ..])
            return (head[0] == 0xFF ? "utf-16" : "utf-16BE", null);
        if (Utf16WithoutMark(head) is { } wide)
            return (wide, null);
        if (head.AsSpan().IndexOf("\u001b$"u8) is >= 0)
            return ("iso-2022-jp", null);
        if (LooksBinary(head))
            return (null, null);
        var broken = FirstNotUtf8(stream);
        var found = broken < 0 ? ("utf-8", null) : ByLetters(Head(stream, Math.Max(0, broken - Look / 2)));
        stream.Position = 0;
        return found;
    }

    // The upper bytes of text in UTF-16 are few and small in every alphabet but those of the far east, which come with a mark; the lower ones are not.
    private static string? Utf16WithoutMark(byte[] head)
    {
        const int Upper = 6;
        var pairs = head.Length / 2;
        if (pairs < 4 || head.AsSpan().IndexOf((byte)0) < 0)
            return null;
        var (even, odd) = (0, 0);
        for (var i = 0; i < pairs; i++)
        {
            even += head[2 * i] <= Upper ? 1 : 0;
            odd += head[2 * i + 1] <= Upper ? 1 : 0;
        }
        return odd > pairs * 0.9 && even < pairs * 0.3 ? "utf-16"
            : even > pairs * 0.9 && odd < pairs * 0.3 ? "utf-16BE"
            : null;
    }

    private static bool LooksBinary(byte[] head)
    {
        var strange = 0;
        foreach (var b in head)
            if (b == 0 || (b < 32 && b is not (9 or 10 or 13 or 12 or 27)))
                strange++;
        return strange > head.Length / 200;
    }

    // Position near the first byte that is not UTF-8, or -1.
    private static long FirstNotUtf8(Stream stream)
    {
        stream.Position = 0;
        var decoder = new UTF8Encoding(false, true).GetDecoder();
        var bytes = new byte[1 << 16];
        var letters = new char[(1 << 16) + 4];
        try
        {
            for (int read; (read = stream.Read(bytes)) > 0; )
                decoder.GetChars(bytes, 0, read, letters, 0, false);
            decoder.GetChars([], 0, 0, letters, 0, true);
            return -1;
        }
        catch (DecoderFallbackException)
        {
            return Math.Max(0, stream.Position - bytes.Length);
        }
    }

    // The reading whose letters are likeliest. What the byte statistics of UTF.Unknown say counts as well, most where many bytes make a letter.
    private static (string, EncodingDoubt?) ByLetters(byte[] part)
    {
        var words = Words(part);
        var told = (CharsetDetector.DetectFromBytes(part).Details ?? []).Where(d => d.Encoding is not null).ToLookup(d => d.Encoding.WebName, d => d.Confidence);
        var readings = Candidates
            .Select(name => (Name: name, Text: Decode(words, name)))
            .Where(r => r.Text is not null)
            .Select(r => (r.Name, Text: r.Text!, Odds: LetterOdds.Of(r.Text!) + Hint(told, r.Name) + Prior(r.Name, words.Length)))
            .OrderByDescending(r => r.Odds)
            .ToList();
        var best = readings[0];
        // Readings that differ in nothing are one; of them the first in the table is named.
        var name = Candidates.First(c => readings.Exists(r => r.Name == c && r.Text == best.Text));
        // Windows-1252 says the same where Latin 1 says anything (WHATWG Encoding, 4.2); Latin 9 has its euro sign where that has the currency sign nobody writes.
        if (name == "windows-1252" && words.Contains((byte)0xA4) && !words.Any(b => b is >= 0x80 and <= 0x9F))
            name = "iso-8859-15";
        var other = readings.FirstOrDefault(r => r.Text != best.Text);
        var doubt =
            other.Name is not null && best.Odds - other.Odds < Doubtful ? new EncodingDoubt(other.Name, Sample(best.Text, other.Text), Sample(other.Text, best.Text)) : null;
        return (name, doubt);
    }

    // How seldom lists come in an encoding; it counts where there are few letters to tell by.
    private static double Prior(string name, int length) =>
        (
            name switch
            {
                "windows-1252" => 0,
                "windows-1250" or "windows-1251" or "macintosh" => -0.1,
                "iso-8859-2" or "iso-8859-15" or "koi8-r" => -0.2,
                _ => -0.5,
            }
        )
        * 4
        / (3 + Math.Sqrt(length));

    private static double Hint(ILookup<string, float> told, string name) =>
        told[name].DefaultIfEmpty().Max() is var confidence && confidence > 0.3f ? confidence * (ManyByte.Contains(name) ? 0.5 : 0.15) : 0;

    // Null where the bytes are none of the encoding's.
    private static string? Decode(byte[] words, string name)
    {
        try
        {
            return Encoding
                .GetEncoding(name, EncoderFallback.ReplacementFallback, ManyByte.Contains(name) ? DecoderFallback.ExceptionFallback : DecoderFallback.ReplacementFallback)
                .GetString(words);
        }
        catch (DecoderFallbackException)
        {
            return null;
        }
        catch (ArgumentException)
        {
            return null;
        }
    }

    // The words that hold bytes beyond ASCII, each once, a space between.
    private static byte[] Words(byte[] part)
    {
        var found = new List<byte>();
        var seen = new HashSet<string>();
        var letters = 0;
        for (var at = 0; at < part.Length && letters < MostLetters; )
        {
            var end = at;
            while (end < part.Length && !IsBreak(part[end]))
                end++;
            var word = part.AsSpan(at, end - at);
            if (word.ContainsAnyExceptInRange((byte)0, (byte)0x7f) && seen.Add(Convert.ToHexString(word)))
            {
                foreach (var b in word)
                    letters += b > 0x7f ? 1 : 0;
                found.AddRange(word);
                found.Add((byte)' ');
            }
            at = end + 1;
        }
        return [.. found];
    }

    // Bytes that end a word in every encoding: none of them is the second byte of a letter.
    private static bool IsBreak(byte b) => b is (byte)' ' or (byte)'\n' or (byte)'\r' or (byte)'\t' or (byte)';' or (byte)',' or (byte)'"';

    // A few of the words that the two readings read differently.
    private static string Sample(string text, string other)
    {
        var (mine, theirs) = (text.Split(' '), other.Split(' '));
        var words = mine.Length == theirs.Length ? mine.Where((w, i) => w != theirs[i]) : mine;
        return string.Join(", ", words.Where(w => w.Length > 0).Take(5));
    }

    private static byte[] Head(Stream stream, long from)
    {
        stream.Position = from;
        var head = new byte[Math.Min(Look, stream.Length - from)];
        stream.ReadExactly(head);
        return head;
    }
}
