using System.Text;

namespace DapperLantern.App.Data;

/// <summary>Where a page of a list by name ends, as it is handed to whoever asks for the next.</summary>
public sealed record NameCursor(string Name, Guid Id)
{
    public static string Write(string name, Guid id) => Convert.ToBase64String(Encoding.UTF8.GetBytes($"{id}{name}"));

    /// <summary>Null for none, and for one that cannot be read: the list then begins anew.</summary>
    public static NameCursor? Read(string? written)
    {
        var room = new byte[(written ?? "").Length];
        if (string.IsNullOrEmpty(written) || !Convert.TryFromBase64String(written, room, out var length))
            return null;
        var text = Encoding.UTF8.GetString(room, 0, length);
        return text.Length >= 36 && Guid.TryParse(text[..36], out var id) ? new NameCursor(text[36..], id) : null;
    }
}
