using System.Text;
using UtfUnknown;

namespace DapperLantern.App.Intake.Lists;

/// <summary>Finds the encoding of a text file.</summary>
public static class TextEncoding
{
    private const int Look = 1 << 18;

    static TextEncoding() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    /// <summary>Windows-1252. Asked for here, so that the runtime knows it whoever asks first.</summary>
    public static Encoding Western => Encoding.GetEncoding("windows-1252");

    /// <summary>Encodings a person may choose, by IANA name.</summary>
    public static IReadOnlyList<string> Known { get; } = ["utf-8", "utf-16", "utf-16BE", "windows-1252", "iso-8859-1", "iso-8859-15", "windows-1250", "windows-1251"];

    /// <summary>A reader that never fails: what cannot be decoded becomes U+FFFD. A byte order mark is passed over.</summary>
    public static StreamReader Reader(Stream stream, string encoding) => new(stream, Encoding.GetEncoding(encoding), true, 1 << 16, leaveOpen: true);

    /// <summary>The encoding's IANA name, or null when these bytes are no text. The stream is left at its start.</summary>
    public static string? Detect(Stream stream)
    {
        var head = Head(stream, 0);
        stream.Position = 0;
        if (head is [0xFF, 0xFE, ..] or [0xFE, 0xFF, ..])
            return head[0] == 0xFF ? "utf-16" : "utf-16BE";
        if (Utf16WithoutMark(head) is { } wide)
            return wide;
        if (LooksBinary(head))
            return null;
        var broken = FirstNotUtf8(stream);
        var found = broken < 0 ? "utf-8" : OneByte(Head(stream, Math.Max(0, broken - Look / 2)));
        stream.Position = 0;
        return found;
    }

    // Every other byte of western text in UTF-16 is zero.
    private static string? Utf16WithoutMark(byte[] head)
    {
        var pairs = head.Length / 2;
        if (pairs < 4)
            return null;
        var (even, odd) = (0, 0);
        for (var i = 0; i < pairs; i++)
        {
            even += head[2 * i] == 0 ? 1 : 0;
            odd += head[2 * i + 1] == 0 ? 1 : 0;
        }
        return odd > pairs * 0.7 && even < pairs * 0.1 ? "utf-16"
            : even > pairs * 0.7 && odd < pairs * 0.1 ? "utf-16BE"
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

    private static string OneByte(byte[] part)
    {
        var found = CharsetDetector.DetectFromBytes(part).Detected;
        if (found is { Encoding: { } encoding, Confidence: > 0.8f } && encoding.WebName is "windows-1250" or "windows-1251")
            return found!.Encoding.WebName;
        // Windows-1252 says the same where Latin 1 says anything, and is what people's programs mean by it (WHATWG Encoding, 4.2); Latin 9
        // has its euro sign where that has the currency sign nobody writes.
        return part.Contains((byte)0xA4) && !part.Any(b => b is >= 0x80 and <= 0x9F) ? "iso-8859-15" : "windows-1252";
    }

    private static byte[] Head(Stream stream, long from)
    {
        stream.Position = from;
        var head = new byte[Math.Min(Look, stream.Length - from)];
        stream.ReadExactly(head);
        return head;
    }
}
